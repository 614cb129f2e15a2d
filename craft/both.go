package craft

// Both does two things that do not touch each other, on two cores where there are two. What
// either panics with, the caller does.
func Both(one, other func()) {
	var thrown any
	done := make(chan struct{})
	go func() {
		defer close(done)
		defer func() { thrown = recover() }()
		other()
	}()
	one()
	if <-done; thrown != nil {
		panic(thrown)
	}
}
