package asset

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
)

// A progressive JPEG is decoded scan by scan, each over the whole image, and a scan can be a few
// bytes long. Cameras and programs write about ten.
const (
	scansMost     = 64
	scannedPixels = 12 * PixelsMost // pixels times scans
)

// scanned refuses a JPEG with too many scans for its size, before decoding.
func scanned(src []byte) *trouble {
	c, format, err := image.DecodeConfig(bytes.NewReader(src))
	if err != nil || format != "jpeg" {
		return nil
	}
	if n := scans(src); n > scansMost || n*c.Width*c.Height > scannedPixels {
		return &trouble{fmt.Sprintf("is a progressive JPEG with %d scans, which take too long to read.", n), "Save it again as a JPEG that is not progressive."}
	}
	return nil
}

// scans counts the scans of a JPEG (ITU-T T.81, section B.2): the SOS markers outside segments.
func scans(src []byte) (n int) {
	for at := 2; at+4 <= len(src); {
		if src[at] != 0xff {
			at++ // entropy-coded data, in which 0xff is followed by 0 or a restart marker
			continue
		}
		marker := src[at+1]
		switch {
		case marker == 0xff: // fill bytes
			at++
		case marker == 0 || marker == 1 || marker >= 0xd0 && marker <= 0xd8: // without a segment
			at += 2
		case marker == 0xd9: // the end
			return n
		default:
			if marker == 0xda {
				n++
			}
			at += 2 + int(binary.BigEndian.Uint16(src[at+2:]))
		}
	}
	return n
}
