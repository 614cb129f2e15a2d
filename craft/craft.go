// Package craft holds the few words that every rule of the job shares: the
// stages of the work, a figure with its working, and a verdict with its way
// out. Nothing below this folder reads a file, a clock or a network.
//
// Units throughout: millimetres, mm², mm³ (ml where a liquid is meant), grams,
// degrees Celsius, minutes, percent moisture on the oven-dry basis, newtons and
// megapascals.
package craft

import (
	"cmp"
	"fmt"
	"math"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Gravity is the acceleration of free fall, m/s².
const Gravity = 9.81

// Stage is one notch on a board's story stick.
type Stage string

// The stages in the order in which a board goes through them.
const (
	Wood    Stage = "wood"
	Layout  Stage = "layout"
	Flatten Stage = "flatten"
	Glue    Stage = "glue"
	Fill    Stage = "fill"
	Shape   Stage = "shape"
	Sand    Stage = "sand"
	Finish  Stage = "finish"
	Fit     Stage = "fit"
	Give    Stage = "give"
)

// Stages lists every stage in working order.
var Stages = []NamedStage{
	{Wood, "Wood"}, {Layout, "Lay out"}, {Flatten, "Flatten"}, {Glue, "Glue"}, {Fill, "Fill"}, {Shape, "Shape"},
	{Sand, "Sand"}, {Finish, "Finish"}, {Fit, "Fit"}, {Give, "Give"},
}

// NamedStage is a stage as it stands on the story stick.
type NamedStage struct {
	Stage Stage  `json:"stage" doc:"As it stands in a file"`
	Name  string `json:"name" doc:"In the trade's words"`
}

// Unit names what a value is measured in. The interface shows it in the system
// that the workshop has chosen ([measure.Show]).
type Unit string

// The units that figures use.
const (
	MM      Unit = "mm"
	MM2     Unit = "mm²"
	CM2     Unit = "cm²"
	CM3     Unit = "cm³"
	M2      Unit = "m²"
	M3      Unit = "m³"
	ML      Unit = "ml"
	Gram    Unit = "g"
	KG      Unit = "kg"
	Minute  Unit = "min"
	Day     Unit = "d"
	Percent Unit = "%"
	Degree  Unit = "°"
	Celsius Unit = "°C"
	MPa     Unit = "MPa"
	Newton  Unit = "N"
	Micron  Unit = "µm"
	Count   Unit = ""
	Cents   Unit = "cents"
	Bit     Unit = "bit" // diameter of a tool, mm, shown as it is engraved on it
)

// Level is how a check came out.
type Level string

// The levels, mildest first.
const (
	Good Level = "good"
	Mind Level = "mind"
	Stop Level = "stop"
)

// Rank orders levels: 0 good, 1 mind, 2 stop.
func (l Level) Rank() int {
	switch l {
	case Stop:
		return 2
	case Mind:
		return 1
	}
	return 0
}

// Term is one value put into a formula.
type Term struct {
	Name  string  `json:"name" doc:"What it is"`
	Value float64 `json:"value" doc:"In the unit"`
	Unit  Unit    `json:"unit" doc:"Of the value"`
}

// Length writes a length of mm millimetres into a text: a number in braces, to a
// hundredth, which the interface shows in the workshop's unit.
func Length(mm float64) string { return fmt.Sprintf("{%g}", math.Round(mm*100)/100) }

// Capital is a text that begins with a capital letter.
func Capital(text string) string {
	r, size := utf8.DecodeRuneInString(text)
	if size == 0 {
		return ""
	}
	return string(unicode.ToUpper(r)) + text[size:]
}

// Size writes the diameter of a tool, mm, into a text.
func Size(mm float64) string { return In(math.Round(mm*1000)/1000, Bit) }

// In writes a value of any unit into a text: a number in braces with its unit,
// which the interface shows in the workshop's own.
func In(value float64, of Unit) string { return fmt.Sprintf("{%g %s}", value, of) }

// Figure is a number together with how it came about, so that a maker can
// check it with a pencil.
type Figure struct {
	Key     string  `json:"key" doc:"Stable name, such as neck.stress"`
	Stage   Stage   `json:"stage" doc:"Stage of the work that it belongs to"`
	Label   string  `json:"label" doc:"As it stands before the value"`
	Value   float64 `json:"value" doc:"In the unit"`
	Unit    Unit    `json:"unit" doc:"Of the value"`
	Formula string  `json:"formula" doc:"The formula in words"`
	Terms   []Term  `json:"terms" doc:"What was put into the formula"`
	Source  string  `json:"source" doc:"The rule or the publication behind it"`
	Rule    bool    `json:"rule" doc:"True when a rule of thumb takes part: the figure is an estimate"`
}

// Target is what a patch acts on.
type Target string

// What patches act on.
const (
	OnBoard Target = "board"
	OnPiece Target = "piece"
	OnPanel Target = "panel"
	OnShop  Target = "shop"
)

// Remedy is one change that answers a verdict. Label may hold "{}" where the
// amount belongs.
type Remedy struct {
	Label  string  `json:"label" doc:"What it does, with a pair of braces for the amount"`
	Amount float64 `json:"amount" doc:"Stands in the label for a pair of braces"`
	Unit   Unit    `json:"unit" doc:"Of the amount"`
	On     Target  `json:"on" enum:"board,piece,panel,shop" doc:"What the patch acts on"`
	Patch  Patch   `json:"patch" doc:"JSON merge patch on that"`

	Worsens string `json:"worsens,omitempty" doc:"What it would make worse elsewhere"`

	change func() Patch // the patch, worked out when it is wanted
}

// Later is a remedy whose patch is worked out when somebody wants to know ([Offered]).
func Later(label string, amount float64, unit Unit, change func() Patch) Remedy {
	return Remedy{Label: label, Amount: amount, Unit: unit, change: change}
}

// Mark is a place on the board, in the board's own frame, that a verdict
// points at: a line from A to B.
type Mark struct {
	AX float64 `json:"ax" doc:"One end, x in the board's frame, mm"`
	AY float64 `json:"ay" doc:"One end, y in the board's frame, mm"`
	BX float64 `json:"bx" doc:"The other end, x in the board's frame, mm"`
	BY float64 `json:"by" doc:"The other end, y in the board's frame, mm"`
}

// Verdict is the outcome of one check: what was found, the number against its
// limit, why it matters, and what would help.
type Verdict struct {
	Check    string   `json:"check" doc:"Stable name of the check"`
	Subject  string   `json:"subject" doc:"Which flaw, hole or machine it is about; empty when there is only one"`
	Stage    Stage    `json:"stage" doc:"Stage of the work that it belongs to"`
	Level    Level    `json:"level" enum:"good,mind,stop" doc:"Good, to be minded, or a stop"`
	Finding  string   `json:"finding" doc:"What was found, in a sentence"`
	Figure   Figure   `json:"figure" doc:"What was judged"`
	Limit    float64  `json:"limit" doc:"In the unit of the figure"`
	AtLeast  bool     `json:"atLeast" doc:"The figure should reach the limit; otherwise it should stay under it"`
	Reason   string   `json:"reason" doc:"Why it matters"`
	Remedies []Remedy `json:"remedies" doc:"Ways out, each tried"`
	Mark     *Mark    `json:"mark,omitempty" doc:"Where it is, on the drawing"`

	offer func() []Remedy // what would help, worked out when it is wanted
}

// Offer puts off working out what would help, which often takes drawing and
// judging again, until somebody wants to know.
func (v *Verdict) Offer(remedies func() []Remedy) { v.offer = remedies }

// Offered works out the remedies that verdicts offer.
func Offered(verdicts []Verdict) []Verdict {
	for i := range verdicts {
		if v := &verdicts[i]; v.offer != nil {
			v.Remedies, v.offer = append(v.Remedies, v.offer()...), nil
		}
		for k := range verdicts[i].Remedies { // where nothing is said it is the board, which most are about
			r := &verdicts[i].Remedies[k]
			r.On = cmp.Or(r.On, OnBoard)
			if r.change != nil {
				r.Patch, r.change = r.change(), nil
			}
		}
	}
	return verdicts
}

// Bare are verdicts without what would help.
func Bare(verdicts []Verdict) []Verdict {
	for i := range verdicts {
		verdicts[i].Remedies, verdicts[i].offer = nil, nil
	}
	return verdicts
}

// Worst is the most severe level among verdicts; Good when there are none.
func Worst(verdicts []Verdict) Level {
	worst := Good
	for _, v := range verdicts {
		if v.Level.Rank() > worst.Rank() {
			worst = v.Level
		}
	}
	return worst
}

// rounding is by what share a value may be off by the arithmetic alone: what lies at
// a limit is not beyond it.
const rounding = 1e-7

// Over judges a value that should stay under two limits.
func Over(value, mind, stop float64) Level {
	beyond := func(limit float64) bool { return value > limit+rounding*math.Max(1, math.Abs(limit)) }
	switch {
	case beyond(stop):
		return Stop
	case beyond(mind):
		return Mind
	}
	return Good
}

// Under judges a value that should reach two limits.
func Under(value, mind, stop float64) Level { return Over(-value, -mind, -stop) }

// Problem is a value in a document that is out of range or unknown.
type Problem struct {
	Field string `json:"field" doc:"Path of the field, such as slab.stations[2].x"`
	Wrong string `json:"wrong"`
	Right string `json:"right" doc:"What would be right"`
}

// Error joins the parts of a problem into one sentence.
func (p Problem) Error() string { return fmt.Sprintf("%s: %s; %s", p.Field, p.Wrong, p.Right) }

// Problems collects what is wrong with a document.
type Problems []Problem

// Error joins all problems.
func (ps Problems) Error() string {
	texts := make([]string, len(ps))
	for i, p := range ps {
		texts[i] = p.Error()
	}
	return strings.Join(texts, "\n")
}

// Add appends a problem.
func (ps *Problems) Add(field, wrong, right string) {
	*ps = append(*ps, Problem{field, wrong, right})
}

// Range adds a problem when v lies outside lo to hi; NaN lies outside.
func (ps *Problems) Range(field string, v, lo, hi float64) {
	if !(v >= lo && v <= hi) {
		ps.Add(field, fmt.Sprintf("%g is out of range", v), fmt.Sprintf("give a value from %g to %g", lo, hi))
	}
}

// Length adds a problem when a length in mm lies outside lo to hi.
func (ps *Problems) Length(field string, mm, lo, hi float64) {
	if !(mm >= lo && mm <= hi) {
		ps.Add(field, fmt.Sprintf("%g mm is out of range", mm), fmt.Sprintf("give a length from %g to %g mm", lo, hi))
	}
}

// OneOf adds a problem when v is none of the choices.
func (ps *Problems) OneOf(field, v string, choices ...string) {
	for _, c := range choices {
		if v == c {
			return
		}
	}
	ps.Add(field, fmt.Sprintf("%q is not known", v), fmt.Sprintf("choose one of %q", choices))
}
