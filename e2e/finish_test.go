package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// stepsOf are the keys of a board's steps, as the server plans them.
func (s *shop) stepsOf(name string) []string {
	s.t.Helper()
	return ask[[]string](s, fmt.Sprintf(`(async (name) => {
		const get = (path) => fetch(path).then((r) => r.json());
		const id = (await get("/api/boards")).items.find((b) => b.name.startsWith(name)).id;
		return (await get("/api/boards/" + id)).reckoning.boards[0].course.steps.map((s) => s.key);
	})(%s)`, quote(name)))
}

// A finish is edited as a list, kept under a name, and taken for another board; the chooser ranks what
// there is by what matters.
func TestAFinishIsEditedAndChosen(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.step("edit", func() {
		s.sheet("Gatekeepers", "finish")
		s.do(s.press("1. oil"), s.choose("Rubbed before what comes next", "1200"), s.see("rubbed with P1200"),
			s.press("Add a coat"), s.choose("Product", "hard wax"), s.see("Something comes on wax"),
			s.press("Put the paste on last"), s.wait(`!document.body.innerText.includes("Something comes on wax")`),
			s.saved())
		assert.Contains(t, s.stepsOf("Gatekeepers"), "rub-1")
		s.accessible("A finish as a list")
	})
	s.step("keep", func() {
		s.do(s.field("Keep it as", "Silky gate"), s.press("Keep it"), s.see("Kept with your finishes"), s.saved())
		s.sheet("Kitchen", "finish")
		s.do(s.choose("As", "own Silky gate"), s.see("rubbed with P1200"), s.saved())
		assert.Contains(t, s.stepsOf("Kitchen"), "rub-1")
	})
	s.step("choose", func() {
		s.do(s.press("Which finish for this board?"), s.press("washed often 3"), s.see("for it: washed often"),
			s.press("ready soon 3"), s.see("against it: ready soon"))
		first := `document.querySelector(".options tbody tr button").innerText`
		s.do(s.press("silky 3"), s.wait(`document.querySelectorAll(".options tbody tr").length > 12`))
		name := ask[string](s, first)
		s.do(s.click(`document.querySelector(".options tbody tr button")`),
			s.wait(`document.querySelector(".options tr.is-open button")?.innerText === `+quote(name)), s.saved())
		s.accessible("The chooser")
		s.fits("The chooser")
	})
}

// Each surface is set by itself, and the grain is raised where one wants it.
func TestSurfacesAreSetByThemselves(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "sand")
	s.do(s.wait(`document.querySelectorAll(".sanded path").length > 3`))
	s.step("by itself", func() {
		s.do(s.press("edges"), s.choose("With", "card scraper"), s.see("A fresh burr"), s.saved(),
			s.wait(`document.querySelector(".surfaces th .facts")`), s.press("Sand it like the board"), s.saved(),
			s.wait(`document.querySelector(".surfaces th .facts") == null`))
	})
	s.step("raise", func() {
		s.do(s.press("twice"), s.saved())
		wets := func() (n int) {
			for _, k := range s.stepsOf("Kitchen") {
				if len(k) > 6 && k[:6] == "raise-" {
					n++
				}
			}
			return n
		}
		assert.Equal(t, 2, wets())
		s.do(s.click(`[...document.querySelectorAll('[aria-label="Wetted after"] button')].at(-1)`), s.saved(),
			s.see("After the last grit it is sanded once more"))
		assert.Equal(t, 3, wets())
		assert.Contains(t, s.stepsOf("Kitchen"), "sand-220-again")
	})
	s.accessible("Sanding")
}

// The phone at the rack of drying boards: a board between coats has had enough, or not; the soak of
// another is over, and rings.
func TestTheRackOfDryingBoards(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.step("a look decides", func() {
		s.do(s.inCard("wipe-2", "Dry again: another coat"),
			s.wait(`document.querySelector('[data-wait="wipe-2"] [aria-pressed=true]')`),
			s.inCard("wipe-2", "Take the last note back"),
			s.wait(`document.querySelector('[data-wait="wipe-2"] [aria-pressed=true]') == null`))
		s.thumb("the rack")
		s.accessible("The rack of drying boards")
	})
	s.step("it has enough", func() {
		s.do(s.inCard("wipe-2", "Still wet: it has enough"), s.wait(`document.querySelector('[data-card="fit"]')`))
		assert.NotContains(t, s.stepsOf("Pickers"), "coat-3")
		s.do(
			s.inCard("fit", "Take it back"),
			s.inCard("wipe-2", "Finish"),
			s.see("Minutes it took"),
			s.click(
				`document.querySelector('[data-card="wipe-2"] .bench-do [type=submit]')`,
			),
			s.see("Then: Coat 3: oil"),
		)
	})
	s.step("a coat with its soak", func() {
		s.later(50 * time.Hour) // Thursday evening
		s.do(
			chromedp.Reload(),
			s.inCard("coat-3", "Start"),
			s.field("Put on", "3.5"),
			s.inCard("coat-3", "Write it down"),
			s.see("the next plan goes by it"),
			s.inCard("coat-3", "Finish"),
			s.see("Minutes it took"),
			s.click(
				`document.querySelector('[data-card="coat-3"] .bench-do [type=submit]')`,
			),
			s.wait(`document.querySelector('[data-wait="coat-3"]')`),
			s.see("oil to soak in"),
		)
	})
	s.step("it rings", func() {
		s.later(2*time.Hour + time.Minute)
		s.do(chromedp.Reload(), s.see("Now: oil to soak in is over"),
			s.wait(`document.querySelector("#next + [data-card]")?.dataset.card === "wipe-3"`))
	})
}

// A board to be stained stands wet: scratches are marked where they show, and its colour ends the wait.
func TestTheWetBoardIsLookedAt(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.step("corners", func() {
		s.upTo("Boatman", "sand-80")
		s.later(48 * time.Hour)
		s.do(
			chromedp.Navigate(s.url+"/bench"),
			s.inCard("sand-80", "Start"),
			s.see("Thickness, far left"),
			s.field(
				"Thickness, far left",
				"20.4",
			),
			s.inCard("sand-80", "Write it down"),
			s.see("Thickness, far right"),
		)
		// Without a signal one goes on, and nothing is lost.
		s.gone()
		s.do(
			s.field("Thickness, far right", "20.9"), s.inCard("sand-80", "Write it down"),
			s.see("Thickness, handle left"),
		)
		s.back()
		s.do(s.see("far right: 20.9 mm"))
	})
	s.step("scratches", func() {
		s.upTo("Boatman", "raise-80")
		s.later(time.Minute)
		s.do(
			chromedp.Reload(),
			s.inCard("raise-80", "Start"),
			s.see("Press where a scratch shows"),
			s.inCard("raise-80", "The other face is better"),
			s.wait(
				`document.querySelector('[data-card="raise-80"] [aria-label="The face to show"] [aria-pressed=true]')`,
			),
		)
		p := s.at(".pour-picture", 0.4, 0.5)
		s.do(press(p), release(p), s.see("One place is marked"))
		s.upTo("Boatman", "sand-120")
		s.do(
			chromedp.Reload(),
			s.inCard("raise-80", "Its own colour is back"),
			s.wait(
				`document.querySelector('[data-wait="raise-80"]') == null`,
			),
			s.wait(`document.querySelector('[data-card="sand-120"]')`),
		)
	})
	s.do(chromedp.Navigate(s.url+"/logbook"), s.see("its own colour is back"), s.see("a missed scratch"))
}

// A trial at the sink: a round is scored with the thumb, its page is closed halfway and opened again,
// and what it tells is drawn.
func TestATrialAtTheSink(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/logbook"), s.press("Trials"), s.press("Two pastes"), s.see("not told apart yet"),
		s.press("Score a round"), s.see("Round 10"))
	marks := ask[int](s, `document.querySelectorAll(".sample-score").length`)
	assert.Equal(t, 3, marks)
	assert.False(
		t,
		ask[bool](s, `document.querySelector(".trial-round").innerText.includes("3 to 1")`),
		"it is blind",
	)
	score := func(mark, measure, points string) Action {
		return s.click(fmt.Sprintf(`document.querySelector('[aria-label="%s: %s"] [aria-label="%s %s"]')`,
			mark, measure, measure, points))
	}
	s.do(score("hole", "beads", "3"), score("clipped corner", "beads", "4"))
	s.thumb("the round")
	s.accessible("A round at the sink")
	s.fits("A round at the sink")
	s.do(chromedp.Reload(), s.wait(`document.querySelectorAll(".score-point.is-on").length === 2`),
		score("plain", "beads", "0"), s.press("Write the round down"), s.see("What it tells"), s.saved(),
		s.wait(`document.querySelectorAll(".curve-1 circle").length === 10`))
	s.accessible("What a trial tells")
	csv := s.download("Scores, CSV")
	assert.NotEmpty(t, csv)
}

// What a product costs at the shop is what the chooser reckons with; a finish that was kept is let go of
// there.
func TestFinishesAtTheShop(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	cost := func() string {
		return ask[string](s, `[...document.querySelectorAll(".options tbody tr")]
			.find((r) => r.querySelector("button").innerText === "oil").children[4].innerText`)
	}
	s.sheet("Kitchen", "finish")
	s.do(s.press("1. hard wax"), s.choose("Rubbed before what comes next", "320"), s.field("Keep it as", "My wax"),
		s.press("Keep it"), s.see("Kept with your finishes"), s.saved(),
		s.press("Which finish for this board?"), s.wait(`document.querySelector(".options tbody tr")`))
	was := cost()
	s.do(chromedp.Navigate(s.url+"/shop?part=drawers"), s.see("My wax"), s.field("oil", "120"),
		chromedp.KeyEvent(kb.Tab), s.saved(), s.press("Remove My wax"),
		s.wait(`!document.body.innerText.includes("My wax")`), s.saved())
	s.sheet("Kitchen", "finish")
	s.do(s.press("Which finish for this board?"), s.wait(`document.querySelector(".options tbody tr")`))
	assert.NotEqual(t, was, cost())
	s.accessible("The chooser at other prices")
}
