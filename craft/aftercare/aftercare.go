// Package aftercare tells what to do with a board that comes back: what is seen on it decides what its owner can do,
// and what the shop does. What the shop does is a course of work like any other: it rests, is mended, sanded from a
// washed-out surface, and coated again.
package aftercare

import (
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
)

// Coats are how much of its finish a board gets again.
type Coats string

// The coats.
const (
	NoCoats  Coats = ""
	LastCoat Coats = "last"
	AllCoats Coats = "all"
)

// Sign is something that is seen on a board, and what is done about it.
type Sign struct {
	Key   string   `json:"key" doc:"Stable name, such as furry"`
	Seen  string   `json:"seen" doc:"What is seen, in an owner's words"`
	Owner []string `json:"owner" doc:"What its owner can do, in order"`
	Shop  string   `json:"shop" doc:"What the shop does"`
	Out   bool     `json:"out,omitempty" doc:"It is out of use until the shop has seen it"`

	Mends  *Mend   `json:"-"` // what is done before it is sanded; nil for nothing
	Rests  float64 `json:"-"` // days on edge, both faces free
	Sands  bool    `json:"-"` // from a washed-out surface
	Raises bool    `json:"-"` // its grain, whatever the board had
	Coats  Coats   `json:"-"`
}

// Mend is work on a board before it is sanded.
type Mend struct {
	Title, Detail string
	Kind          plan.Kind
	Minutes       float64
	Wait          float64 // minutes until it can be gone on with
	Uses          []stage.Use
}

const (
	day  = 24 * 60.0
	hour = 60.0
)

// signs are what may be seen (rules of the trade).
var signs = []Sign{
	{
		Key: "furry", Seen: "Furry: its fibres stand up",
		Owner: []string{
			"Let it dry standing on edge for a day.",
			"Rub it along the grain with P320 paper, by hand, until it is smooth.",
			"Wipe the dust off, then oil it and leave it overnight.",
		},
		Shop: "Sand it from P120, raise its grain once more, all coats", Sands: true, Raises: true, Coats: AllCoats,
	},
	{
		Key: "dry", Seen: "Dry, pale, no sheen",
		Owner: []string{
			"Wash it, wipe it dry and stand it on edge overnight.",
			"Rub in the finish named on its card, leave it overnight and wipe off what is left.",
		},
		Shop: "Wipe it clean, its last coat again", Coats: LastCoat,
	},
	{
		Key: "haze", Seen: "White haze, or it stays sticky",
		Owner: []string{
			"Buff it hard with a clean cotton cloth; warm it in the hand, not by a fire.",
			"If it stays sticky, keep it from food and bring it back.",
		},
		Shop: "Take the soft finish off with spirits, let it dry, its last coat again",
		Mends: &Mend{
			Title: "Wipe the soft finish off with spirits", Detail: "Open the windows; rags dry flat outdoors",
			Kind: plan.Wipe, Minutes: 12, Wait: 12 * hour,
			Uses: []stage.Use{{Kind: stage.Finish, Item: "mineral spirits", Amount: 20, Unit: craft.ML}},
		},
		Coats: LastCoat,
	},
	{
		Key: "stained", Seen: "Stained",
		Owner: []string{
			"Rub coarse salt on it with half a lemon, rinse and wipe dry.",
			"Stand it on edge overnight, then oil it.",
		},
		Shop: "Sand the stain out, all coats", Sands: true, Coats: AllCoats,
	},
	{
		Key: "scorched", Seen: "Scorched by something hot",
		Owner: []string{
			"Leave it as it is: sanding by hand makes a hollow.",
			"Bring it back, or cut on the other face.",
		},
		Shop: "Pare the burn off with a card scraper, then sand, all coats",
		Mends: &Mend{
			Title: "Pare the burn off", Detail: "With a card or a chisel, along the grain, wider than the burn: " +
				"sanding burns it in",
			Kind: plan.Scrape, Minutes: 15,
		},
		Sands: true, Coats: AllCoats,
	},
	{
		Key: "cupped", Seen: "Cupped or twisted: it rocks",
		Owner: []string{
			"Stand it on edge with both faces free, away from sun and heating, for three weeks.",
			"Lay it with the hollow down on a damp cloth for an hour only if it has to be flat the same day.",
		},
		Shop: "Let it rest on edge for three weeks, look at it again, its last coat on both faces", Rests: 21,
		Coats: LastCoat,
	},
	{
		Key: "hair", Seen: "A hair crack in its end",
		Owner: []string{
			"Do not wet it. Keep it dry until it was seen to: water opens it further.",
		},
		Shop: "Wick thin CA into it, sand, all coats",
		Mends: &Mend{
			Title: "Wick thin CA into the crack", Detail: "Bend it open a little; gloves, goggles, open windows; no " +
				"cotton near CA",
			Kind: plan.ThinGlue, Minutes: 8, Wait: 1 * hour,
			Uses: []stage.Use{{Kind: stage.Filler, Item: "thin CA", Amount: 2, Unit: craft.ML}},
		},
		Sands: true, Coats: AllCoats,
	},
	{
		Key: "open", Seen: "An open crack, on the side where food lies", Out: true,
		Owner: []string{
			"Take it out of use: what gets in does not come out again.",
			"Bring it back: it is filled, or cut down past the crack.",
		},
		Shop: "Clean it, fill it with epoxy, sand, all coats",
		Mends: &Mend{
			Title: "Clean the crack and fill it with epoxy", Detail: "Scraped, brushed and dry; tape beneath; a heap " +
				"of a hair. Gloves, goggles, open windows",
			Kind: plan.Putty, Minutes: 25, Wait: 24 * hour,
			Uses: []stage.Use{
				{Kind: stage.Filler, Item: "epoxy", Amount: 10, Unit: craft.ML},
				{Kind: stage.Filler, Item: "tape", Amount: 300, Unit: craft.MM},
			},
		},
		Sands: true, Coats: AllCoats,
	},
	{
		Key: "joint", Seen: "A joint has opened between two strips", Out: true,
		Owner: []string{
			"Take it out of use, and do not push glue into it: what does not reach the middle does not hold.",
			"Bring it back: it is cut along the joint and glued again.",
		},
		Shop: "Rip along the joint, joint both edges, glue again, flatten, all coats",
		Mends: &Mend{
			Title: "Rip along the joint, joint both edges, glue again", Detail: "A blade's width is lost; push " +
				"stick, guard, hearing protection",
			Kind: plan.GlueUp, Minutes: 60, Wait: 24 * hour,
			Uses: []stage.Use{{Kind: stage.Glue, Item: "PVA, D4", Amount: 10, Unit: craft.Gram}},
		},
		Sands: true, Coats: AllCoats,
	},
	{
		Key: "handle", Seen: "Its handle or a foot is loose", Out: true,
		Owner: []string{"Do not carry it by what is loose.", "Bring it with its screws, also those that fell out."},
		Shop:  "Take it off, clean its seat, set it again with larger pilots or thickened epoxy",
		Mends: &Mend{
			Title: "Take it off, clean its seat, set it again", Detail: "Old holes are plugged or bored for the next " +
				"size; wax on the screws",
			Kind: plan.Fitting, Minutes: 25, Wait: 12 * hour,
			Uses: []stage.Use{{Kind: stage.Filler, Item: "epoxy", Amount: 5, Unit: craft.ML}},
		},
	},
	{
		Key: "dishwasher", Seen: "It went through the dishwasher",
		Owner: []string{
			"Stand it on edge with both faces free for a week, away from heating.",
			"Look at its joints and ends: if anything has opened, take it out of use.",
			"Bring it back: its finish is gone.",
		},
		Shop:  "Let it dry for a week, strip, sand from P120, raise, all coats",
		Rests: 7, Sands: true, Raises: true, Coats: AllCoats,
	},
	{
		Key: "smells", Seen: "It smells",
		Owner: []string{
			"Rub it with coarse salt or baking soda and lemon, rinse hot, wipe dry.",
			"Stand it in moving air for two days, then oil it.",
			"If it smells rancid it was oiled with cooking oil: bring it back.",
		},
		Shop: "Wash it hot with soda, let it dry for two days, its last coat again",
		Mends: &Mend{
			Title: "Wash it hot with soda, both faces alike", Detail: "Rinse and wipe dry, stand it on edge",
			Kind: plan.Water, Minutes: 10, Wait: 2 * day,
		},
		Coats: LastCoat,
	},
}

// Signs are what may be seen on a board that comes back.
func Signs() []Sign { return slices.Clone(signs) }

// Keys lists the keys of all signs.
func Keys() []string {
	out := make([]string, len(signs))
	for i, s := range signs {
		out[i] = s.Key
	}
	return out
}

// SignOf finds a sign by its key.
func SignOf(key string) (Sign, bool) {
	i := slices.IndexFunc(signs, func(s Sign) bool { return s.Key == key })
	if i < 0 {
		return Sign{}, false
	}
	return signs[i], true
}

// Return is that a board has come back.
type Return struct {
	At   time.Time `json:"at" doc:"When it came back; what was done on it before is not asked for again"`
	Sign string    `json:"sign" enum:"furry,dry,haze,stained,scorched,cupped,hair,open,joint,handle,dishwasher,smells" doc:"What is seen on it"`
}

// Check reports a sign that is not known.
func (a *Return) Check(field string) (ps craft.Problems) {
	if a == nil {
		return nil
	}
	ps.OneOf(field+".sign", a.Sign, Keys()...)
	if a.At.IsZero() {
		ps.Add(field+".at", "the moment is missing", "say when it came back")
	}
	return ps
}

// Timed is a step on a board that came back. It is no operation of those that make boards, though it may be of their
// kind: nothing is set up for both.
func Timed(key string, kind plan.Kind, minutes float64, formula string, pace plan.Pace) plan.Step {
	s := plan.Timed(key, kind, minutes, 0, formula, nil, pace)
	s.Setup = string(kind) + " of what came back"
	return s
}

// Restore is what the shop does about a sign before it is sanded: looked at, mended, at rest. Steps take the pace of
// their kinds.
func (s Sign) Restore(pace plan.Pace) (r stage.Record) {
	r.Stage = craft.Wood
	r.Step(
		"Look at what came back",
		s.Seen+". "+s.Shop,
		Timed("again-look", plan.Reading, 5, "a look", pace),
	)
	if s.Rests > 0 {
		rest := r.Step("Stand it on edge, both faces free", "Away from sun and heating",
			Timed("again-rest", plan.Drying, 2, "stand it up", pace))
		rest.Wait, rest.WaitFor = s.Rests*day, "it to rest"
		r.Step(
			"Lay it on something flat and look at it again",
			"What has not come back rests once more, or is planed: "+
				"then it is a board to be flattened",
			Timed("again-flat", plan.Reading, 5, "a look", pace),
		)
	}
	if m := s.Mends; m != nil {
		step := r.Step(
			m.Title,
			m.Detail,
			Timed("again-mend", m.Kind, m.Minutes, "as it usually takes", pace),
		)
		step.Wait = m.Wait
		if m.Wait > 0 {
			step.WaitFor = "it to hold"
		}
		for _, u := range m.Uses {
			r.Use(u.Kind, u.Item, u.Amount, u.Unit, "again-mend")
		}
	}
	return r
}
