package e2e

import (
	"os"
	"testing"

	"github.com/chromedp/chromedp"
)

func (s *shop) shot(name string) { s.picture("/tmp/look/" + name + ".png") }

func TestZZLook(t *testing.T) {
	os.MkdirAll("/tmp/look", 0o755)
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "fit")
	s.do(s.tick("Pulls screwed on"), s.tick("A coin let into a face"), s.see("Marks"), s.saved(), chromedp.Sleep(500e6))
	s.shot("fit")
	s.do(s.stage("shape"), s.part("Recesses"), s.press("+ Well"), s.saved(), chromedp.Sleep(700e6))
	s.shot("recess")
	s.sheet("Gatekeepers", "flatten")
	s.do(chromedp.Sleep(600e6))
	s.shot("gate")
	s.do(s.stage("shape"), s.part("Cut"), chromedp.Sleep(600e6))
	s.shot("gatecut")
	s.do(run(`document.documentElement.dataset.bsTheme = "dark"`), s.stage("flatten"), chromedp.Sleep(500e6))
	s.shot("gate-evening")
	s.do(chromedp.Navigate(s.url+"/shop?part=tools"), s.see("Sawing"), run(`document.documentElement.dataset.bsTheme = "dark"`), s.press("Change: limits of the band saw"), chromedp.Sleep(500e6))
	s.shot("tools-evening")
	s.do(chromedp.Navigate(s.url+"/shop?part=drawers"), s.see("Boring bits"), run(`document.documentElement.dataset.bsTheme = "dark"`), s.press("Router bit 5"), chromedp.Sleep(500e6))
	s.shot("drawers-evening")
}

func TestZZPhone(t *testing.T) {
	s := open(t, 390, 844)
	s.enter()
	s.sheet("Gatekeepers", "flatten")
	s.do(chromedp.Sleep(600e6))
	s.shot("phone-flatten")
	s.do(chromedp.Navigate(s.url+"/shop?part=tools"), s.see("Sawing"), chromedp.Sleep(500e6))
	s.shot("phone-tools")
}
