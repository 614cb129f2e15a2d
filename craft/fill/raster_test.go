package fill

import (
	"maps"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/stock"
)

// depthAt is how deep a flaw is at a place, mm.
func depthAt(f stock.Flaw, p geom.Point) float64 {
	deep := f.Depth
	if f.Through {
		deep = bottomless
	}
	switch f.Kind {
	case stock.Crack:
		a, b := f.Line[0], f.Line[1]
		d := b.Sub(a)
		along := ((p.X-a.X)*d.X + (p.Y-a.Y)*d.Y) / d.Len()
		off := math.Abs((p.X-a.X)*d.Y-(p.Y-a.Y)*d.X) / d.Len()
		switch {
		case along < 0 || along > d.Len() || off > f.Width/2:
			return 0
		case f.Slot || f.Through:
			return deep
		}
		return deep * (1 - 2*off/f.Width)
	case stock.Bark, stock.Pocket:
		if geom.Ring(f.Line).Contains(p) {
			return deep
		}
		return 0
	}
	sin, cos := math.Sincos(f.Angle * math.Pi / 180)
	d := p.Sub(f.Centre)
	u, v := (d.X*cos+d.Y*sin)/f.A, (d.Y*cos-d.X*sin)/f.B
	r := u*u + v*v
	switch {
	case r > 1:
		return 0
	case f.Kind == stock.Knot && !f.Through:
		return deep * math.Sqrt(1-r)
	}
	return deep
}

// voxels is raster for a flaw that goes through askew: layer by layer, each where it lies there.
func voxels(f stock.Flaw, s Site, hollow float64) (ml float64) {
	const layers = 24
	rough := s.Thickness + 2*s.Off
	for k := range layers {
		at := f.At((s.Off + (float64(k)+0.5)/layers*s.Thickness) / rough)
		at.Tilt = nil
		layer := s
		layer.Thickness, layer.Off = s.Thickness/layers, 0
		layer.Sunk, layer.Holes = nil, s.Holes
		for _, o := range s.Sunk {
			from := float64(k) * layer.Thickness // of this layer, from the face in which it is sunk
			if o.Under != f.Under {
				from = s.Thickness - from - layer.Thickness
			}
			if o.Depth = min(o.Depth-from, layer.Thickness); o.Depth > 0 {
				o.Under = f.Under
				layer.Sunk = append(layer.Sunk, o)
			}
		}
		ml += raster(at, layer, hollow)
	}
	return ml
}

// The plainer way: place by place, what is left of it between the flattened face, or the
// floor of a recess, and the other face. The places are spread evenly but in no rows, so that no
// side runs along them (the sequence of the plastic number).
func raster(f stock.Flaw, s Site, hollow float64) (ml float64) {
	const cell = 0.25
	if f.Tilted() {
		return voxels(f, s, hollow)
	}
	box := f.Bounds()
	wide, high := box.MaxX-box.MinX, box.MaxY-box.MinY
	places := int(math.Ceil(wide * high / (cell * cell)))
	const plastic = 1.32471795724474602596
	for n := range places {
		_, u := math.Modf(0.5 + float64(n)/plastic)
		_, v := math.Modf(0.5 + float64(n)/(plastic*plastic))
		p := geom.Point{X: box.MinX + u*wide, Y: box.MinY + v*high}
		deep := depthAt(f, p)
		if deep <= s.Off || !s.Outline.Contains(p) {
			continue
		}
		from, to := s.Off, s.Off+s.Thickness
		for _, h := range s.Holes {
			if h.Contains(p) {
				to = from
			}
		}
		for _, k := range s.Sunk {
			if in := k.Ring.Contains(p) && !k.Inner.Contains(p); in && k.Under == f.Under {
				from += k.Depth
			} else if in {
				to -= k.Depth
			}
		}
		ml += max(0, min(deep, to)-from) * wide * high / float64(places) / 1000 * hollow
	}
	return ml
}

// outlines that voids are measured in, on a slab of 160 × 90.
func outlines() map[string]geom.Ring {
	turned := geom.Placement{X: 80, Y: 45, Angle: 9}
	return map[string]geom.Ring{
		"soft rectangle": geom.Largest(geom.Flatten(geom.SoftRectangle(140, 80, 25).Translate(80, 45), geom.Fine)),
		"round":          geom.Ellipse{Centre: geom.Point{X: 80, Y: 45}, A: 62, B: 38, Angle: 14}.Ring(180),
		"with a notch": {
			{
				X: 8,
				Y: 6,
			}, {X: 150, Y: 6}, {X: 150, Y: 80}, {X: 96, Y: 80}, {X: 90, Y: 40}, {X: 74, Y: 40}, {X: 68, Y: 80},
			{X: 8, Y: 80},
		},
		"turned": rect(-64, -34, 64, 34).Map(turned.Out),
	}
}

// Voids are what of them lies in the wood that stays: wherever the edge, a hole or a
// recess runs through them, whichever way they lie, and askew. Three hundred of them.
func TestVoidsAgreeWithARaster(t *testing.T) {
	shapes := outlines()
	names := slices.Sorted(maps.Keys(shapes))
	one := func(t *rapid.T) {
		f64 := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		angle := f64("angle", 0, 180)
		sin, cos := math.Sincos(angle * math.Pi / 180)
		at := geom.Point{X: f64("x", 20, 110), Y: f64("y", 20, 70)}
		half := f64("half", 8, 35)
		f := stock.Flaw{
			Kind: stock.Kind(
				rapid.SampledFrom([]string{"crack", "knot", "bark", "dent", "hole", "pocket"}).Draw(t, "kind"),
			),
			State: "missing", Depth: f64("depth", 3, 30), Through: rapid.Bool().Draw(t, "through"),
			Slot: rapid.Bool().Draw(t, "slot"), Under: rapid.Bool().Draw(t, "under"),
			Width: f64("width", 2, 12), Centre: at, A: half, B: f64("b", 3, 12), Angle: angle,
		}
		along := geom.Point{X: cos * half, Y: sin * half}
		f.Line = []geom.Point{at.Sub(along), at.Add(along)}
		if f.Kind == stock.Bark || f.Kind == stock.Pocket {
			across := geom.Point{X: -sin, Y: cos}.Scale(f.B)
			back, ahead := at.Sub(along), at.Add(along)
			f.Line = []geom.Point{back.Sub(across), ahead.Sub(across), ahead, back.Add(across)}
		}
		if f.Through && rapid.IntRange(0, 3).Draw(t, "askew") == 0 {
			f.Tilt = &geom.Point{X: f64("tilt x", -20, 20), Y: f64("tilt y", -20, 20)}
		}
		s := Site{
			Flaws: []stock.Flaw{f}, Thickness: f64("t", 8, 25), Off: f64("off", 0, 4),
			Outline: shapes[rapid.SampledFrom(names).Draw(t, "outline")],
			Holes:   []geom.Ring{geom.Ellipse{Centre: geom.Point{X: 40, Y: 45}, A: 14, B: 14}.Ring(120)},
		}
		if rapid.Bool().Draw(t, "sunk") {
			s.Sunk = []Sunk{
				{
					Ring:  rect(98, 25, 125, 65),
					Depth: f64("depth of it", 1, 7),
					Under: rapid.Bool().Draw(t, "its face"),
				},
			}
		}
		want := raster(f, s, hollow(f, s))
		got := 0.0
		for _, v := range Measure(s) {
			got = v.Volume
			assert.GreaterOrEqual(t, v.Volume, 0.0)
			if box := f.Bounds(); f.Tilt == nil {
				most := (box.MaxX - box.MinX) * (box.MaxY - box.MinY) * min(v.Depth, s.Thickness) / 1000
				assert.LessOrEqual(t, v.Volume, most*(1+1e-9), "more than its box")
			}
		}
		assert.InDelta(t, want, got, 0.005*want+0.035, "%+v", f)
	}
	for range 3 {
		rapid.Check(t, one)
	}
}

// Round the groove of a board, and under its well.
func TestVoidsUnderGroovesAgreeWithARaster(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		f64 := func(name string, lo, hi float64) float64 { return rapid.Float64Range(lo, hi).Draw(t, name) }
		f := stock.Flaw{
			Kind: stock.Knot, State: "missing", Depth: f64("depth", 3, 30), Through: rapid.Bool().Draw(t, "through"),
			Under: rapid.Bool().Draw(t, "under"), Centre: geom.Point{X: f64("x", 20, 110), Y: f64("y", 20, 70)},
			A: f64("a", 8, 35), B: f64("b", 3, 12), Angle: f64("angle", 0, 180),
		}
		s := Site{
			Flaws: []stock.Flaw{f}, Thickness: f64("t", 8, 25), Off: f64("off", 0, 4),
			Outline: outlines()["soft rectangle"],
			Holes:   []geom.Ring{geom.Ellipse{Centre: geom.Point{X: 40, Y: 45}, A: 14, B: 14}.Ring(120)},
			Sunk: []Sunk{
				{Ring: rect(70, 25, 120, 65), Depth: f64("sunk", 1, 7), Under: rapid.Bool().Draw(t, "sunk under")},
				{ // a groove round it all
					Ring: rect(16, 10, 144, 80), Inner: rect(22, 16, 138, 74), Depth: f64("groove", 1, 4),
					Under: rapid.Bool().Draw(t, "groove under"),
				},
			},
		}
		want, got := raster(f, s, hollow(f, s)), 0.0
		for _, v := range Measure(s) {
			got = v.Volume
		}
		assert.InDelta(t, want, got, 0.005*want+0.035, "%+v", f)
	})
}

// A dent within a hanging hole, a crack within a slot: the hole takes them out. Along
// the very edge a crack counts by its area.
func TestWhatIsCutAwayIsNotFilled(t *testing.T) {
	hole := geom.Ellipse{Centre: geom.Point{X: 50}, A: 10, B: 10}.Ring(90)
	s := Site{Outline: board, Thickness: 20, Holes: []geom.Ring{hole, rect(-50, -14, 35, 14)}, Flaws: []stock.Flaw{
		{ID: "dent", Kind: stock.Dent, Centre: geom.Point{X: 50}, A: 4.5, B: 4.5, Depth: 6},
		{ID: "crack", Kind: stock.Crack, Through: true, Width: 3, Line: []geom.Point{{X: -40}, {X: 30, Y: 5}}},
	}}
	assert.Empty(t, Measure(s))
	s.Holes = nil
	assert.Len(t, Measure(s), 2)

	edge := stock.Flaw{Kind: stock.Crack, Width: 9, Slot: true, Depth: 21.3}
	for _, c := range []struct{ y, ml float64 }{{99.5, 21.3}, {100.5, 17.0}} { // 5 and 4 mm of 9 lie inside
		edge.Line = []geom.Point{{X: -100, Y: c.y}, {X: 100, Y: c.y}}
		assert.InDelta(t, c.ml, Volume(edge, board, 30, 0, nil), 0.3)
	}
}

// A river is filled whole, a pocket in part.
func TestARiverIsFilledWhole(t *testing.T) {
	river := stock.Flaw{Kind: stock.Bark, Through: true, Line: rect(-20, -140, 20, 140)}
	assert.InDelta(t, 40*200*22/1000.0, Volume(river, board, 22, 0, nil), 0.01)
	pocket := stock.Flaw{Kind: stock.Bark, Through: true, Line: rect(-20, 60, 20, 140)}
	assert.InDelta(t, 0.8*40*40*22/1000.0, Volume(pocket, board, 22, 0, nil), 0.01)
	pocket.Wish = stock.Featured
	assert.InDelta(t, 40*40*22/1000.0, Volume(pocket, board, 22, 0, nil), 0.01)
}

func TestFillersThatFit(t *testing.T) {
	chosen := func(s Site, f stock.Flaw) Void {
		s.Flaws, s.Outline = []stock.Flaw{f}, board
		found := Choose(Measure(s), Choice{Resin: "casting"}, 20, false)
		require.Len(t, found, 1)
		return found[0]
	}
	flat := Site{Thickness: 22, Off: 1.6}
	narrow := stock.Flaw{Kind: stock.Crack, Line: crack.Line, Width: 1.2, Depth: 15}
	assert.Equal(t, Sealed, chosen(flat, narrow).Chosen)
	narrow.Width = 1.9
	assert.Equal(t, Caulked, chosen(flat, narrow).Chosen)
	narrow.Width = 1.2
	assert.InDelta(t, 1.2*(1-1.6/15), chosen(flat, narrow).Width, 1e-9, "what flattening leaves of a V's width")
	thin := Site{Thickness: 8, Off: 5}
	assert.InDelta(t, 4*(1-5/14.8), chosen(thin, stock.Flaw{Kind: stock.Crack, Line: crack.Line, Width: 4,
		Depth: 14.8}).Width, 1e-9, "also of one deeper than the board")
	dent := stock.Flaw{Kind: stock.Dent, A: 5, B: 4, Depth: 1.9}
	assert.Equal(t, SandOut, chosen(flat, dent).Chosen, "0.3 mm are left")
	dent.Depth = 2.6
	assert.Equal(t, Steam, chosen(flat, dent).Chosen)
	dent.Depth = 6
	assert.NotContains(t, []string{SandOut, Steam}, chosen(flat, dent).Chosen)

	soft := stock.Flaw{Kind: stock.Soft, Line: rect(0, 0, 40, 20), Depth: 10}
	assert.Equal(t, Leave, chosen(flat, soft).Chosen, "until it is asked for, soft wood stays")
	soft.Pressed = stock.Holds
	assert.Equal(t, Hardened, chosen(flat, soft).Chosen, "spalt that holds under a nail is figure")
	soft.Pressed = stock.Gives
	assert.Equal(t, Epoxy, chosen(flat, soft).Chosen, "what gives way is dug out")
	soft.Wish, soft.Pressed = stock.Fill, ""
	assert.Equal(t, Epoxy, chosen(flat, soft).Chosen)

	seam := stock.Flaw{ID: "s", Kind: stock.Crack, Line: crack.Line, Width: 3.9, Depth: 5.4, Slot: true}
	for _, o := range chosen(flat, seam).Options {
		if o.Name == Putty {
			assert.True(t, o.Fits)
		}
	}
	grooved := flat
	grooved.Holes = []geom.Ring{rect(-30, -20, 30, 20)}
	for _, o := range chosen(grooved, seam).Options {
		if o.Name == Putty {
			assert.False(t, o.Fits, o.Reason)
		}
	}
}

// Each layer waits for the one before, and what is closed with putty waits for both.
func TestLayersWaitEach(t *testing.T) {
	steps := func(v Void) (keys []string, wait float64) {
		_, r := Reckon(filled([]Void{v}), Choice{Resin: "casting"}, Conditions{Temperature: 20, ScaleStep: 1})
		for _, s := range r.Steps {
			if s.Kind != plan.CleanVoid && s.Kind != plan.Water {
				keys, wait = append(keys, s.Key), wait+s.Wait
			}
		}
		return keys, wait
	}
	keys, wait := steps(Void{Flaw: "w", Depth: 8, Width: 2, Count: 6, Volume: 0.5, Chosen: ThinCA})
	assert.Equal(t, []string{"fill-thin-CA", "fill-thin-CA-2", "fill-thin-CA-3"}, keys)
	assert.InDelta(t, 30, wait, 1e-9)
	keys, wait = steps(Void{Flaw: "c", Depth: 8, Width: 1, Count: 1, Volume: 0.5, Chosen: Caulked, kind: stock.Crack})
	assert.Equal(t, []string{"fill-wicked-thin-glue", "fill-putty"}, keys)
	assert.InDelta(t, 480, wait, 1e-9)
}

// Masses over volumes: 100 g and 45 g fill what they fill.
func TestAMixtureByMassHasTheVolumeOfItsParts(t *testing.T) {
	for _, r := range Resins {
		voids := []Void{{Volume: 100, Depth: 3, Chosen: Epoxy}}
		mix, _, ok := Pour(
			filled(voids),
			Choice{Resin: r.Name, ByMass: true},
			Conditions{Temperature: 25, ScaleStep: 1},
		)
		require.True(t, ok)
		assert.InEpsilon(t, mix.Total.Value, mix.ResinG.Value/r.A+mix.HardenerG.Value/r.B, 1e-9, r.Name)
		assert.InEpsilon(t, r.Mass/100, mix.HardenerG.Value/mix.ResinG.Value, 1e-9)
	}
}

// Four pours of little are four batches, each with what stays in its cup and none
// smaller than can be measured.
func TestEveryPourIsABatch(t *testing.T) {
	void := Void{Volume: 4, Depth: 40, Chosen: Epoxy}
	layered, _, _ := Pour(filled([]Void{void}), Choice{Resin: "coating"}, Conditions{Temperature: 25, ScaleStep: 1})
	require.Greater(t, layered.Pours, 3)
	pours := float64(layered.Pours)
	assert.GreaterOrEqual(t, layered.ResinG.Value+layered.HardenerG.Value, 20*pours-1e-9)
	void.Volume = 400
	layered, _, _ = Pour(filled([]Void{void}), Choice{Resin: "coating"}, Conditions{Temperature: 25, ScaleStep: 1})
	assert.InDelta(t, 400*1.1+8*pours, layered.Total.Value, 1e-9)
	assert.InDelta(t, 100*pours/layered.HardenerG.Value, layered.RatioOff, 1e-9)

	_, verdicts, _ := Pour(filled([]Void{void}), Choice{Resin: "casting"}, Conditions{Temperature: 38, ScaleStep: 1})
	assert.Equal(t, craft.Mind, verdicts[0].Level, "at 38 °C resin is not just warm enough")
}
