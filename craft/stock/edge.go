package stock

import (
	"math"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// The states of a natural edge, besides one with sound bark.
const (
	Loose     = "loose"     // its bark lets go
	Splintery = "splintery" // torn, or its fibres stand up
	Bare      = "bare"      // its bark is gone
)

// EdgeSlope is how a natural edge runs from face to face at its steepest.
type EdgeSlope struct {
	Side   string  `json:"side" enum:"left,right"`
	X      float64 `json:"x" doc:"Where, from the butt, mm"`
	Degree float64 `json:"degree" doc:"From square to the faces; positive where the show face is the wider"`
	Corner float64 `json:"corner" doc:"Angle of the sharp corner, degrees"`
}

// Slopes are the steepest places of the left and the right edge; none when the
// under face was not measured.
func (w Wood) Slopes() []EdgeSlope {
	if !w.TwoFaced {
		return nil
	}
	t := w.Rough.Mean
	sides := []struct {
		name string
		over func(x float64) float64 // how far the show face stands over the under face
	}{
		{"left", func(x float64) float64 { return w.Show.Left(x) - w.Under.Left(x) }},
		{"right", func(x float64) float64 { return w.Under.Right(x) - w.Show.Right(x) }},
	}
	var out []EdgeSlope
	for _, s := range sides {
		at := EdgeSlope{Side: s.name}
		n := int(math.Ceil(w.Length / step))
		for i := 1; i < n; i++ { // the very ends of an outline have no width
			x := w.Length * float64(i) / float64(n)
			if d := math.Atan2(s.over(x), t) * 180 / math.Pi; i == 1 || math.Abs(d) > math.Abs(at.Degree) {
				at.X, at.Degree = x, d
			}
		}
		at.Corner = 90 - math.Abs(at.Degree)
		out = append(out, at)
	}
	return out
}

// EdgeVerdicts judge each edge between the two faces: a sharp corner is a
// knife that cuts hands and breaks out.
func (w Wood) EdgeVerdicts(rules rule.Set) []craft.Verdict {
	limit, blunt := rules.Get(rule.KnifeAngle), rules.Get(rule.KnifeFlat)
	var out []craft.Verdict
	for _, s := range w.Slopes() {
		lost := blunt * math.Tan(math.Abs(s.Degree)*math.Pi/180)
		v := craft.Verdict{
			Check: "edge", Subject: s.Side, Stage: craft.Wood, Level: craft.Good, AtLeast: true, Limit: limit,
			Finding: "The " + s.Side + " edge is stout enough",
			Reason:  "A knife-thin edge cuts hands, breaks out and takes too much finish.",
			Figure: craft.Figure{
				Key: "wood.edge." + s.Side, Stage: craft.Wood, Label: "Sharp corner of the " + s.Side + " edge",
				Value: s.Corner, Unit: craft.Degree,
				Formula: "90° − the edge's slope, whose tangent is the offset between the faces ÷ thickness, at the " +
					"steepest place",
				Terms: []craft.Term{
					{Name: "steepest at", Value: s.X, Unit: craft.MM},
					{Name: "slope", Value: math.Abs(s.Degree), Unit: craft.Degree},
					{
						Name:  "mean thickness",
						Value: w.Rough.Mean,
						Unit:  craft.MM,
					},
					{Name: "width lost when knocked back", Value: lost, Unit: craft.MM},
				},
				Source: "edges of both faces", Rule: true,
			},
		}
		if s.Corner < limit {
			v.Level = craft.Mind
			v.Finding = "The " + s.Side + " edge is knife-thin at " + craft.Length(math.Round(s.X)) +
				": knock it back until it is " + craft.Length(blunt) + " thick, which takes " +
				craft.Length(math.Round(lost*10)/10)
		}
		out = append(out, v)
	}
	return out
}
