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
