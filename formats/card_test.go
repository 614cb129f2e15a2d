package formats

import (
	"bytes"
	"fmt"
	"html"
	"image"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
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

// printed is what of a PDF is read, and the words that stand off its pages.
func printed(t *testing.T, pdf []byte) (text string, off []string) {
	t.Helper()
	file := filepath.Join(t.TempDir(), "card.pdf")
	require.NoError(t, os.WriteFile(file, pdf, 0o600))
	boxes, err := exec.Command("pdftotext", "-bbox", file, "-").Output()
	require.NoError(t, err)
	var w, h float64
	var words []string
	for line := range strings.SplitSeq(string(boxes), "\n") {
		var x0, y0, x1, y1 float64
		line = strings.TrimSpace(line)
		if n, _ := fmt.Sscanf(line, `<page width="%f" height="%f">`, &w, &h); n == 2 {
			continue
		}
		if n, _ := fmt.Sscanf(line, `<word xMin="%f" yMin="%f" xMax="%f" yMax="%f">`, &x0, &y0, &x1, &y1); n == 4 {
			_, word, _ := strings.Cut(line, ">")
			word = html.UnescapeString(strings.TrimSuffix(word, "</word>"))
			words = append(words, word)
			if x0 < 0 || y0 < 0 || x1 > w || y1 > h {
				off = append(off, word)
			}
		}
	}
	return strings.Join(words, " "), off
}

// squeezed is a text without what a line break may stand for.
func squeezed(s string) string {
	return strings.NewReplacer(" ", "", "\u00ad", "", "‐", "-", "–", "-").Replace(s)
}

// Every print holds its lines on its page, in both units, with a long name and a long word in it.
func TestCardsHoldTheirLines(t *testing.T) {
	for _, units := range []measure.Unit{measure.Millimetre, measure.Inch} {
		for _, name := range []string{
			"Edda", "the volunteers of the orchard's long table, all twenty-four of them with families",
			strings.Repeat("Donaudampfschiff", 8)} {
			for _, kind := range CardKinds {
				for _, paper := range []string{"A4", "Letter"} {
					c := aCard(t)
					c.For, c.Title = name, name
					c.Units = measure.System{Length: units}
					data, err := Cards(kind, paper, []GiftCard{c, c, c})
					require.NoError(t, err)
					text, off := printed(t, data)
					what := fmt.Sprintf("%s on %s in %s for %.12s", kind, paper, units, name)
					assert.Empty(t, off, what)
					assert.Contains(t, squeezed(text), squeezed(name), what)
					assert.NotContains(t, text, "{", what)
					only := func(string) bool { return true }
					if kind == TagCard || kind == TagCards {
						only = short
					}
					for _, l := range c.texts(only) {
						assert.Contains(t, squeezed(text), squeezed(l), what)
					}
					if kind != TagCard && kind != TagCards {
						assert.Contains(
							t,
							text,
							map[measure.Unit]string{measure.Millimetre: "39 °C", measure.Inch: "102 °F"}[units],
							what,
						)
					}
				}
			}
		}
	}
}

func TestAPictureOfACard(t *testing.T) {
	data, err := CardPNG(FlatCard, "A4", aCard(t))
	require.NoError(t, err)
	img, err := png.Decode(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, image.Pt(1260, 1776), img.Bounds().Size())
	_, err = Cards("bark", "A4", []GiftCard{aCard(t)})
	assert.Error(t, err)
	_, err = Cards(TagCard, "A4", nil)
	assert.Error(t, err)
}

// A care page is small, holds no script, and names nobody unless it may.
func TestACarePage(t *testing.T) {
	next := time.Date(2031, 8, 2, 0, 0, 0, 0, time.UTC)
	c := CarePage{Card: aCard(t), Next: &next, Every: 42, Calendar: "/care/x/oiling.ics"}
	page, err := c.HTML()
	require.NoError(t, err)
	assert.Less(t, len(page), 30_000)
	for _, never := range []string{"<script", "Edda", "Riverside"} {
		assert.NotContains(t, string(page), never)
	}
	for _, want := range []string{
		"A board of pear", "2 Aug 2031", "every 6 weeks", "the weir", "Furry", `href="/care/x/oiling.ics"`,
	} {
		assert.Contains(t, string(page), want)
	}
	c.Names = true
	c.Card.For = `<b>Edda</b>`
	page, err = c.HTML()
	require.NoError(t, err)
	assert.Contains(t, string(page), "&lt;b&gt;Edda")
	file := string(OilingCalendar("board", "of pear", []time.Time{next}, next))
	assert.Contains(t, file, "DTSTART;VALUE=DATE:20310802")
	assert.Equal(t, 1, strings.Count(file, "BEGIN:VEVENT"))
}

func BenchmarkCardPNG(b *testing.B) {
	for b.Loop() {
		_, _ = CardPNG(FlatCard, "A4", aCard(b))
	}
}
