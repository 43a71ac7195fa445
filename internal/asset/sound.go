package asset

import (
	"bytes"
	"encoding/binary"
)

// isMP3 recognises MPEG audio by its ID3 tag, or by the first two frames.
func isMP3(src []byte) bool {
	return bytes.HasPrefix(src, []byte("ID3")) || frame(src) > 0
}

// soundOf checks that a sound is as complete as its header says.
func soundOf(src []byte) *trouble {
	cut := &trouble{"starts like a sound but contains none.", "It may be incomplete. Save it again as MP3 or Ogg."}
	switch {
	case bytes.HasPrefix(src, []byte("ID3")):
		if len(src) < 10 {
			return cut
		}
		length := 10 + int(src[6]&0x7f)<<21 + int(src[7]&0x7f)<<14 + int(src[8]&0x7f)<<7 + int(src[9]&0x7f)
		if length >= len(src) || frame(src[length:]) == 0 {
			return cut
		}
	case bytes.HasPrefix(src, []byte("OggS")):
		head := src[:min(len(src), 128)]
		if !bytes.Contains(head, []byte("vorbis")) && !bytes.Contains(head, []byte("OpusHead")) && !bytes.Contains(head, []byte("FLAC")) {
			return &trouble{"is an Ogg file without sound.", "Save it as Ogg Vorbis or Opus."}
		}
	case bytes.HasPrefix(src, []byte("RIFF")):
		if !bytes.Contains(src[:min(len(src), 4096)], []byte("fmt ")) || !bytes.Contains(src, []byte("data")) {
			return cut
		}
	case bytes.HasPrefix(src, []byte("fLaC")):
		if len(src) < 42 || src[4]&0x7f != 0 {
			return cut
		}
	}
	return nil
}

// Bit rates of MPEG audio layer III in kbit/s, for version 1, and for versions 2 and 2.5 (ISO/IEC
// 11172-3 and 13818-3).
var bitRates = [2][15]int{
	{0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320},
	{0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160},
}

var sampleRates = [3]int{44100, 48000, 32000}

// frame returns the length of the layer III frame at the start of src, or 0 if there is none or no
// other follows it.
func frame(src []byte) int {
	n := frameLength(src)
	if n == 0 || n >= len(src) {
		return 0
	}
	if len(src) >= n+4 && frameLength(src[n:]) == 0 {
		return 0
	}
	return n
}

func frameLength(src []byte) int {
	if len(src) < 4 {
		return 0
	}
	h := binary.BigEndian.Uint32(src)
	version, layer, rate, sample, pad := h>>19&3, h>>17&3, h>>12&15, h>>10&3, h>>9&1
	if h>>21 != 0x7ff || version == 1 || layer != 1 || rate == 0 || rate == 15 || sample == 3 {
		return 0
	}
	if version == 3 {
		return 144*bitRates[0][rate]*1000/sampleRates[sample] + int(pad)
	}
	hertz := sampleRates[sample] / 2
	if version == 0 {
		hertz /= 2
	}
	return 72*bitRates[1][rate]*1000/hertz + int(pad)
}
