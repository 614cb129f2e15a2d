package giving

import (
	"fmt"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
)

// Person is somebody whom boards are for.
type Person struct {
	Name  string `json:"name" doc:"As it stands on cards"`
	Likes string `json:"likes,omitempty" doc:"What they like: woods, shapes, how they use a board"`
	Whom  string `json:"whom,omitempty" enum:",own,customer" doc:"Who judges what they get: left out for a gift"`
	Nuts  bool   `json:"nuts,omitempty" doc:"Somebody there must keep away from nuts"`
	Days  []Day  `json:"days,omitempty" doc:"That come back every year"`
	Note  string `json:"note,omitempty" doc:"The maker's own words"`
}

// Day is a day that comes back every year.
type Day struct {
	Name string `json:"name" doc:"What it is"`
	Day  string `json:"day" doc:"Month and day, MM-DD"`
}

// Occasion is a day on which several people get a board.
type Occasion struct {
	Name   string   `json:"name" doc:"What it is"`
	Day    string   `json:"day" doc:"YYYY-MM-DD"`
	Yearly bool     `json:"yearly,omitempty" doc:"It comes back every year"`
	People []string `json:"people" doc:"Ids of those who get one"`
	Note   string   `json:"note,omitempty" doc:"The maker's own words"`
}

// Check reports what is empty, too long or no day.
func (p Person) Check(field string) (ps craft.Problems) {
	if n := len(strings.TrimSpace(p.Name)); n == 0 || n > 200 {
		ps.Add(field+".name", "it is empty or too long", "give a name of 1 to 200 characters")
	}
	if len(p.Likes) > 1000 || len(p.Note) > 2000 {
		ps.Add(field+".note", "the text is too long", "use at most 1000 characters for likes and 2000 for the note")
	}
	if len(p.Days) > 20 {
		ps.Add(field+".days", "there are too many", "keep at most 20")
	}
	ps.OneOf(field+".whom", p.Whom, "", board.Own, board.Customer)
	for i, d := range p.Days {
		at := fmt.Sprintf("%s.days[%d]", field, i)
		if len(d.Name) > 100 {
			ps.Add(at+".name", "it is too long", "use at most 100 characters")
		}
		if _, ok := d.Next(time.Date(2000, 1, 1, 0, 0, 0, 0, time.UTC)); !ok {
			ps.Add(at+".day", fmt.Sprintf("%q is not a day of the year", d.Day), "write it like 06-21")
		}
	}
	return ps
}

// Check reports what is empty, too long or no day.
func (o Occasion) Check(field string) (ps craft.Problems) {
	if n := len(strings.TrimSpace(o.Name)); n == 0 || n > 200 {
		ps.Add(field+".name", "it is empty or too long", "give a name of 1 to 200 characters")
	}
	if _, err := time.Parse(time.DateOnly, o.Day); err != nil {
		ps.Add(field+".day", fmt.Sprintf("%q is not a day", o.Day), "write it like 2031-06-21")
	}
	if len(o.Note) > 2000 || len(o.People) > 5000 {
		ps.Add(field+".note", "it is too long", "use at most 2000 characters, and name at most 5000 people")
	}
	return ps
}

// Next is the day as it comes next, from today on, in today's zone; ok is false where it is no day. The 29th of
// February comes on the 28th in other years.
func (d Day) Next(today time.Time) (next time.Time, ok bool) {
	at, err := time.Parse(time.DateOnly, "2000-"+d.Day) // a leap year
	if err != nil {
		return next, false
	}
	return comes(at.Month(), at.Day(), today), true
}

func comes(month time.Month, day int, today time.Time) time.Time {
	year, m, d := today.Date()
	from := time.Date(year, m, d, 0, 0, 0, 0, today.Location())
	for {
		last := time.Date(year, month+1, 0, 0, 0, 0, 0, today.Location()).Day()
		at := time.Date(year, month, min(day, last), 0, 0, 0, 0, today.Location())
		if !at.Before(from) {
			return at
		}
		year++
	}
}

// Next is the occasion as it comes next, from today on; of one that does not come back, its day.
func (o Occasion) Next(today time.Time) (time.Time, bool) {
	at, err := time.ParseInLocation(time.DateOnly, o.Day, today.Location())
	if err != nil || !o.Yearly {
		return at, err == nil
	}
	return comes(at.Month(), at.Day(), today), true
}

// For tells whether a board that is to be ready on a day, or has none, and was given at a moment or not yet, is one
// for an occasion that comes on a day: of the year before it.
func For(occasion time.Time, due string, given *time.Time) bool {
	since := occasion.AddDate(-1, 0, 0)
	at, err := time.ParseInLocation(time.DateOnly, due, occasion.Location())
	switch {
	case err == nil:
		return at.After(since) && !at.After(occasion)
	case given != nil:
		return given.After(since)
	}
	return true // it is in work, and for whoever has none yet
}
