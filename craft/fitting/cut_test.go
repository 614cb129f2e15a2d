package fitting

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

func slicer() *Slicer {
	return &Slicer{From: 90, Bore: 6, Below: 10, Deep: 60, Gap: 10, Wire: 0.8, Kerf: 2}
}

// with is the board with its fittings cut.
func with(c Choice, t float64, d board.Design) (Board, Choice) {
	b := on(t, d)
	b.Shaped = c.Cut(b.Shaped)
	return b, c
}

// What is cut for a fitting meets whatever else is cut: the bore of a slicer a coin
// recess over it, a hole through it, a foot's screw, a crack; and it tells each apart.
func TestWhatIsCutForFittingsMeetsAllElse(t *testing.T) {
	mouth := on(22, plain()).Shaped.Outline.Bounds()
	x, y := mouth.MinX+100, mouth.MinY+30 // in the middle of the bore
	for _, c := range []struct {
		name   string
		choice Choice
		spoil  func(*Board, *board.Design)
		level  craft.Level
		other  string
	}{
		{"alone", Choice{Slicer: slicer()}, func(*Board, *board.Design) {}, "", ""},
		{"a recess over it", Choice{Slicer: slicer()}, func(_ *Board, d *board.Design) {
			d.Recesses = []board.Recess{{Kind: "well", X: x, Y: y, Length: 24, Width: 24, Depth: 6, Radius: 12}}
		}, craft.Mind, "well"},
		{"a recess into it", Choice{Slicer: slicer()}, func(_ *Board, d *board.Design) {
			d.Recesses = []board.Recess{{Kind: "well", X: x, Y: y, Length: 24, Width: 24, Depth: 8, Radius: 12}}
		}, craft.Stop, "well"},
		{"the same from the other face", Choice{Slicer: slicer()}, func(_ *Board, d *board.Design) {
			d.Recesses = []board.Recess{{Kind: "well", X: x, Y: y, Length: 24, Width: 24, Depth: 9, Radius: 12}}
			d.Recesses[0].Under = true
		}, craft.Stop, "well"},
		{"a hole through it", Choice{Slicer: slicer()}, func(_ *Board, d *board.Design) {
			d.Handle = board.Handle{Kind: board.Hole, Diameter: 20, Setback: mouth.MaxX - x, Offset: y}
		}, craft.Stop, "hole"},
		{"a foot on its line", Choice{Slicer: slicer(), Feet: true, FootInset: 30}, func(b *Board, _ *board.Design) {},
			"", ""},
		{"a foot under it", Choice{Slicer: &Slicer{From: 15, Bore: 6, Below: 10, Deep: 60, Gap: 12, Wire: 0.8, Kerf: 2},
			Feet: true}, func(b *Board, _ *board.Design) {}, craft.Stop, "screw hole of foot 1"},
		{"a pull's screw", Choice{Slicer: &Slicer{From: 20, Bore: 6, Below: 10, Deep: 100, Gap: 10, Wire: 0.8, Kerf: 2},
			Pulls: &Pull{Both: true, Spacing: 96, Setback: 30, Foot: 4, Screw: 4}}, func(*Board, *board.Design) {},
			craft.Stop, "hole 2 of pull 2"},
		{"a crack that is open", Choice{Slicer: slicer()}, func(b *Board, _ *board.Design) {
			ring := geom.Ellipse{Centre: geom.Point{X: x, Y: y}, A: 12, B: 3}.Ring(40)
			b.Open = []board.Void{{Name: "crack 1", Levels: []geom.Ring{ring}, Depth: 22}}
		}, craft.Stop, "crack 1"},
		{"a check in the under face, below it", Choice{Slicer: slicer()}, func(b *Board, _ *board.Design) {
			ring := geom.Ellipse{Centre: geom.Point{X: x, Y: y}, A: 12, B: 3}.Ring(40)
			b.Open = []board.Void{{Name: "check 1", Levels: []geom.Ring{ring}, Depth: 4, Under: true}}
		}, "", ""},
		{"the same in the show face, above it", Choice{Slicer: slicer()}, func(b *Board, _ *board.Design) {
			ring := geom.Ellipse{Centre: geom.Point{X: x, Y: y}, A: 12, B: 3}.Ring(40)
			b.Open = []board.Void{{Name: "check 1", Levels: []geom.Ring{ring}, Depth: 8}}
		}, craft.Stop, "check 1"},
	} {
		t.Run(c.name, func(t *testing.T) {
			d := plain()
			var extra Board
			c.spoil(&extra, &d)
			b, choice := with(c.choice, 22, d)
			b.Open = extra.Open
			f := fitted(choice, b)
			if c.level == "" {
				for _, v := range f.verdicts {
					assert.True(t, v.Check != "crossing" || v.Level == craft.Good, v.Finding)
				}
				return
			}
			assert.Equal(t, c.level, level(t, f, "crossing"))
			for _, v := range f.verdicts {
				if v.Check == "crossing" {
					assert.Contains(t, v.Finding, c.other)
				}
			}
		})
	}
}

// The floor under a recess over a bore is what lies between them: once more from the
// depths alone.
func TestFloorOverABore(t *testing.T) {
	d := plain()
	box := on(22, d).Shaped.Outline.Bounds()
	d.Recesses = []board.Recess{
		{Kind: "well", X: box.MinX + 100, Y: box.MinY + 30, Length: 24, Width: 24, Depth: 4.7, Radius: 12},
	}
	b, _ := with(Choice{Slicer: slicer()}, 22, d)
	for _, v := range board.CheckShape(b.Shaped, board.Conditions{Wood: b.Wood, Thickness: 22, Most: 22}) {
		if v.Check == "recess-floor" {
			assert.InDelta(t, 10-6/2-4.7, v.Figure.Value, 1e-9)
			assert.Equal(t, craft.Stop, v.Level)
			return
		}
	}
	t.Fatal("nothing is said of the floor")
}

// A slicer fits stock of half an inch, bored in its middle; a shim of the maker's own
// changes the far end only, and is told where it lifts the wire.
func TestSlicerInThinStockAndWithAnOwnShim(t *testing.T) {
	s := slicer()
	b, c := with(Choice{Slicer: s}, 12.7, plain())
	f := fitted(c, b)
	require.Equal(t, craft.Stop, level(t, f, "slicer-floor"))
	for _, v := range f.verdicts {
		if v.Check == "slicer-floor" {
			require.NotEmpty(t, v.Remedies)
		}
	}
	s.Below = 6
	b, c = with(Choice{Slicer: s}, 12.7, plain())
	f = fitted(c, b)
	assert.NotEqual(t, craft.Stop, craft.Worst(f.verdicts))
	assert.InDelta(t, 9, f.Slots[0].DepthA, 1e-9)
	s.Shim = 7
	f = fitted(c, b)
	assert.InDelta(t, 7, figure(t, f, "fit.shim"), 1e-9)
	assert.InDelta(t, 2, f.Slots[0].DepthB, 1e-9)
	assert.Equal(t, craft.Good, level(t, f, "slicer-shim"))
	s.Shim = 8.5
	assert.Equal(t, craft.Stop, level(t, fitted(c, b), "slicer-shim"))
}

// An edge profile takes of the wood around a bore's mouth.
func TestProfileOverABore(t *testing.T) {
	d := plain()
	b, c := with(Choice{Slicer: slicer()}, 22, d)
	assert.Equal(t, craft.Good, level(t, fitted(c, b), "slicer-bore"))
	d.Edge = board.Edge{Kind: "round-over", Size: 5}
	b, c = with(Choice{Slicer: slicer()}, 22, d)
	assert.Equal(t, craft.Mind, level(t, fitted(c, b), "slicer-bore"))
}

// Heads: sunk so deep that they pull through, proud of the under face, off it on feet.
func TestHeadsOfScrews(t *testing.T) {
	p := &Pull{Both: true, Machine: true, Spacing: 96, Setback: 30, Foot: 4, Countersink: 18, Screw: 4}
	judged := func(c Choice, feet float64) craft.Level {
		b, c := with(c, 20, plain())
		b.Feet = feet
		return level(t, fitted(c, b), "pull-heads")
	}
	assert.Equal(t, craft.Stop, judged(Choice{Pulls: p}, 0), "2 left of 20")
	p.Countersink = 0
	assert.Equal(t, craft.Mind, judged(Choice{Pulls: p}, 0), "they stand on their heads")
	assert.Equal(t, craft.Good, judged(Choice{Pulls: p}, 8), "on feet they hang free")
	p.Countersink = 3
	assert.Equal(t, craft.Good, judged(Choice{Pulls: p}, 0))
	p.Machine, p.Countersink = false, 5
	assert.Equal(t, craft.Stop, judged(Choice{Pulls: p}, 0), "through the pull's own foot")
	p = &Pull{Both: true, Machine: true, Spacing: 96, Setback: 30, Foot: 4, Countersink: 3, Screw: 4}
	b, c := with(Choice{Pulls: p}, 20, plain())
	assert.Equal(t, "machine screws of {4} × {25}", fitted(c, b).Items[1].Name)
}

// Pulls stand about the middle of the width where they are screwed on, on the face that
// they are marked on, and every mark says from which end and side.
func TestPullsStandOnTheLocalWidth(t *testing.T) {
	d := board.Design{Shape: board.Free, Nodes: []board.Node{
		{X: -200, Y: -100}, {X: 200, Y: -20}, {X: 200, Y: 100}, {X: -200, Y: 100},
	}, Handle: board.Handle{Kind: board.NoHandle}}
	b, c := with(Choice{Pulls: &Pull{Both: true, Spacing: 60, Setback: 40, Foot: 4, Screw: 4}}, 20, d)
	f := fitted(c, b)
	require.Len(t, f.Spots, 4)
	for i := 0; i < 4; i += 2 {
		right, left, ok := across(b.Shaped, f.Spots[i].X)
		require.True(t, ok)
		assert.InDelta(t, (right+left)/2, (f.Spots[i].Y+f.Spots[i+1].Y)/2, 1e-6)
		assert.InDelta(t, f.Spots[i].FromSide, f.Spots[i+1].FromSide, 1e-6)
		assert.Equal(t, []string{ShowFace, LeftSide, RightSide},
			[]string{f.Spots[i].Face, f.Spots[i].Side, f.Spots[i+1].Side})
	}
	assert.Equal(t, []string{"handle end", "far end"}, []string{f.Spots[0].End, f.Spots[2].End})
}

// A glued cleat takes no screws, into the wood nor from the shelf.
func TestACleatOfItsOwnGrainTakesNoScrews(t *testing.T) {
	for _, own := range []bool{true, false} {
		b, c := with(Choice{Cleat: &Cleat{Height: 20, Width: 25, Own: own, Screw: 4}}, 22, plain())
		f := fitted(c, b)
		n := 3
		if own {
			n = 0
		}
		assert.Len(t, b.Shaped.Bores, n)
		assert.Len(t, f.Spots, n)
		assert.Len(t, f.Items, 1+min(n, 1))
	}
}

// How near two hollows come, once more from points of both.
func TestClearOfHollows(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		box := func(name string) board.Hollow {
			x, y := rapid.Float64Range(-30, 30).Draw(t, name+"x"), rapid.Float64Range(-30, 30).Draw(t, name+"y")
			w, h := rapid.Float64Range(2, 20).Draw(t, name+"w"), rapid.Float64Range(2, 20).Draw(t, name+"h")
			top := rapid.Float64Range(0, 15).Draw(t, name+"top")
			return board.Hollow{
				Name: name, Ring: geom.Bounds{MinX: x, MinY: y, MaxX: x + w, MaxY: y + h}.Ring(),
				Top: top, Bottom: top + rapid.Float64Range(1, 6).Draw(t, name+"deep"),
			}
		}
		a, b := box("a"), box("b")
		p, q := a.Ring.Bounds(), b.Ring.Bounds()
		apart := func(lo, hi, lo2, hi2 float64) float64 { return max(0, lo2-hi, lo-hi2) }
		want := math.Sqrt(math.Pow(apart(p.MinX, p.MaxX, q.MinX, q.MaxX), 2) +
			math.Pow(apart(p.MinY, p.MaxY, q.MinY, q.MaxY), 2) + math.Pow(apart(a.Top, a.Bottom, b.Top, b.Bottom), 2))
		got := a.Clear(b, 20)
		if math.IsInf(got, 1) {
			beside := max(apart(p.MinX, p.MaxX, q.MinX, q.MaxX), apart(p.MinY, p.MaxY, q.MinY, q.MaxY))
			if want <= 20 && beside <= 14 {
				t.Fatalf("%g apart is not seen", want)
			}
			return
		}
		if math.Abs(got-want) > 1e-6 {
			t.Fatalf("%g, not %g", got, want)
		}
		if back := b.Clear(a, 20); math.Abs(back-got) > 1e-9 {
			t.Fatalf("%g one way, %g the other", got, back)
		}
	})
}

// A bore that comes out at the other side, or runs along an end, is told.
func TestABoreThatComesOut(t *testing.T) {
	for _, c := range []struct {
		name  string
		s     Slicer
		level craft.Level
	}{
		{"in the middle", *slicer(), craft.Good},
		{"out again", Slicer{From: 90, Bore: 6, Below: 10, Deep: 260, Gap: 10, Wire: 1, Kerf: 2}, craft.Stop},
		{"short of it by 3", Slicer{From: 90, Bore: 6, Below: 10, Deep: 234, Gap: 10, Wire: 1, Kerf: 2}, craft.Mind},
		{"along the end", Slicer{From: 5, Bore: 6, Below: 10, Deep: 60, Gap: 0, Wire: 1, Kerf: 2}, craft.Mind},
	} {
		b, choice := with(Choice{Slicer: &c.s}, 22, plain())
		assert.Equal(t, c.level, level(t, fitted(choice, b), "slicer-wall"), c.name)
	}
}
