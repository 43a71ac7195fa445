package asset

import (
	"bytes"
	"encoding/binary"
	"fmt"

	"golang.org/x/image/font/sfnt"
)

// fontOf checks that a font is as long as its header says. WOFF and WOFF2 contain their length
// (W3C, WOFF File Format 1.0 and 2.0, section 4).
func fontOf(src []byte) *trouble {
	again := "It may be incomplete. Save or download it again."
	if !bytes.HasPrefix(src, []byte("wOF")) {
		f, err := sfnt.Parse(src)
		if err != nil {
			return &trouble{"cannot be read as a font: " + err.Error() + ".", again}
		}
		if f.NumGlyphs() == 0 {
			return &trouble{"is a font without letters.", again}
		}
		return nil
	}
	if len(src) < 44 {
		return &trouble{"starts like a font but contains none.", again}
	}
	length, tables := int(binary.BigEndian.Uint32(src[8:])), binary.BigEndian.Uint16(src[12:])
	switch {
	case length != len(src):
		return &trouble{fmt.Sprintf("is a font that declares %d bytes but has %d.", length, len(src)), again}
	case tables == 0 || binary.BigEndian.Uint16(src[14:]) != 0:
		return &trouble{"is a font without tables.", again}
	}
	return nil
}
