package reckon

import (
	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/making"
	"idletimber/craft/slab"
)

// Shape is a board's shape as it is drawn and as it is worked, in the board's
// own frame.
type Shape struct {
	CutLine   string             `json:"cutLine" doc:"Where the saw is led, as an SVG path; open at natural edges"`
	Allowance float64            `json:"allowance" doc:"From the outline to that line, mm"`
	Proud     []layout.Proud     `json:"proud" doc:"How far the edge stands outside its line, step by step"`
	Waste     []board.Waste      `json:"waste" doc:"What falls off round the outline, and inside what is sawn out"`
	KeepAway  string             `json:"keepAway,omitempty" doc:"Strip along live edges for no saw or clamp"`
	Fades     []geom.Point       `json:"fades" doc:"Where a profile ends at a live edge and is faded by hand"`
	Planned   string             `json:"planned,omitempty" doc:"The planned outline, where it was cut otherwise"`
	Narrow    string             `json:"narrow,omitempty" doc:"The narrower face of a board whose edges slant"`
	Recesses  []Sunk             `json:"recesses" doc:"As they are drawn"`
	Sections  []board.Section    `json:"sections" doc:"As it looks cut through"`
	Stretches []board.Stretch    `json:"stretches" doc:"The outline as the router meets it, in the best order"`
	Entries   []board.Entry      `json:"entries" doc:"Where inner cuts begin"`
	Work      []board.RecessWork `json:"work" doc:"What each recess takes"`
	Presses   []board.Press      `json:"presses" doc:"Changes that may be liked, by one press"`
	Places    []board.Measure    `json:"places" doc:"Where its recesses lie, as distances on the drawing"`
	Carving   [][2]geom.Point    `json:"carving" doc:"Which way the gouge is pushed in what is carved"`
	Balance   geom.Point         `json:"balance" doc:"Centre of its mass, in the board's frame"`
	Grips     []board.Grip       `json:"grips" doc:"Where its dimensions are taken hold of"`
	Recasts   []board.Kind       `json:"recasts" doc:"What of the design changes with each other shape"`
	Feet      []geom.Point       `json:"feet" doc:"Centres of its feet, in the board's frame"`
	Set       []Nested           `json:"set" doc:"The boards that this one must mate with"`
}

// Sunk is a recess as it is drawn.
type Sunk struct {
	Index int    `json:"index" doc:"In the design"`
	Path  string `json:"path" doc:"Its rim and, where it runs round, its inner line"`
	Under bool   `json:"under" doc:"Sunk into the under face"`
	Name  string `json:"name" doc:"Which recess"`
}

// Nested is another board of the set, where it nests.
type Nested struct {
	Board string         `json:"board" doc:"Id of the other board"`
	Name  string         `json:"name" doc:"Of the other board"`
	Path  string         `json:"path" doc:"Its outline as an SVG path"`
	Holes []string       `json:"holes" doc:"Its holes as SVG paths"`
	At    geom.Placement `json:"at" doc:"In this board's frame"`
}

func (l *laid) shape() Shape {
	d, s, c := l.board, l.shaped, l.conditions()
	out := Shape{
		Work: l.recess, Recesses: []Sunk{}, Feet: append([]geom.Point{}, c.FootSpots...), Set: []Nested{},
		Balance: s.Balance(l.grain), Grips: s.Grips(c.Usable),
		Sections: board.Sections(s, c.Thickness), Stretches: board.Stretches(s, l.grain),
		Entries: board.Entries(s, c.Tools.Bores()), Places: s.Places(), Carving: s.Carving(*c), Presses: s.Presses(*c),
	}
	left, right := l.place.Live()
	out.Recasts = d.Design.Recasts(left, right)
	out.Allowance, out.Proud = l.leave(), d.Cut.Proud(l.on.Shop.Rules)
	out.CutLine = s.CutLine(out.Allowance)
	inner := layout.Leave(l.makes().Tool(making.Inner, ""), l.on.Shop.Rules)
	out.Waste = s.Waste(out.Allowance, inner, c.Tools.Bores())
	out.KeepAway, out.Fades = s.KeepAway(board.KeepClear), append([]geom.Point{}, s.Fades()...)
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
		out.Recesses = append(
			out.Recesses,
			Sunk{cavity.Index, path, cavity.Recess.Under, cavity.Name(s.Design.Recesses)},
		)
	}
	for _, m := range d.Mates {
		name, o, ok := l.on.mate(m.Board)
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
func (b *drawn) mate(id string) (name string, s board.Shaped, ok bool) {
	for _, l := range b.boards {
		if l.board.ID == id {
			return l.board.Name, l.shaped, true
		}
	}
	for _, o := range b.Apart {
		if o.Board.ID != id {
			continue
		}
		var usable geom.Ring
		if o.Slab != nil {
			usable = slab.Draw(*o.Slab, b.Shop.Species).Usable().Map(o.Board.Placement.In)
		}
		return o.Board.Name, o.Board.Fit.Cut(board.Draw(o.Board.Design, usable)), true
	}
	return "", board.Shaped{}, false
}

// mates judges every board that this one must mate with.
func (l *laid) mates() (out []craft.Verdict) {
	for _, m := range l.board.Mates {
		if name, o, ok := l.on.mate(m.Board); ok {
			out = append(out, board.MateVerdict(l.shaped.Outline, o.Outline.Map(m.At.Out), m.Gap, l.stray(), name))
		}
	}
	return out
}
