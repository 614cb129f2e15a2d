package reckon

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/slab"
	"idletimber/craft/tool"
)

func step(t *testing.T, r Reckoned, key string) plan.Dated {
	t.Helper()
	for _, s := range r.Course.Steps {
		if s.Key == key {
			return s
		}
	}
	t.Fatalf("no step %q", key)
	return plan.Dated{}
}

// withPlaner is a kit with a planer so wide, mm, or without one.
func withPlaner(k tool.Kit, width float64) tool.Kit {
	if width == 0 {
		return k.Without(tool.Planer)
	}
	return k.With(tool.Tool{Kind: tool.Planer, Width: width, Shortest: 300})
}

// Without a planer, or with one too narrow, nothing goes through it: the work is by
// hand, by what there is to take off, and no snipe is allowed for.
func TestWithoutAPlanerItIsFlattenedByHand(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	planed := must(t, s).Boards[0]
	assert.Positive(t, planed.Blank.Snipe)
	assert.Equal(t, plan.Planing, step(t, planed, "flatten").Kind)
	for width, name := range map[float64]string{0: "none", 200: "too narrow"} {
		s.Shop.Kit = withPlaner(s.Shop.Kit, width)
		r := must(t, s).Boards[0]
		f := step(t, r, "flatten")
		require.Equal(t, plan.HandPlane, f.Kind, name)
		assert.Equal(t, plan.HandPlane, step(t, r, "reflatten").Kind, name)
		mean := 32.0 // of the readings
		cm3 := (mean - r.Budget.Planed) * r.Blank.Length() * r.Blank.Width / 1000
		assert.InDelta(t, 5+cm3/10, f.Usual, 1e-6, name)
		assert.Zero(t, r.Blank.Snipe, name)
		for _, g := range r.Figures {
			assert.NotEqual(t, "flatten.passes", g.Key)
		}
		require.NotEmpty(t, r.Cautions["flatten"])
		assert.Contains(t, r.Cautions["flatten"][0].Title, "Hand plane")
	}
}

// A saw that is not owned is told, with the one that is; it helps.
func TestASawThatIsNotOwned(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	s.Boards[0].Cut.Saw = tool.BandSaw
	level := func() (craft.Level, []craft.Remedy) {
		for _, v := range asked(t, s, Request{Weigh: s.First()}).Boards[0].Verdicts {
			if v.Subject == "saw for the outline" {
				return v.Level, v.Remedies
			}
		}
		return craft.Good, nil
	}
	for _, blades := range [][]tool.Blade{nil, {{Saw: tool.BandSaw, Name: "band saw, 1/4\" blade", Radius: 16}}} {
		s.Shop.Kit.Blades = blades
		got, _ := level()
		assert.Equal(t, craft.Good, got)
	}
	s.Shop.Kit.Blades = []tool.Blade{{Saw: tool.Jigsaw, Name: "jigsaw", Radius: 25}}
	got, remedies := level()
	require.Equal(t, craft.Mind, got)
	require.Len(t, remedies, 1)
	require.NoError(t, remedies[0].Patch.Apply(&s.Boards[0]))
	got, _ = level()
	assert.Equal(t, craft.Good, got)
}

// A glued panel of solid wood comes flat and may be planed thinner and washed; sheet stock
// may be neither.
func TestAGluedPanelIsNoSheetStock(t *testing.T) {
	for _, c := range []struct {
		stock  string
		planed bool
		says   string
	}{
		{slab.StockPanel, true, "Glued elsewhere: washed only where its glue stands water"},
		{slab.StockSheet, false, "Sheet stock: a decorative tray, never a board that is washed"},
	} {
		s := sample()
		s.Boards = s.Boards[:1]
		s.Slab.Stock, s.Slab.Hollow, s.Slab.Wind, s.Slab.Flaws = c.stock, 0, 0, nil
		s.Slab.Readings = []slab.Reading{{X: 400, Thickness: 22}}
		s.Boards[0].Design.Thickness = 21.7
		r := must(t, s)
		assert.Empty(t, r.Boards[0].Milling.By.Passes, "as it comes")
		s.Boards[0].Design.Thickness = 18
		r = must(t, s)
		assert.Equal(t, c.planed, len(r.Boards[0].Milling.By.Passes) > 0)
		var findings []string
		for _, v := range r.Slab.Verdicts {
			findings = append(findings, v.Finding)
		}
		assert.Contains(t, findings, c.says)
	}
}
