package reckon

import (
	"math"
	"time"

	"idletimber/craft/moisture"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
)

// Facts is what the rack is searched, sorted and summed by.
type Facts struct {
	Length    float64
	Width     float64 // mean of the show face
	Thickness float64 // thinnest
	Cents     int     // what it cost
	Moisture  float64 // latest reading, corrected, %; 0 without one
	Ready     bool
	Finding   string // why it is ready or not
	Reserved  string // for whom or what it is kept
}

// MoistureAt is what the wood of a slab holds at a moment, by its trend, %.
func MoistureAt(v slab.Slab, at shop.Shop, when time.Time) float64 {
	w := slab.Draw(v, at.Species)
	return moisture.Dry(v.Moisture, at.Air, w.Target(at.Home), w.Rough.Mean, at.Rules).At(when)
}

// FactsOf reads a slab's facts in a shop.
func FactsOf(v slab.Slab, at shop.Shop) Facts {
	w := slab.Draw(v, at.Species)
	ready := moisture.Judge(v.Moisture, w.Target(at.Home), at.Rules)
	return Facts{
		Length:    v.Length,
		Width:     w.MeanWidth(),
		Thickness: w.Rough.Thinnest,
		Cents:     int(math.Round(w.Cost)),
		Moisture:  ready.Latest,
		Ready:     ready.Ready,
		Finding:   ready.Verdict.Finding,
		Reserved:  v.Reserved,
	}
}
