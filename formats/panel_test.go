package formats

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/glue"
	"idletimber/craft/moisture"
	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

// panel is a scene with a panel of five strips, two of them from a piece of the rack.
func panel(t testing.TB, construction string) (reckon.Scene, reckon.Wood) {
	t.Helper()
	p := glue.Panel{
		Construction: construction, Glue: "PVA, D4", Kerf: 3, Caul: 30, Degrees: 45, Slice: 40, Staggered: true,
	}
	for i, w := range []string{"Pear", "Robinia", "Pear", "Robinia", "Pear"} {
		s := glue.Strip{
			ID: string(rune('a' + i)), Species: w, Length: 620, Width: 45, Thickness: 24, Turned: i == 1,
		}
		if w == "Robinia" {
			s.Piece = "rail"
		}
		p.Strips = append(p.Strips, s)
	}
	p.Spares = []glue.Strip{{ID: "x", Species: "Pear", Length: 620, Width: 45, Thickness: 24, AtHand: true}}
	v := slab.Slab{Name: "Stripes", Moisture: []moisture.Reading{}, Flaws: []stock.Flaw{}, Glue: &p}.Settled()
	j := reckon.Scene{
		Schema: reckon.Schema, Now: time.Date(2031, 5, 5, 8, 0, 0, 0, time.UTC), Piece: "p", Slab: &v,
		Shop: shop.Usual(),
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	require.NoError(t, err)
	return j, *r.Slab
}

func TestThePanelSheetSaysAllThatTheBenchNeeds(t *testing.T) {
	j, wood := panel(t, glue.OnEdge)
	data, err := PanelSheet(j, wood, map[string]string{"rail": "Fence rail"})
	require.NoError(t, err)
	text := pdftotext(t, data, "-layout")
	for _, want := range []string{
		"Fence rail", "fence 46 mm", "stop block 620 mm", "planed to 24 mm", "to be bought, Pear", "at hand, Pear",
		"arrow to the butt end", "face to the left", "Clamp-up card", "closed within 8 min", "clamp 1, " +
			"below", "clamp 2, above",
		"from the butt", "Scrape the beads", "Take care", "Local codes",
	} {
		assert.Contains(t, text, want)
	}
	assert.NotContains(t, text, "{")
	j.Shop.Units = "in"
	data, err = PanelSheet(j, wood, nil)
	require.NoError(t, err)
	assert.NotContains(t, pdftotext(t, data, "-layout"), " mm")
	j, wood = panel(t, glue.Arrows)
	data, err = PanelSheet(j, wood, nil)
	require.NoError(t, err)
	assert.Contains(t, pdftotext(t, data, "-layout"), "with the cuts of its slices")
}

func TestStripLabels(t *testing.T) {
	j, _ := panel(t, glue.Flat)
	data, err := StripLabels(j.Shop, *j.Slab)
	require.NoError(t, err)
	text := pdftotext(t, data, "-layout")
	for _, want := range []string{"1→", "2←", "5→", "spare", "Stripes", "Robinia"} {
		assert.Contains(t, text, want)
	}
}

// Every part stands on a layer of its own, and together they are the panel; also when the
// file is read back.
func TestPanelFilesHoldTheirStrips(t *testing.T) {
	for construction, layers := range map[string]int{glue.Flat: 6, glue.Arrows: 2} {
		j, wood := panel(t, construction)
		f := PanelLayers(*j.Slab)
		assert.GreaterOrEqual(t, len(f.Order), layers)
		whole, sum := f.Rings["show"].Area(), 0.0
		for _, name := range f.Order[1:] {
			sum += f.Rings[name].Area()
		}
		assert.InEpsilon(t, whole, sum, 1e-4)
		assert.InDelta(t, wood.Parts.Length*wood.Parts.Width, whole, 1)
		for _, data := range [][]byte{f.DXF(), f.SVG()} {
			back, err := ReadOutlines(data)
			require.NoError(t, err)
			assert.Len(t, back, len(f.Order))
		}
	}
}

// A job with a panel comes back from its file as it was.
func TestAPanelsJobComesBack(t *testing.T) {
	j, wood := panel(t, glue.Arrows)
	j.Boards = []reckon.Board{reckon.NewBoardOn("b", "Tray", *j.Slab, j.Shop)}
	j.Strips = []reckon.Strip{}
	data, err := WriteJob(j)
	require.NoError(t, err)
	back, err := ReadJob(data)
	require.NoError(t, err)
	assert.Equal(t, j.Slab.Glue, back.Slab.Glue)
	r, err := reckon.Reckon(back, reckon.Request{})
	require.NoError(t, err)
	assert.Equal(t, wood.Parts.Pressed, r.Slab.Parts.Pressed)
	svg := string(BoardSVG("Tray", r.Boards[0]))
	assert.Contains(t, svg, `id="strips"`)
}
