package formats

import (
	"bytes"
	"fmt"
	"image"
	"image/draw"
	"image/jpeg"

	"github.com/disintegration/imaging"

	_ "image/png" // read besides JPEG
)

// How large a picture may be.
const (
	MostPictureBytes = 40 << 20
	MostPixels       = 25_000_000
)

// ReadPicture reads a PNG or JPEG, turned upright by what its EXIF says. Its
// pixels are counted before it is decoded.
func ReadPicture(data []byte) (*image.RGBA, error) {
	if len(data) > MostPictureBytes {
		return nil, fmt.Errorf("the file has %d MB; a picture may have up to %d", len(data)>>20, MostPictureBytes>>20)
	}
	config, kind, err := image.DecodeConfig(bytes.NewReader(data))
	if err != nil || kind != "png" && kind != "jpeg" {
		return nil, fmt.Errorf("this is no PNG or JPEG picture that can be read")
	}
	if n := config.Width * config.Height; config.Width <= 0 || config.Height <= 0 || config.Width > 100_000 ||
		config.Height > 100_000 ||
		n > MostPixels {
		return nil, fmt.Errorf(
			"the picture has %d × %d pixels; up to %d million are read: make it smaller",
			config.Width,
			config.Height,
			MostPixels/1_000_000,
		)
	}
	img, err := imaging.Decode(bytes.NewReader(data), imaging.AutoOrientation(true))
	if err != nil {
		return nil, fmt.Errorf("the picture is damaged or cut short: %w", err)
	}
	b := img.Bounds()
	out := image.NewRGBA(image.Rect(0, 0, b.Dx(), b.Dy()))
	draw.Draw(out, out.Bounds(), img, b.Min, draw.Src)
	return out, nil
}

// WritePicture is a picture as JPEG: pixels alone, nothing of where or by whom
// it was taken.
func WritePicture(img image.Image) ([]byte, error) {
	var out bytes.Buffer
	err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 90})
	return out.Bytes(), err
}
