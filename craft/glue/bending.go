package glue

// Strip is a part of a section that bends with its neighbours: its width, mm, and
// modulus of elasticity, MPa.
type Strip struct{ Width, Modulus float64 }

// Stresses are the bending stresses of strips side by side, MPa, under a moment in N·mm:
// all bend alike, so that each bears by its stiffness.
func Stresses(moment, thickness float64, strips []Strip) []float64 {
	var stiff float64
	for _, s := range strips {
		stiff += s.Modulus * s.Width * thickness * thickness * thickness / 12
	}
	out := make([]float64, len(strips))
	if stiff <= 0 {
		return out
	}
	for i, s := range strips {
		out[i] = moment * s.Modulus / stiff * thickness / 2
	}
	return out
}

// Moves is a part of a panel's width and by what share of it its wood moves.
type Moves struct{ Width, Share float64 }

// Movement is by how much a panel moves across, mm.
func Movement(parts []Moves) (sum float64) {
	for _, p := range parts {
		sum += p.Width * p.Share
	}
	return sum
}

// Step is by how much two parts of a thickness come to stand proud of each other, mm,
// where their wood moves by different shares in thickness.
func Step(thickness, a, b float64) float64 {
	if a < b {
		a, b = b, a
	}
	return thickness * (a - b)
}
