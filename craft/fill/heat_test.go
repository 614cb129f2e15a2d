package fill

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"idletimber/craft"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestHeatOfAPour(t *testing.T) {
	for _, tt := range []struct {
		kind  string
		depth float64
		want  [3]float64 // at 18, 25 and 30 °C
	}{
		{"coating", 6, [3]float64{22.5, 34.0, 49.8}},
		{"coating", 9, [3]float64{26.3, 59.4, 166}},
		{"casting", 25, [3]float64{23.2, 35.8, 73.9}},
		{"casting", 50, [3]float64{123, 175, 188}},
		{"deep pour", 50, [3]float64{22.6, 34.2, 51.1}},
		{"deep pour", 75, [3]float64{28.7, 145, 174}},
	} {
		for i, air := range []float64{18, 25, 30} {
			w := Choice{}.Kind(tt.kind).Warms(tt.depth, air)
			assert.InDelta(t, tt.want[i], w.Peak, 1, fmt.Sprintf("%s, %g mm at %g °C", tt.kind, tt.depth, air))
			assert.Greater(t, len(w.Curve), 10)
		}
	}
}

// The same, walked by small steps of Euler's.
func TestHeatByAPlainerWay(t *testing.T) {
	for _, r := range Resins {
		for _, depth := range []float64{3, 12, 30} {
			for _, air := range []float64{15, 22} {
				d, w := depth/1000, r.Working/60
				u := 1 / (1/18.0 + d/1.6)
				heat, cured, peak := air, 0.0, air
				h := w / 40_000
				for cured < 0.995 {
					k := math.Min(0.105*math.Pow(2, (heat-25)/10), 60) / w
					rate := k * (1 - cured)
					before := heat
					heat += h * (350/1.9*rate - u*3600/(1100*1900*d)*(heat-air))
					cured += h * rate
					peak = math.Max(peak, heat)
					if heat < before && cured > 0.5 {
						break
					}
				}
				assert.InDelta(t, peak, r.Warms(depth, air).Peak, 0.5, "%s, %g mm at %g °C", r.Name, depth, air)
			}
		}
	}
}

// A deeper, warmer or quicker pour gets hotter; a larger batch sets sooner in its cup.
func TestHeatGrows(t *testing.T) {
	r := Choice{}.Kind("casting")
	assert.Less(t, r.Warms(20, 20).Peak, r.Warms(30, 20).Peak)
	assert.Less(t, r.Warms(20, 20).Peak, r.Warms(20, 24).Peak)
	assert.Less(t, Choice{}.Kind("deep pour").Warms(30, 22).Peak, r.Warms(30, 22).Peak)
	small, large := r.WorkingIn(50, 25), r.WorkingIn(2000, 25)
	assert.Less(t, large, small)
	assert.Less(t, r.WorkingIn(50, 30), small)
	assert.InDelta(
		t,
		r.Working,
		r.WorkingIn(20, 25),
		0.2*r.Working,
		"a small cup works about as long as the sheet says",
	)
}

// A wide deep pocket of casting resin in a hot room is judged; another kind that is offered stays
// cool. A narrow crack of the same depth loses its heat to the wood.
func TestAHotPour(t *testing.T) {
	pocket := Void{Name: "pocket", Chosen: Epoxy, Depth: 25, Width: 900, Area: 900 * 2000, Volume: 45000}
	check := func(v Void, kind string, air float64) (out craft.Verdict, mix Mix) {
		mix, all, ok := Pour(filled([]Void{v}), Choice{Resin: kind}, Conditions{Temperature: air, ScaleStep: 1})
		require.True(t, ok)
		i := slices.IndexFunc(all, func(v craft.Verdict) bool { return v.Check == "resin-heat" })
		require.GreaterOrEqual(t, i, 0)
		return all[i], mix
	}
	v, mix := check(pocket, "casting", 33)
	assert.NotEqual(t, craft.Good, v.Level)
	assert.InDelta(t, v.Figure.Value, mix.Warms.Peak, 1e-9)
	require.NotEmpty(t, v.Remedies)
	for _, r := range v.Remedies {
		c := Choice{Resin: "casting"}
		doc := struct {
			Fill Choice `json:"fill"`
		}{c}
		require.NoError(t, r.Patch.Apply(&doc))
		cool, _ := check(pocket, doc.Fill.Resin, 33)
		assert.Equal(t, craft.Good, cool.Level, r.Label)
	}
	crack := Void{Name: "crack", Chosen: Epoxy, Depth: 25, Width: 4, Area: 4 * 200, Volume: 20}
	v, _ = check(crack, "casting", 32)
	assert.Equal(t, craft.Good, v.Level)
	// A flat pour so large that its walls count for nothing is as deep as it is.
	assert.InDelta(t, 25, filled([]Void{{Chosen: Epoxy, Volume: 1, Depth: 25, Width: 1e6, Area: 1e12}})[0].lump(), 0.01)
	// A cube: twice its volume over its six faces.
	assert.InDelta(
		t,
		2*27000.0/(6*900),
		filled([]Void{{Chosen: Epoxy, Volume: 1, Depth: 30, Width: 30, Area: 900}})[0].lump(),
		1e-9,
	)
}

func BenchmarkWarms(b *testing.B) {
	for b.Loop() {
		Choice{}.Kind("casting").Warms(25, 25)
	}
}
