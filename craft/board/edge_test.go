package board

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"github.com/tdewolff/canvas"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/measure"
)

// sliced is the volume of a board once more, from thin sections across it.
func sliced(t *testing.T, s Shaped, thick float64) (sum float64) {
	const n = 400
	box := s.Outline.Bounds()
	step := (box.MaxX - box.MinX) / n
	for i := range n {
		p, err := canvas.ParseSVGPath(s.section(thick, box.MinX+(float64(i)+0.5)*step, false).Path)
		require.NoError(t, err)
		for _, part := range p.Split() {
			sum += step * geom.Largest(geom.Flatten(part, 0.001)).Area()
		}
	}
	return sum
}

// One long edge that leans over the whole thickness is drawn so, takes its wood away, and
// is judged by its arris.
func TestAnEdgeThatLeans(t *testing.T) {
	for _, side := range []string{left, right} {
		for _, face := range []string{"show", "under"} {
			d := soft(400, 240)
			d.Corner = 0
			d.Edges = []EdgeAt{{Where: side, Edge: Edge{Kind: "bevel", Size: 20, Angle: 75, Face: face}}}
			s := Draw(d, nil)
			in := 20 / math.Tan(75*math.Pi/180)
			assert.InDelta(t, 400*(240-in/2)*20, s.Volume(20), 1, "%s %s", side, face)
			assert.InDelta(t, s.Volume(20), sliced(t, s, 20), 0.001*s.Volume(20))
			c := maple()
			c.Thickness = 20
			v := find(t, judged(s, c), "edge")
			assert.Equal(t, craft.Good, v.Level)
			d.Edges[0].Angle = 30
			v = find(t, judged(Draw(d, nil), c), "edge")
			require.Equal(t, craft.Mind, v.Level)
			require.NotEmpty(t, v.Remedies)
		}
	}
}

// What profiles take of a board agrees with a fine grid of how deep each place of its
// faces is cut, by how far it lies from the nearest edge.
func TestProfilesAgreeWithAGrid(t *testing.T) {
	for i, shape := range []Shape{Rectangle, Oval, HalfMoon, Teardrop, Bladed, Heart} {
		for _, kind := range []string{"round-over", "chamfer"} {
			d := soft(130, 100)
			d.Shape, d.Tip, d.Angle, d.Shoulder = shape, 20, 20, 10
			d.Corner = float64(8 * i)
			d.Edge = Edge{Kind: kind, Size: 4 + float64(i)/2, Face: "show"}
			d.Handle = Handle{Kind: Hole, Diameter: 30, Setback: 45}
			s := Draw(d, nil)
			edge, hole := geom.NewIndex(s.Outline), geom.NewIndex(s.Holes[0])
			inner := s.Outline.Shrunk(8)
			const step = 0.5
			var sum float64
			box := s.Outline.Bounds()
			for x := box.MinX + step/2; x < box.MaxX; x += step {
				for y := box.MinY + step/2; y < box.MaxY; y += step {
					p := geom.Point{X: x, Y: y}
					_, near := hole.Nearest(p)
					if inner.Contains(p) && near > 8 || !edge.Contains(p) || hole.Contains(p) {
						continue
					}
					_, off := edge.Nearest(p)
					sum += s.profile(d.Edge, min(near, off), 20) * step * step
				}
			}
			assert.InEpsilon(t, sum, s.profiled(20), 0.05, "%s, %s", shape, kind)
		}
	}
}

// A profile all round a disc is a solid of revolution: Pappus says how much it is.
func TestProfileRoundADisc(t *testing.T) {
	d := Design{Shape: Circle, Length: 200, Width: 200, Handle: Handle{Kind: NoHandle}}
	whole := Draw(d, nil).Volume(20)
	d.Edge = Edge{Kind: "chamfer", Size: 6, Face: "show"}
	assert.InDelta(t, 2*math.Pi*(100-2)*18, whole-Draw(d, nil).Volume(20), 2)
	d.Edge = Edge{Kind: "round-over", Size: 6}
	const in = (10 - 3*math.Pi) / (12 - 3*math.Pi) * 6 // of what is outside a quarter round, from its edge
	assert.InDelta(t, 2*2*math.Pi*(100-in)*(1-math.Pi/4)*36, whole-Draw(d, nil).Volume(20), 2)
}

// The flat of a finger bevel is told as it was chosen, in inches too.
func TestFlatOfABevelInInches(t *testing.T) {
	d := soft(400, 240)
	d.Handle = Handle{Kind: Bevel, Flat: 6.35, Angle: 45}
	c := maple()
	c.Thickness = 22
	v := find(t, judged(Draw(d, nil), c), "edge")
	assert.Equal(t, measure.Format(6.35, measure.Inch), measure.Format(v.Figure.Value, measure.Inch))
}

// An edge may be left out on any side, and within holes: nothing is cut there, on either face,
// and a sharp arris is told.
func TestAnEdgeLeftOut(t *testing.T) {
	d := Design{
		Shape: Rectangle, Length: 300, Width: 200, Handle: Handle{Kind: Hole, Diameter: 30, Setback: 45},
		Edge: Edge{Kind: "round-over", Size: 4},
	}
	lengths := map[string]float64{left: 300, right: 300, handleEnd: 200, farEnd: 200, inHoles: math.Pi * 30}
	all := 2 * (2*300 + 2*200 + math.Pi*30) // both faces
	c := maple()
	c.Thickness = 20
	assert.InDelta(t, all, Draw(d, nil).workedBy()["round-over"], 1)
	_, told := broken(Draw(d, nil), c)
	assert.False(t, told)
	for where, long := range lengths {
		d.Edges = []EdgeAt{{Where: where, Edge: Edge{Kind: "none"}}}
		s := Draw(d, nil)
		assert.InDelta(t, all-2*long, s.workedBy()["round-over"], 1, where)
		v, told := broken(s, c)
		assert.Equal(t, where != inHoles, told, where)
		if told {
			assert.Equal(t, where, v.Subject)
			assert.Zero(t, v.Figure.Value)
		}
		assert.Greater(t, s.Volume(20), Draw(Design{
			Shape: d.Shape, Length: d.Length, Width: d.Width, Handle: d.Handle, Edge: d.Edge,
		}, nil).Volume(20), "wood stays there")
	}
}
