package stock

import (
	"math"
	"slices"

	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/species"
)

// Here is what the wood is at a place.
type Here struct {
	Species species.Species
	Fibres  float64 // their direction on the face, degrees anticlockwise from the frame's x
	Rings   float64 // to the wide face: 0 plain-sawn, 90 quarter-sawn
	Radius  float64 // of the rings at the face, mm; 0 where it is not known
	End     bool    // the fibres stand on the face
}

// Coefficient is the movement across the grain a percent point of moisture.
func (h Here) Coefficient() float64 { return moisture.Coefficient(h.Species.CT, h.Species.CR, h.Rings) }

// Angle is the angle in degrees, 0 to 90, between the fibres and a direction in
// the same frame: 90 where they stand on the face.
func (h Here) Angle(direction float64) float64 {
	if h.End {
		return 90
	}
	a := math.Mod(math.Abs(direction-h.Fibres), 180)
	return min(a, 180-a)
}

// Strength is the bending strength in MPa of a member that runs in a direction of
// the frame, degrees.
func (h Here) Strength(direction float64) float64 { return h.Species.Strength(h.Angle(direction)) }

// Stretch is a part of a line through the wood that is alike all along.
type Stretch struct {
	Here
	A, B geom.Point
}

// Length of the stretch, mm.
func (s Stretch) Length() float64 { return s.B.Sub(s.A).Len() }

// Patch is a part of a region that is alike all over.
type Patch struct {
	Here
	Ring geom.Ring
}

// Area of the patch, mm².
func (p Patch) Area() float64 { return p.Ring.Area() }

// Grain tells what the wood is at a place, along a section and over a region. The
// frame is the wood's; Seen gives the same from a board that lies on it.
type Grain interface {
	At(p geom.Point) Here
	// Along lists what a line from a to b passes through, in order.
	Along(a, b geom.Point) []Stretch
	// Over lists what a region is made of.
	Over(r geom.Ring) []Patch
	// Seen is the grain in the frame of a board that lies so on the wood.
	Seen(from geom.Placement) Grain
}

// Uniform is wood that is the same everywhere: one piece of one species.
type Uniform Here

// At is the same everywhere.
func (u Uniform) At(geom.Point) Here { return Here(u) }

// Along is one stretch.
func (u Uniform) Along(a, b geom.Point) []Stretch { return []Stretch{{Here(u), a, b}} }

// Over is one patch.
func (u Uniform) Over(r geom.Ring) []Patch { return []Patch{{Here(u), r}} }

// Seen turns the fibres into a board's frame.
func (u Uniform) Seen(from geom.Placement) Grain {
	if from.Flip {
		u.Fibres = from.Angle - u.Fibres
	} else {
		u.Fibres -= from.Angle
	}
	return u
}

// mean is the mean of a figure over parts, by their size: exactly the figure
// where there is one part.
func mean[P any](parts []P, size, of func(P) float64) float64 {
	if len(parts) == 1 {
		return of(parts[0])
	}
	var sum, all float64
	for _, p := range parts {
		sum, all = sum+size(p)*of(p), all+size(p)
	}
	if all == 0 {
		return 0
	}
	return sum / all
}

// Density is the mean density of a region, kg/m³.
func Density(region []Patch) float64 {
	return mean(region, Patch.Area, func(p Patch) float64 { return p.Species.Density })
}

// hardnessPower is how the rate of sanding goes with the hardness (rule).
const hardnessPower = 0.6

// Hardness is the Janka hardness, N, of a wood that is sanded as quickly as a
// region of several.
func Hardness(region []Patch) float64 {
	if len(region) == 1 {
		return region[0].Species.Janka
	}
	m := mean(region, Patch.Area, func(p Patch) float64 { return math.Pow(p.Species.Janka, hardnessPower) })
	return math.Pow(m, 1/hardnessPower)
}

// Coefficient is the movement across the grain of a section a percent point of
// moisture, as a share of its length.
func Coefficient(section []Stretch) float64 {
	return mean(section, Stretch.Length, func(s Stretch) float64 { return s.Here.Coefficient() })
}

// Moves is the movement in a direction of the frame a percent point of moisture: nothing
// along the fibres, all of it across them, and across them all where they stand.
func (h Here) Moves(direction float64) float64 {
	if h.End {
		return h.Coefficient()
	}
	across := math.Sin(h.Angle(direction) * math.Pi / 180)
	return h.Coefficient() * across * across
}

// Rises is the movement of the thickness a percent point of moisture: what the face does
// not take of radial and tangential.
func (h Here) Rises() float64 {
	if h.End {
		return 0
	}
	return moisture.Coefficient(h.Species.CT, h.Species.CR, 90-h.Rings)
}

// Movement is by how much a section grows a percent point of moisture, mm.
func Movement(section []Stretch) (sum float64) {
	for _, s := range section {
		d := s.B.Sub(s.A)
		sum += s.Length() * s.Moves(math.Atan2(d.Y, d.X)*180/math.Pi)
	}
	return sum
}

// Turning reports a region whose fibres run in one direction, so that a board on it may be
// turned along them.
func Turning(region []Patch) bool {
	return !slices.ContainsFunc(region, func(p Patch) bool { return p.End || p.Angle(region[0].Fibres) > 1e-6 })
}

// EndArea is how much of a region is end grain, mm².
func EndArea(region []Patch) (sum float64) {
	for _, p := range region {
		if p.End {
			sum += p.Area()
		}
	}
	return sum
}

// DensityAlong is the mean density along a section, kg/m³.
func DensityAlong(section []Stretch) float64 {
	return mean(section, Stretch.Length, func(s Stretch) float64 { return s.Species.Density })
}

// Strength is the mean bending stress in MPa at which the first of some stretches side by
// side fails, of a member that runs in a direction of their frame, degrees, and which it
// is. All bend alike, so that each bears by its stiffness; of one stretch it is its own
// strength.
func Strength(section []Stretch, direction float64) (mpa float64, weakest Here) {
	stiff := mean(section, Stretch.Length, func(s Stretch) float64 { return s.Species.Modulus() })
	mpa = math.Inf(1)
	for _, s := range section {
		m := s.Strength(direction)
		if len(section) > 1 {
			m *= stiff / s.Species.Modulus()
		}
		if m < mpa {
			mpa, weakest = m, s.Here
		}
	}
	return mpa, weakest
}

// SpeciesIn lists the species of a region, each once.
func SpeciesIn(region []Patch) (out []species.Species) {
	for _, p := range region {
		if !slices.ContainsFunc(out, func(s species.Species) bool { return s.Name == p.Species.Name }) {
			out = append(out, p.Species)
		}
	}
	return out
}
