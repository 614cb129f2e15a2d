package formats

import (
	"fmt"
	"math"
	"slices"

	"github.com/tdewolff/canvas"

	"idletimber/craft/geom"
)

// hatching is how far apart the strokes of waste lie on paper, mm.
const hatching = 4

// hatch are strokes at 45° between two closed lines, one inside the other, given as SVG
// path data.
func hatch(one, other string) (out [][2]geom.Point, err error) {
	turn := geom.Placement{Angle: 45}
	var rings []geom.Ring
	for _, data := range []string{one, other} {
		path, err := canvas.ParseSVGPath(data)
		if err != nil {
			return nil, fmt.Errorf("hatch: %w", err)
		}
		rings = append(rings, geom.Largest(geom.Flatten(path, geom.Fine)).Map(turn.In))
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, r := range rings {
		box := r.Bounds()
		low, high = min(low, box.MinY), max(high, box.MaxY)
	}
	for y := math.Ceil(low/hatching) * hatching; y < high; y += hatching {
		var us []float64
		for _, r := range rings {
			us = append(us, r.Spans(y)...)
		}
		slices.Sort(us)
		for i := 0; i+1 < len(us); i += 2 { // from one line to the other, and back
			if us[i+1]-us[i] > 0.05 {
				out = append(
					out,
					[2]geom.Point{turn.Out(geom.Point{X: us[i], Y: y}), turn.Out(geom.Point{X: us[i+1], Y: y})},
				)
			}
		}
	}
	return out, nil
}
