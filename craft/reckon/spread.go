package reckon

import (
	"cmp"
	"fmt"
	"iter"
	"math"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/rule"
)

// Sheet is a piece of wood that may be laid on: its scene, with what lies on it already.
type Sheet struct {
	Piece string // id
	Scene Scene
}

// OnPiece is what is laid on one of several pieces.
type OnPiece struct {
	Piece  string   `json:"piece" doc:"Its id"`
	Name   string   `json:"name" doc:"Of the piece"`
	Boards []Placed `json:"boards" doc:"In the order in which they were laid"`
	Yield  float64  `json:"yield" doc:"Share of the piece that boards cover, those laid before too, %"`
}

// ToBuy is wood that the rack does not hold.
type ToBuy struct {
	Want   int     `json:"want" doc:"Which of the wants, from 0"`
	Boards int     `json:"boards" doc:"That could not be laid"`
	Length float64 `json:"length" doc:"That a piece for one must have, mm"`
	Width  float64 `json:"width" doc:"That it must have, mm"`
	Thick  float64 `json:"thick" doc:"Of the board; as it came is more, mm"`
	Volume float64 `json:"volume" doc:"Of wood for all of them, with what is cut away, m³"`
}

// Spread is how wishes are laid over several pieces.
type Spread struct {
	Pieces []OnPiece `json:"pieces" doc:"Those that are used, the best used first"`
	Laid   int       `json:"laid" doc:"Boards in all"`
	Wanted int       `json:"wanted" doc:"Boards in all"`
	Buy    []ToBuy   `json:"buy" doc:"What is not on the rack"`
	Looked int       `json:"looked" doc:"Searches made so far"`
}

// MostSpread bounds the boards that are spread over pieces in one search, and MostSheets the pieces.
const (
	MostSpread = 200
	MostSheets = 40
)

// spreadMoves is how long a piece is searched: so many moves.
const spreadMoves = 500

// SpreadOver lays wishes over several pieces: each time on the piece that holds all that is left with the least waste,
// or else on the one that takes the most of it, so that as few are cut up as need be and what is used worst comes
// last. It yields what it has whenever it has come further, and ends by itself. It fails as Seek does; a piece that
// cannot be searched is left out.
func SpreadOver(on []Sheet, wants []Want) (iter.Seq[Spread], error) {
	if ps := checkSpread(on, wants); len(ps) > 0 {
		return nil, ps
	}
	return func(yield func(Spread) bool) {
		s := spreading{
			wants: wants,
			rules: on[0].Scene.Shop.Rules,
			best:  make([]*Proposal, len(on)),
			bare:  make([]bool, len(on)),
		}
		for _, w := range wants {
			s.left = append(s.left, w.Most)
			s.out.Wanted += w.Most
		}
		s.out.Pieces, s.out.Buy = []OnPiece{}, s.toBuy()
		for {
			pick := -1
			for i, sheet := range on {
				if s.bare[i] {
					continue
				}
				if !s.look(i, sheet) || !yield(s.out) {
					return
				}
				if s.best[i] != nil && (pick < 0 || s.better(i, pick)) {
					pick = i
				}
			}
			if pick < 0 {
				return
			}
			s.take(pick, on[pick])
			if !yield(s.out) || s.out.Laid == s.out.Wanted {
				return
			}
		}
	}, nil
}

func checkSpread(on []Sheet, wants []Want) (ps craft.Problems) {
	sum := 0
	for i, w := range wants {
		at := fmt.Sprintf("wants[%d]", i)
		ps = append(ps, w.Board.Check(at+".board")...)
		ps.Range(at+".most", float64(w.Most), 1, MostSpread)
		if w.Board.Design.Shape == board.Plank {
			ps.Add(at+".board", "a plank follows the edges of the wood where it lies", "lay it by itself")
		}
		sum += max(w.Most, 0)
	}
	switch {
	case sum == 0:
		ps.Add("wants", "nothing is wanted", "name a board at least")
	case sum > MostSpread:
		ps.Add("wants", fmt.Sprintf("%d boards are too many for one search", sum),
			fmt.Sprintf("ask for at most %d", MostSpread))
	}
	switch {
	case len(on) == 0:
		ps.Add("pieces", "there is no piece to lay on", "choose a piece at least")
	case len(on) > MostSheets:
		ps.Add("pieces", fmt.Sprintf("%d pieces are too many for one search", len(on)),
			fmt.Sprintf("choose at most %d", MostSheets))
	}
	return ps
}

// spreading is one search over several pieces.
type spreading struct {
	wants []Want
	rules rule.Set
	left  []int       // of each want
	best  []*Proposal // for what is left, on each piece that was looked at
	bare  []bool      // pieces that are used up, or take nothing
	out   Spread
}

// fits tells whether a proposal lays no more of anything than is left.
func (s *spreading) fits(p *Proposal) bool {
	laid := make([]int, len(s.left))
	for _, b := range p.Boards {
		if b.Part == 0 {
			laid[b.Want]++
		}
	}
	for i, n := range laid {
		if n > s.left[i] {
			return false
		}
	}
	return true
}

// look searches a piece for what is left, unless what is known of it still holds. It tells whether to go on.
func (s *spreading) look(i int, sheet Sheet) bool {
	if p := s.best[i]; p != nil && s.fits(p) {
		return true
	}
	s.best[i] = nil
	room := MostWanted
	var ask Seeking
	var of []int // which want each of them is
	for n, w := range s.wants {
		if w.Least, w.Most = 0, min(s.left[n], room); w.Most > 0 {
			room -= w.Most
			ask.Wants, of = append(ask.Wants, w), append(of, n)
		}
	}
	steps, err := Seek(sheet.Scene, ask)
	if err != nil {
		s.bare[i] = true
		return sheet.Scene.Watch.Ask() == nil
	}
	s.out.Looked++
	for step := range steps {
		if len(step.Proposals) > 0 && len(step.Proposals[0].Boards) > 0 {
			p := step.Proposals[0]
			p.Boards = slices.Clone(p.Boards)
			s.best[i] = &p
		}
		all := s.best[i] != nil && len(s.best[i].Boards) == MostWanted-room
		if step.Moves >= spreadMoves || all || sheet.Scene.Watch.Ask() != nil {
			break
		}
	}
	if s.best[i] == nil {
		s.bare[i] = true
		return sheet.Scene.Watch.Ask() == nil
	}
	for n := range s.best[i].Boards {
		s.best[i].Boards[n].Want = of[s.best[i].Boards[n].Want]
	}
	return sheet.Scene.Watch.Ask() == nil
}

// better tells whether one piece is taken before another: one that holds all that is left before one that does not, the
// better used of two such; else the one that takes more, and then the better used.
func (s *spreading) better(i, k int) bool {
	sum := 0
	for _, n := range s.left {
		sum += n
	}
	a, b := s.best[i], s.best[k]
	whole := func(p *Proposal) int { return min(len(p.Boards)/max(sum, 1), 1) }
	by := cmp.Or(cmp.Compare(whole(b), whole(a)), cmp.Compare(len(b.Boards), len(a.Boards)),
		cmp.Compare(b.Yield, a.Yield))
	return by < 0
}

// take lays what was found for a piece.
func (s *spreading) take(i int, sheet Sheet) {
	p := s.best[i]
	s.bare[i] = true
	for _, b := range p.Boards {
		s.left[b.Want]--
	}
	s.out.Laid += len(p.Boards)
	s.out.Pieces = append(slices.Clone(s.out.Pieces), OnPiece{sheet.Piece, sheet.Scene.Slab.Name, p.Boards, p.Yield})
	slices.SortStableFunc(s.out.Pieces, func(a, b OnPiece) int { return cmp.Compare(b.Yield, a.Yield) })
	s.out.Buy = s.toBuy()
}

// boughtYield is which share of bought wood becomes boards, by experience.
const boughtYield = 0.65

// toBuy is wood for what is left: each board with what is cut off about it, and as much again as is wasted of bought
// wood.
func (s *spreading) toBuy() []ToBuy {
	out := []ToBuy{}
	for i, n := range s.left {
		if n == 0 {
			continue
		}
		w := s.wants[i]
		box := board.Draw(w.Board.Design, nil).Outline.Bounds()
		about := 2 * w.Board.Cut.Apart(s.rules)
		b := ToBuy{Want: i, Boards: n, Length: math.Ceil(box.MaxX - box.MinX + about),
			Width: math.Ceil(box.MaxY - box.MinY + about), Thick: w.Board.Design.Thickness}
		b.Volume = float64(n) * b.Length * b.Width * b.Thick / boughtYield / 1e9
		out = append(out, b)
	}
	return out
}
