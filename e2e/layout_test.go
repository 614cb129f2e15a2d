package e2e

import (
	"fmt"
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
	return ask[T](s, `fetch("/api/pieces/" + location.pathname.split("/")[2] + "/layout").then((r) => r.json()).then((l) => `+of+`)`)
}

// Three boards by hand, a search that is stopped and taken, a change by hand,
// and the cut list for the shop.
func TestLayOutByHandAndBySearch(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.layout("Chestnut")
	before := ask[int](s, `document.querySelectorAll("[data-board]").length`)
	for i := range 2 {
		s.do(s.press("Lay a new board"), s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+i+1)))
	}
	s.do(s.press("Double it"), s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+3)), s.saved())
	assert.Equal(t, before+3, laid[int](s, `l.boards.length`))

	// Dragged near the squared butt end, a board is felt there.
	centre := s.at(`.board.is-active .board-line`, 0.5, 0.5)
	edge := s.at(".slab-line", 0, 0.5)
	half := ask[float64](s, `document.querySelector(".board.is-active .board-line").getBoundingClientRect().width / 2`)
	s.do(drag(centre, point{edge.X + half + 5, centre.Y}), s.saved())
	assert.InDelta(t, 3, laid[float64](s, `(() => { const b = l.boards.at(-1).board; return b.placement.x - b.design.length / 2; })()`), 0.2)
	s.do(run(`document.querySelector(".drawing svg").focus()`), chromedp.KeyEvent("]"), chromedp.KeyEvent(kb.ArrowRight), s.saved())
	assert.InDelta(t, -1, laid[float64](s, `l.boards.at(-1).board.placement.angle`), 1e-9)
	for range 3 {
		s.do(s.press("To the offcut bin"))
		if ask[bool](s, `document.querySelectorAll("[data-board]").length === `+fmt.Sprint(before)) {
			break
		}
		s.do(run(`document.querySelector(".laid li:last-child .laid-name").click()`), s.wait(`document.querySelector(".laid li:last-child.is-picked") != null`))
	}
	s.do(s.saved())
	require.Equal(t, before, laid[int](s, `l.boards.length`))
	s.do(run(`document.querySelector(".drawing svg").focus()`), s.press("Undo"))
	s.do(s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+1)), s.saved())
	assert.Equal(t, before+1, laid[int](s, `l.boards.length`), "what was binned comes back")
	s.do(run(`document.querySelector(".laid li:last-child .laid-name").click()`), s.press("To the offcut bin"), s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before)), s.saved())

	// The search improves, is stopped, and keeps its best.
	s.do(s.part("Search"), s.see("What you wish for"), s.field("Length", "170"), s.field("Width", "90"), s.field("At most", "8"), s.choose("Search for", "60"), s.press("Begin the search"), s.see("moves tried"), s.wait(`document.querySelector(".proposal") != null && document.querySelector(".proposed") != null`))
	if dir := os.Getenv("LOOK"); dir != "" {
		s.picture(filepath.Join(dir, "search.png"))
	}
	s.do(s.press("Stop, keep the best"), s.see("Stopped after"))
	n := ask[int](s, `Number(document.querySelector(".proposal .facts").textContent.match(/^\d+/)[0])`)
	require.Positive(t, n)
	s.do(s.press("Take it"), s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+n)), s.saved())
	assert.Equal(t, before+n, laid[int](s, `l.boards.length`))
	assert.Zero(t, laid[int](s, `l.result.boards.filter((b) => b.level === "stop" && l.boards.findIndex((o) => o.board.id === b.id) >= `+fmt.Sprint(before)+`).length`), "no stop")

	// One is moved by hand; then the cuts.
	x := laid[float64](s, `l.boards.at(-1).board.placement.x`)
	s.do(run(`document.querySelector(".drawing svg").focus()`), chromedp.KeyEvent(kb.ArrowLeft), s.saved())
	assert.InDelta(t, x-1, laid[float64](s, `l.boards.at(-1).board.placement.x`), 1e-6)
	s.do(s.part("Cuts"), s.see("Cuts in order"), s.wait(`document.querySelectorAll(".slab-cuts li").length > 0`))
	if dir := os.Getenv("LOOK"); dir != "" {
		s.picture(filepath.Join(dir, "cuts.png"))
	}
	cuts := ask[int](s, `document.querySelectorAll(".slab-cuts li").length`)
	s.do(s.part("Waste"), s.see("What becomes of the slab"), s.see("Of the slab in boards"))
	file := s.download(ask[string](s, `[...document.querySelectorAll("a")].find((a) => a.textContent === "Cut list, PDF").getAttribute("href")`))
	text, err := exec.Command("pdftotext", "-layout", file, "-").Output()
	require.NoError(t, err)
	assert.Contains(t, string(text), "Cut list of Chestnut")
	assert.Contains(t, string(text), fmt.Sprintf("%d. ", cuts))
	assert.Empty(t, s.seen())
}

// The biggest clean board over a spot, and anywhere.
func TestTheBiggestCleanBoard(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.layout("Chestnut")
	before := ask[int](s, `document.querySelectorAll("[data-board]").length`)
	s.do(s.press("Lay the biggest"), s.wait(fmt.Sprintf(`document.querySelectorAll("[data-board]").length === %d`, before+1)), s.saved())
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
	s.do(s.part("Search"), s.press("Begin the search"), s.wait(`document.querySelector(".search-state")?.dataset.state === "running"`))
}
