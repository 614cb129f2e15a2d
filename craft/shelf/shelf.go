// Package shelf is what a workshop has of its supplies: what is left of each product when the work that is done has
// taken its part, what the work ahead still needs, what must be bought and by when, and what has grown too old.
//
// What is left is never stored. A product was counted once; what steps took since, as the log tells, comes off that. So
// nothing is taken twice, whatever is undone, done again or told late.
package shelf

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
)

// Product is one product on the shelf.
type Product struct {
	Name string     `json:"name" doc:"What the maker calls it"`
	Kind stage.Kind `json:"kind" enum:"resin,hardener,filler,abrasive,finish,hardware,glue,wood,packing" doc:"Kind"`
	Item string     `json:"item" doc:"What of a bill it is, such as discs P120"`
	Unit craft.Unit `json:"unit" enum:"g,ml,mm,pieces" doc:"That it is measured in"`

	Count   float64   `json:"count" range:"0,1000000" doc:"How much of it there was when it was counted"`
	Counted time.Time `json:"counted" doc:"When that was"`

	Pack  float64 `json:"pack" range:"0,1000000" doc:"How much a pack holds; 0 if not known"`
	Cents int     `json:"cents" range:"0,100000000" doc:"What a pack cost last, cents; 0 if not known"`
	Days  int     `json:"days" range:"0,365" doc:"That it takes to get more of it"`
	Shops string  `json:"shops,omitempty" doc:"Where it is bought"`

	Opened string `json:"opened,omitempty" doc:"Day on which it was opened, YYYY-MM-DD; empty while it is closed"`
	Best   string `json:"best,omitempty" doc:"Best before, YYYY-MM-DD; empty if it does not say"`
	Where  string `json:"where,omitempty" doc:"Where it stands"`
	Colour string `json:"colour,omitempty" doc:"Of hardware, cord and pigments"`
	Note   string `json:"note,omitempty" doc:"The maker's own words"`

	Moves  []Move  `json:"moves,omitempty" doc:"Mixed into it, or drawn from it for a mix, since it was counted"`
	Recipe *Recipe `json:"recipe,omitempty" doc:"What it is mixed from, where the maker mixes it; a pack is a tin"`
	Sheet  *Sheet  `json:"sheet,omitempty" doc:"What its data sheet says otherwise than the usual figures of its kind"`
}

// Move is what a batch brought into a product, or took out of it.
type Move struct {
	At     time.Time `json:"at" doc:"When that was"`
	Amount float64   `json:"amount" range:"-1000000,1000000" doc:"In its unit; less than nothing where it was drawn"`
}

const mostMoves = 1000

// Moved is a product with one move more; what came before it was counted is forgotten.
func (p Product) Moved(at time.Time, amount float64) Product {
	p.Moves = append(p.since(), Move{at, amount})
	return p
}

// since are its moves since it was counted.
func (p Product) since() (out []Move) {
	for _, m := range p.Moves {
		if !m.At.Before(p.Counted) {
			out = append(out, m)
		}
	}
	return out
}

// had is how much of it there was without what steps took: as it was counted, and what was mixed since.
func (p Product) had() float64 {
	sum := p.Count
	for _, m := range p.since() {
		sum += m.Amount
	}
	return max(0, sum)
}

// Units are what supplies are measured in.
var Units = []craft.Unit{craft.Gram, craft.ML, craft.MM, Pieces}

// Pieces is the unit of what is counted.
const Pieces craft.Unit = "pieces"

// Check reports what is out of range.
func (p Product) Check(field string) (ps craft.Problems) {
	at := func(name string) string { return strings.TrimPrefix(field+"."+name, ".") }
	ps.InRange(field, p)
	text := func(name, s string, least, most int) {
		if n := len(strings.TrimSpace(s)); n < least || n > most {
			ps.Add(at(name), "it is empty or too long", fmt.Sprintf("give %d to %d characters", least, most))
		}
	}
	text("name", p.Name, 1, 200)
	text("item", p.Item, 1, 200)
	text("shops", p.Shops, 0, 500)
	text("where", p.Where, 0, 200)
	text("colour", p.Colour, 0, 100)
	text("note", p.Note, 0, 2000)
	ps.OneOf(at("kind"), string(p.Kind), names(stage.Kinds)...)
	ps.OneOf(at("unit"), string(p.Unit), names(Units)...)
	ps = append(ps, p.Recipe.check(at("recipe"))...)
	if len(p.Moves) > mostMoves {
		ps.Add(at("moves"), "there are too many", "count it anew")
	}
	ps = append(ps, p.Sheet.check(at("sheet"), p)...)
	if p.Recipe != nil && p.Pack <= 0 {
		ps.Add(at("pack"), "a mix needs to know how much a tin holds", "give what goes into a tin")
	}
	for name, day := range map[string]string{"opened": p.Opened, "best": p.Best} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			ps.Add(at(name), fmt.Sprintf("%q is not a day", day), "write it like 2031-06-21, or leave it empty")
		}
	}
	return ps
}

func names[T ~string](all []T) []string {
	out := make([]string, len(all))
	for i, v := range all {
		out[i] = string(v)
	}
	return out
}

// Serves tells whether a product is what a step takes.
func (p Product) Serves(u stage.Use) bool {
	return p.Kind == u.Kind && p.Item == u.Item && p.Unit == u.Unit
}

// Taken is what a finished step took.
type Taken struct {
	stage.Use
	At time.Time // when it was finished
}

// Need is what a step that is still to be done takes.
type Need struct {
	stage.Use
	By *time.Time   // when it begins; nil where it has no day yet
	Of plan.Subject // whose step it is
}

// Standing is how one product stands.
type Standing struct {
	Left     float64 `json:"left" doc:"In its unit"`
	Level    float64 `json:"level" doc:"Of what it is filled to: its pack, or what it held when it was counted"`
	Reserved float64 `json:"reserved" doc:"Of that, what work ahead needs"`
	Short    bool    `json:"short,omitempty" doc:"Work ahead needs more than there is of all that serve alike"`
	Over     float64 `json:"over,omitempty" doc:"What was taken beyond all that was there: it wants counting"`
	Old      string  `json:"old,omitempty" doc:"Why it may be too old; empty while it is not"`
	Keep     string  `json:"keep,omitempty" doc:"How it is kept, where that is not plain"`
}

// Buy is a line of the shopping list.
type Buy struct {
	Kind  stage.Kind `json:"kind" doc:"Kind of supply"`
	Item  string     `json:"item" doc:"What it is"`
	Unit  craft.Unit `json:"unit" doc:"Of the amounts"`
	Short float64    `json:"short" doc:"How much is missing"`
	Needs float64    `json:"needs" doc:"How much the work ahead takes in all"`
	By    *time.Time `json:"by,omitempty" doc:"When the first step that lacks it begins"`
	Order *time.Time `json:"order,omitempty" doc:"By when to order it, so that it is there"`

	Product int    `json:"product" doc:"Index of the product to buy more of; -1 where the shelf has had none"`
	Packs   int    `json:"packs,omitempty" doc:"How many packs of that; 0 where its size is not known"`
	Cents   int    `json:"cents,omitempty" doc:"What those cost; 0 where the price is not known"`
	Shops   string `json:"shops,omitempty" doc:"Where it is bought"`
}

// dust is what is lost in rounding: so much of anything is nothing.
const dust = 1e-9

// Stand works out how each product stands and what must be bought. Of several products of one kind the opened one is
// used up first, then the one that is best before the nearest day.
func Stand(products []Product, taken []Taken, needs []Need, now time.Time, rules rule.Set) ([]Standing, []Buy) {
	out := make([]Standing, len(products))
	order := make([]int, len(products))
	for i, p := range products {
		order[i] = i
		out[i] = Standing{Left: p.had(), Old: p.old(now, rules), Keep: p.keep()}
	}
	slices.SortStableFunc(order, func(a, b int) int { return first(products[a], products[b]) })
	serving := map[stage.Use][]int{} // by kind, item and unit
	for _, i := range order {
		p := products[i]
		key := stage.Use{Kind: p.Kind, Item: p.Item, Unit: p.Unit}
		serving[key] = append(serving[key], i)
	}
	taken = slices.Clone(taken)
	slices.SortStableFunc(taken, func(a, b Taken) int { return a.At.Compare(b.At) })
	for _, t := range takenOf(taken, products) {
		left, last := t.Amount, -1
		for _, i := range serving[keyOf(t.Use)] {
			if t.At.Before(products[i].Counted) {
				continue // it was counted without it
			}
			part := min(left, out[i].Left)
			out[i].Left -= part
			left, last = left-part, i
		}
		if last >= 0 && left > dust {
			out[last].Over += left
		}
	}
	for i, p := range products {
		if full := max(p.Pack, p.had()); full > 0 {
			out[i].Level = out[i].Left / full
		}
	}
	return out, buy(products, out, serving, needsOf(needs, products))
}

// takenOf and needsOf are what was taken, and what is needed, of what is kept.
func takenOf(taken []Taken, products []Product) (out []Taken) {
	for _, t := range taken {
		for _, u := range AsKept([]stage.Use{t.Use}, products) {
			out = append(out, Taken{u, t.At})
		}
	}
	return out
}

func needsOf(needs []Need, products []Product) (out []Need) {
	for _, n := range needs {
		for _, u := range AsKept([]stage.Use{n.Use}, products) {
			out = append(out, Need{u, n.By, n.Of})
		}
	}
	return out
}

// keep tells how what may catch fire by itself is kept.
func (p Product) keep() string {
	switch {
	case p.Item == finish.Cloths:
		return "Those with mineral oil in a closed tin. Those with curing oil or hard wax heat themselves: flat out " +
			"of doors until they are stiff, or under water in a closed metal can"
	case p.Kind == stage.Filler && strings.HasPrefix(p.Item, fill.DustOf("")):
		return "Dry, in a closed jar, by species, away from sparks and flames"
	}
	return ""
}

func keyOf(u stage.Use) stage.Use { return stage.Use{Kind: u.Kind, Item: u.Item, Unit: u.Unit} }

// first puts before others what is used up first.
func first(a, b Product) int {
	last := func(day string) string { return cmp.Or(day, "9999") }
	return cmp.Or(cmp.Compare(last(a.Opened), last(b.Opened)), cmp.Compare(last(a.Best), last(b.Best)),
		cmp.Compare(a.Name, b.Name))
}

// buy reserves what the work ahead needs, and lists what is short.
func buy(products []Product, at []Standing, serving map[stage.Use][]int, needs []Need) []Buy {
	byItem := map[stage.Use][]Need{}
	var items []stage.Use
	for _, n := range needs {
		key := keyOf(n.Use)
		if byItem[key] == nil {
			items = append(items, key)
		}
		byItem[key] = append(byItem[key], n)
	}
	out := []Buy{}
	for _, item := range items {
		all := byItem[item]
		slices.SortStableFunc(all, func(a, b Need) int { return sooner(a.By, b.By) })
		b := Buy{Kind: item.Kind, Item: item.Item, Unit: item.Unit, Product: -1}
		for _, n := range all {
			b.Needs += n.Amount
			left := n.Amount
			for _, i := range serving[item] {
				part := min(left, at[i].Left-at[i].Reserved)
				at[i].Reserved += part
				left -= part
			}
			if left <= dust {
				continue
			}
			if b.Short == 0 {
				b.By = n.By
			}
			b.Short += left
		}
		if b.Short == 0 {
			continue
		}
		for _, i := range serving[item] {
			at[i].Short = true
		}
		b.from(products, serving[item])
		out = append(out, b)
	}
	slices.SortStableFunc(out, func(a, b Buy) int {
		return cmp.Or(sooner(cmp.Or(a.Order, a.By), cmp.Or(b.Order, b.By)), cmp.Compare(a.Item, b.Item))
	})
	return out
}

func sooner(a, b *time.Time) int {
	switch {
	case a == nil && b == nil:
		return 0
	case a == nil:
		return 1
	case b == nil:
		return -1
	}
	return a.Compare(*b)
}

// from chooses which of the products that serve is bought again: the cheapest for its amount, of those with a price.
func (b *Buy) from(products []Product, serving []int) {
	each := func(i int) float64 {
		if p := products[i]; p.Pack > 0 && p.Cents > 0 {
			return float64(p.Cents) / p.Pack
		}
		return math.Inf(1)
	}
	for _, i := range serving {
		if b.Product < 0 || each(i) < each(b.Product) {
			b.Product = i
		}
	}
	if b.Product < 0 {
		return
	}
	p := products[b.Product]
	b.Shops = p.Shops
	if b.By != nil {
		order := b.By.AddDate(0, 0, -p.Days)
		b.Order = &order
	}
	if p.Pack > 0 {
		b.Packs = int(math.Ceil(b.Short/p.Pack - dust))
		b.Cents = b.Packs * p.Cents
	}
}

// keeps are how many months an opened product keeps, by its kind and a word of its item.
var keeps = []struct {
	kind stage.Kind
	word string
	rule rule.Key
}{
	{stage.Resin, "", rule.ResinKeeps}, {stage.Hardener, "", rule.ResinKeeps}, {stage.Filler, "CA", rule.CAKeeps},
	{stage.Glue, "", rule.GlueKeeps},
}

// old says why a product may be too old.
func (p Product) old(now time.Time, rules rule.Set) string {
	if day, err := time.Parse(time.DateOnly, p.Best); err == nil && now.After(day.AddDate(0, 0, 1)) {
		return "best before " + p.Best
	}
	opened, err := time.Parse(time.DateOnly, p.Opened)
	if err != nil {
		return ""
	}
	for _, k := range keeps {
		if p.Kind != k.kind || !strings.Contains(p.Item, k.word) {
			continue
		}
		if months := rules.Get(k.rule); now.After(opened.AddDate(0, int(months), 0)) {
			return fmt.Sprintf("opened more than %g months ago", months)
		}
		return ""
	}
	return ""
}
