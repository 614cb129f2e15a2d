package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
)

func TestLook(t *testing.T) {
	s := open(t, 1280, 800)
	s.do(chromedp.Navigate(s.url), s.see("Open the sample shop"))
	s.enter()
	stage := func(board, name string) {
		s.sheet(board, name)
		s.do(s.wait(`document.querySelector(".drawing svg path")`))
	}
	stage("Pickers", "sand")
	s.picture("/tmp/look/sand.png")
	s.do(s.press("edges"))
	s.do(run(`document.querySelector(".one-surface").scrollIntoView()`))
	s.picture("/tmp/look/sand2.png")
	stage("Pickers", "finish")
	s.picture("/tmp/look/finish.png")
	s.do(s.press("Which finish for this board?"), s.see("washed often"))
	s.do(run(`document.querySelector(".chooser").scrollIntoView()`))
	s.picture("/tmp/look/chooser.png")
	stage("Boatman", "finish")
	s.do(s.press("1. coffee"))
	s.picture("/tmp/look/coffee.png")
	s.do(chromedp.Navigate(s.url+"/logbook"), s.see("Two pastes"))
	s.picture("/tmp/look/logbook.png")
	s.do(s.press("Two pastes"), s.see("not told apart"))
	s.picture("/tmp/look/trial.png")
	s.do(s.press("Samples"), s.see("All cut from"))
	s.picture("/tmp/look/samples.png")
}
func TestLookPhone(t *testing.T) {
	s := open(t, 390, 844)
	s.do(chromedp.Navigate(s.url), s.see("Open the sample shop"))
	s.enter()
	s.do(s.wait(`document.querySelector('[data-wait="wipe-2"]')`), run(`window.scrollTo(0, document.querySelector('[data-wait="wipe-2"]').offsetTop-80)`))
	s.picture("/tmp/look/bench-phone.png")
	s.do(chromedp.Navigate(s.url+"/logbook"), s.press("Two pastes"), s.see("not told apart"), s.press("Score a round"), s.see("Round 10"))
	s.picture("/tmp/look/round-phone.png")
}
