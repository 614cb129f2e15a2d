package nest

import (
	"iter"
	"sync"
)

// Cores are what searches share: a worker that moves pieces holds one of them. Nil is one core, that of the caller.
type Cores chan struct{}

// NewCores are so many cores.
func NewCores(n int) Cores { return make(Cores, n) }

// epoch is after how many moves of its own a worker waits for the others, at the most. They begin with less, so that
// the first layouts are told at once.
const epoch = 200

// Together searches from several seeds side by side, as many at once as there are cores: one worker for each of from,
// which begins with that layout, if it is one. When each has moved pieces for a while it yields how far every worker
// has come, Better where it has found something better itself, and all go on from the best. The same seed gives the same
// steps, on however many cores.
func (p Problem) Together(seed uint64, from [][]Laid, cores Cores) iter.Seq[[]Step] {
	return func(yield func([]Step) bool) {
		workers := make([]worker, len(from))
		for i, laid := range from {
			p.From = laid
			stop := workers[i].begin(p, seed+uint64(i), i > 0)
			defer stop()
		}
		steps := make([]Step, len(workers))
		for target := stepMoves; ; target += min(target, epoch) {
			cores.each(workers, func(w *worker) { w.until(target) })
			over := true
			for i, w := range workers {
				if w.broke != nil {
					panic(w.broke)
				}
				steps[i], over = w.step, over && w.over
			}
			if !yield(steps) || over {
				return
			}
			for _, w := range workers {
				for _, o := range workers {
					w.search.adopt(o.search)
				}
			}
		}
	}
}

// worker is one search of several.
type worker struct {
	search *search // once it has begun
	next   func() (Step, bool)
	step   Step
	over   bool
	broke  any // what it panicked with
}

// begin makes a worker ready to search, and returns what ends it.
func (w *worker) begin(p Problem, seed uint64, follows bool) (stop func()) {
	w.next, stop = iter.Pull(func(yield func(Step) bool) {
		w.search = p.seeded(seed)
		w.search.follows = follows
		w.search.run(yield)
	})
	return stop
}

// until searches until so many moves are made, or something is laid for the first time.
func (w *worker) until(moves int) {
	defer func() { w.broke = recover() }() // for whoever waits, who may recover
	first := len(w.step.Best.Laid) == 0
	w.step.Better = false
	for better := false; !w.over && w.step.Moves < moves && !(first && better); {
		step, ok := w.next()
		if w.over = !ok; ok {
			better = better || step.Better
			w.step = step
			w.step.Better = better
		}
	}
}

// each does something for every worker, as many at once as there are cores.
func (c Cores) each(workers []worker, do func(*worker)) {
	var all sync.WaitGroup
	for i := range workers {
		if c == nil {
			do(&workers[i])
			continue
		}
		all.Go(func() {
			c <- struct{}{}
			defer func() { <-c }()
			do(&workers[i])
		})
	}
	all.Wait()
}
