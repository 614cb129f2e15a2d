package fill

import (
	"fmt"
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
	"idletimber/craft/stock"
)

func rect(x0, y0, x1, y1 float64) geom.Ring {
	return geom.Ring{{X: x0, Y: y0}, {X: x1, Y: y0}, {X: x1, Y: y1}, {X: x0, Y: y1}}
}

var (
	board = rect(-300, -100, 300, 100)
	crack = stock.Flaw{ID: "v", Kind: stock.Crack, Line: []geom.Point{{X: -80}, {X: 80}}, Width: 6, Depth: 14}
	knot  = stock.Flaw{
		ID:     "k",
		Kind:   stock.Knot,
		State:  "missing",
		A:      17,
		B:      11,
		Depth:  11,
		Centre: geom.Point{X: 50, Y: 50},
	}
	worms = stock.Flaw{
		ID:       "w",
		Kind:     stock.Worm,
		Count:    12,
		Diameter: 2.5,
		Depth:    8,
		A:        30,
		B:        20,
		Centre:   geom.Point{X: -150},
	}
	split = stock.Flaw{ID: "t", Kind: stock.Crack, Line: []geom.Point{{X: 150}, {X: 240}}, Width: 4, Through: true}
)

func TestVolumes(t *testing.T) {
	for _, c := range []struct {
		name   string
		flaw   stock.Flaw
		volume float64
	}{
		{"V-shaped crack", crack, 6.72},
		{"missing knot", knot, 4.31},
		{"worm holes", worms, 0.47},
		{"through crack", split, 7.92},
		{"sound knot", stock.Flaw{Kind: stock.Knot, State: "sound", A: 20, B: 20, Depth: 20}, 0},
		{"bark pocket", stock.Flaw{Kind: stock.Bark, Line: rect(0, 0, 40, 20), Depth: 10}, 40 * 20 * 10 * 0.8 / 1000},
		{"dent", stock.Flaw{Kind: stock.Dent, A: 10, B: 10, Depth: 3}, math.Pi * 100 * 3 / 1000},
	} {
		assert.InDelta(t, c.volume, Volume(c.flaw, board, 22, 0, nil), 0.006, c.name)
	}
}

func TestVolumeIsClippedFlattenedAndCapped(t *testing.T) {
	half := rect(-300, -100, 0, 100)
	assert.InDelta(t, 3.36, Volume(crack, half, 22, 0, nil), 0.001)
	// Flattening 7 of 14 mm leaves a quarter of a V.
	assert.InDelta(t, 6.72/4, Volume(crack, board, 22, 7, nil), 0.001)
	// A board of 7 mm holds the upper three quarters.
	assert.InDelta(t, 6.72*3/4, Volume(crack, board, 7, 0, nil), 0.001)
	assert.Zero(t, Volume(crack, board, 22, 14, nil))
	assert.Zero(t, Volume(crack, rect(400, 0, 500, 100), 22, 0, nil))
	twelve := Volume(worms, board, 22, 0, nil)
	assert.InDelta(t, twelve/2, Volume(worms, rect(-300, -100, -150, 100), 22, 0, nil), 0.001, "half of the holes")
}

// filled are voids with the fillers that they name.
func filled(voids []Void) []Void {
	c := Choice{Resin: "casting", Fillers: map[string]string{}}
	named := slices.Clone(voids)
	for i, v := range named {
		named[i].Flaw = fmt.Sprint(i)
		c.Fillers[named[i].Flaw] = v.Chosen
	}
	return Choose(named, c, 20, false)
}

func TestMix(t *testing.T) {
	voids := []Void{
		{Volume: 6.72, Chosen: "epoxy", Depth: 14},
		{Volume: 4.31, Chosen: "epoxy", Depth: 11},
		{Volume: 0.47, Chosen: "epoxy", Depth: 8},
		{Volume: 7.92, Chosen: "epoxy", Depth: 22},
		{Volume: 5, Chosen: "putty", Depth: 3},
	}
	mix, _, ok := Pour(filled(voids), Choice{Resin: "casting"}, Conditions{Temperature: 25, ScaleStep: 1})
	require.True(t, ok)
	assert.InDelta(t, 19.42, mix.Net.Value, 0.005)
	assert.InDelta(t, 29.36, mix.Total.Value, 0.005)
	assert.InDelta(t, 22.12, mix.ResinG.Value, 0.005)
	assert.InDelta(t, 9.79, mix.HardenerG.Value, 0.005)
	assert.InDelta(t, 10.2, mix.RatioOff, 0.1)
	a, b := ByMass(29.36, 1.10, 45)
	assert.InDelta(t, 22.27, a, 0.005)
	assert.InDelta(t, 10.02, b, 0.005)

	_, _, ok = Pour(filled(voids[4:]), Choice{Resin: "casting"}, Conditions{Temperature: 25, ScaleStep: 1})
	assert.False(t, ok)
	small, _, _ := Pour(
		filled([]Void{{Volume: 0.1, Chosen: "epoxy", Depth: 1}}),
		Choice{Resin: "quick"},
		Conditions{Temperature: 25, ScaleStep: 1},
	)
	assert.InDelta(t, 20, small.ResinG.Value+small.HardenerG.Value, 1e-6, "the least batch")
}

func TestTimesFollowTheTemperature(t *testing.T) {
	assert.InDelta(t, 90, 45*slower(15), 1e-9)
	assert.InDelta(t, 32, 45*slower(30), 0.2)
}

func TestResinVerdicts(t *testing.T) {
	voids := []Void{{Volume: 30, Depth: 40, Chosen: "epoxy"}}
	mix, verdicts, _ := Pour(filled(voids), Choice{Resin: "casting"}, Conditions{Temperature: 16, ScaleStep: 1})
	assert.Equal(t, 2, mix.Pours)
	require.Len(t, verdicts, 3)
	assert.Equal(t, craft.Stop, verdicts[0].Level)
	assert.NotEmpty(t, verdicts[0].Remedies)
	assert.Equal(t, craft.Mind, verdicts[1].Level)
	assert.Equal(t, "Use deep pour resin, in one pour", verdicts[1].Remedies[0].Label)

	// A warm box over it helps, and is planned; in it the pour stays cool.
	i := slices.IndexFunc(
		verdicts[0].Remedies,
		func(r craft.Remedy) bool { return r.Patch["fill"].(map[string]any)["warm"] != nil },
	)
	require.GreaterOrEqual(t, i, 0)
	doc := struct {
		Fill Choice `json:"fill"`
	}{Choice{Resin: "casting"}}
	require.NoError(t, verdicts[0].Remedies[i].Patch.Apply(&doc))
	assert.InDelta(t, 22, doc.Fill.Warm, 1e-9, "the least it bears and four more")
	cold := Conditions{Temperature: 16, ScaleStep: 1}
	warm, r := Reckon(filled(voids), doc.Fill, cold)
	for _, v := range r.Verdicts {
		assert.NotEqual(t, craft.Stop, v.Level, v.Check)
	}
	assert.Less(t, warm.Sand, mix.Sand)
	assert.True(t, slices.ContainsFunc(r.Steps, func(s plan.Step) bool { return s.Key == "warm-box" }))
}

// The next layer bonds within its window; where every layer is sanded first, it waits until that
// can be done, and no window is told.
func TestLayersOfAPour(t *testing.T) {
	voids := filled([]Void{{Volume: 300, Depth: 60, Width: 40, Area: 6000, Chosen: "epoxy"}})
	k := Conditions{Temperature: 25, ScaleStep: 1}
	mix, r := Reckon(voids, Choice{Resin: "casting"}, k)
	require.Equal(t, 3, mix.Pours)
	waits := map[string]float64{}
	for _, s := range r.Steps {
		waits[s.Key] = s.Wait
		if strings.HasPrefix(s.Key, PourKey) {
			assert.True(t, s.Attended, "somebody looks at it")
			assert.InDelta(t, 60, s.Wait, 1e-9)
		}
	}
	assert.InDelta(t, 8*60-60, waits[WatchKey+"1"], 1e-9)
	assert.InDelta(t, 48*60-60, waits[WatchKey+"3"], 1e-9)
	assert.InDelta(t, 16*60, mix.TackTo, 1e-9)
	sanded, r := Reckon(voids, Choice{Resin: "casting", Scuff: true}, k)
	assert.True(t, sanded.Scuffed)
	assert.InDelta(t, 48*60, sanded.Between, 1e-9)
	for _, s := range r.Steps {
		if s.Key == PourKey+"2" {
			assert.Contains(t, s.Detail, "Sand the last pour dull")
		}
	}
	quick, _ := Reckon(voids, Choice{Resin: "quick"}, k)
	assert.True(t, quick.Scuffed, "it has no window")
	assert.Len(t, quick.looks(), 1, "a quick one is looked at while it can be worked")
	assert.LessOrEqual(t, quick.attended(), quick.Working)
}

func TestRanking(t *testing.T) {
	site := Site{Outline: board, Thickness: 22}
	voids := func(c Choice, feet bool) []Void { return Choose(Measure(site), c, 20, feet) }
	for _, c := range []struct {
		name, best string
		flaw       stock.Flaw
	}{
		{"worm holes", "thin CA", worms},
		{"wide crack", "epoxy", crack},
		{"knot", "epoxy", knot},
		{"through crack", "epoxy", split},
		{"hairline, deep", "wicked thin glue", stock.Flaw{Kind: stock.Crack, Line: crack.Line, Width: 0.4, Depth: 15}},
		{"shallow seam", "medium CA, tinted", stock.Flaw{Kind: stock.Crack, Line: crack.Line, Width: 4, Depth: 3}},
		{"knot on the underside", "leave", stock.Flaw{Kind: stock.Knot, State: "missing", A: 17, B: 11, Depth: 8,
			Under: true}},
	} {
		site.Flaws = []stock.Flaw{c.flaw}
		found := voids(Choice{Resin: "casting"}, true)
		require.Len(t, found, 1, c.name)
		assert.Equal(t, c.best, found[0].Chosen, c.name)
		assert.NotEmpty(t, found[0].Options[0].Reason)
		assert.Equal(t, found[0].Volume, found[0].Working.Value)
	}
	assert.Equal(
		t,
		"epoxy",
		voids(Choice{Resin: "casting"}, false)[0].Chosen,
		"without feet the underside is a food face too",
	)
	site.Flaws = []stock.Flaw{worms}
	assert.Equal(t, "epoxy", voids(Choice{Resin: "casting", Fillers: map[string]string{"w": "epoxy"}}, true)[0].Chosen)
}

// Two halves of a board hold what the whole holds.
func TestVolumesAddUp(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f := knot
		f.Centre = geom.Point{X: rapid.Float64Range(-40, 40).Draw(t, "x")}
		f.Angle = rapid.Float64Range(0, 180).Draw(t, "angle")
		off := rapid.Float64Range(0, 5).Draw(t, "off")
		whole := Volume(f, board, 6, off, nil)
		parts := Volume(f, rect(-300, -100, 0, 100), 6, off, nil) + Volume(f, rect(0, -100, 300, 100), 6, off, nil)
		if math.Abs(whole-parts) > 0.002*whole {
			t.Fatalf("%v in one, %v in two", whole, parts)
		}
	})
}

func TestChoiceCheck(t *testing.T) {
	assert.Empty(t, Choice{Resin: "quick"}.Check("fill"))
	assert.Len(t, Choice{Resin: "treacle", Reserve: -1, Fillers: map[string]string{"a": "cheese"}}.Check("fill"), 3)
}

// A flaw that goes through askew holds what an upright one holds, as long as it
// stays inside; where it leaves the board on its way, only the part within
// counts. The other way: slice by slice.
func TestTiltedFlawIsClippedLevelByLevel(t *testing.T) {
	askew := split
	askew.Tilt = &geom.Point{X: 20, Y: 30}
	assert.InDelta(
		t,
		Volume(split, board, 22, 0, nil),
		Volume(askew, board, 22, 0, nil),
		1e-9,
		"no more for being tilted",
	)
	for _, tilt := range []geom.Point{{Y: 160}, {X: 260, Y: 15}, {X: -420, Y: -90}} {
		askew.Tilt = &tilt
		const slices, points = 4000, 600
		var sum float64
		for i := range slices {
			z := (float64(i) + 0.5) / slices
			for k := range points {
				p := split.Line[0].Lerp(split.Line[1], (float64(k)+0.5)/points).Add(tilt.Scale(z))
				if board.Contains(p) {
					sum += 90 * 4 * 22 / 1000.0 / slices / points
				}
			}
		}
		assert.InEpsilon(t, sum, Volume(askew, board, 22, 0, nil), 0.001, "tilt %v", tilt)
	}
}
