package craft

// Watch is asked now and then in a long reckoning whether it is still wanted: an
// error ends the question, and is its answer. A Watch that is nil lets all go on.
type Watch func() error

// Ask asks.
func (w Watch) Ask() error {
	if w == nil {
		return nil
	}
	return w()
}
