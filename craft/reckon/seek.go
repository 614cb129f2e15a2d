package reckon

import (
	"fmt"
	"iter"
	"math"
	"slices"
	"sync"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/clean"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/nest"
	"idletimber/craft/rule"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Want is a board that is to be laid, so many times.
type Want struct {
	Board   Board   `json:"board" doc:"As drawn; its place matters only to those that are laid with it"`
	Least   int     `json:"least" range:"0,40" doc:"How many there must be"`
	Most    int     `json:"most" range:"1,40" doc:"How many there may be"`
	Worth   float64 `json:"worth,omitempty" range:"0,1000000" doc:"Of one; 0 for its area in dm²"`
	Turn    bool    `json:"turn" doc:"May be turned end for end"`
	Flip    bool    `json:"flip,omitempty" doc:"Its show face may be the slab's under face"`
	Tilt    float64 `json:"tilt,omitempty" range:"0,30" doc:"By how many degrees it may be tilted from the grain"`
	Longest float64 `json:"longest,omitempty" mm:"0,5000" doc:"May be stretched to this length; 0 for as drawn"`
	Widest  float64 `json:"widest,omitempty" mm:"0,2000" doc:"May be stretched to this width; 0 for as drawn"`

	With []Board `json:"with,omitempty" doc:"The others of its set, laid as one with it, a saw apart"`
	Twin bool    `json:"twin,omitempty" doc:"Each has its twin on the other leaf"`
}

// boards is how many boards one of what is wished for takes.
func (w Want) boards() int { return 1 + len(w.With) }

// Seeking is what a search for a lay-out is to do.
type Seeking struct {
	Wants []Want `json:"wants" doc:"What is to be laid"`
	Seed  uint64 `json:"seed,omitempty"`

	// From is what was found before, by a search for the same on the same wood: it stays until better is found.
	From []Proposal `json:"-"`

	// Cores is what its workers move pieces on; nil for one.
	Cores nest.Cores `json:"-"`
}

// MostWanted bounds the boards of one search.
const MostWanted = 40

// Check reports what cannot be sought.
func (s Seeking) Check(field string) (ps craft.Problems) {
	if len(s.Wants) == 0 {
		ps.Add(field+".wants", "nothing is wanted", "name a board at least")
	}
	sum := 0
	for i, w := range s.Wants {
		at := fmt.Sprintf("%s.wants[%d]", field, i)
		ps = append(ps, w.Board.Check(at+".board")...)
		ps.InRange(at, w)
		ps.Range(at+".least", float64(w.Least), 0, float64(max(w.Most, 0)))
		w.checkStretch(&ps, at)
		if w.Board.Design.Shape == board.Plank && w.Flip {
			ps.Add(at+".flip", "a plank follows the edges of its face", "lay it flipped as a board of its own")
		}
		if len(w.With) > 0 && w.Board.Design.Shape == board.Plank {
			ps.Add(at+".with", "a plank follows the edges of the wood where it lies", "lay it by itself")
		}
		for n, o := range w.With {
			field := fmt.Sprintf("%s.with[%d]", at, n)
			ps = append(ps, o.Check(field)...)
			if o.Design.Shape == board.Plank {
				ps.Add(field, "a plank follows the edges of the wood where it lies", "lay it by itself")
			}
		}
		sum += max(w.Most, 0) * w.boards()
	}
	if sum > MostWanted {
		ps.Add(
			field+".wants",
			fmt.Sprintf("%d boards are too many for one search", sum),
			fmt.Sprintf("ask for at most %d", MostWanted),
		)
	}
	return ps
}

// Placed is a board that a proposal lays.
type Placed struct {
	Want      int            `json:"want" doc:"Which of the wants, from 0"`
	Part      int            `json:"part,omitempty" doc:"0 for the wished board, then those that are laid with it"`
	Placement geom.Placement `json:"placement"`
	Design    board.Design   `json:"design"`
	Path      string         `json:"path" doc:"In the board's own frame"`
	Holes     []string       `json:"holes"`
}

// Proposal is one way to lay what is wished for.
type Proposal struct {
	Boards []Placed `json:"boards"`
	Worth  float64  `json:"worth"`
	Yield  float64  `json:"yield" doc:"Share of the slab that boards cover, those laid before too, %"`
	Rest   float64  `json:"rest" doc:"Length of the slab that is left whole at its better end, mm"`
	Short  []string `json:"short" doc:"What is wished for and is not laid, in words"`
	Met    bool     `json:"met" doc:"All that must be laid is"`
}

// Sought is how far a search has come.
type Sought struct {
	Moves     int        `json:"moves" doc:"Tried so far"`
	Better    bool       `json:"-"`
	Proposals []Proposal `json:"proposals" doc:"The best first, clearly different, three at the most"`
}

// How many proposals are shown at the most, and how many workers look for them.
const (
	proposals = 3
	workers   = 4
)

// Seek searches for lay-outs of what is wished for about the boards of a job,
// which stay where they are, until it is broken off. No proposal gives a stop
// that the board would not have anywhere. The same seed gives the same steps.
// It fails as Reckon does.
func Seek(j Scene, s Seeking) (iter.Seq[Sought], error) {
	if ps := s.Check("search"); len(ps) > 0 {
		return nil, ps
	}
	b, err := drawOn(j)
	if err != nil {
		return nil, err
	}
	k := &seeker{drawn: b, seeking: s, around: b.neighbours(-1)}
	if slices.ContainsFunc(s.Wants, func(w Want) bool { return w.Twin }) {
		if k.leaf, err = j.twinLeaf(); err != nil {
			return nil, err
		}
	}
	k.prepare()
	return k.search, nil
}

// checkStretch reports a board that may be stretched to less than it is.
func (w Want) checkStretch(ps *craft.Problems, at string) {
	if d := w.Board.Design; w.Longest != 0 && !(w.Longest >= d.Length) {
		ps.Add(at+".longest", w.Board.Name+" is longer as drawn", "give its length at least, or 0 for as drawn")
	}
	if d := w.Board.Design; w.Widest != 0 && !(w.Widest >= d.Width) {
		ps.Add(at+".widest", w.Board.Name+" is wider as drawn", "give its width at least, or 0 for as drawn")
	}
}

// seeker is one search.
type seeker struct {
	*drawn
	seeking Seeking
	problem nest.Problem
	want    []int               // of each piece
	own     [][]map[string]bool // stops that each board of a wish has anywhere
	joined  [][]geom.Placement  // of each wish: where its other boards stand
	around  []layout.Neighbour
	leaf    *twinLeaf
	turn    sync.Mutex // whoever judges a layout holds it: what is drawn works some things out when first asked
}

// byTurns has workers ask something of a layout one at a time.
func byTurns[T any](k *seeker, ask func(nest.Layout) T) func(nest.Layout) T {
	return func(l nest.Layout) T {
		k.turn.Lock()
		defer k.turn.Unlock()
		return ask(l)
	}
}

// prepare states the problem: the sheet is the usable wood short of its ends
// and of what is laid, with what is to be kept out as holes.
func (k *seeker) prepare() {
	rules := k.Shop.Rules
	k.problem.Sheet.Outline = k.sheet()
	for _, w := range k.seeking.Wants {
		k.problem.Apart = max(k.problem.Apart, w.Board.Cut.Apart(rules))
		for _, o := range w.With {
			k.problem.Apart = max(k.problem.Apart, o.Cut.Apart(rules))
		}
	}
	k.problem.Sheet.Holes, k.problem.Soft = k.keptClear(k.around, k.problem.Apart), k.soft()
	k.problem.Bad, k.problem.Cuts, k.problem.Watch = byTurns(k, k.bad), byTurns(k, k.cuts), k.Watch
	for i, w := range k.seeking.Wants {
		own := []map[string]bool{k.ownStops(w.Board)}
		for _, o := range w.With {
			own = append(own, k.ownStops(o))
		}
		k.own = append(k.own, own)
		piece := k.piece(w)
		for n := range w.Most {
			piece.Must = n < w.Least
			k.problem.Pieces = append(k.problem.Pieces, piece)
			k.want = append(k.want, i)
		}
	}
	k.rewardGrants()
}

// keptClear are what no board may touch: what is laid, with what must lie between,
// and what is to be kept out.
func (b *drawn) keptClear(around []layout.Neighbour, apart float64) (out []geom.Ring) {
	for _, n := range around {
		out = append(out, n.Outline.Outset(max(apart, n.Cut.Apart(b.Shop.Rules))))
	}
	return append(out, prints(b.wood.Flaws, stock.Flaw.Shunned)...)
}

// soft are the flaws that a board had better not hold: those about which nothing is
// wished and that are not as good as wood.
func (b *drawn) soft() []geom.Ring {
	return prints(b.wood.Flaws, func(f stock.Flaw) bool { return f.Wish == "" && !f.Sound() })
}

// prints are the places of some flaws, at every level of one that runs askew.
func prints(flaws []stock.Flaw, which func(stock.Flaw) bool) (out []geom.Ring) {
	for _, f := range flaws {
		if !which(f) {
			continue
		}
		for _, at := range f.Sections() {
			out = append(out, at.Footprint())
		}
	}
	return out
}

// sheet is the usable wood short of its ends, where they are squared, by as much
// as a search may graze them.
func (b *drawn) sheet() geom.Ring {
	if b.wood.NaturalEnds {
		return b.usable
	}
	box, square := b.usable.Bounds(), b.Shop.Rules.Get(rule.Squaring)+nest.Grazing
	cut := geom.Clip(
		b.usable,
		geom.Bounds{MinX: square, MaxX: b.wood.Length - square, MinY: box.MinY - 1, MaxY: box.MaxY + 1}.Ring(),
	)
	if len(cut) < 3 {
		return b.usable
	}
	return cut
}

// grantWorth is what it is worth to a search to grant a wish for a place on the
// slab, of a board's worth.
const grantWorth = 0.2

// rewardGrants makes it worth something to grant the wishes for places on the
// slab.
func (k *seeker) rewardGrants() {
	wished := 0
	for _, f := range k.wood.Flaws {
		if f.Wish == stock.Featured {
			wished++
		}
	}
	for _, f := range k.wood.Features {
		if f.Wish != "" {
			wished++
		}
	}
	if wished == 0 {
		return
	}
	var mean float64
	for _, p := range k.problem.Pieces {
		mean += p.Worth / float64(len(k.problem.Pieces))
	}
	each := grantWorth * mean
	k.problem.Most = each * float64(wished)
	k.problem.Extra = byTurns(k, func(l nest.Layout) (sum float64) {
		for _, b := range k.boards(l) {
			sum += each * float64(b.laid.place.Grants(b.laid.shaped))
		}
		return min(sum, k.problem.Most)
	})
}

// cuts counts the cuts that a layout takes; what no straight cut parts counts as
// two.
func (k *seeker) cuts(l nest.Layout) (n int) {
	var boards []layout.Board
	for _, b := range k.boards(l) {
		boards = append(
			boards,
			layout.Board{ID: b.ID, Name: b.Name, Outline: b.ring.Outline, Blank: b.laid.cutOut(), Saw: b.Cut.Saw},
		)
	}
	for _, c := range layout.CutList(layout.Place{Wood: k.wood, Usable: k.usable, Shop: k.Shop}, boards) {
		n++
		if c.Kind == "curve" && c.Finding != "" {
			n++
		}
	}
	return n
}

// piece is a wished board as it is laid by the search.
func (k *seeker) piece(w Want) nest.Piece {
	d := w.Board
	if d.Design.Shape == board.Plank {
		k.joined = append(k.joined, nil)
		return k.plank(w)
	}
	s := board.Draw(d.Design, nil)
	p := nest.Piece{
		Parts: []geom.Ring{s.Outline.Simplified(geom.Fine)},
		Worth: w.worth(s),
		Tilt:  w.Tilt,
		Flips: w.Flip,
		Turns: []float64{0},
	}
	if w.Turn {
		p.Turns = append(p.Turns, 180)
	}
	for _, turn := range p.Turns {
		d.Placement = geom.Placement{Angle: turn}
		for g, at := range k.lay(d, nil).place.Lures(s, w.Tilt) {
			if g == len(p.Lures) {
				p.Lures = append(p.Lures, nil)
			}
			p.Lures[g] = append(p.Lures[g], at...)
		}
	}
	var at []geom.Placement
	for _, o := range w.With {
		other := board.Draw(o.Design, nil)
		if w.Worth == 0 {
			p.Worth += w.worth(other)
		}
		outline := other.Outline.Simplified(geom.Fine)
		beside := clearOf(outline, w.Board.Placement.Seen(o.Placement), p.Parts, k.problem.Apart)
		at = append(at, beside)
		p.Parts = append(p.Parts, upright(outline.Map(beside.Out)))
	}
	k.joined = append(k.joined, at)
	if w.Twin {
		p.Avoid = k.leaf.avoid(k.problem.Sheet.Outline, k.problem.Apart)
	}
	return p
}

// upright is a ring that runs anticlockwise.
func upright(r geom.Ring) geom.Ring {
	if r.SignedArea() < 0 {
		slices.Reverse(r)
	}
	return r
}

// clearOf moves a board off others that it nests with, away from the nearest,
// until the saw has room between them.
func clearOf(outline geom.Ring, at geom.Placement, others []geom.Ring, apart float64) geom.Placement {
	const tries, spare = 200, 0.05 // mm
	for range tries {
		ring, moved := outline.Map(at.Out), false
		for _, o := range others {
			gap := geom.Gap(ring, o)
			if gap >= apart {
				continue
			}
			way := ring.Centroid().Sub(o.Centroid())
			step := way.Scale((max(apart-gap, 0.5) + spare) / max(way.Len(), 1e-6))
			at.X, at.Y, moved = at.X+step.X, at.Y+step.Y, true
			ring = outline.Map(at.Out)
		}
		if !moved {
			break
		}
	}
	return at
}

func (w Want) worth(s board.Shaped) float64 {
	if w.Worth > 0 {
		return w.Worth
	}
	return s.Outline.Area() / 1e4
}

// plankStep is how far apart the places of a plank are tried, mm.
const plankStep = 6

// plank lists the places of a plank, whose outline follows the wood.
func (k *seeker) plank(w Want) nest.Piece {
	var p nest.Piece
	d := w.Board
	half := d.Design.Length / 2
	for x := half; x <= k.wood.Length-half; x += plankStep {
		for _, turn := range []float64{0, 180} {
			if turn > 0 && !w.Turn {
				continue
			}
			d.Placement = geom.Placement{X: x, Angle: turn}
			if !d.Design.KeepLeft || !d.Design.KeepRight {
				d.Placement.Y = (k.wood.Left(x) + k.wood.Right(x)) / 2
			}
			s := k.lay(d, nil).shaped
			if len(s.Outline) < 3 {
				continue
			}
			box := s.Outline.Bounds()
			if box.MaxX-box.MinX < d.Design.Length-1 { // its ends hang off
				continue
			}
			p.Poses = append(
				p.Poses,
				nest.Pose{At: d.Placement, Parts: []geom.Ring{s.Outline.Map(d.Placement.Out).Simplified(geom.Fine)}},
			)
			p.Worth = w.worth(s)
		}
	}
	if len(p.Poses) == 0 {
		p.Parts = []geom.Ring{geom.Bounds{MaxX: 10 * k.wood.Length, MaxY: 1}.Ring()} // fits nowhere
	}
	return p
}

// sought is one board of a layout.
type sought struct {
	Board
	piece, want, part int
	laid              *laid // alone
	ring              layout.Neighbour
}

// boards are the boards of a layout where they lie, those of a set one after
// the other.
func (k *seeker) boards(l nest.Layout) (out []sought) {
	add := func(o nest.Laid, part int, d Board, at geom.Placement) {
		d.ID, d.Placement, d.Mates = fmt.Sprint("sought ", o.Piece, " ", part), at, nil
		l := k.lay(d, nil)
		out = append(out, sought{d, o.Piece, k.want[o.Piece], part, l, l.neighbour()})
	}
	for _, o := range l.Laid {
		w := k.want[o.Piece]
		add(o, 0, k.seeking.Wants[w].Board, o.At)
		for i, at := range k.joined[w] {
			add(o, i+1, k.seeking.Wants[w].With[i], o.At.Of(at))
		}
	}
	return out
}

// around are the others of a layout about one of its boards.
func around(boards []sought, of int) (out []layout.Neighbour) {
	for i, b := range boards {
		if i != of {
			out = append(out, b.ring)
		}
	}
	return out
}

// stopsAmong are the checks that come out as a stop for a board at its place among
// others.
func (l *laid) stopsAmong(others []layout.Neighbour) map[string]bool {
	among := *l
	among.place.Others, among.blank, among.thick, among.judged = others, nil, nil, nil
	among.records = map[craft.Stage]stage.Record{}
	return among.stops()
}

// ownStops are the stops of a board on the best of wood: in the middle of a
// clean slab as large as it needs.
func (k *seeker) ownStops(d Board) map[string]bool {
	clean := *k.drawn
	clean.wood.Flaws = nil
	d.Placement = geom.Placement{X: k.wood.Length / 2}
	out := clean.lay(d, nil).stops()
	delete(out, "inside")
	return out
}

// bad names the pieces of a layout that have a stop where they lie, or whose
// twins have one on the other leaf.
func (k *seeker) bad(l nest.Layout) (out []int) {
	boards := k.boards(l)
	for i, b := range boards {
		if slices.Contains(out, b.piece) {
			continue
		}
		if !k.may(b, slices.Concat(k.around, around(boards, i))) {
			out = append(out, b.piece)
		}
	}
	return out
}

// may reports whether a board has no stop among others but those that it has
// anywhere, nor its twin.
func (k *seeker) may(b sought, others []layout.Neighbour) bool {
	own := k.own[b.want][b.part]
	for check := range b.laid.stopsAmong(others) {
		if !own[check] {
			return false
		}
	}
	if !k.seeking.Wants[b.want].Twin {
		return true
	}
	for check := range k.leaf.stops(b.Board) {
		if !own[check] {
			return false
		}
	}
	return true
}

// search runs the search with several workers; what they found on the way is shown too, where it is clearly different.
func (k *seeker) search(yield func(Sought) bool) {
	from := make([][]nest.Laid, workers)
	for i, p := range k.seeking.From[:min(workers, len(k.seeking.From))] {
		from[i] = k.laidAs(p)
	}
	var bests []nest.Layout
	shown := []Proposal{}
	for steps := range k.problem.Search(k.seeking.Seed, from, k.seeking.Cores) {
		moves, better := 0, false
		for _, step := range steps {
			moves += step.Moves
			if step.Better {
				better = true
				bests = append(bests, step.Best)
			}
		}
		if better {
			bests, shown = k.propose(bests)
		}
		if !yield(Sought{Moves: moves, Better: better, Proposals: shown}) {
			return
		}
	}
}

// laidAs is the layout that a proposal shows; what the problem has not is left out.
func (k *seeker) laidAs(p Proposal) (out []nest.Laid) {
	used := make([]bool, len(k.want))
	for _, b := range p.Boards {
		if b.Part != 0 {
			continue
		}
		i := 0
		for i < len(used) && (used[i] || k.want[i] != b.Want) {
			i++
		}
		if i == len(used) {
			continue
		}
		used[i] = true
		at := nest.Laid{Piece: i, At: b.Placement, Pose: -1}
		if poses := k.problem.Pieces[i].Poses; len(poses) > 0 {
			at.Pose = slices.IndexFunc(poses, func(o nest.Pose) bool { return o.At == b.Placement })
			if at.Pose < 0 {
				continue
			}
		}
		out = append(out, at)
	}
	return out
}

// propose draws the layouts, the best first, and leaves out what is hardly
// different, and more than a few. It returns those that are drawn.
func (k *seeker) propose(found []nest.Layout) (kept []nest.Layout, out []Proposal) {
	k.turn.Lock()
	defer k.turn.Unlock()
	slices.SortStableFunc(found, func(a, b nest.Layout) int {
		switch {
		case a.Better(b):
			return -1
		case b.Better(a):
			return 1
		}
		return 0
	})
	out = []Proposal{}
	for _, l := range found {
		if len(kept) == proposals {
			break
		}
		if len(kept) > 0 && (l.Must < kept[0].Must || l.Worth < 0.85*kept[0].Worth) ||
			slices.ContainsFunc(kept, func(o nest.Layout) bool { return k.alike(l, o) }) {
			continue
		}
		kept = append(kept, l)
		out = append(out, k.proposal(l))
	}
	return kept, out
}

// alike reports layouts that a maker would not tell apart: of most boards there
// is one of the same wish at much the same place.
func (k *seeker) alike(l, o nest.Layout) bool {
	const close = 25 // mm
	same := 0
	for _, a := range l.Laid {
		for _, b := range o.Laid {
			if k.want[a.Piece] == k.want[b.Piece] && math.Hypot(a.At.X-b.At.X, a.At.Y-b.At.Y) < close {
				same++
				break
			}
		}
	}
	return 3*same > 2*max(len(l.Laid), len(o.Laid))
}

// proposal draws a layout, its boards stretched where they may be.
func (k *seeker) proposal(l nest.Layout) Proposal {
	p := Proposal{Boards: []Placed{}, Short: []string{}, Rest: l.Rest, Met: true}
	boards := k.boards(l)
	area := 0.0
	for _, n := range k.around {
		area += n.Outline.Area()
	}
	count := make([]int, len(k.seeking.Wants))
	for i := range boards {
		b := &boards[i]
		w := k.seeking.Wants[b.want]
		k.stretched(b, around(boards, i))
		s := b.laid.shaped
		b.ring = b.laid.neighbour()
		area += s.Outline.Area()
		placed := Placed{
			Want:      b.want,
			Part:      b.part,
			Placement: b.Placement,
			Design:    b.Design,
			Path:      s.Path.ToSVG(),
			Holes:     []string{},
		}
		for _, h := range s.HolePaths {
			placed.Holes = append(placed.Holes, h.ToSVG())
		}
		p.Boards = append(p.Boards, placed)
		if b.part == 0 {
			count[b.want]++
		}
		if b.part == 0 || w.Worth == 0 {
			p.Worth += w.worth(s)
		}
	}
	p.Yield = 100 * area / max(k.usable.Area(), 1)
	for i, w := range k.seeking.Wants {
		switch {
		case count[i] < w.Least:
			p.Met = false
			p.Short = append(p.Short, fmt.Sprintf("%s: %d of at least %d", w.Board.Name, count[i], w.Least))
		case count[i] < w.Most:
			p.Short = append(p.Short, fmt.Sprintf("%s: %d of %d", w.Board.Name, count[i], w.Most))
		}
	}
	return p
}

// stretched makes a board as long and then as wide as it may be and fits. The
// boards of a set, and planks, stay as they are.
func (k *seeker) stretched(b *sought, others []layout.Neighbour) {
	w := k.seeking.Wants[b.want]
	if b.Design.Shape == board.Plank || len(w.With) > 0 || max(w.Longest, w.Widest) == 0 {
		return
	}
	sheet := geom.NewIndex(k.problem.Sheet.Outline)
	all := slices.Concat(k.around, others)
	fits := func(to clean.Laid) bool {
		bigger := *b
		bigger.Placement, bigger.Design = to.Placement, to.Design
		bigger.laid = k.lay(bigger.Board, nil)
		ring := bigger.laid.outline
		for _, q := range ring.Dense(4) {
			if _, off := sheet.Nearest(q); off > nest.Grazing && !sheet.Contains(q) {
				return false
			}
		}
		for _, h := range k.problem.Sheet.Holes {
			if geom.Gap(ring, h) <= 0 {
				return false
			}
		}
		for _, o := range others {
			if geom.Gap(ring, o.Outline) < k.problem.Apart {
				return false
			}
		}
		return k.may(bigger, all)
	}
	to := clean.Stretch(clean.Laid{Placement: b.Board.Placement, Design: b.Board.Design}, w.Longest, w.Widest, fits)
	b.Board.Placement, b.Board.Design = to.Placement, to.Design
	b.laid = k.lay(b.Board, nil)
}
