package run

import "math"

// Batch is how boards are coated one after the other, so that the first is wiped when the last has been coated.
type Batch struct {
	Boards int       `json:"boards" doc:"How many at a time"`
	Mind   string    `json:"mind,omitempty" doc:"What to mind: a board that takes longer than its soak"`
	Coated []float64 `json:"coated" doc:"When each is begun, minutes from the first"`
	Wiped  []float64 `json:"wiped" doc:"When each is to be wiped, by its own clock"`
	Takes  float64   `json:"takes" doc:"All of a batch, from the first coat to the last wipe, minutes"`
}

// Stagger lays out a batch of boards: those that find a place on the rack, and no more than are coated while the first
// soaks, each as long as the longer of its coat and its wipe takes. A soak of nothing, and a rack of no size,
// bound nothing.
func Stagger(boards, places int, soak, coat, wipe float64) Batch {
	pace := max(coat, wipe)
	n := boards
	if places > 0 {
		n = min(n, places)
	}
	b := Batch{}
	if soak > 0 && pace > 0 {
		if n = min(n, int(math.Floor(soak/pace+1e-9))); n < 1 {
			b.Mind = "a board takes longer to coat than it may soak: wipe what was coated first while you go on"
		}
	}
	b.Boards = max(1, n)
	for i := range b.Boards {
		at := float64(i) * pace
		b.Coated = append(b.Coated, at)
		b.Wiped = append(b.Wiped, at+coat+soak)
	}
	b.Takes = b.Wiped[b.Boards-1] + wipe
	return b
}
