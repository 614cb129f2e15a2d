package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// owns tells how many tools the stored shop owns, of all kinds or of one.
func owns(s *shop, kind string) int {
	s.t.Helper()
	return ask[int](s, fmt.Sprintf(`fetch("/api/shop").then((r) => r.json())
		.then((j) => j.shop.tools.filter((t) => %[1]s === "" || t.kind === %[1]s).length)`, quote(kind)))
}

// A beginner who owns a jigsaw and little else goes from a slab to a plan: every cut has
// its tool, and what nothing makes is said so.
func TestABeginnersShop(t *testing.T) {
	s := open(t, 1280, 800)
	s.do(
		chromedp.Navigate(s.url), s.press("New here"), s.field("E-mail", "beginner@example.org"),
		s.field("Password", "amber weir lattice"), s.press("Open a workshop"), s.see("Nothing is in work"),
	)
	s.step("A starter shop, then what is not there is taken out", func() {
		s.do(s.press("Which tools do you own"), s.see("Which shop is most like yours"))
		s.accessible("starter shops")
		s.do(s.press("Begin with hand tools"), s.saved(), s.see("Add band saw"))
		for _, kind := range []string{"hand plane", "orbital sander", "gouge", "drawknife", "spokeshave", "fretsaw"} {
			s.do(s.press("Remove "+kind), s.saved())
		}
		assert.Zero(t, owns(s, "hand plane"))
		assert.Equal(t, 1, owns(s, "jigsaw"))
		s.accessible("tools")
	})
	s.step("A slab, and a board laid on it", func() {
		s.do(
			s.press("Timber"), s.press("Add a piece"), s.field("Name of the piece", "Plank"),
			s.field("Species of the piece", "Pear"), s.press("Put it on the rack"),
			s.wait(`!document.querySelector(".modal")`), s.saved(),
			s.press("Lay a board on it"), s.see("Cutting it out"), s.see("checks clear of the limit"),
		)
		assert.Equal(t, "jigsaw", ask[string](s,
			`[...document.querySelectorAll("label")].find((l) => l.textContent === "Outline with").control.value`))
		s.do(
			s.choose("Shape", "paddle"),
			s.choose("Handle", "hole"),
			s.field("Diameter", "25"),
			chromedp.KeyEvent(kb.Tab),
			s.saved(),
		)
	})
	s.step("Who makes what", func() {
		s.do(s.stage("flatten"), s.see("outside shop"), s.stage("shape"), s.part("Cut"), s.see("Who makes what"))
		s.do(s.wait(`[...document.querySelectorAll(".makers li")].some((l) => l.innerText.includes("drill guide"))`))
		s.do(
			s.wait(
				`[...document.querySelectorAll(".makers li")].some((l) => l.innerText.includes("not owned: band saw"))
			|| document.body.innerText.includes("One more tool on this board")`,
			),
		)
	})
	s.step("The plan has its steps and a date", func() {
		s.do(s.stage("give"), s.see("Ready"))
		assert.NotEmpty(t, s.text(".stick"))
	})
}

// Pulls are marked and drilled: with a stop, from a named end and side, on the drawing, at
// the bench and in the stored board.
func TestPullsAreMarkedAndDrilled(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "fit")
	s.do(s.tick("Pulls screwed on"), s.see("Marks"))
	s.step("The pulls are drawn as they are", func() {
		s.do(s.wait(`document.querySelectorAll(".fitting-shape").length === 2`))
		s.do(s.field("Long over all", "130"), chromedp.KeyEvent(kb.Tab), s.saved())
	})
	s.step("Marks from one end and one side, each with its stop", func() {
		s.do(s.choose("Marks from", "far end"), s.choose("and from", "left side"), s.saved(),
			s.wait(`[...document.querySelectorAll(".rungs tbody tr")].length === 4`),
			s.wait(`[...document.querySelectorAll(".rungs tbody tr")].every((r) =>
				r.innerText.includes("from the far end") && r.innerText.includes("from the left side")
				&& r.innerText.includes("stop at"))`))
		s.accessible("fit")
	})
	s.step("They are kept by a name, and taken on another board", func() {
		s.do(s.field("Kept as", "long black"), s.saved(), s.press("Keep it"),
			s.wait(`[...document.querySelectorAll("label")].some((l) => l.textContent === "Pulls that you keep")`))
		s.sheet("Ladder", "fit")
		s.do(s.tick("Pulls screwed on"), s.choose("Pulls that you keep", "long black"), s.saved(),
			s.wait(`[...document.querySelectorAll("label")].find((l) => l.textContent.startsWith("Long over all"))
				.control.value === "130 mm"`))
		s.sheet("Kitchen", "fit")
	})
	s.step("Before the finish", func() {
		s.do(s.choose("Fitted", "before"), s.saved())
		keys := ask[[]string](s, `fetch("/api/boards/"+location.pathname.split("/").pop()).then((r) => r.json())
			.then((j) => j.reckoning.boards[0].course.steps.map((o) => o.key))`)
		place := map[string]int{}
		for i, k := range keys {
			place[k] = i
		}
		require.Contains(t, place, "fit")
		assert.Less(t, place["fit"], place["coat-1"])
	})
}

// A slicer kit in thin stock is kept by its name and taken again on another board.
func TestASlicerKitInThinStock(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "flatten")
	s.do(s.field("Wanted in the end", "12.7"), chromedp.KeyEvent(kb.Tab), s.saved())
	s.do(s.stage("shape"), s.part("Edges"), s.choose("Profile", "none"), s.saved(), // a round-over would meet the bore
		s.verdict("edge-break", "mind"))
	s.do(
		s.stage("fit"), s.tick("A wire slicer"), s.field("Below the show face", "6.35"), chromedp.KeyEvent(kb.Tab),
		s.field("Bore's depth", "50"), chromedp.KeyEvent(kb.Tab), s.saved(),
		s.verdict("slicer-bore", "mind"), s.noVerdict("slicer-bore", "stop"),
		s.field("Kept as", "short arm"), s.saved(), s.press("Keep it"),
		s.wait(`[...document.querySelectorAll("label")].some((l) => l.textContent === "A kit that you keep")`),
	)
	s.step("Taken on another board", func() {
		s.sheet("Ladder", "fit")
		s.do(s.tick("A wire slicer"), s.choose("A kit that you keep", "short arm"), s.saved(),
			s.wait(`[...document.querySelectorAll("label")].find((l) => l.textContent === "Bore's depth")
				.control.value === "50 mm"`))
	})
}

// A round plate with a sunken foot: a ring in its under face, cut with a circle jig.
func TestARoundPlateWithASunkenFoot(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(
		s.choose("Shape", "circle"), s.field("Diameter", "140"), chromedp.KeyEvent(kb.Tab), s.saved(),
		s.part("Recesses"), s.press("+ Sunken ring"), s.see("Sunken ring 1"), s.tick("In the under face"), s.saved(),
		s.see("circle jig at"),
	)
	s.do(s.wait(`document.querySelectorAll(".dimension").length >= 4`), s.noVerdict("recess-floor", "stop"))
	s.accessible("recesses")
}
