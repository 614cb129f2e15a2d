package reckon

import (
	"cmp"
	"fmt"
	"iter"
	"math"
	"math/rand/v2"
	"slices"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/nest"
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
	Name   string  `json:"name" doc:"Of its board"`
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
	Worth  float64   `json:"worth" doc:"Of all that is laid"`
	Wanted int       `json:"wanted" doc:"Boards in all"`
	Buy    []ToBuy   `json:"buy" doc:"What is not on the rack"`
	Looked int       `json:"looked" doc:"Searches made so far"`
}

// MostSpread bounds the boards that are spread over pieces in one search, and MostSheets the pieces.
const (
	MostSpread = 200
	MostSheets = 40
)

// spreadMoves is how long a piece is searched: so many moves. So many times in a row two pieces are laid anew together
// without anything better, before a search over several ends.
const (
	spreadMoves = 1000
	spreadIdle  = 8
)

// SpreadOver lays wishes over several pieces: each time on the piece that holds all that is left with the least waste,
// or else on the one that takes the most worth of it, so that as few are cut up as need be and what is used worst comes
// last. Then what lies on one of them and on another, and what could not be laid, is laid on both anew, as long as that
// leads on: to more worth, to fewer pieces, or to more of one of them left whole. It yields what it has whenever it has
// come further, and ends by itself. It fails as Seek does; a piece that cannot be searched is left out.
func SpreadOver(on []Sheet, wants []Want, cores nest.Cores) (iter.Seq[Spread], error) {
	if ps := checkSpread(on, wants); len(ps) > 0 {
		return nil, ps
	}
	return func(yield func(Spread) bool) {
		s := spreading{
			on:    on,
			wants: wants,
			cores: cores,
			rules: on[0].Scene.Shop.Rules,
			best:  make([]*Proposal, len(on)),
			laid:  make([]*Proposal, len(on)),
			bare:  make([]bool, len(on)),
		}
		for _, w := range wants {
			s.left = append(s.left, w.Most)
			s.out.Wanted += w.Most
		}
		s.out.Pieces, s.out.Buy = []OnPiece{}, s.toBuy()
		for {
			pick := -1
			for i := range on {
				if s.bare[i] {
					continue
				}
				if !s.look(i) || !yield(s.out) {
					return
				}
				if s.best[i] != nil && (pick < 0 || s.better(i, pick)) {
					pick = i
				}
			}
			if pick < 0 {
				break
			}
			s.take(pick)
			if !yield(s.out) {
				return
			}
			if s.out.Laid == s.out.Wanted {
				break
			}
		}
		s.improve(yield)
	}, nil
}

func checkSpread(on []Sheet, wants []Want) (ps craft.Problems) {
	sum := 0
	for i, w := range wants {
		at := fmt.Sprintf("wants[%d]", i)
		ps = append(ps, w.Board.Check(at+".board")...)
		ps.Range(at+".most", float64(w.Most), 1, MostSpread)
		w.checkStretch(&ps, at)
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
	on    []Sheet
	wants []Want
	cores nest.Cores
	rules rule.Set
	left  []int       // of each want
	best  []*Proposal // for what is left, on each piece that was looked at
	laid  []*Proposal // on each piece that is taken
	bare  []bool      // pieces that are used up, or take nothing
	out   Spread
}

// gone tells whether nobody wants it any more.
func (s *spreading) gone() bool { return s.on[0].Scene.Watch.Ask() != nil }

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
func (s *spreading) look(i int) bool {
	if p := s.best[i]; p != nil && s.fits(p) {
		return true
	}
	s.best[i] = s.seek(i, 0)
	s.bare[i] = s.best[i] == nil
	return !s.gone()
}

// seek searches a piece for what is left; nil where it takes nothing.
func (s *spreading) seek(i int, seed uint64) (best *Proposal) {
	room := MostWanted
	ask := Seeking{Seed: seed, Cores: s.cores}
	var of []int // which want each of them is
	for n, w := range s.wants {
		if w.Least, w.Most = 0, min(s.left[n], room); w.Most > 0 {
			room -= w.Most
			ask.Wants, of = append(ask.Wants, w), append(of, n)
		}
	}
	if len(of) == 0 {
		return nil
	}
	steps, err := Seek(s.on[i].Scene, ask)
	if err != nil {
		return nil
	}
	s.out.Looked++
	for step := range steps {
		if len(step.Proposals) > 0 && len(step.Proposals[0].Boards) > 0 {
			best = &step.Proposals[0]
		}
		if step.Moves >= spreadMoves || best != nil && len(best.Boards) == MostWanted-room || s.gone() {
			break
		}
	}
	if best == nil {
		return nil
	}
	p := *best
	p.Boards = slices.Clone(p.Boards)
	for n := range p.Boards {
		p.Boards[n].Want = of[p.Boards[n].Want]
	}
	return &p
}

// better tells whether one piece is taken before another: one that holds all that is left before one that does not, the
// better used of two such; else the one that takes more worth, and then the better used.
func (s *spreading) better(i, k int) bool {
	sum := 0
	for _, n := range s.left {
		sum += n
	}
	a, b := s.best[i], s.best[k]
	whole := func(p *Proposal) int { return min(len(p.Boards)/max(sum, 1), 1) }
	by := cmp.Or(cmp.Compare(whole(b), whole(a)), cmp.Compare(b.Worth, a.Worth),
		cmp.Compare(len(b.Boards), len(a.Boards)), cmp.Compare(b.Yield, a.Yield))
	return by < 0
}

// take lays what was found for a piece.
func (s *spreading) take(i int) {
	s.bare[i] = true
	s.lay(i, s.best[i])
	s.show()
}

// lay has a piece hold a proposal, or nothing, instead of what it held.
func (s *spreading) lay(i int, p *Proposal) {
	count := func(p *Proposal, by int) {
		if p == nil {
			return
		}
		for _, b := range p.Boards {
			if b.Part == 0 { // one of a set counts
				s.left[b.Want] += by
			}
		}
	}
	count(s.laid[i], 1)
	count(p, -1)
	s.laid[i] = p
}

// show has the others see what is laid.
func (s *spreading) show() {
	s.out.Laid, s.out.Worth, s.out.Pieces = 0, 0, []OnPiece{}
	for i, p := range s.laid {
		if p != nil {
			s.out.Laid += len(p.Boards)
			s.out.Worth += p.Worth
			s.out.Pieces = append(s.out.Pieces, OnPiece{s.on[i].Piece, s.on[i].Scene.Slab.Name, p.Boards, p.Yield})
		}
	}
	slices.SortStableFunc(s.out.Pieces, func(a, b OnPiece) int { return cmp.Compare(b.Yield, a.Yield) })
	s.out.Buy = s.toBuy()
}

// Above tells whether a spread is clearly better than another: by its worth, by taking fewer pieces, or by making more
// use of some of them, so that more is left of the others.
func (s Spread) Above(o Spread) bool {
	const much = 1e-6
	squares := func(pieces []OnPiece) (sum float64) {
		for _, p := range pieces {
			sum += p.Yield * p.Yield
		}
		return sum
	}
	switch {
	case math.Abs(s.Worth-o.Worth) > much:
		return s.Worth > o.Worth
	case len(s.Pieces) != len(o.Pieces):
		return len(s.Pieces) < len(o.Pieces)
	}
	return squares(s.Pieces) > squares(o.Pieces)+much
}

// improve lays what lies on two pieces, and what is left over, anew on both of them, until that leads no further or
// nobody wants it any more.
func (s *spreading) improve(yield func(Spread) bool) {
	rng := rand.New(rand.NewPCG(uint64(s.out.Wanted), uint64(len(s.on))))
	for idle := 0; idle < spreadIdle && len(s.on) > 1 && s.out.Laid > 0; idle++ {
		order := rng.Perm(len(s.on))
		first := slices.IndexFunc(order, func(i int) bool { return s.laid[i] != nil })
		a, b := order[first], order[(first+1)%len(order)]
		if rng.IntN(2) == 0 { // either may be laid first
			a, b = b, a
		}
		before, was := s.out, [2]*Proposal{s.laid[a], s.laid[b]}
		s.lay(a, nil)
		s.lay(b, nil)
		s.lay(a, s.seek(a, rng.Uint64()))
		s.lay(b, s.seek(b, rng.Uint64()))
		if s.show(); s.out.Above(before) && !s.gone() {
			idle = -1
		} else {
			s.lay(a, was[0])
			s.lay(b, was[1])
			before.Looked = s.out.Looked
			s.out = before
		}
		if s.gone() || !yield(s.out) {
			return
		}
	}
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
		b := ToBuy{Want: i, Name: w.Board.Name, Boards: n, Length: math.Ceil(box.MaxX - box.MinX + about),
			Width: math.Ceil(box.MaxY - box.MinY + about), Thick: w.Board.Design.Thickness}
		b.Volume = float64(n) * b.Length * b.Width * b.Thick / boughtYield / 1e9
		out = append(out, b)
	}
	return out
}
