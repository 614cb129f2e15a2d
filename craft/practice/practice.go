// Package practice is made-up boards on which something has gone wrong, to be solved: each has a best way out, and says
// why. Nothing of it enters anybody's records.
package practice

import (
	"math"
	"slices"
	"time"

	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

// Case is one made-up mishap.
type Case struct {
	Key  string `json:"key" doc:"Stable name"`
	Name string `json:"name" doc:"What it is about"`
	Told string `json:"told" doc:"What has happened, as its maker would tell it"`
	Kind string `json:"kind" doc:"What went wrong, such as deep"`

	why    string // the best way is the best
	best   string // its key
	step   string // at which it happened
	days   int    // from then to the day of the board
	board  func(*reckon.Board, *slab.Slab)
	report func(outline geom.Ring) rescue.Report
}

// Answer is what a choice is worth.
type Answer struct {
	Right bool   `json:"right" doc:"It is the best way"`
	Best  string `json:"best" doc:"Key of the best way"`
	Why   string `json:"why" doc:"Why it is that"`
}

// Of finds a case by its key.
func Of(key string) (Case, bool) {
	i := slices.IndexFunc(cases, func(c Case) bool { return c.Key == key })
	if i < 0 {
		return Case{}, false
	}
	return cases[i], true
}

// Cases lists all of them, the plainest first.
func Cases() []Case { return slices.Clone(cases) }

// Answer tells what choosing a way by its key is worth.
func (c Case) Answer(way string) Answer { return Answer{way == c.best, c.best, c.why} }

// Mishap is the id of the mishap of every case.
const Mishap = "practice"

// Scene is the case at a moment: a slab with its board, made up to the step, and what went wrong then.
func (c Case) Scene(now time.Time) (reckon.Scene, error) {
	at := func(x, left, right float64) slab.Station { return slab.Station{X: x, Left: left, Right: right} }
	v := slab.Slab{
		Name: "Practice slab", Species: "London plane", Length: 620, LiveLeft: true, LiveRight: true,
		Show: []slab.Station{
			at(0, 118, -116), at(160, 130, -124), at(310, 127, -130), at(460, 131, -126), at(620, 119, -121),
		},
		Readings: []slab.Reading{{X: 60, Thickness: 31}, {X: 310, Thickness: 31.5}, {X: 560, Thickness: 31}},
		Hollow:   1, Wind: 1, PriceCents: 3200, Flaws: []stock.Flaw{},
		Moisture: []moisture.Reading{
			{At: now.AddDate(0, 0, -30), Percent: 9.1}, {At: now.AddDate(0, 0, -10), Percent: 9},
		},
	}
	b := reckon.NewBoard("practice", c.Name, v.Length)
	b.Give.Due = now.AddDate(0, 0, c.days).Format(time.DateOnly)
	if c.board != nil {
		c.board(&b, &v)
	}
	s := reckon.Scene{Schema: reckon.Schema, Now: now, Slab: &v, Boards: []reckon.Board{b}, Shop: shop.Usual()}
	r, err := reckon.Reckon(s, reckon.Request{})
	if err != nil {
		return s, err
	}
	done := now.Add(-3 * time.Hour)
	for _, d := range r.Boards[0].Course.Steps {
		if d.Key == c.step {
			break
		}
		done = done.Add(time.Minute)
		s.Log = append(s.Log, reckon.LogEntry{Subject: plan.Board(b.ID), Entry: plan.Entry{
			Step: d.Key, Event: plan.Finish, At: done, Minutes: math.Ceil(d.Minutes),
		}})
	}
	drawn, err := reckon.Draw(s)
	if err != nil {
		return s, err
	}
	report := c.report(drawn[0].Outline)
	report.Kind = c.Kind
	s.Boards[0], err = reckon.Happened(s, Mishap, c.step, now, 0, report)
	return s, err
}

// bite is a cut into the left side of an outline at x, so wide and so deep, mm.
func bite(outline geom.Ring, x, wide, deep float64) []geom.Point {
	y := slices.Max(outline.SpansAcross(x, nil))
	const out = 4
	return []geom.Point{
		{
			X: x - wide/2,
			Y: y + out,
		}, {X: x - wide/4, Y: y - deep}, {X: x + wide/4, Y: y - deep}, {X: x + wide/2, Y: y + out},
	}
}

// spot is a square of so many mm about a place.
func spot(x, y, size float64) []geom.Point {
	h := size / 2
	return []geom.Point{{X: x - h, Y: y - h}, {X: x + h, Y: y - h}, {X: x + h, Y: y + h}, {X: x - h, Y: y + h}}
}

// hole gives a board a round hole.
func hole(b *reckon.Board, diameter float64) {
	b.Design.Handle = board.Handle{Kind: board.Hole, Diameter: diameter, Setback: 40}
}

var cases = []Case{
	{
		Key: "curve", Name: "Too deep in a curve", Kind: "deep", step: "edges", days: 60,
		Told: "An oval for bread. The band saw wandered into it by {6}, half way along.",
		best: "fair-gentle-mirrored",
		why: "A stiff batten bends past the cut without a dip, {0.5} behind it. With the other side alike " +
			"nobody sees that " +
			"it was ever wider, for two hundredths of its face; a tight bend would keep more and show.",
		board:  func(b *reckon.Board, _ *slab.Slab) { b.Design.Shape, b.Design.Width = board.Oval, 200 },
		report: func(o geom.Ring) rescue.Report { return rescue.Report{Area: bite(o, 20, 16, 6)} },
	},
	{
		Key: "thin", Name: "Sanded too thin", Kind: "thin", step: "raise-150", days: 60,
		Told: "It was to be {20} thick. The calliper shows {17.6} at one corner.",
		best: "take-down",
		why: "A board may be any thickness that bears its webs. All of it goes down to the thinnest corner " +
			"and a little " +
			"more, then the grits again.",
		report: func(geom.Ring) rescue.Report { return rescue.Report{Thickness: 17.6} },
	},
	{
		Key: "furry", Name: "Furry under oil", Kind: "furry", step: "wipe-1", days: 60,
		Told: "The first coat has dried, and its fibres stand up.",
		best: "step-back",
		why: "Fibres that stand up are cut by the last grit; what was under them is as smooth as it was. " +
			"Then the coat.",
		report: func(geom.Ring) rescue.Report { return rescue.Report{} },
	},
	{
		Key: "near-centre", Name: "A hole a little off", Kind: "offcentre", step: "outline", days: 60,
		Told: "The hole came out {1} off the middle of a board that is {180} wide.",
		best: "as-bored",
		why: "It shows over {1.5} where an edge is near, else over three hundredths of the width. This " +
			"does not: whatever is done about it makes it worse.",
		board:  func(b *reckon.Board, _ *slab.Slab) { hole(b, 24) },
		report: func(geom.Ring) rescue.Report { return rescue.Report{Place: &geom.Point{X: 140, Y: 1}} },
	},
	{
		Key: "web", Name: "The wood behind the hole", Kind: "web", step: "edges", days: 60,
		Told: "The board fell on its handle end: the wood behind the hole has broken out in one piece, and " +
			"it is at hand.",
		best: "glue-back",
		why: "A clean break closes without a gap, and a glue line along the grain is stronger than the wood " +
			"beside it. " +
			"For a gift that is all it takes.",
		board: func(b *reckon.Board, _ *slab.Slab) { hole(b, 28) },
		report: func(geom.Ring) rescue.Report {
			return rescue.Report{
				Area: []geom.Point{{X: 148, Y: -12}, {X: 184, Y: -14}, {X: 184, Y: 14}, {X: 148, Y: 12}},
			}
		},
	},
	{
		Key: "web-sold", Name: "The same, for a customer", Kind: "web", step: "edges", days: 60,
		Told: "The wood behind the hole has broken out. The board is sold already.",
		best: "angled",
		why: "A joint in a new board is a fault to who pays for it. A straight cut in front of the hole " +
			"leaves a whole " +
			"board, a little shorter.",
		board: func(b *reckon.Board, _ *slab.Slab) {
			hole(b, 28)
			b.Give.Whom = board.Customer
		},
		report: func(geom.Ring) rescue.Report {
			return rescue.Report{
				Area: []geom.Point{{X: 148, Y: -12}, {X: 184, Y: -14}, {X: 184, Y: 14}, {X: 148, Y: 12}},
			}
		},
	},
	{
		Key: "edge", Name: "The live edge is lost", Kind: "edge", step: "edges", days: 60,
		Told: "A plank with one live edge. A hand's breadth of it has come off with the bark, {9} deep.",
		best: "fair-gentle",
		why: "A gentle line leaves the live edge where it is sound and comes back to it; the other side is " +
			"straight and " +
			"stays so.",
		board: func(b *reckon.Board, _ *slab.Slab) {
			b.Design.Shape, b.Design.KeepLeft, b.Design.Corner = board.Plank, true, 0
		},
		report: func(o geom.Ring) rescue.Report { return rescue.Report{Area: bite(o, -30, 70, 9)} },
	},
	{
		Key: "dropped", Name: "A dent before the first coat", Kind: "dropped", step: "coat-1", days: 60,
		Told: "It slipped off the bench. A dent in the face, less than {1} deep, its fibres not cut.",
		best: "step-back",
		why: "Fibres that are pressed, not cut, swell back with steam. Nothing is lost but two grits; " +
			"planing the dent " +
			"away costs the whole face.",
		report: func(geom.Ring) rescue.Report { return rescue.Report{Area: spot(-60, 30, 12), Depth: 0.7} },
	},
	{
		Key: "burn", Name: "A burn from the router", Kind: "burn", step: "sand-60", days: 60,
		Told: "The bit stood still for a moment: a brown stripe beside the edge.",
		best: "pare",
		why: "A burn lies in the first {0.4}. A card takes it off in a few strokes; sanding only " +
			"polishes it in.",
		report: func(o geom.Ring) rescue.Report { return rescue.Report{Area: spot(0, 70, 14)} },
	},
	{
		Key: "crack", Name: "A crack under the planer marks", Kind: "deeper", step: "outline", days: 60,
		Told: "Once it was flat a crack showed at the butt end, longer than it had looked. Nothing is sawn yet.",
		best: "redraw-rectangle",
		why: "While nothing is sawn a board may be moved and drawn smaller: all of it sound, none of it " +
			"filled, and no " +
			"work is lost.",
		report: func(geom.Ring) rescue.Report {
			return rescue.Report{Line: []geom.Point{{X: -184, Y: 40}, {X: -120, Y: 46}}}
		},
	},
	{
		Key: "cupped", Name: "Cupped, and no time", Kind: "cupped", step: "sand-60", days: 16,
		Told: "It lay flat on the bench for two days and has cupped by {1}. It must be ready in sixteen days.",
		best: "take-down",
		why: "On edge most of it would come back, in a fortnight: its day would be over. There is wood " +
			"enough to take it " +
			"down by what it has cupped.",
		report: func(geom.Ring) rescue.Report { return rescue.Report{Depth: 1} },
	},
	{
		Key: "off-centre", Name: "A hole well off", Kind: "offcentre", step: "outline", days: 60,
		Told: "The hole of the handle came out {3} to the left.",
		best: "wider-hole",
		why: "Bored wider about the right centre, the new hole takes in the old one. It costs {3} of wood " +
			"on either side, and there is enough.",
		board: func(b *reckon.Board, _ *slab.Slab) {
			b.Design.Shape, b.Design.Width, b.Design.Neck, b.Design.NeckLength = board.Paddle, 180, 80, 110
			hole(b, 22)
		},
		report: func(geom.Ring) rescue.Report { return rescue.Report{Place: &geom.Point{X: 140, Y: 3}} },
	},
}
