package fitting

import (
	"math"
	"slices"
	"strings"
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

// A cleat is screwed whichever way its grain runs: along it in slots, past which the board
// moves; of the board's own grain, which moves with it, in round holes and glued.
func TestACleatIsScrewed(t *testing.T) {
	for _, own := range []bool{true, false} {
		b, c := with(
			Choice{Cleat: &Cleat{Height: 20, Width: 25, Own: own, Screw: 4, Worktop: 18, TopDepth: 600}},
			22,
			plain(),
		)
		f := fitted(c, b)
		assert.Len(t, b.Shaped.Bores, 3)
		require.Len(t, f.Spots, 3)
		for _, s := range f.Spots {
			assert.InDelta(t, 18, s.Deep, 1e-9, "the stop, 4 clear of the face")
		}
		assert.Equal(t, own, !strings.Contains(f.Items[1].Name, "slots"))
		assert.Equal(
			t,
			own,
			slices.ContainsFunc(f.Steps, func(s string) bool { return strings.HasPrefix(s, "Glue the cleat") }),
		)
		assert.Equal(t, craft.Mind, level(t, f, "cleat-drop"), "20 hang down before 18")
		assert.Equal(t, craft.Good, level(t, f, "cleat-depth"))
	}
}

// Marks are measured from the end and the side that the maker chose, each once more worked
// out from its place; blind ones tell where the stop is set.
func TestMarksFromANamedEndAndSide(t *testing.T) {
	choice := Choice{
		Feet: true, Pulls: &Pull{Both: true, Spacing: 96, Setback: 30, Foot: 4, Screw: 4},
		Coin: &Coin{Diameter: 24, Deep: 2, X: 20, Y: -10}, MarkEnd: "far end", MarkSide: LeftSide,
	}
	b, c := with(choice, 22, plain())
	f := fitted(c, b)
	require.Len(t, f.Spots, 4+4+1)
	box := b.Shaped.Outline.Bounds()
	for _, s := range f.Spots {
		assert.Equal(t, []string{"far end", LeftSide}, []string{s.End, s.Side})
		assert.InDelta(t, s.X-box.MinX, s.FromEnd, 1e-9, s.Name)
		_, left, _ := across(b.Shaped, s.X)
		assert.InDelta(t, left-s.Y, s.FromSide, 1e-9, s.Name)
		assert.Positive(t, s.Deep, s.Name)
	}
	told := strings.Join(f.told(), "; ")
	assert.Contains(t, told, "coin, under face: {220} from the far end")
	assert.Contains(t, told, "stop at {2}")
	names := []string{}
	for _, o := range f.Outlines {
		names = append(names, o.Name)
	}
	assert.Equal(t, []string{"foot 1", "foot 2", "foot 3", "foot 4", "pull 1", "pull 2", "coin"}, names)
}

// A screw from below goes right through: no stop, though its head has a seat there.
func TestAThroughHoleHasNoStop(t *testing.T) {
	pulls := Pull{Both: true, Machine: true, Spacing: 96, Setback: 30, Foot: 4, Countersink: 3, Screw: 4}
	b, c := with(Choice{Pulls: &pulls}, 22, plain())
	for _, s := range fitted(c, b).Spots {
		assert.Zero(t, s.Deep, s.Name)
	}
	seats := 0
	for _, o := range b.Shaped.Bores {
		if o.Deep > 0 {
			seats++
			assert.InDelta(t, 2*4+1, o.Diameter, 1e-9, "1 wider than the head: a chip is hidden")
		}
	}
	assert.Equal(t, 4, seats)
}

// A foot that stands on a recess of its face is told, and another inset helps.
func TestFeetStandClear(t *testing.T) {
	d := plain()
	d.Recesses = []board.Recess{
		{Kind: "well", X: -165, Y: -85, Length: 30, Width: 30, Depth: 6, Radius: 8, Under: true},
	}
	b, c := with(Choice{Feet: true}, 22, d)
	f := fitted(c, b)
	require.Equal(t, craft.Mind, level(t, f, "feet-clear"))
	v := f.verdicts[slices.IndexFunc(f.verdicts, func(v craft.Verdict) bool { return v.Check == "feet-clear" })]
	require.Len(t, v.Remedies, 1)
	b, c = with(Choice{Feet: true, FootInset: v.Remedies[0].Amount}, 22, d)
	for _, v := range fitted(c, b).verdicts {
		assert.False(t, v.Check == "feet-clear" && v.Level != craft.Good, v.Finding)
	}
	_, high := Choice{Feet: true, FootOver: 45}.Foot()
	assert.Equal(t, 55.0, high, "over a bowl of 45")
}

// Two strands pass through a hole twice as wide as the cord, a soft one through less; its
// length is twice the drop, about the edge, and two knots.
func TestACordThroughItsHole(t *testing.T) {
	d := plain()
	d.Handle = board.Handle{Kind: "hole", Diameter: 8, Setback: 40}
	for thick, want := range map[float64]craft.Level{4: craft.Good, 5: craft.Mind} {
		f := fitted(Choice{Cord: true, CordThick: thick}, on(18, d))
		assert.Equal(t, want, level(t, f, "cord-thick"), "%v", thick)
	}
	assert.Equal(
		t,
		craft.Good,
		level(t, fitted(Choice{Cord: true, CordThick: 5, CordSoft: true}, on(18, d)), "cord-thick"),
	)
	assert.InDelta(t, 2*120+2*18+2*40, CordFor(120, 18), 1e-9)
	assert.InDelta(t, CordFor(120, 18), fitted(Choice{Cord: true, CordDrop: 120}, on(18, d)).Items[0].Amount, 1e-9)
}

// A handle astride the edge has its groove in itself: board + 0.2, and bolts 2 shorter
// than what they go through.
func TestAHandleAstrideTheEdge(t *testing.T) {
	b, c := with(Choice{Bolted: &Bolted{Width: 24, Height: 30, Bolt: 5, From: 14, Straddles: true}}, 19, plain())
	assert.Empty(t, b.Shaped.Slots)
	f := fitted(c, b)
	values := map[string]float64{}
	for _, g := range f.Figures {
		values[g.Key] = g.Value
	}
	assert.InDelta(t, 30+19-2, values["fit.bolt"], 1e-9)
	assert.InDelta(t, 19.2, values["fit.groove"], 1e-9)
}

// A slicer kit in 12.7 stock, bored in its middle: to be minded, not a stop; its own depth
// of the slot is checked, not forced, from whichever end it is measured.
func TestASlicerKit(t *testing.T) {
	kit := Slicer{Kit: "short arm", From: 80, Bore: 6, Below: 6.35, Deep: 60, Gap: 10, Wire: 0.8, Kerf: 2}
	b, c := with(Choice{Slicer: &kit}, 12.7, plain())
	f := fitted(c, b)
	assert.Equal(t, craft.Mind, level(t, f, "slicer-bore"), "3.35 left above and below")
	assert.NotEqual(t, craft.Stop, level(t, f, "slicer-floor"))
	assert.Contains(t, f.Items[0].Name, "short arm")
	kit.Near = 7
	b, c = with(Choice{Slicer: &kit}, 12.7, plain())
	assert.Equal(t, craft.Mind, level(t, fitted(c, b), "slicer-near"))
	assert.InDelta(t, 7, b.Shaped.Slots[0].DepthA, 1e-9, "as the maker wants it")
	kit.FromHandle = true
	b, _ = with(Choice{Slicer: &kit}, 12.7, plain())
	box := b.Shaped.Outline.Bounds()
	assert.InDelta(t, box.MaxX-80, b.Shaped.Slots[0].A.X, 1e-9)
	assert.InDelta(t, box.MaxX-90, b.Shaped.Bores[0].A.X, 1e-9)
	assert.Empty(t, Kit{Name: "short arm", Slicer: kit}.Check("kit"))
	assert.NotEmpty(t, Kit{Slicer: kit}.Check("kit"))
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
