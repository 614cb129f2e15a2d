package fill

import (
	"time"

	"idletimber/craft"
)

// Warmth is a temperature of the room that was read at a moment, °C.
type Warmth struct {
	At      time.Time `json:"at" doc:"When"`
	Celsius float64   `json:"celsius" range:"-40,80" doc:"°C"`
}

// holdsFor is how long a reading stands for the room when no other comes (rule).
const holdsFor = 6 * time.Hour

// Room is the warmth of the room: as it was read, oldest first, and as it usually is, °C. About a
// pour in a warm box it is never less than that is kept at.
type Room struct {
	Read  []Warmth
	Usual float64
	Box   float64 // 0 without one
}

// stretches goes through the room's warmth from a moment on, stretch by stretch; the last one has
// no end. It ends when yield is false.
func (m Room) stretches(from time.Time, yield func(until time.Time, endless bool, celsius float64) bool) {
	at, usual := from, max(m.Usual, m.Box)
	for i, r := range m.Read {
		ends := r.At.Add(holdsFor)
		if i+1 < len(m.Read) && m.Read[i+1].At.Before(ends) {
			ends = m.Read[i+1].At
		}
		if !ends.After(at) {
			continue
		}
		if r.At.After(at) {
			if !yield(r.At, false, usual) {
				return
			}
			at = r.At
		}
		if !yield(ends, false, max(r.Celsius, m.Box)) {
			return
		}
		at = ends
	}
	yield(time.Time{}, true, usual)
}

// pace is how fast a kind cures at a temperature, to that at 25 °C; none below its least.
func (r Resin) pace(celsius float64) float64 {
	if celsius < r.Coldest {
		return 0
	}
	return 1 / slower(celsius)
}

// Cured is how many hours at 25 °C a pour has had from one moment to another in a room, and how
// many hours it lay too cold, which count for nothing.
func (r Resin) Cured(m Room, from, to time.Time) (hours, cold float64) {
	at := from
	m.stretches(from, func(until time.Time, endless bool, celsius float64) bool {
		if endless || until.After(to) {
			until = to
		}
		if h := until.Sub(at).Hours(); h > 0 {
			hours += h * r.pace(celsius)
			if r.pace(celsius) == 0 {
				cold += h
			}
		}
		at = until
		return at.Before(to)
	})
	return hours, cold
}

// CuresBy is the moment at which a pour of a moment has had so many hours at 25 °C; ok is false
// where the room as it usually is never brings it there.
func (r Resin) CuresBy(m Room, from time.Time, hours float64) (when time.Time, ok bool) {
	at, left := from, hours
	m.stretches(from, func(until time.Time, endless bool, celsius float64) bool {
		pace := r.pace(celsius)
		if pace > 0 && (endless || until.Sub(at).Hours()*pace >= left) {
			when, ok = at.Add(time.Duration(left/pace*float64(time.Hour))), true
			return false
		}
		if !endless {
			left -= until.Sub(at).Hours() * pace
			at = until
		}
		return !endless
	})
	return when, ok
}

// Curing is how far the last pour on a board has come, by the warmth that it really had.
type Curing struct {
	Kind    string     `json:"kind" doc:"The resin that was poured"`
	Poured  time.Time  `json:"poured" doc:"When"`
	Had     float64    `json:"had" doc:"Hours at 25 °C until now"`
	Needs   float64    `json:"needs" doc:"Hours at 25 °C until it can be sanded"`
	Cold    float64    `json:"cold" doc:"Hours that it lay too cold, which count for nothing"`
	Coldest float64    `json:"coldest" doc:"Below which it does not cure, °C"`
	Demould *time.Time `json:"demould,omitempty" doc:"Off the dam from then; left out where it never comes there"`
	From    *time.Time `json:"from,omitempty" doc:"The next pour bonds from then; left out after the last"`
	Until   *time.Time `json:"until,omitempty" doc:"It bonds until then; later the last one is sanded dull first"`
	Sand    *time.Time `json:"sand,omitempty" doc:"Sanded from then"`
	Full    *time.Time `json:"full,omitempty" doc:"Cured through"`
	Read    []Warmth   `json:"read" doc:"The room since it was poured"`
}

// CuringOf reckons how far a pour of a kind has come by now, and when it comes to what is next if
// the room is as usual from here on.
func CuringOf(r Resin, m Room, poured, now time.Time, another bool) Curing {
	c := Curing{Kind: r.Name, Poured: poured, Needs: r.SandHours, Coldest: r.Coldest, Read: []Warmth{}}
	c.Had, c.Cold = r.Cured(m, poured, now)
	by := func(hours float64) *time.Time {
		if when, ok := r.CuresBy(m, poured, hours); ok {
			return &when
		}
		return nil
	}
	c.Demould, c.Sand, c.Full = by(r.DemouldH), by(r.SandHours), by(r.FullDays*24)
	if c.Sand != nil && c.Sand.Before(now) { // cold that comes later does it no harm
		_, c.Cold = r.Cured(m, poured, *c.Sand)
	}
	if another && r.TackFrom > 0 {
		c.From, c.Until = by(r.TackFrom), by(r.TackTo)
	}
	for _, w := range m.Read {
		if !w.At.Add(holdsFor).Before(poured) {
			c.Read = append(c.Read, w)
		}
	}
	return c
}

// warmer is how far above its least temperature a room or a box is brought that was too cold, K
// (rule).
const warmer = 4

// Verdict judges whether the pour has lain too cold.
func (c Curing) Verdict() craft.Verdict {
	v := craft.Verdict{
		Check: "resin-cold", Stage: craft.Fill, Level: craft.Good, Finding: "The pour has been warm enough",
		Reason: "Below its least temperature resin does not cure: it stays soft, however long it lies.",
		Figure: craft.Figure{
			Key: "fill.cold", Stage: craft.Fill, Label: "Lay too cold for", Value: c.Cold * 60, Unit: craft.Minute,
			Formula: "hours since it was poured in which the room read less than the kind's least temperature",
			Terms: []craft.Term{
				{Name: "its least temperature", Value: c.Coldest, Unit: craft.Celsius},
				{Name: "of the cure so far, at {25 °C}", Value: c.Had * 60, Unit: craft.Minute},
			},
			Source: "readings of the room; as usual where there are none",
		},
	}
	warm := "warm the room, or a box over it, to " + craft.In(c.Coldest+warmer, craft.Celsius) +
		"; a lamp is never left alone"
	if c.Cold > 0 {
		v.Level, v.Finding = craft.Mind, "It has lain too cold: "+warm
	}
	if c.Sand == nil {
		v.Level, v.Finding = craft.Stop, "In this room it never hardens: "+warm
		v.Remedies = []craft.Remedy{{
			Label: "Warm a box over it", Patch: craft.Patch{"fill": map[string]any{"warm": c.Coldest + warmer}},
		}}
	}
	return v
}
