package reckon

import (
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/caution"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/geom"
	"idletimber/craft/layout"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/sanding"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
)

// Reckoning is what a job comes to.
type Reckoning struct {
	Slab   *Wood         `json:"slab,omitempty"`
	Boards []Reckoned    `json:"boards"`
	Taken  []Taken       `json:"taken" doc:"Places that hold no wood any more"`
	Plan   []plan.Course `json:"plan" doc:"The boards of the job, then those elsewhere"`
}

// Taken is the place of a board that was cut out and given away.
type Taken struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	Path string `json:"path" doc:"In the slab's frame"`
}

// Notch is one stage on the story stick.
type Notch struct {
	Stage  craft.Stage `json:"stage"`
	Needed bool        `json:"needed" doc:"False for a stage that this board goes without"`
	Level  craft.Level `json:"level"`
	Done   bool        `json:"done"`
	Starts *time.Time  `json:"starts,omitempty"`
	Ends   *time.Time  `json:"ends,omitempty" doc:"With its waits"`
}

// Help is a change that would bring the date nearer.
type Help struct {
	Label  string      `json:"label"`
	Saves  float64     `json:"saves" doc:"Minutes"`
	Finish time.Time   `json:"finish"`
	Enough bool        `json:"enough" doc:"The date would be kept"`
	Patch  craft.Patch `json:"patch"`
}

// Reckoned is what one board comes to.
type Reckoned struct {
	ID       string               `json:"id"`
	Path     string               `json:"path" doc:"Outline as SVG path data in the board's frame, mm"`
	Holes    []string             `json:"holes"`
	Box      [4]float64           `json:"box" doc:"Bounds in the board's frame: min x, min y, max x, max y"`
	Level    craft.Level          `json:"level"`
	Stick    []Notch              `json:"stick"`
	Verdicts []craft.Verdict      `json:"verdicts" doc:"The gravest first"`
	Figures  []craft.Figure       `json:"figures"`
	Blank    layout.Blank         `json:"blank"`
	Cuts     []layout.Cut         `json:"cuts"`
	Budget   stock.Budget         `json:"budget"`
	Whole    stock.Budget         `json:"wholeBudget" doc:"The same if the whole slab is flattened first"`
	Voids    []fill.Void          `json:"voids"`
	Mix      *fill.Mix            `json:"mix,omitempty"`
	Sanding  sanding.Plan         `json:"sanding"`
	Finish   finish.Plan          `json:"finish"`
	Shape    Shape                `json:"shape"`
	Fittings fitting.Fitted       `json:"fittings"`
	Care     []string             `json:"care" doc:"Care note, line by line"`
	Size     board.Size           `json:"size" doc:"What the use and the people ask for"`
	Cautions map[string][]Caution `json:"cautions" doc:"By key of the step"`
	Course   plan.Course          `json:"course"`
	Helps    []Help               `json:"helps" doc:"What would help when it is too late"`

	natural float64 // length of live edge, mm
	shaped  board.Shaped
}

// Caution is a caution at a step.
type Caution = caution.Caution

// Reckon reckons a job. The error, if any, is of type craft.Problems and says
// what in the job cannot be reckoned with.
func Reckon(j Job) (Reckoning, error) {
	b, shaped, err := set(j)
	if err != nil {
		return Reckoning{}, err
	}
	out := Reckoning{Boards: []Reckoned{}, Taken: []Taken{}}
	if j.Slab != nil {
		wood := b.reckonWood()
		out.Slab = &wood
	}
	for i, d := range j.Taken {
		out.Taken = append(out.Taken, Taken{d.ID, d.Name, b.taken[i].Outline.SVG()})
	}
	chains := make([]plan.Chain, 0, len(j.Boards)+len(j.Elsewhere))
	for i, d := range j.Boards {
		r := b.reckon(d, shaped[i])
		chains = append(chains, b.chain(d, r))
		r.Cautions = b.cautions(d, r, chains[i].Steps)
		out.Boards = append(out.Boards, r)
	}
	chains = append(chains, j.Elsewhere...)
	b.planner = plan.NewPlanner(j.Shop.Sessions, b.zone, j.Now)
	b.courses = b.planner.Schedule(chains)
	out.Plan = b.courses
	for i := range out.Boards {
		r := &out.Boards[i]
		r.Course = out.Plan[i]
		r.Figures = append(r.Figures, b.dates(r.Course)...)
		r.Helps = []Help{}
		if r.Course.Late {
			r.Helps = b.helps(j.Boards[i], shaped[i], chains, i, *r)
		}
		if v, ok := b.inTime(j.Boards[i], *r, out.Slab.Drying); ok {
			r.Verdicts = gravestFirst(append(r.Verdicts, v))
			r.Level = craft.Worst(r.Verdicts)
		}
		r.stick(b.ready.Ready)
		if r.ID == j.Weigh {
			b.weigh(i, r, chains)
		}
	}
	if out.Slab != nil {
		b.lay(out.Slab, out.Boards, shaped)
	}
	return out, nil
}

// Draw draws the boards of a job where they lie, without reckoning them. The
// error is as of Reckon.
func Draw(j Job) ([]board.Shaped, error) {
	_, shaped, err := set(j)
	return shaped, err
}

// set sets a job up on the bench: the wood drawn, its boards shaped, each
// knowing its neighbours.
func set(j Job) (*bench, []board.Shaped, error) {
	if ps := j.Check(); len(ps) > 0 {
		return nil, nil, ps
	}
	zone, err := j.Shop.Zone()
	if err != nil {
		return nil, nil, craft.Problems{{Field: "shop.timeZone", Wrong: err.Error(), Right: "write it like Europe/Vienna"}}
	}
	b := &bench{job: j, zone: zone, pace: plan.Learn(j.Samples), others: map[string][]layout.Neighbour{}, cavities: map[cavity][]fill.Void{}}
	if j.Slab != nil {
		b.wood = slab.Draw(*j.Slab, j.Shop.Species)
		b.usable = b.wood.Usable()
		b.target = b.wood.Target(j.Shop.Home)
		b.ready = moisture.Judge(j.Slab.Moisture, b.target, j.Shop.Rules)
	}
	shaped := make([]board.Shaped, len(j.Boards))
	for i, d := range j.Boards {
		shaped[i] = d.Fit.Cut(b.place(d).Shaped())
		b.laid += shaped[i].Outline.Area()
	}
	b.shaped = shaped
	for _, d := range j.Taken {
		s := b.place(d).Shaped()
		b.laid += s.Outline.Area()
		b.taken = append(b.taken, neighbour(d, s))
	}
	for i, d := range j.Boards {
		b.others[d.ID] = b.neighbours(shaped, i)
	}
	return b, shaped, nil
}

// bench is one job while it is reckoned.
type bench struct {
	job     Job
	zone    *time.Location
	pace    plan.Pace
	planner *plan.Planner
	courses []plan.Course
	wood    stock.Wood
	usable  geom.Ring
	target  moisture.Target
	ready   moisture.Readiness
	shaped  []board.Shaped
	laid    float64 // area of all outlines, mm²
	taken   []layout.Neighbour
	others  map[string][]layout.Neighbour // by id of the board

	cavities map[cavity][]fill.Void
}

func (b *bench) place(d Board) layout.Place {
	return layout.Place{Wood: b.wood, Usable: b.usable, Design: d.Design, At: d.Placement, Choice: d.Cut, Shop: b.job.Shop, Name: d.Name, Others: b.others[d.ID]}
}

// neighbours are the outlines of all that takes up wood of the slab but one of its
// boards; all of it for −1.
func (b *bench) neighbours(shaped []board.Shaped, of int) []layout.Neighbour {
	out := slices.Clone(b.taken)
	for i, s := range shaped {
		if i != of {
			out = append(out, neighbour(b.job.Boards[i], s))
		}
	}
	return out
}

func neighbour(d Board, s board.Shaped) layout.Neighbour {
	return layout.Neighbour{Name: d.Name, Outline: s.Outline.Map(d.Placement.Out), Saw: d.Cut.Saw}
}

// flattened is what is flattened for a board: its blank, or the whole slab
// where that comes first.
func (b *bench) flattened(d Board, blank layout.Blank, whole bool, filled int) stock.Blank {
	size := stock.Blank{Length: blank.Length(), Width: blank.Width, Filled: filled, Target: d.Design.Thickness, Hard: stock.Hard(b.wood.Grain.Over(b.wood.Show.Ring()))}
	if whole {
		size.Length, size.Width = b.wood.Length, b.wood.MeanWidth()
	}
	return size
}

// budget reckons the thickness from rough to sanded.
func (b *bench) budget(d Board, blank layout.Blank, whole bool, filled int) stock.Budget {
	return b.wood.Plan(b.flattened(d, blank, whole, filled), b.job.Shop.Rules)
}

// cavity names the voids of a board as it is drawn, at one place and thickness.
type cavity struct {
	outline     *geom.Point // the first of it: a board drawn anew has another
	at          geom.Placement
	planed, off float64
}

// voids measures the voids of a board once for each thickness at which they
// are filled; the choices made for them are tried many times.
func (b *bench) voids(d Board, s board.Shaped, t stock.Budget) []fill.Void {
	key := cavity{at: d.Placement, planed: t.Planed, off: max(0, t.PerFace)}
	if len(s.Outline) > 0 {
		key.outline = &s.Outline[0]
	}
	if _, ok := b.cavities[key]; !ok {
		b.cavities[key] = b.measure(d, s.Outline.Map(d.Placement.Out), t)
	}
	return fill.Choose(b.cavities[key], d.Fill, b.job.Shop.Air.Temperature, d.Fit.Feet)
}

// measure measures the voids of a board.
func (b *bench) measure(d Board, outline geom.Ring, t stock.Budget) []fill.Void {
	return fill.Measure(fill.Site{Flaws: b.wood.Flaws, Outline: outline, Thickness: t.Planed, Off: max(0, t.PerFace), Flipped: d.Placement.Flip, Rules: b.job.Shop.Rules})
}

// reckon reckons everything about a board but its dates.
func (b *bench) reckon(d Board, s board.Shaped) Reckoned {
	rules, at := b.job.Shop.Rules, b.place(d)
	r, verdicts := b.amounts(d, s)
	box := s.Outline.Bounds()
	r.Path, r.Holes, r.Box = s.Path.ToSVG(), []string{}, [4]float64{box.MinX, box.MinY, box.MaxX, box.MaxY}
	for _, h := range s.HolePaths {
		r.Holes = append(r.Holes, h.ToSVG())
	}
	r.Whole = b.budget(d, r.Blank, true, filledFaces(r.Voids))
	verdicts = append(verdicts, b.woodVerdicts()...)
	verdicts = append(verdicts, at.Check(s)...)
	conditions := b.conditions(d, s, r)
	verdicts = append(verdicts, board.Check(s, conditions)...)
	verdicts = append(verdicts, b.mates(d, s)...)
	r.Verdicts = gravestFirst(verdicts)
	r.Shape = b.shape(d, s, r, conditions)
	r.Level = craft.Worst(r.Verdicts)
	r.Figures = b.figures(d, s, r)
	r.Care = care(d, b.wood.Species(), r, b.wood.History)
	r.Size = board.SizeFor(d.Design, d.Give.Use, d.Give.People, rules)
	return r
}

// amounts reckons what the work on a board consists of: cuts, thickness,
// voids, resin, grits, coats and fittings, with the verdicts on those choices.
func (b *bench) amounts(d Board, s board.Shaped) (Reckoned, []craft.Verdict) {
	rules, air, at := b.job.Shop.Rules, b.job.Shop.Air, b.place(d)
	outline := s.Outline.Map(d.Placement.Out)
	r := Reckoned{ID: d.ID, Blank: at.Blank(outline), natural: s.Natural(), shaped: s}
	grain := b.wood.Grain.Seen(d.Placement)
	r.Cuts = at.Cuts(s, r.Blank)

	// Which faces are flattened again depends on the voids, and what is left
	// of the voids on the flattening: first without, then with.
	r.Budget = b.budget(d, r.Blank, d.Cut.FlattenWhole, 0)
	r.Voids = b.voids(d, s, r.Budget)
	if filled := filledFaces(r.Voids); filled > 0 {
		r.Budget = b.budget(d, r.Blank, d.Cut.FlattenWhole, filled)
		r.Voids = b.voids(d, s, r.Budget)
	}
	mix, verdicts, poured := fill.Pour(r.Voids, d.Fill, air.Temperature, b.job.Shop.ScaleStep, rules)
	if poured {
		r.Mix = &mix
	}
	plan, sanded := sanding.Make(surfaces(s.Surfaces(r.Budget.Sanded, grain)), d.Sand, sanding.Conditions{Owned: b.job.Shop.Grits, Humidity: air.Humidity, Rules: rules})
	r.Sanding = plan
	whole, end := s.Thirst(r.Budget.Sanded, grain)
	r.Finish = finish.Make(finish.Surface{Whole: whole, End: end}, d.Finish)
	r.Shape.Work = board.Work(s, board.Conditions{Thickness: r.Budget.Sanded, Tools: b.job.Shop.Kit})
	r.Fittings = fitting.Make(d.Fit, fitting.Board{Shaped: s, Thickness: r.Budget.Sanded, Wood: grain, Swing: b.target.Home.Swing(), Rules: rules})
	return r, slices.Concat(verdicts, sanded, r.Fittings.Verdicts)
}

func filledFaces(voids []fill.Void) int {
	show, under := 0, 0
	for _, v := range voids {
		if v.Chosen != "epoxy" && v.Chosen != "putty" {
			continue
		}
		if v.Under || v.Through {
			under = 1
		}
		if !v.Under {
			show = 1
		}
	}
	return show + under
}

func (b *bench) conditions(d Board, s board.Shaped, r Reckoned) board.Conditions {
	c := board.Conditions{
		Wood: b.wood.Grain.Seen(d.Placement), Thickness: r.Budget.Sanded, Most: r.Budget.Most,
		Tools: b.job.Shop.Kit, Rules: b.job.Shop.Rules,
	}
	_, c.Feet = d.Fit.Foot()
	c.FootSpots = d.Fit.Stands(s)
	if d.Design.Shape == board.Plank {
		c.Usable = b.usable.Map(d.Placement.In)
	}
	byID := map[string]fill.Void{}
	for _, v := range r.Voids {
		byID[v.Flaw] = v
	}
	for _, f := range b.wood.Flaws {
		if v, ok := byID[f.ID]; ok {
			void := board.Void{Flaw: f.ID, Name: v.Name, Depth: v.Depth, Filled: v.Bears()}
			for _, at := range f.Sections() {
				void.Levels = append(void.Levels, at.Footprint().Map(d.Placement.In))
			}
			c.Voids = append(c.Voids, void)
		}
	}
	return c
}

// surfaces are the surfaces of a board as they are sanded.
func surfaces(of []board.Surface) []sanding.Surface {
	ways := map[string]sanding.Surface{
		board.Faces: {Rate: 1}, board.SawnEdges: {Rate: sanding.EdgeRate}, board.HoleWall: {Rate: sanding.HandRate},
		board.Recessed: {Rate: sanding.RecessRate}, board.LiveEdge: {Rate: sanding.HandRate, Hand: 2},
	}
	out := make([]sanding.Surface, len(of))
	for i, s := range of {
		way := ways[s.Kind]
		way.Name, way.Area, way.Wood = s.Name, s.Area, stock.Hardness(s.Wood)
		out[i] = way
	}
	return out
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

// stick draws the notches from the verdicts and the dated steps.
func (r *Reckoned) stick(ready bool) {
	for _, stage := range craft.Stages {
		n := Notch{Stage: stage, Level: craft.Good}
		for _, v := range r.Verdicts {
			if v.Stage == stage && v.Level.Rank() > n.Level.Rank() {
				n.Level = v.Level
			}
		}
		steps, done := 0, 0
		for _, s := range r.Course.Steps {
			if s.Stage != stage {
				continue
			}
			steps++
			if s.State == "done" {
				done++
			}
			if n.Starts == nil && s.Starts != nil {
				n.Starts = s.Starts
			}
			if s.WaitUntil != nil {
				n.Ends = s.WaitUntil
			}
		}
		n.Needed = steps > 0 || stage == craft.Wood
		n.Done = steps > 0 && done == steps || stage == craft.Wood && ready
		r.Stick = append(r.Stick, n)
	}
}
