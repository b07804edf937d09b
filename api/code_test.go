package api_test

import (
	"bytes"
	"image/png"
	"strings"
	"testing"

	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A phone's reader, which shares nothing with what draws it, reads the address of the procedure off the code.
func TestACodeOpensTheProcedure(t *testing.T) {
	s := open(t)
	for _, id := range []string{"maintenance", "rinseless-towels"} {
		answer := s.as("osk").get("/api/procedures/" + id + "/code").is(200)
		picture, err := png.Decode(bytes.NewReader(answer.body))
		require.NoError(t, err)
		seen, err := gozxing.NewBinaryBitmapFromImage(picture)
		require.NoError(t, err)
		read, err := qrcode.NewQRCodeReader().Decode(seen, nil)
		require.NoError(t, err)
		assert.True(t, strings.HasSuffix(read.GetText(), "/procedures/"+id), read.GetText())
		assert.True(t, strings.HasPrefix(read.GetText(), "http"), read.GetText())
	}
}
