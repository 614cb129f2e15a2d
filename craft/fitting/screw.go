package fitting

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// WoodScrew is the shortest and the longest wood screw, mm, that holds a part
// on a board: it bites 10 mm and stays 4 mm clear of the far face.
func WoodScrew(part, board, countersink float64) (shortest, longest float64) {
	return part - countersink + bite, part + board - countersink - spare
}

// Thread that a machine screw needs in a pull, mm.
const leastThread, mostThread = 6, 10

// MachineScrew is the shortest and the longest machine screw, mm, from under a
// board into a pull.
func MachineScrew(board, countersink float64) (shortest, longest float64) {
	return board - countersink + leastThread, board - countersink + mostThread
}

// core is the share of a wood screw's nominal diameter that its core has.
const core = 0.66

// dense is the Janka hardness, N, over which a pilot hole is bored larger.
const dense = 4500

// Pilot is the diameter of the pilot hole for a wood screw, mm, to the next
// tenth.
func Pilot(screw, janka float64) float64 {
	d := screw * core
	if janka > dense {
		d += 0.3
	}
	return math.Round(d*10) / 10
}

// screwLengths are the lengths that screws are sold in, mm.
var screwLengths = []float64{10, 12, 14, 16, 18, 20, 22, 25, 28, 30, 35, 40, 45, 50, 55, 60, 70, 80, 90, 100, 120}

// sold is the longest length sold within a range, 0 when there is none.
func sold(shortest, longest float64) (best float64) {
	for _, l := range screwLengths {
		if l >= shortest-1e-9 && l <= longest+1e-9 {
			best = l
		}
	}
	return best
}

// sized names screws of a kind by their diameter and, where one is sold that holds, their
// length, mm.
func sized(kind string, diameter, length float64) string {
	name := kind + " of " + craft.Length(diameter)
	if length > 0 {
		name += " × " + craft.Length(length)
	}
	return name
}

// near judges whether what is bored into the faces for one fitting keeps so far from
// every edge that it does not split it: the outline and the holes.
func (f *Fitted) near(b Board, of, check string, want float64) {
	least := math.Inf(1)
	var mark *craft.Mark
	for _, o := range b.Shaped.Bores {
		if o.Side() || o.Of != of {
			continue
		}
		look := func(edge geom.Ring, within bool) {
			at, d := edge.Nearest(o.A)
			if edge.Contains(o.A) != within {
				d = 0
			}
			if d < least {
				least, mark = d, &craft.Mark{AX: o.A.X, AY: o.A.Y, BX: at.X, BY: at.Y}
			}
		}
		look(b.Shaped.Outline, true)
		for _, h := range b.Shaped.Holes {
			look(h, false)
		}
	}
	level, finding := craft.Good, "The holes keep clear of the edges"
	switch {
	case least <= 0:
		level, finding = craft.Stop, "A hole lies outside the board, or in another hole"
	case least < want:
		level, finding = craft.Mind, "A hole is so near an edge that it may split"
	}
	f.judge(
		check,
		level,
		finding,
		"A screw near an edge or an end splits the wood.",
		craft.Figure{
			Key:     "fit.edge",
			Label:   "Least distance of a hole to an edge",
			Value:   least,
			Unit:    craft.MM,
			Formula: "measured on the outline and the holes, against 3 diameters of the screw",
			Source:  "rule of the trade",
			Rule:    true,
		},
		want,
		true,
	)
	f.verdicts[len(f.verdicts)-1].Mark = mark
}

// clearOf is how much wood should lie between what is cut for a fitting and anything
// else that is cut, mm.
const clearOf = 3

// crossing judges what is cut for the fittings against all else that is cut into the
// board, and the voids of its wood.
func (f *Fitted) crossing(b Board) {
	var open []board.Hollow
	for _, v := range b.Open {
		open = append(open, v.Hollow(b.Thickness))
	}
	least, one, other := b.Shaped.Crossing(b.Thickness, open)
	if math.IsInf(least, 1) {
		return
	}
	level, finding := craft.Under(least, clearOf, 0.01), "Wood between the "+one.Name+" and the "+other.Name
	if level == craft.Stop {
		finding = "The " + one.Name + " meets the " + other.Name
	}
	f.judge(
		"crossing",
		level,
		finding,
		"Where two of them meet, a screw finds nothing to bite, an arm no bearing, and a floor breaks through: move "+
			"one of the two.",
		craft.Figure{
			Key:   "fit.crossing",
			Label: "Least wood between them",
			Value: least,
			Unit:  craft.MM,
			Formula: "distance between what is cut for a fitting and all else that is cut, beside each other at one " +
				"height, above each other at one place",
			Source: "rule of the trade",
			Rule:   true,
		},
		clearOf,
		true,
	)
	at := one.Ring.Centroid()
	f.verdicts[len(f.verdicts)-1].Mark = &craft.Mark{AX: at.X - 4, AY: at.Y - 4, BX: at.X + 4, BY: at.Y + 4}
}
