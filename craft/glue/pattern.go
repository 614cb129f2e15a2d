package glue

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/species"
	"idletimber/craft/stage"
)

// Lab is a colour by lightness and two axes (CIE 1976 L*a*b*, D65), in which distances
// are about as large as they look.
type Lab struct{ L, A, B float64 }

// ParseLab reads a colour such as #d8b98a (sRGB, IEC 61966-2-1).
func ParseLab(hex string) (Lab, error) {
	var r, g, b uint8
	if n, err := fmt.Sscanf(hex, "#%02x%02x%02x", &r, &g, &b); n != 3 || err != nil || len(hex) != 7 {
		return Lab{}, fmt.Errorf("%q is no colour: write it like #d8b98a", hex)
	}
	linear := func(v uint8) float64 {
		c := float64(v) / 255
		if c <= 0.04045 {
			return c / 12.92
		}
		return math.Pow((c+0.055)/1.055, 2.4)
	}
	x, y, z := linear(r), linear(g), linear(b)
	x, y, z = 0.4124564*x+0.3575761*y+0.1804375*z, 0.2126729*x+0.7151522*y+0.0721750*z,
		0.0193339*x+0.1191920*y+0.9503041*z
	f := func(t float64) float64 {
		const d = 6.0 / 29
		if t > d*d*d {
			return math.Cbrt(t)
		}
		return t/(3*d*d) + 4.0/29
	}
	fx, fy, fz := f(x/0.95047), f(y), f(z/1.08883)
	return Lab{116*fy - 16, 500 * (fx - fy), 200 * (fy - fz)}, nil
}

// Apart is how far two colours lie apart (ΔE, CIE 1976).
func (c Lab) Apart(o Lab) float64 {
	return math.Sqrt((c.L-o.L)*(c.L-o.L) + (c.A-o.A)*(c.A-o.A) + (c.B-o.B)*(c.B-o.B))
}

// Pattern is the order of a panel's species, the same for one that is mirrored
// or turned end for end.
func (p Panel) Pattern() string {
	names := make([]string, len(p.Strips))
	for i, s := range p.Strips {
		names[i] = s.Species
	}
	back := slices.Clone(names)
	slices.Reverse(back)
	if slices.Compare(back, names) < 0 {
		names = back
	}
	return p.Construction + ": " + strings.Join(names, ", ")
}

// Proposed is the order of its strips with the greatest contrast between neighbours, by
// their places now.
func (p Panel) Proposed(own []species.Species) []int {
	colours := make([]Lab, len(p.Strips))
	for i, s := range p.Strips {
		wood, _ := species.FindIn(own, s.Species)
		colours[i], _ = ParseLab(wood.Light) // of the table, or checked
	}
	return Order(colours)
}

// repeats tells of an earlier panel of the same pattern.
func (p Panel) repeats(r *stage.Record, before []Earlier) {
	mine := p.Pattern()
	for _, e := range before {
		if e.Pattern != mine || len(p.Strips) < 3 {
			continue
		}
		r.Verdicts = append(r.Verdicts, verdict("pattern", "", craft.Good, "The same pattern as "+e.Name,
			"Told, in case each gift is to be one of its kind.", craft.Figure{
				Key: "glue.repeat", Label: "Panels of this pattern before", Value: 1,
				Formula: "same construction and order of species, mirrored or not", Source: "the workshop's panels",
			}))
		return
	}
}

// exact is up to how many strips every order is tried.
const exact = 9

// Order proposes an order of strips by their colours: the one whose least contrast
// between neighbours is greatest, of those that come alike the most symmetric, of those
// the first. It is exact up to nine strips; of more, no exchange of two, nor a stretch
// turned about, betters it.
func Order(colours []Lab) []int {
	if len(colours) <= exact {
		return exactly(colours)
	}
	return bettered(colours)
}

// rating is how good an order is.
type rating struct {
	least float64 // contrast
	alike int     // strips that match their mirror image
}

func (r rating) over(o rating) bool {
	const same = 1e-9
	if math.Abs(r.least-o.least) > same {
		return r.least > o.least
	}
	return r.alike > o.alike
}

func rate(colours []Lab, order []int) rating {
	out := rating{least: math.Inf(1)}
	for i, k := range order {
		if i > 0 {
			out.least = min(out.least, colours[k].Apart(colours[order[i-1]]))
		}
		if colours[k] == colours[order[len(order)-1-i]] {
			out.alike++
		}
	}
	return out
}

// exactly tries every order, strips of one colour in their own.
func exactly(colours []Lab) []int {
	n := len(colours)
	order, used := make([]int, 0, n), make([]bool, n)
	var best []int
	var rated rating
	var place func(least float64)
	place = func(least float64) {
		if best != nil && least < rated.least-1e-9 {
			return
		}
		if len(order) == n {
			if r := rate(colours, order); best == nil || r.over(rated) {
				best, rated = slices.Clone(order), r
			}
			return
		}
		var tried []Lab
		for k := range n {
			if used[k] || slices.Contains(tried, colours[k]) {
				continue
			}
			tried = append(tried, colours[k])
			next := least
			if len(order) > 0 {
				next = min(next, colours[k].Apart(colours[order[len(order)-1]]))
			}
			used[k], order = true, append(order, k)
			place(next)
			used[k], order = false, order[:len(order)-1]
		}
	}
	place(math.Inf(1))
	return best
}

// bettered begins with the strips as they stand and betters their order until nothing
// does: exchanges of two, and stretches turned about.
func bettered(colours []Lab) []int {
	n := len(colours)
	order := make([]int, n)
	for i := range order {
		order[i] = i
	}
	// Light and dark by turns is a good beginning.
	slices.SortStableFunc(order, func(a, b int) int {
		switch {
		case colours[a].L < colours[b].L:
			return -1
		case colours[a].L > colours[b].L:
			return 1
		}
		return 0
	})
	mixed := make([]int, 0, n)
	for i := range (n + 1) / 2 {
		mixed = append(mixed, order[i])
		if k := i + (n+1)/2; k < n {
			mixed = append(mixed, order[k])
		}
	}
	rated := rateAll(colours, mixed)
	for better := true; better; {
		better = false
		for i := range n {
			for k := i + 1; k < n; k++ {
				for _, change := range []func([]int){
					func(o []int) { o[i], o[k] = o[k], o[i] },
					func(o []int) { slices.Reverse(o[i : k+1]) },
				} {
					next := slices.Clone(mixed)
					change(next)
					if r := rateAll(colours, next); r.over(rated) {
						mixed, rated, better = next, r, true
					}
				}
			}
		}
	}
	return mixed
}

// rankedRating is a rating with all contrasts, least first, so that a search climbs
// though the least stays.
type rankedRating struct {
	rating
	contrasts []float64
}

func rateAll(colours []Lab, order []int) rankedRating {
	out := rankedRating{rating: rate(colours, order)}
	for i := 1; i < len(order); i++ {
		out.contrasts = append(out.contrasts, colours[order[i]].Apart(colours[order[i-1]]))
	}
	slices.Sort(out.contrasts)
	return out
}

func (r rankedRating) over(o rankedRating) bool {
	for i := range r.contrasts {
		if d := r.contrasts[i] - o.contrasts[i]; math.Abs(d) > 1e-9 {
			return d > 0
		}
	}
	return r.alike > o.alike
}
