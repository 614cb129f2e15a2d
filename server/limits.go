package server

import (
	"fmt"
	"math"
	"sync"
	"time"

	"github.com/danielgtaylor/huma/v2"
	"golang.org/x/time/rate"
)

// allowance is how often something may be done: so many times at once, then one
// each interval. It slows down and never locks out.
type allowance struct {
	burst    int
	interval time.Duration
}

// What may be done how often, by whom.
var (
	guessesByPair    = allowance{5, 30 * time.Second} // an address of a client on one account
	guessesByAddress = allowance{40, 5 * time.Second}
	signUpsByAddress = allowance{10, 5 * time.Minute}
	wrongKeys        = allowance{20, 10 * time.Second} // by the client's address
	readingsByDevice = allowance{60, time.Second}
)

// mostLimited bounds the memory of who did what.
const mostLimited = 20000

// limits remembers how often things were done, by name.
type limits struct {
	mu  sync.Mutex
	now func() time.Time
	by  map[limited]*rate.Limiter
}

type limited struct {
	allowance
	who string
}

func newLimits(now func() time.Time) *limits {
	return &limits{now: now, by: map[limited]*rate.Limiter{}}
}

// take notes that somebody does a thing once more. The error says how long to wait
// before that is allowed.
func (l *limits) take(a allowance, who string) error {
	l.mu.Lock()
	defer l.mu.Unlock()
	now := l.now()
	limiter := l.of(a, who, now)
	turn := limiter.ReserveN(now, 1)
	wait := turn.DelayFrom(now)
	if wait == 0 {
		return nil
	}
	turn.CancelAt(now)
	seconds := math.Ceil(wait.Seconds())
	return huma.ErrorWithHeaders(
		huma.Error429TooManyRequests(fmt.Sprintf("too many attempts; try again in %.0f seconds", seconds)),
		map[string][]string{"Retry-After": {fmt.Sprintf("%.0f", seconds)}},
	)
}

// may tells whether somebody may do a thing now, without noting it.
func (l *limits) may(a allowance, who string) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	known, ok := l.by[limited{a, who}]
	return !ok || known.TokensAt(l.now()) >= 1
}

// of is the limiter of somebody, made when first asked for.
func (l *limits) of(a allowance, who string, now time.Time) *rate.Limiter {
	key := limited{a, who}
	if known, ok := l.by[key]; ok {
		return known
	}
	if len(l.by) >= mostLimited {
		for k, old := range l.by { // those who have done nothing lately are as new ones
			if old.TokensAt(now) >= float64(k.burst) {
				delete(l.by, k)
			}
		}
		if len(l.by) >= mostLimited {
			clear(l.by)
		}
	}
	fresh := rate.NewLimiter(rate.Every(a.interval), a.burst)
	l.by[key] = fresh
	return fresh
}

// clean reports whether somebody has done nothing of a kind lately.
func (l *limits) clean(a allowance, who string) bool {
	l.mu.Lock()
	defer l.mu.Unlock()
	known, ok := l.by[limited{a, who}]
	return !ok || known.TokensAt(l.now()) >= float64(a.burst)
}

// forget lets somebody begin anew.
func (l *limits) forget(a allowance, who string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	delete(l.by, limited{a, who})
}

// giveBack undoes one time, which turned out to be right.
func (l *limits) giveBack(a allowance, who string) {
	l.mu.Lock()
	defer l.mu.Unlock()
	if known, ok := l.by[limited{a, who}]; ok && known.TokensAt(l.now()) >= 0 {
		known.AllowN(l.now(), -1)
	}
}
