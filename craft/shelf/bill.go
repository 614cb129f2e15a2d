package shelf

import (
	"idletimber/craft"
	"idletimber/craft/money"
	"idletimber/craft/stage"
)

// Line is what work takes of one item, with what that costs.
type Line struct {
	Kind   stage.Kind `json:"kind" doc:"Kind of supply"`
	Item   string     `json:"item" doc:"What it is"`
	Amount float64    `json:"amount" doc:"How much of it, in the unit"`
	Unit   craft.Unit `json:"unit" doc:"Of the amount"`
	Cents  int        `json:"cents" doc:"At the shelf's price, half a cent up"`
	Priced bool       `json:"priced" doc:"The shelf knows a price for it"`
}

// Bill is what uses cost, item by item, at what a pack cost last: of several products that serve, the cheapest for its
// amount. What has no price costs nothing here, and is told.
func Bill(uses []stage.Use, products []Product) (lines []Line, cents int) {
	lines = []Line{}
	for _, u := range stage.Together(AsKept(uses, products)) {
		l := Line{Kind: u.Kind, Item: u.Item, Amount: u.Amount, Unit: u.Unit}
		least := 0.0
		for _, p := range products {
			if !p.Serves(u) || p.Pack <= 0 || p.Cents <= 0 {
				continue
			}
			if each := float64(p.Cents) / p.Pack; !l.Priced || each < least {
				least, l.Priced = each, true
			}
		}
		l.Cents = money.Round(u.Amount * least)
		cents += l.Cents
		lines = append(lines, l)
	}
	return lines, cents
}
