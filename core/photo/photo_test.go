package photo_test

import (
	"bytes"
	"encoding/binary"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"uskel/core/photo"
	"uskel/core/photo/phototest"
)

func TestAPhotoIsBoundedAndSaysNotWhereItWasTaken(t *testing.T) {
	for _, c := range []struct{ w, h, wide, high int }{
		{3200, 2400, 1600, 1200}, {1200, 3000, 640, 1600}, {800, 600, 800, 600}, {1, 1, 1, 1}, {4000, 1, 1600, 1},
	} {
		file := phototest.Taken(c.w, c.h)
		require.Contains(t, string(file), phototest.Place)
		p, err := photo.Clean(file)
		require.NoError(t, err)
		assert.Equal(t, [2]int{c.wide, c.high}, [2]int{p.Width, p.Height})
		for _, kept := range [][]byte{p.Large, p.Small} {
			assert.NotContains(t, string(kept), "GPS")
			assert.NotContains(t, string(kept), "Exif")
		}
		small, err := jpeg.Decode(bytes.NewReader(p.Small))
		require.NoError(t, err)
		assert.LessOrEqual(t, max(small.Bounds().Dx(), small.Bounds().Dy()), photo.SmallSide)
	}
}

func TestAPhotoShowsWhatTheFileShowed(t *testing.T) {
	var file bytes.Buffer
	require.NoError(t, png.Encode(&file, phototest.Drawn(2400, 600)))
	p, err := photo.Clean(file.Bytes())
	require.NoError(t, err)
	for _, kept := range [][]byte{p.Large, p.Small} {
		picture, err := jpeg.Decode(bytes.NewReader(kept))
		require.NoError(t, err)
		b := picture.Bounds()
		for x, want := range map[int]int{b.Dx() / 4: phototest.Dark, 3 * b.Dx() / 4: phototest.Light} {
			shade := color.GrayModel.Convert(picture.At(x, b.Dy()/2)).(color.Gray).Y
			assert.InDelta(t, want, int(shade), 3)
		}
	}
}

func TestWhatIsNoPictureIsRefused(t *testing.T) {
	whole := phototest.Taken(600, 400)
	// The head of a PNG that claims 60,000 by 60,000 px: 33 bytes that would unpack to gigabytes.
	var claims bytes.Buffer
	require.NoError(t, png.Encode(&claims, phototest.Drawn(2, 2)))
	bomb := claims.Bytes()
	binary.BigEndian.PutUint32(bomb[16:], 60_000)
	binary.BigEndian.PutUint32(bomb[20:], 60_000)
	for name, file := range map[string][]byte{
		"nothing": {}, "words": []byte("a receipt"), "half of one": whole[:len(whole)/3], "a drawing in XML": []byte("<svg/>"), "a bomb": bomb,
	} {
		_, err := photo.Clean(file)
		assert.Error(t, err, name)
	}
}

func FuzzClean(f *testing.F) {
	var b bytes.Buffer
	_ = jpeg.Encode(&b, phototest.Drawn(8, 6), nil)
	f.Add(b.Bytes())
	f.Add([]byte("\x89PNG\r\n\x1a\n"))
	f.Fuzz(func(t *testing.T, file []byte) {
		p, err := photo.Clean(file)
		if err != nil {
			return
		}
		if _, err := jpeg.Decode(bytes.NewReader(p.Large)); err != nil {
			t.Fatal("what is kept is no picture:", err)
		}
	})
}

// A picture in many passes is refused before it is unpacked: 14,000 fit into a file that is taken. One in a few is a picture.
func TestAPictureInManyPassesIsRefused(t *testing.T) {
	few := phototest.Passes(800, 600, 10)
	_, err := jpeg.Decode(bytes.NewReader(few))
	require.NoError(t, err, "what the tests make can be unpacked")
	_, err = photo.Clean(few)
	require.NoError(t, err)
	_, err = photo.Clean(phototest.Taken(3000, 2000))
	require.NoError(t, err, "what a phone takes")
	for _, n := range []int{photo.MostScans + 1, 100, 14_000} {
		many := phototest.Passes(1200, 900, n)
		require.Less(t, len(many), 1<<20)
		_, err := photo.Clean(many)
		assert.ErrorContains(t, err, "passes", n)
	}
	_, err = photo.Clean(phototest.Passes(4896, 4896, 2))
	assert.ErrorContains(t, err, "smaller picture")
}
