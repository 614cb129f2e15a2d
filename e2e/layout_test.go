package e2e

import (
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// layout opens the lay-out of a piece.
func (s *shop) layout(name string) {
	s.t.Helper()
	s.piece(name)
	s.do(s.press("Lay out"), s.see("Boards on it"), s.wait(`document.querySelector(".drawing .slab-line") != null`))
}

// laid asks for a value of the piece's layout as it is stored.
func laid[T any](s *shop, of string) T {
	s.t.Helper()
	return ask[T](
		s,
		`fetch("/api/pieces/" + location.pathname.split("/")[2] + "/layout").then((r) => r.json()).then((l) => `+of+`)`,
	)
}

// Three boards by hand, a search that is stopped and taken, a change by hand,
// and the cut list for the shop.
func TestLayOutByHandAndBySearch(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.layout("Chestnut")
	before := ask[int](s, `document.querySelectorAll("[data-board]").length`)
	for i := range 2 {
		s.do(
			s.press("Lay a new board"),
			s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+i+1)),
		)
	}
	s.do(
		s.press("Double it"),
		s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+3)),
		s.saved(),
	)
	assert.Equal(t, before+3, laid[int](s, `l.boards.length`))

	s.step("Dragged near the squared butt end, a board is felt there", func() {
		centre := s.at(`.board.is-active .board-line`, 0.5, 0.5)
		edge := s.at(".slab-line", 0, 0.5)
		half := ask[float64](
			s,
			`document.querySelector(".board.is-active .board-line").getBoundingClientRect().width / 2`,
		)
		s.do(drag(centre, point{edge.X + half + 5, centre.Y}), s.saved())
		assert.InDelta(
			t,
			3,
			laid[float64](
				s,
				`(() => { const b = l.boards.at(-1).board; return b.placement.x - b.design.length / 2; })()`,
			),
			0.2,
		)
		s.do(focus(), chromedp.KeyEvent("]"), chromedp.KeyEvent(kb.ArrowRight), s.saved())
		assert.InDelta(s.t, -1, laid[float64](s, `l.boards.at(-1).board.placement.angle`), 1e-9)
		for range 3 {
			s.do(s.press("To the offcut bin"))
			if ask[bool](s, `document.querySelectorAll("[data-board]").length === `+fmt.Sprint(before)) {
				break
			}
			s.do(
				s.click(`document.querySelector(".laid li:last-child .laid-name")`),
				s.wait(`document.querySelector(".laid li:last-child.is-picked") != null`),
			)
		}
		s.do(s.saved())
		require.Equal(s.t, before, laid[int](s, `l.boards.length`))
		s.do(focus(), s.press("Undo"))
		s.do(s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+1)), s.saved())
		assert.Equal(s.t, before+1, laid[int](s, `l.boards.length`), "what was binned comes back")
		s.do(
			s.click(`document.querySelector(".laid li:last-child .laid-name")`),
			s.press("To the offcut bin"),
			s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before)),
			s.saved(),
		)
	})

	s.step("The search improves, is stopped, and keeps its best", func() {
		s.do(
			s.part("Search"),
			s.see("What you wish for"),
			s.field("Length", "170"),
			s.field("Width", "90"),
			s.field("At most", "8"),
			s.choose("Search for", "60"),
			s.press("Begin the search"),
			s.see("moves tried"),
			s.wait(`document.querySelector(".proposal") != null && document.querySelector(".proposed") != null`),
		)
		if dir := os.Getenv("LOOK"); dir != "" {
			s.picture(filepath.Join(dir, "search.png"))
		}
		s.do(s.press("Stop, keep the best"), s.see("Stopped after"))
		n := ask[int](s, `Number(document.querySelector(".proposal .facts").textContent.match(/^\d+/)[0])`)
		require.Positive(s.t, n)
		s.do(
			s.press("Take it"),
			s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+n)),
			s.saved(),
		)
		assert.Equal(s.t, before+n, laid[int](s, `l.boards.length`))
		assert.Zero(
			t,
			laid[int](
				s,
				`l.result.boards.filter((b) => b.level === "stop" && l.boards
				.findIndex((o) => o.board.id === b.id) >= `+fmt.Sprint(
					before,
				)+`).length`,
			),
			"no stop",
		)
	})

	s.step("One is moved by hand; then the cuts", func() {
		x := laid[float64](s, `l.boards.at(-1).board.placement.x`)
		s.do(focus(), chromedp.KeyEvent(kb.ArrowLeft), s.saved())
		assert.InDelta(s.t, x-1, laid[float64](s, `l.boards.at(-1).board.placement.x`), 1e-6)
		s.do(s.part("Cuts"), s.see("Cuts in order"), s.wait(`document.querySelectorAll(".slab-cuts li").length > 0`))
		if dir := os.Getenv("LOOK"); dir != "" {
			s.picture(filepath.Join(dir, "cuts.png"))
		}
		cuts := ask[int](s, `document.querySelectorAll(".slab-cuts li").length`)
		s.do(s.part("Waste"), s.see("What becomes of the slab"), s.see("Of the slab in boards"))
		file := s.download(
			ask[string](
				s,
				`[...document.querySelectorAll("a")].find((a) => a.textContent === "Cut list, PDF")
					.getAttribute("href")`,
			),
		)
		text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
		require.NoError(s.t, err)
		assert.Contains(s.t, string(text), "Cut list of Chestnut")
		assert.Contains(s.t, string(text), fmt.Sprintf("%d. ", cuts))
		assert.Empty(s.t, s.seen())
	})
}

// The biggest clean board over a spot, and anywhere.
func TestTheBiggestCleanBoard(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.layout("Chestnut")
	before := ask[int](s, `document.querySelectorAll("[data-board]").length`)
	s.do(
		s.press("Lay the biggest"),
		s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+1)),
		s.saved(),
	)
	assert.NotEqual(t, "stop", laid[string](s, `l.result.boards.at(-1).level`))
	if dir := os.Getenv("LOOK"); dir != "" {
		s.picture(filepath.Join(dir, "biggest.png"))
	}
	s.do(s.choose("Where", "spot"), s.see("Press the spot on the wood"))
	assert.Empty(t, s.seen())
}

// A page that closes while it searches lets the search go.
func TestASearchIsLetGoWithItsPage(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.layout("Chestnut")
	s.do(s.part("Search"), s.choose("Search for", "60"), s.press("Begin the search"), s.see("moves tried"))
	s.do(chromedp.Navigate(s.url+"/boards"), s.see("Boards"))
	// The next search need not wait for the end of the first one.
	s.layout("Chestnut")
	s.do(
		s.part("Search"),
		s.press("Begin the search"),
		s.wait(`document.querySelector(".search-state")?.dataset.state === "running"`),
	)
}

// A search that can lay nothing says so, and what would help.
func TestASearchThatLaysNothing(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.layout("Chestnut")
	s.do(
		s.part("Search"),
		s.see("What you wish for"),
		s.field("Length", "900"),
		s.press("Begin the search"),
		s.see("Nothing of it fits"),
	)
	// What was wished for stays while another part is looked at; so does what cannot be read.
	s.do(
		s.field("Length", "1/0"),
		s.field("Width", "80"),
		s.see("divided by zero"),
		s.part("Boards"),
		s.part("Search"),
		s.see("Nothing of it fits"),
	)
	assert.Equal(
		t,
		[]string{"1/0", "80 mm"},
		ask[[]string](
			s,
			`["wish-0-length", "wish-0-width"].map((n) => document.querySelector(`+"`[name=${n}]`"+`).value)`,
		),
	)
	assert.Empty(t, s.seen())
}

// A set that nests is laid anew as one by a search; what mates stays together.
func TestASetIsSearchedAsOne(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "shape")
	s.do(
		s.part("Set"),
		s.press("Draw a line across"),
		s.wait(`document.querySelector(".split-line")?.getAttribute("d").includes("C")`),
		s.press("Split the board"),
		s.wait(`document.querySelectorAll(".nest").length === 2`),
		s.saved(),
	)
	piece := board[string](s, `b.piece`)
	s.do(
		chromedp.Navigate(s.url+"/timber/"+piece+"/layout?part=search"),
		s.see("What you wish for"),
		s.wait(`document.querySelector(".drawing .slab-line") != null`),
	)
	set := ask[string](s, `[...document.querySelectorAll("option")].find((o) => o.value.startsWith("anew ")).value`)
	s.do(
		s.choose("Wish for one more", set),
		s.see("Laid as one, as they nest"),
		s.click(`document.querySelector('[aria-label="Remove wish 1"]')`),
		s.wait(`document.querySelectorAll(".wish").length === 1`),
		s.press("Begin the search"),
		s.see("Done after"),
		s.press("Take it"),
		s.saved(),
	)
	type place struct{ X, Y, Angle float64 }
	at := laid[[]place](s, `l.boards.filter((b) => (b.board.mates ?? []).length > 0).map((b) => b.board.placement)`)
	require.Len(t, at, 2)
	assert.InDelta(t, at[0].Angle, at[1].Angle, 1e-6, "turned together")
	assert.Less(t, math.Hypot(at[0].X-at[1].X, at[0].Y-at[1].Y), 120.0, "side by side")
	assert.Equal(
		t,
		"good",
		laid[string](
			s,
			`(() => { const two = l.result.boards.filter((b) => l.boards
				.find((o) => o.board.id === b.id).board.mates?.length);
				const stops = (b) => b.verdicts.some((v) => v.check === "kerf" && v.level === "stop");
				return two.some(stops) ? "stop" : "good"; })()`,
		),
	)
	assert.Empty(t, s.seen())
}

// A board's twin is laid on the other leaf of the book, and told of.
func TestATwinOnTheOtherLeaf(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	leaf := ask[string](s, `(async () => {
		const json = (method, body) => ({ method, headers: { "Content-Type": "application/json" },
			body: JSON.stringify(body) });
		const list = await fetch("/api/pieces?q=Chestnut").then((r) => r.json());
		const p = await fetch("/api/pieces/" + list.items[0].id).then((r) => r.json());
		const thick = await fetch("/api/pieces", json("POST", { ...p.slab, name: "Thick plank", flaws: [],
			readings: [{ x: 100, y: 0, thickness: 70 }] })).then((r) => r.json());
		const made = await fetch("/api/pieces/" + thick.id + "/resaw", json("POST", { version: thick.version,
			how: { leaves: 2, kerf: 1.5, cleanup: 1, matched: true } })).then((r) => r.json());
		return made.pieces[0];
	})()`)
	s.do(
		chromedp.Navigate(s.url+"/timber/"+leaf+"/layout"),
		s.see("Boards on it"),
		s.press("Lay a new board"),
		s.press("Lay its twin on"),
		s.see("goes where it goes"),
		s.saved(),
	)
	was := laid[float64](s, `l.boards[0].board.placement.y`)
	s.do(focus(), chromedp.KeyEvent(kb.ArrowUp, chromedp.KeyModifiers(chromedp.ModifierShift)), s.saved())
	y := laid[float64](s, `l.boards[0].board.placement.y`)
	require.InDelta(t, was+10, y, 0.1)
	s.do(
		s.click(`document.querySelector('.flaw-card a[href$="/layout"]')`),
		s.wait(`document.querySelector("h1") && !location.pathname.includes("`+leaf+`")`),
		s.see("its twin"),
	)
	assert.InDelta(t, -y, laid[float64](s, `l.boards[0].board.placement.y`), 1e-6)
	s.do(s.press("Let each go its own way"), s.see("Lay its twin on"), s.saved())
	// Undone, it asks for its twin back, which has gone its own way.
	s.do(s.press("Undo"), s.see("Lay its twin on"), s.saved())
	assert.Nil(t, laid[any](s, `l.boards[0].board.twin ?? null`))
	assert.Empty(t, s.seen())
}
