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
}

// targetOf is what a slab should come to rest at.
func targetOf(v slab.Slab, at shop.Shop) moisture.Target {
	t := moisture.Target{Home: at.Home, Reference: v.Reference}
	if v.Home != nil {
		t.Home = *v.Home
	}
	return t
}

// MoistureAt is what the wood of a slab holds at a moment, by its trend, %.
func MoistureAt(v slab.Slab, at shop.Shop, when time.Time) float64 {
	return moisture.Dry(v.Moisture, at.Air, targetOf(v, at), v.MeanThickness(), at.Rules).At(when)
}

// FactsOf reads a slab's facts in a shop.
func FactsOf(v slab.Slab, at shop.Shop) Facts {
	w := slab.Draw(v)
	ready := moisture.Judge(v.Moisture, targetOf(v, at), at.Rules)
	return Facts{Length: v.Length, Width: w.MeanWidth(), Thickness: v.Thinnest(), Cents: int(math.Round(w.Cost())), Moisture: ready.Latest, Ready: ready.Ready, Finding: ready.Verdict.Finding}
}
