package tool

import (
	"fmt"
	"math"

	"idletimber/craft"
)

// The kinds of router bits.
const (
	Straight  = "straight"
	FlushTrim = "flush trim"
	RoundNose = "round nose"
	RoundOver = "round-over"
	Chamfer   = "chamfer"
)

// RouterBits lists the kinds of router bits.
var RouterBits = []string{Straight, FlushTrim, RoundNose, RoundOver, Chamfer}

// RouterBit is one bit of the router.
type RouterBit struct {
	Kind     string  `json:"kind" enum:"straight,flush trim,round nose,round-over,chamfer" doc:"What it cuts"`
	Diameter float64 `json:"diameter" mm:"1,100" doc:"mm; of an edge bit, the radius or leg that it cuts, doubled"`
	Length   float64 `json:"length" mm:"1,150" doc:"Of the cutting edge, mm"`
	Bearing  float64 `json:"bearing,omitempty" mm:"0,60" doc:"Diameter of its bearing, mm; 0 without one"`
	Shank    float64 `json:"shank,omitempty" mm:"0,20" doc:"Diameter of its shank, mm; 0 where it is not known"`
}

// Router is the shop's router with its bits.
type Router struct {
	Base    float64     `json:"base" mm:"0,500" doc:"Width of the base, mm; 0 where there is no router"`
	SubBase float64     `json:"subBase,omitempty" mm:"0,1500" doc:"Width of a larger base that goes under it"`
	Table   bool        `json:"table,omitempty" doc:"It goes under a table"`
	Bits    []RouterBit `json:"bits,omitempty" doc:"The bits that go with it"`
	Bushes  []float64   `json:"bushes,omitempty" mm:"3,100,when" doc:"Outer diameters of the guide bushes, mm"`
}

// Check reports what cannot be right.
func (r Router) Check(field string) (ps craft.Problems) {
	ps.InRange(field, r)
	if len(r.Bits) > 100 || len(r.Bushes) > 40 {
		ps.Add(field, "one of its lists is too long", "keep at most 100 bits and 40 bushes")
		return ps
	}
	for i, b := range r.Bits {
		at := fmt.Sprintf("%s.bits[%d]", field, i)
		ps.OneOf(at+".kind", b.Kind, RouterBits...)
		ps.InRange(at, b)
	}
	for i, b := range r.Bushes {
		ps.Length(fmt.Sprintf("%s.bushes[%d]", field, i), b, 3, 100)
	}
	return ps
}

// SameWithin is how far two diameters may be apart that count as one size of a bit, mm.
const SameWithin = 0.3

// SameSize tells whether two diameters, mm, count as one size of a bit.
func SameSize(a, b float64) bool { return math.Abs(a-b) <= SameWithin+1e-9 }

// Widest is the diameter of the largest bit of a kind that is no wider than most
// and cuts so deep, mm; 0 when there is none.
func (r Router) Widest(kind string, most, deep float64) (best float64) {
	for _, b := range r.Bits {
		if b.Kind == kind && b.Diameter <= most+0.01 && b.Length >= deep-0.01 {
			best = max(best, b.Diameter)
		}
	}
	return best
}

// Of is the diameter of a bit of a kind and just that size that cuts so deep, mm;
// 0 when there is none.
func (r Router) Of(kind string, diameter, deep float64) (best float64) {
	for _, b := range r.Bits {
		if b.Kind == kind && SameSize(b.Diameter, diameter) && b.Length >= deep-0.01 {
			best = max(best, b.Diameter)
		}
	}
	return best
}

// Longest is the longest cutting edge among the bits of a kind, mm; 0 without one.
func (r Router) Longest(kind string) (best float64) {
	for _, b := range r.Bits {
		if b.Kind == kind {
			best = max(best, b.Length)
		}
	}
	return best
}

// Bush is the smallest guide bush that a bit passes through, mm; 0 without one.
func (r Router) Bush(bit float64) (best float64) {
	for _, b := range r.Bushes {
		if b > bit && (best == 0 || b < best) {
			best = b
		}
	}
	return best
}

// Feed is how fast a router is pushed, mm a minute, and Overlap the share of its bit by
// which one strip lies beside the last (rules).
const (
	Feed    = 1500
	Overlap = 0.8
)

// Strips is in how many strips side by side a bit covers a width, mm.
func Strips(width, bit float64) int { return int(math.Ceil(max(0, width-bit)/(Overlap*bit)-1e-9)) + 1 }

// Deep is in how many passes a bit gets to a depth, mm: none deeper than half of it.
func Deep(depth, bit float64) int { return int(math.Ceil(depth/(bit/2) - 1e-9)) }

// BaseToCut is how far the edge of the router's base lies from the edge of the
// cut, mm.
func BaseToCut(base, bit float64) float64 { return base/2 - bit/2 }

// BushOffset is how far a template's edge stands off the cut, mm.
func BushOffset(bush, bit float64) float64 { return (bush - bit) / 2 }
