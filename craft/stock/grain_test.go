package stock

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"idletimber/craft/geom"
	"idletimber/craft/species"
)

func TestTheAngleToTheFibres(t *testing.T) {
	for direction, want := range map[float64]float64{0: 0, 10: 10, -10: 10, 170: 10, 180: 0, 270: 90, 365: 5} {
		t.Run(fmt.Sprint(direction), func(t *testing.T) {
			assert.InDelta(t, want, Here{}.Angle(direction), 1e-9)
			assert.InDelta(t, want, Here{Fibres: 30}.Angle(direction+30), 1e-9, "wherever the fibres run")
			assert.InDelta(t, want, Here{Fibres: 200}.Angle(direction+20), 1e-9, "fibres have no head")
		})
	}
}

// glued is wood of two parts that meet at an x: what every stage asks of wood holds
// for it too.
type glued struct {
	x    float64
	a, b Here
}

func (g glued) At(p geom.Point) Here {
	if p.X < g.x {
		return g.a
	}
	return g.b
}

func (g glued) Along(a, b geom.Point) []Stretch {
	if (a.X < g.x) == (b.X < g.x) {
		return []Stretch{{g.At(a), a, b}}
	}
	at := geom.Point{X: g.x, Y: a.Y + (b.Y-a.Y)*(g.x-a.X)/(b.X-a.X)}
	return []Stretch{{g.At(a), a, at}, {g.At(b), at, b}}
}

func (g glued) Over(r geom.Ring) (out []Patch) {
	left, right := r.Bounds(), r.Bounds()
	left.MaxX, right.MinX = g.x, g.x
	for _, half := range []struct {
		Here
		geom.Bounds
	}{{g.a, left}, {g.b, right}} {
		if half.MaxX > half.MinX {
			out = append(out, Patch{half.Here, geom.Clip(r, half.Bounds.Ring())})
		}
	}
	return out
}

func (g glued) Seen(geom.Placement) Grain { return g }

func TestWoodOfTwoSpecies(t *testing.T) {
	light := Here{Species: species.Species{Density: 500, Janka: 3000, MOR: 60, TensionPerp: 3}}
	hard := Here{Species: species.Species{Density: 800, Janka: 9000, MOR: 120, TensionPerp: 5}, Fibres: 90}
	w := glued{100, light, hard}
	face := geom.Bounds{MinX: 0, MinY: 0, MaxX: 400, MaxY: 100}.Ring() // a quarter of it is light

	assert.InDelta(t, 0.25*500+0.75*800, Density(w.Over(face)), 1e-9)
	between := Hardness(w.Over(face))
	assert.Greater(t, between, 3000.0)
	assert.Less(t, between, 0.25*3000+0.75*9000, "the hard part takes longer, the mean of the times counts")

	across := w.Along(geom.Point{X: 50, Y: 0}, geom.Point{X: 150, Y: 50})
	assert.Len(t, across, 2)
	assert.InDelta(t, across[0].Length(), across[1].Length(), 1e-9)
	assert.InDelta(t, 60, across[0].Strength(0), 1e-9)
	assert.Less(t, across[1].Strength(0), 20.0, "its fibres run across the member")
}

// What is asked of one piece of one species is what its species says, however the
// board lies.
func TestUniformWood(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		one := Here{
			Species: species.Species{Density: f("density", 300, 1000), Janka: f("janka", 1000, 15000)},
			Fibres:  f("fibres", 0, 180),
		}
		from := geom.Placement{
			X:     f("x", -500, 500),
			Y:     f("y", -500, 500),
			Angle: f("angle", -360, 360),
			Flip:  rapid.Bool().Draw(t, "flip"),
		}
		seen := Uniform(one).Seen(from)
		region := seen.Over(geom.Bounds{MinX: -50, MinY: -20, MaxX: 50, MaxY: 20}.Ring())
		assert.InDelta(t, one.Species.Density, Density(region), 1e-9)
		assert.InDelta(t, one.Species.Janka, Hardness(region), 1e-9)

		// A direction of the board is the same direction of the wood.
		a, b := geom.Point{}, geom.Point{X: 3, Y: f("rise", -5, 5)}
		d, e := b.Sub(a), from.Out(b).Sub(from.Out(a))
		assert.InDelta(t, one.Angle(way(e)), seen.At(a).Angle(way(d)), 1e-6)
	})
}

// way is the direction of a vector, degrees anticlockwise.
func way(v geom.Point) float64 { return math.Atan2(v.Y, v.X) * 180 / math.Pi }
