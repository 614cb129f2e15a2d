package e2e

import (
	"encoding/base64"
	"errors"
	"fmt"
	"image/png"
	"io"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/makiuchi-d/gozxing"
	"github.com/makiuchi-d/gozxing/qrcode"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// left is how much of a product the shelf shows, in its own unit.
func (s *shop) left(product string) float64 {
	s.t.Helper()
	return ask[float64](s, fmt.Sprintf(`fetch("/api/shelf").then((r) => r.json())
		.then((l) => l.items.find((p) => p.product.name === %q).stands.left)`, product))
}

// A pour takes what was weighed off the shelf; what it took too much of is on the shopping list with its day.
func TestAPourTakesResinOffTheShelf(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.upTo("Gatekeepers", "pour-1")
	s.later(24 * time.Hour)
	// A board of another slab has a crack that is to be filled with resin too.
	require.Equal(t, 200, ask[int](s, `(async () => {
		const get = (path) => fetch(path).then((r) => r.json());
		const named = async (name) => (await get("/api/boards")).items.find((b) => b.name.startsWith(name));
		const gate = await get("/api/pieces/" + (await named("Gatekeepers")).piece);
		const of = gate.slab.flaws.find((f) => f.id === "seam");
		const b = await named("Wheelbarrow");
		const piece = await get("/api/pieces/" + b.piece);
		const at = (await get("/api/boards/" + b.id)).board.placement;
		piece.slab.flaws.push({ ...of, id: "second", wish: "fill", through: false, depth: 15, width: 6,
			line: [{ x: at.x - 70, y: at.y + 15 }, { x: at.x + 70, y: at.y + 18 }] });
		return fetch("/api/pieces/" + b.piece, { method: "PUT", headers: { "Content-Type": "application/json" },
			body: JSON.stringify({ version: piece.version, slab: piece.slab }) }).then((r) => r.status);
	})()`))
	// Just enough hardener for both.
	s.do(
		chromedp.Navigate(s.url+"/shelf"),
		s.see("Casting hardener"),
		s.press("Casting hardener"),
		s.field(
			"Counted now",
			"25",
		),
		s.press("Keep it"),
		s.see("25 g left"),
		s.press("To buy"),
		s.see("What has a price"),
	)
	s.later(time.Minute)
	listed := `[...document.querySelectorAll(".to-buy tbody tr")]
		.find((r) => r.innerText.startsWith("hardener of casting"))`
	assert.False(t, ask[bool](s, `(`+listed+`) !== undefined`))
	resin := s.left("Casting resin")
	s.do(chromedp.Navigate(s.url+"/bench"), s.inCard("pour-1", "Start"), s.see("of resin, give or take"),
		s.field("Resin poured", "45.2"), s.press("Write it down"), s.see("of hardener, give or take"),
		s.field("Hardener poured", "20"), s.press("Write it down"), s.press("Start mixing"), s.see("Mix for"),
		s.press("It is poured in"),
		s.phase("watch"))
	s.upTo("Gatekeepers", "watch-1")
	assert.InDelta(t, resin-45.2, s.left("Casting resin"), 1e-6)
	assert.InDelta(t, 25-20.0, s.left("Casting hardener"), 1e-6)
	s.do(chromedp.Navigate(s.url+"/shelf?part=buy"), s.wait(`(`+listed+`) !== undefined`))
	line := ask[string](s, listed+`.innerText`)
	assert.Contains(t, line, "Wheelbarrow driver's board")
	assert.Contains(t, line, "needed")
}

// What a run costs, line by line and board by board, is what its boards cost.
func TestThePriceOfARun(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(
		chromedp.Navigate(s.url+"/shop?part=house"),
		s.field("An hour of work", "20"),
		s.field("Sign of the currency", "zł"),
		s.saved(),
		chromedp.Navigate(s.url+"/runs"),
		s.press("Midsummer supper"),
		s.see("Begin it again"),
		s.click(`document.querySelector("#part-price")`),
		s.see("Board by board"),
		s.see("a gift"),
		s.see("zł"),
	)
	s.accessible("the price of a run")
	cells := ask[[]string](s, `[...document.querySelectorAll(".visits tbody tr")].map((r) => r.cells[2].innerText)`)
	sum := 0.0
	for _, c := range cells {
		var v float64
		_, err := fmt.Sscanf(c, "%f", &v)
		require.NoError(t, err, c)
		sum += v
	}
	require.Len(t, cells, 6)
	costs := ask[string](s, `[...document.querySelectorAll(".visits section")][0].innerText`)
	assert.Contains(t, costs, fmt.Sprintf("Costs %.2f", sum))
	s.do(s.press("Wasp catcher's board"), s.see("What it costs"), s.see("Overhead"), s.press("Add something"),
		s.field("What", "A linen bag"), s.field("Costs", "4.50"), s.saved(), s.see("Add-ons and work bought in"),
		s.press("What would it cost?"), s.see("Thickness"), s.see("as it is"))
	s.accessible("a price and what it would cost otherwise")
}

// codeOf reads the code on the first page of a print, held nearer and farther as one holds a phone.
func codeOf(t *testing.T, pdf string) (code string) {
	t.Helper()
	for _, dots := range []string{"150", "200", "300", "240"} {
		at := filepath.Join(t.TempDir(), "page")
		require.NoError(t, exec.Command("pdftoppm", "-r", dots, "-png", "-singlefile", pdf, at).Run())
		file, err := os.Open(at + ".png")
		require.NoError(t, err)
		img, err := png.Decode(file)
		require.NoError(t, errors.Join(err, file.Close()))
		bitmap, err := gozxing.NewBinaryBitmapFromImage(img)
		require.NoError(t, err)
		read, err := qrcode.NewQRCodeReader().Decode(bitmap, map[gozxing.DecodeHintType]any{
			gozxing.DecodeHintType_TRY_HARDER: true,
		})
		if err == nil {
			return read.GetText()
		}
	}
	require.Fail(t, "no code is read on "+pdf)
	return ""
}

// A card is printed; its code, read from the paper, leads a stranger's browser to how the board is kept.
func TestACardLeadsToItsCarePage(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/boards"), s.see("Wasp catcher's board"), s.press("Wasp catcher's board"),
		s.see("Flip to the under face"), s.stage("give"), s.click(`document.querySelector("#part-card")`),
		s.see("It has none yet"), s.press("Write it anew"))
	s.do(s.field("In your words", "Of {wood}, waterproof."), s.see("sheds water for a while"), s.saved())
	s.accessible("a card")
	link := ask[string](s, `[...document.querySelectorAll("a")].find((a) => a.innerText === "Card, A6 folded").href`)
	data, err := base64.StdEncoding.DecodeString(ask[string](s, fmt.Sprintf(`fetch(%q).then((r) => r.arrayBuffer())
		.then((b) => btoa(String.fromCharCode(...new Uint8Array(b))))`, link)))
	require.NoError(t, err)
	dir := t.TempDir()
	pdf := filepath.Join(dir, "card.pdf")
	require.NoError(t, os.WriteFile(pdf, data, 0o600))
	require.Equal(t, "%PDF", string(data[:4]))
	text, err := exec.Command("pdftotext", "-layout", pdf, "-").Output()
	require.NoError(t, err)
	assert.Contains(t, string(text), "Of Pear, waterproof.")
	assert.Contains(t, string(text), "the wasp catcher")
	code := codeOf(t, pdf)
	require.True(t, strings.HasPrefix(code, s.url+"/care/"), code)

	s.fresh(390, 844)
	s.do(chromedp.Navigate(code), s.see("How to keep it"), s.see("Of Pear"),
		s.see("Put it in my calendar"))
	s.fits("a care page on the phone")
	s.accessible("a care page")
	assert.NotContains(t, s.text("body"), "wasp catcher", "no name unless its maker wants it")
	assert.Empty(t, ask[string](s, `document.cookie`))
	s.do(s.click(`[...document.querySelectorAll("summary")].find((d) => d.innerText.startsWith("Furry"))`),
		s.see("along the grain with P320"))
	got, err := http.Get(ask[string](s, `document.querySelector(".button a").href`))
	require.NoError(t, err)
	defer got.Body.Close()
	days, err := io.ReadAll(got.Body)
	require.NoError(t, err)
	assert.Contains(t, string(days), "BEGIN:VEVENT")
}

// Whoever has a board says what is seen; it is taken back into work with a plan of its own, and goes out again.
func TestABoardComesBackFurry(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(
		chromedp.Navigate(s.url+"/runs?part=given"),
		s.see("due since"),
		s.press("Oiled today"),
		s.see("Not oiled after all"),
	)
	s.accessible("what was given away")
	s.do(
		s.click(
			`[...document.querySelectorAll("tr")].find((r) => r.innerText.startsWith("Pruner")).querySelector("a.btn")`,
		),
		s.see("What do you see?"),
		s.press("It went through the dishwasher"),
		s.see("strip, sand from P120"),
		s.see("for a customer"),
	)
	s.accessible("what is done about it")
	s.do(
		s.press("Take it back into work"),
		s.see("Look at what came back"),
		s.see("Stand it on edge, both faces free"),
		s.see("Give it back, with its card"),
	)
	s.do(chromedp.Navigate(s.url+"/runs?part=plan"), s.wait(`document.body.textContent.includes("Pruner's board")`))
}

// Somebody new, with a day that comes back, on the list of an occasion until a board is theirs.
func TestWhoHasNoBoardYet(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/runs?part=people"), s.press("Somebody new"), s.field("Name", "the apple sorter"),
		s.press("Add a day that comes back"), s.field("Day that comes back", "the first windfall"),
		s.field("Day and month", "31.2."), s.press("Keep it"), s.see("write it like 06-21"),
		s.field("Day and month", "5/9"), s.press("Keep it"), s.see("the apple sorter, the first windfall"))
	s.accessible("people")
	s.do(s.press("Occasions"), s.see("3 of 6 have none yet"), s.press("The orchard's midsummer supper"),
		s.field("Add somebody by name", "apple"), s.press("the apple sorter"), s.press("Keep it"),
		s.see("4 of 7 have none yet"))
	s.accessible("an occasion")
	s.do(s.press("Make a run for these 4"), s.see("Begin it again"), s.press("Lay out"),
		s.wait(`[...document.querySelectorAll("input")].some((i) => i.value === "the apple sorter")`))
}
