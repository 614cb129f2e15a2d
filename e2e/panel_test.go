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

// panel opens a panel of the rack at one of its parts.
func (s *shop) panel(name, part string) {
	s.t.Helper()
	s.do(chromedp.Navigate(s.url+"/timber"), s.see(name), s.press(name))
	s.do(s.see("All at once"), s.part(part))
}

// species are those of the strips as they are stored.
func species(s *shop) []string {
	s.t.Helper()
	return slab[[]string](s, `p.slab.glue.strips.map((o) => o.species)`)
}

// take takes a construction on the page that compares them.
func (s *shop) take(construction string) Action {
	return s.click(fmt.Sprintf(`document.querySelector('article[aria-label="%s"] button')`, construction))
}

// glueUp opens the page that compares constructions, with a need typed in.
func (s *shop) glueUp(name, woods string) {
	s.t.Helper()
	s.do(
		chromedp.Navigate(s.url+"/timber"), s.press("Glue up a panel"), s.see("Any can be taken"),
		s.field("Name of the panel", name), s.field("Woods of the repeat", woods),
		s.field("Length", "300"), s.field("Width", "150"), s.field("Planks, wide", "48"), chromedp.KeyEvent(kb.Tab),
		s.wait(`[...document.querySelectorAll(".choosing-card")].length === 6`),
	)
}

// From three pieces of the rack to stripes, and to a board with a date that waits for
// them.
func TestStripesFromThreePieces(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.step("Compared and taken", func() {
		s.glueUp("Ferry stripes", "Pear, Robinia")
		s.accessible("glue up")
		for _, piece := range []string{"Pear from the lane", "Robinia fence rail", "Weir plane, first slab"} {
			s.do(s.click(fmt.Sprintf(
				`[...document.querySelectorAll("label")].find((l) => l.textContent.startsWith(%s))`, quote(piece))))
		}
		s.do(s.see("the one to take"), s.take("On edge"), s.see("All at once"))
		s.do(s.wait(`document.querySelectorAll(".strip-list li").length === 7`)) // of 24 each
		assert.Equal(t, []string{"Pear", "Robinia", "London plane"}, species(s)[:3], "by turns")
	})

	s.step("A strip is dragged to another place, and back by undo", func() {
		from, to := s.at(`[data-strip="s1"]`, 0.4, 0.5), s.at(`[data-strip="s3"]`, 0.4, 0.5)
		s.do(
			drag(from, to),
			s.saved(),
			s.wait(`document.querySelectorAll(".strip-line")[2].innerText.includes("Pear")`),
		)
		assert.Equal(t, []string{"Robinia", "London plane", "Pear"}, species(s)[:3])
		s.do(
			s.press("Undo"),
			s.saved(),
			s.wait(`document.querySelectorAll(".strip-line")[0].innerText.includes("Pear")`),
		)
	})

	s.step("Turned, rolled and doubled by keys", func() {
		s.do(
			focus(),
			chromedp.KeyEvent(kb.Escape),
			chromedp.KeyEvent("]"),
			chromedp.KeyEvent("t"),
			chromedp.KeyEvent("r"),
			chromedp.KeyEvent("d"),
			s.wait(`document.querySelectorAll(".strip-list li").length === 8`),
			s.saved(),
		)
		first := slab[map[string]any](s, `p.slab.glue.strips[0]`)
		assert.Equal(t, []any{true, true}, []any{first["turned"], first["flipped"]})
		s.do(
			s.press("Leave it out"), s.wait(`document.querySelectorAll(".strip-list li").length === 7`), s.saved(),
		)
	})

	s.step("What shows when a strip is ripped is marked on it", func() {
		marked := func(n int) Action {
			return s.wait(fmt.Sprintf(`document.querySelectorAll(".found-flaws li").length === %d`, n))
		}
		s.do(
			s.click(`document.querySelector(".strip-line")`), s.click(`document.querySelector(".found-flaws summary")`),
			s.press("Mark it on the strip"), marked(1), s.press("Mark it on the strip"), marked(2),
			s.press("Remove flaw 1"), marked(1), s.press("Mark it on the strip"), marked(2), s.saved(),
		)
		found := slab[[]map[string]any](s, `p.slab.glue.strips[0].flaws.filter((f) => !f.id.startsWith("piece:"))`)
		require.Len(t, found, 2)
		assert.NotEqual(t, found[0]["id"], found[1]["id"], "each is its own for good")
		s.do(s.press("Remove flaw 2"), marked(1), s.press("Remove flaw 1"), marked(0), s.saved())
	})

	s.step("A pattern for all of it", func() {
		s.do(
			s.press("Propose an order"),
			s.saved(),
			s.press("Mirror the left half"),
			s.see("both halves alike"),
			s.saved(),
		)
		woods := species(s)
		for i := range woods {
			assert.Equal(t, woods[i], woods[len(woods)-1-i])
		}
	})

	s.step("The glue-up and its clamps", func() {
		s.do(s.part("Glue-up"), s.see("The panel is planned"), s.see("Close it within"))
		assert.Greater(t, ask[int](s, `document.querySelectorAll(".clamp").length`), 3)
		s.do(
			s.choose("Glue", "PVA, D3"),
			s.verdict("glue", "mind"),
			s.press("Take PVA, D4"),
			s.noVerdict("glue", "mind"),
		)
		s.accessible("clamp-up")
	})

	s.step("Its wood is kept on the rail", func() {
		s.do(s.saved())
		panel := ask[string](s, `location.pathname`)
		s.piece("Robinia fence rail")
		s.do(s.wait(`document.querySelector(".ghost-strip") != null`))
		s.do(chromedp.Navigate(s.url+panel), s.see("All at once"))
	})

	s.step("A board on it, with a date, waits for it", func() {
		s.do(s.press("Lay a board on it"), s.see("Glue"), s.stage("give"))
		s.do(s.date("due", start.Add(40*24*time.Hour).Format(time.DateOnly)), s.saved())
		s.do(s.stage("glue"), s.see("which is planned"))
		first := board[map[string]any](s, `b.reckoning.boards[0].course.steps[0]`)
		require.NotEmpty(t, first["after"])
		s.do(chromedp.Navigate(s.url+"/bench"), s.see("Waiting for a panel"), s.see("Board from Ferry stripes"))
		s.accessible("bench with a panel")
	})
	assert.Empty(t, s.seen(), "nothing went wrong in the page")
}

// A chevron: its lay-ups side by side, its stages drawn, its slices.
func TestAChevronIsDrawnInItsStages(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.panel("Chevron offcut tray", "Strips")
	parts := `document.querySelectorAll("[data-strip]").length`
	whole := ask[int](s, parts)
	s.do(s.press("Stripes"), s.wait(parts+` === 9`), s.press("Cut"),
		s.wait(`document.querySelectorAll(".slice-line").length === 8`))
	s.accessible("chevron")
	s.do(
		s.click(
			`[...document.querySelectorAll(".lay-ups button")].find((l) => l.innerText.includes("Square"))`,
		),
		s.saved(),
		s.wait(`document.querySelectorAll(".slice-line").length === 4`),
		s.press("Glued again"),
		s.wait(fmt.Sprintf(`%s < %d`, parts, whole)),
	)
	change := func(field, to string) { // and wait until the panel follows
		was := s.text(".lay-ups")
		s.do(s.field(field, to), chromedp.KeyEvent(kb.Tab),
			s.wait(fmt.Sprintf(`document.querySelector(".lay-ups").innerText !== %s`, quote(was))), s.saved())
	}
	change("Width of a slice", "30")
	assert.InDelta(t, 30, slab[float64](s, `p.slab.glue.slice`), 1e-9)
	change("Angle to the strips", "60")
	s.do(s.tick("oiled"))
	assert.InDelta(t, 60, slab[float64](s, `p.slab.glue.degrees`), 1e-9)
	s.do(s.press("Evening"))
	s.accessible("chevron in the evening")
	for _, file := range []string{"panel.pdf", "strips.pdf", "outline.svg", "outline.dxf"} {
		path := ask[string](s, `"/api/pieces/" + location.pathname.split("/")[2]`) + "/" + file
		assert.NotEmpty(t, s.download(path), file)
	}
	assert.Empty(t, s.seen())
}

// A core that drains, with fences where they may be.
func TestASlopedCore(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.glueUp("Draining core", "Robinia")
	s.do(s.take("On edge"), s.see("More than strips"), s.tick("A sloped core, so that it drains"),
		s.verdict("drains", "good"), s.saved())
	s.do(s.tick("A fence across the high end too"), s.verdict("fence crosses", "stop"))
	s.do(s.press("Fences along both sides only"), s.noVerdict("fence crosses", "stop"), s.saved())
	assert.Nil(t, slab[any](s, `p.slab.glue.slope.upper || null`))
	s.do(s.field("Drops by", "2"), chromedp.KeyEvent(kb.Tab), s.verdict("drains", "mind"))
	s.do(s.click(`[...document.querySelectorAll(".remedies button")].find((b) => b.innerText.startsWith("Drop by"))`),
		s.verdict("drains", "good"), s.saved())
	s.do(s.part("Glue-up"), s.see("Sand the slope"), s.see("Glue the fences on"))
	assert.Empty(t, s.seen())
}

// On a phone at the clamps: the open time counts down, and the clamps after.
func TestAPhoneAtTheClamps(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	tray := ask[string](s, `fetch("/api/pieces?q=chevron").then((r) => r.json()).then((l) => l.items[0].id)`)
	for _, step := range []string{"clean", "rip", "joint", "plane-parts", "number", "dry-fit", "ready"} {
		require.Equal(t, 200, ask[int](s, fmt.Sprintf(`fetch("/api/pieces/%s/log", { method: "POST",
			headers: { "Content-Type": "application/json" },
			body: JSON.stringify({ step: %q, event: "finish", minutes: 5 }) }).then((r) => r.status)`, tray, step)))
	}
	s.do(chromedp.Navigate(s.url+"/bench"), s.see("Chevron offcut tray"))
	card := `[...document.querySelectorAll('[data-card="glue-1"]')].find((c) => c.innerText.includes("Chevron"))`
	s.do(s.click(card+`.querySelector(".bench-do button")`), s.wait(card+`?.dataset.state === "running"`),
		s.wait(card+`.querySelector(".open-time")?.innerText.includes("Open for 7:")`),
		s.wait(card+`.querySelectorAll(".clamp").length === 6`))
	s.fits("bench at the clamps")
	s.thumb("bench at the clamps")
	s.accessible("bench at the clamps")
	s.later(9 * time.Minute)
	s.do(chromedp.Navigate(s.url+"/bench"), s.see("The open time is over"))
	s.do(s.click(`[...`+card+`.querySelectorAll("button")].find((b) => b.innerText === "Finish")`),
		s.press("Write it down"), s.wait(`document.querySelector('[data-wait="glue-1"]') != null`), s.see("in clamps"))
	s.do(chromedp.Navigate(s.url+"/timber/"+tray+"?part=clamps"), s.see("The panel is in clamps"))
	s.fits("panel on a phone")
	s.thumb("panel on a phone")
	s.do(s.part("Strips"), s.see("All at once"))
	s.fits("strips on a phone")
	s.thumb("strips on a phone")
	assert.Empty(t, s.seen())
}
