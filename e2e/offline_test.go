package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/demo"
	"idletimber/store"
)

// gone takes the server away, and back brings it again.
func (s *shop) gone() { s.away.gone.Store(true) }
func (s *shop) back() { s.away.gone.Store(false) }

// What is pressed and typed while the server is away is kept with its own time,
// said, and sent; a page that is opened anew knows it still.
func TestWhatIsDoneWhileTheServerIsAway(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	card := `document.querySelector("[data-card]")`
	s.do(s.see("Next"), s.wait(card+" !== null"))
	key := ask[string](s, card+`.dataset.card`)
	title := ask[string](s, card+`.querySelector(".step-title").textContent`)
	s.gone()
	s.do(
		s.click(`document.querySelector('[data-card="`+key+`"] .bench-do button:last-child')`),
		s.field("Minutes it took", "9"),
		s.press("Write it down"),
		s.see("kept on this device"),
		s.see(title+", finished"),
		s.see("The server is away"),
		s.see("Done before: "+title), // shown as it will stand
	)
	pressed := s.clock.Now()
	s.later(3 * time.Hour)
	s.back()
	s.do(
		chromedp.Navigate(s.url+"/logbook"), // the page is opened anew, at another place
		s.see("9 min, about"),
		chromedp.Navigate(s.url+"/bench"),
		s.see("Done before: "+title),
		s.wait(`document.querySelector(".kept") === null`),
	)
	a, err := s.store.AccountByEmail(s.ctx, demo.Email)
	require.NoError(t, err)
	log, err := s.store.Log(s.ctx, a.Workshop, store.Wished{Most: 1})
	require.NoError(t, err)
	require.Len(t, log, 1)
	assert.Equal(t, 9.0, log[0].Minutes)
	assert.WithinDuration(t, pressed, log[0].At, 2*time.Minute, "with the time at which it was pressed")
}

func TestALengthTypedWhileTheServerIsAway(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "layout")
	s.do(s.saved())
	s.gone()
	s.do(
		s.field("Length", "311"),
		s.see("Kept here until the server is back"),
		s.wait(`document.querySelector("[data-save]").dataset.save !== "saved"`),
	)
	s.back()
	s.do(
		s.wait(`document.querySelector(".wrong") === null`),
		s.saved(),
		s.see("311"),
	)
	s.gone()
	s.do(
		s.field("Length", "322"),
		s.see("Kept here until the server is back"),
		// Leaving is warned of, and what was typed is there when the page comes back.
		s.wait(`(() => { const e = new Event("beforeunload", { cancelable: true }); window.dispatchEvent(e);
			return e.defaultPrevented; })()`),
	)
	s.back()
	s.do(
		chromedp.Reload(),
		s.saved(),
		s.wait(`document.querySelector('[name="board-length"]')?.value.startsWith("322")`),
	)
}

// What was changed and could not be stored is there when its page is opened again,
// though it was closed in spite of the warning; another change made meanwhile stays.
func TestAClosedPageKeepsItsChange(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "give")
	s.do(s.saved())
	url := ask[string](s, `location.pathname + location.search`)
	s.gone()
	s.do(
		s.field("For whom", "the gatekeepers"),
		s.wait(`document.querySelector("[data-save]").dataset.save === "away"`),
		chromedp.Navigate("about:blank"),
	)
	s.back()
	s.do(
		chromedp.Navigate(s.url+"/bench"),
		s.see("A change that was not stored is kept on this device"),
		s.click(`document.querySelector(".away-mark a")`),
		s.saved(),
		s.wait(`document.querySelector(".away-mark") === null`),
		chromedp.Navigate(s.url+url),
		s.saved(),
		s.wait(`[...document.querySelectorAll("input")].some((i) => i.value === "the gatekeepers")`),
		chromedp.Reload(),
		s.saved(),
		s.wait(`[...document.querySelectorAll("input")].some((i) => i.value === "the gatekeepers")`),
	)
	assert.Zero(t, ask[int](s, `Object.keys(localStorage).filter((k) => k.includes("unsaved")).length`))
}

// A place that was not opened before is there when the server is not, or as soon as it
// is back; the rail stays.
func TestPlacesWhileTheServerIsAway(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(s.see("Next"))
	s.gone() // before the other places were loaded
	s.do(s.press("Logbook"), s.see("The server is away"))
	s.back()
	loaded := func(place string) string {
		return `performance.getEntriesByType("resource")
			.some((r) => r.name.includes("/` + place + `-") && r.responseEnd)`
	}
	s.do(s.see("Logbook"), s.wait(`document.querySelector(".away-mark") === null`), s.wait(loaded("Shop")))
	s.gone()
	for _, place := range []string{"Timber", "Boards", "Logbook", "Shop", "Bench"} {
		s.do(
			s.press(place),
			s.wait(fmt.Sprintf(`location.pathname === "/%s"`, map[string]string{"Timber": "timber", "Boards": "boards",
				"Logbook": "logbook", "Shop": "shop", "Bench": "bench"}[place])),
			s.see("The server is away"),
			s.wait(`document.querySelector("nav.rail") !== null`),
		)
	}
	s.back()
	s.do(s.press("Boards"), s.see("Ladder"), s.wait(`document.querySelector(".away-mark") === null`))
}

// The stages are in the browser's history and in the tab's title, the focus stays on
// the drawing whichever key changes the stage, and what was changed can be undone after
// the sheet was left.
func TestStagesTitlesAndUndo(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Ladder", "layout")
	active := func(stage string) Action {
		return s.wait(`document.querySelector('[data-stage="` + stage + `"]').classList.contains("is-active")`)
	}
	drawing := `document.activeElement?.matches(".work-wood svg[tabindex]")`
	s.do(
		s.wait(`document.title.startsWith("Ladder crew's cheese board, Lay out · Boards")`),
		run(`document.querySelector(".work-wood svg[tabindex]").focus()`),
		chromedp.KeyEvent("6"), active("shape"), s.wait(drawing),
		chromedp.KeyEvent("7"), active("sand"), s.wait(drawing),
		chromedp.KeyEvent("2"), active("layout"), s.wait(drawing),
		s.wait(`document.title.includes("Lay out")`),
		run(`history.back()`), active("sand"),
		run(`history.back()`), active("shape"),
	)
	length := `document.querySelector('[name="board-length"]').value`
	s.sheet("Ladder", "layout")
	before := ask[string](s, length)
	s.do(s.field("Length", "288"), s.saved(), s.press("Boards"), s.see("Gatekeepers"))
	s.do(s.press("Ladder"), s.wait(`document.querySelector('[name="board-length"]')?.value.startsWith("288")`))
	s.do(s.press("Undo"), s.wait(length+` === `+quote(before)), s.saved())
}
