package shelf

import (
	"cmp"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/glue"
	"idletimber/craft/stage"
)

// Sheet is what the data sheet of a product says. What it leaves out stays as is usual for its kind.
type Sheet struct {
	Volume   float64 `json:"volume,omitempty" range:"0,20" doc:"Resin: parts of it to one of hardener, by volume"`
	Mass     float64 `json:"mass,omitempty" range:"0,500" doc:"Resin: grams of hardener to 100 of resin"`
	DensityA float64 `json:"densityA,omitempty" range:"0,3" doc:"Resin: its density, g/ml"`
	DensityB float64 `json:"densityB,omitempty" range:"0,3" doc:"Resin: that of its hardener, g/ml"`
	Pour     float64 `json:"pour,omitempty" mm:"0,300" doc:"Resin: its deepest pour"`
	Working  float64 `json:"working,omitempty" range:"0,3000" doc:"Resin, glue: minutes of working or open time"`
	Demould  float64 `json:"demould,omitempty" range:"0,1000" doc:"Resin: hours until it comes out of its mould"`
	Sanded   float64 `json:"sanded,omitempty" range:"0,1000" doc:"Resin: hours until it is sanded"`
	Full     float64 `json:"full,omitempty" range:"0,100" doc:"Resin: days until it has cured through"`
	Coldest  float64 `json:"coldest,omitempty" range:"0,60" doc:"Resin, glue: the least temperature, °C"`

	Clamped float64 `json:"clamped,omitempty" range:"0,10000" doc:"Glue: minutes in clamps"`
	Machine float64 `json:"machine,omitempty" range:"0,20000" doc:"Glue: minutes until it may be machined"`
	Spread  float64 `json:"spread,omitempty" range:"0,1000" doc:"Glue: g/m² of joint"`

	Face     float64 `json:"face,omitempty" range:"0,500" doc:"Finish: first coat on face grain, g/m²"`
	Soak     float64 `json:"soak,omitempty" range:"0,3000" doc:"Finish: minutes until it is wiped"`
	Wait     float64 `json:"wait,omitempty" range:"0,20000" doc:"Finish: minutes until the next coat"`
	Food     float64 `json:"food,omitempty" range:"0,100" doc:"Finish: days until food"`
	Contents string  `json:"contents,omitempty" doc:"Finish: what is in it"`
	Nut      bool    `json:"nut,omitempty" doc:"Finish: it may hold nut oil"`
}

// resinItem ends what a kind of resin is called on a bill.
const resinItem = " resin"

// check reports what is out of range, and a sheet of what has none.
func (d *Sheet) check(field string, p Product) (ps craft.Problems) {
	if d == nil {
		return nil
	}
	ps.InRange(field, *d)
	if len(d.Contents) > 500 {
		ps.Add(field+".contents", "the text is too long", "use at most 500 characters")
	}
	if !slices.Contains([]stage.Kind{stage.Resin, stage.Glue, stage.Finish}, p.Kind) {
		ps.Add(field, "only resin, glue and finishes have data sheets", "leave it out")
	}
	return ps
}

// Sheets are the kinds of resin, glue and finish whose figures products of the maker's own put right.
type Sheets struct {
	Resins   []fill.Resin
	Glues    []glue.Glue
	Finishes []finish.Product
}

// SheetsOf gathers what data sheets say. Of several products of one kind the one that is used up first counts.
func SheetsOf(products []Product) (out Sheets) {
	products = slices.Clone(products)
	slices.SortStableFunc(products, first)
	seen := map[string]bool{}
	for _, p := range products {
		if p.Sheet == nil || seen[p.Item] {
			continue
		}
		seen[p.Item] = true
		d := *p.Sheet
		or := func(v *float64, said float64) { *v = cmp.Or(said, *v) }
		switch p.Kind {
		case stage.Resin:
			name := strings.TrimSuffix(p.Item, resinItem)
			r, ok := fill.ResinOf(name)
			if !ok {
				continue
			}
			or(&r.A, d.DensityA)
			or(&r.B, d.DensityB)
			switch { // of a ratio that is given one way the other follows
			case d.Volume > 0 && d.Mass == 0:
				d.Mass = 100 * r.B / (d.Volume * r.A)
			case d.Mass > 0 && d.Volume == 0:
				d.Volume = 100 * r.B / (d.Mass * r.A)
			}
			or(&r.Parts, d.Volume)
			or(&r.Mass, d.Mass)
			or(&r.Pour, d.Pour)
			or(&r.Working, d.Working)
			or(&r.DemouldH, d.Demould)
			or(&r.SandHours, d.Sanded)
			or(&r.FullDays, d.Full)
			or(&r.Coldest, d.Coldest)
			out.Resins = append(out.Resins, r)
		case stage.Glue:
			g, ok := glue.Find(p.Item)
			if !ok {
				continue
			}
			or(&g.Open, d.Working)
			or(&g.Clamped, d.Clamped)
			or(&g.Machine, d.Machine)
			or(&g.Spread, d.Spread)
			or(&g.Least, d.Coldest)
			out.Glues = append(out.Glues, g)
		case stage.Finish:
			f, ok := finish.ProductOf(p.Item)
			if _, paste := finish.PasteRatio(p.Item); paste {
				f, ok = finish.ProductOf(finish.Paste)
			}
			if !ok {
				continue
			}
			or(&f.Face, d.Face)
			or(&f.Soak, d.Soak)
			or(&f.Wait, d.Wait)
			or(&f.Food, d.Food)
			f.Contents, f.Nut = cmp.Or(d.Contents, f.Contents), f.Nut || d.Nut
			out.Finishes = append(out.Finishes, f)
		}
	}
	return out
}
