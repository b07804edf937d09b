// Package phototest makes pictures for tests, as a camera would leave them.
package phototest

import (
	"bytes"
	"encoding/binary"
	"image"
	"image/color"
	"image/jpeg"
)

// Dark and Light are the grey shades of the left and the right half of what Drawn draws.
const (
	Dark  = 30
	Light = 220
)

// Place is what Taken tells of where it was taken.
const Place = "GPSLatitude 12.34567 GPSLongitude 7.65432"

// Drawn is a picture with a dark left half.
func Drawn(w, h int) image.Image {
	p := image.NewGray(image.Rect(0, 0, w, h))
	for x := range w {
		for y := range h {
			if x < w/2 {
				p.SetGray(x, y, color.Gray{Y: Dark})
			} else {
				p.SetGray(x, y, color.Gray{Y: Light})
			}
		}
	}
	return p
}

// Taken is the same as a JPEG file with what a camera writes into it: an Exif segment (APP1, ISO/IEC 10918-1) that tells a place.
func Taken(w, h int) []byte {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, Drawn(w, h), nil); err != nil {
		panic(err) // into memory, of a picture that is there: it cannot fail
	}
	exif := "Exif\x00\x00" + Place
	segment := binary.BigEndian.AppendUint16([]byte{0xff, 0xe1}, uint16(len(exif)+2))
	file := append([]byte{}, b.Bytes()[:2]...)
	file = append(append(file, segment...), exif...)
	return append(file, b.Bytes()[2:]...)
}

// Passes is a JPEG file of one shade in so many passes that say nothing: each costs a decoder a walk over all of the picture, and the
// file some fifty bytes (ISO/IEC 10918-1, G.1: progressive, spectral selection, runs of blocks that end at once).
func Passes(w, h, n int) []byte {
	two := func(b []byte, x int) []byte { return binary.BigEndian.AppendUint16(b, uint16(x)) }
	file := []byte{0xff, 0xd8}
	file = append(append(file, 0xff, 0xdb, 0, 67, 0), bytes.Repeat([]byte{1}, 64)...) // a table of quantisers
	file = append(two(two(append(file, 0xff, 0xc2, 0, 11, 8), h), w), 1, 1, 0x11, 0)  // a progressive frame of one component
	for _, table := range [][2]byte{{0x00, 0}, {0x10, 0xe0}} {                        // each with one code, "0": no difference; a long run
		file = append(append(append(file, 0xff, 0xc4, 0, 20, table[0], 1), make([]byte, 15)...), table[1])
	}
	blocks := ((w + 7) / 8) * ((h + 7) / 8)
	file = append(file, 0xff, 0xda, 0, 8, 1, 1, 0x00, 0, 0, 0) // the first pass: all alike
	file = append(file, make([]byte, (blocks+7)/8)...)
	for range n - 1 {
		file = append(append(file, 0xff, 0xda, 0, 8, 1, 1, 0x00, 1, 1, 0), runs(blocks)...)
	}
	return append(file, 0xff, 0xd9)
}

// runs are bits that end so many blocks at once: "0", and fourteen ones for a run of 32,767.
func runs(blocks int) []byte {
	var out []byte
	bits, held := uint(0), 0
	put := func(bit uint) {
		if bits, held = bits<<1|bit, held+1; held == 8 {
			if out = append(out, byte(bits)); byte(bits) == 0xff {
				out = append(out, 0)
			}
			bits, held = 0, 0
		}
	}
	for done := 0; done < blocks; done += 32_767 {
		put(0)
		for range 14 {
			put(1)
		}
	}
	for held != 0 {
		put(1)
	}
	return out
}
