// Package river reckons resin that is cast between pieces of wood in a mould: what the gap holds,
// the mould, what holds the wood down, and what comes out of it.
//
// The frame is that of the panel that comes out: x along it, y across from its middle, the face
// that lies up in the mould seen from above:
//
//	 W/2 ┌────────────── far bank ──────────────┐
//	     │ ~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~ │
//	  0 ─┼─ ─ ─ ─ ─ ─ ─  river  ─ ─ ─ ─ ─ ─ ─ ─ ┼─→ x
//	     │ ~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~~ │
//	−W/2 └────────────── near bank ─────────────┘
//	     0                                      L
//
// Lengths in mm, volumes in ml, masses in g, forces in N.
package river

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/species"
	"idletimber/craft/stock"
)

// River is what is cast: its mould, its banks, its resin.
type River struct {
	Length  float64     `json:"length" mm:"50,3000" doc:"Of the mould, inside"`
	Width   float64     `json:"width" mm:"30,1500" doc:"Of the mould, inside"`
	Depth   float64     `json:"depth" mm:"3,120" doc:"Of the pour"`
	Fill    fill.Choice `json:"fill" doc:"Its resin, colour, reserve and warmth"`
	Banks   []Bank      `json:"banks" doc:"The pieces of wood"`
	Wall    float64     `json:"wall" mm:"3,50" doc:"How thick the sheet of the mould is"`
	Tape    float64     `json:"tape" mm:"20,200" doc:"How wide the tape is that covers it"`
	Covered bool        `json:"covered,omitempty" doc:"Resin does not stick to the sheet: no tape"`
	Kept    string      `json:"kept,omitempty" doc:"Name of the mould on the shelf that is used again"`
}

// Bank is a piece of wood in the mould, as it was when it was laid there.
type Bank struct {
	ID        string         `json:"id" doc:"Its own"`
	Name      string         `json:"name" doc:"Of the piece that it is of"`
	Piece     string         `json:"piece,omitempty" doc:"Id of that piece"`
	Species   string         `json:"species" doc:"By its name"`
	Thickness float64        `json:"thickness" mm:"3,150" doc:"As it is planed"`
	Rings     float64        `json:"rings,omitempty" range:"0,90" doc:"Of its end grain to the face, degrees"`
	Show      geom.Ring      `json:"show" doc:"Its show face, in its own frame"`
	Under     geom.Ring      `json:"under,omitempty" doc:"Its under face, point by point; left out where it is alike"`
	Bark      string         `json:"bark,omitempty" enum:",sound,loose,splintery,bare" doc:"On edges that meet resin"`
	Flaws     []stock.Flaw   `json:"flaws,omitempty" doc:"Marks on it, in its own frame"`
	At        geom.Placement `json:"at" doc:"Where it lies in the mould"`
}

// MostBanks bounds the pieces of one river, mostPoints the points of a bank, mostFlaws its marks,
// and longest how far along it they lie, mm.
const (
	MostBanks  = 12
	mostPoints = 1000
	mostFlaws  = 100
	longest    = 10_000
)

// Check reports what is out of range or unknown.
func (r River) Check(field string, own []species.Species) (ps craft.Problems) {
	ps.InRange(field, r)
	ps = append(ps, r.Fill.Check(field+".fill")...)
	if len(r.Banks) == 0 || len(r.Banks) > MostBanks {
		ps.Add(field+".banks", "there must be from 1 to 12 banks", "lay a piece of wood in the mould")
		return ps
	}
	if len(r.Kept) > 200 {
		ps.Add(field+".kept", "the name is too long", "use at most 200 characters")
	}
	seen := map[string]bool{}
	for i, b := range r.Banks {
		at := fmt.Sprintf("%s.banks[%d]", field, i)
		if b.ID == "" || len(b.ID) > 64 || seen[b.ID] {
			ps.Add(at+".id", "the id is empty, too long or used twice", "give every bank an id of its own")
		}
		seen[b.ID] = true
		if len(b.Name) > 200 || len(b.Piece) > 64 {
			ps.Add(at+".name", "it is too long", "use at most 200 characters")
		}
		ps.InRange(at, b)
		ps.InRange(at+".at", b.At)
		ps = append(ps, species.Check(at+".species", b.Species, own)...)
		ps.OneOf(at+".bark", b.Bark, "", "sound", stock.Loose, stock.Splintery, stock.Bare)
		checkRing(&ps, at+".show", b.Show)
		if len(b.Under) > 0 {
			checkRing(&ps, at+".under", b.Under)
			if len(b.Under) != len(b.Show) {
				ps.Add(at+".under", "it has not as many points as the show face", "draw both point by point")
			}
		}
		if len(b.Flaws) > mostFlaws {
			ps.Add(at+".flaws", "there are too many marks", fmt.Sprintf("keep at most %d", mostFlaws))
			continue
		}
		for k, f := range b.Flaws {
			ps = append(ps, f.Check(fmt.Sprintf("%s.flaws[%d]", at, k), longest)...)
		}
	}
	return ps
}

func checkRing(ps *craft.Problems, field string, r geom.Ring) {
	if len(r) < 3 || len(r) > mostPoints {
		ps.Add(field, fmt.Sprintf("an outline needs from 3 to %d points", mostPoints), "draw it round once")
		return
	}
	for i, p := range r {
		ps.Length(fmt.Sprintf("%s[%d].x", field, i), p.X, -10000, 10000)
		ps.Length(fmt.Sprintf("%s[%d].y", field, i), p.Y, -10000, 10000)
	}
}

// at is the bank's outline at a height above the bottom of the mould, in the river's frame; nil
// above the wood.
func (b Bank) at(height float64) geom.Ring {
	if height > b.Thickness {
		return nil
	}
	deep := 1 - height/b.Thickness // share of the way down from the face that lies up
	if b.At.Flip {
		deep = 1 - deep
	}
	if len(b.Under) != len(b.Show) {
		return b.Show.Map(b.At.Out)
	}
	out := make(geom.Ring, len(b.Show))
	for i, p := range b.Show {
		out[i] = b.At.Out(p.Lerp(b.Under[i], deep))
	}
	return out
}

// Panel is how thick the panel comes out when both faces are flattened, mm (rule: half a
// millimetre a face).
func (r River) Panel() float64 { return max(1, r.Depth-2*faced) }

// faced is what flattening takes off a face of a cast panel, mm (rule).
const faced = 0.5

// over is where the bank lies when it is turned over and end for end: along the same wall, its live
// edge to the same side.
func (b Bank) over() geom.Placement {
	was := b.Show.Map(b.At.Out).Bounds()
	at := b.At
	at.Flip, at.Angle = !at.Flip, math.Remainder(at.Angle+180, 360)
	is := b.Show.Map(at.Out).Bounds()
	at.X, at.Y = at.X+was.MinX-is.MinX, at.Y+was.MinY-is.MinY
	return at
}

// level is the mould at a height: where the wood of the banks is.
type level []geom.Ring

func (r River) level(height float64) (out level) {
	for _, b := range r.Banks {
		if ring := b.at(height); ring != nil {
			out = append(out, ring)
		}
	}
	return out
}

// ribs are the x at which anything changes on a level: between two of them every edge runs
// straight, and within the mould or without.
func (r River) ribs(l level) []float64 {
	half := r.Width / 2
	xs := []float64{0, r.Length}
	add := func(x float64) {
		if x > 0 && x < r.Length {
			xs = append(xs, x)
		}
	}
	for _, ring := range l {
		for i := range ring {
			a, b := ring.Edge(i)
			add(a.X)
			for _, y := range []float64{-half, half} {
				if (a.Y > y) != (b.Y > y) {
					add(a.X + (b.X-a.X)*(y-a.Y)/(b.Y-a.Y))
				}
			}
		}
	}
	slices.Sort(xs)
	return slices.CompactFunc(xs, func(a, b float64) bool { return math.Abs(b-a) < 1e-6 })
}

// open is the area of a level that no wood fills, mm²: the mould less its banks, where two lie over
// each other only once.
func (r River) open(l level) float64 {
	box := r.inside()
	area := box.Area()
	for i, ring := range l {
		area -= geom.ClippedArea(ring, box)
		for _, other := range l[i+1:] {
			if ring.Bounds().Apart(other.Bounds()) > 0 {
				continue
			}
			for _, part := range geom.Common(ring, other) {
				area += geom.ClippedArea(part, box)
			}
		}
	}
	return max(0, area)
}

// levels is how many levels a pour is summed over (Simpson): edges run straight from face to face.
const levels = 8

// simpson is the mean of a value over the shares 0 to 1 of a height.
func simpson(of func(share float64) float64) (mean float64) {
	for k := range levels + 1 {
		weight := 2 + 2*float64(k%2)
		if k == 0 || k == levels {
			weight = 1
		}
		mean += weight * of(float64(k)/levels) / levels / 3
	}
	return mean
}

// Volume is what the gap holds up to the depth of the pour, ml.
func (r River) Volume() float64 {
	// Where a bank ends below the surface, the sum is taken up to it and from it on.
	cuts := []float64{0, r.Depth}
	for _, b := range r.Banks {
		if b.Thickness < r.Depth {
			cuts = append(cuts, b.Thickness)
		}
	}
	slices.Sort(cuts)
	var sum float64
	for i := 0; i+1 < len(cuts); i++ {
		from, deep := cuts[i], cuts[i+1]-cuts[i]
		if deep < 1e-9 {
			continue
		}
		sum += simpson(func(share float64) float64 {
			inside := min(max(share, 1e-9), 1-1e-9) // a surface belongs to what lies below and above it
			return r.open(r.level(from + inside*deep))
		}) * deep
	}
	return sum / 1000
}

// top is the level that is seen: the faces of the wood, or the surface of the resin where that
// stands lower.
func (r River) top() level {
	var out level
	for _, b := range r.Banks {
		out = append(out, b.at(min(b.Thickness, r.Depth)))
	}
	return out
}

// plain is the level that is seen, drawn with as few points as its lines need.
func (r River) plain() level {
	var out level
	for _, ring := range r.top() {
		out = append(out, ring.Simplified(fine))
	}
	return out
}

// Widths are the widths of the gap at five places along it, as one would measure them by hand.
func (r River) Widths() [5]float64 {
	var out [5]float64
	l := r.top()
	for i := range out {
		x := min(max(r.Length*float64(i)/4, 1e-6), r.Length-1e-6)
		for _, m := range r.marks(l, x) {
			if m.bank < 0 {
				out[i] += m.to - m.from
			}
		}
	}
	return out
}

// Guess is the volume by the mean of five widths, ml.
func (r River) Guess() float64 {
	var sum float64
	for _, w := range r.Widths() {
		sum += w
	}
	return sum / 5 * r.Length * r.Depth / 1000
}

// Resin is cast resin as the wood about it: by its density it weighs, by its bond it holds, it does
// not move, and it is sanded as hard as 3000 N (rules).
func (r River) Resin() species.Species {
	const bends, bond, hard = 60, 5, 3000 // MPa, MPa, N
	look := r.Fill.Look(r.Depth)
	return species.Species{
		Name: ResinName, Botanical: "cast", Group: "hardwood",
		Density: 1000 * r.Fill.Density(), Janka: hard, MOR: bends,
		TensionPerp: bond, TensionGuess: true, Pores: "none", Food: "caution", Light: look.Hue, Dark: look.Hue,
		Dust: "irritant", Note: "cast resin: for serving, not for cutting on",
	}
}

// ResinName is what cast resin is called among the woods of a panel.
const ResinName = "Resin"

// fine is by how much the lines of the parts of a panel may stray from the banks' own, mm.
const fine = 0.3

// Parts are what the panel is made of, banks and resin, in convex pieces that meet.
func (r River) Parts(own []species.Species) (out []stock.Patch) {
	l := r.plain()
	half, xs := r.Width/2, r.ribs(l)
	resin := stock.Here{Species: r.Resin()}
	for i := 0; i+1 < len(xs); i++ {
		dx := xs[i+1] - xs[i]
		if dx < 1e-3 {
			continue
		}
		a, b := xs[i]+1e-6*dx, xs[i+1]-1e-6*dx
		left, right := r.marks(l, a), r.marks(l, b)
		if len(left) != len(right) {
			continue
		}
		for k := range left {
			p, q := left[k], right[k]
			ring := geom.Ring{
				{X: xs[i], Y: p.from},
				{X: xs[i+1], Y: q.from},
				{X: xs[i+1], Y: q.to},
				{X: xs[i], Y: p.to},
			}
			here := resin
			if p.bank >= 0 {
				bank := r.Banks[p.bank]
				wood, _ := species.FindIn(own, bank.Species)
				here = stock.Here{Species: wood, Fibres: bank.At.Angle, Rings: bank.Rings}
			}
			if ring.Area() > 1e-6 {
				out = append(out, stock.Patch{Here: here, Ring: ring})
			}
		}
	}
	if len(out) == 0 {
		box := geom.Ring{{X: 0, Y: -half}, {X: r.Length, Y: -half}, {X: r.Length, Y: half}, {X: 0, Y: half}}
		out = append(out, stock.Patch{Here: resin, Ring: box})
	}
	return out
}

// mark is a stretch across the mould at one x: of a bank, or of none.
type mark struct {
	from, to float64
	bank     int // −1 for resin
}

func (r River) marks(l level, x float64) (out []mark) {
	half := r.Width / 2
	for i, ring := range l {
		ys := ring.SpansAcross(x, nil)
		for k := 0; k+1 < len(ys); k += 2 {
			if from, to := max(ys[k], -half), min(ys[k+1], half); to > from {
				out = append(out, mark{from, to, i})
			}
		}
	}
	slices.SortFunc(out, func(a, b mark) int { return cmp.Compare(a.from, b.from) })
	at, all := -half, []mark{}
	for _, m := range out {
		if m.from > at {
			all = append(all, mark{at, m.from, -1})
		}
		if m.from = max(m.from, at); m.to > m.from {
			all = append(all, m)
		}
		at = max(at, m.to)
	}
	if at < half {
		all = append(all, mark{at, half, -1})
	}
	return all
}

// Main is the species that most of the wood is of.
func (r River) Main() string {
	area := map[string]float64{}
	for _, b := range r.Banks {
		area[b.Species] += b.Show.Area()
	}
	best := ""
	for _, b := range r.Banks {
		if best == "" || area[b.Species] > area[best] {
			best = b.Species
		}
	}
	return best
}

// Flaws are the marks on the banks as they lie in the panel.
func (r River) Flaws() (out []stock.Flaw) {
	for _, b := range r.Banks {
		for _, f := range b.Flaws {
			f = f.Out(b.At)
			f.ID = b.ID + ":" + f.ID
			if box := f.Bounds(); box.MaxX > 0 && box.MinX < r.Length && math.Abs(box.MinY) < r.Width {
				out = append(out, f)
			}
		}
	}
	return out
}

// Lift is what a bank is lifted by when the resin stands to its mark, N: what it displaces less
// its own weight; negative where it lies by itself.
type Lift struct {
	Bank    string  `json:"bank" doc:"Its name"`
	Newtons float64 `json:"newtons" doc:"Upwards"`
	Downs   int     `json:"downs" doc:"Hold-downs, one at least for every 250 mm"`
	Each    float64 `json:"each" doc:"What each must hold, twice its share, N"`
	Long    float64 `json:"long" doc:"Length of the bank, mm"`
	Grams   float64 `json:"grams" doc:"What it weighs"`
	Under   float64 `json:"under" doc:"Of it under the resin, ml"`
}

// downEvery is how far apart hold-downs stand at the most, mm, and holds how many times its share
// each bears (rules).
const (
	downEvery = 250
	holds     = 2
)

// Lifts are what each bank is lifted by.
func (r River) Lifts(own []species.Species) (out []Lift) {
	density := r.Fill.Density()
	for _, b := range r.Banks {
		wood, _ := species.FindIn(own, b.Species)
		box := b.Show.Bounds()
		up := min(r.Depth, b.Thickness)
		under := b.volume(up)
		l := Lift{Bank: b.Name, Long: max(box.MaxX-box.MinX, box.MaxY-box.MinY), Under: under,
			Grams: b.volume(b.Thickness) * wood.Density / 1000}
		l.Newtons = (density*under - l.Grams) * craft.Gravity / 1000
		l.Downs = max(1, int(math.Ceil(l.Long/downEvery-1e-9)))
		l.Each = max(0, holds*l.Newtons/float64(l.Downs))
		out = append(out, l)
	}
	return out
}

// volume is that of the bank up to a height, ml.
func (b Bank) volume(to float64) (ml float64) {
	return simpson(func(share float64) float64 { return b.at(min(to*share, b.Thickness)).Area() }) * to / 1000
}

// Rings are the resin as a whole, then each bank upon it, in the panel's frame.
func (r River) Rings(own []species.Species) []stock.Patch {
	out := []stock.Patch{{Here: stock.Here{Species: r.Resin()}, Ring: r.inside()}}
	for i, ring := range r.top() {
		wood, _ := species.FindIn(own, r.Banks[i].Species)
		if part := geom.Clip(ring, r.inside()); len(part) > 2 {
			out = append(out, stock.Patch{Here: stock.Here{Species: wood, Fibres: r.Banks[i].At.Angle}, Ring: part})
		}
	}
	return out
}
