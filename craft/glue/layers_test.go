package glue

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft"
	"idletimber/craft/plan"
)

func TestAFaceOnItsBase(t *testing.T) {
	p := of(Flat, 60, 8, 400, "Sugar maple", "Black walnut", "Sugar maple")
	p.Base = &Base{Species: "Sugar maple", Thickness: 14}
	s := p.Shape()
	assert.Equal(t, 22.0, s.Thinnest)
	_, r := Make(p, shop())
	assert.Equal(t, craft.Good, finding(r, "face and base").Level, "grain along grain")
	p.Base.Across = true
	_, r = Make(p, shop())
	v := finding(r, "face and base")
	assert.Equal(t, craft.Stop, v.Level)
	assert.Greater(t, v.Figure.Value, 2.0, "the movement is the number")
	p.Base.Across, p.Base.Sheet = false, true
	_, r = Make(p, shop())
	assert.Equal(t, craft.Stop, finding(r, "face and base").Level, "solid wood on a rigid back")
	p.Base.Both = true
	made, r := Make(p, shop())
	assert.Equal(t, craft.Mind, finding(r, "face and base").Level)
	assert.Equal(t, 30.0, p.Shape().Thinnest)
	assert.Empty(t, finding(r, "face clamps").Check, "they press it all over")
	bare := shop()
	bare.Kit.Clamps = bare.Kit.Clamps[:1]
	_, short := Make(p, bare)
	assert.InDelta(t, 0.35*400*180, finding(short, "face clamps").Figure.Value, 1e-6)
	var cured float64
	for _, k := range r.Steps {
		if k.Key == "face" || k.Key == "face-scrape" {
			cured += k.Wait
		}
		if k.Key == "flush" {
			assert.GreaterOrEqual(t, cured, Glues[0].Machine)
		}
	}
	assert.Greater(t, cured, 0.0)
	assert.Greater(t, made.Days, 1.9, "two glue-ups")
	for i := range p.Strips {
		p.Strips[i].Sheet = true
	}
	_, r = Make(p, shop())
	assert.Equal(t, craft.Good, finding(r, "face and base").Level, "sheet stock on sheet stock")
	// What lies under the face weighs, by its thickness.
	q := of(Flat, 60, 8, 400, "Black walnut")
	q.Base = &Base{Species: "Sugar maple", Thickness: 8}
	h := q.Grain(q.Shape(), nil).At(q.Shape().Parts[0].Ring.Centroid())
	assert.InDelta(t, (705.0+610)/2, h.Species.Density, 60)
}

func TestASlopedCore(t *testing.T) {
	p := of(OnEdge, 40, 24, 400, "Pear", "Robinia", "Pear", "Robinia", "Pear", "Robinia")
	p.Slope = &Slope{Drop: 8, Fence: 15, Thickness: 12}
	require.Empty(t, p.Check("glue", nil))
	s := p.Shape()
	assert.Equal(t, [2]float64{32, 40}, [2]float64{s.Thinnest, s.Thickest})
	made, r := Make(p, shop())
	assert.Equal(t, craft.Good, finding(r, "drains").Level)
	assert.Contains(t, finding(r, "drains").Finding, "far end")
	assert.InDelta(t, 2, finding(r, "drains").Figure.Value, 1e-9)
	assert.InDelta(t, 32-0.3, made.Flat, 1e-9, "no planer takes its slope off")
	kinds := map[string]plan.Kind{}
	at := map[string]int{}
	for i, k := range r.Steps {
		kinds[k.Key], at[k.Key] = k.Kind, i
	}
	assert.Contains(t, kinds, "profile")
	assert.Less(t, at["slope-sand"], at["fences"], "the fences keep the sander out")
	p.Slope.Upper = true
	_, r = Make(p, shop())
	v := finding(r, "fence crosses")
	assert.Equal(t, craft.Stop, v.Level)
	require.Len(t, v.Remedies, 1)
	next := struct {
		Glue *Panel `json:"glue"`
	}{&p}
	require.NoError(t, v.Remedies[0].Patch.Apply(&next))
	assert.Equal(t, Slope{Drop: 8, Fence: 15, Thickness: 12}, *next.Glue.Slope)
	p.Slope.Drop = 2
	_, r = Make(p, shop())
	v = finding(r, "drains")
	assert.Equal(t, craft.Mind, v.Level)
	require.Len(t, v.Remedies, 1)
	p.Slope.Drop = 38
	assert.Equal(t, "glue.slope.drop", p.Check("glue", nil)[0].Field)
}

func TestAStripThatLiesLow(t *testing.T) {
	p := of(OnEdge, 40, 24, 400, "Pear", "Robinia", "Pear")
	p.Strips[1].Width = 28
	_, r := Make(p, shop())
	v := finding(r, "reach")
	assert.Equal(t, craft.Mind, v.Level)
	assert.InDelta(t, 12, v.Figure.Value, 1e-9)
	p.Strips[1].Shaped = "recess"
	_, r = Make(p, shop())
	assert.Empty(t, finding(r, "reach").Check)
	assert.Contains(t, r.Steps[4].Title, "Make the recess in strip 2")
}
