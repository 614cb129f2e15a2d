package fill

import (
	"fmt"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
)

// What is noted at a pour, one note after the other.
const (
	NoteTare     = "tare"     // the scale shows so many g with the cup on it
	NoteResin    = "resin"    // so many g were poured into the cup
	NoteHardener = "hardener" // so many g
	NotePigment  = "pigment"  // so many g
	NoteEnough   = "enough"   // less resin than was asked for is all there is, or all that is wanted
	NoteMix      = "mix"      // mixing begins
	NotePoured   = "poured"   // the batch is in the void
	NoteHeat     = "heat"     // a pass with the flame
	NoteTopUp    = "top-up"   // so many ml more were mixed and poured
	NoteLook     = "look"     // a look for leaks: so many ml were lost
	NoteLeak     = "leak"     // it leaks at a place
	NoteUsed     = "used"     // so many ml went in and stayed
	NoteHoles    = "holes"    // so many pinholes were found
)

// Notings are what may be noted at the dry run, at a pour and at a round of pinholes.
var Notings = func() []plan.Noting {
	const most, least = 100_000, 0.001 // g, or ml
	grams := func(before string) func(float64) string {
		return func(v float64) string { return before + craft.In(v, craft.Gram) }
	}
	ml := func(before, after string) func(float64) string {
		return func(v float64) string { return before + craft.In(v, craft.ML) + after }
	}
	leak := plan.Notable{What: NoteLeak, Place: "where it leaks", Says: plan.Says("it leaks")}
	holes := plan.Notable{What: NoteHoles, Most: 10_000, Says: func(v float64) string {
		if v == 0 {
			return "no pinholes left"
		}
		return fmt.Sprintf("%g pinholes", v)
	}}
	return []plan.Noting{
		{Steps: DamKey, What: []plan.Notable{leak}},
		{Steps: PinholeKey, Not: FlushKey, What: []plan.Notable{holes}},
		{Steps: PourKey, What: []plan.Notable{
			{What: NoteTare, Most: most, Says: grams("scale set to nought at ")},
			{What: NoteResin, Least: least, Most: most, Says: grams(NoteResin + ", ")},
			{What: NoteHardener, Least: least, Most: most, Says: grams(NoteHardener + ", ")},
			{What: NotePigment, Least: least, Most: most, Says: grams(NotePigment + ", ")},
			{What: NoteEnough, Says: plan.Says("no more resin")},
			{What: NoteMix, Says: plan.Says("mixing")},
			{What: NotePoured, Says: plan.Says("poured in")},
			{What: NoteHeat, Says: plan.Says("a pass with the flame")},
			{What: NoteTopUp, Least: least, Most: most, Says: ml("topped up, ", "")},
			{What: NoteLook, Most: most, Says: ml("looked at, ", " lost")},
			{What: NoteUsed, Most: most, Says: ml("", " went in")},
			leak, holes,
		}},
	}
}()

// LooksAt are the looks for pinholes in a log, the first round first.
func LooksAt(log []plan.Entry) (out []Look) {
	for round := 1; ; round++ {
		notes := plan.Notes(log, fmt.Sprintf("%s%d", PinholeKey, round))
		i := slices.IndexFunc(notes, func(e plan.Entry) bool { return e.What == NoteHoles })
		if i < 0 {
			return out
		}
		out = append(out, Look{round, int(notes[len(notes)-1].Value)})
	}
}

// The phases of a pour at the bench.
const (
	Weighing = "weigh"
	Mixing   = "mix"
	PourIn   = "pour"
	Watching = "watch"
	Settling = "account"
	Over     = "over"
)

// Ask is what is weighed next.
type Ask struct {
	What      string  `json:"what" enum:"resin,hardener,pigment" doc:"What goes into the cup"`
	Grams     float64 `json:"grams" doc:"How much more of it, g"`
	Tolerance float64 `json:"tolerance" doc:"More or less by so much is good, g"`
	Mends     bool    `json:"mends,omitempty" doc:"It mends that there is too much of the other part"`
	Short     bool    `json:"short,omitempty" doc:"Some is in; it may be left at that"`
}

// Weighed is what one batch holds, g.
type Weighed struct {
	Batch
	Ratio float64 `json:"ratio" doc:"Grams of hardener to 100 of resin"`
}

// LeakLook is a look for leaks after a pour.
type LeakLook struct {
	At   time.Time `json:"at" doc:"When it is due"`
	Done bool      `json:"done" doc:"It was made"`
	Lost float64   `json:"lost" doc:"What was lost by then, ml"`
	Away bool      `json:"away,omitempty" doc:"Nobody is at the bench then"`
}

// Pouring is how far a pour has come at the bench, by what was noted.
type Pouring struct {
	Step      string       `json:"step" doc:"Key of the pour"`
	Watch     string       `json:"watch" doc:"Key of the step at which it is watched"`
	Of        int          `json:"of" doc:"How many pours there are"`
	Kind      string       `json:"kind" doc:"Kind of resin"`
	Phase     string       `json:"phase" enum:"weigh,mix,pour,watch,account,over" doc:"What is done now"`
	Batches   int          `json:"batches" doc:"How many the pour is mixed in"`
	Batch     int          `json:"batch" doc:"Which one is in hand, from 1"`
	Wanted    Batch        `json:"wanted" doc:"What is weighed for one"`
	Weighed   []Weighed    `json:"weighed" doc:"What was weighed, batch by batch"`
	Ask       *Ask         `json:"ask,omitempty" doc:"What is weighed next"`
	Tare      float64      `json:"tare" doc:"What the scale shows with the cup and what is in it, g"`
	MixUntil  *time.Time   `json:"mixUntil,omitempty" doc:"Until then the batch is mixed"`
	WorkUntil *time.Time   `json:"workUntil,omitempty" doc:"So long the batch can be worked, in its cup"`
	Heat      int          `json:"heat" doc:"Passes with a flame so far"`
	HeatOf    int          `json:"heatOf" doc:"How many it bears"`
	TopUps    int          `json:"topUps" doc:"Times it was topped up"`
	TopUpsOf  int          `json:"topUpsOf" doc:"How often at the most"`
	TopUpML   float64      `json:"topUpMl" doc:"What is mixed for that, ml"`
	TopUp     Batch        `json:"topUp" doc:"The same by mass"`
	Looks     []LeakLook   `json:"looks" doc:"For leaks"`
	Leaks     []geom.Point `json:"leaks" doc:"Where it leaked in the dry run, in the slab's frame"`
	Net       float64      `json:"net" doc:"What its voids were reckoned to hold, ml"`
	Mixed     float64      `json:"mixed" doc:"What was mixed, ml"`
	Lost      float64      `json:"lost" doc:"What leaked away, ml"`
	Stayed    float64      `json:"stayed" doc:"What went in if the usual stayed in the cups, ml"`
	Used      float64      `json:"used" doc:"What went in and stayed, ml"`
	PouredAt  *time.Time   `json:"pouredAt,omitempty" doc:"When its last batch was in"`
	Last      string       `json:"last,omitempty" doc:"What was noted last, which may be taken back"`
}

// heatPasses is how often a flame or heat gun goes over a pour (rule): more overheats it.
const heatPasses = 2

// slack is how far a weight may be off, as a share of it; or one step of the scale where that is
// more (rule).
const slack = 0.02

// mixing is how long a batch of the kind is mixed (rule).
func (r Resin) mixing() time.Duration {
	const least, usual = time.Minute, 3 * time.Minute
	if r.Working < 10 {
		return least
	}
	return usual
}

// Follow reads the log of a pour of the mix, the i-th from 0, in a shop whose scale shows steps
// of so many g, in air of a temperature in °C. Here tells whether somebody is at the bench at a
// moment; nil where they always are.
func (m Mix) Follow(i int, log []plan.Entry, step, air float64, here func(time.Time) bool) Pouring {
	r := m.resin
	p := Pouring{
		Step: fmt.Sprintf(
			"%s%d",
			PourKey,
			i+1,
		), Watch: fmt.Sprintf("%s%d", WatchKey,
			i+1), Of: m.Pours, Kind: m.Kind, Phase: Weighing, Batches: m.Batches, Batch: 1,
		Wanted: m.Batch, Weighed: []Weighed{}, HeatOf: heatPasses, TopUpsOf: m.TopUps, TopUpML: m.TopUpML,
		Looks: []LeakLook{}, Leaks: []geom.Point{}, Net: m.Net.Value / float64(m.Pours),
	}
	p.TopUp.ResinG, p.TopUp.HardenerG = m.split(m.TopUpML)
	p.TopUp.PigmentG = m.pigmentIn(p.TopUp)
	for _, e := range plan.Notes(log, DamKey) {
		if e.What == NoteLeak && e.Place != nil {
			p.Leaks = append(p.Leaks, *e.Place)
		}
	}
	var cup cup
	var looks []plan.Entry
	for _, e := range plan.Notes(log, p.Step) {
		at := e.At
		p.Last = e.What
		switch e.What {
		case NoteTare:
			p.Tare = e.Value
		case NoteResin, NoteHardener, NotePigment:
			cup.add(e.What, e.Value)
			p.Tare += e.Value
		case NoteEnough:
			cup.enough = true
		case NoteMix:
			mixed, works := at.Add(
				r.mixing(),
			), at.Add(
				time.Duration(r.WorkingIn(cup.ml(r), air)*float64(time.Minute)),
			)
			p.MixUntil, p.WorkUntil, cup.mixes = &mixed, &works, true
		case NotePoured:
			p.Weighed, p.Mixed = append(p.Weighed, cup.weighed()), p.Mixed+cup.ml(r)
			p.PouredAt, cup, p.MixUntil, p.Tare = &at, newCup, nil, 0
		case NoteHeat:
			p.Heat++
		case NoteTopUp:
			p.TopUps, p.Mixed = p.TopUps+1, p.Mixed+e.Value
		case NoteLook:
			looks, p.Lost = append(looks, e), p.Lost+e.Value
		case NoteUsed:
			p.Used, p.Phase = e.Value, Over
		}
	}
	if cup != newCup {
		p.Weighed = append(p.Weighed, cup.weighed())
	}
	p.phase(m, cup, step)
	p.watched(m, looks, here)
	p.Stayed = max(0, p.Mixed-p.Lost-m.CupML*float64(len(p.Weighed)+p.TopUps))
	return p
}

// cup is what a batch holds so far, g.
type cup struct {
	Batch
	enough, mixes bool
}

var newCup cup

func (c *cup) add(what string, grams float64) {
	switch what {
	case NoteResin:
		c.ResinG += grams
	case NoteHardener:
		c.HardenerG += grams
	case NotePigment:
		c.PigmentG += grams
	}
}

// ml is its volume by the densities of the kind.
func (c cup) ml(r Resin) float64 { return c.ResinG/r.A + c.HardenerG/r.B }

func (c cup) weighed() Weighed {
	w := Weighed{Batch: c.Batch}
	if c.ResinG > 0 {
		w.Ratio = c.HardenerG / c.ResinG * 100
	}
	return w
}

// pigmentIn is how much pigment belongs into a batch, g.
func (m Mix) pigmentIn(b Batch) float64 {
	if mass := m.Batch.ResinG + m.Batch.HardenerG; mass > 0 {
		return m.Batch.PigmentG / mass * (b.ResinG + b.HardenerG)
	}
	return 0
}

// phase tells what is done next with what is in the cup.
func (p *Pouring) phase(m Mix, c cup, step float64) {
	if p.Phase == Over {
		return
	}
	poured := len(p.Weighed)
	if c != newCup {
		poured--
	}
	if p.Batch = poured + 1; poured >= m.Batches {
		p.Batch, p.Phase = m.Batches, Watching
		return
	}
	if c.mixes {
		p.Phase = PourIn
		return
	}
	if p.Ask = m.asks(c, step); p.Ask == nil {
		p.Phase = Mixing
	}
}

// asks tells what goes into the cup next; nil when all is in.
func (m Mix) asks(c cup, step float64) *Ask {
	off := func(grams float64) float64 { return max(slack*grams, step) }
	want, ratio := m.Batch.ResinG, m.Batch.HardenerG/m.Batch.ResinG
	if c.HardenerG == 0 && !c.enough && c.ResinG < want-off(want) {
		return &Ask{What: NoteResin, Grams: want - c.ResinG, Tolerance: off(want), Short: c.ResinG > 0}
	}
	hard := c.ResinG * ratio // of what was really poured
	switch {
	case c.HardenerG < hard-off(hard):
		return &Ask{What: NoteHardener, Grams: hard - c.HardenerG, Tolerance: off(hard), Mends: c.HardenerG > 0}
	case c.HardenerG > hard+off(hard):
		more := c.HardenerG / ratio
		return &Ask{What: NoteResin, Grams: more - c.ResinG, Tolerance: off(more), Mends: true}
	}
	if pigment := m.pigmentIn(c.Batch); pigment > 0 && c.PigmentG == 0 {
		return &Ask{What: NotePigment, Grams: pigment, Tolerance: off(pigment)}
	}
	return nil
}

// watched dates the looks for leaks, and what was seen at them.
func (p *Pouring) watched(m Mix, seen []plan.Entry, here func(time.Time) bool) {
	if p.PouredAt == nil || p.Batch < m.Batches || p.Phase == Weighing || p.Phase == Mixing || p.Phase == PourIn {
		return
	}
	for k, after := range m.looks() {
		look := LeakLook{At: p.PouredAt.Add(time.Duration(after * float64(time.Minute)))}
		if k < len(seen) {
			look.Done, look.Lost = true, seen[k].Value
		}
		// Whoever pours stays for the first looks, whatever the hour.
		later := after > firstLooks[len(firstLooks)-1]
		look.Away = !look.Done && later && here != nil && !here(look.At)
		p.Looks = append(p.Looks, look)
	}
	left := slices.ContainsFunc(p.Looks, func(l LeakLook) bool { return !l.Done && !l.Away })
	if p.Phase == Watching && !left {
		p.Phase = Settling
	}
}

// Sample is what the pour teaches; ok is false before it is over.
func (p Pouring) Sample() (s Poured, ok bool) {
	return Poured{p.Net, p.Mixed, p.Used, p.Lost, float64(len(p.Weighed) + p.TopUps)}, p.Phase == Over
}

// Drawn is a void as it is drawn on its board, in the board's frame.
type Drawn struct {
	Number int          `json:"number" doc:"As it is called on the drawing and the pour card, from 1"`
	Void   string       `json:"void" doc:"Id of its flaw"`
	At     geom.Point   `json:"at" doc:"Where its number stands"`
	Paths  []string     `json:"paths" doc:"Its outline, level by level where it goes through askew, as SVG path data"`
	Outs   []geom.Point `json:"outs" doc:"Where it runs out of the outline"`
}

// AsWeighed are uses with what pours really took, where it was weighed: the parts of the batches at the pour, and of
// the times that it was topped up at its watch.
func AsWeighed(uses []stage.Use, pours []Pouring) []stage.Use {
	out := slices.Clone(uses)
	for _, p := range pours {
		for i, u := range out {
			var each []Batch
			switch {
			case u.Step == p.Step && len(p.Weighed) > 0:
				for _, w := range p.Weighed {
					each = append(each, w.Batch)
				}
			case u.Step == p.Watch && len(p.Weighed) > 0:
				each = slices.Repeat([]Batch{p.TopUp}, p.TopUps)
			default:
				continue
			}
			out[i].Amount = 0
			for _, b := range each {
				switch u.Kind {
				case stage.Resin:
					out[i].Amount += b.ResinG
				case stage.Hardener:
					out[i].Amount += b.HardenerG
				default:
					out[i].Amount += b.PigmentG
				}
			}
		}
	}
	return slices.DeleteFunc(out, func(u stage.Use) bool { return u.Amount <= 0 })
}
