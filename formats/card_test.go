package formats

import (
	"os"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"idletimber/craft/giving"
	"idletimber/craft/measure"
	"idletimber/craft/species"
)

func aCard(t testing.TB) GiftCard {
	pear, ok := species.Find("Pear")
	require.True(t, ok)
	f := giving.Facts{
		Woods: []species.Species{pear}, Story: "The pear stood at the weir until the storm of last spring.",
		Finish: "oil and beeswax", Contents: []string{"mineral oil", "mineral oil, beeswax"}, Sweats: 39, Hangs: "cord",
		Use: "nibbles",
	}
	ready := time.Date(2031, 6, 21, 12, 0, 0, 0, time.UTC)
	return GiftCard{
		Title: "Weir board", For: "Edda", By: "Riverside shop", Wood: "pear", Size: "360 mm × 180 mm × 19 mm",
		Weight: "840 g", Lines: f.Lines(giving.Card{}, nil, &ready),
		Path: "M-180 -90L180 -90L180 90L-180 90z", Holes: []string{"M140 -15L160 -15L160 15L140 15z"},
		Light: "#d9b48f", Dark: "#a5764b", Link: "https://shop.example/care/ABCDEFGHIJKLMNOPQRSTUVWXYZ",
		Units: measure.System{Length: measure.Millimetre},
	}
}

func TestLook(t *testing.T) {
	for _, k := range CardKinds {
		data, err := Cards(k, "A4", []GiftCard{aCard(t), aCard(t), aCard(t)})
		require.NoError(t, err)
		require.NoError(t, os.WriteFile("/tmp/look/"+string(k)+".pdf", data, 0o644))
	}
	data, err := CardPNG(TagCard, "A4", aCard(t))
	require.NoError(t, err)
	require.NoError(t, os.WriteFile("/tmp/look/tagp.png", data, 0o644))
}
