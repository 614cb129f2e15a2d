package e2e

import (
	"net/http"
	"sync/atomic"
)

// switchable is a server that can go away and come back.
type switchable struct {
	next http.Handler
	gone atomic.Bool
}

func (s *switchable) ServeHTTP(w http.ResponseWriter, r *http.Request) {
	if s.gone.Load() {
		panic(http.ErrAbortHandler) // the connection breaks, as when the server is stopped
	}
	s.next.ServeHTTP(w, r)
}
