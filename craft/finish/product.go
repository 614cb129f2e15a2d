package finish

import (
	"fmt"
	"math"
	"slices"
)

// Product is what is put on a board, by its usual figures; a data sheet overrides them.
type Product struct {
	Name     string  `json:"name" doc:"As the trade calls it"`
	Words    string  `json:"words" doc:"What it is, in a note"`
	Contents string  `json:"contents" doc:"What is in it"`
	Nut      bool    `json:"nut" doc:"It may hold nut oil"`
	Cures    bool    `json:"cures" doc:"It hardens, and its rags heat themselves"`
	Wax      bool    `json:"wax" doc:"It is a paste of oil and wax, mixed by a ratio"`
	Water    bool    `json:"water" doc:"It is wet, and raises the grain"`
	Early    bool    `json:"early" doc:"It may come before the grain is raised for the last time"`
	Tub      bool    `json:"tub" doc:"It may be kept in a tub"`
	Spirits  bool    `json:"spirits" doc:"It holds spirits, which must flash off"`
	Face     float64 `json:"face" doc:"First coat on face grain, g/m²"`
	Soak     float64 `json:"soak" doc:"Minutes until it is wiped, or hazes"`
	Wait     float64 `json:"wait" doc:"Minutes until the next coat"`
	Food     float64 `json:"food" doc:"Days until food"`
	Heat     float64 `json:"heat" doc:"Temperature that it bears, °C; 0 where its ratio tells"`
	Tint     string  `json:"tint" doc:"What it does to the colour" enum:"neutral,warm,brown"`
	Washes   float64 `json:"washes" doc:"Washes until a board is as bare as one without"`
	Price    float64 `json:"price" doc:"Cents a kilogram"`
}

// The products.
const (
	Oil       = "oil"
	ThinOil   = "thin oil"
	Paste     = "paste"
	HardWax   = "hard wax"
	CuringOil = "curing oil"
	NutOil    = "walnut oil"
	Coffee    = "coffee"
	Tea       = "tea"
	Stain     = "stain"
)

const hour, day = 60, 24 * 60

// What a product does to the colour of wood.
const (
	Neutral = "neutral"
	Warm    = "warm"
	Brown   = "brown"
)

// Products lists what is put on boards. Amounts, waits, washes and prices are rules of the trade.
var Products = []Product{
	{
		Name: Oil, Words: "food-grade mineral oil", Contents: "mineral oil", Tub: true, Face: 70, Soak: 2 * hour,
		Wait: 12 * hour, Food: 3, Heat: 90, Tint: Neutral, Washes: 8, Price: 1200,
	},
	{
		Name: ThinOil, Words: "thin mineral oil", Contents: "mineral oil of low viscosity", Tub: true, Face: 40,
		Soak: 15, Wait: 12 * hour, Food: 3, Heat: 90, Tint: Neutral, Washes: 5, Price: 1500,
	},
	{
		Name: Paste, Words: "oil and beeswax paste", Contents: "mineral oil, beeswax", Wax: true, Face: 25, Soak: 15,
		Wait: 12 * hour, Food: 1, Tint: Neutral, Washes: 12, Price: 2500,
	},
	{
		Name: HardWax, Words: "hard-wax oil", Contents: "plant oils, carnauba and candelilla wax, driers; spirits",
		Cures: true, Spirits: true, Face: 30, Soak: 15, Wait: 24 * hour, Food: 14, Heat: 70, Tint: Warm, Washes: 50,
		Price: 4500,
	},
	{
		Name: CuringOil, Words: "a curing oil", Contents: "tung or linseed oil", Cures: true, Face: 40, Soak: 15,
		Wait: 24 * hour, Food: 30, Heat: 90, Tint: Warm, Washes: 60, Price: 3000,
	},
	{
		Name: NutOil, Words: "walnut oil", Contents: "walnut oil", Nut: true, Cures: true, Face: 40, Soak: 15,
		Wait: 24 * hour, Food: 30, Heat: 90, Tint: Warm, Washes: 40, Price: 2500,
	},
	{
		Name: Coffee, Words: "coffee", Contents: "coffee grounds, water", Water: true, Early: true, Face: 45, Soak: 15,
		Wait: 2 * hour, Tint: Brown, Price: 900,
	},
	{
		Name: Tea, Words: "tea", Contents: "black tea, water",
		Water: true, Early: true, Face: 45, Soak: 15, Wait: 2 * hour,
		Tint: Brown, Price: 1500,
	},
	{
		Name: Stain, Words: "a stain", Contents: "as its maker lists it",
		Spirits: true, Early: true, Face: 40, Soak: 15,
		Wait: 24 * hour, Food: 30, Tint: Brown, Price: 3500,
	},
}

// ProductOf is the product of a name; ok is false where there is none.
func ProductOf(name string) (p Product, ok bool) {
	i := slices.IndexFunc(Products, func(p Product) bool { return p.Name == name })
	if i < 0 {
		return p, false
	}
	return Products[i], true
}

// Begins are the acts that a list is gone on with: a coat of each product by its usual figures, in
// their order, then what is done between coats.
func Begins() []Act {
	out := make([]Act, 0, len(Products)+1)
	for _, p := range Products {
		out = append(out, Act{Product: p.Name, Soak: p.Soak, Wipe: !p.Wax, Buff: p.Wax, Early: p.Water})
	}
	return append(out, Act{Wait: 12 * hour, Sand: 320})
}

// price is what a kilogram costs, cents: as the shop has it, or the usual.
func (p Product) price(own map[string]float64) float64 {
	if cents, ok := own[p.Name]; ok {
		return cents
	}
	return p.Price
}

func productNames() []string {
	names := make([]string, len(Products))
	for i, p := range Products {
		names[i] = p.Name
	}
	return names
}

// Oiled is the colour of wood under a finish: hex is #rrggbb. Clear oil deepens dark wood and hardly
// darkens light; what yellows draws pale wood to amber; what stains, to brown (rules).
func Oiled(hex, tint string) string {
	var c [3]float64
	var r, g, b int
	if _, err := fmt.Sscanf(hex, "#%02x%02x%02x", &r, &g, &b); err != nil {
		return hex
	}
	c = [3]float64{float64(r), float64(g), float64(b)}
	light := (0.299*c[0] + 0.587*c[1] + 0.114*c[2]) / 255
	deepen := 1 - 0.18*(1-light) - 0.03
	toward, share := [3]float64{}, 0.0
	switch tint {
	case Warm:
		toward, share = [3]float64{201, 138, 46}, 0.22*light
	case Brown:
		toward, share = [3]float64{107, 68, 35}, 0.55*light
	}
	for i := range c {
		c[i] = c[i]*deepen*(1-share) + toward[i]*share
	}
	return fmt.Sprintf("#%02x%02x%02x", int(math.Round(c[0])), int(math.Round(c[1])), int(math.Round(c[2])))
}
