package glue

import "math"

// End is the end of a strip as one sees it from the butt, the show face up: its box, and
// its growth rings as circles about a centre, mm, y up from the under face.
type End struct {
	Strip  int       `json:"strip" doc:"Its place among the strips, from 0"`
	Left   float64   `json:"left" doc:"Its left side, from the panel's left edge"`
	Width  float64   `json:"width" doc:"mm"`
	Height float64   `json:"height" doc:"mm"`
	X      float64   `json:"x" doc:"Centre of its rings, from the panel's left edge"`
	Y      float64   `json:"y" doc:"Centre of its rings, above the under face"`
	Rings  []float64 `json:"rings" doc:"Their radii"`
}

// pith is how far the middle of a strip lies from the middle of the tree where nobody has
// measured it, and apart how far its rings are drawn from each other, mm.
const (
	pith  = 160.0
	apart = 6.0
)

// ends are the strips' ends: plain-sawn wood has its rings along the wide face, heart side
// down; what is rolled or turned over shows them so.
func (p Panel) ends() (out []End) {
	left := 0.0
	for i, s := range p.Strips {
		across, high := p.Section(s)
		e := End{Strip: i, Left: left, Width: across, Height: high}
		// Toward the pith, from the middle of the strip: down in a plain-sawn one with its face up.
		angle := s.Rings*math.Pi/180 - math.Pi/2
		if p.Edge() {
			angle += math.Pi / 2
		}
		if s.Flipped {
			angle += math.Pi
		}
		if s.Turned { // seen from its other end
			angle = math.Pi - angle
		}
		sin, cos := math.Sincos(angle)
		e.X, e.Y = left+across/2+pith*cos, high/2+pith*sin
		reach := math.Hypot(across, high)/2 + apart
		for r := math.Ceil((pith-reach)/apart) * apart; r <= pith+reach; r += apart {
			if r > 0 {
				e.Rings = append(e.Rings, r)
			}
		}
		out = append(out, e)
		left += across
	}
	return out
}
