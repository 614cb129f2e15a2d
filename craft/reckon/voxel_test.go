package reckon

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// cell is the edge of a voxel, mm.
const cell = 0.5

// carved is something that is cut into a board, as a plain solid: from which depth below
// the show face to which it is hollow at a place, if at all.
type carved struct {
	name string
	of   string // the fitting that it belongs to
	kind string
	box  geom.Bounds
	at   func(x, y float64) (low, high float64, ok bool)
}

// solids are all that is cut into a board t mm thick, worked out from the design by a
// plainer way than the checks: each is asked at single places.
func solids(s board.Shaped, t float64) (out []carved) {
	span := func(deep float64, under bool) (low, high float64) {
		if under {
			return max(0, t-deep), t
		}
		return 0, min(t, deep)
	}
	ring := func(name, of, kind string, r, inner geom.Ring, low, high float64) {
		if len(r) < 3 {
			return
		}
		out = append(out, carved{name, of, kind, r.Bounds(), func(x, y float64) (float64, float64, bool) {
			p := geom.Point{X: x, Y: y}
			return low, high, r.Contains(p) && (len(inner) < 3 || !inner.Contains(p))
		}})
	}
	for i, h := range s.Holes {
		ring(fmt.Sprintf("hole %d", i), "", "hole", h, nil, 0, t)
	}
	for i, c := range s.Cavities {
		low, high := span(c.Recess.Depth, c.Recess.Under)
		ring(fmt.Sprintf("recess %d", i), "", "recess", c.Rim, c.Inner, low, high)
	}
	for _, b := range s.Bores {
		r := b.Diameter / 2
		if b.A == b.B {
			deep := min(t, b.Deep)
			if b.Deep == 0 {
				deep = min(t, t-b.Leaves)
			}
			if deep >= b.Bites && deep > 0 {
				low, high := span(deep, b.Under)
				ring(b.Name, b.Of, "bore", geom.Ellipse{Centre: b.A, A: r, B: r}.Ring(36), nil, low, high)
			}
			continue
		}
		box := geom.Ring{b.A, b.B}.Bounds()
		box.MinX, box.MaxX, box.MinY, box.MaxY = box.MinX-r, box.MaxX+r, box.MinY-r, box.MaxY+r
		out = append(out, carved{b.Name, b.Of, "side bore", box, func(x, y float64) (float64, float64, bool) {
			along, off := beside(b.A, b.B, x, y)
			half := math.Sqrt(max(0, r*r-off*off))
			return b.Below - half, b.Below + half, along > 0 && along < 1 && half > 0
		}})
	}
	for _, o := range s.Slots {
		out = append(out, carved{o.Name, o.Of, "slot", o.Ring().Bounds(), func(x, y float64) (float64, float64, bool) {
			along, off := beside(o.A, o.B, x, y)
			low, high := span(o.DepthA+(o.DepthB-o.DepthA)*along, o.Under)
			return low, high, along > 0 && along < 1 && math.Abs(off) < o.Width/2
		}})
	}
	return out
}

// beside is how far along a line from a to b a place lies, as a share, and how far off it,
// mm.
func beside(a, b geom.Point, x, y float64) (along, off float64) {
	d := b.Sub(a)
	long := d.Len()
	px, py := x-a.X, y-a.Y
	return (px*d.X + py*d.Y) / long / long, (px*d.Y - py*d.X) / long
}

// meet tells whether two solids share a voxel.
func (c carved) meet(o carved) bool {
	x1, y1 := min(c.box.MaxX, o.box.MaxX), min(c.box.MaxY, o.box.MaxY)
	for x := max(c.box.MinX, o.box.MinX) + cell/2; x < x1; x += cell {
		for y := max(c.box.MinY, o.box.MinY) + cell/2; y < y1; y += cell {
			low, high, ok := c.at(x, y)
			if !ok {
				continue
			}
			if from, to, in := o.at(x, y); in && min(high, to)-max(low, from) > cell {
				return true
			}
		}
	}
	return false
}

// told tells whether any verdict speaks of what meets: of the fittings' crossing, of a
// web, of a recess, of a slicer or of a screw at an edge.
func told(r Reckoned, checks ...string) bool {
	return slices.ContainsFunc(r.Verdicts, func(v craft.Verdict) bool {
		return (v.Level != craft.Good || v.Check == "recess-meets") && slices.Contains(checks, v.Check)
	})
}

// No hole, bore, slot, countersink, recess or foot screw meets another in the thickness
// without a verdict, and none is drawn whose profile crosses itself: an independent test,
// voxel by voxel, of random boards.
func TestNothingMeetsUntold(t *testing.T) {
	met := map[string]int{}
	for seed := range uint64(max(2000, *boards)) {
		s := anyScene(seed + 50000)
		s.Boards = s.Boards[:1]
		r := must(t, s).Boards[0]
		b, err := draw(s)
		require.NoError(t, err)
		l := b.boards[0]
		thick := l.conditions().Thickness
		if thick < 1 {
			continue
		}
		all := solids(l.shaped, thick)
		for i, a := range all {
			for _, o := range all[:i] {
				if a.of != "" && a.of == o.of || !a.meet(o) {
					continue
				}
				pair := o.kind + " and " + a.kind
				met[pair]++
				assert.True(t, told(r, "crossing", "web", "recess-wall", "recess-floor", "recess-meets"),
					"seed %d: the %s meets the %s (%s)", seed+50000, a.name, o.name, pair)
			}
		}
		for _, sec := range r.Shape.Sections {
			assert.NotContains(t, sec.Path, "NaN", "seed %d", seed)
			for _, line := range lines(t, sec.Path) {
				a, b, crosses := crossed(line)
				assert.False(t, crosses, "seed %d: the profile crosses itself at %v and %v", seed+50000, a, b)
			}
		}
		if t.Failed() {
			t.FailNow()
		}
	}
	assert.NotEmpty(t, met)
	t.Log(met)
}

// lines are the closed lines of SVG path data of straight segments.
func lines(t *testing.T, path string) (out []geom.Ring) {
	t.Helper()
	for _, part := range strings.FieldsFunc(path, func(r rune) bool { return r == 'M' || r == 'z' || r == 'Z' }) {
		numbers := strings.FieldsFunc(part, func(r rune) bool { return r == 'L' || r == ' ' || r == ',' })
		ring := geom.Ring{}
		for i := 0; i+1 < len(numbers); i += 2 {
			x, err := strconv.ParseFloat(numbers[i], 64)
			require.NoError(t, err, path)
			y, err := strconv.ParseFloat(numbers[i+1], 64)
			require.NoError(t, err, path)
			ring = append(ring, geom.Point{X: x, Y: y})
		}
		out = append(out, ring)
	}
	return out
}

// crossed finds two sides of a closed line that cross each other.
func crossed(r geom.Ring) (a, b geom.Point, ok bool) {
	turn := func(a, b, c geom.Point) float64 { return (b.X-a.X)*(c.Y-a.Y) - (b.Y-a.Y)*(c.X-a.X) }
	const touch = 1e-6
	n := len(r)
	for i := range r {
		p, q := r[i], r[(i+1)%n]
		for k := i + 2; k < n; k++ {
			if (k+1)%n == i {
				continue
			}
			u, v := r[k], r[(k+1)%n]
			if turn(p, q, u)*turn(p, q, v) < -touch && turn(u, v, p)*turn(u, v, q) < -touch {
				return p, u, true
			}
		}
	}
	return a, b, false
}
