package slab

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stock"
)

// What a piece was sold or kept as.
const (
	StockSlab   = "slab"
	StockPlank  = "plank"
	StockPanel  = "panel" // of solid wood, bought glued up
	StockSheet  = "sheet"
	StockOffcut = "offcut"
	StockSlice  = "slice" // sawn across the trunk: its faces are end grain
)

// How a price is given.
const (
	ByPiece      = "piece"
	ByBoardFoot  = "board foot"
	ByCubicMetre = "cubic metre"
)

// Origin is where a piece came from.
type Origin struct {
	Source     string `json:"source,omitempty" doc:"The tree and its place, or the yard"`
	Felled     string `json:"felled,omitempty" doc:"Year, month or day: 2031, 2031-03 or 2031-03-04"`
	Milled     string `json:"milled,omitempty" doc:"The same"`
	EndsSealed bool   `json:"endsSealed,omitempty" doc:"The ends were sealed when it was fresh"`
	Dried      string `json:"dried,omitempty" enum:"air,kiln,green,not known" doc:"How it was dried"`
}

// Bought is work that was done elsewhere: the piece came resawn, planed or
// sanded.
type Bought struct {
	Work      string  `json:"work,omitempty" doc:"What was done"`
	Thickness float64 `json:"thickness,omitempty" mm:"0,500" doc:"As delivered, flat; 0 when it was not thicknessed"`
	Grit      int     `json:"grit,omitempty" range:"0,2000" doc:"Sanded to; 0 when it was not sanded"`
	CostCents int     `json:"costCents,omitempty" range:"0,1e9" doc:"Hundredths of the shop's money"`
	Leaves    string  `json:"leaves,omitempty" doc:"Day on which it goes there, YYYY-MM-DD; empty when it is done"`
	Back      string  `json:"back,omitempty" doc:"Day on which it comes back, YYYY-MM-DD"`
}

// BackAt is when a piece that is away comes back, noon of the day; nil when it is not away.
func (b *Bought) BackAt(zone *time.Location) *time.Time {
	if b == nil {
		return nil
	}
	return plan.Noon(b.Back, zone)
}

var dated = regexp.MustCompile(`^\d{4}(-(0[1-9]|1[0-2])(-(0[1-9]|[12]\d|3[01]))?)?$`)

// Check reports what cannot be.
func (o Origin) Check(field string) (ps craft.Problems) {
	if len(o.Source) > 500 {
		ps.Add(field+".source", "the text is too long", "use at most 500 characters")
	}
	for name, v := range map[string]string{"felled": o.Felled, "milled": o.Milled} {
		if v != "" && !dated.MatchString(v) {
			ps.Add(
				field+"."+name,
				fmt.Sprintf("%q is not a year, month or day", v),
				"write it like 2031, 2031-03 or 2031-03-04",
			)
		}
	}
	if o.Felled != "" && o.Milled != "" && len(ps) == 0 {
		if n := min(len(o.Felled), len(o.Milled)); o.Milled[:n] < o.Felled[:n] {
			ps.Add(field+".milled", "it was milled before it was felled", "give the later date for milling")
		}
	}
	ps.OneOf(field+".dried", o.Dried, "", "air", "kiln", "green", "not known")
	return ps
}

// Check reports what cannot be.
func (b Bought) Check(field string) (ps craft.Problems) {
	ps.InRange(field, b)
	if len(b.Work) > 500 {
		ps.Add(field+".work", "the text is too long", "use at most 500 characters")
	}
	for name, day := range map[string]string{"leaves": b.Leaves, "back": b.Back} {
		if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
			ps.Add(field+"."+name, fmt.Sprintf("%q is not a day", day), "write it like 2031-03-04")
		}
	}
	if len(ps) == 0 && b.Leaves != "" && b.Back != "" && b.Back < b.Leaves {
		ps.Add(field+".back", "it comes back before it leaves", "give a day on or after "+b.Leaves)
	}
	return ps
}

// Words tells where a piece came from in one sentence for the gift note;
// empty when nothing is known.
func (o *Origin) Words() string {
	if o == nil {
		return ""
	}
	var parts []string
	if o.Source != "" {
		parts = append(parts, "came from "+strings.TrimRight(o.Source, ". "))
	}
	if o.Felled != "" {
		parts = append(parts, "was felled in "+month(o.Felled))
	}
	if o.Milled != "" {
		parts = append(parts, "milled in "+month(o.Milled))
	}
	switch o.Dried {
	case "air":
		parts = append(parts, "dried in the air")
	case "kiln":
		parts = append(parts, "dried in a kiln")
	}
	switch n := len(parts); n {
	case 0:
		return ""
	case 1:
		return "The wood " + parts[0] + "."
	default:
		return "The wood " + strings.Join(parts[:n-1], ", ") + " and " + parts[n-1] + "."
	}
}

var months = []string{
	"January",
	"February",
	"March",
	"April",
	"May",
	"June",
	"July",
	"August",
	"September",
	"October",
	"November",
	"December",
}

// month writes a date as month and year, or the year alone; what is no date, as it
// stands.
func month(date string) string {
	if len(date) < 7 || !dated.MatchString(date) {
		return date
	}
	return months[(date[5]-'0')*10+date[6]-'0'-1] + " " + date[:4]
}

// Look is how a face looked when it was wetted before the show face was
// chosen.
type Look struct {
	Wetted  string `json:"wetted,omitempty" enum:"dry,water,spirits" doc:"What it showed when it was wetted"`
	Note    string `json:"note,omitempty" doc:"What the face looks like"`
	Picture string `json:"picture,omitempty" doc:"Id of a picture of the workshop"`
	Better  bool   `json:"better,omitempty" doc:"This face looked the better"`
	Ground  *Photo `json:"ground,omitempty" doc:"A picture to scale that lies under the drawing"`
}

// Photo is a picture seen square from above, in the slab's frame, mm. That of
// the under face is shown as it is seen, turned over about the long axis.
type Photo struct {
	Picture string  `json:"picture" doc:"Id of the picture"`
	MinX    float64 `json:"minX" doc:"Its beginning, along the slab, mm"`
	MinY    float64 `json:"minY" doc:"Its right edge, mm"`
	MaxX    float64 `json:"maxX" doc:"Its end, along the slab, mm"`
	MaxY    float64 `json:"maxY" doc:"Its left edge, mm"`
	Turn    float64 `json:"turn,omitempty" doc:"Degrees anticlockwise about the middle of its box"`
}

func (l *Look) check(field string) (ps craft.Problems) {
	if l == nil {
		return nil
	}
	ps.OneOf(field+".wetted", l.Wetted, "", "dry", "water", "spirits")
	if len(l.Note) > 2000 || len(l.Picture) > 64 {
		ps.Add(field+".note", "the text is too long", "use at most 2000 characters")
	}
	if g := l.Ground; g != nil {
		for name, v := range map[string]float64{"minX": g.MinX, "minY": g.MinY, "maxX": g.MaxX, "maxY": g.MaxY} {
			ps.Length(field+".ground."+name, v, -20000, 20000)
		}
		ps.Range(field+".ground.turn", g.Turn, -360, 360)
	}
	return ps
}

func (s Slab) checkFeatures(field string, seen map[string]bool) (ps craft.Problems) {
	if len(s.Features) > MostFlaws {
		ps.Add(field, "there are too many", "mark at most 400")
		return ps
	}
	for i, f := range s.Features {
		at := fmt.Sprintf("%s[%d]", field, i)
		if f.ID == "" || len(f.ID) > 64 || seen[f.ID] {
			ps.Add(at+".id", "the id is empty, too long or used twice", "give everything marked an id of its own")
		}
		seen[f.ID] = true
		ps.OneOf(at+".kind", f.Kind, "figure", "burr", "colour", "streak")
		ps.OneOf(at+".wish", f.Wish, "", stock.KeepInside, stock.Centred, stock.DownTheMiddle)
		for k, p := range append(slices.Clone(f.Line), f.Centre) {
			ps.Length(fmt.Sprintf("%s.line[%d].x", at, k), p.X, -500, s.Length+500)
			ps.Length(fmt.Sprintf("%s.line[%d].y", at, k), p.Y, -5000, 5000)
		}
		ps.InRange(at, f)
		switch {
		case len(f.Line) > 200:
			ps.Add(at+".line", "a streak has at most 200 points", "mark fewer")
		case len(f.Line) < 2:
			ps.InRangeOf(at, f, "a", "b")
		}
		if len(f.Note) > 500 {
			ps.Add(at+".note", "the text is too long", "use at most 500 characters")
		}
	}
	return ps
}

// cost is what the piece cost in cents: its price, by piece or by volume, and the
// work that was bought in.
func (s Slab) cost(w stock.Wood) float64 {
	cost := float64(s.PriceCents)
	switch s.PriceBy {
	case ByBoardFoot:
		cost *= w.BoardFeet()
	case ByCubicMetre:
		cost *= w.Volume() * 1e-9
	}
	if s.Bought != nil {
		cost += float64(s.Bought.CostCents)
	}
	return cost
}
