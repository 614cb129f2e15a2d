package e2e

import "testing"

func TestLook(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	s.step("river", func() {
		s.piece("Chestnut")
		s.do(s.press("A river of it"), s.see("ripped along its middle"))
		s.picture("/tmp/look/r0.png")
		s.do(s.press("Lay them in a mould"), s.see("between the true edges"))
		s.picture("/tmp/look/r1.png")
		s.do(s.part("Mould"), s.see("Sealant, a bead of"))
		s.picture("/tmp/look/r2.png")
	})
}
