package finish

import (
	"math"

	"idletimber/craft"
)

// Inside is a tub inside, mm.
type Inside struct {
	Length, Width, Height float64 // mm
	Boards                int     // that it takes at once
}

// Tub is a tub of oil with boards in it.
type Tub struct {
	Boards  int     `json:"boards" doc:"That lie in it"`
	Cover   float64 `json:"cover" doc:"Oil that covers them, ml"`
	Kept    float64 `json:"kept" doc:"What is left of it afterwards, ml"`
	Lost    float64 `json:"lost" doc:"What the boards take and what is lost, g"`
	Weight  float64 `json:"weight" doc:"That holds each board down, N; 0 where it sinks"`
	working []craft.Figure
}

// Rules of a bath.
const (
	spacer     = 10   // between boards, mm
	over       = 15   // oil over the topmost, mm
	lostInBath = 0.03 // beside what the boards take
	sure       = 2    // times the force that just holds it down
)

// filled is the tub with so many boards of a surface in it, each of which takes so many g.
func (in Inside) filled(s Surface, n int, grams float64) Tub {
	const mm3 = 1000 // in a ml
	count := float64(n)
	deep := count*s.Thickness + (count-1)*spacer + over
	volume, mass := s.Weighed()
	takes := grams * count
	t := Tub{
		Boards: n, Cover: max(0, in.Length*in.Width*deep/mm3-count*volume), Lost: takes * (1 + lostInBath),
		Weight: max(0, sure*(oilDensity*volume-mass)*craft.Gravity/1000),
	}
	t.Kept = max(0, t.Cover-t.Lost/oilDensity)
	figure := func(key, label string, v float64, unit craft.Unit, formula string, terms ...craft.Term) {
		t.working = append(t.working, craft.Figure{
			Key: key, Stage: craft.Finish, Label: label, Value: v, Unit: unit, Formula: formula, Terms: terms,
			Source: "rule of the trade", Rule: true,
		})
	}
	figure("finish.tub", "Oil that covers it", t.Cover, craft.ML,
		"tub's area × (boards × thickness + {10} between them + {15} over the topmost) − boards",
		craft.Term{Name: "tub, length", Value: in.Length, Unit: craft.MM},
		craft.Term{Name: "tub, width", Value: in.Width, Unit: craft.MM},
		craft.Term{Name: "boards", Value: count, Unit: craft.Count},
		craft.Term{Name: "thickness", Value: s.Thickness, Unit: craft.MM},
		craft.Term{Name: "a board", Value: volume, Unit: craft.ML})
	figure("finish.tub-kept", "Oil left for the next", t.Kept, craft.ML, "oil − what the boards take and 3 % of it",
		craft.Term{Name: "boards take", Value: takes, Unit: craft.Gram})
	figure("finish.held", "Held down by", t.Weight, craft.Newton,
		"2 × (0.85 × volume − mass) × 9.81 ÷ 1000: lighter than the oil, it floats",
		craft.Term{Name: "volume", Value: volume, Unit: craft.ML},
		craft.Term{Name: "mass", Value: mass, Unit: craft.Gram})
	return t
}

func (t Tub) figures() []craft.Figure { return t.working }

// Fits tells how many boards of a surface lie in the tub at once, by its size and by how many it is
// said to take; 0 where not even one does.
func (in Inside) Fits(s Surface) int {
	long, wide := max(s.Length, s.Width), min(s.Length, s.Width)
	if in.Length > 0 && long > max(in.Length, in.Width) || in.Width > 0 && wide > min(in.Length, in.Width) {
		return 0
	}
	n := max(1, in.Boards)
	if in.Height > 0 {
		n = min(n, int(math.Floor((in.Height-over+spacer)/(s.Thickness+spacer))))
	}
	return max(0, n)
}
