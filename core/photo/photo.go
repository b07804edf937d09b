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
	// MostPixels is the largest picture that is unpacked at all: a small file can hold a picture that fills the memory.
	MostPixels = 24_000_000
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
