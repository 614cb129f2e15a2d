package river

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// bank is a piece along one wall: its far edge a wave, on both faces, the under face set back by so
// much.
func bank(id string, far bool, length, mean, wave, setback, thickness float64) Bank {
	b := Bank{ID: id, Name: id, Species: "Pear", Thickness: thickness}
	edge := func(x, back float64) float64 {
		return mean + wave*math.Sin(x/length*7) + wave/3*math.Cos(x/length*19) - back
	}
	const points = 60
	for _, back := range []float64{0, setback} {
		ring := geom.Ring{{X: 0, Y: 0}, {X: length, Y: 0}}
		for i := points; i >= 0; i-- {
			x := length * float64(i) / points
			ring = append(ring, geom.Point{X: x, Y: edge(x, back)})
		}
		if back == 0 {
			b.Show = ring
		} else {
			b.Under = ring
		}
	}
	b.At = geom.Placement{Y: -100}
	if far { // turned end for end along the far wall
		b.At = geom.Placement{X: length, Y: 100, Angle: 180}
	}
	return b
}

func sampleRiver() River {
	return River{
		Length: 360, Width: 200, Depth: 25, Wall: 18, Tape: 60, Fill: fill.Choice{Resin: "casting"},
		Banks: []Bank{bank("near", false, 360, 70, 6, 0, 26), bank("far", true, 360, 75, 5, 0, 26)},
	}
}

// ringsAt are the banks' outlines at a height, worked out anew.
func ringsAt(r River, height float64) (out []geom.Ring) {
	for _, b := range r.Banks {
		if height > b.Thickness {
			continue
		}
		deep := 1 - height/b.Thickness
		if b.At.Flip {
			deep = 1 - deep
		}
		ring := slices.Clone(b.Show)
		if len(b.Under) > 0 {
			for i := range ring {
				ring[i] = ring[i].Lerp(b.Under[i], deep)
			}
		}
		out = append(out, ring.Map(b.At.Out))
	}
	return out
}

// layers calls with heights that are spread evenly over the pour, and how thick each layer is; where
// a bank ends, so does a layer.
func layers(r River, each int, yield func(height, thick float64)) {
	cuts := []float64{0, r.Depth}
	for _, b := range r.Banks {
		if b.Thickness < r.Depth {
			cuts = append(cuts, b.Thickness)
		}
	}
	slices.Sort(cuts)
	for i := 0; i+1 < len(cuts); i++ {
		thick := (cuts[i+1] - cuts[i]) / float64(each)
		for k := range each {
			yield(cuts[i]+(float64(k)+0.5)*thick, thick)
		}
	}
}

// drawnRiver is a river with sloping banks, turned by any angle, turned over, thinner than the pour,
// out of the mould.
func drawnRiver(t *rapid.T) River {
	f64 := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
	r := sampleRiver()
	r.Depth = f64("depth", 8, 40)
	r.Banks = []Bank{
		bank(
			"near",
			false,
			360,
			f64("near", 40, 80),
			f64("wave", 0, 14),
			f64("sets back", 0, 9),
			f64("thick", 8, 40),
		),
		bank("far", true, f64("long", 300, 380), f64("far", 40, 70), f64("its wave", 0, 14), 0, 40),
	}
	r.Banks[0].At.Angle = f64("turned", -4, 4)
	r.Banks[1].At.Y += f64("moved", -12, 12)
	if rapid.Bool().Draw(t, "flipped") {
		r.Banks[1].At = geom.Placement{X: 0, Y: 100, Flip: true}
	}
	return r
}

// A river's volume is that of its levels, cut out as closed lines by another way.
func TestVolumeAgreesWithItsLevels(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		r, want := drawnRiver(t), 0.0
		layers(r, 12, func(height, thick float64) {
			for _, part := range r.inside().Less(ringsAt(r, height)...) {
				want += part.Area() * thick / 1000
			}
		})
		got := r.Volume()
		if got < 0 || got > r.Length*r.Width*r.Depth/1000+1e-6 {
			t.Fatalf("%g ml in a mould of %g", got, r.Length*r.Width*r.Depth/1000)
		}
		if math.Abs(got-want) > 0.002*want+0.01 {
			t.Fatalf("%g ml, by levels %g", got, want)
		}
	})
}

// The same within two thousandths of a sum over places, voxel by voxel.
func TestVolumeAgreesWithVoxels(t *testing.T) {
	draw := rapid.Custom(drawnRiver)
	for seed := range 5 {
		r := draw.Example(seed)
		free, cells := 0.0, 0.0
		layers(r, 6, func(height, thick float64) {
			rings := ringsAt(r, height)
			const cell, plastic = 0.7, 1.32471795724474602596
			places := int(r.Length * r.Width / cell / cell)
			open := 0
			for n := range places {
				_, u := math.Modf(0.5 + float64(n)/plastic)
				_, v := math.Modf(0.5 + float64(n)/(plastic*plastic))
				p := geom.Point{X: u * r.Length, Y: (v - 0.5) * r.Width}
				if !slices.ContainsFunc(rings, func(w geom.Ring) bool { return w.Contains(p) }) {
					open++
				}
			}
			free += float64(open) / float64(places) * r.Length * r.Width * thick / 1000
			cells += r.Length * r.Width * thick / 1000
		})
		assert.InEpsilon(t, free, r.Volume(), 0.002, "of %g", cells)
	}
}

// The worked example: a gap of five widths, poured 25 deep, and what is mixed for it.
func TestTheExample(t *testing.T) {
	r := River{Length: 360, Width: 100, Depth: 25, Wall: 18, Tape: 60, Fill: fill.Choice{Resin: "casting"}}
	r.Banks = []Bank{{ID: "a", Name: "a", Species: "Pear", Thickness: 25, Show: geom.Ring{
		{
			X: 0,
			Y: 0,
		}, {X: 360, Y: 0}, {X: 360, Y: 53}, {X: 270, Y: 42}, {X: 180, Y: 30}, {X: 90, Y: 39}, {X: 0, Y: 48},
	}, At: geom.Placement{Y: -50}}}
	assert.InDeltaSlice(t, []float64{52, 61, 70, 58, 47}, slices.Collect(func(yield func(float64) bool) {
		for _, w := range r.Widths() {
			yield(w)
		}
	}), 1e-3)
	assert.InDelta(t, 518.4, r.Guess(), 0.01)
	assert.InDelta(t, 536.6, r.Volume(), 0.05, "by straight edges")
	mix, _, ok := r.pour(540.4, Conditions{Conditions: fill.Conditions{Temperature: 20, ScaleStep: 1}})
	require.True(t, ok)
	assert.InDelta(t, 656.5, mix.Total.Value, 0.05)
	assert.InDelta(t, 540.4, mix.Net.Value, 1e-9, "a river counts whole")
}

func TestFloat(t *testing.T) {
	own := []species.Species{{Name: "light", Density: 560}}
	r := River{Length: 360, Width: 300, Depth: 25, Fill: fill.Choice{Resin: "casting"}, Banks: []Bank{{
		ID: "a", Name: "a", Species: "light", Thickness: 26,
		Show: geom.Ring{{X: 0, Y: 0}, {X: 360, Y: 0}, {X: 360, Y: 120}, {X: 0, Y: 120}},
	}}}
	l := r.Lifts(own)[0]
	assert.InDelta(t, 5.34, l.Newtons, 0.01)
	assert.Equal(t, 2, l.Downs)
	assert.InDelta(t, 5.34, l.Each, 0.01, "twice its half")
	own[0].Density = 1300
	assert.Less(t, r.Lifts(own)[0].Newtons, 0.0)
	assert.Zero(t, r.Lifts(own)[0].Each)
}

func TestMould(t *testing.T) {
	r := River{Length: 356, Width: 203, Depth: 25, Wall: 18, Tape: 60}
	m := r.Mould()
	assert.Equal(t, []float64{392, 239}, []float64{m.Parts[0].Length, m.Parts[0].Width})
	assert.InDelta(t, 392, m.Parts[1].Length, 1e-9)
	assert.InDelta(t, 203, m.Parts[3].Length, 1e-9)
	assert.InDelta(t, 45, m.Height, 1e-9)
	assert.InDelta(t, 2554, m.Tape, 1)
	assert.InDelta(t, 1298, m.Sealant, 1e-9)
	assert.Equal(t, 2*6+2*3+4*2, m.Screws)
	r.Covered = true
	assert.Zero(t, r.Mould().Tape)
}

// The parts lie on the sheet, apart by the kerf, none over another; on one that is too small, or
// of another thickness, they do not.
func TestAMouldOnASheet(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f64 := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		r := River{Length: f64("l", 200, 900), Width: f64("w", 100, 400), Depth: f64("d", 10, 50), Wall: 18, Tape: 60}
		sheet := Sheet{Name: "s", Length: f64("sheet l", 300, 2500), Width: f64("sheet w", 300, 1250), Thickness: 18}
		m := r.Mould().On([]Sheet{{Name: "thin", Length: 5000, Width: 5000, Thickness: 9}, sheet}, 18, 3)
		if m.Sheet == "" {
			for _, p := range m.Parts {
				assert.False(t, p.Laid)
			}
			return
		}
		boxes := []geom.Bounds{}
		for _, p := range m.Parts {
			long, wide := p.Length, p.Width
			if p.Turned {
				long, wide = wide, long
			}
			box := geom.Bounds{MinX: p.At.X, MinY: p.At.Y, MaxX: p.At.X + long, MaxY: p.At.Y + wide}
			assert.LessOrEqual(t, box.MaxX, sheet.Length+1e-9)
			assert.LessOrEqual(t, box.MaxY, sheet.Width+1e-9)
			for _, o := range boxes {
				apart := max(o.MinX-box.MaxX, box.MinX-o.MaxX, o.MinY-box.MaxY, box.MinY-o.MaxY)
				assert.GreaterOrEqual(t, apart, 3-1e-9)
			}
			boxes = append(boxes, box)
		}
	})
}

// What the panel is made of covers it, once: banks where the wood is, resin between.
func TestPartsCoverThePanel(t *testing.T) {
	for _, angle := range []float64{0, 3, -5} {
		r := sampleRiver()
		r.Banks[0].At.Angle = angle
		var wood, resin float64
		for _, p := range r.Parts(nil) {
			assert.Greater(t, p.Ring.SignedArea(), 0.0)
			if p.Species.Name == ResinName {
				resin += p.Area()
			} else {
				wood += p.Area()
			}
		}
		assert.InEpsilon(t, r.Length*r.Width, wood+resin, 1e-4)
		assert.InEpsilon(t, r.open(r.top()), resin, 0.01)
		g := stock.Glued(r.Parts(nil))
		assert.Equal(t, ResinName, g.At(geom.Point{X: 180, Y: 0}).Species.Name)
		assert.Equal(t, "Pear", g.At(geom.Point{X: 180, Y: -80}).Species.Name)
	}
}

func judged(t *testing.T, r River, k Conditions, check string) craft.Verdict {
	t.Helper()
	_, rec := r.Make(k)
	for _, v := range rec.Verdicts {
		if v.Check == check {
			return v
		}
	}
	require.Fail(t, "no verdict", check)
	return craft.Verdict{}
}

// Each check has a case on both sides of its limit, and its remedy helps.
func TestWhatIsJudged(t *testing.T) {
	k := Conditions{Conditions: fill.Conditions{Temperature: 21, ScaleStep: 1}}
	ok := sampleRiver()
	ok.Depth = 26
	ok.Fill.Resin = "deep pour"
	for check, spoil := range map[string]func(*River){
		"river-depth": func(r *River) { r.Depth = 22 },
		"river-gap":   func(r *River) { r.Banks[0].At.Y += 52 },
		"river-lies":  func(r *River) { r.Banks[0].At.Y += 80 },
		"river-bark":  func(r *River) { r.Banks[1].Bark = "sound" },
		"river-air":   func(r *River) { r.Banks[0] = bank("near", false, 360, 70, 6, 12, 26) },
		"river-sheet": func(r *River) { r.Wall = 12 },
	} {
		in := k
		in.Sheets = []Sheet{{"ply", 1200, 800, 18}}
		good := ok
		good.Banks = slices.Clone(ok.Banks)
		if check == "river-air" {
			good.Banks[0] = bank("near", false, 360, 70, 6, -12, 26)
		}
		if check != "river-bark" {
			assert.Equal(t, craft.Good, judged(t, good, in, check).Level, check)
		}
		spoil(&good)
		v := judged(t, good, in, check)
		assert.NotEqual(t, craft.Good, v.Level, check)
		for _, remedy := range v.Remedies {
			doc := struct {
				River River `json:"river"`
			}{good}
			require.NoError(t, remedy.Patch.Apply(&doc))
			assert.Equal(t, craft.Good, judged(t, doc.River, in, check).Level, "%s: %s", check, remedy.Label)
		}
	}
	// A mould of the shelf that does not fit is a stop; one that fits asks for no sheet.
	k.Shelf = []Kept{
		{Name: "the small one", Length: 300, Width: 200, Height: 45},
		{Name: "the river mould", Length: 360, Width: 200,
			Height: 46, Uses: 3},
	}
	ok.Kept = "the small one"
	v := judged(t, ok, k, "river-mould")
	assert.Equal(t, craft.Stop, v.Level)
	doc := struct {
		River River `json:"river"`
	}{ok}
	require.NoError(t, v.Remedies[0].Patch.Apply(&doc))
	judged(t, doc.River, k, "river-sheet")
	ok.Kept = "the river mould"
	assert.Equal(t, craft.Good, judged(t, ok, k, "river-mould").Level)
	cast, rec := ok.Make(k)
	assert.Equal(t, 3, cast.Mould.Uses)
	for _, s := range rec.Steps {
		assert.NotEqual(t, "mould-cut", s.Key)
	}
}

// The work in its order, each wait with what it is for; sealant and tape are on the list.
func TestSteps(t *testing.T) {
	r := sampleRiver()
	r.Depth, r.Fill.Resin = 26, "deep pour"
	r.Banks[0].Bark, r.Banks[1].Species = "loose", "European ash"
	_, rec := r.Make(
		Conditions{
			Conditions: fill.Conditions{Temperature: 21, ScaleStep: 1},
			Sheets:     []Sheet{{"ply", 1200, 800, 18}},
		},
	)
	var keys []string
	for _, s := range rec.Steps {
		keys = append(keys, s.Key)
		if s.Wait > 0 {
			assert.NotEmpty(t, s.WaitFor, s.Key)
		}
		assert.Positive(t, s.Minutes, s.Key)
	}
	assert.Equal(t, []string{
		"banks", "plane-banks", "bark-off", "seal-edges", "mould-cut",
		"mould-tape", "mould", "dam", "bed", "pour-1",
		"watch-1", "demould", "scrape-sealant", "flatten-river", "pinholes-1", "pinholes-1-flush", "pinholes-2",
		"pinholes-2-flush", "trim",
	}, keys)
	i := slices.IndexFunc(rec.Steps, func(s plan.Step) bool { return s.Key == "mould" })
	assert.InDelta(t, 24*60, rec.Steps[i].Wait, 1e-9)
	items := []string{}
	for _, u := range rec.Uses {
		items = append(items, u.Item)
	}
	for _, want := range []string{
		"sealant", "sheathing tape", "mould screws", "deep pour resin", "hardener of deep pour resin",
	} {
		assert.Contains(t, items, want)
	}
	for _, f := range rec.Figures {
		assert.NotEmpty(t, f.Label)
		assert.NotEmpty(t, f.Formula, f.Key)
	}
}

func TestCheck(t *testing.T) {
	assert.Empty(t, sampleRiver().Check("river", nil))
	bad := sampleRiver()
	bad.Length, bad.Depth, bad.Fill.Resin, bad.Banks[0].Species = 4, 900, "treacle", "no such wood"
	bad.Banks[0].Show = bad.Banks[0].Show[:2]
	bad.Banks[1].Under = bad.Banks[1].Show[:5]
	bad.Banks[1].ID = bad.Banks[0].ID
	assert.Len(t, bad.Check("river", nil), 7)
	bad.Banks = nil
	assert.NotEmpty(t, bad.Check("river", nil))
}

func Example() {
	r := River{Length: 360, Width: 100, Depth: 25, Fill: fill.Choice{Resin: "casting"}}
	fmt.Printf("%.0f ml in an empty mould\n", r.Volume())
	// Output: 900 ml in an empty mould
}

// Draft while dragging: what of a river is worked out anew at every step of a drag.
func BenchmarkMake(b *testing.B) {
	r := sampleRiver()
	r.Banks[0] = bank("near", false, 360, 70, 6, 8, 26)
	k := Conditions{
		Conditions: fill.Conditions{Temperature: 21, ScaleStep: 1},
		Sheets:     []Sheet{{"ply", 1200, 800, 18}},
	}
	for b.Loop() {
		r.Make(k)
	}
}

// Turned over, a bank lies along the same wall, its live edge looks to the same side, and what
// overhung does no more: near and far, turned by any angle.
func TestABankTurnedOver(t *testing.T) {
	for _, far := range []bool{false, true} {
		for _, angle := range []float64{0, 2, -3} {
			b := bank("b", far, 360, 70, 6, 12, 26)
			b.At.Angle += angle
			turned := b
			turned.At = b.over()
			was, is := b.Show.Map(b.At.Out), turned.Show.Map(turned.At.Out)
			assert.InDelta(t, was.Bounds().MinX, is.Bounds().MinX, 1e-9)
			assert.InDelta(t, was.Bounds().MinY, is.Bounds().MinY, 1e-9)
			assert.Equal(t, b.At.Flip, !turned.At.Flip)
			twice := turned
			twice.At = turned.over()
			assert.InDelta(t, b.At.X, twice.At.X, 1e-6)
			assert.InDelta(t, b.At.Y, twice.At.Y, 1e-6)
			r := sampleRiver()
			r.Banks = []Bank{b}
			over := func() craft.Level { return judged(t, r, Conditions{}, "river-air").Level }
			assert.Equal(t, craft.Mind, over())
			r.Banks[0] = turned
			assert.Equal(t, craft.Good, over())
		}
	}
}
