package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// makeRun makes a run of the first boards, at the place of runs.
func (s *shop) makeRun(name string, boards int) {
	s.t.Helper()
	s.do(chromedp.Navigate(s.url+"/runs"), s.see("New run"),
		s.wait(fmt.Sprintf(`document.querySelectorAll(".choose-boards input").length >= %d`, boards)),
		s.field("Name", name))
	for i := range boards {
		s.do(s.click(fmt.Sprintf(`document.querySelectorAll(".choose-boards input")[%d]`, i)))
	}
	s.do(s.press("Make the run"), s.wait(`document.querySelector("[data-operation]") !== null`))
}

// doneOperation is an operation that is done on several boards, by what it is called in the list.
const doneOperation = `(() => {
	for (const o of [...document.querySelectorAll(".matrix-pick option")].map((o) => o.value)) {
		const at = [...document.querySelectorAll(".matrix-pick option")].findIndex((x) => x.value === o);
		const cells = [...document.querySelectorAll("tbody tr")].map((r) => r.children[at + 1])
			.filter((c) => c?.querySelector(".cell-done"));
		if (cells.length > 1) return o;
	}
	return "";
})()`

// The matrix at the phone: one operation at a time, finished on some boards by one press, also without a signal.
func TestTheMatrixAtThePhone(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.installed()
	s.makeRun("Those of the gate", 6)
	s.accessible("a run at the phone")
	key := ask[string](s, doneOperation)
	require.NotEmpty(t, key)
	choose := func() {
		s.do(
			s.wait(`document.querySelector(".matrix-pick select") !== null`),
			run(fmt.Sprintf(`(() => { const e = document.querySelector(".matrix-pick select");
				Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(e, %s);
				e.dispatchEvent(new Event("change", { bubbles: true })); })()`, quote(key))),
			s.wait(fmt.Sprintf(`document.querySelector("[data-operation]").dataset.operation === %s`, quote(key))),
		)
	}
	choose()
	// Taken back on all of them, and finished again on all but one.
	back := `[...document.querySelectorAll("[data-operation] li button")]
		.find((b) => b.innerText === "Not finished after all")`
	for ask[bool](s, back+` !== undefined`) {
		n := ask[int](s, `document.querySelectorAll("[data-operation] li button").length`)
		s.do(
			s.click(back),
			s.wait(fmt.Sprintf(`document.querySelectorAll("[data-operation] li button").length < %d`, n)),
			s.wait(allSent),
		)
	}
	s.do(chromedp.Reload()) // so that all is told by the server
	choose()
	before := s.clock.Now()
	s.later(time.Minute)
	ready := `[...document.querySelectorAll("[data-operation] li")].filter((l) => l.querySelector("input"))`
	n := ask[int](s, ready+`.length`)
	s.do(s.click(ready+`[0].querySelector("label")`), s.see(fmt.Sprintf("Finish %d board", n-1)))
	s.gone()
	s.do(s.press(fmt.Sprintf("Finish %d board", n-1)),
		s.wait(fmt.Sprintf(`%s.length === 1`, ready)), s.see("The server is away"),
		chromedp.Reload(), s.see("The server is away"), s.wait(`document.querySelector("[data-operation]") !== null`))
	s.back()
	s.do(s.wait(allSent))
	got := s.logged(before)
	require.Len(t, got, n-1)
	minutes := 0.0
	for _, e := range got {
		assert.Equal(t, "finish", e.Event)
		minutes += e.Minutes
	}
	assert.Positive(t, minutes)
}

// The plan at the laptop: all work on the calendar, a better order looked for, a step taken to another day by the
// keyboard and by the pointer, what that costs told, and let go.
func TestThePlanAtTheLaptop(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/runs?part=plan"), s.see("The last one is ready"),
		s.see("In the best order that was found"), s.see("What would help"))
	s.accessible("the plan")
	s.do(s.press("Look for a better order"), s.see("Looking"), s.see("Look for a better order"))
	last := `[...document.querySelectorAll(".plan-days g > g .hands")].at(-1)`
	name := ask[string](s, last+`.getAttribute("aria-label")`)
	s.do(run(last+`.focus()`), chromedp.KeyEvent("\r"), s.see("Locked to"))
	s.do(run(last+`.focus()`), chromedp.KeyEvent(kb.ArrowRight), s.see("The days that steps are locked to"),
		s.wait(`document.querySelector(".hands.pinned") !== null`))
	assert.NotEqual(t, name, ask[string](s, `document.querySelector(".hands.pinned").getAttribute("aria-label")`))
	s.do(s.press("Let it go"), s.wait(`document.querySelector(".hands.pinned") === null`))
	s.do(s.press("In your calendar"), s.press("Give the plan an address"), s.see("/api/calendar/"),
		s.press("Take it away"), s.wait(`!document.body.innerText.includes("/api/calendar/")`))
}

// Ten boards from three slabs by one date: people with their days, a shape, places found by the search, laid, dealt,
// and all of them in the matrix.
func TestTenBoardsFromThreeSlabs(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	for i, length := range []int{980, 900, 860} {
		require.Equal(t, 200, ask[int](s, fmt.Sprintf(`fetch("/api/pieces/sized", { method: "POST",
			headers: { "Content-Type": "application/json" }, body: JSON.stringify({ name: "Supper slab %d",
				species: "Pear", stock: "plank", length: %d, width: 380, thickness: 30, reclaimed: false }) })
			.then((r) => r.status)`, i+1, length)))
	}
	s.do(
		chromedp.Navigate(s.url+"/runs"), s.field("Name", "Orchard supper"), s.press("Make the run"),
		s.see("Begin it again"), s.press("Lay out"), s.see("Nobody waits for one"),
		s.field("More of them", "Ida 2031-06-20\nJon\nAda 2031-06-10\nBea\nCem\nDea\nEli\nFay\nGus\nHal"),
		s.press("Add them"), s.wait(`document.querySelectorAll(".people li").length === 10`),
		s.press("Choose a shape"), s.wait(`document.querySelector(".design-line select") !== null`),
		s.wait(`document.querySelector(".design-line select").options.length > 5`),
	)
	ladder := ask[string](s, `[...document.querySelector(".design-line select").options]
		.find((o) => o.text.startsWith("Ladder")).value`)
	s.do(
		s.choose("Like", ladder), s.field("How many", "10"),
		s.saved(),
	)
	for _, name := range []string{"Supper slab 1", "Supper slab 2", "Supper slab 3"} {
		s.do(s.click(fmt.Sprintf(`[...document.querySelectorAll(".choose-boards label")]
			.find((l) => l.innerText.trim().startsWith(%q))`, name)))
	}
	s.do(s.saved(), s.press("Look for places"), s.see("Where they find room"), s.see("10 boards find room"))
	s.accessible("laying a run")
	laid := ask[int](s, `document.querySelectorAll(".spread .laid").length`)
	require.GreaterOrEqual(t, laid, 8)
	s.do(s.press(fmt.Sprintf("Lay these %d boards", laid)), s.click(`document.getElementById("part-boards")`),
		s.wait(fmt.Sprintf(`document.querySelectorAll(".run-boards li").length === %d`, laid)), s.see("for Ada"),
		s.press("Matrix"), s.see("Saved by setting up once"))
	assert.Equal(t, laid, ask[int](s, `new Set([...document.querySelectorAll(".matrix a[href^='/boards/']")]
		.map((a) => a.getAttribute("href"))).size`))
}

// How a machine is set is kept by a name for an operation of a run, told at the bench, and gone when it is taken out;
// an evening's order is changed and given back to the plan.
func TestASetUpAndAnOrderOfOnesOwn(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/runs"), s.press("Midsummer supper"), s.see("Saved by setting up once"),
		s.click(`document.querySelector(".setup summary")`), s.press("Keep how it is set"),
		s.field("Name", "Long stop"), s.field("Stop", "312"), s.choose("Stop from", "butt"), s.press("Keep it"),
		s.see("stop at 312 mm from the butt end"), s.saved())
	s.accessible("a set-up")
	s.do(s.press("Bench"), s.see("Set as Long stop: stop at 312 mm from the butt end"),
		s.see("In this session"))
	order := `[...document.querySelectorAll(".turns li strong")].map((e) => e.innerText).join()`
	was := ask[string](s, order)
	s.do(s.click(`[...document.querySelectorAll(".turn-move button:enabled")].find((b) => b.innerText === "↓")`),
		s.see("Let the plan decide the order"), s.wait(order+` !== `+quote(was)))
	s.accessible("an order of one's own")
	s.do(s.press("Let the plan decide the order"), s.wait(order+` === `+quote(was)))
	s.do(s.press("Runs"), s.press("Midsummer supper"), s.see("Set-up: Long stop"),
		s.click(`document.querySelector(".setup .remove")`),
		s.wait(`!document.body.innerText.includes("Long stop")`))
}

// What another page changes is seen without asking, at whichever process; what is being worked at stays.
func TestAPageFollowsAnother(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	id := ofBoard[string](s, "Wasp", "b.id")
	s.do(chromedp.Navigate(s.url+"/boards"), s.see("Wasp catcher's board"),
		s.wait(`performance.getEntriesByType("resource").some((e) => e.name.includes("/assets/news-"))`))
	rename := fmt.Sprintf(`fetch("/api/boards/%s").then((r) => r.json()).then((b) => fetch("/api/boards/%s", {
		method: "PUT", headers: {"Content-Type": "application/json"},
		body: JSON.stringify({version: b.version, board: {...b.board, name: "Renamed at the phone"}})}))
		.then((r) => r.status)`,
		id, id)
	assert.Equal(t, 200, ask[int](s, rename))
	s.do(s.see("Renamed at the phone"))
}
