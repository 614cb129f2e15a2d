package finish

import (
	"fmt"

	"idletimber/craft"
)

// PasteMix is oil and wax melted together.
type PasteMix struct {
	Grams  float64 `json:"grams" doc:"All of it, g"`
	OilG   float64 `json:"oilG" doc:"Oil, g"`
	OilML  float64 `json:"oilMl" doc:"Oil, ml"`
	WaxG   float64 `json:"waxG" doc:"Wax, g"`
	WaxML  float64 `json:"waxMl" doc:"Wax, ml"`
	Weeps  float64 `json:"weeps" doc:"Temperature above which it sweats, °C"`
	MeltAt float64 `json:"meltAt" doc:"Beeswax melts from, °C"`
	Firm   string  `json:"firm" doc:"How firm it is at 20 °C, in words"`
}

// Densities, g/ml.
const (
	oilDensity = 0.85
	waxDensity = 0.96
)

// MixPaste splits grams of paste at n parts of oil to one of wax by mass.
func MixPaste(grams, n float64) PasteMix {
	oil, wax := grams*n/(n+1), grams/(n+1)
	return PasteMix{
		Grams: grams, OilG: oil, OilML: oil / oilDensity, WaxG: wax, WaxML: wax / waxDensity, Weeps: weeps(n),
		MeltAt: 62, Firm: firm(n),
	}
}

// weeps interpolates the guide: 50 °C at 2:1, 45 at 3:1, 40 at 4:1.
func weeps(n float64) float64 { return min(55, max(35, 60-5*n)) }

// firm is how firm a paste is at 20 °C (rule).
func firm(n float64) string {
	switch {
	case n >= 3.5:
		return "soft butter"
	case n >= 2.5:
		return "butter from a cool room"
	case n >= 1.5:
		return "butter from the fridge"
	}
	return "a stick"
}

// workings shows how a paste of n parts of oil to one of wax is mixed.
func (p PasteMix) workings(n float64) []craft.Figure {
	grams, parts := craft.Term{Name: "paste", Value: p.Grams, Unit: craft.Gram},
		craft.Term{Name: "oil to one of wax", Value: n}
	figure := func(key, label string, v float64, unit craft.Unit, formula, source string,
		terms ...craft.Term) craft.Figure {
		return craft.Figure{
			Key: key, Stage: craft.Finish, Label: label, Value: v, Unit: unit, Formula: formula, Terms: terms,
			Source: source, Rule: true,
		}
	}
	return []craft.Figure{
		figure("finish.paste-oil", "Oil in the paste", p.OilG, craft.Gram, "paste × n ÷ (n + 1), by mass",
			"ratio by mass", grams, parts, craft.Term{Name: "by volume", Value: p.OilML, Unit: craft.ML}),
		figure("finish.paste-wax", "Wax in the paste", p.WaxG, craft.Gram, "paste ÷ (n + 1), by mass",
			"ratio by mass", grams, parts, craft.Term{Name: "by volume", Value: p.WaxML, Unit: craft.ML}),
		figure("finish.weeps", "The paste sweats above", p.Weeps, craft.Celsius, "60 − 5 × n",
			"guide: {50 °C} at 2:1, {45 °C} at 3:1, {40 °C} at 4:1", parts,
			craft.Term{Name: "beeswax melts from", Value: p.MeltAt, Unit: craft.Celsius}),
	}
}

// waxPrice is what a kilogram of beeswax costs, cents (rule).
const waxPrice = 4500

// WaxOver is how much more a kilogram of wax costs than one of oil, cents, by the shop's prices.
func WaxOver(prices map[string]float64) float64 {
	oil, _ := ProductOf(Oil)
	return waxPrice - oil.price(prices)
}

// What is on a bill beside the products.
const (
	Beeswax = "beeswax"
	Cloths  = "cotton cloths"
)

// PasteItem is what a paste of so many parts of oil to one of wax is called on a bill.
func PasteItem(ratio float64) string { return fmt.Sprintf("paste, %g:1", ratio) }

// PasteRatio is the ratio of the paste that is so called on a bill; ok is false for all else.
func PasteRatio(item string) (ratio float64, ok bool) {
	n, err := fmt.Sscanf(item, "paste, %g:1", &ratio)
	return ratio, n == 1 && err == nil && ratio > 0
}
