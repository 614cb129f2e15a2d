package reckon

import (
	"fmt"
	"slices"

	"idletimber/craft/board"
	"idletimber/craft/geom"
)

// Which boards of a set must mate.
const (
	EveryPair = "every pair"
	WithThis  = "with this one"
)

// Set is a set of boards that nest: each against every other, both ways.
type Set struct {
	Boards []SetBoard `json:"boards" doc:"This one, and all that it mates with through others"`
	Pairs  []Pair     `json:"pairs" doc:"Every board with every other one at its side"`
}

// SetBoard is a board of a set.
type SetBoard struct {
	ID   string `json:"id"`
	Name string `json:"name"`

	outline geom.Ring
}

// Pair is a board of a set with another at its side.
type Pair struct {
	One    string         `json:"one" doc:"Id of the board that the other stands beside"`
	Other  string         `json:"other"`
	Side   string         `json:"side" enum:"right,far end" doc:"Of the one, where the other stands"`
	Fits   bool           `json:"fits" doc:"They nest there"`
	Turned bool           `json:"turned" doc:"They nest there with the other turned end for end"`
	Widest float64        `json:"widest" doc:"Widest gap where they face each other, mm"`
	Clash  float64        `json:"clash" doc:"How deep one reaches into the other, mm"`
	At     geom.Placement `json:"at" doc:"Where the other stands, in the frame of the one"`
	Must   bool           `json:"must" doc:"They are asked to mate"`
}

// mostInSet bounds the boards of a set that are compared: each pair is a search.
const mostInSet = 8

// Nests compares every board of the set of the first one with every other, where they are a gap
// apart, both ways. The error is a problem of the scene, or that of its watch.
func Nests(s Scene, gap float64) (Set, error) {
	out := Set{Boards: []SetBoard{}, Pairs: []Pair{}}
	b, err := draw(s)
	if err != nil {
		return out, err
	}
	asked := map[[2]string]bool{}
	all := slices.Clone(s.Boards)
	for _, o := range s.Apart {
		all = append(all, o.Board)
	}
	in := map[string]bool{s.First(): true}
	for range all { // as often as a chain of mates is long, at most
		for _, o := range all {
			for _, m := range o.Mates {
				asked[[2]string{o.ID, m.Board}], asked[[2]string{m.Board, o.ID}] = true, true
				if in[o.ID] || in[m.Board] {
					in[o.ID], in[m.Board] = true, true
				}
			}
		}
	}
	for _, o := range all {
		if name, shaped, ok := b.mate(o.ID); ok && in[o.ID] && len(out.Boards) < mostInSet {
			out.Boards = append(out.Boards, SetBoard{o.ID, name, shaped.Outline})
		}
	}
	stray := board.Stray(s.Boards[0].Design.Style, s.Boards[0].Give.Whom, s.Shop.Rules)
	for _, one := range out.Boards {
		for _, other := range out.Boards {
			if one.ID == other.ID {
				continue
			}
			p := Pair{One: one.ID, Other: other.ID, Must: asked[[2]string{one.ID, other.ID}]}
			for _, side := range board.BesideSides {
				if err := s.Watch.Ask(); err != nil {
					return out, err
				}
				n := board.Beside(one.outline, other.outline, side, false, gap, stray)
				t := board.Beside(one.outline, other.outline, side, true, gap, stray)
				if side == board.BesideSides[0] || n.Fits || t.Fits {
					p.Side, p.Fits, p.Turned = side, n.Fits, t.Fits
					p.Widest, p.Clash, p.At = n.Widest, n.Clash, n.Place
					if !n.Fits && t.Fits {
						p.Widest, p.Clash, p.At = t.Widest, t.Clash, t.Place
					}
				}
				if p.Fits || p.Turned {
					break
				}
			}
			out.Pairs = append(out.Pairs, p)
		}
	}
	return out, nil
}

// Asked are the boards of a set as they are when every pair, or this board with each, must
// mate a gap apart, where they nest best. Only those are returned that change. The error names
// the pair that nests at no side.
func (s Set) Asked(boards []Board, this, which string, gap float64) (out []Board, err error) {
	out = slices.Clone(boards)
	for i := range s.Boards {
		for k := i + 1; k < len(s.Boards); k++ {
			a, b := s.Boards[i], s.Boards[k]
			if which == WithThis && a.ID != this && b.ID != this {
				continue
			}
			pair, ok := s.nests(a.ID, b.ID)
			if !ok {
				return nil, fmt.Errorf("%s and %s nest at no side", a.Name, b.Name)
			}
			back := geom.Placement{}
			join(out, pair.One, board.Mate{Board: pair.Other, At: pair.At, Gap: gap})
			join(out, pair.Other, board.Mate{Board: pair.One, At: pair.At.Seen(back), Gap: gap})
		}
	}
	return slices.DeleteFunc(out, func(b Board) bool {
		return slices.ContainsFunc(boards, func(o Board) bool { return o.ID == b.ID && slices.Equal(o.Mates, b.Mates) })
	}), nil
}

// nests is the way in which two boards nest, whichever stands at the other's side.
func (s Set) nests(a, b string) (Pair, bool) {
	for _, p := range s.Pairs {
		if (p.Fits || p.Turned) && (p.One == a && p.Other == b || p.One == b && p.Other == a) {
			return p, true
		}
	}
	return Pair{}, false
}

// join makes a board know a mate, unless it does.
func join(boards []Board, id string, m board.Mate) {
	for i, b := range boards {
		if b.ID == id && !slices.ContainsFunc(b.Mates, func(o board.Mate) bool { return o.Board == m.Board }) {
			boards[i].Mates = append(slices.Clone(b.Mates), m)
		}
	}
}
