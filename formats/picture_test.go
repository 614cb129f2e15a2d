package formats

import (
	"bytes"
	"encoding/binary"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// corners is a picture whose top left corner is red.
func corners(w, h int) *image.RGBA {
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			c := color.RGBA{40, 90, 40, 255}
			if x < w/2 && y < h/2 {
				c = color.RGBA{220, 30, 30, 255}
			}
			img.SetRGBA(x, y, c)
		}
	}
	return img
}

// turned is a JPEG whose EXIF says how it was held, with a place in it.
func turned(t *testing.T, orientation byte) []byte {
	var plain bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, corners(64, 32), nil))
	exif := []byte("Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x02" +
		"\x01\x12\x00\x03\x00\x00\x00\x01\x00" + string(orientation) + "\x00\x00" +
		"\x88\x25\x00\x04\x00\x00\x00\x01\x00\x00\x00\x26\x00\x00\x00\x00SECRETPLACE")
	out := append([]byte{}, plain.Bytes()[:2]...)
	out = append(out, 0xff, 0xe1)
	out = binary.BigEndian.AppendUint16(out, uint16(len(exif)+2))
	out = append(out, exif...)
	return append(out, plain.Bytes()[2:]...)
}

func TestPictureIsTurnedUprightAndTellsNoPlace(t *testing.T) {
	for orientation, red := range map[byte]image.Point{1: {4, 4}, 3: {60, 28}, 6: {28, 4}, 8: {4, 60}} {
		img, err := ReadPicture(turned(t, orientation))
		require.NoError(t, err)
		if orientation > 4 {
			assert.Equal(t, image.Pt(32, 64), img.Bounds().Size())
		}
		assert.Greater(t, img.RGBAAt(red.X, red.Y).R, uint8(150), "orientation %d", orientation)
		data, err := WritePicture(img)
		require.NoError(t, err)
		assert.NotContains(t, string(data), "SECRETPLACE")
		assert.NotContains(t, string(data), "Exif")
	}
}

// header is a PNG that claims a size and holds nothing.
func header(w, h uint32) []byte {
	out := []byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x0d")
	chunk := []byte("IHDR")
	chunk = binary.BigEndian.AppendUint32(chunk, w)
	chunk = binary.BigEndian.AppendUint32(chunk, h)
	chunk = append(chunk, 8, 2, 0, 0, 0)
	out = append(out, chunk...)
	return binary.BigEndian.AppendUint32(out, crc32.ChecksumIEEE(chunk))
}

func TestPicturesThatAreRefused(t *testing.T) {
	var whole bytes.Buffer
	require.NoError(t, png.Encode(&whole, corners(300, 200)))
	for name, c := range map[string]struct {
		data []byte
		why  string
	}{
		"nothing":     {nil, "no PNG or JPEG"},
		"a text":      {[]byte("<svg/>"), "no PNG or JPEG"},
		"too large":   {header(60_000, 60_000), "up to 25 million"},
		"cut short":   {whole.Bytes()[:whole.Len()/2], "damaged or cut short"},
		"only a head": {header(100, 100), "damaged or cut short"},
		"too heavy":   {make([]byte, MostPictureBytes+1), "MB"},
	} {
		_, err := ReadPicture(c.data)
		assert.ErrorContains(t, err, c.why, name)
	}
}

func FuzzReadPicture(f *testing.F) {
	var whole bytes.Buffer
	_ = png.Encode(&whole, corners(30, 20))
	f.Add(whole.Bytes())
	whole.Reset()
	_ = jpeg.Encode(&whole, corners(30, 20), nil)
	f.Add(whole.Bytes())
	f.Add(header(2, 2))
	f.Fuzz(func(t *testing.T, data []byte) {
		frugal(t, "it", func() {
			if img, err := ReadPicture(data); err == nil && img.Bounds().Dx()*img.Bounds().Dy() > MostPixels {
				t.Fatal("larger than allowed")
			}
		})
	})
}

// What a picture costs to decode is known before: its sides, its depth, and the
// passes over all its pixels.
func TestPicturesThatCostTooMuch(t *testing.T) {
	var plain, deep bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, corners(4000, 3000), nil))
	scans := append(plain.Bytes(), bytes.Repeat([]byte("\xff\xda\x00\x08"), 40)...)
	require.NoError(t, png.Encode(&deep, image.NewRGBA64(image.Rect(0, 0, 4, 4))))
	binary.BigEndian.PutUint32(deep.Bytes()[16:], 4900)
	binary.BigEndian.PutUint32(deep.Bytes()[20:], 4900)
	binary.BigEndian.PutUint32(deep.Bytes()[29:], crc32.ChecksumIEEE(deep.Bytes()[12:29]))
	for name, c := range map[string]struct {
		data []byte
		why  string
	}{
		"a strip":    {header(100_000, 250), "no side of more than"},
		"many scans": {scans, "too many scans"},
		"deep":       {deep.Bytes(), "16 bits"},
	} {
		_, err := ReadPicture(c.data)
		assert.ErrorContains(t, err, c.why, name)
	}
	_, err := ReadPicture(plain.Bytes())
	assert.NoError(t, err)
	img, err := ReadPicture(header(mostSide+1, 2))
	assert.Error(t, err, "%v", img)
}
