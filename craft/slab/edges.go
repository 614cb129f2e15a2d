package slab

import "slices"

// qualities are how straight a sawn edge is, the best first.
var qualities = []string{"jointed", "factory", "sawn"}

// BestEdge names the straighter of its long edges, left or right, to which every mark and cut
// refers, and how straight it is; both are empty where its edges are natural, or nobody told.
func (s Slab) BestEdge() (side, quality string) {
	best := len(qualities)
	for _, e := range []struct {
		side, quality string
		live          bool
	}{{"left", s.LeftEdge, s.LiveLeft}, {"right", s.RightEdge, s.LiveRight}} {
		if i := slices.Index(qualities, e.quality); !e.live && i >= 0 && i < best {
			best, side, quality = i, e.side, e.quality
		}
	}
	return side, quality
}
