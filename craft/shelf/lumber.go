package shelf

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"idletimber/craft/measure"
	"idletimber/craft/slab"
)

// Wanted is a strip that is to be cut from wood that is not there yet, mm.
type Wanted struct {
	Species                  string
	Length, Width, Thickness float64
	By                       *time.Time // when it is ripped
	For                      string     // name of what it is for
}

// Lumber is wood to be bought, by species and nominal thickness.
type Lumber struct {
	Species   string     `json:"species"`
	Nominal   string     `json:"nominal" doc:"Thickness as it is sold: mm, or quarters of an inch"`
	Thick     float64    `json:"thick" doc:"The same, mm"`
	Strips    int        `json:"strips" doc:"That are cut from it"`
	Longest   float64    `json:"longest" doc:"Of them, mm"`
	Widest    float64    `json:"widest" doc:"Of them, mm"`
	Volume    float64    `json:"volume" doc:"With its waste, m³"`
	BoardFeet float64    `json:"boardFeet" doc:"The same in board feet"`
	Waste     float64    `json:"waste" doc:"Share that is added for it, percent"`
	By        *time.Time `json:"by,omitempty" doc:"When the first of it is ripped"`
	Cents     int        `json:"cents,omitempty" doc:"At what such wood cost last; 0 where that is not known"`
	For       []string   `json:"for" doc:"Names of what it is for"`
}

// planed is what is planed off wood as it is sold, both faces together, mm (rule).
const planed = 4.0

// boardFoot is a board foot, m³.
const boardFoot = 0.002359737216

// The thicknesses that hardwood is sold in: in mm, and in quarters of an inch.
var (
	sawnMM   = []float64{20, 26, 33, 40, 45, 52, 60, 65, 80, 100}
	quarters = []float64{4, 5, 6, 8, 10, 12, 16}
)

// nominal is the thickness that wood is bought in for what is so thick once it is planed.
func nominal(thickness float64, units measure.Unit) (name string, mm float64) {
	need := thickness + planed
	if units == measure.Inch {
		for _, q := range quarters {
			if mm := q / 4 * measure.MMPerInch; mm >= need-0.8 { // quarters are sold a hair under
				return fmt.Sprintf("%g/4", q), mm
			}
		}
		q := math.Ceil(need / measure.MMPerInch * 4)
		return fmt.Sprintf("%g/4", q), q / 4 * measure.MMPerInch
	}
	for _, t := range sawnMM {
		if t >= need {
			return fmt.Sprintf("%g mm", t), t
		}
	}
	t := math.Ceil(need/10) * 10
	return fmt.Sprintf("%g mm", t), t
}

// ToSaw gathers strips into the wood that is bought for them, with a share of waste in percent, at what the book of
// prices tells of planks; of slabs where none were bought, or of whatever else there is.
func ToSaw(strips []Wanted, units measure.Unit, waste float64, book []PriceOf) []Lumber {
	out := []Lumber{}
	for _, s := range strips {
		name, thick := nominal(s.Thickness, units)
		i := slices.IndexFunc(out, func(l Lumber) bool { return l.Species == s.Species && l.Thick == thick })
		if i < 0 {
			i = len(out)
			out = append(out, Lumber{Species: s.Species, Nominal: name, Thick: thick, Waste: waste, For: []string{}})
		}
		l := &out[i]
		l.Strips++
		l.Longest, l.Widest = max(l.Longest, s.Length), max(l.Widest, s.Width)
		l.Volume += s.Length * s.Width * thick * 1e-9 * (1 + waste/100)
		if s.By != nil && (l.By == nil || s.By.Before(*l.By)) {
			l.By = s.By
		}
		if !slices.Contains(l.For, s.For) {
			l.For = append(l.For, s.For)
		}
	}
	for i := range out {
		out[i].BoardFeet = out[i].Volume / boardFoot
		out[i].Cents = int(math.Round(out[i].Volume * metre(book, out[i].Species)))
	}
	slices.SortStableFunc(out, func(a, b Lumber) int {
		return cmp.Or(sooner(a.By, b.By), cmp.Compare(a.Species, b.Species), cmp.Compare(a.Thick, b.Thick))
	})
	return out
}

// metre is what a cubic metre of a species costs to rip strips from, cents; 0 where that is not known.
func metre(book []PriceOf, species string) (cents float64) {
	var form string
	for _, b := range book {
		better := form == "" || b.Form == slab.StockPlank || b.Form == slab.StockSlab && form != slab.StockPlank
		if b.Species == species && better {
			form, cents = b.Form, float64(b.Metre)
		}
	}
	return cents
}

// Paid is what a piece of wood cost.
type Paid struct {
	Species string
	Form    string  // slab, plank, sheet
	Volume  float64 // m³
	Cents   float64
	At      time.Time // when it came to the rack
}

// PriceOf is a line of the price book of wood.
type PriceOf struct {
	Species   string    `json:"species"`
	Form      string    `json:"form" doc:"As it came: slab, plank, sheet"`
	Pieces    int       `json:"pieces" doc:"That it is learned from"`
	Metre     int       `json:"metre" doc:"A cubic metre, cents: all that was paid for all that came"`
	BoardFoot int       `json:"boardFoot" doc:"A board foot, cents"`
	Last      int       `json:"last" doc:"A cubic metre of the last piece, cents"`
	At        time.Time `json:"at" doc:"When that came"`
}

// PriceBook is what wood has cost by species and form, learned from pieces with a price.
func PriceBook(paid []Paid) []PriceOf {
	type key struct{ species, form string }
	sums := map[key]*Paid{}
	book := map[key]*PriceOf{}
	for _, p := range paid {
		if p.Cents <= 0 || p.Volume <= 0 {
			continue
		}
		k := key{p.Species, p.Form}
		if book[k] == nil {
			book[k], sums[k] = &PriceOf{Species: p.Species, Form: p.Form}, &Paid{}
		}
		b := book[k]
		b.Pieces++
		sums[k].Volume, sums[k].Cents = sums[k].Volume+p.Volume, sums[k].Cents+p.Cents
		if !p.At.Before(b.At) {
			b.At, b.Last = p.At, int(math.Round(p.Cents/p.Volume))
		}
	}
	out := []PriceOf{}
	for k, b := range book {
		each := sums[k].Cents / sums[k].Volume
		b.Metre, b.BoardFoot = int(math.Round(each)), int(math.Round(each*boardFoot))
		out = append(out, *b)
	}
	slices.SortFunc(out, func(a, b PriceOf) int {
		return cmp.Or(cmp.Compare(a.Species, b.Species), cmp.Compare(a.Form, b.Form))
	})
	return out
}
