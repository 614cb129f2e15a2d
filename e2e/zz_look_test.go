package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
)

func (s *shop) pieceID(word string) string {
	return ask[string](s, `fetch("/api/pieces?q=`+word+`").then((r) => r.json()).then((l) => l.items[0].id)`)
}

func TestZZLook(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.do(s.press("Timber"), s.see("on the rack"), s.see("Chevron offcut tray"))
	s.picture("/tmp/p-rack.png")
	stripes, tray, rail := s.pieceID("stripes"), s.pieceID("chevron"), s.pieceID("rail")
	s.do(chromedp.Navigate(s.url+"/timber/"+tray), s.see("All at once"), s.click(`document.querySelectorAll(".strip-line")[2]`), s.see("Rings to its"))
	s.picture("/tmp/p-card.png")
	s.do(chromedp.Navigate(s.url+"/timber/"+rail), s.see("Robinia fence rail"))
	s.picture("/tmp/p-rail.png")
	s.do(chromedp.Navigate(s.url+"/timber/"+tray+"?part=clamps"), s.see("Steps"))
	s.picture("/tmp/p-clamps2.png")
	s.do(s.press("Evening"), chromedp.Navigate(s.url+"/timber/"+stripes+"?part=clamps"), s.see("Steps"))
	s.picture("/tmp/p-eve.png")
	s.do(chromedp.Navigate(s.url+"/shop"), s.see("Clamps"))
	s.do(chromedp.EmulateViewport(390, 844, chromedp.EmulateMobile), chromedp.Navigate(s.url+"/bench"), s.see("Waiting for a panel"))
	s.picture("/tmp/p-phone.png")
	s.do(chromedp.Navigate(s.url+"/timber/"+stripes+"?part=clamps"), s.see("Steps"))
	s.picture("/tmp/p-phone2.png")
}
