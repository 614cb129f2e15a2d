package fill

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestColoursInWords(t *testing.T) {
	for hue, want := range map[string]string{
		"#2a5caa": "blue", "#000000": "black", "#ffffff": "white", "#808080": "grey",
		"#c0392b": "red", "#e67e22": "orange",
		"#5b3a1e": "brown", "#f1c40f": "yellow", "#27ae60": "green", "#1abc9c": "turquoise", "#8e44ad": "violet",
		"#e84393": "pink", "#ff0005": "red",
	} {
		assert.Equal(t, want, inWords(hue), hue)
	}
	assert.Equal(t, "clear", (*Colour)(nil).String())
	assert.Equal(t, "tinted blue", (&Colour{Kind: Tint, Hue: "#2a5caa"}).String())
	assert.Equal(t, "metallic green", (&Colour{Kind: Metallic, Hue: "#27ae60"}).String())
}

// The deeper, the more it hides; opaque resin hides all from the first millimetre, clear hardly
// anything; more pigment hides more.
func TestTonesHideWhatLiesBeneath(t *testing.T) {
	seen := func(c *Colour, depth float64) float64 { return c.tone(depth).Opacity }
	for _, kind := range []string{Clear, Tint, Opaque, Metallic} {
		before := 0.0
		for depth := 0.5; depth < 60; depth *= 1.5 {
			now := seen(&Colour{Kind: kind, Hue: "#2a5caa"}, depth)
			assert.Greater(t, now, before, "%s at %g mm", kind, depth)
			assert.LessOrEqual(t, now, 1.0)
			before = now
			if now > 0.9999 {
				break
			}
		}
	}
	assert.Greater(t, seen(&Colour{Kind: Opaque, Hue: "#2a5caa"}, 1), 0.98)
	assert.Less(t, seen(nil, 12), 0.25)
	assert.InDelta(t, 0.632, seen(&Colour{Kind: Tint, Hue: "#2a5caa"}, 8), 0.001)
	assert.Greater(
		t,
		seen(&Colour{Kind: Tint, Hue: "#2a5caa", Pigment: 2}, 4),
		seen(&Colour{Kind: Tint, Hue: "#2a5caa"}, 4),
	)
	assert.Equal(t, amber, (*Colour)(nil).tone(3).Hue)
	assert.True(t, (&Colour{Kind: Metallic, Hue: "#27ae60"}).tone(3).Glints)
}

// Pigment is weighed as its share of what is mixed; more than a twentieth is a stop, and the way
// out leads below it.
func TestPigment(t *testing.T) {
	voids := filled([]Void{{Volume: 100, Depth: 20, Width: 30, Area: 5000, Chosen: Epoxy}})
	c := Choice{Resin: "casting", Colour: &Colour{Kind: Opaque, Hue: "#2a5caa", Pigment: 4}}
	mix, verdicts, _ := Pour(voids, c, Conditions{Temperature: 20, ScaleStep: 0.1})
	assert.InDelta(t, 0.04*(mix.ResinG.Value+mix.HardenerG.Value), mix.PigmentG, 1e-9)
	assert.Empty(t, found(t, verdicts, "resin-pigment").Remedies)
	c.Colour.Pigment = 7
	_, verdicts, _ = Pour(voids, c, Conditions{Temperature: 20, ScaleStep: 0.1})
	v := found(t, verdicts, "resin-pigment")
	assert.Equal(t, "stop", string(v.Level))
	doc := struct {
		Fill Choice `json:"fill"`
	}{c}
	require.NoError(t, v.Remedies[0].Patch.Apply(&doc))
	_, verdicts, _ = Pour(voids, doc.Fill, Conditions{Temperature: 20, ScaleStep: 0.1})
	assert.Equal(t, "good", string(found(t, verdicts, "resin-pigment").Level))

	assert.Len(t, (&Colour{Kind: "neon", Hue: "blue", Pigment: 40}).Check("c"), 3)
	assert.Len(t, (&Colour{Kind: Tint}).Check("c"), 1, "a tint needs its colour")
	assert.Empty(t, (&Colour{Kind: Clear}).Check("c"))
}
