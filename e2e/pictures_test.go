package e2e

import (
	"os"
	"path/filepath"
	"testing"
	"time"

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
	for _, stage := range []string{"layout", "sand"} {
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
	s.sheet("Pickers", "finish")
	s.do(settle(s), s.press("1. oil"), s.see("On face grain"))
	s.picture(filepath.Join(dir, "sheet-finish.png"))
	s.sheet("Wasp", "give")
	s.do(
		s.click(`document.querySelector("#part-card")`),
		s.see("Its lines"),
		s.wait(`[...document.querySelectorAll(".card-views img")].every((i) => i.complete && i.naturalWidth > 0)`),
	)
	s.picture(filepath.Join(dir, "sheet-give.png"))
	s.do(run(`localStorage.setItem("idletimber-evening", "yes")`))
	s.do(chromedp.Navigate(s.url+"/runs"), s.press("Midsummer supper"), s.see("Saved by setting up once"))
	s.picture(filepath.Join(dir, "run.png"))
	s.do(run(`localStorage.setItem("idletimber-evening", "no")`))
	s.do(chromedp.Navigate(s.url+"/runs?part=plan"), s.see("In the best order"), s.see("What would help"))
	s.picture(filepath.Join(dir, "plan.png"))
	s.sheet("Lantern", "shape")
	s.do(s.press("A mishap?"), s.see("first by the rules"), s.see("were tried"),
		s.click(`document.querySelector(".way > .text-link")`),
		s.wait(`document.querySelectorAll(".ways-drawn figure").length === 2`))
	s.picture(filepath.Join(dir, "rescue.png"))
	s.panel("Chevron offcut tray", "Strips")
	s.do(settle(s))
	s.picture(filepath.Join(dir, "panel.png"))
	s.do(chromedp.Navigate(s.url+"/timber"), s.press("Ferry river"), s.see("between the true edges"), settle(s))
	s.picture(filepath.Join(dir, "river.png"))
	s.do(chromedp.Navigate(s.url+"/logbook"), s.wait(`document.querySelector(".log tbody tr") !== null`))
	s.picture(filepath.Join(dir, "logbook.png"))
	s.do(chromedp.Navigate(s.url+"/shelf"), s.see("Hemp cord"))
	s.picture(filepath.Join(dir, "shelf.png"))
	s.do(chromedp.Navigate(s.url+"/shop?part=tools"), s.see("Flattening and planing"), settle(s))
	s.picture(filepath.Join(dir, "shop.png"))

	p := open(t, 390, 844)
	p.enter()
	p.upTo("Gatekeepers", "pour-1")
	p.later(time.Hour)
	p.do(chromedp.Navigate(p.url+"/bench"), p.inCard("pour-1", "Start"), p.see("of resin, give or take"),
		p.wait(`document.querySelector(".pour-scale[data-listening=true]") != null`),
		p.press("Weigh with the bench scale"), p.see("has come to rest"), p.press("The cup is empty: set to nought"),
		p.see("Take the last note back"), p.press("Weigh with the bench scale"),
		p.wait(`document.querySelector(".scale-shows.is-good") != null`),
		run(`document.querySelector(".pour-card").scrollIntoView()`))
	p.picture(filepath.Join(dir, "pour-phone.png"))
}
