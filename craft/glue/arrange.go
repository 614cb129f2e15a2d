package glue

import (
	"fmt"
	"slices"

	"idletimber/craft"
	"idletimber/craft/rule"
	"idletimber/craft/species"
)

// The ways in which the strips of a panel are arranged at one go.
const (
	ToWidth    = "width"   // as many as make a width, the pattern repeated
	ToRepeat   = "repeat"  // bought strips of some species, again and again
	Mirror     = "mirror"  // the right half like the left
	ByContrast = "order"   // the greatest contrast between neighbours
	Spare      = "spares"  // as many spare strips as the rule asks for
	Rough      = "lengths" // cut as long as a finished length asks for
)

// Arranging is how the strips of a panel are to be arranged.
type Arranging struct {
	Panel  Panel    `json:"panel"`
	How    string   `json:"how" enum:"width,repeat,mirror,order,spares,lengths"`
	Width  float64  `json:"width,omitempty" mm:"10,2000,when" doc:"Wanted, for width, mm"`
	Length float64  `json:"length,omitempty" mm:"30,4000,when" doc:"Finished, for lengths, mm"`
	Repeat []string `json:"repeat,omitempty" doc:"Species of a repeat, from the left"`
}

// Check reports what is out of range or unknown.
func (a Arranging) Check(field string, own []species.Species) (ps craft.Problems) {
	ps.OneOf(field+".how", a.How, ToWidth, ToRepeat, Mirror, ByContrast, Spare, Rough)
	switch a.How {
	case ToWidth:
		ps.InRangeOf(field, a, "width")
	case Rough:
		ps.InRangeOf(field, a, "length")
	case ToRepeat:
		if len(a.Repeat) < 1 || len(a.Repeat) > MostStrips {
			ps.Add(field+".repeat", "the repeat has no strip, or too many", "name from 1 to 60 species")
			return ps
		}
		for i, s := range a.Repeat {
			ps = append(ps, species.Check(fmt.Sprintf("%s.repeat[%d]", field, i), s, own)...)
		}
	}
	return append(ps, a.Panel.Check(field+".panel", own)...)
}

// Arranged is the panel with its strips arranged. Strips that are added are like those
// that the pattern repeats, and to be bought.
func (a Arranging) Arranged(rules rule.Set, own []species.Species) Panel {
	p := a.Panel
	p.Strips, p.Spares = slices.Clone(p.Strips), slices.Clone(p.Spares)
	switch a.How {
	case ToWidth:
		p.widen(a.Width)
	case ToRepeat:
		for i := range p.Strips {
			if s := &p.Strips[i]; s.Species != a.Repeat[i%len(a.Repeat)] {
				s.Species, s.Piece, s.Problem, s.Flaws = a.Repeat[i%len(a.Repeat)], "", "", nil
			}
		}
	case Mirror:
		for i, n := 0, len(p.Strips); i < n/2; i++ {
			id := p.Strips[n-1-i].ID
			p.Strips[n-1-i] = p.Strips[i].copied(id)
		}
	case ByContrast:
		was := p.Strips
		p.Strips = make([]Strip, len(was))
		for i, k := range a.Panel.Proposed(own) {
			p.Strips[i] = was[k]
		}
	case Spare:
		p.spare()
	case Rough:
		long := RoughLength(a.Length, p.Sacrificial, rules)
		for i := range p.Strips {
			p.Strips[i].Length, p.Strips[i].Along = long, 0
		}
	}
	return p
}

// copied is another strip like it, to be bought.
func (s Strip) copied(id string) Strip {
	s.ID, s.Piece, s.Problem, s.Flaws = id, "", "", nil
	return s
}

// widen repeats or drops strips until they make a width, or one strip more of it.
func (p *Panel) widen(wanted float64) {
	before := slices.Clone(p.Strips)
	p.Strips = p.Strips[:0]
	sum := 0.0
	for i := 0; sum < wanted-1e-6 && len(p.Strips) < MostStrips; i++ {
		s := before[i%len(before)]
		if i >= len(before) {
			s = s.copied(p.fresh(before))
		}
		across, _ := p.Section(s)
		sum += across
		p.Strips = append(p.Strips, s)
	}
}

// spare adds or drops spare strips until there are as many as the rule asks for: like the
// strips of which there are most.
func (p *Panel) spare() {
	want := Spares(len(p.Strips), p.sheet())
	for len(p.Spares) < want {
		like := p.Strips[len(p.Spares)%len(p.Strips)]
		p.Spares = append(p.Spares, like.copied(p.fresh(nil)))
	}
	p.Spares = p.Spares[:want]
}

// fresh is an id that no strip has.
func (p Panel) fresh(others []Strip) string {
	all := append(p.All(), others...)
	for i := len(all) + 1; ; i++ {
		id := fmt.Sprintf("s%d", i)
		if !slices.ContainsFunc(all, func(s Strip) bool { return s.ID == id }) {
			return id
		}
	}
}
