// Package photo says what a photo is in a shop's records: a picture of bounded size that says nothing of where it was taken.
package photo

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	_ "image/png" // pictures of screens and drawings come as PNG
	"math"

	"golang.org/x/image/draw"
)

// Subject is what photos are taken of.
type Subject string

// The subjects.
const (
	OfLookOver Subject = "look-over" // the vehicle as it came, before the wash
	OfAudit    Subject = "audit"     // the finished wash
	OfCase     Subject = "case"      // what a case of the shop's own is about
)

const (
	// LongSide is how long the longer side of a kept photo is at the most, px: a scratch of a millimetre shows on a door that
	// fills it (model).
	LongSide = 1600
	// SmallSide is the same of what is shown in a list, px.
	SmallSide = 320
	// MostPixels is the largest picture that is unpacked at all, what a phone takes: a small file can hold a picture that fills the
	// memory. The application itself sends none longer than LongSide.
	MostPixels = 13_000_000
	// MostScans is in how many passes a JPEG may be written: the usual ones have ten. Each pass goes over every pixel, whether it
	// says anything of it or not (ISO/IEC 10918-1, G.1).
	MostScans = 24
	// MostOf is how many photos one look-over or audit has.
	MostOf  = 60
	quality = 82
)

// Photo is a picture as it is kept, as JPEG, large and small.
type Photo struct {
	Large, Small  []byte
	Width, Height int
}

// ErrNotAPicture means that a file cannot be read as a picture.
var ErrNotAPicture = errors.New("send a picture as JPEG or PNG: this file cannot be read as one")

// Clean reads a JPEG or PNG file and makes the photo that is kept of it: no longer than LongSide, and drawn anew, so that
// nothing but the picture is left of the file; places, times and devices that cameras write into it are gone.
func Clean(file []byte) (Photo, error) {
	head, _, err := image.DecodeConfig(bytes.NewReader(file))
	if err != nil {
		return Photo{}, ErrNotAPicture
	}
	if head.Width < 1 || head.Height < 1 || head.Width > MostPixels/head.Height {
		return Photo{}, fmt.Errorf("send a smaller picture: this one is %d by %d px", head.Width, head.Height)
	}
	if n := scans(file); n > MostScans {
		return Photo{}, fmt.Errorf("save the picture anew: this one is written in %d passes, %d are taken", n, MostScans)
	}
	picture, _, err := image.Decode(bytes.NewReader(file))
	if err != nil {
		return Photo{}, ErrNotAPicture
	}
	p := Photo{}
	large := within(picture, LongSide)
	p.Width, p.Height = large.Bounds().Dx(), large.Bounds().Dy()
	if p.Large, err = encoded(large); err != nil {
		return Photo{}, err
	}
	p.Small, err = encoded(within(large, SmallSide))
	return p, err
}

// scans counts the passes of a JPEG file by its markers, without unpacking anything (ISO/IEC 10918-1, B.1); 0 of what is none.
func scans(file []byte) (n int) {
	for at := 2; at+1 < len(file); {
		if file[at] != 0xff || file[at+1] == 0xff {
			at++ // entropy-coded data, or a fill byte
			continue
		}
		marker := file[at+1]
		at += 2
		switch {
		case marker == 0x00 || marker == 0x01 || marker >= 0xd0 && marker <= 0xd8: // without a length
			continue
		case marker == 0xd9: // the end
			return n
		case marker == 0xda:
			n++
		}
		if at+1 < len(file) {
			at += max(2, int(file[at])<<8|int(file[at+1]))
		}
	}
	return n
}

// within draws a picture on white so that its longer side is no longer than most, px.
func within(p image.Image, most int) image.Image {
	w, h := p.Bounds().Dx(), p.Bounds().Dy()
	by := min(1, float64(most)/float64(max(w, h)))
	side := func(s int) int { return max(1, int(math.Round(float64(s)*by))) }
	on := image.NewRGBA(image.Rect(0, 0, side(w), side(h)))
	draw.Draw(on, on.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	draw.ApproxBiLinear.Scale(on, on.Bounds(), p, p.Bounds(), draw.Over, nil)
	return on
}

func encoded(p image.Image) ([]byte, error) {
	var b bytes.Buffer
	err := jpeg.Encode(&b, p, &jpeg.Options{Quality: quality})
	return b.Bytes(), err
}

// Values lists the subjects.
func (Subject) Values() []string {
	return []string{string(OfLookOver), string(OfAudit), string(OfCase)}
}
