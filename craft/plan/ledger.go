package plan

import (
	"cmp"
	"math"
	"slices"
	"time"
)

// Worked is a step that was finished, as the log tells of it.
type Worked struct {
	Sample
	At time.Time // when it was finished
}

// Lost is a mishap that was written down.
type Lost struct {
	Kind Kind
	Days float64
	At   time.Time
}

// KindTook is what one kind of work took in all against its estimate.
type KindTook struct {
	Kind      Kind      `json:"kind" doc:"Kind of work"`
	Steps     int       `json:"steps" doc:"Finished ones that were timed"`
	Estimated float64   `json:"estimated" doc:"By the rates, minutes"`
	Actual    float64   `json:"actual" doc:"As they were written down, minutes"`
	Pace      float64   `json:"pace" doc:"By which plans reckon: actual to estimated, drawn toward 1"`
	Points    []Against `json:"points" doc:"One by one, the newest last"`
	Mishaps   int       `json:"mishaps" doc:"That were written down at it"`
	DaysLost  float64   `json:"daysLost" doc:"By those mishaps"`
}

// Against is one finished step: what was expected and what it took.
type Against struct {
	Estimated float64 `json:"estimated" doc:"Minutes"`
	Actual    float64 `json:"actual" doc:"Minutes"`
}

// Month is what was done in one month.
type Month struct {
	Month string  `json:"month" doc:"Such as 2031-04"`
	Hours float64 `json:"hours" doc:"Hands-on"`
	Dusty float64 `json:"dusty" doc:"Of those, hours in dust: sawing, planing, routing, boring and sanding"`
}

// Ledger is what the log comes to.
type Ledger struct {
	Kinds    []KindTook `json:"kinds" doc:"What took most comes first"`
	Months   []Month    `json:"months" doc:"The newest first"`
	Hours    float64    `json:"hours" doc:"Hands-on, of all"`
	DaysLost float64    `json:"daysLost" doc:"By mishaps, of all"`
}

// dusty are the kinds of work that make dust.
var dusty = map[Kind]bool{
	CrossCut: true, Curve: true, Planing: true, RouterSled: true, Resaw: true, Bore: true, HogOut: true, EdgeWork: true,
	LiveEdge: true, CleanVoid: true, Sanding: true, Rip: true, Joint: true, Slicing: true, Buff: true, Rub: true,
}

// mostPoints bounds the single steps of one kind that are shown.
const mostPoints = 200

// Add up what steps took and what mishaps cost; months are those of a zone.
func Add(worked []Worked, lost []Lost, zone *time.Location) Ledger {
	slices.SortStableFunc(worked, func(a, b Worked) int { return a.At.Compare(b.At) })
	samples := make([]Sample, len(worked))
	kinds := map[Kind]*KindTook{}
	of := func(k Kind) *KindTook {
		if kinds[k] == nil {
			kinds[k] = &KindTook{Kind: k, Points: []Against{}}
		}
		return kinds[k]
	}
	months := map[string]*Month{}
	out := Ledger{Kinds: []KindTook{}, Months: []Month{}}
	for i, w := range worked {
		samples[i] = w.Sample
		k := of(w.Kind)
		k.Steps, k.Estimated, k.Actual = k.Steps+1, k.Estimated+w.Estimated, k.Actual+w.Actual
		k.Points = append(k.Points, Against{w.Estimated, w.Actual})
		name := w.At.In(zone).Format("2006-01")
		if months[name] == nil {
			months[name] = &Month{Month: name}
		}
		hours := w.Actual / 60
		months[name].Hours += hours
		if dusty[w.Kind] {
			months[name].Dusty += hours
		}
		out.Hours += hours
	}
	for _, l := range lost {
		k := of(l.Kind)
		k.Mishaps, k.DaysLost, out.DaysLost = k.Mishaps+1, k.DaysLost+l.Days, out.DaysLost+l.Days
	}
	pace := Learn(samples)
	for kind, k := range kinds {
		k.Pace = math.Round(pace.Of(kind)*100) / 100
		k.Points = k.Points[max(0, len(k.Points)-mostPoints):]
		out.Kinds = append(out.Kinds, *k)
	}
	for _, m := range months {
		out.Months = append(out.Months, *m)
	}
	slices.SortFunc(out.Kinds, func(a, b KindTook) int {
		return cmp.Or(cmp.Compare(b.Actual, a.Actual), cmp.Compare(a.Kind, b.Kind))
	})
	slices.SortFunc(out.Months, func(a, b Month) int { return cmp.Compare(b.Month, a.Month) })
	return out
}
