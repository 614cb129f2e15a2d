package nest

import (
	"iter"
	"sync"
)

// Cores are what searches share: a worker that moves pieces holds one of them. Nil is one core.
type Cores chan struct{}

// NewCores are so many cores.
func NewCores(n int) Cores { return make(Cores, n) }

// Search lays the pieces better and better until it is broken off. Workers search side by side, as many at once as
// there are cores: one for each of from, which begins with that layout, if it is one and nothing in it is in conflict.
// It yields how far each has come whenever all have moved pieces for a while, Better where a worker has found something
// better itself. They go on from the best of all. The same seed gives the same steps, on however many cores.
func (p Problem) Search(seed uint64, from [][]Laid, cores Cores) iter.Seq[[]Step] {
	return func(yield func([]Step) bool) {
		if cores == nil {
			cores = NewCores(1)
		}
		t := &team{cores: cores, workers: make([]worker, len(from))}
		t.turn = sync.NewCond(&t.mu)
		defer t.end()
		on := p.ground()
		for i, laid := range from {
			s := newSearch(p, on, seed+uint64(i))
			s.from, s.follows = laid, i > 0
			t.workers[i].begin(s)
			t.all.Go(func() { t.work(&t.workers[i]) })
		}
		for n := 0; ; n++ {
			steps, over := t.wait(n)
			if !yield(steps) || over {
				return
			}
		}
	}
}

// A worker moves pieces by epochs of so many moves at the most. Where it begins one it goes on from the best that all
// had found so many epochs before, be they ahead of it or behind: so nobody waits long, and what each does depends on
// the moves alone.
const (
	epoch = 200
	slack = 3
)

// target is how many moves an epoch ends with. The first are shorter, so that the first layouts are told at once.
func target(n int) int {
	if n < 3 {
		return stepMoves << n
	}
	return epoch * (n - 1)
}

// team is several workers, and whoever waits for what they find.
type team struct {
	cores   Cores
	workers []worker
	all     sync.WaitGroup

	mu    sync.Mutex
	turn  *sync.Cond // an epoch has ended, or was told
	told  int        // epochs
	ended bool
}

// worker is one search of several.
type worker struct {
	search *search
	next   func() (Step, bool)
	stop   func()
	step   Step
	over   bool

	epochs int // that have ended
	then   [2 * slack]was
	broke  any // what it panicked with
}

// was is how a worker stood at the end of an epoch.
type was struct {
	step Step
	over bool
	standing
}

// begin makes a worker ready to search.
func (w *worker) begin(s *search) {
	w.search = s
	w.next, w.stop = iter.Pull(s.run)
}

// after is how it stood at the end of an epoch, of the last ones.
func (w *worker) after(n int) *was { return &w.then[n%len(w.then)] }

// until searches until so many moves are made, or something is laid for the first time, or nobody waits any more.
func (t *team) until(w *worker, moves int) {
	first := len(w.step.Best.Laid) == 0
	better := false
	for !w.over && w.step.Moves < moves && !(first && better) && t.on() {
		step, ok := w.next()
		if w.over = !ok; ok {
			better = better || step.Better
			w.step = step
		}
	}
	w.step.Better = better
}

// work moves a worker's pieces, epoch by epoch.
func (t *team) work(w *worker) {
	defer func() {
		if what := recover(); what != nil { // for whoever waits, who may recover
			t.mu.Lock()
			w.broke = what
			t.mu.Unlock()
			t.turn.Broadcast()
		}
	}()
	for n := 0; ; n++ {
		before, on := t.ready(n)
		if !on {
			return
		}
		for _, o := range before {
			w.search.adopt(o)
		}
		t.cores <- struct{}{}
		func() {
			defer func() { <-t.cores }()
			t.until(w, target(n))
		}()
		if !t.on() {
			return
		}
		t.mu.Lock()
		*w.after(n) = was{w.step, w.over, w.search.standing}
		w.epochs++
		t.mu.Unlock()
		t.turn.Broadcast()
	}
}

// ready waits until an epoch may begin, and tells what all had found by then; false when none is to begin any more.
func (t *team) ready(n int) (before []standing, on bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for !t.ended && (t.least() < n-slack+1 || t.told < n-slack) {
		t.turn.Wait()
	}
	if n >= slack {
		for i := range t.workers {
			before = append(before, t.workers[i].after(n-slack).standing)
		}
	}
	return before, !t.ended
}

// on tells whether anybody still waits.
func (t *team) on() bool {
	t.mu.Lock()
	defer t.mu.Unlock()
	return !t.ended
}

// least is how many epochs all have ended.
func (t *team) least() int {
	least := t.workers[0].epochs
	for i := range t.workers { // a copy would read what its worker writes
		least = min(least, t.workers[i].epochs)
	}
	return least
}

// wait is how far all have come at the end of an epoch, and whether all is over.
func (t *team) wait(n int) (steps []Step, over bool) {
	t.mu.Lock()
	defer t.mu.Unlock()
	for t.least() <= n {
		for i := range t.workers {
			if what := t.workers[i].broke; what != nil {
				panic(what)
			}
		}
		t.turn.Wait()
	}
	over = true
	for i := range t.workers {
		then := t.workers[i].after(n)
		steps, over = append(steps, then.step), over && then.over
	}
	t.told = n + 1
	t.turn.Broadcast()
	return steps, over
}

// end waits until nobody works any more.
func (t *team) end() {
	t.mu.Lock()
	t.ended = true
	t.mu.Unlock()
	t.turn.Broadcast()
	t.all.Wait()
	for i := range t.workers {
		t.workers[i].stop()
	}
}
