package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// point is a place on the screen.
type point struct{ X, Y float64 }

// at is the middle of what a selector finds, or of a share of its box, once it
// has stood still for some frames.
func (s *shop) at(selector string, across, down float64) point {
	s.t.Helper()
	s.do(s.wait(fmt.Sprintf(`document.querySelector(%s) != null`, quote(selector))))
	xy := ask[[]float64](s, fmt.Sprintf(`new Promise((done) => {
		let last = "", still = 0;
		const look = () => {
			const r = document.querySelector(%s).getBoundingClientRect();
			const now = [r.x + r.width * %v, r.y + r.height * %v];
			still = String(now) === last ? still + 1 : 0;
			last = String(now);
			still === 8 ? done(now) : requestAnimationFrame(look);
		};
		look();
	})`, quote(selector), across, down))
	return point{xy[0], xy[1]}
}

func press(p point) Action {
	return chromedp.MouseEvent(chromedp.MousePressed, p.X, p.Y, chromedp.Button("left"), chromedp.ClickCount(1))
}

func moveTo(p point) Action {
	return chromedp.MouseEvent(chromedp.MouseMoved, p.X, p.Y, chromedp.Button("left"))
}

func release(p point) Action {
	return chromedp.MouseEvent(chromedp.MouseReleased, p.X, p.Y, chromedp.Button("left"), chromedp.ClickCount(1))
}

// drag draws with the pointer from one place to another.
func drag(from, to point) Action {
	middle := point{(from.X + to.X) / 2, (from.Y + to.Y) / 2}
	return chromedp.Steps(press(from), moveTo(middle), moveTo(to), release(to))
}

// stage opens a stage on the story stick.
func (s *shop) stage(name string) Action {
	notch := fmt.Sprintf(`document.querySelector('[data-stage="%s"]')`, name)
	return chromedp.Steps(s.click(notch), s.wait(notch+`.getAttribute("aria-selected") === "true"`))
}

// verdict waits until a check comes out at a level.
func (s *shop) verdict(check, level string) Action {
	return s.wait(
		fmt.Sprintf(
			`[...document.querySelectorAll('[data-check="%s"]')].some((v) => v.dataset.level === "%s")`,
			check,
			level,
		),
	)
}

// noVerdict waits until no check of the name is at a level.
func (s *shop) noVerdict(check, level string) Action {
	return s.wait(
		fmt.Sprintf(
			`![...document.querySelectorAll('[data-check="%s"]')].some((v) => v.dataset.level === "%s")`,
			check,
			level,
		),
	)
}

// part opens a part of a piece.
func (s *shop) part(name string) Action {
	tab := fmt.Sprintf(`[...document.querySelectorAll("[role=tab]")].find((t) => t.innerText === %s)`, quote(name))
	return chromedp.Steps(s.click(tab), s.wait(tab+`.getAttribute("aria-selected") === "true"`))
}

// tick presses the tick box of a label.
func (s *shop) tick(label string) Action {
	find := fmt.Sprintf(
		`[...document.querySelectorAll("label")].find((l) => l.textContent.trim() === %s)`,
		quote(label),
	)
	return s.click(find)
}

// One maker, one piece, one board: from measuring the wood to wrapping the gift.
func TestFromSlabToGift(t *testing.T) {
	s := open(t, 1280, 800)
	s.do(
		chromedp.Navigate(s.url),
		s.press("New here"),
		s.field("E-mail", "maker@example.org"),
		s.field("Password", "amber weir lattice"),
		s.press("Open a workshop"),
		s.see("Nothing is in work"),
	)

	s.step("Timber: the drawing follows as one types", func() {
		s.do(
			s.press("Timber"),
			s.see("The rack is empty"),
			s.press("Add a piece"),
			s.field("Name of the piece", "Plank"),
			s.press("Put it on the rack"),
			s.see("Unknown wood when you cannot tell"),
			s.field("Species of the piece", "London plane"),
			s.press("Put it on the rack"),
			s.see("Where it came from"),
			s.wait(`!document.querySelector(".modal")`),
			s.field("Name", "Plane from the weir"),
			s.field("Species", "sweet chestnut"),
			s.see("Castanea sativa"),
			s.field("Length", "80 cm"),
			s.wait(`document.querySelector(".drawing .dimension text")?.textContent === "800 mm"`),
			s.part("Edges"),
			s.press("Add a station"),
			s.wait(`document.querySelectorAll('[name^="station-"][name$="-left"]').length === 4`),
			s.part("Thickness"),
			s.field("Thick", "1 1/2 in"),
			s.wait(`[...document.querySelectorAll(".reading")].some((r) => r.textContent.trim() === "38.1 mm")`),
			s.part("Moisture"),
			s.field("Meter %", "9,4"),
			s.press("Add"),
			s.see("In balance by one reading"),
			s.saved(),
		)
		wide := ask[string](s, `document.querySelector(".slab-line").getAttribute("d")`)
		s.do(s.part("Edges"), s.wait(`document.querySelector('[name="station-1-left"]') != null`),
			run(`document.querySelector('[name="station-1-left"]').focus()`), chromedp.KeyEvent("130"),
			s.wait(`document.querySelector(".slab-line").getAttribute("d") !== `+quote(wide)))
	})

	s.step("A flaw by pointer, then by keys, then by numbers", func() {
		mark := func(kind string) Action {
			return chromedp.Steps(s.press("Mark a flaw"), s.press(kind), s.see("Drag along it"))
		}
		s.do(s.part("Faces"), mark("Crack"))
		s.do(
			drag(s.at(".slab-line", 0.45, 0.3), s.at(".slab-line", 0.6, 0.34)),
			s.wait(`document.querySelectorAll("[data-flaw]").length === 1`),
			s.field("Width", "4"),
			s.field("Depth", "15"),
		)
		x := func() float64 {
			return ask[float64](s, `document.querySelector("[data-flaw]").getBoundingClientRect().x`)
		}
		before := x()
		s.do(focus(), chromedp.KeyEvent(kb.ArrowRight, chromedp.KeyModifiers(chromedp.ModifierShift)),
			s.wait(fmt.Sprintf(`document.querySelector("[data-flaw]").getBoundingClientRect().x > %v + 3`, before)))
		s.do(
			s.press("Add knot"),
			s.wait(`document.querySelectorAll("[data-flaw]").length === 2`),
			s.choose("The knot is", "sound"),
			s.field("Length", "16"),
			focus(),
			chromedp.KeyEvent(kb.Delete),
			s.wait(`document.querySelectorAll("[data-flaw]").length === 1`),
			chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)),
			s.wait(`document.querySelectorAll("[data-flaw]").length === 2`),
			s.saved(),
		)
		s.do(chromedp.Reload(), s.see("Worth showing"), s.wait(`document.querySelectorAll("[data-flaw]").length === 2`))
		assert.Equal(s.t, "Plane from the weir", s.text("h1"), "it was stored as it was typed")
	})

	s.layOutToGift()
}

// layOutToGift takes a board from its place on the slab to the gift.
func (s *shop) layOutToGift() {
	t := s.t
	s.do(s.press("Lay a board on it"), s.see("Cutting it out"), s.see("checks clear of the limit"))

	s.step("While the board is dragged, before the pointer is let go, the verdicts follow", func() {
		grip := s.at(".board.is-active .board-line", 0.3, 0.3)
		off := point{grip.X, grip.Y + 150}
		s.do(press(grip), moveTo(point{grip.X, grip.Y + 60}), moveTo(off), s.verdict("inside", "stop"))
		s.do(release(off), s.press("Move the board"), s.noVerdict("inside", "stop"))
		s.do(
			chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)),
			s.verdict("inside", "stop"),
			chromedp.KeyEvent("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)),
			s.noVerdict("inside", "stop"),
		)
	})

	s.do(
		s.choose("Shape", "paddle"),
		s.choose("Handle", "hole"),
		s.field("Length", "400"),
		s.field("Neck", "60"),
		s.field("Diameter", "28"),
		s.field("From the end", "12"),
		s.verdict("web", "stop"),
		s.press("Move the hole"),
		s.noVerdict("web", "stop"),
	)
	s.do(
		s.field("People", "3"),
		s.see("Size it for them: 370 mm × 155 mm"), // for three: what it says is what it does
		s.press("Size it for them"),
		s.wait(`document.querySelector('[name="board-length"]').value !== "400 mm"`),
	)
	s.do(
		s.field("From the butt", "400"),
		s.field("From the chalk line", "0"),
		s.field("Turned", "40"),
		s.verdict("grain", "stop"),
		s.press("Turn it along the grain"),
		s.noVerdict("grain", "stop"),
	)
	place := func() string { return ask[string](s, `document.querySelector('[name="place-x"]').value`) }
	require.Equal(t, "400 mm", place())
	s.do(
		focus(),
		chromedp.KeyEvent(kb.ArrowRight),
		s.wait(`document.querySelector('[name="place-x"]').value === "401 mm"`),
	)

	s.step("Every figure opens its working", func() {
		s.do(
			s.press("Length of the blank"),
			s.see("squaring and snipe at both ends"),
			s.see("shop rules for squaring and snipe"),
		)
	})

	s.step("The digits walk the story stick while the drawing has the focus", func() {
		s.do(focus(), chromedp.KeyEvent("3"), s.see("Wanted in the end"))
		s.do(
			s.field("Wanted in the end", "30"),
			s.wait(`document.querySelector('[data-figure="flatten.final"] strong').textContent === "30 mm"`),
			s.field("Wanted in the end", "60"),
			s.verdict("thickness", "stop"),
			s.press("Take the thickness down"),
			s.noVerdict("thickness", "stop"),
		)
	})

	s.do(
		s.stage("layout"),
		s.field("From the butt", "430"),
		s.field("From the chalk line", "40"),
		s.verdict("flaw", "mind"),
		s.stage("fill"),
		s.see("deep after flattening"),
	)
	s.do(
		s.choose("Fill the crack with", "epoxy"),
		s.see("hardener, worked within"),
		s.choose("Kind", "deep pour"),
		s.field("Reserve", "10"),
	)
	net := func() string { return s.text(`[data-figure="fill.total"] strong`) }
	byVolume := net()
	s.do(
		s.field("Reserve", "25"),
		s.wait(`document.querySelector('[data-figure="fill.total"] strong').innerText !== `+quote(byVolume)),
		s.press("Resin to mix"),
		s.see("voids × soak + left in the cup × pours × batches of each + reserve"),
	)

	s.do(
		s.stage("shape"),
		s.part("Edges"),
		s.choose("Profile", "chamfer"),
		s.field("Down the edge", "30"),
		s.verdict("edge", "stop"),
		s.press("Take the edge down"),
		s.noVerdict("edge", "stop"),
	)

	s.do(
		s.stage("sand"),
		s.wait(`document.querySelectorAll(".tread").length >= 3`),
		s.press("P100"),
		s.see("A ladder made by hand"),
		s.press("P150"),
		s.verdict("jump", "stop"),
		s.press("Back to the quickest"),
		s.noVerdict("jump", "stop"),
		s.press("never"),
		s.verdict("raise", "mind"),
		s.press("Raise it once"),
		s.noVerdict("raise", "mind"),
	)

	s.do(
		s.stage("finish"),
		s.choose("As", "paste alone"),
		s.field("Oil to one of wax", "4"),
		s.wait(`document.querySelector('[data-figure="finish.weeps"] strong').innerText.includes("40")`),
	)
	s.do(
		s.stage("fit"),
		s.tick("Four feet, which mark the underside"),
		s.see("feet"),
		s.tick("A hanging cord"),
		s.see("cord"),
	)

	s.step("Too late by an honest number, with what would help", func() {
		s.do(
			s.stage("give"),
			s.field("For whom", "the ferryman"),
			s.field("Your own words", "For the long table"),
			s.date("due", "2031-04-25"),
			s.see("Too late by"),
			s.press("Use casting resin"),
			s.date("due", "2031-06-01"),
			s.see("to spare"),
			s.saved(),
			s.click(`document.querySelector("#part-card")`),
			s.see("Never soak it"),
		)
		require.Contains(s.t, s.text(".card-lines"), "For the long table")
		s.do(s.click(`document.querySelector("#part-whom")`), s.see("It is given away"))
	})

	for path, kind := range map[string]string{"sheet.pdf?paper=A4": "application/pdf",
		"sheet.pdf?paper=Letter": "application/pdf", "outline.svg": "image/svg+xml", "job.json": "application/json"} {
		got := ask[string](
			s,
			fmt.Sprintf(
				`fetch("/api" + location.pathname + "/%s").then((r) => r.status + " " + r.headers.get("Content-Type"))`,
				path,
			),
		)
		assert.Equal(t, "200 "+kind, got)
	}
	s.do(s.press("It is given away"), s.see("Not given after all"), s.press("Bench"), s.see("Nothing is in work"))
	assert.Empty(t, s.seen(), "nothing went wrong in the page")
}

// date sets the date field of an id.
func (s *shop) date(id, day string) Action {
	return run(fmt.Sprintf(`(() => {
		const field = document.getElementById(%s);
		Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set.call(field, %s);
		field.dispatchEvent(new Event("input", { bubbles: true }));
	})()`, quote(id), quote(day)))
}
