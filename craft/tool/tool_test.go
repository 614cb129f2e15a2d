package tool

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestKerf(t *testing.T) {
	for saw, mm := range map[string]float64{
		BandSaw: 1.5, Jigsaw: 2, TrackSaw: 3, TableSaw: 3, HandSaw: 1.2, "teeth": 1.5,
	} {
		assert.Equal(t, mm, Kerf(saw), saw)
	}
	assert.Len(t, SawNames(), len(Saws))
	assert.Equal(t, 1.5, Leave(Jigsaw, 0.5))
	assert.Equal(t, 0.8, Leave(BandSaw, 0.5))
	assert.Equal(t, 0.5, Leave(TableSaw, 0.5), "what sanding takes")
}

func TestUsualBlades(t *testing.T) {
	radius := map[string]float64{}
	for _, b := range UsualBlades {
		radius[b.Name] = b.Radius
	}
	for name, mm := range map[string]float64{
		"band saw, 1/8\" blade": 5, "band saw, 3/16\" blade": 8, "band saw, 1/4\" blade": 16,
		"band saw, 3/8\" blade": 36,
		"band saw, 1/2\" blade": 64, "band saw, 3/4\" blade": 138, "jigsaw, scroll blade": 12, "jigsaw": 25,
	} {
		assert.Equal(t, mm, radius[name], name)
	}
}

func TestRouterWork(t *testing.T) {
	assert.Equal(t, 70.25, BaseToCut(150, 9.5))
	assert.Equal(t, 9.0, BushOffset(30, 12))
	r := Usual().Router
	for _, c := range []struct {
		name      string
		got, want float64
	}{
		{"the widest straight bit under 20", r.Widest(Straight, 20, 10), 12},
		{"no straight bit so long", r.Widest(Straight, 20, 40), 0},
		{"a round nose of its own size", r.Of(RoundNose, 8, 5), 8},
		{"none of another size", r.Of(RoundNose, 10, 5), 0},
		{"the longest flush bit", r.Longest(FlushTrim), 25},
		{"a bush that the bit passes through", r.Bush(12), 17},
		{"no bush for a wide bit", r.Bush(40), 0},
	} {
		assert.Equal(t, c.want, c.got, c.name)
	}
}

func TestCheckNamesTheTool(t *testing.T) {
	require.Empty(t, Usual().Check("shop"))
	for field, spoil := range map[string]func(*Kit){
		"shop.tools[0].width":      func(k *Kit) { k.Tools[0].Width = -1 },
		"shop.tools[0].kind":       func(k *Kit) { k.Tools[0].Kind = "spoon" },
		"shop.blades[0].radius":    func(k *Kit) { k.Blades[0].Radius = 1e6 },
		"shop.blades[0].saw":       func(k *Kit) { k.Blades[0].Saw = "spoon" },
		"shop.bits[0].diameter":    func(k *Kit) { k.Bits[0].Diameter = 0 },
		"shop.bits[0].kind":        func(k *Kit) { k.Bits[0].Kind = "spoon" },
		"shop.drums[0]":            func(k *Kit) { k.Drums[0] = 0 },
		"shop.router.bits[0].kind": func(k *Kit) { k.Router.Bits[0].Kind = "spoon" },
		"shop.router.bushes[0]":    func(k *Kit) { k.Router.Bushes[0] = 1 },
		"shop.bits":                func(k *Kit) { k.Bits = NewBits(make([]float64, 101)...) },
		"shop.tools":               func(k *Kit) { k.Tools = make([]Tool, 61) },
	} {
		k := Usual()
		spoil(&k)
		ps := k.Check("shop")
		require.NotEmpty(t, ps, field)
		assert.Equal(t, field, ps[0].Field)
	}
}
