package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
)

// What is short is on the list with its day; put on the shelf it is there no more; counted again the count stands; put
// away it is short again.
func TestTheShelf(t *testing.T) {
	s := open(t, 1280, 800)
	s.enter()
	short := `[...document.querySelectorAll(".to-buy tbody tr")].some((r) => r.innerText.startsWith("discs P60"))`
	away := `[...document.querySelectorAll(".shelf label")].find((l) => l.innerText === "What was put away")`
	left := `[...document.querySelectorAll(".product")].find((p) => p.innerText.startsWith("Coarse discs"))?.innerText`
	s.do(chromedp.Navigate(s.url+"/shelf"), s.see("Hemp cord"), s.see("opened more than 6 months ago"),
		s.press("To buy"), s.see("What has a price"))
	assert.True(t, ask[bool](s, short))
	s.do(s.press("On the shelf"), s.press("Put something on the shelf"), s.see("What the work takes"),
		s.choose("What the work takes", "abrasive/discs P60/pieces"), s.field("Called", "Coarse discs"),
		s.field("Counted now", "60"), s.field("A pack costs", "18.90"))
	s.accessible("putting something on the shelf")
	s.do(s.press("Keep it"), s.wait(left+`?.includes("60 pieces left")`), s.press("To buy"), s.see("What has a price"),
		s.wait(`!`+short))
	s.do(s.press("On the shelf"), s.field("Look for", "coarse"),
		s.wait(`document.querySelectorAll(".product").length === 1`),
		s.press("Coarse discs"), s.field("Counted now", "many"), s.press("Keep it"),
		s.see("Set right what is marked first"), s.field("Counted now", "2"), s.press("Keep it"),
		s.wait(left+`?.includes("2 pieces left, 2 pieces of it for work ahead")`),
		s.press("Coarse discs"), s.click(`document.querySelector(".product-form .remove")`),
		s.see("Nothing like that is on the shelf"), s.press("To buy"), s.wait(short),
		s.press("On the shelf"), s.click(away), s.press("Put Coarse discs back on the shelf"),
		s.wait(`!document.body.innerText.includes("Put Coarse discs back")`), s.click(away),
		s.wait(left+`?.includes("2 pieces left")`))
}
