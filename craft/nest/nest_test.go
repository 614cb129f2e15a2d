package nest

import (
	"iter"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/geom"
)

func box(l, w float64) geom.Ring {
	return geom.Bounds{MinX: -l / 2, MaxX: l / 2, MinY: -w / 2, MaxY: w / 2}.Ring()
}

// alone is a search by itself, which may begin with a layout.
func (p Problem) alone(seed uint64, from ...Laid) iter.Seq[Step] {
	return func(yield func(Step) bool) {
		s := newSearch(p, p.ground(), seed)
		s.from = from
		s.run(yield)
	}
}

// after is the best layout when so many moves were tried.
func (p Problem) after(seed uint64, moves int, from ...Laid) (best Layout) {
	for step := range p.alone(seed, from...) {
		best = step.Best
		if step.Moves >= moves || len(best.Laid) == len(p.Pieces) {
			break
		}
	}
	return best
}

// rings are the pieces of a layout on the sheet.
func (p Problem) rings(l Laid) (out []geom.Ring) {
	if l.Pose >= 0 {
		return p.Pieces[l.Piece].Poses[l.Pose].Parts
	}
	for _, r := range p.Pieces[l.Piece].Parts {
		out = append(out, r.Map(l.At.Out))
	}
	return out
}

// lieFree judges a layout by geometry, without the raster of the search.
func lieFree(t testing.TB, p Problem, l Layout) {
	t.Helper()
	for i, a := range l.Laid {
		for _, r := range p.rings(a) {
			for _, q := range r.Dense(2) {
				if _, d := p.Sheet.Outline.Nearest(q); !p.Sheet.Outline.Contains(q) && d > Grazing+1e-6 {
					t.Fatalf("piece %d lies %g mm off the sheet", a.Piece, d)
				}
			}
			for _, h := range p.Sheet.Holes {
				if geom.Gap(r, h) <= 0 {
					t.Fatalf("piece %d lies on a hole", a.Piece)
				}
			}
			for _, b := range l.Laid[i+1:] {
				for _, o := range p.rings(b) {
					if gap := geom.Gap(r, o); gap < p.Apart-1e-6 {
						t.Fatalf("pieces %d and %d come within %g mm", a.Piece, b.Piece, gap)
					}
				}
			}
		}
	}
}

// free judges a layout by a raster of its own: no point of it lies in two pieces, or nearer to two of them than half of
// what must lie between, nor off the sheet.
func free(t testing.TB, p Problem, l Layout) {
	t.Helper()
	const cell = 0.8 // mm
	of := map[[2]int]int{}
	for _, laid := range l.Laid {
		for _, r := range p.rings(laid) {
			ring, sheet := geom.NewIndex(r), geom.NewIndex(p.Sheet.Outline)
			box, reach := r.Bounds(), p.Apart/2-0.01
			for x := int((box.MinX - reach) / cell); x <= int((box.MaxX+reach)/cell); x++ {
				for y := int((box.MinY - reach) / cell); y <= int((box.MaxY+reach)/cell); y++ {
					q := geom.Point{X: float64(x) * cell, Y: float64(y) * cell}
					inside := ring.Contains(q)
					if _, d := ring.Within(reach, q); !inside && d >= reach {
						continue
					}
					if other, taken := of[[2]int{x, y}]; taken && other != laid.Piece {
						t.Fatalf("pieces %d and %d are both at %v", other, laid.Piece, q)
					}
					of[[2]int{x, y}] = laid.Piece
					if _, d := sheet.Nearest(q); inside && !sheet.Contains(q) && d > Grazing {
						t.Fatalf("piece %d lies %g mm off the sheet at %v", laid.Piece, d, q)
					}
				}
			}
		}
	}
}

func TestPuzzles(t *testing.T) {
	areSolved(t, 2500, cutUp(2), cutUp(4), cutSquare(1), cutSquare(3))
}

// Puzzles that are drawn anew each day are solved as well, whatever comes: they are searched for longer.
func TestPuzzlesOfTheDay(t *testing.T) {
	var drawn []puzzle
	for _, seed := range seeds(time.Now())[20:24] {
		t.Log("drawn:", seed)
		drawn = append(drawn, cutUp(seed))
	}
	areSolved(t, 12_000, drawn...)
}

// areSolved reports puzzles of which too little is laid after so many moves, or that do not lie free.
func areSolved(t *testing.T, moves int, puzzles ...puzzle) {
	t.Helper()
	sum := 0.0
	for _, p := range puzzles {
		l := p.after(1, moves)
		lieFree(t, p.Problem, l)
		free(t, p.Problem, l)
		require.Greater(t, l.Worth, 0.75*p.whole)
		sum += l.Worth / p.whole
	}
	assert.Greater(t, sum/float64(len(puzzles)), 0.88)
}

// What is known to fit is settled where it lies.
func TestTheWayItWasCutIsFree(t *testing.T) {
	p := cutUp(8)
	s := newSearch(p.Problem, p.ground(), 0)
	laid, ok := s.settle(p.known)
	require.True(t, ok)
	lieFree(t, p.Problem, s.layout(laid))
	assert.InDelta(t, p.whole, s.layout(laid).Worth, 1e-6)
	// So is what has slipped by less than what lies between.
	slipped := append([]Laid{}, p.known...)
	for i := range slipped {
		slipped[i].At.X += 0.4 * float64(i%3-1)
		slipped[i].At.Y += 0.4 * float64(i%2)
	}
	laid, ok = s.settle(slipped)
	require.True(t, ok)
	lieFree(t, p.Problem, s.layout(laid))
	// Two in one place are not.
	slipped[0].At = slipped[1].At
	_, ok = s.settle(slipped)
	assert.False(t, ok)
}

func TestSameSeedSameSteps(t *testing.T) {
	p := cutSquare(2)
	var first []Layout
	for range 2 {
		var bests []Layout
		for step := range p.alone(9) {
			if step.Better {
				bests = append(bests, step.Best)
			}
			if step.Moves > 800 {
				break
			}
		}
		if first == nil {
			first = bests
			continue
		}
		require.True(t, reflect.DeepEqual(first, bests))
		for i := 1; i < len(bests); i++ {
			assert.True(t, bests[i].Better(bests[i-1]), "each is better than the one before")
		}
	}
}

func TestHolesPosesAndPlacesToShun(t *testing.T) {
	p := Problem{
		Sheet: Sheet{Outline: box(400, 200), Holes: []geom.Ring{box(30, 200).Map(geom.Placement{X: -20}.Out)}},
		Apart: 3,
		Pieces: []Piece{
			{Parts: []geom.Ring{box(150, 190)}, Worth: 1, Must: true},
			{
				Parts: []geom.Ring{box(80, 80), box(20, 20).Map(geom.Placement{X: 60}.Out)},
				Worth: 1,
				Turns: []float64{0, 90},
			},
			{
				Worth: 1,
				Poses: []Pose{
					{At: geom.Placement{X: 1}, Parts: []geom.Ring{box(30, 150).Map(geom.Placement{X: -150}.Out)}},
					{At: geom.Placement{X: 2}, Parts: []geom.Ring{box(20, 150).Map(geom.Placement{X: 188}.Out)}},
				},
			},
			{Parts: []geom.Ring{box(500, 10)}, Worth: 9}, // longer than the sheet
		},
	}
	l := p.after(1, 2000)
	lieFree(t, p, l)
	require.Equal(t, 3, len(l.Laid))
	assert.Equal(t, 1, l.Must)
	assert.Equal(t, 3.0, l.Worth)

	p.Pieces = []Piece{
		{Parts: []geom.Ring{box(60, 60)}, Worth: 1, Avoid: []geom.Ring{box(260, 200).Map(geom.Placement{X: 70}.Out)}},
	}
	l = p.after(1, 300)
	require.Len(t, l.Laid, 1)
	assert.Less(t, l.Laid[0].At.X, -89.0)

	p.Bad = func(l Layout) []int { return []int{0} }
	assert.Empty(t, p.after(1, 300).Laid, "what must not lie where it does is not laid")
	assert.Empty(
		t,
		Problem{
			Sheet:  Sheet{Outline: box(50, 50)},
			Pieces: []Piece{{Parts: []geom.Ring{box(60, 60)}}},
		}.after(1, 300).Laid,
	)
}

// A touch is the least push that brings a body clear.
func TestTouch(t *testing.T) {
	at := func(x float64) geom.Index { return geom.NewIndex(box(40, 40).Map(geom.Placement{X: x}.Out).Dense(5)) }
	assert.Zero(t, touch(at(0), at(50), 3).worst())
	c := touch(at(0), at(42), 3)
	assert.InDelta(t, -1, c.move.X, 1e-9)
	c = touch(at(0), at(38), 3)
	assert.InDelta(t, -5, c.move.X, 1e-9)
	assert.Zero(t, math.Abs(c.move.Y))
}

func TestWhatIsBetter(t *testing.T) {
	l := Layout{Must: 2, Worth: 10, Rest: 104, Cuts: 5}
	for name, worse := range map[string]Layout{
		"fewer that must be":       {Must: 1, Worth: 20, Rest: 500, Cuts: 1},
		"less worth":               {Must: 2, Worth: 9, Rest: 500, Cuts: 1},
		"less that is whole":       {Must: 2, Worth: 10, Rest: 99, Cuts: 1},
		"more cuts, as much whole": {Must: 2, Worth: 10, Rest: 108, Cuts: 6},
	} {
		assert.True(t, l.Better(worse), name)
		assert.False(t, worse.Better(l), name)
	}
	assert.False(t, l.Better(l))
}

// Pieces that are drawn to a place are laid there, where that is worth more.
func TestPiecesGoWhereTheyAreDrawnTo(t *testing.T) {
	at := geom.Placement{X: 310, Y: 40}
	p := Problem{
		Sheet: Sheet{Outline: geom.Bounds{MaxX: 600, MaxY: 200}.Ring()},
		Apart: 3,
		Most:  1,
		Extra: func(l Layout) float64 {
			for _, o := range l.Laid {
				if math.Hypot(o.At.X-at.X, o.At.Y-at.Y) < 2 {
					return 1
				}
			}
			return 0
		},
	}
	for range 4 {
		p.Pieces = append(
			p.Pieces,
			Piece{
				Parts: []geom.Ring{geom.Bounds{MinX: -60, MinY: -30, MaxX: 60, MaxY: 30}.Ring()},
				Worth: 1,
				Lures: [][]geom.Placement{{at}},
			},
		)
	}
	for step := range p.alone(1) {
		if step.Best.Worth == 5 {
			return
		}
		if step.Moves > 2000 {
			t.Fatalf("worth %g of 5", step.Best.Worth)
		}
	}
}

// Of layouts of equal worth the one is sought that leaves more whole at one end.
func TestWhatIsLaidIsDrawnTogether(t *testing.T) {
	p := Problem{Sheet: Sheet{Outline: geom.Bounds{MaxX: 640, MaxY: 172}.Ring()}, Apart: 2.5}
	for _, size := range [][2]float64{{165, 84}, {165, 84}, {165, 84}, {120, 60}, {180, 100}} {
		p.Pieces = append(p.Pieces, Piece{Parts: []geom.Ring{box(size[0], size[1])}, Worth: size[0] * size[1]})
	}
	var best Layout
	for step := range p.alone(1) {
		if best = step.Best; len(best.Laid) == 5 && best.Rest > 115 {
			break
		}
		if step.Moves > 6000 {
			t.Fatalf("%g mm are left whole", best.Rest)
		}
	}
	assert.Len(t, best.Laid, 5, "no longer than three in a row, 515 of 640 mm")
}

// Made narrow, a sheet counts as off it what lies past the places given, and
// nothing else; given back its ends it is as it was.
func TestNarrow(t *testing.T) {
	p := Problem{
		Sheet: Sheet{Outline: geom.Bounds{MaxX: 400, MaxY: 120}.Ring()},
		Apart: 2,
		Soft:  []geom.Ring{geom.Bounds{MinX: 40, MaxX: 60, MinY: 40, MaxY: 60}.Ring()},
	}
	g := newGrid(p, 1.5)
	was := slices.Clone(g.off)
	at := func(x, y float64) int32 {
		return g.off[int((y-g.at.Y)/g.size)*g.w+int((x-g.at.X)/g.size)]
	}
	assert.Equal(t, int32(softPrice), at(50, 50))
	g.narrow(100, 300)
	assert.Zero(t, at(200, 60))
	for _, x := range []float64{50, 90, 310, 390} {
		assert.Greater(t, at(x, 60), int32(softPrice), "%v", x)
	}
	assert.Greater(t, at(20, 60), at(95, 60), "the farther off, the dearer")
	g.narrow(math.Inf(-1), math.Inf(1))
	assert.Equal(t, was, g.off)
}

// A piece with places of its own that it must not touch keeps clear of them, and
// only that one does.
func TestPiecesAvoidWhatIsTheirs(t *testing.T) {
	shut := geom.Bounds{MinX: 0, MaxX: 150, MinY: 0, MaxY: 100}.Ring()
	p := Problem{Sheet: Sheet{Outline: geom.Bounds{MaxX: 300, MaxY: 100}.Ring()}, Apart: 2, Pieces: []Piece{
		{Parts: []geom.Ring{box(120, 80)}, Worth: 1, Avoid: []geom.Ring{shut}},
		{Parts: []geom.Ring{box(120, 80)}, Worth: 1},
	}}
	best := p.after(1, 3000)
	require.Len(t, best.Laid, 2)
	for _, l := range best.Laid {
		left := l.At.X-60 < 150-0.01
		assert.Equal(t, l.Piece == 1, left, "piece %d lies at %g", l.Piece, l.At.X)
	}
}

// A search that begins from a layout that is known tells nothing worse; from one that no longer holds it begins anew.
func TestASearchGoesOnFromWhatWasFound(t *testing.T) {
	p := cutUp(3).Problem
	known := p.after(1, 2500)
	first := p.after(99, 0, known.Laid...)
	assert.InEpsilon(t, known.Worth, first.Worth, 1e-9)
	lieFree(t, p, first)
	later := p.after(99, 1000, known.Laid...)
	assert.False(t, known.Better(later))
	lieFree(t, p, later)

	askew := slices.Clone(known.Laid)
	askew[0].At = askew[1].At // two lie in one place
	anew := p.after(99, 0, askew...)
	assert.NotEmpty(t, anew.Laid)
	lieFree(t, p, anew)
}

// However thin a place is that no piece may touch, and however it lies, pieces are laid beside it as they come.
func TestAThinCrackIsSeen(t *testing.T) {
	for _, wide := range []float64{0.3, 1, 3, 6} {
		for _, askew := range []float64{0, 0.2, 20, 90} {
			at := geom.Placement{X: 300, Y: 20, Angle: askew}
			p := Problem{
				Sheet: Sheet{
					Outline: geom.Bounds{MaxX: 900, MinY: -150, MaxY: 150}.Ring(),
					Holes:   []geom.Ring{box(160, wide).Map(at.Out), box(40, wide).Map(at.Mirrored().Out)},
				},
				Apart: apart,
			}
			for range 6 {
				p.Pieces = append(p.Pieces, Piece{Parts: []geom.Ring{box(180, 90)}, Worth: 1})
			}
			l := p.after(1, 0)
			assert.GreaterOrEqual(t, len(l.Laid), 4, "%g mm wide, askew by %g", wide, askew)
			lieFree(t, p, l)
		}
	}
}

func TestRastersAreStrictWhereThereIsRoom(t *testing.T) {
	boxes := func(n int, length, width float64) (out []Piece) {
		for range n {
			out = append(out, Piece{Parts: []geom.Ring{geom.Bounds{MaxX: length, MaxY: width}.Ring()}})
		}
		return out
	}
	sheet := Sheet{Outline: geom.Bounds{MaxX: 600, MaxY: 300}.Ring()}
	holed := sheet
	holed.Holes = []geom.Ring{geom.Bounds{MinX: 100, MinY: 100, MaxX: 200, MaxY: 150}.Ring()}
	posed := []Piece{{Poses: []Pose{{Parts: boxes(1, 580, 290)[0].Parts}}}}
	for name, c := range map[string]struct {
		sheet  Sheet
		pieces []Piece
		want   float64 // by hand
	}{
		"filled but for the cuts": {sheet, boxes(4, 296.5, 146.5), generous},
		"with room":               {sheet, boxes(4, 250, 120), strictest},
		"in between":              {sheet, boxes(4, 290, 140), generous + 1.5*(2*17_600/5_240.0-2.5)/4},
		"about a hole":            {holed, boxes(4, 290, 140), generous + 1.5*(2*12_600/5_540.0-2.5)/4},
		"at places of its own":    {sheet, posed, generous + 1.5*(2*11_800/3_540.0-2.5)/4},
		"far too many":            {sheet, boxes(60, 250, 120), strictest},
		"nothing":                 {sheet, nil, strictest},
	} {
		p := Problem{Sheet: c.sheet, Pieces: c.pieces, Apart: 2.5}
		assert.InDelta(t, min(c.want, strictest), p.strict(4), 1e-9, name)
	}
	before := math.Inf(1)
	for width := 60.0; width < 150; width++ {
		now := Problem{Sheet: sheet, Pieces: boxes(4, 290, width), Apart: 2.5}.strict(4)
		assert.LessOrEqual(t, now, before, "the less room, the less strict: %g", width)
		before = now
	}
}

func TestAnExchangePays(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	some, none := 0, 0
	for range 500 {
		p := Problem{Sheet: Sheet{Outline: geom.Bounds{MaxX: 600, MaxY: 300}.Ring()}, Apart: 2.5}
		var all []int
		for i := range 2 + rng.IntN(6) {
			all = append(all, i)
			p.Pieces = append(p.Pieces, Piece{
				Parts: []geom.Ring{geom.Bounds{MaxX: 100, MaxY: 50}.Ring()},
				Worth: float64(1 + rng.IntN(6)), Must: rng.IntN(4) == 0,
			})
		}
		s := newSearch(p, p.ground(), rng.Uint64())
		for _, i := range all {
			if rng.IntN(3) > 0 {
				s.best.Laid = append(s.best.Laid, Laid{Piece: i, Pose: -1})
			}
		}
		// Who must lie comes first, whatever it is worth. By every subset of one or two:
		pays := false
		musts := func(pieces ...int) (n int) {
			for k, i := range pieces {
				if p.Pieces[i].Must && !slices.Contains(pieces[:k], i) {
					n++
				}
			}
			return n
		}
		lies := func(i int) bool { return slices.ContainsFunc(s.best.Laid, func(l Laid) bool { return l.Piece == i }) }
		for in := range all {
			for a := range all {
				for b := range all {
					out := p.Pieces[a].Worth
					if b != a {
						out += p.Pieces[b].Worth
					}
					more := musts(in) > musts(a, b) || musts(in) == musts(a, b) && p.Pieces[in].Worth > out
					pays = pays || !lies(in) && lies(a) && lies(b) && more
				}
			}
		}
		chosen := s.exchanged(all)
		require.Equal(t, pays, chosen != nil)
		if chosen == nil {
			none++
			continue
		}
		some++
		gain, must, new, gone := 0.0, 0, 0, 0
		for i, piece := range p.Pieces {
			switch now := slices.Contains(chosen, i); {
			case now && !lies(i):
				gain, must, new = gain+piece.Worth, must+musts(i), new+1
			case !now && lies(i):
				gain, must, gone = gain-piece.Worth, must-musts(i), gone+1
			}
		}
		assert.True(t, must > 0 || must == 0 && gain > 0)
		assert.Equal(t, 1, new)
		assert.Contains(t, []int{1, 2}, gone)
	}
	assert.Greater(t, min(some, none), 20)
}
