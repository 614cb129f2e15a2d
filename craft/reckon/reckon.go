package reckon

import (
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/caution"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/giving"
	"idletimber/craft/glue"
	"idletimber/craft/layout"
	"idletimber/craft/making"
	"idletimber/craft/plan"
	"idletimber/craft/sanding"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// Request is what a reckoning is asked for beside the boards themselves.
type Request struct {
	Weigh     string // id of a board: also what would help it, each tried, and what that would make worse
	Leftovers bool   // also what is left of the slab when the boards are cut out
}

// Reckoning is what a scene comes to.
type Reckoning struct {
	Slab   *Wood         `json:"slab,omitempty" doc:"What the slab comes to; left out where there is none"`
	Boards []Reckoned    `json:"boards" doc:"What each board comes to, in the order of the scene"`
	Taken  []Taken       `json:"taken" doc:"Places that hold no wood any more"`
	Plan   []plan.Course `json:"plan" doc:"The boards of the scene, then what is elsewhere"`
}

// Taken is the place of a board that was cut out and given away.
type Taken struct {
	ID   string `json:"id" doc:"Id of the board"`
	Name string `json:"name" doc:"Of the board"`
	Path string `json:"path" doc:"In the slab's frame"`
}

// Notch is one stage on the story stick.
type Notch struct {
	Stage  craft.Stage `json:"stage" doc:"Which stage it is"`
	Needed bool        `json:"needed" doc:"False for a stage that this board goes without"`
	Level  craft.Level `json:"level" doc:"The gravest of its verdicts"`
	Done   bool        `json:"done" doc:"All its steps are done"`
	Starts *time.Time  `json:"starts,omitempty" doc:"When its first step that is not done starts"`
	Ends   *time.Time  `json:"ends,omitempty" doc:"With its waits"`
}

// Help is a change that would bring the date nearer.
type Help struct {
	Label  string       `json:"label" doc:"What is changed"`
	Saves  float64      `json:"saves" doc:"Minutes"`
	Finish time.Time    `json:"finish" doc:"When the board would be ready"`
	Enough bool         `json:"enough" doc:"The date would be kept"`
	On     craft.Target `json:"on" enum:"board,piece,panel,shop" doc:"What the patch acts on"`
	Patch  craft.Patch  `json:"patch" doc:"JSON merge patch on that"`
}

// Figure is the value of one of its figures by its key; 0 where it has none.
func (r Reckoned) Figure(key string) float64 {
	for _, f := range r.Figures {
		if f.Key == key {
			return f.Value
		}
	}
	return 0
}

// Reckoned is what one board comes to.
type Reckoned struct {
	ID         string               `json:"id" doc:"Id of the board"`
	Path       string               `json:"path" doc:"Outline as SVG path data in the board's frame, mm"`
	Holes      []string             `json:"holes" doc:"The same of each hole"`
	Box        [4]float64           `json:"box" doc:"Bounds in the board's frame: min x, min y, max x, max y"`
	Parts      []glue.Drawn         `json:"parts,omitempty" doc:"What of its panel's parts it holds, in its frame"`
	Level      craft.Level          `json:"level" doc:"The gravest of its verdicts"`
	Stick      []Notch              `json:"stick" doc:"Its story stick, a notch for each stage"`
	Verdicts   []craft.Verdict      `json:"verdicts" doc:"Of all stages, the gravest first"`
	Figures    []craft.Figure       `json:"figures" doc:"Of all stages in their order"`
	Uses       []stage.Use          `json:"uses" doc:"What all stages take from the shelf, by step"`
	Shelf      []stage.Use          `json:"shelf" doc:"The same, alike things together"`
	Blank      layout.Blank         `json:"blank" doc:"What is cut out for it"`
	Cuts       []layout.Cut         `json:"cuts" doc:"In their order"`
	Makes      []making.Made        `json:"makes" doc:"Who makes each cut, hole, profile and recess"`
	Savings    []Saving             `json:"savings" doc:"What one more tool would save on it, the greatest first"`
	Share      float64              `json:"share" doc:"Its part of what its piece cost, and of the work of making that"`
	Milling    Milling              `json:"milling" doc:"How it is flattened and planed"`
	Budget     stock.Budget         `json:"budget" doc:"Its thickness from rough to sanded"`
	Whole      stock.Budget         `json:"wholeBudget" doc:"The same if the whole slab is flattened first"`
	Voids      []fill.Void          `json:"voids" doc:"What of the flaws falls within it"`
	Curing     *fill.Curing         `json:"curing,omitempty" doc:"How far its last pour has come; left out without one"`
	Pourings   []fill.Pouring       `json:"pourings,omitempty" doc:"Its pours, as far as they have come"`
	Drawn      []fill.Drawn         `json:"drawn" doc:"Its voids as they are numbered and drawn"`
	Ends       []fill.End           `json:"ends" doc:"What becomes of every mark where it is cut out"`
	Mix        *fill.Mix            `json:"mix,omitempty" doc:"Resin to mix; left out where none is"`
	Sanding    sanding.Plan         `json:"sanding" doc:"Its climb through the grits"`
	Sanded     []Sanded             `json:"sanded" doc:"Its surfaces as they are drawn, and how far each has come"`
	AtSander   AtSander             `json:"atSander" doc:"What is read and marked while it is sanded"`
	Finish     finish.Plan          `json:"finish" doc:"Its coats"`
	Oiled      Oiled                `json:"oiled" doc:"How it looks with its finish on, and stands while it dries"`
	Rim        *glue.Bent           `json:"rim,omitempty" doc:"Its rim, as it is bent"`
	Shape      Shape                `json:"shape" doc:"Its shape as it is drawn and worked"`
	Fittings   fitting.Fitted       `json:"fittings" doc:"What is put on it at the end"`
	Care       []string             `json:"care" doc:"Care note, line by line"`
	Gift       Gift                 `json:"gift" doc:"What goes with it"`
	Reversible bool                 `json:"reversible" doc:"Both of its faces may be used"`
	Size       board.Size           `json:"size" doc:"What the use and the people ask for"`
	Cautions   map[string][]Caution `json:"cautions" doc:"By key of the step"`
	Course     plan.Course          `json:"course" doc:"Its steps with their dates"`
	Helps      []Help               `json:"helps" doc:"What would help when it is too late; where it is asked for"`
}

// Caution is a caution at a step.
type Caution = caution.Caution

// Reckon reckons every board of a scene. The error, if any, is of type
// craft.Problems and says what in the scene cannot be reckoned with, or it is that of
// the scene's watch.
func Reckon(s Scene, ask Request) (Reckoning, error) {
	b, err := draw(s)
	if err != nil {
		return Reckoning{}, err
	}
	out := Reckoning{Boards: []Reckoned{}, Taken: []Taken{}}
	for i, d := range s.Taken {
		out.Taken = append(out.Taken, Taken{d.ID, d.Name, b.taken[i].Outline.SVG()})
	}
	var w work
	if s.Slab == nil {
		w, err = b.work()
	} else {
		out.Slab = &Wood{}
		b.glueUp() // which both ask for
		b.castRiver()
		craft.Both(func() { w, err = b.work() }, func() { *out.Slab = b.reckonWood() })
	}
	if err != nil {
		return Reckoning{}, err
	}
	out.Plan = w.courses
	b.showParts(&out)
	for i, l := range b.boards {
		if err := s.Watch.Ask(); err != nil {
			return Reckoning{}, err
		}
		r := l.reckon()
		r.Course = w.courses[i]
		r.Figures = append(r.Figures, w.dates(r.Course)...)
		if v, ok := l.inTime(r.Course); ok {
			r.Verdicts = gravestFirst(append(r.Verdicts, v))
			r.Level = craft.Worst(r.Verdicts)
		}
		if v, ok := l.tack(r.Course); ok {
			r.Verdicts = gravestFirst(append(r.Verdicts, v))
			r.Level = craft.Worst(r.Verdicts)
		}
		if v, ok := l.unwiped(r.Course); ok {
			r.Verdicts = gravestFirst(append(r.Verdicts, v))
			r.Level = craft.Worst(r.Verdicts)
		}
		r.Oiled = l.oiled(r.Course)
		r.Gift = l.gift(r.Course)
		r.Care = giving.Texts(r.Gift.Lines)
		r.stick(b.ready.Ready, l.board.Returned == nil)
		if out.Slab != nil && out.Slab.Parts != nil {
			r.glued(out.Slab.Parts.Course)
		}
		if out.Slab != nil && out.Slab.River != nil {
			r.glued(out.Slab.River.Course)
		}
		if r.ID == ask.Weigh {
			w.weigh(i, &r)
			r.Helps = w.helps(i)
		} else {
			craft.Bare(r.Verdicts)
		}
		out.Boards = append(out.Boards, r)
	}
	if out.Slab != nil {
		b.show(out.Slab, out.Boards)
		if ask.Leftovers {
			out.Slab.Offcuts = b.offcutsOf()
		}
	}
	return out, s.Watch.Ask() // what it broke off is no answer
}

// Dates dates all work of a scene, its slab's and elsewhere. It fails as
// Reckon does.
func Dates(s Scene) ([]plan.Course, error) {
	b, err := draw(s)
	if err != nil {
		return nil, err
	}
	w, err := b.work()
	return w.courses, err
}

// Improve looks for an order of all work of a scene in which it is late by less, sooner done and set up less often,
// for Scene.Order. It takes a second or two, and fails as Reckon does.
func Improve(s Scene) ([]string, error) {
	b, err := draw(s)
	if err != nil {
		return nil, err
	}
	w, err := b.work()
	if err != nil {
		return nil, err
	}
	steps := 0
	for _, c := range w.courses {
		for _, d := range c.Steps {
			if d.State != plan.Done {
				steps++
			}
		}
	}
	return w.planner.Improve(w.chains, 1, plan.Effort(steps), s.Watch), s.Watch.Ask()
}

// reckon gathers what the stages of a board come to.
func (l *laid) reckon() Reckoned {
	d, s, rules := l.board, l.shaped, l.on.Shop.Rules
	box := s.Outline.Bounds()
	r := Reckoned{
		ID: d.ID, Path: s.Path.ToSVG(), Holes: []string{}, Box: [4]float64{box.MinX, box.MinY, box.MaxX, box.MaxY},
		Blank: l.cutOut(), Cuts: l.cuts(), Makes: l.whoMakes(), Savings: l.savings(), Milling: l.milling(),
		Share: l.share(), Budget: l.budget(), Voids: l.voids(), Ends: l.ends(),
		Whole:    l.on.wood.Plan(l.flattened(true, l.thickness().filled), rules),
		Cautions: map[string][]Caution{}, Reversible: !l.oneSided(),
	}
	if l.on.Slab.Glue != nil {
		r.Parts = glue.Patches(l.patches())
	}
	if l.on.Slab.River != nil {
		r.Parts = l.sidesOf()
	}
	for _, h := range s.HolePaths {
		r.Holes = append(r.Holes, h.ToSVG())
	}
	var steps []plan.Step
	all := l.all()
	var figures, verdicts, uses int
	for _, record := range all {
		figures, verdicts, uses = figures+len(record.Figures), verdicts+len(record.Verdicts), uses+len(record.Uses)
	}
	r.Figures, r.Verdicts = make([]craft.Figure, 0, figures), make([]craft.Verdict, 0, verdicts)
	r.Uses = make([]stage.Use, 0, uses)
	for _, record := range all {
		r.Figures = append(r.Figures, record.Figures...)
		r.Verdicts = append(r.Verdicts, record.Verdicts...)
		r.Uses = append(r.Uses, record.Uses...)
		steps = append(steps, record.Steps...)
	}
	r.Uses = l.on.took(r.Uses, plan.Board(d.ID))
	r.Shelf, r.Pourings, r.Drawn = stage.Together(r.Uses), l.pourings(), l.drawnVoids()
	var minutes float64
	for _, step := range steps {
		minutes += step.Minutes
	}
	if v, ok := fill.Wormy(r.Voids, s.Area(), minutes); ok {
		r.Verdicts = append(r.Verdicts, v)
	}
	if c := l.curing(); c != nil {
		r.Curing, r.Verdicts = &c.Curing, append(r.Verdicts, c.Verdict())
	}
	r.Verdicts = gravestFirst(r.Verdicts)
	r.Level = craft.Worst(r.Verdicts)
	r.Mix, r.Sanding, r.Finish, r.Fittings = l.mix, l.sanding, l.finish, l.fitted
	r.Sanded, r.AtSander = l.sanded(), l.atSander()
	r.Shape, r.Rim = l.shape(), l.rim
	r.Size = board.SizeFor(d.Design, d.Give.Use, d.Give.People, rules)
	m := caution.Material{
		Woods: stock.SpeciesIn(l.made()), Reclaimed: l.on.wood.History.Reclaimed,
		Curing: l.finish.Curing, Paste: l.finish.Paste != nil,
	}
	r.Figures = append(r.Figures, noise(steps)...)
	m.Bowed, m.Short = l.on.wood.Rough.Bowed > layout.Bowed, r.Blank.Length()
	for _, step := range steps {
		if cs := caution.For(step.Kind, step.Tool(), m); len(cs) > 0 {
			r.Cautions[step.Key] = cs
		}
	}
	return r
}

// took puts what the finished steps of a subject have taken, as the log tells, in the place of what the plan takes for
// them: a plan that changes afterwards takes nothing back. The latest finish of a step counts.
func (b *drawn) took(planned []stage.Use, of plan.Subject) []stage.Use {
	done := map[string][]stage.Use{}
	var order []string
	for _, e := range b.Log {
		switch {
		case e.Subject != of:
		case e.Event == plan.Finish && e.Uses != nil:
			done[e.Step], order = e.Uses, append(order, e.Step)
		case e.Event == plan.Finish || e.Event == plan.Undo:
			delete(done, e.Step)
		case e.Uses != nil && done[e.Step] != nil: // weighed afterwards
			done[e.Step] = e.Uses
		}
	}
	if len(done) == 0 {
		return planned
	}
	out := make([]stage.Use, 0, len(planned))
	put := map[string]bool{}
	take := func(step string) {
		if !put[step] {
			put[step], out = true, append(out, done[step]...)
		}
	}
	for _, u := range planned {
		if _, ok := done[u.Step]; ok {
			take(u.Step)
		} else {
			out = append(out, u)
		}
	}
	for _, step := range order {
		take(step)
	}
	return out
}

// noise is how long machines run for a board, and how long the air is full of dust.
func noise(steps []plan.Step) []craft.Figure {
	var loud, dusty float64
	for _, s := range steps {
		if caution.Noisy(s.Kind) {
			loud += s.Minutes
		}
		if caution.Dusty(s.Kind) {
			dusty += s.Minutes
		}
	}
	figure := func(key, label string, minutes float64) craft.Figure {
		return craft.Figure{
			Key: key, Stage: craft.Give, Label: label, Value: minutes, Unit: craft.Minute,
			Formula: "hands-on minutes of its steps at machines, or in dust", Source: "the steps of its plan",
			Rule: true,
		}
	}
	return []craft.Figure{
		figure("give.noise", "With ears covered", loud), figure("give.dust", "With a respirator on", dusty),
	}
}

func gravestFirst(verdicts []craft.Verdict) []craft.Verdict {
	out := make([]craft.Verdict, 0, len(verdicts))
	for _, level := range []craft.Level{craft.Stop, craft.Mind, craft.Good} {
		for _, v := range verdicts {
			if v.Level == level {
				out = append(out, v)
			}
		}
	}
	return out
}

// stick draws the notches from the verdicts and the dated steps. Every board that is still to be cut lies somewhere.
func (r *Reckoned) stick(ready, uncut bool) {
	for _, notch := range craft.Stages {
		of := notch.Stage
		n := Notch{Stage: of, Level: craft.Good}
		for _, v := range r.Verdicts {
			if v.Stage == of && v.Level.Rank() > n.Level.Rank() {
				n.Level = v.Level
			}
		}
		steps, done := 0, 0
		for _, s := range r.Course.Steps {
			if s.Stage != of {
				continue
			}
			steps++
			if s.State == plan.Done {
				done++
			}
			if n.Starts == nil && s.Starts != nil {
				n.Starts = s.Starts
			}
			if s.WaitUntil != nil {
				n.Ends = s.WaitUntil
			}
		}
		n.Needed = steps > 0 || of == craft.Wood || of == craft.Layout && uncut
		n.Done = steps > 0 && done == steps || of == craft.Wood && ready
		r.Stick = append(r.Stick, n)
	}
}
