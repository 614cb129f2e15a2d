package reckon

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fitting"
	"idletimber/craft/layout"
	"idletimber/craft/making"
	"idletimber/craft/tool"
)

func keysOf(r Reckoned) (keys []string) {
	for _, s := range r.Course.Steps {
		keys = append(keys, s.Key)
	}
	return keys
}

// What is bored and cut for fittings comes before the first grit, screws after the last
// coat; the cut lists of board and slab name it, with the saw that gets into a hole.
func TestWhatIsCutForFittingsIsCutBeforeItIsSanded(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	b := &s.Boards[0]
	b.Design.Handle = board.Handle{Kind: board.HeartCut, Diameter: 40, Length: 42, Setback: 60}
	b.Fit = fitting.Choice{Slicer: fitting.Starts.Slicer, Bolted: fitting.Starts.Bolted, Feet: true}
	s.Shop.Kit = s.Shop.With(tool.New(tool.FretSaw))
	s.Shop.Kit.Blades = []tool.Blade{{Saw: tool.BandSaw, Name: "band saw, 1/4\" blade", Radius: 16}}
	r := must(t, s).Boards[0]
	keys := keysOf(r)
	sanded := slices.IndexFunc(keys, func(k string) bool { return len(k) > 5 && k[:5] == "sand-" })
	require.Positive(t, sanded)
	for _, key := range []string{"fit-bores", "fit-slots", "fit-grooves"} {
		at := slices.Index(keys, key)
		require.GreaterOrEqual(t, at, 0, key)
		assert.Less(t, at, sanded, key)
		assert.NotEmpty(t, r.Cautions[key])
	}
	assert.Greater(t, slices.Index(keys, "fit"), sanded)
	cuts, err := LayOut(s, LayOutRequest{})
	require.NoError(t, err)
	for name, titles := range map[string][]string{"board": titlesOf(r.Cuts), "slab": slabTitles(cuts.Cuts)} {
		for _, want := range []string{
			"Saw out the heart-shaped hole: fretsaw", "Bore the hole for the arm: drill press",
			"Cut the groove for the handle: router"} {
			assert.Contains(t, titles, want, name)
		}
	}
}

func titlesOf(cuts []layout.Cut) (out []string) {
	for _, c := range cuts {
		out = append(out, c.Title+": "+c.Tool)
	}
	return out
}

func slabTitles(cuts []layout.SlabCut) (out []string) {
	for _, c := range cuts {
		title, _, _ := strings.Cut(c.Title, " of ") // whose it is
		out = append(out, title+": "+c.Saw)
	}
	return out
}

// The bark comes off before knives, tape and router; what is left of it is a choice.
func TestBarkComesOffFirst(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	b := &s.Boards[0]
	b.Design.Shape, b.Design.KeepLeft = board.Plank, true
	for bark, level := range map[string]craft.Level{
		"": craft.Good, layout.InnerBark: craft.Good, layout.KeptBark: craft.Mind,
	} {
		b.Cut.Bark = bark
		r := asked(t, s, Request{Weigh: s.First()}).Boards[0]
		keys := keysOf(r)
		at := slices.Index(keys, "live-edge")
		require.GreaterOrEqual(t, at, 0)
		assert.Less(t, at, slices.Index(keys, "flatten"))
		found := craft.Good
		for _, v := range r.Verdicts {
			if v.Check == "bark" {
				found = v.Level
				for _, remedy := range v.Remedies {
					next := s
					next.Boards = slices.Clone(s.Boards)
					require.NoError(t, remedy.Patch.Apply(&next.Boards[0]))
					for _, again := range must(t, next).Boards[0].Verdicts {
						assert.NotEqual(t, "bark", again.Check)
					}
				}
			}
		}
		assert.Equal(t, level, found, bark)
	}
}

// Fittings come after the last coat unless they are wanted before the first or between two;
// a slicer is tried before the edges are shaped; every step tells its marks.
func TestWhenABoardIsFitted(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	b := &s.Boards[0]
	b.Fit = fitting.Choice{Slicer: fitting.Starts.Slicer, Coin: fitting.Starts.Coin}
	place := func(key string) int { return slices.Index(keysOf(must(t, s).Boards[0]), key) }
	assert.Greater(t, place("fit"), place("coat-2"))
	b.Fit.When = fitting.Between
	assert.Greater(t, place("fit"), place("coat-1"))
	assert.Less(t, place("fit"), place("coat-2"))
	b.Fit.When = fitting.Before
	assert.Less(t, place("fit"), place("wipe"))
	assert.Less(t, place("fit-dry"), place("edges"))
	r := must(t, s).Boards[0]
	assert.Contains(t, step(t, r, "fit").Detail, "stop at")
	assert.Contains(t, step(t, r, "fit").Detail, "from the")
	bare := s
	bare.Boards = slices.Clone(s.Boards)
	bare.Boards[0].Fit = fitting.Choice{}
	assert.Greater(t, figure(t, r, "finish.grams").Value, figure(t, must(t, bare).Boards[0], "finish.grams").Value,
		"what is bored and slotted drinks too")
}

// An outline that is trimmed to its template is sawn farther out, trimmed before it is sanded,
// and sanded from what the bit leaves; a shop without the bit says so.
func TestAnOutlineIsTrimmedToItsTemplate(t *testing.T) {
	s := sample()
	s.Boards = s.Boards[:1]
	s.Shop.Router.Bits = append(s.Shop.Router.Bits, tool.RouterBit{Kind: tool.FlushTrim, Diameter: 12.7, Length: 50})
	sawn := must(t, s).Boards[0]
	s.Boards[0].Cut.Trim = true
	r := must(t, s).Boards[0]
	keys := keysOf(r)
	at := slices.Index(keys, "trim")
	require.Positive(t, at)
	assert.Greater(t, at, slices.Index(keys, "outline"))
	assert.Less(t, at, slices.IndexFunc(keys, func(k string) bool { return strings.HasPrefix(k, "sand-") }))
	assert.NotEmpty(t, r.Cautions["trim"], "a router")
	assert.InDelta(t, 1.6, r.Shape.Allowance, 1e-9)
	assert.Equal(
		t,
		[]layout.Proud{{Step: "sawn", MM: 1.6}, {Step: "trimmed to its template", MM: 0.5}, {Step: "sanded"}},
		r.Shape.Proud,
	)
	assert.Contains(t, titlesOf(r.Cuts), "Trim the outline to its template: router")
	assert.NotContains(t, keysOf(sawn), "trim")

	// A bit that does not get into the tightest hollow trims nothing, and it is judged for length
	// whatever the shape is.
	level := func(r Reckoned) craft.Level {
		i := slices.IndexFunc(r.Verdicts, func(v craft.Verdict) bool { return v.Check == "bit-length" })
		require.GreaterOrEqual(t, i, 0)
		return r.Verdicts[i].Level
	}
	assert.Equal(t, craft.Good, level(r))
	hollow := s.Boards[0].Design
	s.Boards[0].Design.Shape, s.Boards[0].Design.Neck, s.Boards[0].Design.NeckLength = board.Paddle, 50, 100
	s.Boards[0].Design.Shoulder = 10
	for bit, want := range map[float64]string{12.7: tool.RouterTool, 50: tool.File} {
		s.Shop.Router.Bits = []tool.RouterBit{{Kind: tool.FlushTrim, Diameter: bit, Length: 50}}
		made := must(t, s).Boards[0].Makes
		i := slices.IndexFunc(made, func(m making.Made) bool { return m.Name == board.Trimming })
		require.NotNil(t, made[i].By)
		assert.Equal(t, want, made[i].By.Tool, "a bit of %v in hollows of 10", bit)
	}
	s.Boards[0].Design = hollow
	s.Boards[0].Design.Shape = board.Rectangle
	s.Shop.Router.Bits = []tool.RouterBit{{Kind: tool.FlushTrim, Diameter: 12.7, Length: 12}}
	assert.Equal(t, craft.Mind, level(must(t, s).Boards[0]), "too short, on a rectangle too")
	s.Boards[0].Design = hollow

	s.Shop.Router.Bits = []tool.RouterBit{{Kind: tool.RoundOver, Diameter: 6, Length: 12}}
	bare := must(t, s).Boards[0]
	i := slices.IndexFunc(bare.Makes, func(m making.Made) bool { return m.Name == board.Trimming })
	require.GreaterOrEqual(t, i, 0)
	require.NotNil(t, bare.Makes[i].By)
	assert.Equal(t, tool.File, bare.Makes[i].By.Tool, "by hand, where no bit owned does it")
}
