package reckon

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/rescue"
)

// stopped are the findings of the stops of a scene's first board.
func stopped(t testing.TB, s Scene) (out []string) {
	t.Helper()
	for _, v := range must(t, s).Boards[0].Verdicts {
		if v.Level == craft.Stop {
			out = append(out, v.Check+": "+v.Finding)
		}
	}
	return out
}

// mishapped is a random board, made up to a random step, on which something went wrong there; not ok where the board
// has a stop before.
func mishapped(t testing.TB, seed uint64) (hurt, before Scene, ok bool) {
	t.Helper()
	l := luck{rand.New(rand.NewPCG(seed, 77))}
	s := anyScene(seed)
	s.Boards[0].Give.Whom = pick(l, "", "", board.Customer, board.Own)
	if len(s.Check()) > 0 || len(stopped(t, s)) > 0 {
		return s, s, false
	}
	steps := must(t, s).Boards[0].Course.Steps
	step := steps[l.IntN(len(steps))]
	s = doneUntil(t, s, step.Key)
	if len(stopped(t, s)) > 0 {
		return s, s, false
	}
	shaped, err := Draw(s)
	require.NoError(t, err)
	box := shaped[0].Outline.Bounds()
	at := geom.Point{X: l.from(box.MinX, box.MaxX), Y: l.from(box.MinY, box.MaxY)}
	if l.chance(0.6) { // at the edge, where most go wrong
		at, _ = shaped[0].Outline.Nearest(at)
	}
	kinds := rescue.KindsAt(step.Stage)
	if len(kinds) == 0 {
		return s, s, false
	}
	k := kinds[l.IntN(len(kinds))]
	r := rescue.Report{Kind: k.Key, Under: l.chance(0.3)}
	wide, high, lean := l.from(4, 50), l.from(3, 30), l.from(0, 90)*math.Pi/180
	turned := func(x, y float64) geom.Point {
		sin, cos := math.Sincos(lean)
		return geom.Point{X: at.X + cos*x - sin*y, Y: at.Y + sin*x + cos*y}
	}
	if k.Wants(rescue.Area) && (!k.Wants(rescue.Line) || l.chance(0.7)) {
		r.Area = []geom.Point{turned(-wide/2, -high/2), turned(wide/2, -high/2), turned(wide/2, high/2),
			turned(-wide/2, high/2)}
	} else if k.Wants(rescue.Line) {
		r.Line = []geom.Point{turned(-wide/2, 0), turned(wide/2, l.from(-5, 5))}
	}
	if k.Wants(rescue.Depth) && l.chance(0.7) {
		r.Depth = l.from(0.2, 6)
	}
	if k.Wants(rescue.Thickness) {
		r.Thickness = l.from(8, 24)
	}
	if k.Wants(rescue.Place) {
		if len(shaped[0].Holes) == 0 {
			return s, s, false
		}
		c := shaped[0].Holes[0].Centroid()
		r.Place = &geom.Point{X: c.X + l.from(-4, 4), Y: c.Y + l.from(-4, 4)}
	}
	b, err := Happened(s, "m", step.Key, s.Now, 0, r)
	require.NoError(t, err, "%d", seed)
	hurt = s
	hurt.Boards = slices.Clone(s.Boards)
	hurt.Boards[0] = b
	return hurt, s, true
}

// inside is how many of the points of a grid that lie in a ring lie in another, all but those within a hair of its line.
func strays(ring geom.Ring, of func(geom.Point) bool, grid float64) (n int) {
	box := ring.Bounds()
	for x := box.MinX + grid/3; x <= box.MaxX; x += grid {
		for y := box.MinY + grid/3; y <= box.MaxY; y += grid {
			p := geom.Point{X: x, Y: y}
			if _, off := ring.Nearest(p); off > 0.15 && ring.Contains(p) && of(p) {
				n++
			}
		}
	}
	return n
}

// Whatever goes wrong on whatever board: every way that is offered makes a board without a stop from what is left,
// holes and recesses that are cut stay where they are, and what is gone is not in it unless it is filled.
func TestEveryWayOutIsOne(t *testing.T) {
	const want = 60
	tried, offered, none := 0, 0, 0
	byWay := map[rescue.Way]int{}
	for seed := uint64(1); tried < want; seed++ {
		s, before, ok := mishapped(t, seed)
		if !ok {
			continue
		}
		tried++
		m := s.Boards[0].Mishaps[0]
		was, err := Draw(before)
		require.NoError(t, err)
		ways, _ := waysOf(t, s)
		if len(ways) <= 1 {
			none++
		}
		for _, w := range ways {
			offered++
			byWay[w.Way]++
			name := fmt.Sprintf("seed %d, %s at %s: %s (%s)", seed, m.Kind, m.Step, w.Label, w.Key)
			next := s
			next.Boards = slices.Clone(s.Boards)
			require.NoError(t, w.Patch.Apply(&next.Boards[0]), name)
			require.Empty(t, next.Boards[0].Check("board"), name)
			require.Empty(t, stopped(t, next), name)
			if w.Act != "" || w.Way == rescue.Rack {
				continue
			}
			now, err := Draw(next)
			require.NoError(t, err)
			place, old := next.Boards[0].Placement, before.Boards[0].Placement
			ring := now[0].Outline.Map(place.Out)
			if m.Sawn {
				left := geom.NewIndex(geom.Ring(m.Left))
				require.Zero(t, strays(ring, func(p geom.Point) bool { return !left.Contains(p) }, 3), name)
			}
			for _, f := range next.Boards[0].Mishaps[0].Gone {
				if f.Wish == "fill" {
					continue
				}
				print := f.Footprint()
				require.Zero(t, strays(print, ring.Contains, 0.7), name)
			}
			for i, h := range was[0].Holes {
				if len(m.Made) == 0 || m.Kind == offCentre {
					break
				}
				kept := slices.ContainsFunc(next.Boards[0].Mishaps[0].Made, func(o rescue.Made) bool {
					return o.Depth == 0 && astray(o.Ring, h.Map(old.Out)) < 0.01
				})
				if !kept || geom.Largest(geom.Common(ring, h.Map(old.Out))).Area() < 1 {
					continue
				}
				off := math.Inf(1)
				for _, o := range now[0].Holes {
					off = min(off, astray(o.Map(place.Out), h.Map(old.Out)))
				}
				require.LessOrEqual(t, off, 0.01, "%s: hole %d", name, i)
			}
		}
	}
	t.Logf("%d ways out of %d mishaps, %d with none but giving up: %v", offered, tried, none, byWay)
	for _, way := range rescue.AllWays() {
		if way != rescue.Spare {
			assert.Positive(t, byWay[way], way)
		}
	}
}
