package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// upTo finishes the steps of a board before the one with a key.
func (s *shop) upTo(name, key string) {
	s.t.Helper()
	ask[string](s, fmt.Sprintf(`(async (name, key) => {
		const get = (path) => fetch(path).then((r) => r.json());
		const id = (await get("/api/boards")).items.find((b) => b.name.startsWith(name)).id;
		const post = (body) => fetch("/api/boards/" + id + "/log", { method: "POST", body: JSON.stringify(body),
			headers: { "Content-Type": "application/json" } });
		for (const step of (await get("/api/boards/" + id)).reckoning.boards[0].course.steps) {
			if (step.key === key) return id;
			if (step.state !== "done") await post({ step: step.key, event: "finish", minutes: 5 });
		}
		return "";
	})(%s, %s)`, quote(name), quote(key)))
}

// inCard presses a button of the card of a step.
func (s *shop) inCard(key, name string) Action {
	return s.click(fmt.Sprintf(
		`[...(document.querySelector('[data-card=%q], [data-wait=%q]')?.querySelectorAll("button") ?? [])]
			.find((b) => b.innerText.trim().startsWith(%s) && !b.disabled)`, key, key, quote(name)))
}

// phase waits until a pour has come so far.
func (s *shop) phase(name string) Action {
	return s.wait(fmt.Sprintf(`document.querySelector('.pour-card[data-phase=%q]') != null`, name))
}

// A crack is filled with blue resin: coloured at the sheet, weighed on the phone at the scale, which
// goes away and comes back to the same place, watched, and looked at in three rounds until no
// pinholes are left.
func TestACrackWithBlueResin(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.step("colour", func() {
		s.sheet("Gatekeepers", "fill")
		s.do(s.choose("Colour", "opaque"), s.see("pigment, last"), s.saved(),
			s.wait(`[...document.querySelectorAll(".flaw-filled")].some((f) => f.style.fill.includes("color-mix"))`))
		s.fits("Fill on the phone")
	})
	s.step("dry run", func() {
		s.upTo("Gatekeepers", "dam")
		s.later(24 * time.Hour)
		s.do(chromedp.Navigate(s.url+"/bench"), s.inCard("dam", "Start"), s.see("It leaks at 1"),
			s.press("It leaks at 1"), s.see("One place leaks"), s.press("Take the last note back"),
			s.wait(`!document.body.innerText.includes("One place leaks")`))
		p := s.at(".pour-picture", 0.5, 0.5)
		s.do(press(p), release(p), s.see("One place leaks"))
		s.upTo("Gatekeepers", "pour-1")
		s.later(time.Minute)
	})
	s.step("weigh", func() {
		s.do(chromedp.Reload(), s.inCard("pour-1", "Start"), s.see("of resin, give or take"),
			s.wait(`document.querySelector(".pour-scale[data-listening=true]") != null`),
			s.press("Weigh with the bench scale"), s.see("has come to rest"),
			s.press("The cup is empty: set to nought"), s.see("Take the last note back"),
			s.press("Weigh with the bench scale"), s.wait(`document.querySelector(".scale-shows.is-good") != null`),
			s.inCard("pour-1", "Take"), s.see("of hardener, give or take"))
		s.thumb("the scale")
		// By hand, and too much of it: so much resin mends it.
		s.do(s.field("Hardener poured", "8"), s.press("Write it down"), s.see("There is too much of the other part"))
		s.accessible("Weighing")
		s.do(chromedp.Reload(), s.see("There is too much of the other part"))
		s.do(s.press("Write it down"), s.see("of pigment, give or take"), s.press("Write it down"), s.phase("mix"))
	})
	s.step("pour and watch", func() {
		s.do(s.press("Start mixing"), s.see("Mix for"), s.press("It is poured in"), s.phase("watch"),
			s.press("Flame pass 1 of 2"), s.see("Flame pass 2 of 2"))
		s.later(11 * time.Minute)
		s.do(chromedp.Reload(), s.see("Look now: does it leak, has it sunk?"))
		watching := `document.querySelector(".pour-card").dataset.phase === "watch"`
		for ask[bool](s, watching) {
			before := ask[int](s, `document.querySelectorAll(".looks .is-done").length`)
			s.do(
				s.press("Looked"),
				s.wait(fmt.Sprintf(`document.querySelectorAll(".looks .is-done").length > %d`, before)),
			)
		}
		s.do(s.phase("account"), s.press("Write it down"), s.see("the next mix goes by it"))
		s.upTo("Gatekeepers", "pinholes-1")
		s.later(10 * 24 * time.Hour)
	})
	s.step("three rounds of pinholes", func() {
		for round, holes := range []string{"5", "2"} {
			key := fmt.Sprintf("pinholes-%d", round+1)
			s.do(chromedp.Reload(), s.inCard(key, "Start"), s.field("Pinholes under raking light, both faces", holes),
				s.press("So many"), s.see(fmt.Sprintf("round %d of %d", round+1, max(2, round+2))))
			s.upTo("Gatekeepers", fmt.Sprintf("pinholes-%d", round+2))
			s.later(time.Hour)
		}
		s.do(
			chromedp.Reload(),
			s.inCard("pinholes-3", "Start"),
			s.see("round 3 of 3"),
			s.inCard("pinholes-3", "None left"),
			s.wait(`document.querySelector('[data-card="pinholes-3"]') == null`),
			s.see("Wet the fillings and look"),
		)
	})
	s.do(chromedp.Navigate(s.url+"/logbook"), s.see("no pinholes left"), s.see("scale set to nought"))
}

// Without a signal a pour goes on in its order, by the grams of its plan; when the server is back, it
// has all of it.
func TestAPourWithoutASignal(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.upTo("Gatekeepers", "pour-1")
	s.later(24 * time.Hour)
	s.do(chromedp.Navigate(s.url+"/bench"), s.inCard("pour-1", "Start"), s.see("of resin, give or take"))
	label := func(text string) Action {
		return s.wait(fmt.Sprintf(
			`[...document.querySelectorAll(".pour-card label")].some((l) => l.innerText.startsWith(%q))`, text))
	}
	s.gone()
	s.do(s.press("Write it down"), s.see("go on by these figures"), label("Hardener poured"),
		s.press("Write it down"), s.press("Start mixing"), s.press("It is poured in"), label("Resin poured"))
	s.accessible("Pouring without the server")
	s.back()
	s.do(s.phase("watch"), s.see("Flame pass 1 of 2"))
}

// From one plank to a river with two boards on it: banks drawn apart, the volume live, the mould.
func TestARiverFromOnePlank(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.piece("Chestnut")
	volume := func() float64 {
		return ask[float64](s, `parseFloat(document.querySelector(".river-volume strong").innerText)`)
	}
	s.step("lay the banks", func() {
		s.do(s.press("A river of it"), s.see("ripped along its middle"), s.press("Lay them in a mould"),
			s.see("between the true edges"))
		s.accessible("River")
		before := volume()
		from := s.at(`[data-bank="far"]`, 0.5, 0.3)
		s.do(drag(from, point{from.X, from.Y - 12}), s.wait(fmt.Sprintf(
			`Math.abs(parseFloat(document.querySelector(".river-volume strong").innerText) - %g) > 1`,
			before,
		)), s.saved())
		assert.Greater(t, volume(), before, "drawn apart, it holds more")
		s.do(s.see("A bank reaches out of the mould"))
		s.do(s.press("Undo"), s.wait(fmt.Sprintf(
			`Math.abs(parseFloat(document.querySelector(".river-volume strong").innerText) - %g) < 1`, before)))
		// By keys: a bank is picked and turned.
		s.do(run(`document.querySelector(".drawing svg").focus()`), chromedp.KeyEvent("n"),
			s.wait(`document.querySelector(".bank.is-picked") != null`), chromedp.KeyEvent("["), s.saved())
		s.do(s.press("Undo"), s.press("Turn it over"), s.saved(),
			s.wait(`!document.body.innerText.includes("A bank reaches out of the mould")`), s.press("Undo"))
	})
	s.step("the mould", func() {
		s.do(s.part("Mould"), s.see("Sealant, a bead of"), s.see("long wall"))
		s.accessible("Mould")
	})
	s.step("two boards on it", func() {
		for range 2 {
			s.do(
				s.press("Lay a board on it"),
				s.see("Take to the shop"),
				s.wait(`document.querySelector(".drawing svg") != null`),
				chromedp.NavigateBack(),
				s.see("River of Chestnut"),
			)
		}
		s.do(s.part("Laid"), s.wait(`document.querySelectorAll(".ghost-board").length === 2`))
		s.do(chromedp.Navigate(s.url+"/bench"), s.see("River of Chestnut"))
	})
}

// A cold night, read by the sensor, moves the hour from which a river can be sanded; too cold is
// told.
func TestAColdNightMovesTheDate(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/timber"), s.press("Ferry river"), s.see("Sanded from"))
	sanded := func() string {
		return ask[string](
			s,
			`[...document.querySelectorAll(".curing li")].find((l) => l.innerText.startsWith("Sanded")).innerText`,
		)
	}
	before := sanded()
	key := ask[string](
		s,
		`fetch("/api/instruments", { method: "POST", headers: { "Content-Type": "application/json" },
		body: JSON.stringify({ name: "door sensor", kind: "room sensor", simulated: false }) }).then((r) => r.json())
		.then((i) => i.key)`,
	)
	for range 9 {
		s.later(time.Hour)
		ask[float64](
			s,
			fmt.Sprintf(`fetch("/api/readings", { method: "POST", headers: { "Content-Type": "application/json",
			Authorization: "Bearer %s" }, body: JSON.stringify({ temperature: 11, humidity: 55 }) })
			.then((r) => r.status)`, key),
		)
	}
	s.do(chromedp.Reload(), s.see("Sanded from"), s.see("count for nothing"), s.see("It has lain too cold"))
	assert.NotEqual(t, before, sanded())
	assert.True(t, strings.HasPrefix(sanded(), "Sanded from"))
}
