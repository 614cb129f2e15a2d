package glue

import (
	"cmp"
	"fmt"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/rule"
	"idletimber/craft/species"
)

// What a board is mostly for, as the choice of its construction goes.
const (
	Carving = "carving"
	Serving = "serving"
)

// Need is what a panel is wanted for, and the stock that it is made of.
type Need struct {
	Length    float64  `json:"length" mm:"60,3000" doc:"Of the finished panel, mm"`
	Width     float64  `json:"width" mm:"40,1500" doc:"mm"`
	Thickness float64  `json:"thickness" mm:"6,120" doc:"Flat and sanded, mm"`
	Use       string   `json:"use" enum:"carving,serving" doc:"What its boards are mostly for"`
	Keen      bool     `json:"keen,omitempty" doc:"For a keen cook, who minds the knives"`
	Species   []string `json:"species" doc:"Those of a repeat, from the left: A B A C"`
	Mirrored  bool     `json:"mirrored,omitempty" doc:"The right half mirrors the left"`
	Stock     float64  `json:"stock" mm:"3,120" doc:"Thickness of the planks, planed"`
	Plank     float64  `json:"plank" mm:"20,600" doc:"Width of the planks"`
	Glue      string   `json:"glue,omitempty" doc:"By its name; empty for the usual one"`
}

// Check reports what is out of range or unknown.
func (n Need) Check(field string, own []species.Species) (ps craft.Problems) {
	ps.InRange(field, n)
	ps.OneOf(field+".use", n.Use, Carving, Serving)
	const most = 12
	if len(n.Species) < 1 || len(n.Species) > most {
		ps.Add(field+".species", "the repeat has no strip, or too many", fmt.Sprintf("name from 1 to %d species", most))
		return ps
	}
	for i, s := range n.Species {
		ps = append(ps, species.Check(fmt.Sprintf("%s.species[%d]", field, i), s, own)...)
	}
	if _, ok := Find(n.Glue); n.Glue != "" && !ok {
		ps.Add(field+".glue", fmt.Sprintf("%q is no known glue", n.Glue), "choose one of the table")
	}
	return ps
}

// Constructions lists how a panel may be made, the least work first.
var Constructions = []string{Flat, Unequal, OnEdge, Stacked, Arrows, Blocks}

// sawKerf is what a table saw takes, mm.
const sawKerf = 3

// New is a panel of a construction that comes out at least as wide, long and thick as is
// needed, of bought stock; its strips follow the repeat.
func (n Need) New(construction string, c Conditions) Panel {
	clean := c.Rules.Get(rule.GlueClean)
	p := Panel{
		Construction: construction, Glue: cmp.Or(n.Glue, Glues[0].Name), Kerf: sawKerf, Caul: 30,
		Finished: n.Thickness, Clean: &clean,
	}
	rough := RoughLength(n.Length, false, c.Rules)
	raised := math.Ceil(Raised(n.Thickness, c.Rules)*10) / 10
	strip := Strip{Length: math.Ceil(rough), Width: n.Plank, Thickness: n.Stock}
	wide := n.Width
	switch construction {
	case OnEdge, Stacked:
		strip.Width = raised
	case Blocks:
		p.Slice, p.Reversed = raised, true
		strip.Width = min(n.Plank, 45)
		wide = n.Length // across the strips lies the new panel's length
		slices := math.Ceil(n.Width / (strip.Width - 2*clean))
		strip.Length = math.Ceil(slices*(p.Slice+p.Kerf) + RoughLength(0, false, c.Rules))
	case Arrows:
		p.Degrees, p.Slice, p.Staggered = 45, 40, true
		strip.Width = min(n.Plank, 40)
		wide = (n.Length + p.Slice) * math.Sqrt2 / 2 // a slice is as long as the strips are wide, over the sine
		slices := math.Ceil(n.Width / p.Slice)
		strip.Length = math.Ceil((slices*(p.Slice+p.Kerf))*math.Sqrt2 + strip.Width + RoughLength(0, false, c.Rules))
	}
	across, _ := p.Section(strip)
	count, _ := Count(wide, across)
	count = min(count, MostStrips)
	if construction == Flat || construction == Unequal { // as wide as is wanted, of planks as wide as they are
		count = max(count, min(len(n.Species), MostStrips))
		if construction == Unequal { // a middle one needs two beside it
			count = max(count, 3)
		}
		strip.Width = math.Ceil(wide/float64(count)*10) / 10
	}
	for i := range count {
		s := strip
		s.ID, s.Species = fmt.Sprintf("s%d", i+1), n.species(i, count)
		if construction == Unequal && i == count/2 {
			const handle = 130
			s.Length, s.Along = s.Length+handle, 0
		}
		p.Strips = append(p.Strips, s)
	}
	return p
}

// planks is how many planks of the needed width, as long as a strip each, its strips are
// ripped from; a strip as wide as a plank takes one.
func (n Need) planks(p Panel, c Conditions) int {
	each := max(1, RipYield(n.Plank, p.Strips[0].Width, p.Kerf, c.Rules))
	return (len(p.Strips) + each - 1) / each
}

// species is that of the i-th of n strips.
func (n Need) species(i, count int) string {
	if n.Mirrored {
		i = min(i, count-1-i)
	}
	return n.Species[i%len(n.Species)]
}

// Choice is a construction as it would come out for a need.
type Choice struct {
	Construction string      `json:"construction" enum:"flat,on edge,stacked quarter,end grain,chevron,unequal lengths"`
	Panel        Panel       `json:"panel" doc:"To begin with"`
	Parts        []Drawn     `json:"parts" doc:"As it is drawn"`
	Length       float64     `json:"length" doc:"As it comes out of the clamps, mm"`
	Width        float64     `json:"width" doc:"mm"`
	Movement     float64     `json:"movement" doc:"Across it in a year, mm"`
	Drinks       float64     `json:"drinks" doc:"Finish, against a face of long grain"`
	Planks       int         `json:"planks" doc:"Planks of the length of a strip that they are ripped from"`
	Strips       int         `json:"strips"`
	Minutes      float64     `json:"minutes" doc:"Hands-on until it is trimmed"`
	Days         float64     `json:"days" doc:"Of waits until it can be machined"`
	Knives       string      `json:"knives" doc:"What it does to knives"`
	Looks        string      `json:"looks"`
	Level        craft.Level `json:"level" doc:"The gravest that is judged of it"`
	Finding      string      `json:"finding" doc:"The gravest finding; empty when all is good"`
	Best         bool        `json:"best" doc:"The one to take"`
	Why          string      `json:"why" doc:"Of the best: its reason"`
}

// manners are what a construction does to knives, and how it looks.
var manners = map[string][2]string{
	Flat: {"marks show", "best figure"}, OnEdge: {"fair", "stripes"}, Stacked: {"fair", "calm, straight"},
	Blocks: {
		"kindest",
		"blocks",
	}, Arrows: {"decorative of sheet stock", "arrows"}, Unequal: {"marks show", "best figure"},
}

// Choose compares the constructions for a need, and says which to take and why.
func (n Need) Choose(c Conditions) []Choice {
	out := make([]Choice, 0, len(Constructions))
	for _, of := range Constructions {
		p := n.New(of, c)
		if len(p.Check("panel", c.Own)) > 0 { // there is none of this size
			continue
		}
		made, r := Make(p, c)
		across, _ := p.movement(p.Shape(), c.Own)
		choice := Choice{
			Construction: of, Panel: p, Parts: made.Parts, Length: made.Length, Width: made.Width,
			Movement: across * c.Swing, Drinks: p.thirst(p.Shape(), c), Strips: len(p.Strips),
			Planks: n.planks(
				p,
				c,
			), Days: made.Days, Knives: manners[of][0], Looks: manners[of][1], Level: craft.Worst(r.Verdicts),
		}
		for _, s := range r.Steps {
			choice.Minutes += s.Minutes
		}
		for _, v := range r.Verdicts {
			if v.Level == choice.Level && v.Level != craft.Good {
				choice.Finding = v.Finding
				break
			}
		}
		out = append(out, choice)
	}
	n.advise(out, c)
	return out
}

// advise marks the one to take: end grain for knives, else on edge, where a panel is cut
// on; flat where looks come first, unless it is a large thin one of softwood.
func (n Need) advise(choices []Choice, c Conditions) {
	take := func(of, why string) bool {
		i := slices.IndexFunc(choices, func(o Choice) bool { return o.Construction == of })
		if i < 0 || choices[i].Level == craft.Stop {
			return false
		}
		choices[i].Best, choices[i].Why = true, why
		return true
	}
	soft := slices.ContainsFunc(n.Species, func(name string) bool {
		w, _ := species.FindIn(c.Own, name)
		return w.Group == "softwood"
	})
	switch {
	case n.Use == Carving || n.Keen:
		_ = take(Blocks, "Kindest to knives: the edge goes between the fibres") ||
			take(OnEdge, "Stays flat, and takes a knife fairly")
	case soft && n.Width > wideFlat && n.Thickness < thinFlat:
		_ = take(Stacked, "Wide, thin and of softwood: with its rings standing it moves half as much") ||
			take(OnEdge, "Wide, thin and of softwood: on edge it stays flat")
	default:
		_ = take(Flat, "Looks come first: the wide faces show the best figure, and it is the least work") ||
			take(OnEdge, "Stays flat, and shows stripes")
	}
}
