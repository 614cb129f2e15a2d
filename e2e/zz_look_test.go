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
	for _, part := range []string{"house", "tools", "drawers", "rules"} {
		s.do(chromedp.Navigate(s.url+"/shop?part="+part), s.see("House and hours"), chromedp.Sleep(600e6))
		s.shot(part)
	}
}
