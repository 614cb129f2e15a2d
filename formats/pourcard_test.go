package formats

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/fill"
	"idletimber/craft/reckon"
)

// The sheet has a pour card: every void by its number, with its recipe and dam, and each batch with
// room for what was weighed.
func TestThePourCard(t *testing.T) {
	j, _ := reckoned(t)
	j.Boards[0].Fill.Colour = &fill.Colour{Kind: fill.Opaque, Hue: "#2a5caa"}
	j.Shop.Cup = 19
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	require.NotNil(t, r.Boards[0].Mix)
	data, err := Sheet(j, r)
	require.NoError(t, err)
	text := pdftotext(t, data, "-layout")
	for _, want := range []string{
		"Filling", "Pour card", "opaque blue", "pigment last", "Batch 1", "weighed: resin", "Wet it and look",
	} {
		assert.Contains(t, text, want)
	}
	for _, v := range r.Boards[0].Voids {
		assert.Contains(t, text, v.Name)
	}
}
