package fill

import "math"

// A pour is taken as one lump that cures by itself and loses heat through its faces (rules, of
// epoxies for pouring): what it gives off over its own heat capacity, K, and how fast it cures.
const (
	gives    = 350.0 / 1.9 // J/g over J/(g·K)
	hasty    = 0.105       // of the curing rate at 25 °C, times the working hours
	hastiest = 60.0        // as fast as it ever cures, times the working hours
	capacity = 1100 * 1900 // J/(m³·K)
	toAir    = 18.0        // W/(m²·K), of both faces together
	through  = 1.6         // W/(m·K), of the resin and what it lies on
)

// Temper is how a pour stands at a moment.
type Temper struct {
	Hours float64 `json:"hours" doc:"Since it was poured"`
	Heat  float64 `json:"heat" doc:"Its temperature, °C"`
	Cured float64 `json:"cured" doc:"From 0, liquid, to 1"`
}

// Warming is how a pour warms and cures, from liquid until it cools.
type Warming struct {
	Peak  float64  `json:"peak" doc:"Its highest temperature, °C"`
	At    float64  `json:"at" doc:"Hours until then"`
	Curve []Temper `json:"curve" doc:"As it goes"`
	Cool  float64  `json:"cool" doc:"Up to which peak it is good, °C"`
	Hot   float64  `json:"hot" doc:"Over which peak it must not go, °C"`
}

// The highest temperatures, °C, at which a pour is safe, and at which it may pass (rules).
const (
	CoolPeak = 60
	HotPeak  = 80
)

// lump is a pour as one mass: working hours at 25 °C, the air about it, °C, and the depth
// through which it loses its heat, m: of a flat one its depth, of another shape twice its volume
// over its surface.
type lump struct{ working, air, depth float64 }

// rate is how the degree of cure and the temperature change in an hour.
func (l lump) rate(cured, heat float64) (cures, warms float64) {
	k := math.Min(hasty/l.working*math.Exp2((heat-25)/10), hastiest/l.working)
	cures = k * (1 - cured)
	u := 1 / (1/toAir + l.depth/through)
	return cures, gives*cures - u*3600/(capacity*l.depth)*(heat-l.air)
}

// step goes on by h hours (Runge and Kutta, fourth order).
func (l lump) step(t Temper, h float64) Temper {
	c1, w1 := l.rate(t.Cured, t.Heat)
	c2, w2 := l.rate(t.Cured+h/2*c1, t.Heat+h/2*w1)
	c3, w3 := l.rate(t.Cured+h/2*c2, t.Heat+h/2*w2)
	c4, w4 := l.rate(t.Cured+h*c3, t.Heat+h*w3)
	return Temper{t.Hours + h, t.Heat + h/6*(w1+2*w2+2*w3+w4), t.Cured + h/6*(c1+2*c2+2*c3+c4)}
}

// stride is how far one step may go: no farther than it may warm or cure noticeably, and no
// farther than its heat takes to flow off.
func (l lump) stride(t Temper) float64 {
	const warmer, further = 0.5, 0.01 // K, and of the degree of cure, a step
	cures, warms := l.rate(t.Cured, t.Heat)
	flows := 3600 / (1/toAir + l.depth/through) / (capacity * l.depth) // a h
	return min(l.working/4, further/cures, warmer/max(math.Abs(warms), 1e-9), 1/flows)
}

// mostSteps bounds the steps of a pour, whatever is asked.
const mostSteps = 20_000

// Warms reckons the heat of a pour of the kind, depth mm deep, in air of a temperature in °C: the
// depth of a flat one, of any other shape twice its volume over its surface, wood and tape counted
// as surface.
func (r Resin) Warms(depth, air float64) Warming {
	l := lump{r.Working / 60, air, math.Max(depth, 0.1) / 1000}
	t := Temper{Heat: air}
	out := Warming{Peak: air, Curve: []Temper{t}, Cool: CoolPeak, Hot: HotPeak}
	for range mostSteps {
		next := l.step(t, l.stride(t))
		if next.Heat > out.Peak {
			out.Peak, out.At = next.Heat, next.Hours
		}
		falls := next.Heat < t.Heat && next.Cured > 0.5
		t = next
		if last := out.Curve[len(out.Curve)-1]; t.Hours-last.Hours > l.working/8 || math.Abs(t.Heat-last.Heat) > 2 {
			out.Curve = append(out.Curve, t)
		}
		if falls || t.Cured > 0.995 {
			break
		}
	}
	out.Curve = append(out.Curve, t)
	return out
}

// WorkingIn is the working time in minutes of so many ml, mixed in a cup as high as wide, in air
// of a temperature in °C: until a tenth of it has cured.
func (r Resin) WorkingIn(ml, air float64) float64 {
	wide := math.Cbrt(4 / math.Pi * ml / 1e6) // m
	l := lump{r.Working / 60, air, math.Max(wide/3, 1e-4)}
	t := Temper{Heat: air}
	const set = 0.1
	for range mostSteps {
		next := l.step(t, l.stride(t))
		if next.Cured >= set {
			part := (set - t.Cured) / (next.Cured - t.Cured)
			return (t.Hours + part*(next.Hours-t.Hours)) * 60
		}
		t = next
	}
	return t.Hours * 60
}
