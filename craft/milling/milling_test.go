package milling

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft/species"
	"idletimber/craft/tool"
)

var planer = tool.New(tool.Planer)

// The table of bites, as the trade has it.
func TestBites(t *testing.T) {
	pine, pear := Wood{Softwood: true, Janka: 2000}, Wood{Janka: 4500}
	hornbeam, filled := Wood{Janka: 7200}, Wood{Janka: 4500, Resin: true}
	jointer, coarse, fine := tool.New(tool.Jointer), tool.New(tool.DrumSander), tool.New(tool.DrumSander)
	fine.Grit = 120
	for _, c := range []struct {
		of   tool.Tool
		want [4]float64
	}{
		{planer, [4]float64{1.5, 1.0, 0.5, 0.4}},
		{coarse, [4]float64{0.4, 0.25, 0.15, 0.15}},
		{fine, [4]float64{0.2, 0.12, 0.08, 0.08}},
		{jointer, [4]float64{1.0, 0.7, 0.4, 0}},
	} {
		for i, w := range []Wood{pine, pear, hornbeam, filled} {
			assert.InDelta(t, c.want[i], Bite(c.of, w, 150), 1e-9, "%s %+v", c.of.Kind, w)
		}
	}
	assert.InDelta(t, 0.5, Bite(planer, Wood{Janka: 4000, Tears: true}, 150), 1e-9, "figured")
}

// A bench planer bears 300 × 1.0 at Janka 5000; a standing one twice that.
func TestLoad(t *testing.T) {
	assert.InDelta(t, 1, Load(planer, 300, 1, 5000), 1e-9)
	heavy := planer
	heavy.Heavy = true
	assert.InDelta(t, 0.5, Load(heavy, 300, 1, 5000), 1e-9)
	w := Wood{Janka: 5900}
	assert.InDelta(t, 5000*300/(310*5900.), Bite(planer, w, 310), 1e-9, "a smaller bite")
	assert.InDelta(t, 1, Bite(heavy, w, 310), 1e-9)
}

func TestPasses(t *testing.T) {
	assert.Len(t, Passes(4.76, 1), 7)
	assert.Equal(t, []float64{0.3, 0.3, 0.965, 0.965, 0.965, 0.965, 0.3}, rounded(Passes(4.76, 1)))
	assert.Len(t, Passes(0.5, 0.4), 2)
	assert.Empty(t, Passes(0, 1))
	rapid.Check(t, func(t *rapid.T) {
		total, bite := rapid.Float64Range(0, 40).Draw(t, "total"), rapid.Float64Range(0.05, 3).Draw(t, "bite")
		sum := 0.0
		for _, b := range Passes(total, bite) {
			assert.LessOrEqual(t, b, max(bite, light)+1e-9)
			sum += b
		}
		assert.InDelta(t, total, sum, 1e-6)
	})
}

func rounded(of []float64) (out []float64) {
	for _, v := range of {
		out = append(out, float64(int(v*1e4+0.5))/1e4)
	}
	return out
}

func blank() Piece {
	return Piece{Length: 480, Width: 240, Height: 34, To: 22, Level: 4, Loose: 900, Wood: Wood{Janka: 4500}}
}

// What is owned decides; every method that fits can be taken, and its passes end at the
// thickness that is wanted.
func TestTheMethodIsWhatIsOwned(t *testing.T) {
	for _, c := range []struct {
		name   string
		kit    func(tool.Kit) tool.Kit
		change func(*Piece)
		method string
	}{
		{"a small shop", nil, nil, Sledded},
		{"a jointer too narrow", func(k tool.Kit) tool.Kit { return k.With(tool.New(tool.Jointer)) }, nil, Sledded},
		{
			"a wide jointer",
			func(k tool.Kit) tool.Kit { return k.With(tool.Tool{Kind: tool.Jointer, Width: 300}) }, nil, Jointed,
		},
		{"flat already", nil, func(p *Piece) { p.Plain = true }, Planed},
		{"too wide", nil, func(p *Piece) { p.Width = 400 }, HandPlaned},
		{
			"too wide, with a router sled",
			func(k tool.Kit) tool.Kit { return k.With(tool.New(tool.RouterSled)) },
			func(p *Piece) { p.Width = 400 }, RouterSled,
		},
		{
			"short, on a drum sander",
			func(k tool.Kit) tool.Kit { return k.With(tool.New(tool.DrumSander)) },
			func(p *Piece) { p.Length, p.Height = 200, 25 }, Drummed,
		},
		{"too thick on the sled", nil, func(p *Piece) { p.Height, p.Width = 130, 300 }, HandPlaned},
		{"nothing", func(k tool.Kit) tool.Kit { return tool.Kit{} }, nil, Outside},
	} {
		k, p := tool.Usual(), blank()
		if c.kit != nil {
			k = c.kit(k)
		}
		if c.change != nil {
			c.change(&p)
		}
		m := With(k, p, "")
		require.Equal(t, c.method, m.Method, c.name)
		require.True(t, m.Fits, c.name)
		if n := len(m.Passes); n > 0 {
			assert.InDelta(t, p.To, m.Passes[n-1].Setting, 1e-6, c.name)
		}
		assert.InDelta(t, m.Minutes, m.Step("flatten", nil).Usual, 1e-9)
		for _, o := range By(k, p) {
			assert.NotEmpty(t, o.Why, o.Method)
			assert.NotEmpty(t, o.Order, o.Method)
		}
	}
}

// Settings fall from pass to pass, and so many turns of the crank take the bite.
func TestSettings(t *testing.T) {
	m := With(tool.Usual(), blank(), "")
	height := blank().Height
	faces := map[string]float64{}
	for _, p := range m.Passes {
		assert.InDelta(t, height-p.Bite, p.Setting, 1e-9)
		assert.InDelta(t, p.Bite, p.Turns*planer.Turn, 1e-9)
		faces[p.Face] += p.Bite
		height = p.Setting
	}
	assert.GreaterOrEqual(t, faces[One], blank().Level-1e-9, "face one until it is level")
	own := blank()
	own.Bite = 2
	heavier := With(tool.Usual(), own, "")
	assert.Less(t, len(heavier.Passes), len(m.Passes))
	assert.Greater(t, heavier.Load, 1.0)
}

// A woods' own words decide what tears.
func TestFelt(t *testing.T) {
	for name, tears := range map[string]bool{"Sugar maple": true, "Wych elm": true, "Pear": false} {
		s, ok := species.Find(name)
		require.True(t, ok, name)
		assert.Equal(t, tears, Felt([]species.Species{s}, false).Tears, name)
	}
	pine, _ := species.Find("Scots pine")
	assert.Equal(t, pine.Group == "softwood", Felt([]species.Species{pine}, false).Softwood)
}
