package making

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/tool"
)

func TestTheBestToolOwned(t *testing.T) {
	small, hand, bare := tool.Usual(), tool.Starters[0].Kit, tool.Kit{}
	for _, c := range []struct {
		name          string
		kit           tool.Kit
		of            Task
		by, otherwise string
	}{
		{"a cut across", small, Task{Work: Across, On: tool.Piece{Width: 250, Height: 30}}, "mitre saw", "table saw"},
		{
			"too wide for its stroke", small, Task{Work: Across, On: tool.Piece{Width: 310, Height: 30}}, "table saw",
			"track saw",
		},
		{
			"too thick for any circular saw", small,
			Task{Work: Across, On: tool.Piece{Width: 250, Height: 120, Beside: 100}}, "band saw", "hand saw",
		},
		{
			"beyond the band saw's throat", small,
			Task{Work: Across, On: tool.Piece{Width: 250, Height: 120, Beside: 400}}, "hand saw", "",
		},
		{
			"a rip wider than the fence", small, Task{Work: Along, On: tool.Piece{Width: 700, Height: 30}}, "track saw",
			"band saw",
		},
		{"a curve", small, Task{Work: Outline, Radius: 20, On: tool.Piece{Height: 30}}, "band saw", "hand saw"},
		{
			"a curve no band saw turns", small, Task{Work: Outline, Radius: 8, On: tool.Piece{Height: 30}}, "hand saw",
			"",
		},
		{"a curve by hand", hand, Task{Work: Outline, Radius: 30, On: tool.Piece{Height: 30}}, "jigsaw", "fretsaw"},
		{"an inner cut", small, Task{Work: Inner, Radius: 30, On: tool.Piece{Height: 30}}, "jigsaw", "router"},
		{
			"a hole", small, Task{Work: Bored, Diameter: 25, On: tool.Piece{Height: 30, Beside: 40}}, "drill press",
			"hand drill",
		},
		{
			"a hole beyond the press's throat", small,
			Task{Work: Bored, Diameter: 25, On: tool.Piece{Height: 30, Beside: 200}}, "hand drill", "",
		},
		{"a hole of no bit", small, Task{Work: Bored, Diameter: 50, On: tool.Piece{Height: 30}}, "", ""},
		{"a hole too deep for its bit", small, Task{Work: Bored, Diameter: 6, On: tool.Piece{Height: 120}}, "", ""},
		{"a round-over", small, Task{Work: Profile, Bit: tool.RoundOver, Size: 6}, "router", "rasp and file"},
		{"a round-over of no bit", small, Task{Work: Profile, Bit: tool.RoundOver, Size: 40}, "rasp and file", ""},
		{
			"a round-over by hand", hand, Task{Work: Profile, Bit: tool.RoundOver, Size: 6}, "spokeshave",
			"rasp and file",
		},
		{"a recess by hand", hand, Task{Work: Sunk, Amount: 40}, "gouge", ""},
		{"a wire's slot", small, Task{Work: Slotted, Narrow: true}, "table saw", "router"},
		{"a groove", small, Task{Work: Slotted, Bit: tool.Straight}, "router", "hand saw"},
		{"nothing at all", bare, Task{Work: Outline}, "", ""},
	} {
		m := By(c.kit, c.of)
		if c.by == "" {
			assert.Nil(t, m.By, c.name)
			assert.NotEmpty(t, m.Ways, c.name)
			assert.Contains(t, m.How(), "Nothing owned")
			continue
		}
		require.NotNil(t, m.By, c.name)
		assert.Equal(t, c.by, m.By.Tool, c.name)
		assert.NotEmpty(t, m.By.Why, c.name)
		if c.otherwise == "" {
			continue
		}
		require.NotNil(t, m.Otherwise, c.name)
		assert.Equal(t, c.otherwise, m.Otherwise.Tool, c.name)
	}
}

// A tool that is not owned and would save the most is told, with its minutes.
func TestWhatOneMoreToolWouldSave(t *testing.T) {
	of := Task{Work: Outline, Radius: 30, Amount: 1200, On: tool.Piece{Height: 30}}
	k := tool.Starters[0].Kit.Without(tool.Jigsaw)
	m := By(k, of)
	require.Equal(t, tool.FretSaw, m.By.Tool)
	assert.InDelta(t, 3+2+6*1200/150., m.By.Minutes, 1e-9)
	require.NotNil(t, m.Wish)
	assert.Equal(t, tool.BandSaw, m.Wish.Tool)
	assert.InDelta(t, m.By.Minutes-(3+1200/150.), m.Saves, 1e-9)
	assert.Nil(t, By(tool.Usual(), of).Wish, "it is owned")
}

// What the maker chooses holds, with what speaks against it.
func TestTheMakersChoice(t *testing.T) {
	of := Task{Work: Outline, Radius: 30, Amount: 600, On: tool.Piece{Height: 30}}
	m := With(tool.Usual(), of, tool.TrackSaw)
	assert.Equal(t, tool.TrackSaw, m.By.Tool)
	assert.Contains(t, m.By.Why, "follows no curve")
	require.NotNil(t, m.Otherwise)
	assert.Equal(t, tool.BandSaw, m.Otherwise.Tool)
	assert.Equal(t, By(tool.Usual(), of), With(tool.Usual(), of, tool.BandSaw))
	assert.Empty(t, Refused(tool.Usual(), of, tool.BandSaw))
	assert.NotEmpty(t, Refused(tool.Kit{}, of, tool.BandSaw))
}

// Whatever is asked, a tool that is owned takes it, a step takes the minutes that are
// told, and one more tool never makes it longer.
func TestOneMoreToolNeverTakesLonger(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		works := []Work{Across, Along, Outline, Inner, Bored, Profile, Sunk, Slotted}
		f := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		of := Task{
			Work: rapid.SampledFrom(works).Draw(t, "work"), Straight: rapid.Bool().Draw(t, "straight"),
			Radius: f("radius", 1, 80), Diameter: rapid.SampledFrom([]float64{6, 25, 33}).Draw(t, "bore"),
			Amount: f("amount", 1, 900), Run: f("run", 0, 9000), Narrow: rapid.Bool().Draw(t, "narrow"),
			On: tool.Piece{Width: f("width", 10, 700), Height: f("height", 5, 160), Beside: f("beside", 0, 400)},
		}
		k := tool.Usual()
		for _, kind := range tool.Kinds {
			if rapid.IntRange(0, 3).Draw(t, "without") == 0 {
				k = k.Without(kind.Kind)
			}
		}
		m := By(k, of)
		if m.By == nil {
			assert.NotEmpty(t, m.Ways)
			return
		}
		assert.InDelta(t, m.By.Minutes, m.Step("x", of, nil).Usual, 1e-9)
		if m.Wish != nil {
			assert.Positive(t, m.Saves)
			assert.Less(t, m.Wish.Minutes, m.By.Minutes)
		}
	})
}
