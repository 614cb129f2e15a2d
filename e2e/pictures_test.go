package e2e

import (
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/chromedp"
)

// TestPictures takes the pictures of docs/screenshots anew when PICTURES names
// the folder.
func TestPictures(t *testing.T) {
	dir := os.Getenv("PICTURES")
	if dir == "" {
		t.Skip("PICTURES names no folder")
	}
	settle := func(s *shop) Action {
		return s.wait(
			`document.querySelector(".drawing svg path, .silhouette path, .flatten-views path, .opening rect") &&
				document.fonts.status === "loaded"`,
		)
	}
	s := open(t, 1280, 800)
	s.do(chromedp.Navigate(s.url), s.see("Open the sample shop"))
	s.enter()
	s.do(settle(s))
	s.picture(filepath.Join(dir, "bench.png"))
	s.do(chromedp.Navigate(s.url+"/timber"), s.see("Weir plane"), settle(s))
	s.picture(filepath.Join(dir, "timber.png"))
	s.do(s.press("Weir plane"), s.part("Faces"), s.see("Worth showing"), settle(s))
	s.picture(filepath.Join(dir, "piece.png"))
	s.do(
		chromedp.Navigate(s.url+"/timber"),
		s.press("Chestnut"),
		s.part("Edges"),
		s.press("From a photograph"),
		s.press("Try a sample picture"),
		s.see("2. The sheet"),
		s.press("Find the edge of the wood"),
		s.wait(`document.querySelector(".found-line") != null`),
	)
	s.picture(filepath.Join(dir, "photograph.png"))
	s.layout("Chestnut")
	s.do(
		s.part("Search"),
		s.field("Length", "165"),
		s.field("Width", "85"),
		s.field("At most", "8"),
		s.press("Begin the search"),
		s.see("Done after"),
	)
	s.picture(filepath.Join(dir, "layout.png"))
	s.do(chromedp.Navigate(s.url+"/boards"), s.see("Gatekeepers"), settle(s))
	s.picture(filepath.Join(dir, "boards.png"))
	s.do(s.press("Gatekeepers"), s.see("Lay out"), settle(s))
	for _, stage := range []string{"layout", "fill", "sand", "give"} {
		s.do(
			chromedp.Click(chromedp.CSS(`[data-stage="`+stage+`"]`)),
			s.wait(`document.querySelector('[data-stage="`+stage+`"]').classList.contains("is-active")`),
			settle(s),
		)
		s.picture(filepath.Join(dir, "sheet-"+stage+".png"))
	}
	s.sheet("Kitchen", "shape")
	s.do(
		s.part("Recesses"),
		s.press("+ Juice groove"),
		s.press("+ Bowl"),
		s.wait(`document.querySelectorAll(".recess").length === 2`),
		s.saved(),
		settle(s),
	)
	s.picture(filepath.Join(dir, "sheet-shape.png"))
	s.do(run(`localStorage.setItem("idletimber-evening", "yes")`))
	s.sheet("Gatekeepers", "flatten")
	s.do(settle(s))
	s.picture(filepath.Join(dir, "sheet-evening.png"))
	s.do(run(`localStorage.setItem("idletimber-evening", "no")`))
	s.panel("Chevron offcut tray", "Strips")
	s.do(settle(s))
	s.picture(filepath.Join(dir, "panel.png"))
	s.panel("Storm stripes", "Glue-up")
	s.do(s.wait(`document.querySelectorAll(".clamp").length > 0`), settle(s))
	s.picture(filepath.Join(dir, "clamp-up.png"))
	s.do(chromedp.Navigate(s.url+"/logbook"), s.see("Your pace"))
	s.picture(filepath.Join(dir, "logbook.png"))
	s.do(chromedp.Navigate(s.url+"/shop?part=tools"), s.see("Flattening and planing"), settle(s))
	s.picture(filepath.Join(dir, "shop.png"))

	p := open(t, 390, 844)
	p.enter()
	p.do(settle(p))
	p.picture(filepath.Join(dir, "bench-phone.png"))
	p.do(
		chromedp.Navigate(p.url+"/timber"),
		p.see("Weir plane"),
		p.press("Chestnut"),
		p.part("Moisture"),
		p.see("Moisture log"),
		settle(p),
		run(`window.scrollTo(0, 330)`),
	)
	p.picture(filepath.Join(dir, "piece-phone.png"))
	p.do(chromedp.Navigate(p.url+"/boards"), p.see("Gatekeepers"), p.press("Gatekeepers"), p.see("Lay out"), settle(p))
	p.picture(filepath.Join(dir, "sheet-phone.png"))
}
