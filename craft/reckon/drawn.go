package reckon

import (
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/shelf"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

// drawn is a scene with its wood and its boards drawn: what every question is
// asked of.
type drawn struct {
	Scene
	zone   *time.Location
	pace   plan.Pace
	habit  fill.Habit
	coats  finish.Habit
	wood   stock.Wood
	usable geom.Ring
	target moisture.Target
	ready  moisture.Readiness
	drying moisture.Drying
	sheets shelf.Sheets
	boards []*laid
	taken  []layout.Neighbour
	gone   []*laid  // what was taken, as it lay
	gluing *gluing  // of a panel, once it is asked for
	river  *casting // of a river, once it is asked for
	priced *float64 // area of all blanks, mm², once it is asked for
}

// draw draws a scene. The error, if any, is of type craft.Problems and says what
// in it is out of range or unknown.
func draw(s Scene) (*drawn, error) {
	if ps := s.Check(); len(ps) > 0 {
		return nil, ps
	}
	zone, err := s.Shop.Zone()
	if err != nil {
		return nil, craft.Problems{{Field: "shop.timeZone", Wrong: err.Error(), Right: "write it like Europe/Vienna"}}
	}
	b := &drawn{Scene: s, zone: zone, pace: plan.Learn(s.Samples), habit: fill.Learn(s.Poured),
		coats: finish.Learn(s.Coated)}
	b.Log, b.sheets = Since(s.Log, s.Boards), shelf.SheetsOf(s.Sheeted)
	if s.Slab != nil && s.Slab.River != nil {
		cast, r := *s.Slab, *s.Slab.River
		r.Fill = r.Fill.By(b.sheets.Resins)
		cast.River = &r
		s.Slab, b.Slab = &cast, &cast
	}
	s.Slab = hurt(s)
	b.Slab = s.Slab
	if s.Slab != nil {
		b.wood = slab.Draw(*s.Slab, s.Shop.Species)
		b.usable = b.wood.Usable()
		b.target = b.wood.Target(s.Shop.Home)
		b.ready = moisture.Judge(s.Slab.Moisture, b.target, s.Shop.Rules)
		b.drying = moisture.Dry(s.Slab.Moisture, s.Shop.Air, b.target, b.wood.Rough.Mean, s.Shop.Rules)
	}
	for _, d := range s.Boards {
		if err := s.Watch.Ask(); err != nil {
			return nil, err
		}
		l := b.lay(d, nil)
		b.boards = append(b.boards, l)
	}
	for _, d := range s.Taken {
		if err := s.Watch.Ask(); err != nil {
			return nil, err
		}
		l := b.lay(d, nil)
		b.gone, b.taken = append(b.gone, l), append(b.taken, l.neighbour())
	}
	for i, l := range b.boards {
		l.place.Others = b.neighbours(i)
	}
	for i, l := range b.gone {
		l.place.Others = slices.Delete(b.neighbours(-1), i, i+1)
	}
	return b, nil
}

// drawOn is draw for a question that needs the slab.
func drawOn(s Scene) (*drawn, error) {
	if s.Slab == nil {
		return nil, craft.Problems{
			{Field: "slab", Wrong: "there is no slab", Right: "give the slab that the boards lie on"},
		}
	}
	return draw(s)
}

// cost is what the wood cost that boards share: strips of panels take theirs with them.
func (b *drawn) cost() float64 {
	cost := b.wood.Cost
	for _, s := range b.Strips {
		cost -= float64(s.Cents)
	}
	return max(0, cost)
}

// share is a board's part of what the wood cost: by the area of its blank, those taken
// before counted too, so that the waste is borne in proportion.
func (l *laid) share() float64 {
	b := l.on
	if b.priced == nil {
		var sum float64
		for _, o := range slices.Concat(b.boards, b.gone) {
			sum += o.cutOut().Area
		}
		b.priced = &sum
	}
	if *b.priced <= 0 {
		return 0
	}
	return min(1, l.cutOut().Area / *b.priced)
}

// neighbours are the outlines of all that takes up wood of the slab but one of its
// boards; all of it for −1.
func (b *drawn) neighbours(of int) []layout.Neighbour {
	out := slices.Clone(b.taken)
	for _, s := range b.Strips {
		out = append(out, s.neighbour())
	}
	for i, l := range b.boards {
		if i != of {
			out = append(out, l.neighbour())
		}
	}
	return out
}

// Draw draws the boards of a scene where they lie, without judging them. It fails
// as Reckon does.
func Draw(s Scene) ([]board.Shaped, error) {
	b, err := draw(s)
	if err != nil {
		return nil, err
	}
	out := make([]board.Shaped, len(b.boards))
	for i, l := range b.boards {
		out[i] = l.shaped
	}
	return out, nil
}
