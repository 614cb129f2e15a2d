package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// A mark is drawn on the wood wherever one is, its fields are at hand, it is measured
// whole, and its ends are dragged; the wood stays as large while one aims.
func TestMarksAreDrawnAndDragged(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(chromedp.Navigate(s.url+"/timber"), s.press("Chestnut"), s.wait(`document.querySelector(".slab-line")`))
	high := `document.querySelector(".drawing").getBoundingClientRect().height`
	before := ask[float64](s, high)
	marks := ask[int](s, `document.querySelectorAll("[data-flaw]").length`)

	s.do(s.press("Mark a flaw"), s.press("Bark pocket"), s.see("Drag along it"))
	assert.Equal(t, before, ask[float64](s, high), "while one aims")
	s.do(
		drag(s.at(".slab-line", 0.4, 0.3), s.at(".slab-line", 0.5, 0.5)),
		s.wait(fmt.Sprintf(`document.querySelectorAll("[data-flaw]").length === %d`, marks+1)),
		s.see("Its corners"),
		s.field("Length", "70"),
		s.field("Width", "22"),
		s.saved(),
	)
	box := slab[[]float64](s, `(() => {
		const line = p.slab.flaws.at(-1).line, of = (k) => line.map((q) => q[k]);
		return ["x", "y"].map((k) => Math.max(...of(k)) - Math.min(...of(k)));
	})()`)
	assert.InDeltaSlice(t, []float64{70, 22}, box, 0.01)

	s.do(
		s.press("Mark a flaw"), s.press("Dent"),
		drag(s.at(".slab-line", 0.6, 0.3), s.at(".slab-line", 0.66, 0.45)),
		s.wait(`document.querySelectorAll("[data-grip]").length === 4`),
		s.field("Length", "30"),
		s.field("Width", "9"),
		s.saved(),
	)
	a := slab[[]float64](s, `[p.slab.flaws.at(-1).a, p.slab.flaws.at(-1).b]`)
	assert.InDeltaSlice(t, []float64{15, 4.5}, a, 0.01, "a dent measured 9 wide")
	end := s.at(`[data-grip="0"]`, 0.5, 0.5)
	s.do(drag(end, point{end.X + 20, end.Y}), s.saved())
	assert.Greater(t, slab[float64](s, `p.slab.flaws.at(-1).a`), 16.0)
	assert.InDelta(t, 4.5, slab[float64](s, `p.slab.flaws.at(-1).b`), 0.01)
}
