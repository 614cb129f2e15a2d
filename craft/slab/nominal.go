package slab

// Nominal is a shop board: sold by a size that is not its real one. Lengths
// in mm.
type Nominal struct {
	Name      string  `json:"name" doc:"As it is sold, in inches; hardwood in quarters, at any width"`
	Thickness float64 `json:"thickness" doc:"As it really is, dressed"`
	Width     float64 `json:"width" doc:"As it really is; 0 where it is sold at any width"`
}

// Nominals lists the usual shop boards with their dressed sizes: softwood
// after the American Softwood Lumber Standard (DOC PS 20) dry, hardwood
// surfaced on two sides after the rules of its trade.
var Nominals = nominals()

func nominals() (out []Nominal) {
	thick := []struct {
		name string
		mm   float64
	}{{"1", 19}, {"5/4", 25}, {"2", 38}}
	wide := []struct {
		name string
		mm   float64
	}{{"2", 38}, {"3", 64}, {"4", 89}, {"6", 140}, {"8", 184}, {"10", 235}, {"12", 286}}
	for _, t := range thick {
		for _, w := range wide {
			if t.name == "2" && w.name == "2" || w.mm > t.mm {
				out = append(out, Nominal{t.name + "×" + w.name, t.mm, w.mm})
			}
		}
	}
	return append(
		out,
		Nominal{"4/4 hardwood, surfaced", 20.6, 0},
		Nominal{"5/4 hardwood, surfaced", 27, 0},
		Nominal{"6/4 hardwood, surfaced", 33.3, 0},
		Nominal{"8/4 hardwood, surfaced", 44.5, 0},
	)
}
