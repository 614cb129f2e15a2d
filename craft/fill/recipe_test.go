package fill

import (
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// found is the verdict of a check.
func found(t *testing.T, all []craft.Verdict, check string) craft.Verdict {
	t.Helper()
	for _, v := range all {
		if v.Check == check {
			return v
		}
	}
	require.Fail(t, "no verdict", check)
	return craft.Verdict{}
}

// The recipes of the table, each in its order and with its waits.
func TestRecipes(t *testing.T) {
	told := func(f stock.Flaw, c Choice) Void {
		c.Resin = "casting"
		f.ID = "a"
		found := Choose(Measure(Site{Flaws: []stock.Flaw{f}, Outline: board, Thickness: 22}), c, 20, false)
		require.Len(t, found, 1)
		return found[0]
	}
	line := []geom.Point{{X: -80}, {X: 80}}
	pick := func(name string) Choice { return Choice{Fillers: map[string]string{"a": name}} }
	inOrder := func(v Void, words ...string) {
		t.Helper()
		all, at := strings.Join(v.Recipe, "\n"), 0
		for _, w := range words {
			i := strings.Index(all[at:], w)
			require.GreaterOrEqual(t, i, 0, "%q comes next in:\n%s", w, all)
			at += i + len(w)
		}
	}
	narrow := stock.Flaw{Kind: stock.Crack, Line: line, Width: 1.2, Depth: 12}
	inOrder(told(narrow, pick(Caulked)), "wire", "Wicked thin glue", "Putty", "no oil", "Wet it and look")
	inOrder(told(narrow, pick(Sealed)), "wire", "Thin CA", "Putty", "Wet it and look")
	hole := stock.Flaw{Kind: stock.Hole, A: 2.5, B: 2.5, Depth: 6}
	v := told(hole, pick(MediumCA))
	inOrder(v, "rotary tool", "air", "accelerator on each layer, 2 layers", "Wet it")
	assert.Equal(t, 2, v.Coats[0].Layers)
	assert.InDelta(t, 20, v.Coats[0].Wait, 1e-9)
	out := hole
	out.Centre = geom.Point{Y: 100}
	inOrder(told(out, pick(MediumCA)), "sound wood", "Tape on the edge where it runs out", "Medium CA")
	seam := stock.Flaw{Kind: stock.Crack, Line: line, Width: 2, Depth: 2, Zone: stock.HeartAndSap}
	inOrder(
		told(seam, pick(Putty)),
		"one for the heart, one for the sap",
		"a colour for each, clear where in doubt",
		"no oil",
	)
	tearOut := stock.Flaw{Kind: stock.Crack, Line: line, Width: 0.9, Depth: 1}
	inOrder(told(tearOut, pick(GlueDust)), "packed in proud", "Wet it")
	soft := stock.Flaw{Kind: stock.Soft, Line: rect(0, 0, 30, 30), Depth: 5, Pressed: stock.Holds}
	inOrder(told(soft, Choice{}), "nail", "it stays as figure")
	soft.Pressed = stock.Gives
	inOrder(told(soft, Choice{}), "Dig it out", "Epoxy")
	assert.Empty(t, told(hole, pick(Leave)).Recipe)
}

// Several fillers in one void: what lies below takes its part of the depth and of the volume, and
// of the resin so much less is mixed. Told by levels, a thousand of them.
func TestSeveralFillersShareAVoid(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		depth := rapid.Float64Range(8, 30).Draw(t, "depth")
		f := stock.Flaw{ID: "a", Kind: stock.Crack, Line: []geom.Point{{X: -80}, {X: 80}}, Width: 9, Depth: depth}
		widthAt := func(z float64) float64 { return 9 * (1 - z/depth) }
		switch rapid.IntRange(0, 2).Draw(t, "kind") {
		case 1:
			f.Slot = true
			widthAt = func(float64) float64 { return 9 }
		case 2:
			f = stock.Flaw{ID: "a", Kind: stock.Knot, State: "missing", A: 15, B: 9, Depth: depth}
			widthAt = func(z float64) float64 { return 1 - z*z/depth/depth }
		}
		below := Below{
			{
				ThinCA,
				rapid.Float64Range(0.5, 5).Draw(t, "first"),
			}, {Putty, rapid.Float64Range(0.5, 5).Draw(t, "second")},
		}
		c := Choice{Resin: "casting", Fillers: map[string]string{"a": Epoxy}, Below: map[string]Below{"a": below}}
		site := Site{Flaws: []stock.Flaw{f}, Outline: board, Thickness: 40}
		v := Choose(Measure(site), c, 20, false)[0]
		var sum, deep float64
		for _, o := range v.Coats {
			sum, deep = sum+o.Volume, deep+o.Depth
			assert.Greater(t, o.Volume, 0.0)
		}
		assert.InDelta(t, v.Volume, sum, 1e-9)
		assert.InDelta(t, depth, deep, 1e-9)
		part, whole, top := 0.0, 0.0, v.resinDepth()
		for k := range 1000 {
			z := (float64(k) + 0.5) / 1000 * depth
			whole += widthAt(z)
			if z < top {
				part += widthAt(z)
			}
		}
		assert.InDelta(t, part/whole, v.resinML()/v.Volume, 0.003)
		plain := Choose(Measure(site), Choice{Resin: "casting", Fillers: c.Fillers}, 20, false)
		less, _, _ := Pour([]Void{v}, c, Conditions{Temperature: 20, ScaleStep: 1})
		more, _, _ := Pour(plain, c, Conditions{Temperature: 20, ScaleStep: 1})
		assert.Less(t, less.Net.Value, more.Net.Value)
	})
}

// What lies below comes first in the plan, each layer with its wait; dust and accelerator are on
// the list.
func TestWhatLiesBelowComesFirst(t *testing.T) {
	f := stock.Flaw{ID: "a", Kind: stock.Hole, A: 8, B: 8, Depth: 18}
	c := Choice{
		Resin: "casting", Fillers: map[string]string{"a": Epoxy},
		Below: map[string]Below{"a": {{MediumCA, 6}, {GlueDust, 2}}},
	}
	voids := Choose(Measure(Site{Flaws: []stock.Flaw{f}, Outline: board, Thickness: 22}), c, 20, false)
	_, r := Reckon(voids, c, Conditions{Temperature: 20, ScaleStep: 1})
	var keys []string
	waits := map[string]float64{}
	for _, s := range r.Steps {
		keys = append(keys, s.Key)
		waits[s.Key] = s.Wait
	}
	assert.Equal(t, []string{
		"clean-voids", "fill-medium-CA-tinted", "fill-medium-CA-tinted-2",
		"fill-glue-and-sanding-dust", "dam", "pour-1",
		"watch-1", "pinholes-1", "pinholes-1-flush", "pinholes-2", "pinholes-2-flush", "wet-look",
	}, slices.DeleteFunc(keys, func(key string) bool { return key == "" }), "flattening has none here")
	assert.InDelta(t, 20, waits["fill-medium-CA-tinted-2"], 1e-9)
	assert.InDelta(t, 60, waits["fill-glue-and-sanding-dust"], 1e-9)
	items := map[string]float64{}
	for _, u := range r.Uses {
		items[u.Item] += u.Amount
	}
	assert.InDelta(t, 0.4, items["accelerator"], 1e-9, "two layers")
	assert.InDelta(t, math.Pi*64*6/1000, items[MediumCA], 1e-6)
	assert.InDelta(t, math.Pi*64*2/1000, items[GlueDust], 1e-6)
}

// Where a flaw runs out of the outline is told once a place, and what dams it by how it lies.
func TestWhereItRunsOut(t *testing.T) {
	crack := stock.Flaw{ID: "a", Kind: stock.Crack, Line: []geom.Point{{X: -400}, {X: 100}}, Width: 5, Through: true}
	site := Site{Flaws: []stock.Flaw{crack}, Outline: board, Thickness: 22}
	c := Choice{Resin: "casting", Fillers: map[string]string{"a": Epoxy}}
	v := Choose(Measure(site), c, 20, false)[0]
	require.Len(t, v.Outs, 1)
	assert.InDelta(t, -300, v.Outs[0].X, 1e-6)
	assert.InDelta(t, 0, v.Outs[0].Y, 2.5)
	assert.Equal(t, "tape beneath, pressed with a roller; tape over the end, on a clean cut; a tray beneath", v.Dam)
	site.Live = func(geom.Point) bool { return true }
	assert.Contains(t, Choose(Measure(site), c, 20, false)[0].Dam, "clay or hot glue at the live edge")
	crack.Line[1] = geom.Point{X: 400}
	site.Flaws = []stock.Flaw{crack}
	assert.Len(t, Choose(Measure(site), c, 20, false)[0].Outs, 2, "from side to side")
	crack.Line = []geom.Point{{X: -50}, {X: 50}}
	crack.Width = 30
	site.Flaws = []stock.Flaw{crack}
	v = Choose(Measure(site), c, 20, false)[0]
	assert.Empty(t, v.Outs)
	assert.Equal(t, "sheathing tape and sealant beneath; a tray beneath", v.Dam)
}

// Sixteen holes a dm² are wormy, fifteen are not; many minutes at them are too.
func TestWormyStock(t *testing.T) {
	judged := func(holes int, minutes float64) craft.Verdict {
		worm := Void{Name: "worm", Count: holes, kind: stock.Worm, Coats: []Coat{{Filler: ThinCA, Layers: 2}}}
		v, ok := Wormy([]Void{worm}, 2e4, minutes)
		require.True(t, ok)
		return v
	}
	assert.Equal(t, craft.Good, judged(30, 1000).Level)
	assert.Equal(t, craft.Mind, judged(31, 1000).Level)
	assert.Equal(t, craft.Good, judged(20, 100.1).Level, "twenty minutes of a hundred")
	assert.Equal(t, craft.Mind, judged(20, 99).Level)
	_, ok := Wormy([]Void{{Name: "knot", kind: stock.Knot}}, 2e4, 10)
	assert.False(t, ok)
}

// Steamed dents and hardened spalt are steps without a filler.
func TestWhatIsMendedWithoutAFiller(t *testing.T) {
	dent := Void{Flaw: "d", Name: "dent", Depth: 1, Width: 8, Area: 50, Volume: 0.05, kind: stock.Dent, Chosen: Steam}
	soft := Void{
		Flaw:   "s",
		Name:   "soft",
		Depth:  4,
		Width:  30,
		Area:   10_000,
		Volume: 30,
		kind:   stock.Soft,
		Chosen: Hardened,
	}
	_, r := Reckon(filled([]Void{dent, soft}), Choice{Resin: "casting"}, Conditions{Temperature: 20})
	require.Len(t, r.Steps, 2)
	assert.Equal(t, "fill-steam", r.Steps[0].Key)
	assert.InDelta(t, 5, r.Steps[0].Minutes, 1e-9)
	assert.InDelta(t, 60, r.Steps[0].Wait, 1e-9)
	assert.Equal(t, plan.ThinGlue, r.Steps[1].Kind)
	assert.Equal(
		t,
		[]stage.Use{{Kind: stage.Filler, Item: ThinCA, Amount: 2, Unit: craft.ML, Step: "fill-harden"}},
		r.Uses,
	)
	assert.Nil(t, func() *Mix { m, _ := Reckon(filled([]Void{dent}), Choice{}, Conditions{}); return m }())
}

// A pocket and a slot of any outline are cut on purpose and cast: routed first, whole, by resin only;
// a handle's hole takes them out like any void.
func TestWhatIsCutToBeCast(t *testing.T) {
	star := geom.Ring{}
	for i := range 10 {
		r := 30 - 14*float64(i%2)
		a := float64(i) * math.Pi / 5
		star = append(star, geom.Point{X: r * math.Cos(a), Y: r * math.Sin(a)})
	}
	f := stock.Flaw{ID: "a", Kind: stock.Pocket, Line: star, Depth: 8, Wish: stock.Fill}
	site := Site{Flaws: []stock.Flaw{f}, Outline: board, Thickness: 20, Off: 1}
	c := Choice{Resin: "casting"}
	v := Choose(Measure(site), c, 20, false)[0]
	assert.Equal(t, Epoxy, v.Chosen)
	assert.Equal(t, "cast pocket", v.Name)
	assert.InDelta(t, star.Area()*7/1000, v.Volume, 1e-6, "whole, less what flattening takes")
	_, r := Reckon([]Void{v}, c, Conditions{Temperature: 20, ScaleStep: 1})
	assert.Equal(t, "rout-cast", r.Steps[0].Key)
	minutes, _ := plan.Rate(plan.HogOut, v.Volume)
	assert.InDelta(t, minutes, r.Steps[0].Minutes, 1e-9)
	f.Through = true
	site.Flaws = []stock.Flaw{f}
	v = Choose(Measure(site), c, 20, false)[0]
	assert.Equal(t, "cast slot", v.Name)
	assert.InDelta(t, star.Area()*20/1000, v.Volume, 1e-6)
	assert.Contains(t, v.Dam, "beneath")
	site.Holes = []geom.Ring{rect(-40, -40, 40, 40)}
	assert.Empty(t, Measure(site))
}

// Cut across, a void is as wide on its face and as deep as is told of it.
func TestAVoidCutAcross(t *testing.T) {
	line := []geom.Point{{X: -80}, {X: 80}}
	for _, f := range []stock.Flaw{
		{Kind: stock.Crack, Line: line, Width: 6, Depth: 14},
		{Kind: stock.Crack, Line: line, Width: 6, Depth: 14, Slot: true},
		{Kind: stock.Crack, Line: line, Width: 4, Through: true}, {Kind: stock.Dent, A: 9, B: 6, Depth: 5},
		{Kind: stock.Worm, A: 20, B: 10, Count: 5, Diameter: 2, Depth: 8},
		{Kind: stock.Bark, Line: rect(0, 0, 40, 20), Depth: 9},
	} {
		f.ID = "a"
		v := Measure(Site{Flaws: []stock.Flaw{f}, Outline: board, Thickness: 22, Off: 1})[0]
		box := v.Profile.Bounds()
		assert.InDelta(t, v.Width, box.MaxX-box.MinX, 1e-9, "%s", v.Name)
		deep := v.Depth
		if v.Through {
			deep = 22
		}
		assert.InDelta(t, deep, box.MaxY, 1e-9, "%s", v.Name)
		assert.Zero(t, box.MinY)
	}
}

// What is packed with dust takes its glue, and its dust from the jar of its wood.
func TestDustIsTakenByItsWood(t *testing.T) {
	var r stage.Record
	Coat{Filler: GlueDust, Colour: "dust of pear"}.takes(&r, 10, "fill")
	assert.Equal(t, []stage.Use{
		{Kind: stage.Filler, Item: "glue for dust", Amount: 6, Unit: craft.ML, Step: "fill"},
		{Kind: stage.Filler, Item: DustOf("Pear"), Amount: 3, Unit: craft.Gram, Step: "fill"},
	}, r.Uses)
}
