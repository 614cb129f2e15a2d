package fitting

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

func on(t float64, d board.Design) Board {
	wood, _ := species.Find("Sugar maple")
	return Board{Shaped: board.Draw(d, nil), Thickness: t, Wood: stock.Uniform{Species: wood}, Swing: 0.012 / wood.CT}
}

func plain() board.Design {
	return board.Design{Shape: board.Rectangle, Length: 400, Width: 240, Corner: 15, Handle: board.Handle{Kind: "none"}}
}

func figure(t *testing.T, f Fitted, key string) float64 {
	t.Helper()
	i := slices.IndexFunc(f.Figures, func(v craft.Figure) bool { return v.Key == key })
	require.GreaterOrEqual(t, i, 0, key)
	return f.Figures[i].Value
}

func fitted(c Choice, b Board) Fitted {
	f, _ := Make(c, b)
	return f
}

func level(t *testing.T, f Fitted, check string) craft.Level {
	t.Helper()
	for _, v := range f.verdicts {
		if v.Check == check {
			return v.Level
		}
	}
	t.Fatalf("no verdict %q", check)
	return ""
}

func TestFeetAndCord(t *testing.T) {
	f := fitted(Choice{}, on(18, plain()))
	assert.Empty(t, f.Items)
	assert.Empty(t, f.verdicts)
	held := plain()
	held.Handle = board.Handle{Kind: "hole", Diameter: 25, Setback: 40}
	f = fitted(Choice{Feet: true, Cord: true, Ferrules: true}, on(18, held))
	assert.Len(t, f.Items, 5)
	assert.InDelta(t, 320/2-usualFerrule, f.Figures[0].Value, 1e-9)
	assert.Equal(t, craft.Good, craft.Worst(f.verdicts))
	assert.Equal(t, 14.0, f.Items[1].Amount)
	require.Len(t, f.Spots, 4)
	for _, s := range f.Spots {
		assert.Equal(t, UnderFace, s.Face)
		assert.GreaterOrEqual(t, min(s.FromEnd, s.FromSide), usualInset-0.1)
	}
	f = fitted(Choice{Feet: true, Cord: true}, on(12, plain()))
	assert.Len(t, f.verdicts, 2)
	assert.Equal(t, craft.Mind, craft.Worst(f.verdicts))
}

func TestScrews(t *testing.T) {
	shortest, longest := WoodScrew(18, 18, 3)
	assert.Equal(t, []float64{25, 29}, []float64{shortest, longest})
	shortest, longest = MachineScrew(20, 3)
	assert.Equal(t, []float64{23, 27}, []float64{shortest, longest})
	assert.Equal(t, 2.6, Pilot(4, 3000))
	assert.Equal(t, 2.9, Pilot(4, 6400))
}

func TestPulls(t *testing.T) {
	p := Pull{Both: true, Spacing: 96, Setback: 30, Foot: 4, Countersink: 0, Screw: 4}
	f := fitted(Choice{Pulls: &p}, on(20, plain()))
	assert.Equal(t, craft.Good, craft.Worst(f.verdicts))
	require.Len(t, f.Spots, 4)
	assert.InDelta(t, 30, f.Spots[0].FromEnd, 1e-6)
	assert.InDelta(t, 120-48, f.Spots[0].FromSide, 0.1)
	p.Countersink = 12
	f = fitted(Choice{Pulls: &p}, on(8, plain()))
	assert.Equal(t, craft.Stop, level(t, f, "pull-screws"))
	p.Setback, p.Countersink = 5, 0
	assert.Equal(t, craft.Mind, level(t, fitted(Choice{Pulls: &p}, on(20, plain())), "pull-edge"))
}

func TestBolted(t *testing.T) {
	f := fitted(Choice{Bolted: &Bolted{Width: 24, Height: 30, Groove: 6, Bolt: 5, Sunk: 4, From: 40}}, on(20, plain()))
	assert.InDelta(t, 40, figure(t, f, "fit.bolt"), 1e-9)
	assert.Equal(t, craft.Good, level(t, f, "bolted-floor"))
	require.Len(t, f.Slots, 1)
	assert.InDelta(t, 160, f.Slots[0].A.X, 1e-9)
	f = fitted(Choice{Bolted: &Bolted{Width: 24, Height: 30, Groove: 10, Bolt: 5, Sunk: 6, From: 40}}, on(20, plain()))
	assert.Equal(t, craft.Stop, level(t, f, "bolted-floor"))
}

func TestCleatMovesOrSplits(t *testing.T) {
	f := fitted(Choice{Cleat: &Cleat{Height: 25, Width: 20, Screw: 4}}, on(22, plain()))
	assert.InDelta(t, 240*0.012, f.verdicts[0].Figure.Value, 0.05)
	f = fitted(Choice{Cleat: &Cleat{Height: 60, Width: 8, Own: true, Screw: 4}}, on(22, plain()))
	assert.Equal(t, craft.Stop, level(t, f, "cleat"), "a thin, tall cleat of short grain breaks off")
	f = fitted(Choice{Cleat: &Cleat{Height: 15, Width: 25, Own: true, Screw: 4}}, on(22, plain()))
	assert.Equal(t, craft.Good, level(t, f, "cleat"))
}

func TestCordLengths(t *testing.T) {
	held := plain()
	held.Handle = board.Handle{Kind: "hole", Diameter: 25, Setback: 40}
	f := fitted(Choice{Cord: true, CordLength: 500, Ferrules: true, Ferrule: 22}, on(18, held))
	assert.Equal(
		t,
		[]Item{
			{
				Name:   "cord",
				Amount: 500,
				Unit:   craft.MM,
			}, {Name: "ferrules, long", Amount: 22, Unit: craft.MM, measure: true},
			{Name: "ferrules", Amount: 2, Unit: "pieces"},
		},
		f.Items,
	)
	assert.InDelta(t, 228, f.Figures[0].Value, 1e-9)
	f = fitted(Choice{Cord: true, CordLength: 70}, on(18, held))
	assert.Equal(t, craft.Mind, level(t, f, "cord-length"))
	ps := Choice{CordLength: 6000}.Check("fit")
	require.Len(t, ps, 1)
	assert.Equal(t, "fit.cordLength", ps[0].Field)
}

// The slot of a slicer runs from under its bore to just under its wire, and a
// left-handed one is the mirror image of a right-handed one.
func TestSlicer(t *testing.T) {
	near, far, shim := Tilt(9, 6, 0.8)
	assert.InDelta(t, 12, near, 1e-9)
	assert.InDelta(t, 1.8, far, 1e-9)
	assert.InDelta(t, 10.2, shim, 1e-9)
	rapid.Check(t, func(t *rapid.T) {
		s := Slicer{
			From:  rapid.Float64Range(20, 300).Draw(t, "from"),
			Bore:  rapid.Float64Range(4, 8).Draw(t, "bore"),
			Below: rapid.Float64Range(6, 14).Draw(t, "below"),
			Deep:  60,
			Gap:   12,
			Wire:  0.8,
			Kerf:  2,
		}
		r := fitted(Choice{Slicer: &s}, on(24, plain()))
		l := s
		l.Left = true
		m := fitted(Choice{Slicer: &l}, on(24, plain()))
		mirror := func(p geom.Point) geom.Point { return geom.Point{X: p.X, Y: -p.Y} }
		if d := mirror(r.Slots[0].A).Sub(m.Slots[0].A).Len(); d > 0.01 {
			t.Fatalf("the left-handed slot begins %g mm off the mirror of the right-handed one", d)
		}
		if r.Slots[0].DepthA != m.Slots[0].DepthA || r.Slots[0].DepthA <= r.Slots[0].DepthB {
			t.Fatal("the slot must be deeper over its bore, on either hand")
		}
		if r.Slots[0].A.Y >= 0 {
			t.Fatal("a right hand's bore is in the right side")
		}
		// Lifted by the shim over its width, the board meets the blade at both depths.
		cut := Choice{Slicer: &s}.Cut(on(24, plain()).Shaped)
		if again := (Choice{Slicer: &s}).Cut(cut); len(again.Slots) != 1 || len(again.Bores) != 1 ||
			again.Volume(24) >= on(24, plain()).Shaped.Volume(24) {
			t.Fatal("the slot and the bore are cut once, and their wood is gone")
		}
		width := r.Slots[0].B.Sub(r.Slots[0].A).Len()
		fall := math.Tan(math.Asin((r.Slots[0].DepthA-r.Slots[0].DepthB)/width)) * width
		if math.Abs(fall-(r.Slots[0].DepthA-r.Slots[0].DepthB)) > 0.05 {
			t.Fatalf("the shim tilts it by %g, not by the difference of depths", fall)
		}
	})
	f := fitted(
		Choice{Slicer: &Slicer{From: 100, Bore: 8, Below: 3, Deep: 60, Gap: 10, Wire: 1, Kerf: 2}},
		on(20, plain()),
	)
	assert.Equal(t, craft.Stop, level(t, f, "slicer-bore"))
	f = fitted(
		Choice{Slicer: &Slicer{From: 3000, Bore: 8, Below: 3, Deep: 60, Gap: 10, Wire: 1, Kerf: 2}},
		on(20, plain()),
	)
	assert.Equal(t, craft.Stop, level(t, f, "slicer-place"))
}

func TestCheckChoice(t *testing.T) {
	c := Choice{
		FootInset: -1,
		Pulls:     &Pull{Screw: 99},
		Bolted:    &Bolted{Bolt: 1, Width: 1},
		Cleat:     &Cleat{},
		Slicer:    &Slicer{Wire: 9},
	}
	var fields []string
	for _, p := range c.Check("fit") {
		fields = append(fields, p.Field)
	}
	for _, f := range []string{"fit.footInset", "fit.pulls.screw", "fit.bolted.bolt", "fit.cleat.height",
		"fit.slicer.wire"} {
		assert.Contains(t, fields, f)
	}
}

// What is taken from the shelf is counted; a measure of it is not taken too.
func TestWhatIsTaken(t *testing.T) {
	_, r := Make(Choice{Feet: true, Cord: true, Ferrules: true}, on(18, plain()))
	taken := map[string]string{}
	for _, u := range r.Uses {
		taken[u.Item] = fmt.Sprintf("%g %s", u.Amount, u.Unit)
	}
	assert.Equal(t, "4 pieces", taken["feet"])
	assert.Equal(t, "4 pieces", taken["screws for the feet"])
	assert.Equal(t, "2 pieces", taken["ferrules"])
	assert.NotContains(t, taken, "ferrules, long")
	_, r = Make(Choice{Feet: true}, on(2, plain()))
	for _, u := range r.Uses {
		assert.NotEqual(t, "screws for the feet", u.Item, "too thin to screw feet to")
	}
}
