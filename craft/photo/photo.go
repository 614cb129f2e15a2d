// Package photo finds the outline of a slab on a photograph in which a sheet of
// paper of known size lies on the slab's top face. It is pure: a picture comes
// in as pixels, an outline goes out in mm.
//
// The sheet's corners, marked by hand, are sharpened by its four sides; they
// give the view of the plane of the top face (a homography) and how the lens
// bends straight lines. The wood is told from the ground by its colours, the
// border between them is drawn where the two sides differ most, and carried to
// the plane.
package photo

import (
	"errors"
	"image"
	"math"
	"runtime"
	"sync"

	"idletimber/craft"
	"idletimber/craft/geom"
)

// Sheet is the size of the paper, mm.
type Sheet struct {
	Width  float64 `json:"width" mm:"50,1500" doc:"One side, mm"`
	Height float64 `json:"height" mm:"50,1500" doc:"The other side, mm"`
}

// The usual sheets.
var (
	A4     = Sheet{297, 210}
	Letter = Sheet{279.4, 215.9}
)

// Found is what a photograph shows.
type Found struct {
	Outline geom.Ring // dense, in the slab's frame: x along the longest way, from 0; y about the middle
	Length  float64   // mm
	Error   float64   // expected error of the outline, mm rms
	Bend    float64   // of the lens at the corner of the picture, as a share
	View    View
	Frame   geom.Placement // of the slab's frame on the plane of the sheet
}

// What can be wrong with a photograph.
var (
	ErrCorners = errors.New("the four corners do not make a sheet: mark them in order round it")
	ErrNoEdge  = errors.New(
		"no edge of the wood was found around the sheet: the whole slab must be in the picture, the sheet on its top " +
			"face, the ground of another colour",
	)
)

// Find finds the outline round a sheet whose corners were marked in order
// round it, in pixels, to about a pixel. The slab is thickness mm thick. The watch
// may end it.
func Find(watch craft.Watch, img *image.RGBA, corners [4]geom.Point, sheet Sheet, thickness float64) (Found, error) {
	view, spread, err := Look(img, corners, sheet)
	if err != nil {
		return Found{}, err
	}
	region, err := segment(watch, img, view)
	if err != nil {
		return Found{}, err
	}
	border, blur, _ := sharpen(fine(img, view, region.Centroid()), view, region, thickness, alongSlab)
	if len(border) < 20 {
		return Found{}, ErrNoEdge
	}
	f := lengthwise(border, view)
	f.Error = math.Hypot(spread.at(border), max(blur, 0.5/view.pixels(border.Centroid()), surest))
	f.Bend = view.bend
	return f, nil
}

// lengthwise is a border on the plane in a frame along its longest way.
func lengthwise(border geom.Ring, view View) Found {
	frame := geom.Placement{Angle: border.LongWay()}
	if a, b := view.Pixel(frame.Out(geom.Point{})), view.Pixel(frame.Out(geom.Point{X: 1})); b.X < a.X {
		frame.Angle += 180 // what is left on the picture stays left
	}
	out := border.Map(frame.In)
	box := out.Bounds()
	frame = geom.Placement{
		Angle: frame.Angle,
		X:     frame.Out(geom.Point{X: box.MinX, Y: (box.MinY + box.MaxY) / 2}).X,
		Y:     frame.Out(geom.Point{X: box.MinX, Y: (box.MinY + box.MaxY) / 2}).Y,
	}
	out = border.Map(frame.In)
	if out.SignedArea() < 0 {
		for i, j := 0, len(out)-1; i < j; i, j = i+1, j-1 {
			out[i], out[j] = out[j], out[i]
		}
	}
	return Found{Outline: out, Length: box.MaxX - box.MinX, View: view, Frame: frame}
}

// surest is how exactly an edge of wood can be told at all, mm.
const surest = 0.2

// Straightened is the picture seen square from above, over a box of the
// slab's frame, so many pixels a mm.
func (f Found) Straightened(img *image.RGBA, box geom.Bounds, scale float64) *image.RGBA {
	w, h := int(math.Ceil((box.MaxX-box.MinX)*scale)), int(math.Ceil((box.MaxY-box.MinY)*scale))
	out := image.NewRGBA(image.Rect(0, 0, w, h))
	src := smaller(img, int(math.Max(1, math.Round(f.View.pixels(geom.Point{})/scale))))
	inRows(h, func(j int) {
		y := box.MaxY - (float64(j)+0.5)/scale
		for i := range w {
			p := f.View.Pixel(f.Frame.Out(geom.Point{X: box.MinX + (float64(i)+0.5)/scale, Y: y}))
			c := src.at(p.X, p.Y)
			k := out.PixOffset(i, j)
			out.Pix[k], out.Pix[k+1], out.Pix[k+2], out.Pix[k+3] = uint8(c[0]), uint8(c[1]), uint8(c[2]), 255
		}
	})
	return out
}

// picture is a picture made smaller by a whole factor, its colours as numbers.
type picture struct {
	w, h   int
	factor float64
	pix    []float32 // three a pixel
}

// smaller averages blocks of pixels.
func smaller(img *image.RGBA, factor int) picture {
	b := img.Bounds()
	p := picture{w: b.Dx() / factor, h: b.Dy() / factor, factor: float64(factor)}
	p.pix = make([]float32, 3*p.w*p.h)
	share := 1 / float32(factor*factor)
	inRows(p.h, func(j int) {
		to := p.pix[3*p.w*j:]
		for y := range factor {
			row := img.Pix[img.PixOffset(b.Min.X, b.Min.Y+j*factor+y):]
			for x := range p.w {
				var r, g, bl int
				for k := range factor {
					o := 4 * (x*factor + k)
					r, g, bl = r+int(row[o]), g+int(row[o+1]), bl+int(row[o+2])
				}
				to[3*x] += float32(r) * share
				to[3*x+1] += float32(g) * share
				to[3*x+2] += float32(bl) * share
			}
		}
	})
	return p
}

// inRows does rows side by side, as many as there are processors.
func inRows(n int, do func(row int)) {
	var work sync.WaitGroup
	hands := min(n, runtime.GOMAXPROCS(0))
	for hand := range hands {
		work.Go(func() {
			for row := hand * n / hands; row < (hand+1)*n/hands; row++ {
				do(row)
			}
		})
	}
	work.Wait()
}

type colour [3]float32

// at is the colour at a place of the whole picture, between pixels; the edge
// goes on beyond the picture.
func (p picture) at(x, y float64) colour {
	u, v := (x+0.5)/p.factor-0.5, (y+0.5)/p.factor-0.5
	u, v = min(max(u, 0), float64(p.w-1)-1e-6), min(max(v, 0), float64(p.h-1)-1e-6)
	i, j := int(u), int(v)
	a, b := float32(u-float64(i)), float32(v-float64(j))
	k := 3 * (j*p.w + i)
	right, down := 3, 3*p.w
	if i+1 >= p.w {
		right = 0
	}
	if j+1 >= p.h {
		down = 0
	}
	var c colour
	for n := range 3 {
		top := p.pix[k+n]*(1-a) + p.pix[k+right+n]*a
		low := p.pix[k+down+n]*(1-a) + p.pix[k+down+right+n]*a
		c[n] = top*(1-b) + low*b
	}
	return c
}
