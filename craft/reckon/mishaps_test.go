package reckon

import (
	"flag"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
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

// likely is a random board as makers make them, on sound wood.
func likely(seed uint64) Scene {
	l := luck{rand.New(rand.NewPCG(seed, 19))}
	s := sample()
	s.Slab.Flaws = nil
	if l.chance(0.3) {
		s.Slab.Flaws = sample().Slab.Flaws
	}
	s.Slab.Species = pick(l, "Sugar maple", "Pear", "Black walnut", "Hornbeam", s.Slab.Species)
	b := &s.Boards[0]
	b.Placement = geom.Placement{
		X:     l.from(300, 600),
		Y:     l.from(-10, 10),
		Angle: pick(l, 0.0, 0, 180),
		Flip:  l.chance(0.2),
	}
	d := &b.Design
	d.Shape = board.Shape(pick(l, board.Shapes...))
	d.Length, d.Width = l.from(220, 420), l.from(130, 200)
	d.Corner, d.Tip, d.Shoulder, d.Angle = l.from(0, 25), l.from(25, 45), l.from(20, 35), l.from(-20, 20)
	d.Neck, d.NeckLength = l.from(50, 70), l.from(90, 120)
	d.KeepLeft, d.Thickness = d.Shape == board.Plank, pick(l, 0.0, 18, 20, 22)
	if d.Shape == board.Free {
		x, y := d.Length/2, d.Width/2
		d.Nodes = []board.Node{{X: -x, Y: -y, Round: 20}, {X: x, Y: -y / 2, Round: 20}, {X: x, Y: y / 2, Round: 20},
			{X: -x, Y: y, Round: 20}}
	}
	d.Handle = board.Handle{Kind: pick(l, board.NoHandle, board.Hole, board.Hole, board.Slotted, board.CordHole)}
	d.Handle.Diameter, d.Handle.Length, d.Handle.Setback = l.from(10, 28), l.from(70, 90), l.from(30, 45)
	d.Handle.Turn = pick(l, 0.0, 90)
	if d.Handle.Kind == board.CordHole {
		d.Handle.Diameter = 8
	}
	d.Edge = board.Edge{Kind: pick(l, "round-over", "chamfer", "eased"), Size: l.from(1, 4)}
	if l.chance(0.25) {
		d.Recesses = []board.Recess{{Kind: "well", Length: 80, Width: 60, Depth: 4, Radius: 10, X: -40}}
	}
	b.Fit.Cord = d.Handle.Kind == board.CordHole
	if l.chance(0.3) {
		b.Fit.Feet = true
	}
	b.Finish.School = pick(l, "oil", "oil then paste", "hard wax")
	return s
}

// mishapped is a random board, made up to a random step, on which something went wrong there; not ok where the board
// has a stop before.
func mishapped(t testing.TB, seed uint64) (hurt, before Scene, ok bool) {
	t.Helper()
	l := luck{rand.New(rand.NewPCG(seed, 77))}
	s := likely(seed)
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
	if l.chance(0.6) || !shaped[0].Outline.Contains(at) { // at the edge, where most go wrong
		at, _ = shaped[0].Outline.Nearest(at)
	}
	kinds := rescue.KindsAt(step.Stage, nil)
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
	if err != nil && strings.Contains(err.Error(), "beside the board") { // a line may lie just off its edge
		return s, s, false
	}
	require.NoError(t, err, "%d", seed)
	hurt = s
	hurt.Boards = slices.Clone(s.Boards)
	hurt.Boards[0] = b
	return hurt, s, true
}

// strays is how many of the points of a grid that lie in a ring, and not close to its line, are of a kind.
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

// coarsely looks for a redraw in the plainest way: its own shape ever smaller, at every place of a coarse grid, both
// ways round, each reckoned in full.
func coarsely(t testing.TB, s Scene) bool {
	t.Helper()
	b, err := drawOn(s)
	require.NoError(t, err)
	w, err := b.work()
	require.NoError(t, err)
	r := newRescuer(w, 0, Rescuing{})
	room, d := r.room(), r.l.board.Design
	d.AsCut = nil
	if d.Shape == board.Plank || d.Shape == board.Free {
		d = kindOf(d, board.Rectangle)
	}
	box := room.Outline.Bounds()
	const grid = 25
	for _, share := range []float64{0.9, 0.75, 0.6, 0.5} {
		next := d
		next.Length, next.Width = d.Length*share, d.Width*share
		next.Neck, next.NeckLength = d.Neck*share, d.NeckLength*share
		ring := board.Draw(next, nil).Outline
		for x := box.MinX; x <= box.MaxX; x += grid {
			for y := box.MinY; y <= box.MaxY; y += grid {
				for _, angle := range []float64{0, 180} {
					at := geom.Placement{X: x, Y: y, Angle: angle}
					if !within(room, ring.Map(at.Out)) {
						continue
					}
					r.redraw("coarse", "coarse", clean.Laid{Placement: at, Design: next}, 1)
					for _, o := range r.tried {
						if o.Way != nil {
							t.Logf("found %v of %v at %v, %v", share, d.Shape, at, r.m.Kind)
							return true
						}
					}
					r.tried = nil
				}
			}
		}
	}
	return false
}

// within tells whether a ring lies in what is left, clear of what is gone, with all that is kept.
func within(l rescue.Left, ring geom.Ring) bool {
	for _, p := range ring.Dense(6) {
		if !l.Outline.Contains(p) {
			return false
		}
	}
	for _, g := range l.Gone {
		if geom.Gap(ring, g) < rescue.Beyond {
			return false
		}
	}
	for _, k := range l.Kept {
		for _, p := range k {
			if !ring.Contains(p) {
				return false
			}
		}
	}
	return true
}

// mishaps is how many are tried.
var mishaps = flag.Int("mishaps", 120, "random mishaps to try every way out of")

// Whatever goes wrong on whatever board: every way that is offered makes a board without a stop from what is left,
// holes and recesses that are cut stay where they are, and what is gone is not in it unless it is filled; and the board
// is redrawn whenever a coarse search of all places finds that it may be.
func TestEveryWayOutIsOne(t *testing.T) {
	var sum sync.Mutex
	all := map[rescue.Way]int{}
	for _, first := range []uint64{1, 100_001} {
		t.Run(fmt.Sprintf("from %d", first), func(t *testing.T) {
			t.Parallel()
			tally := everyWay(t, first, *mishaps/2)
			sum.Lock()
			defer sum.Unlock()
			for way, n := range tally {
				all[way] += n
			}
		})
	}
	t.Cleanup(func() { // when both are through
		const enough = 100
		for _, way := range rescue.AllWays() {
			if way != rescue.Spare && *mishaps >= enough {
				assert.Positive(t, all[way], way)
			}
		}
	})
}

// everyWay tries so many mishaps, and counts the ways out of them.
func everyWay(t *testing.T, seed uint64, want int) map[rescue.Way]int {
	byWay := map[rescue.Way]int{}
	tried := 0
	for ; tried < want; seed++ {
		s, before, ok := mishapped(t, seed)
		if !ok {
			continue
		}
		tried++
		m := s.Boards[0].Mishaps[0]
		name := fmt.Sprintf("seed %d, %s at %s", seed, m.Kind, m.Step)
		ways, _ := waysOf(t, s)
		redrawn := false
		for _, w := range ways {
			byWay[w.Way]++
			redrawn = redrawn || w.Way == rescue.Redraw || w.Way == rescue.FairLine || w.Way == rescue.AngledEnd
			isOne(t, s, before, w, name)
		}
		if kind, _ := rescue.KindOf(m.Kind); kind.Tries(rescue.Redraw) && !redrawn {
			byWay["none redrawn"]++
			require.False(t, coarsely(t, s), "%s: it may be redrawn", name)
		}
	}
	t.Logf("the ways out of %d mishaps: %v", tried, byWay)
	return byWay
}

// isOne checks a way out by itself: its patch, without a stop, within what is left, about what was made.
func isOne(t *testing.T, s, before Scene, w WayOut, name string) {
	m := s.Boards[0].Mishaps[0]
	name = fmt.Sprintf("%s: %s (%s)", name, w.Label, w.Key)
	next := s
	next.Boards = slices.Clone(s.Boards)
	require.NoError(t, w.Patch.Apply(&next.Boards[0]), name)
	require.Empty(t, next.Boards[0].Check("board"), name)
	require.Empty(t, stopped(t, next), name)
	if w.Act != "" || w.Way == rescue.Rack {
		return
	}
	was, err := Draw(before)
	require.NoError(t, err)
	now, err := Draw(next)
	require.NoError(t, err)
	place, old := next.Boards[0].Placement, before.Boards[0].Placement
	ring := now[0].Outline.Map(place.Out)
	if m.Sawn {
		left := geom.NewIndex(geom.Ring(m.Left))
		require.Zero(t, strays(ring, func(p geom.Point) bool { return !left.Contains(p) }, 3), name)
	}
	for _, f := range next.Boards[0].Mishaps[0].Gone {
		if f.Wish != "fill" {
			require.Zero(t, strays(f.Footprint(), func(p geom.Point) bool {
				return ring.Contains(p) && !slices.ContainsFunc(now[0].Holes, func(h geom.Ring) bool {
					return h.Map(place.Out).Contains(p)
				})
			}, 0.7), name)
		}
	}
	if len(m.Made) == 0 || m.Kind == offCentre {
		return
	}
	for i, h := range was[0].Holes {
		hole := h.Map(old.Out)
		kept := slices.ContainsFunc(next.Boards[0].Mishaps[0].Made, func(o rescue.Made) bool {
			return o.Depth == 0 && astray(o.Ring, hole) < 0.01
		})
		if !kept || geom.Largest(geom.Common(ring, hole)).Area() < 1 {
			continue
		}
		off := math.Inf(1)
		for _, o := range now[0].Holes {
			off = min(off, astray(o.Map(place.Out), hole))
		}
		require.LessOrEqual(t, off, 0.01, "%s: hole %d", name, i)
	}
}
