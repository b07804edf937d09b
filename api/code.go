package api

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"

	"github.com/boombuler/barcode"
	"github.com/boombuler/barcode/qr"
)

const (
	codeSide  = 320 // px: some 3 cm on paper
	codeQuiet = 4   // modules of white on every side (ISO/IEC 18004, 2015, 6.3.8; from memory)
)

// codePicture is a text as a QR code, PNG: every module of the same whole number of pixels, white all round.
func codePicture(text string) ([]byte, error) {
	code, err := qr.Encode(text, qr.M, qr.Auto)
	if err != nil {
		return nil, err
	}
	modules := code.Bounds().Dx()
	each := codeSide / (modules + 2*codeQuiet)
	scaled, err := barcode.Scale(code, modules*each, modules*each)
	if err != nil {
		return nil, err
	}
	page := image.NewGray(image.Rect(0, 0, codeSide, codeSide))
	draw.Draw(page, page.Bounds(), image.NewUniform(color.White), image.Point{}, draw.Src)
	edge := (codeSide - modules*each) / 2
	draw.Draw(page, scaled.Bounds().Add(image.Pt(edge, edge)), scaled, scaled.Bounds().Min, draw.Src)
	var file bytes.Buffer
	err = png.Encode(&file, page)
	return file.Bytes(), err
}
