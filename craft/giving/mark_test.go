package giving

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

func plain() (board.Shaped, board.Conditions) {
	d := board.Design{
		Shape: board.Rectangle, Length: 360, Width: 180, Corner: 20,
		Handle: board.Handle{
			Kind:     board.Hole,
			Diameter: 30,
			Setback:  45,
		}, Edge: board.Edge{Kind: "round-over", Size: 3},
	}
	return board.Draw(d, nil), board.Conditions{Thickness: 20}
}

// A mark keeps clear of edge, hole, recess of its face, bores, feet and fills, on the face that it stands on.
func TestWhereAMarkMayStand(t *testing.T) {
	s, c := plain()
	s.Bores = []board.Bore{{
		Name: "a foot's pilot", A: geom.Point{X: -120, Y: 40}, B: geom.Point{X: -120, Y: 40}, Diameter: 4, Deep: 12,
		Under: true,
	}}
	c.FootSpots = geom.Ring{{X: -120, Y: -40}}
	c.Voids = []board.Void{{
		Name: "the knot", Depth: 8, Levels: []geom.Ring{geom.Ellipse{Centre: geom.Point{X: 30}, A: 15, B: 15}.Ring(24)},
	}}
	for _, try := range []struct {
		name string
		at   Mark
		good bool
	}{
		{"free", Mark{X: -50, Y: 0, Length: 40, Width: 20}, true},
		{"over the hole", Mark{X: 135, Y: 0, Length: 40, Width: 20}, false},
		{"over the edge", Mark{X: -50, Y: 80, Length: 40, Width: 20}, false},
		{"by a hair in the profile", Mark{X: -50, Y: 73, Length: 40, Width: 20}, false},
		{"beside it", Mark{X: -50, Y: 71, Length: 40, Width: 20}, true},
		{"over a foot", Mark{X: -120, Y: -40, Length: 20, Width: 20}, false},
		{"over a pilot", Mark{X: -120, Y: 40, Length: 20, Width: 20}, false},
		{"over the other face's knot", Mark{X: 30, Y: 0, Length: 20, Width: 20}, true},
		{"larger than the board", Mark{Length: 300, Width: 300}, false},
	} {
		v := try.at.Judge(s, c)[0]
		assert.Equal(t, try.good, v.Level == craft.Good, "%s: %v", try.name, v.Figure.Value)
	}
	food := Mark{X: 30, Length: 20, Width: 20, Food: true}.Judge(s, c)
	assert.Len(t, food, 2)
	assert.NotEqual(t, craft.Good, food[0].Level, "on the food face it runs over the knot")
}

// Whatever is in the way of a mark, each way out that is offered clears it.
func TestEveryPlaceOfferedIsFree(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s, c := plain()
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		m := Mark{X: f("x", -190, 190), Y: f("y", -95, 95), Length: f("length", 5, 200), Width: f("width", 5, 150)}
		for range rapid.IntRange(0, 4).Draw(t, "feet") {
			c.FootSpots = append(c.FootSpots, geom.Point{X: f("foot x", -160, 160), Y: f("foot y", -70, 70)})
		}
		a := aroundOf(s, c, false)
		for _, r := range a.remedies(m) {
			next := struct {
				Give struct{ Mark *Mark }
			}{}
			next.Give.Mark = new(m)
			if err := r.Patch.Apply(&next); err != nil {
				t.Fatal(err)
			}
			if next.Give.Mark == nil {
				continue
			}
			if gap, name := a.clearance(*next.Give.Mark); gap < markClear-1e-9 {
				t.Fatalf("%s leaves it %g mm from %s", r.Label, gap, name)
			}
		}
	})
}
