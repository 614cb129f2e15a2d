package reckon

import (
	"cmp"
	"fmt"
	"iter"
	"math"
	"slices"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/rescue"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// WayOut is a way out after a mishap, reckoned in full.
type WayOut struct {
	Key   string      `json:"key" doc:"Its own among the ways of a mishap"`
	Way   rescue.Way  `json:"way" doc:"What kind of way it is"`
	Label string      `json:"label" doc:"What is done"`
	Act   string      `json:"act,omitempty" enum:",begin,spare" doc:"What else than a change of the board it is"`
	On    string      `json:"on,omitempty" doc:"Id of the piece on which it is begun again, or of the spare"`
	Patch craft.Patch `json:"-"` // on the board

	Path  string     `json:"path" doc:"Outline as SVG path data, in the frame of the board as it is, mm"`
	Holes []string   `json:"holes" doc:"The same of each hole"`
	Box   [4]float64 `json:"box" doc:"Bounds in that frame: min x, min y, max x, max y"`

	Area    float64     `json:"area" doc:"Of its face, mm²"`
	Kept    float64     `json:"kept" doc:"Share of the face that was planned, %"`
	Look    float64     `json:"look" doc:"How it looks against a board to which nothing happened, %"`
	Worth   float64     `json:"worth" doc:"Worth kept: share of the face × look, %"`
	Finish  *time.Time  `json:"finish,omitempty" doc:"When it is ready"`
	Later   float64     `json:"later" doc:"Days by which it is ready later than it would have been"`
	LateBy  float64     `json:"lateBy" doc:"Days after its day; 0 where that is kept, or there is none"`
	Minutes float64     `json:"minutes" doc:"Of work that it adds; less than none where it spares some"`
	Work    float64     `json:"work" doc:"Minutes of work still to do"`
	Uses    []stage.Use `json:"uses" doc:"What it takes from the shelf more than before"`
	Saves   []stage.Use `json:"saves" doc:"What it takes less"`
	Cents   int         `json:"cents" doc:"That it costs more than before"`
	Gives   []string    `json:"gives" doc:"What it gives up"`
	Breaks  []string    `json:"breaks" doc:"What else it makes worse"`
	For     []string    `json:"for" doc:"Who would not see a fault in it: own, gift, customer"`
	Steps   []string    `json:"steps" doc:"What is done, in order, beside the plan"`
	Thick   float64     `json:"thick" doc:"How thick it comes out, mm"`
	Level   craft.Level `json:"level" doc:"The gravest of its verdicts"`
	Mind    []string    `json:"mind" doc:"What is to be minded then"`
	Lost    bool        `json:"lost,omitempty" doc:"Whoever was to get it gets nothing"`
	mishap  string      // its id
	next    Board
}

// Before tells whether a way stands before another: those by which there is no board come last; then days late, then
// worth kept, then minutes.
func (w WayOut) Before(o WayOut) bool {
	if w.Lost != o.Lost {
		return o.Lost
	}
	const alike = 0.5 // %
	worth := 0
	if math.Abs(w.Worth-o.Worth) > alike {
		worth = cmp.Compare(o.Worth, w.Worth)
	}
	return cmp.Or(cmp.Compare(math.Ceil(w.LateBy), math.Ceil(o.LateBy)), worth, cmp.Compare(w.Minutes, o.Minutes),
		cmp.Compare(w.Key, o.Key)) < 0
}

// Dropped is a way that was tried and is none.
type Dropped struct {
	Label string `json:"label" doc:"What would have been done"`
	Why   string `json:"why" doc:"The stop that it brings"`
}

// Tried is what trying one way comes to: a way, or why it is none.
type Tried struct {
	Way     *WayOut
	Dropped *Dropped
}

// Rescuing is what ways out are looked for with.
type Rescuing struct {
	Mishap string      // id of the mishap
	Plugs  []Plug      // offcuts on the rack
	Spares []Spare     // boards of its run that nobody gets yet
	Alike  int         // other boards of its run that are drawn alike
	Racked []Racked    // other pieces on which it may be begun again
	Price  PriceOfWays // of what a way takes
}

// PriceOfWays is what uses and minutes of work cost, cents.
type PriceOfWays func(uses []stage.Use, minutes float64) int

// Plug is an offcut from which a piece may be let in.
type Plug struct {
	Name, Species       string
	Length, Width, High float64 // mm
}

// Spare is a board of a run that nobody gets yet.
type Spare struct{ ID, Name string }

// Racked is another piece as a scene, whose first board is to be begun again on it.
type Racked struct {
	Piece string
	Scene Scene
}

// WaysOut tries every way out of a mishap on the scene's first board, the quickest to try first, and yields each as it
// is found. Nothing is offered that brings a stop. It fails as Reckon does.
func WaysOut(s Scene, ask Rescuing) (iter.Seq[Tried], error) {
	b, err := drawOn(s)
	if err != nil {
		return nil, err
	}
	if len(b.boards) == 0 {
		return nil, craft.Problems{
			{Field: "boards", Wrong: "there is no board", Right: "give the one it happened to"},
		}
	}
	l := b.boards[0]
	at := slices.IndexFunc(l.board.Mishaps, func(m rescue.Mishap) bool { return m.ID == ask.Mishap })
	if at < 0 {
		return nil, craft.Problems{{
			Field: "mishap", Wrong: fmt.Sprintf("nothing of the id %q has gone wrong on it", ask.Mishap),
			Right: "name one of its mishaps",
		}}
	}
	work, err := b.work()
	if err != nil {
		return nil, err
	}
	return func(yield func(Tried) bool) {
		r := newRescuer(work, at, ask)
		for _, try := range []func(*rescuer){
			(*rescuer).inPlace, (*rescuer).mends, (*rescuer).otherFace, (*rescuer).thinner, (*rescuer).lines,
			(*rescuer).grips, (*rescuer).redraws, (*rescuer).lesser, (*rescuer).others,
		} {
			try(r)
			for _, t := range r.tried {
				if !yield(t) {
					return
				}
			}
			if r.tried = nil; b.Watch.Ask() != nil {
				return
			}
		}
	}, nil
}

// rescuer tries ways out of one mishap.
type rescuer struct {
	work    work
	l       *laid
	at      int // of the mishap
	m       rescue.Mishap
	kind    rescue.Kind
	ask     Rescuing
	gone    []geom.Ring    // all that it has left in the wood, in the board's frame
	lost    []bool         // by what was made: it is broken
	left    rescue.Left    // what there was of the board, as it was drawn or sawn
	before  plan.Course    // as if nothing had happened
	uses    []stage.Use    // then
	area    float64        // of its face then, mm²
	was     map[string]int // how grave its verdicts were then
	tried   []Tried
	largest *WayOut     // of the redraws
	best    []geom.Ring // lines drawn anew, for handles elsewhere
}

func newRescuer(w work, at int, ask Rescuing) *rescuer {
	l := w.on.boards[0]
	r := &rescuer{work: w, l: l, at: at, m: l.board.Mishaps[at], ask: ask}
	r.kind, _ = rescue.KindOf(r.m.Kind)
	before := l.board
	before.Mishaps = slices.Delete(slices.Clone(before.Mishaps), at, at+1)
	unhurt := w.on.changed(before)
	r.before, r.area, r.was = w.redated(0, unhurt.chain())[0], unhurt.shaped.Area(), levels(unhurt.all())
	r.uses = takenBy(unhurt.all())
	r.gone = r.prints()
	r.left.Outline = l.shaped.Outline
	if r.m.Sawn {
		r.left.Outline = r.seen(r.m.Left)
	}
	r.left.Gone = slices.Clone(r.gone)
	web := r.web()
	for _, o := range r.m.Made {
		ring := r.seen(o.Ring)
		broken := slices.ContainsFunc(r.gone, func(g geom.Ring) bool { return geom.Gap(ring, g) < web })
		r.lost = append(r.lost, broken)
		if broken {
			r.left.Gone = append(r.left.Gone, ring)
		} else {
			r.left.Kept = append(r.left.Kept, ring.Grown(min(web, r.spare(ring))))
		}
	}
	return r
}

// prints is all that the mishap has left in the wood, in the board's frame, anticlockwise.
func (r *rescuer) prints() (out []geom.Ring) {
	for _, f := range r.m.Gone {
		out = append(out, r.seen(f.Footprint()))
	}
	return out
}

// web is how much wood must stay about a hole, mm: what the shop wants, or what its narrowest web must have.
func (r *rescuer) web() float64 {
	web := board.SetWeb(*r.l.conditions())
	for _, v := range r.l.record(craft.Layout).Verdicts {
		if v.Check == "web" {
			web = max(web, v.Limit)
		}
	}
	return web
}

// spare is how much wood there is about what is cut already, mm.
func (r *rescuer) spare(ring geom.Ring) float64 {
	const hair = 0.05
	return max(0, geom.Gap(ring, r.left.Outline)-hair)
}

// seen is a ring of the slab in the board's frame, anticlockwise.
func (r *rescuer) seen(ring geom.Ring) geom.Ring {
	out := ring.Map(r.l.board.Placement.In)
	if out.SignedArea() < 0 {
		slices.Reverse(out)
	}
	return out
}

func (r *rescuer) has(step string) bool { return slices.Contains(r.m.Done, step) }

// out is the board with a way out of the mishap, still to be changed.
func (r *rescuer) out(way rescue.Way, label string, works ...rescue.Work) Board {
	next := r.l.board
	next.Mishaps = slices.Clone(next.Mishaps)
	m := &next.Mishaps[r.at]
	m.Out = &rescue.Out{Way: way, Label: label, At: r.work.on.Now, Works: works}
	return next
}

// mended takes what the mishap has left out of the wood again.
func (r *rescuer) mended(next *Board) { next.Mishaps[r.at].Gone = nil }

// again lists steps that were done and are done once more.
func (r *rescuer) again(next *Board, share func(key string) float64) {
	o := next.Mishaps[r.at].Out
	for _, key := range r.m.Done {
		if s := share(key); s > 0 && len(o.Again) < rescue.MostAgain {
			o.Again = append(o.Again, rescue.Again{Step: key, Share: math.Round(min(1, s)*1000) / 1000})
		}
	}
}

// stopOf is the first stop among the verdicts of all stages, if there is one.
func stopOf(records []stage.Record) (craft.Verdict, bool) {
	for _, rec := range records {
		for _, v := range rec.Verdicts {
			if v.Level == craft.Stop {
				return v, true
			}
		}
	}
	return craft.Verdict{}, false
}

// takenBy is what all stages take from the shelf.
func takenBy(records []stage.Record) (uses []stage.Use) {
	for _, rec := range records {
		uses = append(uses, rec.Uses...)
	}
	return uses
}

// wished says what is wanted of all that the mishap has left in the wood.
func (r *rescuer) wished(next *Board, wish string) {
	m := &next.Mishaps[r.at]
	m.Gone = slices.Clone(m.Gone)
	for i := range m.Gone {
		m.Gone[i].Wish = wish
	}
}

// try reckons a board with a way out in full, and keeps it where it brings no stop; nil where it does.
func (r *rescuer) try(key string, next Board, look float64, judges []string, gives ...string) *WayOut {
	if r.work.on.Watch.Ask() != nil {
		return nil
	}
	o := next.Mishaps[r.at].Out
	if ps := next.Check(""); len(ps) > 0 {
		r.drop(o.Label, ps[0].Wrong)
		return nil
	}
	l := r.work.on.changed(next)
	if v, stops := stopOf(l.all()); stops {
		r.drop(o.Label, v.Finding)
		return nil
	}
	w := r.way(key, l, look, judges)
	w.Gives = append(w.Gives, gives...)
	r.tried = append(r.tried, Tried{Way: &w})
	if o.Way == rescue.Redraw && (r.largest == nil || w.Area > r.largest.Area) {
		r.largest = &w
	}
	return &w
}

func (r *rescuer) drop(label, why string) {
	r.tried = append(r.tried, Tried{Dropped: &Dropped{label, why}})
}

// changed is one of the boards as it is changed, on wood that holds what its mishaps have left in it then.
func (b *drawn) changed(next Board) *laid {
	i := slices.IndexFunc(b.boards, func(l *laid) bool { return l.board.ID == next.ID })
	was := b.boards[i]
	gone := map[string]bool{}
	for _, m := range was.board.Mishaps {
		for _, f := range m.Gone {
			gone[f.ID] = true
		}
	}
	on := *b
	on.wood.Flaws = slices.DeleteFunc(slices.Clone(b.wood.Flaws), func(f stock.Flaw) bool { return gone[f.ID] })
	for _, m := range next.Mishaps {
		on.wood.Flaws = append(on.wood.Flaws, m.Gone...)
	}
	return on.lay(next, was.place.Others)
}

// way is what a board comes to with a way out.
func (r *rescuer) way(key string, l *laid, look float64, judges []string) WayOut {
	const percent = 100
	chain := l.chain()
	courses := r.work.redated(0, chain)
	course := courses[0]
	seen := r.l.board.Placement.Seen(l.board.Placement)
	outline := l.shaped.Outline.Map(seen.Out)
	box := outline.Bounds()
	o := l.board.Mishaps[r.at].Out
	w := WayOut{
		Key: key, Way: o.Way, Label: o.Label, Path: outline.SVG(), Holes: []string{},
		Box:  [4]float64{box.MinX, box.MinY, box.MaxX, box.MaxY},
		Area: l.shaped.Area(), Look: percent * look, Finish: course.Finish, Work: course.HandsOn, For: judges,
		Minutes: course.InAll() - r.before.InAll(), Gives: []string{}, Mind: []string{}, Steps: []string{},
		Thick: l.budget().Sanded, Level: craft.Good, mishap: r.m.ID, next: l.board,
	}
	for _, h := range l.shaped.Holes {
		w.Holes = append(w.Holes, h.Map(seen.Out).SVG())
	}
	w.Kept = min(percent, percent*w.Area/max(r.area, 1))
	w.Worth = w.Kept * look
	w.Later, w.LateBy = daysLater(r.before, course), daysLate(course)
	for _, rec := range l.all() {
		for _, v := range rec.Verdicts {
			if v.Level == craft.Mind {
				w.Level = craft.Mind
				w.Mind = append(w.Mind, v.Finding)
			}
		}
	}
	w.Uses, w.Saves = against(takenBy(l.all()), r.uses)
	w.Breaks = r.broken(l, courses)
	for _, s := range chain.Steps {
		if strings.HasPrefix(s.Key, r.m.ID+"-") {
			w.Steps = append(w.Steps, s.Title)
		}
	}
	r.priced(&w)
	return w
}

// priced sets what a way costs, and puts what it comes to into the board that it makes.
func (r *rescuer) priced(w *WayOut) {
	if r.ask.Price != nil {
		w.Cents = r.ask.Price(w.Uses, w.Minutes) - r.ask.Price(w.Saves, 0)
	}
	m := &w.next.Mishaps[r.at]
	made := *m.Out
	made.Days, made.Minutes, made.Cents = hundredths(w.Later), math.Round(w.Minutes), w.Cents
	m.Out = &made
	w.Patch = craft.Difference(r.l.board, w.next)
}

func hundredths(v float64) float64 { return math.Round(v*100) / 100 }

// daysLater is by how many days a course is ready later than another.
func daysLater(was, now plan.Course) float64 {
	if was.Finish == nil || now.Finish == nil {
		return 0
	}
	return now.Finish.Sub(*was.Finish).Hours() / 24
}

// daysLate is by how many days a course misses its day; two years where it never ends.
func daysLate(c plan.Course) float64 {
	const never = 730
	switch {
	case c.Due == nil:
		return 0
	case c.Finish == nil:
		return never
	}
	return max(0, c.Finish.Sub(*c.Due).Hours()/24)
}

// against is what some uses take more than others, and what they take less.
func against(now, was []stage.Use) (more, less []stage.Use) {
	more, less = []stage.Use{}, []stage.Use{}
	const nothing = 1e-6
	sums := stage.Together(now)
	for _, u := range stage.Together(was) {
		u.Amount = -u.Amount
		sums = append(sums, u)
	}
	for _, u := range stage.Together(sums) {
		switch {
		case u.Amount > nothing:
			more = append(more, u)
		case u.Amount < -nothing:
			u.Amount = -u.Amount
			less = append(less, u)
		}
	}
	return more, less
}

// broken is what else a way out makes worse: other verdicts, days of other boards, what it is one of.
func (r *rescuer) broken(l *laid, courses []plan.Course) []string {
	out := []string{}
	for _, rec := range l.all() {
		for _, v := range rec.Verdicts {
			if v.Level.Rank() > r.was[key(v)] {
				out = append(out, v.Finding)
			}
		}
	}
	out = append(out, r.lateThen(courses)...)
	const same = 1 // mm
	if astray(l.outline, r.l.outline) > same {
		if r.l.board.Twin != nil {
			out = append(out, "It is no longer its twin's mirror image")
		}
		if n := r.ask.Alike; n > 0 {
			out = append(out, fmt.Sprintf("No longer like the %d others of its run", n))
		}
		for _, other := range r.mated() {
			out = append(out, "Look how it nests with "+other)
		}
	}
	return out
}

// lateThen tells of other boards that become too late for their days.
func (r *rescuer) lateThen(courses []plan.Course) []string {
	out := []string{}
	for i, c := range courses {
		if i > 0 && c.Late && !r.work.courses[i].Late {
			out = append(out, c.Name+" becomes too late for its day")
		}
	}
	return out
}

// mated names the boards that nest with this one.
func (r *rescuer) mated() (names []string) {
	for _, m := range r.l.board.Mates {
		for _, o := range r.work.on.Boards {
			if o.ID == m.Board {
				names = append(names, o.Name)
			}
		}
		for _, o := range r.work.on.Apart {
			if o.Board.ID == m.Board {
				names = append(names, o.Board.Name)
			}
		}
	}
	return names
}

// Who would not see a fault in a way out.
var (
	anybody = []string{board.Own, asGift, board.Customer}
	noBuyer = []string{board.Own, asGift}
	oneself = []string{board.Own}
)

// asGift stands for a gift, for which nothing is written in a board.
const asGift = "gift"
