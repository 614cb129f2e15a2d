package server

import "sync"

// mostRemembered bounds how many workshops a memory holds; one more, and it begins anew.
const mostRemembered = 1000

// memory keeps something of each workshop between requests. Whoever asks holds what it keeps against a stamp: another
// process may have changed what it was made of.
type memory[T any] struct {
	mu sync.Mutex
	of map[string]T
}

func newMemory[T any]() *memory[T] { return &memory[T]{of: map[string]T{}} }

func (m *memory[T]) recall(workshop string) (what T, known bool) {
	m.mu.Lock()
	defer m.mu.Unlock()
	what, known = m.of[workshop]
	return what, known
}

func (m *memory[T]) remember(workshop string, what T) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if len(m.of) >= mostRemembered {
		clear(m.of)
	}
	m.of[workshop] = what
}

// size is how many workshops are remembered.
func (m *memory[T]) size() int {
	m.mu.Lock()
	defer m.mu.Unlock()
	return len(m.of)
}
