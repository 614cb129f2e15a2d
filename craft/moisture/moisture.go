// Package moisture reckons how wet wood is, where it is heading, and how it
// moves: percent of the oven-dry mass, °C, days, mm.
package moisture

import (
	"fmt"
	"math"
	"sort"
	"time"

	"idletimber/craft"
	"idletimber/craft/rule"
)

// Reading is one reading of a meter.
type Reading struct {
	At      time.Time `json:"at" doc:"When it was read"`
	Percent float64   `json:"percent" range:"0.5,200,when" doc:"Of the wood's dry mass"`
	Below   bool      `json:"below" doc:"Below the meter's range, which is not zero"`

	Correction float64 `json:"correction,omitempty" range:"-10,10,when" doc:"Points added to what the meter showed"`
	By         string  `json:"by,omitempty" doc:"The instrument that it was taken with; typed when left out"`
}

// Value is the moisture that a reading stands for: what the meter showed, corrected.
func (r Reading) Value() float64 { return max(0, r.Percent+r.Correction) }

// Meter is how the shop's moisture meter reads.
type Meter struct {
	Correction float64 `json:"correction" range:"-10,10" doc:"Points to add to what it shows"`
	Lowest     float64 `json:"lowest" range:"0,20" doc:"Below this it shows nothing that is true, %"`
}

// Check reports a meter that cannot be.
func (m Meter) Check(field string) (ps craft.Problems) {
	ps.InRange(field, m)
	return ps
}

// Read is a reading that the meter shows as percent at a moment.
func (m Meter) Read(percent float64, at time.Time) Reading {
	return Reading{At: at, Percent: percent, Below: percent < m.Lowest, Correction: m.Correction}
}

// Check reports readings that cannot be.
func Check(field string, readings []Reading, now time.Time) (ps craft.Problems) {
	if len(readings) > 1000 {
		ps.Add(field, "there are too many readings", "keep at most 1000")
	}
	for i, r := range readings {
		at := fmt.Sprintf("%s[%d]", field, i)
		if !r.Below {
			ps.InRangeOf(at, r, "percent")
		}
		ps.InRangeOf(at, r, "correction")
		if r.At.Year() < 1970 || r.At.After(now.Add(24*time.Hour)) {
			ps.Add(at+".at", "the date lies in the future or is missing", "give the day on which it was read")
		}
	}
	return ps
}

// Air is a climate.
type Air struct {
	Temperature float64 `json:"temperature" range:"-20,45" doc:"°C"`
	Humidity    float64 `json:"humidity" range:"1,99" doc:"Relative humidity, %"`
}

// Check reports a climate that nobody works in.
func (a Air) Check(field string) (ps craft.Problems) {
	ps.InRange(field, a)
	return ps
}

// EMC is the moisture at which wood rests in this air, % (Wood Handbook,
// equation 4-5).
func (a Air) EMC() float64 {
	t, h := a.Temperature, a.Humidity/100
	w := 349 + 1.29*t + 0.0135*t*t
	k := 0.805 + 0.000736*t - 0.00000273*t*t
	k1 := 6.27 - 0.00938*t - 0.000303*t*t
	k2 := 1.91 + 0.0407*t - 0.000293*t*t
	kh := k * h
	return 1800 / w * (kh/(1-kh) + (k1*kh+2*k1*k2*kh*kh)/(1+k1*kh+k1*k2*kh*kh))
}

// Home is the room that a board will live in, through the year.
type Home struct {
	Heating Air `json:"heating" doc:"Its air in the heating season"`
	Summer  Air `json:"summer" doc:"Its air in summer"`
}

// UsualHome is a heated house.
var UsualHome = Home{Heating: Air{21, 35}, Summer: Air{23, 60}}

// Check reports seasons that nobody lives in.
func (h Home) Check(field string) craft.Problems {
	return append(h.Heating.Check(field+".heating"), h.Summer.Check(field+".summer")...)
}

// Place is a kind of home by name.
type Place struct {
	Name string `json:"name"`
	Home Home   `json:"home"`
}

// Places lists homes that boards go to (rules; a room sensor or the maker
// knows better).
var Places = []Place{
	{"a heated house", UsualHome},
	{"a cool or damp house", Home{Heating: Air{15, 62}, Summer: Air{20, 65}}},
	{"a house by the sea", Home{Heating: Air{20, 52}, Summer: Air{23, 70}}},
	{"a house in a dry country", Home{Heating: Air{20, 22}, Summer: Air{26, 30}}},
	{"a house in the humid tropics", Home{Heating: Air{26, 74}, Summer: Air{28, 80}}},
	{"a house with cooled air", Home{Heating: Air{21, 38}, Summer: Air{24, 50}}},
}

// Target is what a piece should come to rest at: the home's mean, or what the
// same meter reads on a piece that has lived there.
type Target struct {
	Home      Home
	Reference float64 // %; 0 without one
}

// Mean is the moisture to aim at, %.
func (t Target) Mean() float64 {
	if t.Reference > 0 {
		return t.Reference
	}
	return t.Home.Mean()
}

// Mean is the moisture about which the wood will swing, %.
func (h Home) Mean() float64 { return (h.Heating.EMC() + h.Summer.EMC()) / 2 }

// Swing is the change of moisture between the seasons, percent points.
func (h Home) Swing() float64 { return math.Abs(h.Summer.EMC() - h.Heating.EMC()) }

// Readiness tells whether a piece agrees with the home it goes to.
type Readiness struct {
	Verdict craft.Verdict `json:"verdict"`
	Ready   bool          `json:"ready"`
	Latest  float64       `json:"latest" doc:"Latest reading, %; 0 without one"`
}

// Judge compares the log with the home: within the band of its mean, and the
// last two readings, some days apart, agree.
func Judge(readings []Reading, to Target, rules rule.Set) Readiness {
	band, drift, apart := rules.Get(rule.ReadyBand), rules.Get(rule.ReadyDrift), rules.Get(rule.ReadyDays)
	home, target := to.Home, to.Mean()
	v := craft.Verdict{
		Check: "moisture", Stage: craft.Wood, Level: craft.Mind, Limit: band,
		Reason: "Wood that has not come to rest moves after it is cut: it twists, cups and opens its joints in the " +
			"first heating season.",
		Figure: craft.Figure{
			Key: "wood.moisture", Stage: craft.Wood, Label: "Away from the home's mean", Unit: craft.Percent,
			Formula: "latest reading − mean of the home's heating season and summer",
			Terms: []craft.Term{
				{Name: "heating season rests at", Value: home.Heating.EMC(), Unit: craft.Percent},
				{Name: "summer rests at", Value: home.Summer.EMC(), Unit: craft.Percent},
				{Name: "home's mean", Value: target, Unit: craft.Percent},
			},
			Source: "Wood Handbook, equation 4-5", Rule: true,
		},
	}
	if to.Reference > 0 {
		v.Figure.Label, v.Figure.Formula = "Away from the home-dry piece",
			"latest reading − reading of the same meter on a piece that has lived in the home"
		v.Figure.Terms = []craft.Term{{Name: "home-dry piece", Value: target, Unit: craft.Percent}}
	}
	log := sorted(readings)
	if len(log) == 0 || log[len(log)-1].Below { // nothing is known that could be away from anything
		v.Figure.Label, v.Figure.Unit, v.Figure.Rule = "Readings that tell a number", craft.Count, false
		v.Figure.Formula = "moisture readings within the meter's range, the last one of them"
		v.Limit, v.AtLeast = 1, true
	}
	if len(log) == 0 {
		v.Finding = "No moisture reading yet. Read it with a meter before you cut"
		return Readiness{Verdict: v}
	}
	last := log[len(log)-1]
	if last.Below {
		v.Finding = "The last reading is below the meter's range: dry, but how dry is not known"
		return Readiness{Verdict: v}
	}
	now := last.Value()
	away := math.Abs(now - target)
	v.Figure.Value = away
	v.Figure.Terms = append(v.Figure.Terms, craft.Term{Name: "latest reading", Value: now, Unit: craft.Percent})
	out := Readiness{Latest: now}
	switch before := apartFrom(log, apart); {
	case away > band && now > target:
		v.Finding = "Still damp for the home it goes to"
	case away > band:
		v.Finding = "Drier than the home it goes to; it will swell"
	case before == nil:
		v.Finding = "In balance by one reading; read it again some days later to be sure"
	case math.Abs(before.Value()-now) > drift+rounding:
		v.Finding = "In the band, and still moving between the last two readings"
	default:
		v.Finding, v.Level, out.Ready = "In balance with the home it goes to", craft.Good, true
	}
	out.Verdict = v
	return out
}

// apartFrom is the latest reading at least days before the last one.
func apartFrom(log []Reading, days float64) *Reading {
	last := log[len(log)-1]
	for i := len(log) - 2; i >= 0; i-- {
		if !log[i].Below && last.At.Sub(log[i].At).Hours()/24 >= days {
			return &log[i]
		}
	}
	return nil
}

func sorted(readings []Reading) []Reading {
	log := append([]Reading(nil), readings...)
	sort.SliceStable(log, func(i, j int) bool { return log[i].At.Before(log[j].At) })
	return log
}

// rounding is what sums of readings may be off by, %.
const rounding = 1e-9

// thicknessPower is how the time constant goes with the thickness (rule).
const thicknessPower = 1.8

// Tau is the time constant of drying for a thickness in mm, days (rule).
func Tau(thickness float64, rules rule.Set) float64 {
	return rules.Get(rule.DryingDays) * math.Pow(thickness/25, thicknessPower)
}

// DaysTo is how long wood takes from one moisture to another toward emc with
// the time constant tau, days; +Inf when it never gets there.
func DaysTo(from, to, emc, tau float64) float64 {
	if (from-to)*(from-emc) <= 0 {
		return 0
	}
	if (to-emc)*(from-emc) <= 0 {
		return math.Inf(1)
	}
	return tau * math.Log((from-emc)/(to-emc))
}

// Drying is where a piece is heading in the shop's air.
type Drying struct {
	Known  bool    `json:"known" doc:"False with fewer than two readings: no trend is claimed"`
	Fitted bool    `json:"fitted" doc:"Fitted to three or more readings; otherwise the rule by thickness"`
	EMC    float64 `json:"emc" doc:"Where the shop's air would bring it, %"`
	Tau    float64 `json:"tau" doc:"Days"`
	Low    float64 `json:"low" doc:"Days to the band, at the quickest"`
	Days   float64 `json:"days" doc:"Days from the last reading until the home's band; with one reading by the rule"`
	High   float64 `json:"high" doc:"Days to the band, at the slowest"`
	Never  bool    `json:"never" doc:"The shop's air will not bring it there"`

	ReadyAt *time.Time `json:"readyAt,omitempty" doc:"When the trend reaches the home's band"`
	Curve   []Point    `json:"curve" doc:"Where it came from and where it is heading; empty when no trend is claimed"`
	Thinner []Thinner  `json:"thinner" doc:"What milling it thinner first would save"`

	Read  time.Time `json:"read" doc:"When it was last read"`
	above float64   // what it lies above the rest at the last reading, %
}

// Thinner is how long a piece takes when it is milled to a thickness first.
type Thinner struct {
	Thickness float64 `json:"thickness" doc:"mm"`
	Days      float64 `json:"days" doc:"Until the home's band is reached"`
	Saves     float64 `json:"saves" doc:"Days"`
}

// At is the moisture that the trend leads to at a moment, %; with one reading
// by the rule, with none where it rests.
func (d Drying) At(t time.Time) float64 {
	return d.EMC + d.above*math.Exp(-t.Sub(d.Read).Hours()/24/d.Tau)
}

func hours(days float64) time.Duration { return time.Duration(days * 24 * float64(time.Hour)) }

// Point is a place on the drying curve, with the band that the trend leaves
// open.
type Point struct {
	At      time.Time `json:"at" doc:"When"`
	Percent float64   `json:"percent" doc:"Of the wood's dry mass"`
	Low     float64   `json:"low" doc:"If it dries at its quickest"`
	High    float64   `json:"high" doc:"If it dries at its slowest"`
}

// Loses is how many points it still loses in the shop's air, %; 0 where no trend is known.
func (d Drying) Loses() float64 { return max(0, d.above) }

// The next reading is worth while when half a point is to be seen, and never sooner than
// after so many days (rules).
const (
	worthReading = 0.5
	soonest      = 5
)

// NextReading is the day on which a damp piece is read again: when half a point less is
// expected since the last reading, at least five days after it; nil where it dries no more.
func (d Drying) NextReading() *time.Time {
	if d.Read.IsZero() || d.above <= worthReading || d.Tau <= 0 {
		return nil
	}
	at := d.Read.Add(hours(max(soonest, -d.Tau*math.Log(1-worthReading/d.above))))
	return &at
}

// Dry fits the log toward the shop's air: MC(t) = EMC + (MC0 − EMC)·e^(−t/τ).
// The thickness in mm is that of the piece as it lies.
func Dry(readings []Reading, shop Air, to Target, thickness float64, rules rule.Set) Drying {
	var log []Reading
	for _, r := range sorted(readings) {
		if !r.Below {
			log = append(log, r)
		}
	}
	out := Drying{EMC: shop.EMC(), Tau: Tau(thickness, rules), Curve: []Point{}, Thinner: []Thinner{}}
	if n := len(log); n > 0 {
		out.Read, out.above = log[n-1].At, log[n-1].Value()-out.EMC
	}
	if len(log) == 0 {
		return out
	}
	out.Known = len(log) > 1 // with one, the days are those of the rule, and no trend is claimed
	spread, above := 0.3, out.above
	if len(log) >= 3 {
		if tau, start, se, ok := fit(log, out.EMC); ok {
			out.Fitted, out.Tau = true, tau
			spread = max(spread, se/tau)
			above = start * math.Exp(-days(log)/tau)
		}
	}
	last := log[len(log)-1]
	now := last.Value()
	goal := to.Mean() + math.Copysign(rules.Get(rule.ReadyBand), now-to.Mean())
	away := now - to.Mean() // of the band's middle; the air may take it farther
	switch out.Days = DaysTo(now, goal, out.EMC, out.Tau); {
	case math.Abs(away) <= rules.Get(rule.ReadyBand)+rounding:
		out.Days = 0
	case math.IsInf(out.Days, 1), away*(now-out.EMC) <= 0:
		out.Days, out.Never = 0, true
	}
	out.Low, out.High = out.Days*max(0, 1-spread), out.Days*(1+spread)
	out.Read, out.above = last.At, above
	if out.Days > 0 {
		at := last.At.Add(hours(out.Days))
		out.ReadyAt = &at
	}
	if !out.Known {
		return out
	}
	out.Curve = curve(log, out, above, spread)
	for _, share := range []float64{0.85, 0.7, 0.5} {
		if t := math.Round(thickness * share); out.Days > 0 && t >= 8 {
			days := out.Days * math.Pow(t/thickness, thicknessPower)
			out.Thinner = append(out.Thinner, Thinner{t, days, out.Days - days})
		}
	}
	return out
}

// Milled is how a piece dries on that is milled from one thickness to another, mm, at a
// moment: by the rule for thickness.
func (d Drying) Milled(at time.Time, from, to float64) Drying {
	if d.ReadyAt == nil || !d.ReadyAt.After(at) || to >= from || from <= 0 {
		return d
	}
	share := math.Pow(to/from, thicknessPower)
	d.above = d.At(at) - d.EMC
	ready := at.Add(time.Duration(share * float64(d.ReadyAt.Sub(at))))
	d.Read, d.ReadyAt, d.Tau = at, &ready, d.Tau*share
	d.Days, d.Low, d.High = ready.Sub(at).Hours()/24, d.Low*share, d.High*share
	return d
}

// days is how long the log has been kept.
func days(log []Reading) float64 { return log[len(log)-1].At.Sub(log[0].At).Hours() / 24 }

// curve draws the trend, which at the last reading lies so much above the
// moisture at which the wood rests: back to the first reading where it was
// fitted, and ahead until the band is surely reached, or a time constant where
// it never is.
func curve(log []Reading, d Drying, above, spread float64) []Point {
	const steps = 40
	last := log[len(log)-1]
	from, ahead := 0.0, max(7, 1.15*d.High)
	if d.Fitted {
		from = -days(log)
	}
	if d.Never || d.Days == 0 {
		ahead = max(7, d.Tau)
	}
	at := func(days, tau float64) float64 { return d.EMC + above*math.Exp(-days/tau) }
	out := make([]Point, 0, steps+1)
	for i := range steps + 1 {
		day := from + (ahead-from)*float64(i)/steps
		p := Point{At: last.At.Add(hours(day)).Truncate(time.Minute), Percent: at(day, d.Tau)}
		p.Low, p.High = p.Percent, p.Percent
		if day > 0 {
			p.Low, p.High = at(day, d.Tau*max(0.05, 1-spread)), at(day, d.Tau*(1+spread))
		}
		out = append(out, p)
	}
	return out
}

// fit finds τ between 2 and 400 days by least squares, the moisture above emc
// at the first reading following from it, and the standard error of τ.
func fit(log []Reading, emc float64) (tau, start, se float64, ok bool) {
	t := make([]float64, len(log))
	for i, r := range log {
		t[i] = r.At.Sub(log[0].At).Hours() / 24
	}
	startOf := func(tau float64) float64 {
		var top, bottom float64
		for i, r := range log {
			e := math.Exp(-t[i] / tau)
			top, bottom = top+(r.Value()-emc)*e, bottom+e*e
		}
		return top / bottom
	}
	residual := func(tau float64) float64 {
		start := startOf(tau)
		var sum float64
		for i, r := range log {
			d := r.Value() - emc - start*math.Exp(-t[i]/tau)
			sum += d * d
		}
		return sum
	}
	best := math.Inf(1)
	for k := range 801 { // a geometric sweep is sure where a descent could stick
		if try := 2 * math.Pow(200, float64(k)/800); residual(try) < best {
			best, tau = residual(try), try
		}
	}
	if tau <= 2 || tau >= 399 {
		return 0, 0, 0, false
	}
	h := tau * 0.01
	curvature := (residual(tau+h) - 2*best + residual(tau-h)) / (h * h)
	if curvature <= 0 {
		return 0, 0, 0, false
	}
	variance := best / float64(max(1, len(log)-2))
	return tau, startOf(tau), math.Sqrt(2 * variance / curvature), true
}

// Coefficient is the movement across the face per percent of moisture for
// rings at an angle to the wide face: 0 plain-sawn, 90 quarter-sawn.
func Coefficient(ct, cr, ringAngle float64) float64 {
	sin, cos := math.Sincos(ringAngle * math.Pi / 180)
	return ct*cos*cos + cr*sin*sin
}

// CupDrying is the hollow in mm of a width that dries evenly by points
// percent, with rings of the given radius at the face.
func CupDrying(width, ringRadius, ct, cr, points float64) float64 {
	return width / 2 * math.Atan(width/(2*ringRadius)) * (ct - cr) * points
}

// CupWet is the hollow in mm of a width whose one face is points percent
// wetter than the other.
func CupWet(width, thickness, coefficient, points float64) float64 {
	return width * width / 8 * coefficient * points / thickness
}
