package asset

import (
	"encoding/binary"
	"image"
)

// orientation reads the orientation of a JPEG (Exif 2.32, tag 0x0112): 1 to 8, and 1 if unknown.
func orientation(src []byte) int {
	for at := 2; at+4 <= len(src) && src[at] == 0xff; {
		marker, length := src[at+1], int(binary.BigEndian.Uint16(src[at+2:]))
		if marker == 0xda || length < 2 || at+2+length > len(src) {
			return 1
		}
		if segment := src[at+4 : at+2+length]; marker == 0xe1 && len(segment) > 14 && string(segment[:6]) == "Exif\x00\x00" {
			return tag(segment[6:])
		}
		at += 2 + length
	}
	return 1
}

func tag(tiff []byte) int {
	var order binary.ByteOrder = binary.LittleEndian
	if string(tiff[:2]) == "MM" {
		order = binary.BigEndian
	}
	at := int(order.Uint32(tiff[4:]))
	if at < 0 || at+2 > len(tiff) {
		return 1
	}
	count := int(order.Uint16(tiff[at:]))
	for i := range count {
		entry := at + 2 + i*12
		if entry+12 > len(tiff) {
			return 1
		}
		if order.Uint16(tiff[entry:]) == 0x0112 {
			if n := int(order.Uint16(tiff[entry+8:])); n >= 1 && n <= 8 {
				return n
			}
		}
	}
	return 1
}

// upright rotates and mirrors an image according to its orientation.
func upright(img image.Image, how int) image.Image {
	if how == 1 {
		return img
	}
	b := img.Bounds()
	w, h := b.Dx(), b.Dy()
	size := image.Rect(0, 0, w, h)
	if how >= 5 {
		size = image.Rect(0, 0, h, w)
	}
	out := image.NewNRGBA(size)
	for y := range h {
		for x := range w {
			tx, ty := x, y
			switch how {
			case 2:
				tx = w - 1 - x
			case 3:
				tx, ty = w-1-x, h-1-y
			case 4:
				ty = h - 1 - y
			case 5:
				tx, ty = y, x
			case 6:
				tx, ty = h-1-y, x
			case 7:
				tx, ty = h-1-y, w-1-x
			case 8:
				tx, ty = y, w-1-x
			}
			out.Set(tx, ty, img.At(b.Min.X+x, b.Min.Y+y))
		}
	}
	return out
}
