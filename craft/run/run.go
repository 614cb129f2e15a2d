// Package run is several boards made together: what they share, and what that saves.
//
// A run is boards plus what they share. Its work is the steps of its boards by operation: one kind of work with
// one set-up, as often as it comes on a board.
package run

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// Run is one run, as the maker keeps it. Who gets which board stands at the boards.
type Run struct {
	Name     string   `json:"name" doc:"What the maker calls it"`
	Occasion string   `json:"occasion,omitempty" doc:"What the boards are given for"`
	Customer string   `json:"customer,omitempty" doc:"Who ordered it; empty for gifts"`
	Day      string   `json:"day,omitempty" doc:"On which its boards must be ready, YYYY-MM-DD"`
	Count    int      `json:"count" range:"0,200" doc:"How many are wanted"`
	Spares   int      `json:"spares" range:"0,50" doc:"How many more are made"`
	People   []Person `json:"people,omitempty" doc:"Who has no board yet"`
	Designs  []Design `json:"designs,omitempty" doc:"What is still to be laid on wood"`
	Note     string   `json:"note,omitempty" doc:"The maker's own words"`

	Setups map[string]string `json:"setups,omitempty" doc:"Names of the set-ups of its operations, by their keys"`
}

// Person is somebody who is to get a board.
type Person struct {
	Name string `json:"name" doc:"Who it is"`
	Day  string `json:"day,omitempty" doc:"On which it must be ready, YYYY-MM-DD; empty for the day of the run"`
}

// Design is a shape of which a run is to have so many boards: that of another board, or of a kept shape.
type Design struct {
	Board string `json:"board,omitempty" doc:"Id of the board that it is made like"`
	Shape string `json:"shape,omitempty" doc:"Id of the kept shape, where it is made like no board"`
	Count int    `json:"count" range:"1,200" doc:"How many are to be laid"`

	Worth   float64 `json:"worth,omitempty" range:"0,1000000" doc:"Of one; 0 for its area in dm²"`
	Longest float64 `json:"longest,omitempty" mm:"0,5000" doc:"May be stretched to this length; 0 for as drawn"`
	Widest  float64 `json:"widest,omitempty" mm:"0,2000" doc:"May be stretched to this width; 0 for as drawn"`
}

// mostDesigns bounds the designs of a run.
const mostDesigns = 20

// Deal tells who gets which of so many boards: whoever needs one first comes first, and those who are left still wait.
func (r Run) Deal(boards int) (get, wait []Person) {
	all := slices.Clone(r.People)
	day := func(p Person) string { return cmp.Or(r.DayOf(p), "9999") }
	slices.SortStableFunc(all, func(a, b Person) int { return cmp.Compare(day(a), day(b)) })
	n := min(max(boards, 0), len(all))
	return all[:n], all[n:]
}

// Missing is how many boards are still to be laid where so many are: for all that are wanted with their spares, and for
// all who wait.
func (r Run) Missing(boards int) int { return max(0, r.Count+r.Spares-boards, len(r.People)) }

// Over are how many of its boards need not be made: those that nobody gets, beyond the count.
func (r Run) Over(boards, dealt int) int { return max(0, boards-max(r.Count, dealt)) }

// Check reports what is out of range.
func (r Run) Check(field string) (ps craft.Problems) {
	at := func(name string) string {
		if field == "" {
			return name
		}
		return field + "." + name
	}
	ps.InRange(field, r)
	if r.Name == "" || len(r.Name) > 200 {
		ps.Add(at("name"), "the name is empty or too long", "give a name of 1 to 200 characters")
	}
	for name, text := range map[string]string{"occasion": r.Occasion, "customer": r.Customer, "note": r.Note} {
		if len(text) > 2000 {
			ps.Add(at(name), "the text is too long", "use at most 2000 characters")
		}
	}
	checkDay(&ps, at("day"), r.Day)
	if len(r.Setups) > 200 {
		ps.Add(at("setups"), "there are too many", "choose at most 200 set-ups")
		return ps
	}
	if len(r.Designs) > mostDesigns {
		ps.Add(at("designs"), "there are too many", fmt.Sprintf("name at most %d designs", mostDesigns))
		return ps
	}
	for i, d := range r.Designs {
		ps.InRange(fmt.Sprintf("%s[%d]", at("designs"), i), d)
		if (d.Board == "") == (d.Shape == "") {
			ps.Add(fmt.Sprintf("%s[%d]", at("designs"), i), "it is like no board and no kept shape, or like both",
				"name one of them")
		}
	}
	if len(r.People) > 250 {
		ps.Add(at("people"), "there are too many", "name at most 250 people")
		return ps
	}
	for i, p := range r.People {
		if p.Name == "" || len(p.Name) > 200 {
			ps.Add(fmt.Sprintf("%s[%d].name", at("people"), i), "the name is empty or too long", "say who it is")
		}
		checkDay(&ps, fmt.Sprintf("%s[%d].day", at("people"), i), p.Day)
	}
	return ps
}

func checkDay(ps *craft.Problems, at, day string) {
	if _, err := time.Parse(time.DateOnly, day); day != "" && err != nil {
		ps.Add(at, fmt.Sprintf("%q is not a day", day), "write it like 2031-06-21, or leave it empty")
	}
}

// DayOf is the day on which a person's board must be ready; empty without one.
func (r Run) DayOf(p Person) string {
	if p.Day != "" {
		return p.Day
	}
	return r.Day
}

// Spares is how many boards more are made of so many, by the rule of one in so many, one at least.
func Spares(count int, rules rule.Set) int {
	if count == 0 {
		return 0
	}
	return max(1, int(math.Ceil(float64(count)/rules.Get(rule.SpareIn))))
}

// Minutes of making and using a template, and of going without, a board (rules).
const (
	templateMake  = 25
	templateTrace = 1.5
	templateFlush = 4
	drawOutline   = 10
	fairByHand    = 15
)

// Template tells whether a template pays for so many boards of one shape: minutes with it and without, and from how
// many boards on it is the quicker.
func Template(n int) (with, without float64, from int) {
	const spared = drawOutline + fairByHand - templateTrace - templateFlush
	with = templateMake + float64(n)*(templateTrace+templateFlush)
	without = float64(n) * (drawOutline + fairByHand)
	return with, without, int(math.Floor(templateMake/spared)) + 1
}

// Shapes is what many shapes cost in templates against one that all share: minutes a board, of so many boards in so
// many shapes.
func Shapes(boards, shapes int) (each, shared float64) {
	if boards == 0 || shapes == 0 {
		return 0, 0
	}
	sum := 0.0
	for i := range shapes {
		n := boards / shapes
		if i < boards%shapes {
			n++
		}
		with, without, _ := Template(n)
		sum += min(with, without)
	}
	with, without, _ := Template(boards)
	return sum / float64(boards), min(with, without) / float64(boards)
}

// Stack is how many equal parts lie on each other under a machine that takes so much height, mm; 1 at least.
func Stack(height, part float64) int {
	if part <= 0 {
		return 1
	}
	return max(1, int(height/part+1e-9))
}
