package e2e

import (
	"testing"
)

func TestZZLook(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.sheet("Kitchen", "fit")
	s.do(s.tick("A wire slicer"), s.tick("Pulls screwed on"), s.choose("Held by", "machine"), s.saved())
	s.do(run(`document.querySelector(".panel, aside, .sheet-panel")?.scrollTo(0, 99999); [...document.querySelectorAll("*")].filter(e => e.scrollHeight > e.clientHeight + 50 && getComputedStyle(e).overflowY !== "visible").forEach(e => e.scrollTo(0, 99999))`))
	s.picture("/tmp/look1.png")
	s.do(s.press("Evening"))
	s.do(s.stage("shape"), s.see("Recesses"))
	s.picture("/tmp/look2.png")
}
