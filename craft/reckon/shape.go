package reckon

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/slab"
	"idletimber/craft/tool"
)

// Shape is a board's shape as it is drawn and as it is worked, in the board's
// own frame.
type Shape struct {
	CutLine   string             `json:"cutLine" doc:"Where the saw is led, outside the outline: SVG path data; open where natural edges are left"`
	Allowance float64            `json:"allowance" doc:"From the outline to that line, mm"`
	Planned   string             `json:"planned,omitempty" doc:"The outline as it was planned, where it was cut otherwise"`
	Narrow    string             `json:"narrow,omitempty" doc:"The narrower face of a board whose edges slant"`
	Recesses  []Sunk             `json:"recesses"`
	Sections  []board.Section    `json:"sections"`
	Stretches []board.Stretch    `json:"stretches" doc:"The outline as the router meets it, in the order in which it is best cut"`
	Entries   []board.Entry      `json:"entries"`
	Work      []board.RecessWork `json:"work" doc:"What each recess takes"`
	Balance   geom.Point         `json:"balance"`
	Middles   []float64          `json:"middles" doc:"What the handles' offsets count from, y, the first one first"`
	Flank     geom.Point         `json:"flank" doc:"On its right side, past the middle of its length"`
	Ends      [2][2]float64      `json:"ends" doc:"Of a plank: from its right to its left edge, at the handle end and at the far end"`
	Feet      []geom.Point       `json:"feet"`
	Set       []Nested           `json:"set" doc:"The boards that this one must mate with"`
}

// Sunk is a recess as it is drawn.
type Sunk struct {
	Index int    `json:"index" doc:"In the design"`
	Path  string `json:"path" doc:"Its rim and, where it runs round, its inner line"`
	Under bool   `json:"under"`
	Name  string `json:"name"`
}

// Nested is another board of the set, where it nests.
type Nested struct {
	Board string         `json:"board"`
	Name  string         `json:"name"`
	Path  string         `json:"path"`
	Holes []string       `json:"holes"`
	At    geom.Placement `json:"at" doc:"In this board's frame"`
}

func (b *bench) shape(d Board, s board.Shaped, r Reckoned, c board.Conditions) Shape {
	out := Shape{Work: r.Shape.Work, Recesses: []Sunk{}, Feet: []geom.Point{}, Set: []Nested{}, Balance: s.Balance(c.Wood), Middles: s.Middles(), Flank: s.Flank(), Ends: s.Design.Ends(c.Usable)}
	out.Allowance = board.Allowance(tool.Wander(d.Cut.Saw), b.job.Shop.Rules)
	out.CutLine = s.CutLine(out.Allowance)
	if s.Planned != nil {
		out.Planned = s.Planned.ToSVG()
	}
	if slant := s.Design.Slant; slant > 0 {
		out.Narrow = s.Outline.Shrunk(slant).SVG()
	}
	for _, cavity := range s.Cavities {
		if len(cavity.Rim) < 3 {
			continue
		}
		path := cavity.Rim.SVG()
		if len(cavity.Inner) > 2 {
			path += cavity.Inner.SVG()
		}
		if len(cavity.Lip) > 2 {
			path += cavity.Lip.SVG()
		}
		out.Recesses = append(out.Recesses, Sunk{cavity.Index, path, cavity.Recess.Under, cavity.Name(s.Design.Recesses)})
	}
	out.Sections = board.Sections(s, r.Budget.Sanded)
	out.Stretches = board.Stretches(s, c.Wood)
	out.Entries = board.Entries(s, c.Tools.Bits)
	out.Feet = append(out.Feet, c.FootSpots...)
	for _, m := range d.Mates {
		name, o, ok := b.mate(m.Board)
		if !ok {
			continue
		}
		n := Nested{m.Board, name, o.Path.ToSVG(), []string{}, m.At}
		for _, h := range o.HolePaths {
			n.Holes = append(n.Holes, h.ToSVG())
		}
		out.Set = append(out.Set, n)
	}
	return out
}

// mate finds a board that another must mate with, on this slab or apart from
// it, as it is drawn.
func (b *bench) mate(id string) (name string, s board.Shaped, ok bool) {
	for i, o := range b.job.Boards {
		if o.ID == id {
			return o.Name, b.shaped[i], true
		}
	}
	for _, o := range b.job.Apart {
		if o.Board.ID != id {
			continue
		}
		var usable geom.Ring
		if o.Slab != nil {
			usable = slab.Draw(*o.Slab, b.job.Shop.Species).Usable().Map(o.Board.Placement.In)
		}
		return o.Board.Name, o.Board.Fit.Cut(board.Draw(o.Board.Design, usable)), true
	}
	return "", board.Shaped{}, false
}

// mates judges every board that this one must mate with.
func (b *bench) mates(d Board, s board.Shaped) (out []craft.Verdict) {
	for _, m := range d.Mates {
		if name, o, ok := b.mate(m.Board); ok {
			out = append(out, board.MateVerdict(s.Outline, o.Outline.Map(m.At.Out), m.Gap, name))
		}
	}
	return out
}

// mostWeighed bounds the remedies that are weighed, the gravest verdicts' first:
// each is a reckoning of its own.
const mostWeighed = 40

// weigh says at each remedy what it would make worse: in the shape, on the slab,
// in the work that follows, and by the date.
func (b *bench) weigh(at int, r *Reckoned, chains []plan.Chain) {
	d := b.job.Boards[at]
	level := map[string]int{}
	for _, v := range r.Verdicts {
		level[v.Check+"/"+v.Subject] = v.Level.Rank()
	}
	said := map[string]string{} // one remedy often answers several verdicts
	for i := range r.Verdicts {
		for k := range r.Verdicts[i].Remedies {
			remedy := &r.Verdicts[i].Remedies[k]
			key := fmt.Sprint(remedy.Patch)
			if _, ok := said[key]; !ok {
				next := d
				if len(said) == mostWeighed || remedy.Patch.Apply(&next) != nil {
					continue
				}
				said[key] = strings.Join(b.worse(at, next, r.Course, level, chains), "; ")
			}
			remedy.Worsens = said[key]
		}
	}
}

// worse lists what becomes worse when the board at a place among the job's is
// made otherwise: verdicts by the level that they had, and dates.
func (b *bench) worse(at int, next Board, was plan.Course, level map[string]int, chains []plan.Chain) (out []string) {
	place := b.place(next)
	place.Bare = true
	shaped := next.Fit.Cut(place.Shaped())
	r, verdicts := b.amounts(next, shaped)
	conditions := b.conditions(next, shaped, r)
	conditions.Bare = true
	check := board.Check
	if reflect.DeepEqual(next.Design, b.job.Boards[at].Design) {
		check = board.CheckWhereLaid // all else is as it was
	}
	for _, v := range slices.Concat(check(shaped, conditions), place.Check(shaped), b.mates(next, shaped), verdicts) {
		if v.Level.Rank() > level[v.Check+"/"+v.Subject] { // one that was not there was good
			out = append(out, strings.ToLower(v.Finding[:1])+v.Finding[1:])
		}
	}
	chain := b.chain(next, r)
	if work(chain) <= work(chains[at])+1 {
		return out
	}
	then := slices.Clone(chains)
	then[at] = chain
	courses := b.planner.Schedule(then)
	const day = 24 * 60
	if c := courses[at]; c.Late && !was.Late {
		out = append(out, "it is ready too late for its day")
	} else if c.Finish != nil && was.Finish != nil && c.Finish.Sub(*was.Finish).Minutes() >= day {
		out = append(out, fmt.Sprintf("ready %.1f days later", c.Finish.Sub(*was.Finish).Hours()/24))
	}
	for i, c := range courses {
		if i != at && c.Late && !b.courses[i].Late {
			out = append(out, c.Name+" becomes too late for its day")
		}
	}
	return out
}

// work is the time that a chain takes from one end to the other, minutes.
func work(c plan.Chain) (sum float64) {
	for _, s := range c.Steps {
		sum += s.Minutes + s.Wait
	}
	return sum
}

// handleNames names what is bored or cut through the board, in its order.
func handleNames(s board.Shaped) string {
	var names []string
	for _, h := range s.Handles {
		if !slices.Contains(names, h.Name()) {
			names = append(names, h.Name())
		}
	}
	return strings.Join(names, " and ")
}

// shapeSteps are the steps at the saw, the drill and the router.
func (b *bench) shapeSteps(d Board, r Reckoned, add adder, work worker) {
	var perimeter float64
	for _, c := range r.Cuts {
		if c.Tool == d.Cut.Saw {
			perimeter = c.Length
		}
	}
	bored, sawn := 0, 0.0
	var entered []string
	for i, h := range r.shaped.Handles {
		bored++
		switch h.Kind {
		case "slot":
			bored++ // two bored holes and the short cut between
			continue
		case "hole", "cord":
			continue
		}
		sawn += r.shaped.Holes[i].Perimeter()
		entered = append(entered, h.Name())
	}
	if bored > 0 {
		detail := "Back it with scrap"
		if c := d.Design.Handle; c.Kind != "hole" && c.Kind != "cord" && len(entered) > 0 {
			detail += "; an entry hole inside the waste of the " + strings.Join(entered, ", ")
		}
		add(craft.Shape, "Bore the "+handleNames(r.shaped), detail, work("bore", plan.Bore, float64(bored)))
	}
	if sawn > 0 {
		add(craft.Shape, "Saw out the "+strings.Join(entered, " and "), "Blade through the entry hole; file or sand to the line", work("inner-cuts", plan.Curve, sawn))
	}
	add(craft.Shape, "Saw the outline", "Outside the line; sand to it", work("outline", plan.Curve, perimeter))
	sunk := 0.0
	var names []string
	for _, w := range r.Shape.Work {
		sunk += w.Volume
		names = append(names, w.Name)
	}
	if sunk > 0 {
		add(craft.Shape, "Test the recess on scrap", "Template, bush and depth, in scrap of the same wood", plan.Timed("recess-test", plan.HogOut, 5, 5, "a test cut", nil, b.pace))
		add(craft.Shape, "Hog out the "+strings.Join(names, ", "), "Each pass no deeper than half the bit; clamp the board and the template", work("recess", plan.HogOut, sunk))
	}
	if n := r.shaped.Worked(); n > 0 {
		detail := "A test cut on scrap first; end grain first, then along the grain"
		add(craft.Shape, edgeTitle(d.Design), detail, work("edges", plan.EdgeWork, n))
	}
	if slices.ContainsFunc(d.Design.Handles(), func(h board.Handle) bool { return h.Kind == "bevel" }) {
		add(craft.Shape, "Cut the finger bevel", "Leave the flat standing at the edge", work("finger-bevel", plan.EdgeWork, perimeter/2))
	}
	if n := r.natural; n > 0 {
		add(craft.Shape, "Clean the live edge", "Bark off, knock back what is knife-thin", work("live-edge", plan.LiveEdge, n))
	}
}

func edgeTitle(d board.Design) string {
	kind := d.Edge.Kind
	if kind == "none" || kind == "" || d.Edge.Size == 0 || len(d.Edges) > 0 {
		return "Shape the edges"
	}
	return fmt.Sprintf("%s the edges", strings.ToUpper(kind[:1])+kind[1:])
}
