package plan

import (
	"cmp"
	"maps"
	"slices"
	"sort"
	"time"
)

// Sessions are looked at as far as reach, and, when that does not hold the
// work, as far as horizon; what does not fit there is said to be unplaced.
const (
	reach   = 150 * 24 * time.Hour
	horizon = 2 * 366 * 24 * time.Hour
	month   = 31 * 24 * time.Hour
)

// Schedule dates every chain: see Planner.
func Schedule(chains []Chain, sessions []Session, zone *time.Location, now time.Time) []Course {
	return NewPlanner(sessions, zone, now).Schedule(chains)
}

// Pin locks a step to a day.
type Pin struct {
	Step string `json:"step" doc:"Its subject and key, such as board:7/sand-120"`
	Day  string `json:"day" doc:"YYYY-MM-DD, in the workshop's time zone"`
}

// Planner dates chains of steps from one moment on, within the sessions of one maker and of those who
// help. It remembers the sessions that it has looked at.
type Planner struct {
	Places  Places   // how many find a place at once
	Helpers []Helper // who have sessions of their own
	Off     []Leave  // days on which nobody is at the bench
	Pins    []Pin    // days that steps are locked to
	Order   []string // of the steps, as it was found to be good; those that it does not name come after
	Ahead   []string // steps that are taken ahead of all others, in this order, as the maker wants it

	sessions []Session
	zone     *time.Location
	now      time.Time
	windows  map[stretch][]Window
}

type stretch struct {
	who      string
	from, to time.Time
}

// NewPlanner makes a planner.
func NewPlanner(sessions []Session, zone *time.Location, now time.Time) *Planner {
	return &Planner{sessions: sessions, zone: zone, now: now, windows: map[stretch][]Window{}}
}

// With is a planner of the same work with other hours and helpers.
func (p *Planner) With(sessions []Session, helpers []Helper) *Planner {
	q := *p
	q.sessions, q.Helpers, q.windows = sessions, helpers, map[stretch][]Window{}
	return &q
}

// between is when one person is at the bench between two moments.
func (p *Planner) between(who string, from, to time.Time) []Window {
	at := stretch{who, from, to}
	if _, ok := p.windows[at]; !ok {
		p.windows[at] = Hours(p.sessions, p.Off, who, p.zone, from, to)
	}
	return p.windows[at]
}

// everybody is the maker's hands and those of the helpers.
func (p *Planner) everybody(from, to time.Time, mirrored bool) []*hands {
	out := []*hands{newHands("", nil, p.between("", from, to), p.now, mirrored)}
	for _, h := range p.Helpers {
		does := map[Kind]bool{}
		for _, k := range h.Does {
			does[k] = true
		}
		out = append(out, newHands(h.Name, does, p.between(h.Name, from, to), p.now, mirrored))
	}
	return out
}

// Schedule dates every chain, forward from now and backward from the days. One person works on one thing
// at a time; what is set up for one step serves the next of its kind. Of several orders in which the
// steps may be placed the one is taken that is late by least, then ends soonest, then sets up least.
func (p *Planner) Schedule(chains []Chain) []Course {
	f, best := p.forward(chains, nil)
	return f.dated(best)
}

// forward places all steps as early as they can be, in the best of some orders; better, where it is given,
// looks for others.
func (p *Planner) forward(chains []Chain, better func(*forward, *placing) *placing) (*forward, *placing) {
	for _, far := range []time.Duration{reach, horizon} {
		f := &forward{Planner: p, chains: chains, courses: make([]Course, len(chains))}
		for i := range chains {
			f.courses[i] = newCourse(chains[i], p.now)
		}
		f.network = newNetwork(f.courses, p.Places, p.Pins, p.zone, p.now)
		f.hands = p.everybody(p.now, p.now.Add(far), false)
		var best *placing
		for _, order := range f.orders() {
			if got := f.place(order); best == nil || got.value.better(best.value) {
				best = got
			}
		}
		// Near the end of what was looked at, work may overrun a session that a later one would hold.
		if best.value.unplaced == 0 && best.value.last < far-month || far == horizon {
			if better != nil {
				best = better(f, best)
			}
			return f, f.lastThing(best)
		}
	}
	panic("the last one was returned")
}

// lastThing is a placing in which what waits through the night is done last in its session, where that makes nothing
// late, the end no later and sets up no more: what waits for less is then still followed up, and its dust has settled.
// What closes a board is left where it is if all together would be ready later. An order of the maker's own stays.
func (f *forward) lastThing(p *placing) *placing {
	if len(f.Ahead) > 0 {
		return p
	}
	for _, closing := range []bool{true, false} {
		for range 2 { // the others may come sooner for it
			ends, behind := f.overnight(p, closing)
			if ends == nil {
				break
			}
			units := p.byStart(f.network)
			slices.SortStableFunc(units, func(a, b int) int { return cmp.Compare(ends[a], ends[b]) })
			f.behind = behind
			got := f.place(ranks(units))
			f.behind = nil
			if !got.value.nearly(p.value) {
				break
			}
			for t, full := range p.full { // it was full, though the next session is as good now
				if got.full[t] == "" && got.at[t].from >= p.at[t].from {
					got.full[t] = full
				}
			}
			p = got
		}
	}
	return p
}

// nearly tells whether a placing is at least as good as another but for what it has to spare.
func (v value) nearly(o value) bool {
	return v.unplaced <= o.unplaced && v.late <= o.late && v.last <= o.last && v.setups <= o.setups
}

// overnight is when each unit of a placing begins, or, if it waits beyond its session, when that ends; and when such
// a unit may begin to come behind all others of its session. Those that nothing comes after are looked at only as
// closing; nil where there is none.
func (f *forward) overnight(p *placing, closing bool) (ends, behind []time.Duration) {
	n := f.network
	type session struct{ who, k int }
	var waits []int
	others, length := map[session]time.Duration{}, map[session]time.Duration{}
	in := make([]session, len(n.units))
	ends, behind = make([]time.Duration, len(n.units)), make([]time.Duration, len(n.units))
	for i, u := range n.units {
		first, last := u.first, u.first+u.n-1
		ends[i] = p.at[first].from
		if !p.placed[i] || p.at[first].from == p.at[last].to {
			continue // nobody's hands
		}
		h := f.hands[p.who[first]]
		k := sort.Search(len(h.open), func(k int) bool { return h.open[k].to > ends[i] })
		if k == len(h.open) || ends[i] < h.open[k].from {
			continue
		}
		in[i] = session{p.who[first], k}
		if end := h.open[k].to; !u.running && u.pin == nil && (closing || len(u.before) > 0) &&
			p.at[last].to <= end && p.over[last] > end {
			length[in[i]] += p.at[last].to - ends[i]
			ends[i] = end
			waits = append(waits, i)
		} else {
			others[in[i]] = max(others[in[i]], p.at[last].to)
		}
	}
	if len(waits) == 0 {
		return nil, nil
	}
	for _, i := range waits {
		behind[i] = min(others[in[i]], ends[i]-length[in[i]])
	}
	return ends, behind
}

// forward is the placing of one network from now on.
type forward struct {
	*Planner
	chains  []Chain
	courses []Course
	network *network
	hands   []*hands
	spare   *placing // one that nobody needs any more

	limit  time.Duration   // a placing that is later is given up; 0 for none
	behind []time.Duration // of each unit, before which it is not begun; nil for none
	last   []time.Duration // latest start of each unit, were there no other work and all set up
}

// value is how good a placing is.
type value struct {
	unplaced int           // steps
	late     time.Duration // of all chains together
	last     time.Duration // when the last one is ready
	setups   int
	slack    time.Duration // of all chains together
}

// better tells whether one placing is better than another: late by less, then sooner done, then fewer
// set-ups, then with more to spare.
func (v value) better(o value) bool {
	return cmp.Or(
		cmp.Compare(v.unplaced, o.unplaced), cmp.Compare(v.late, o.late), cmp.Compare(v.last, o.last),
		cmp.Compare(v.setups, o.setups), cmp.Compare(o.slack, v.slack),
	) < 0
}

// placing is where the tasks of a network lie.
type placing struct {
	order    []int // of the units, as they were placed
	at       []span
	over     []time.Duration // when the wait of each task is over
	who      []int
	shared   []time.Duration
	full     []string
	alone    []bool
	unkept   []string // by unit
	placed   []bool   // by unit
	finish   []time.Duration
	unplaced []bool // by chain
	value    value

	sure   time.Duration   // how late it is at least, of all chains together
	behind []time.Duration // the same of each
}

func newPlacing(n *network) *placing {
	return &placing{
		order: make([]int, 0, len(n.units)), at: make([]span, len(n.tasks)),
		over: make([]time.Duration, len(n.tasks)), who: make([]int, len(n.tasks)),
		shared: make([]time.Duration, len(n.tasks)), full: make([]string, len(n.tasks)),
		alone: make([]bool, len(n.tasks)), unkept: make([]string, len(n.units)), placed: make([]bool, len(n.units)),
		finish: make([]time.Duration, len(n.due)), unplaced: make([]bool, len(n.due)),
		behind: make([]time.Duration, len(n.due)),
	}
}

// clear makes a placing ready to be used again.
func (p *placing) clear(n *network) {
	p.order, p.value, p.sure = p.order[:0], value{}, 0
	clear(p.behind)
	clear(p.at)
	clear(p.over)
	clear(p.who)
	clear(p.shared)
	clear(p.full)
	clear(p.alone)
	clear(p.unkept)
	clear(p.placed)
	clear(p.unplaced)
	copy(p.finish, n.rested)
}

// place places the units of a network in an order of ranks, each as soon as what it comes after is placed.
func (f *forward) place(rank []int) *placing {
	n := f.network
	for _, h := range f.hands {
		h.reset()
	}
	s := &placer{network: n, hands: f.hands, rooms: make([]*room, len(n.rooms)), behind: f.behind}
	for i, r := range n.rooms {
		s.rooms[i] = r.clone()
	}
	p := f.spare
	if f.spare = nil; p == nil {
		p = newPlacing(n)
	}
	p.clear(n)
	for i, u := range n.units {
		if u.running {
			s.goOn(p, i)
		}
	}
	s.reserve()
	n.each(rank, func(i int) bool {
		if !n.units[i].running {
			s.put(p, i)
		}
		p.order = append(p.order, i)
		return f.hopeful(p, i)
	})
	s.value(p)
	return p
}

// hopeful tells whether a placing may still be late by no more than the limit, after one more unit: a chain is late
// by at least as much as its unit begins after its latest start.
func (f *forward) hopeful(p *placing, i int) bool {
	if f.limit == 0 || !p.placed[i] {
		return true
	}
	u := f.network.units[i]
	if over := p.at[u.first].from - f.last[i]; over > p.behind[u.chain] {
		p.sure += over - p.behind[u.chain]
		p.behind[u.chain] = over
	}
	if p.sure <= f.limit {
		return true
	}
	p.value.unplaced = len(f.network.tasks) + 1 // it is given up
	return false
}

// each visits the units in an order of ranks, each after those that it comes after, as long as it is to go on. Units
// that wait for each other come all the same.
func (n *network) each(rank []int, visit func(unit int) (on bool)) {
	missing := make([]int, len(n.units))
	var ready []int // a heap, by rank
	push := func(i int) {
		ready = append(ready, i)
		for k := len(ready) - 1; k > 0 && rank[ready[k]] < rank[ready[(k-1)/2]]; k = (k - 1) / 2 {
			ready[k], ready[(k-1)/2] = ready[(k-1)/2], ready[k]
		}
	}
	pop := func() int {
		top := ready[0]
		ready[0] = ready[len(ready)-1]
		ready = ready[:len(ready)-1]
		for k := 0; ; {
			least := k
			for _, c := range []int{2*k + 1, 2*k + 2} {
				if c < len(ready) && rank[ready[c]] < rank[ready[least]] {
					least = c
				}
			}
			if least == k {
				return top
			}
			ready[k], ready[least] = ready[least], ready[k]
			k = least
		}
	}
	seen := make([]bool, len(n.units))
	for i, u := range n.units {
		if missing[i] = len(u.after); missing[i] == 0 {
			push(i)
		}
	}
	for left := len(n.units); left > 0; left-- {
		if len(ready) == 0 { // they wait for each other
			i := slices.Index(seen, false)
			for k := range seen {
				if !seen[k] && rank[k] < rank[i] {
					i = k
				}
			}
			missing[i] = 0
			push(i)
		}
		i := pop()
		seen[i] = true
		if !visit(i) {
			return
		}
		for _, k := range n.units[i].before {
			if missing[k]--; missing[k] == 0 && !seen[k] {
				push(k)
			}
		}
	}
}

// placer places units on the line, forward or mirrored.
type placer struct {
	network  *network
	hands    []*hands
	rooms    []*room
	mirrored bool
	kept     map[int]span    // by unit: what is kept free for it on its day
	behind   []time.Duration // see forward
	buffer   [3][]span       // of fresh, shared and best places
}

// goOn places what is in hand: it goes on now, whatever the hour.
func (s *placer) goOn(p *placing, i int) {
	t := s.network.units[i].first
	at := []span{{0, s.network.tasks[t].length}}
	s.hands[0].take(s.network.tasks[t:t+1], at, 0, 0)
	s.settle(p, i, spot{spans: at})
}

// reserve keeps the hours free that units need which are locked to a day.
func (s *placer) reserve() {
	for i, u := range s.network.units {
		if u.pin == nil || u.n > 1 {
			continue
		}
		tasks := s.network.tasksOf(u)
		spans := make([]span, 1)
		h := s.hands[0]
		if h.find(max(0, u.pin.from, u.ready), tasks, spans, false) && spans[0].to <= u.pin.to {
			h.cut(spans[0])
			if s.kept == nil {
				s.kept = map[int]span{}
			}
			s.kept[i] = spans[0]
		}
	}
}

// release gives back what was kept free.
func (h *hands) release(s span) {
	for _, o := range h.open {
		part := span{max(o.from, s.from), min(o.to, s.to)}
		if part.from >= part.to {
			continue
		}
		i := sortedAt(h.free, part.from)
		h.free = slices.Insert(h.free, i, part)
		if i+1 < len(h.free) && h.free[i+1].from == part.to {
			h.free[i].to = h.free[i+1].to
			h.free = slices.Delete(h.free, i+1, i+2)
		}
		if i > 0 && h.free[i-1].to == h.free[i].from {
			h.free[i-1].to = h.free[i].to
			h.free = slices.Delete(h.free, i, i+1)
		}
	}
}

func sortedAt(spans []span, from time.Duration) int {
	i, _ := slices.BinarySearchFunc(spans, from, func(s span, m time.Duration) int { return cmp.Compare(s.from, m) })
	return i
}

// put places a unit after all that it comes after.
func (s *placer) put(p *placing, i int) {
	u := s.network.units[i]
	ready := u.ready
	if s.behind != nil {
		ready = max(ready, s.behind[i])
	}
	for _, k := range u.after {
		if !p.placed[k] && s.network.units[k].chain != u.chain && p.unplaced[s.network.units[k].chain] {
			p.unplaced[u.chain] = true
		}
		b := s.network.units[k]
		for t := b.first; t < b.first+b.n; t++ {
			ready = max(ready, p.over[t])
		}
	}
	if p.unplaced[u.chain] {
		p.value.unplaced++
		return
	}
	if u.pin != nil {
		if at, ok := s.kept[i]; ok {
			s.hands[0].release(at)
		}
		ready = max(ready, u.pin.from)
	}
	at, full, ok := s.find(ready, s.network.tasksOf(u))
	if !ok {
		p.unplaced[u.chain] = true
		p.value.unplaced++
		return
	}
	s.hands[at.who].take(s.network.tasksOf(u), at.spans, at.spared, at.stopped)
	s.settle(p, i, at)
	if full >= 0 {
		p.full[u.first] = s.rooms[full].what
	}
	if u.pin != nil && (at.spans[0].from < u.pin.from || at.spans[0].from >= u.pin.to) {
		p.unkept[i] = "no hour is free on it"
		if ready >= u.pin.to {
			p.unkept[i] = "what comes before it is not over"
		}
	}
}

// settle notes where a unit lies, and holds its places.
func (s *placer) settle(p *placing, i int, lies spot) {
	u := s.network.units[i]
	p.placed[i] = true
	for k, t := range s.network.tasksOf(u) {
		at := u.first + k
		p.at[at], p.who[at] = lies.spans[k], lies.who
		wait := s.held(s.network.tasksOf(u), lies.spans, k)
		over := wait.to
		if p.over[at] = over; over > wait.from+t.wait && over > t.until {
			p.alone[at] = true
		}
		for _, r := range t.holds {
			s.rooms[r.room].hold(wait, r.n)
		}
		p.finish[u.chain] = max(p.finish[u.chain], over, lies.spans[k].to+t.rest)
	}
	p.shared[u.first] = lies.spared
}

// spot is where tasks lie, until the next are looked for: in whose hands, and what the first is spared since work
// stopped with it set up.
type spot struct {
	who             int
	spans           []span
	spared, stopped time.Duration
}

// mostMoves bounds how often a unit is moved on to where a place is free.
const mostMoves = 500

// find is where tasks lie first from a moment on, moved on until what they hold has a place free, and which room
// was full before; -1 for none.
func (s *placer) find(ready time.Duration, tasks []task) (at spot, full int, ok bool) {
	full = -1
	for range mostMoves {
		if at, ok = s.soonest(ready, tasks); !ok {
			return at, full, false
		}
		free, r := s.crowded(tasks, at.spans)
		if r < 0 {
			break
		}
		ready, full = free, r
	}
	return at, full, true
}

// crowded is a room that has no place free while tasks hold it, and where on the line the first of them may lie
// when it has; -1 where all have.
func (s *placer) crowded(tasks []task, spans []span) (from time.Duration, full int) {
	for k, t := range tasks {
		for _, r := range t.holds {
			wait := s.held(tasks, spans, k)
			if free, is := s.rooms[r.room].full(wait, r.n); is {
				return spans[0].from + max(free-wait.from, time.Minute), r.room
			}
		}
	}
	return 0, -1
}

// soonest is where tasks lie first from a moment on, of all hands that may do them.
func (s *placer) soonest(ready time.Duration, tasks []task) (best spot, ok bool) {
	for i := range s.buffer {
		if len(s.buffer[i]) < len(tasks) {
			s.buffer[i] = make([]span, len(tasks))
		}
	}
	fresh, again, kept := s.buffer[0][:len(tasks)], s.buffer[1][:len(tasks)], s.buffer[2][:len(tasks)]
	for w, h := range s.hands {
		if !h.may(tasks) || !h.find(ready, tasks, fresh, s.mirrored) {
			continue
		}
		at := spot{who: w, spans: fresh}
		if !s.mirrored {
			if at.spared, at.stopped = h.again(ready, tasks, again, fresh); at.spared > 0 {
				at.spans = again
			}
		}
		if !ok || at.spans[len(tasks)-1].to < best.spans[len(tasks)-1].to {
			copy(kept, at.spans)
			at.spans = kept
			best, ok = at, true
		}
	}
	return best, ok
}

// held is how long the k-th of some tasks waits, on the line: until the next one begins, where nobody is
// there when the wait is over.
func (s *placer) held(tasks []task, spans []span, k int) span {
	if s.mirrored { // the line runs backward: the next in time is the one before
		wait := span{spans[k].from - tasks[k].wait, spans[k].from}
		if k > 0 {
			wait.from = min(wait.from, spans[k-1].to)
		}
		return wait
	}
	wait := span{spans[k].to, max(spans[k].to+tasks[k].wait, tasks[k].until)}
	if k+1 < len(tasks) {
		wait.to = max(wait.to, spans[k+1].from)
	}
	return wait
}

// value sums up how good a placing is.
func (s *placer) value(p *placing) {
	n := s.network
	for c, due := range n.due {
		if p.unplaced[c] {
			continue
		}
		p.value.last = max(p.value.last, p.finish[c])
		if due != never {
			p.value.late += max(0, p.finish[c]-due)
			p.value.slack += max(0, due-p.finish[c])
		}
	}
	for t := range n.tasks {
		if n.tasks[t].setupTime > 0 && p.shared[t] == 0 {
			p.value.setups++
		}
	}
}

// dated writes a placing, and the latest starts that keep the days, into the courses.
func (f *forward) dated(p *placing) []Course {
	n := f.network
	moment := func(d time.Duration) *time.Time {
		at := f.now.Add(d)
		return &at
	}
	for i, u := range n.units {
		c := &f.courses[u.chain]
		if !p.placed[i] {
			continue
		}
		for t := u.first; t < u.first+u.n; t++ {
			s := &c.Steps[n.tasks[t].step]
			s.Starts, s.Ends, s.WaitUntil = moment(p.at[t].from), moment(p.at[t].to), moment(p.over[t])
			if s.Rest > 0 {
				s.RestUntil = moment(p.at[t].to + n.tasks[t].rest)
			}
			s.Alone, s.Full, s.Who = p.alone[t], p.full[t], f.hands[p.who[t]].who
			s.Shared = p.shared[t].Minutes()
			c.HandsOn -= s.Shared
		}
		if u.pin != nil {
			s := &c.Steps[n.tasks[u.first].step]
			s.Pinned, s.Unkept = u.pin.day, p.unkept[i]
		}
	}
	for c := range f.courses {
		course := &f.courses[c]
		if course.Unplaced = p.unplaced[c]; course.Unplaced {
			continue
		}
		course.Finish = moment(p.finish[c])
		if course.Due != nil {
			course.Slack = course.Due.Sub(*course.Finish).Minutes()
			course.Late = course.Slack < 0
		}
	}
	f.latest(p)
	return f.courses
}

// latest dates the latest starts by the same placing in mirrored time: before the day, before the steps
// that come after in the chain, and before those anywhere that wait for them. Where the days are kept, a
// start that was found keeps them, and the latest is no sooner.
func (f *forward) latest(p *placing) {
	n := f.network
	last := f.now
	for _, c := range f.courses {
		if c.Due != nil && c.Due.After(last) {
			last = *c.Due
		}
	}
	if limit := f.now.Add(horizon); last.After(limit) {
		last = limit
	}
	s := &placer{network: n, mirrored: true, rooms: make([]*room, len(n.rooms)),
		hands: f.everybody(f.now.Add(-reach), last, true)}
	for i, r := range n.rooms {
		s.rooms[i] = r.mirror()
	}
	by := make([]time.Duration, len(n.units)) // when each must be over
	keeps := make([]bool, len(n.units))       // all days that it bears on are kept as it is placed
	for i, u := range n.units {
		by[i], keeps[i] = n.due[u.chain], !p.unplaced[u.chain] && p.finish[u.chain] <= n.due[u.chain]
	}
	for _, i := range slices.Backward(p.order) {
		u := n.units[i]
		if by[i] == never {
			continue
		}
		start, ok := s.last(by[i], n.due[u.chain], p, u)
		if !ok { // before the sessions that were looked at: the date cannot be kept
			by[i] = dawn
			start = []time.Duration{dawn}
		}
		f.noteLatest(p, i, start, keeps[i], ok)
		if keeps[i] {
			start[0] = max(start[0], p.at[u.first].from)
		}
		for _, k := range u.after {
			by[k] = min(by[k], start[0])
			keeps[k] = keeps[k] && keeps[i]
		}
	}
	for c := range f.courses {
		f.courses[c].slack()
	}
}

// last is the latest start of each task of a unit that is over by a moment, as it is placed mirrored.
func (s *placer) last(by, due time.Duration, p *placing, u unit) ([]time.Duration, bool) {
	if by <= dawn {
		return nil, false
	}
	tasks := slices.Clone(s.network.tasksOf(u))
	tasks[0].length -= p.shared[u.first]
	end := tasks[u.n-1]
	by -= end.wait
	if due != never {
		by = min(by, due-end.rest)
	}
	slices.Reverse(tasks)
	at, _, ok := s.find(-by, tasks)
	if !ok {
		return nil, false
	}
	s.hands[at.who].take(tasks, at.spans, 0, 0)
	for k := range tasks {
		for _, r := range tasks[k].holds {
			s.rooms[r.room].hold(s.held(tasks, at.spans, k), r.n)
		}
	}
	out := make([]time.Duration, u.n)
	for k := range out {
		out[k] = -at.spans[u.n-1-k].to
	}
	return out, true
}

// noteLatest writes the latest starts of a unit into its course. Where no start keeps the days that it bears on, it is
// late and critical.
func (f *forward) noteLatest(p *placing, i int, starts []time.Duration, keeps, ok bool) {
	u := f.network.units[i]
	for t := u.first; t < u.first+u.n; t++ {
		s := &f.courses[u.chain].Steps[f.network.tasks[t].step]
		if !ok && !keeps {
			s.Late, s.Critical = true, s.Minutes > 0
			continue
		}
		start := p.at[t].from
		if ok && (!keeps || starts[t-u.first] > start) {
			start = starts[t-u.first]
		}
		at := f.now.Add(start)
		s.LatestAt, s.Late = &at, at.Before(f.now)
		if p.placed[i] {
			slack := (start - p.at[t].from).Minutes()
			s.Slack = &slack
		}
	}
}

// slack finds the latest start of a course and its critical steps: those with the least to spare.
func (c *Course) slack() {
	least, byHand := never.Minutes(), false
	for i := range c.Steps {
		s := &c.Steps[i]
		if s.State == Done || s.LatestAt == nil {
			continue
		}
		if c.LatestStart == nil || !byHand && s.Minutes > 0 { // what waits by itself is begun by nobody
			c.LatestStart, byHand = s.LatestAt, s.Minutes > 0
		}
		if s.Slack != nil && s.Minutes > 0 {
			least = min(least, *s.Slack)
		}
	}
	for i := range c.Steps {
		if s := &c.Steps[i]; s.Slack != nil && *s.Slack <= least+1 && s.Minutes > 0 {
			s.Critical = true
		}
	}
}

func sortedKeys[V any](m map[string]V) []string { return slices.Sorted(maps.Keys(m)) }
