package geom

import (
	"github.com/tdewolff/canvas"
)

// The library's sweep breaks off on rare arrangements of nearly level lines. Its
// result does not depend on how the plane is turned, so that it is tried again
// on the same paths turned a little.
var turns = []float64{0, 0.731, 1.937, -2.613} // degrees

// sturdy does something with paths that the library may break off at; ok is
// false when it does so however they are turned.
func sturdy(do func(turn canvas.Matrix) *canvas.Path) (out *canvas.Path, ok bool) {
	for _, degrees := range turns {
		try := func() (p *canvas.Path) {
			defer func() {
				if recover() != nil {
					p = nil
				}
			}()
			return do(canvas.Identity.Rotate(degrees))
		}
		if p := try(); p != nil {
			return p.Transform(canvas.Identity.Rotate(-degrees)), true
		}
	}
	return &canvas.Path{}, false
}

// NotPath is what is left of a path after another is taken out of it; the path
// itself when it cannot be told.
func NotPath(p, q *canvas.Path) *canvas.Path {
	out, ok := sturdy(func(turn canvas.Matrix) *canvas.Path {
		return p.Copy().Transform(turn).Not(q.Copy().Transform(turn)) // a path is turned where it lies
	})
	if !ok {
		return p
	}
	return out
}
