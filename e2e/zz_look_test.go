package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
)

func TestZZLook(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.sheet("Lantern", "shape")
	s.do(s.press("A mishap?"), s.see("first by the rules"), s.see("were tried"))
	s.picture("/tmp/look/ways-phone.png")
	s.do(chromedp.Navigate(s.url+"/bench"), s.see("Lantern hanger's board"), run(`document.querySelector(".went-wrong").scrollIntoView({block: "center"})`))
	s.picture("/tmp/look/bench-phone.png")
	t.Log(s.text("body"))
}
