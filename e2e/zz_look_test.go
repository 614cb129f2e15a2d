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
	for _, part := range []string{"tools"} {
		s.do(chromedp.Navigate(s.url+"/shop?part="+part), s.see("House and hours"), chromedp.Sleep(600e6))
		s.shot(part)
	}
	id := ask[string](s, `fetch("/api/boards?limit=5").then(r=>r.json()).then(j=>(j.boards ?? j.lines ?? j.items)[0].id)`)
	for name, q := range map[string]string{"flatten": "stage=flatten", "cut": "stage=shape&part=cut", "fit": "stage=fit"} {
		s.do(chromedp.Navigate(s.url+"/boards/"+id+"?"+q), s.see("Fit"), chromedp.Sleep(900e6))
		s.shot(name)
	}
}
