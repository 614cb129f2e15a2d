package shelf

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/finish"
	"idletimber/craft/money"
	"idletimber/craft/stage"
)

// Recipe is how a product of the maker's own is mixed from others.
type Recipe struct {
	Parts []Part `json:"parts" doc:"By mass, or by volume where it is measured so"`
}

// Part is one part of a mix.
type Part struct {
	Kind  stage.Kind `json:"kind" enum:"resin,hardener,filler,abrasive,finish,hardware,glue,wood,packing" doc:"Kind"`
	Item  string     `json:"item" doc:"What of a bill it is, such as oil"`
	Parts float64    `json:"parts" range:"0.01,1000" doc:"How many parts of it"`
}

const mostParts = 12

// check reports what of a recipe is out of range.
func (r *Recipe) check(field string) (ps craft.Problems) {
	if r == nil {
		return nil
	}
	if n := len(r.Parts); n == 0 || n > mostParts {
		ps.Add(field+".parts", "there are none, or too many", fmt.Sprintf("give 1 to %d", mostParts))
		return ps
	}
	for i, p := range r.Parts {
		at := fmt.Sprintf("%s.parts[%d]", field, i)
		ps.InRange(at, p)
		if n := len(strings.TrimSpace(p.Item)); n == 0 || n > 200 {
			ps.Add(at+".item", "it is empty or too long", "give 1 to 200 characters")
		}
	}
	return ps
}

// Takes is what so much of a mix is made of.
func (r Recipe) Takes(amount float64, unit craft.Unit) []stage.Use {
	sum := 0.0
	for _, p := range r.Parts {
		sum += p.Parts
	}
	out := make([]stage.Use, 0, len(r.Parts))
	for _, p := range r.Parts {
		out = append(out, stage.Use{Kind: p.Kind, Item: p.Item, Amount: amount * p.Parts / sum, Unit: unit})
	}
	return out
}

// Batch is so many packs of a mix, what they take and what one comes to.
type Batch struct {
	Packs int         `json:"packs"`
	Takes []stage.Use `json:"takes" doc:"From the shelf"`
	Lines []Line      `json:"lines" doc:"The same with what it costs"`
	Cents int         `json:"cents" doc:"All of it"`
	Each  int         `json:"each" doc:"A pack, cents"`
	Short []string    `json:"short" doc:"What there is not enough of"`
}

// Batch reckons so many packs of a mix from what stands on the shelf.
func (p Product) Batch(packs int, products []Product, stands []Standing) Batch {
	out := Batch{Packs: packs, Short: []string{}}
	if p.Recipe == nil || packs <= 0 {
		return out
	}
	out.Takes = p.Recipe.Takes(float64(packs)*p.Pack, p.Unit)
	out.Lines, out.Cents = Bill(out.Takes, products)
	out.Each = money.Round(float64(out.Cents) / float64(packs))
	for _, u := range out.Takes {
		left := 0.0
		for i, q := range products {
			if q.Serves(u) {
				left += stands[i].Left
			}
		}
		if left < u.Amount-dust {
			out.Short = append(out.Short, u.Item)
		}
	}
	return out
}

// Drawn is how much is drawn from each product, by its index, when uses are taken off the shelf at once: those that are
// used up first before others.
func Drawn(uses []stage.Use, products []Product, stands []Standing) map[int]float64 {
	order := make([]int, len(products))
	for i := range order {
		order[i] = i
	}
	slices.SortStableFunc(order, func(a, b int) int { return first(products[a], products[b]) })
	out := map[int]float64{}
	for _, u := range uses {
		need := u.Amount
		for _, i := range order {
			if part := min(need, stands[i].Left-out[i]); part > 0 && products[i].Serves(u) {
				out[i] += part
				need -= part
			}
		}
	}
	return out
}

// Items are the items by which the shelf may have what a use takes: its own, and those that it is mixed from.
func Items(u stage.Use) []string {
	out := []string{u.Item}
	for _, p := range partsOf(u) {
		out = append(out, p.Item)
	}
	return out
}

// partsOf is what a use of a paste is mixed from; nil for all else.
func partsOf(u stage.Use) []stage.Use {
	ratio, ok := finish.PasteRatio(u.Item)
	if u.Kind != stage.Finish || !ok {
		return nil
	}
	part := func(item string, share float64) stage.Use {
		p := u
		p.Item, p.Amount = item, u.Amount*share
		return p
	}
	return []stage.Use{part(finish.Oil, ratio/(ratio+1)), part(finish.Beeswax, 1/(ratio+1))}
}

// AsKept is what uses take of what is kept: a paste that no tin is kept of is mixed for the coat.
func AsKept(uses []stage.Use, products []Product) []stage.Use {
	out := make([]stage.Use, 0, len(uses))
	for _, u := range uses {
		parts := partsOf(u)
		if parts == nil || slices.ContainsFunc(products, func(p Product) bool { return p.Serves(u) }) {
			out = append(out, u)
			continue
		}
		out = append(out, parts...)
	}
	return out
}

// Label is what stands on its tin: what is in it, its ratio, and the day on which it was mixed, opened or counted.
func (p Product) Label(zone *time.Location) []string {
	out := []string{p.Item}
	if p.Recipe != nil {
		var parts []string
		for _, part := range p.Recipe.Parts {
			parts = append(parts, fmt.Sprintf("%g %s", part.Parts, part.Item))
		}
		out[0] = strings.Join(parts, " : ")
	}
	if p.Sheet != nil && p.Sheet.Contents != "" {
		out = append(out, p.Sheet.Contents)
	}
	when, word := p.Counted.In(zone).Format("2 Jan 2006"), "counted "
	switch {
	case p.Recipe != nil:
		word = "mixed "
	case p.Opened != "":
		when, word = p.Opened, "opened "
	}
	if p.Best != "" {
		when += ", best before " + p.Best
	}
	return append(out, word+when)
}
