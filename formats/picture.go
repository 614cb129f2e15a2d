package formats

import (
	"bytes"
	"errors"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"

	"github.com/disintegration/imaging"

	_ "image/png" // read besides JPEG
)

// How large a picture may be.
const (
	MostPictureBytes = 40 << 20
	MostPixels       = 25_000_000

	mostSide     = 20_000         // pixels
	mostDecoded  = 4 * MostPixels // bytes
	mostScanning = 12             // scans of a progressive JPEG of the most pixels
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
	n := config.Width * config.Height
	switch {
	case min(config.Width, config.Height) <= 0 || max(config.Width, config.Height) > mostSide || n > MostPixels:
		return nil, fmt.Errorf(
			"the picture has %d × %d pixels; up to %d million are read, no side of more than %d: make it smaller",
			config.Width,
			config.Height,
			MostPixels/1_000_000,
			mostSide,
		)
	case n*sizeOf(config.ColorModel) > mostDecoded:
		return nil, fmt.Errorf("the picture of %d × %d pixels has 16 bits a colour: save it with 8, or smaller",
			config.Width, config.Height)
	case kind == "jpeg" && bytes.Count(data, startOfScan)*n > mostScanning*MostPixels:
		return nil, errors.New("the picture is a JPEG of too many scans: save it as a plain JPEG")
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

// startOfScan begins each pass over all pixels of a JPEG.
var startOfScan = []byte{0xff, 0xda}

// sizeOf is how many bytes a pixel takes when it is decoded.
func sizeOf(m color.Model) int {
	switch m {
	case color.RGBA64Model, color.NRGBA64Model:
		return 8
	}
	return 4
}

// WritePicture is a picture as JPEG: pixels alone, nothing of where or by whom
// it was taken.
func WritePicture(img image.Image) ([]byte, error) {
	var out bytes.Buffer
	err := jpeg.Encode(&out, img, &jpeg.Options{Quality: 90})
	return out.Bytes(), err
}
