package reckon

import (
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/finish"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/river"
	"idletimber/craft/rule"
	"idletimber/craft/sanding"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
)

func (l *laid) reckonFinish() (r stage.Record) {
	l.finish, r = finish.Make(l.drinks(), l.board.Finish, l.finishing())
	return r
}

// drinks is what of the board takes finish.
func (l *laid) drinks() finish.Surface {
	t := l.budget().Sanded
	d := l.shaped.Thirst(t, l.grain)
	s := finish.Surface{
		Thirst:    finish.Thirst(l.patches(), l.softShare()),
		Thickness: t,
		Parts: []finish.Part{
			{Name: finish.ShowFace, Whole: d.Show, End: d.ShowEnd},
			{Name: finish.UnderFace, Whole: d.Under, End: d.UnderEnd},
			{Name: finish.Edges, Whole: d.Edges, End: d.EdgesEnd},
			{Name: finish.Cavities, Whole: d.Cavities, End: d.Inner},
		},
	}
	s.Whole, s.End = d.Whole()
	box := l.shaped.Outline.Bounds()
	s.Length, s.Width = box.MaxX-box.MinX, box.MaxY-box.MinY
	s.Weighed = func() (volume, mass float64) {
		return l.shaped.Volume(t) / 1000, 1000 * l.shaped.Mass(t, l.grain)
	}
	return s
}

// softShare is the share of its face that is spalted and soft, and stays in the board.
func (l *laid) softShare() float64 {
	soft := 0.0
	for _, v := range l.voids() {
		if l.flaw(v).Pressed == stock.Gives {
			soft += v.Area
		}
	}
	if area := l.shaped.Area(); area > 0 {
		return soft / area
	}
	return 0
}

// finishing is what its finish needs to know beside the surface.
func (l *laid) finishing() finish.Conditions {
	at := l.on.Shop
	return finish.Conditions{
		Temperature: at.Air.Temperature, Warm: l.warm(), Tub: tubOf(at.Kit), Log: l.log(), Habit: l.on.coats,
		Washed: l.on.Washed, Pace: l.on.pace, Sheets: l.on.sheets.Finishes,
	}
}

// tubOf is the shop's tub inside, where one is owned and was measured.
func tubOf(kit tool.Kit) *finish.Inside {
	for _, t := range kit.All(tool.OilTub) {
		if t.Long > 0 && t.Width > 0 {
			return &finish.Inside{Length: t.Long, Width: t.Width, Height: t.Height, Boards: t.Count}
		}
	}
	return nil
}

// warm tells whether its day lies in the warm months of the shop.
func (l *laid) warm() bool {
	due := l.board.Give.DueAt(l.on.zone)
	return due != nil && l.warmIn(due.Month())
}

// warmIn tells whether a month is a warm one in the shop; from one to another over the turn of the year where the
// first is the later one.
func (l *laid) warmIn(m time.Month) bool {
	from, to := time.Month(l.on.Shop.Rules.Get(rule.WarmFrom)), time.Month(l.on.Shop.Rules.Get(rule.WarmTo))
	if from <= to {
		return m >= from && m <= to
	}
	return m >= from || m <= to
}

// Finishes lays every way to finish the first board of a scene side by side. It fails as Reckon does.
func Finishes(s Scene) ([]finish.Option, error) {
	b, err := draw(s)
	if err != nil || len(b.boards) == 0 {
		return []finish.Option{}, err
	}
	l := b.boards[0]
	return finish.Compare(l.drinks(), l.board.Finish, s.Shop.Finishes, s.Shop.Prices, l.finishing()), nil
}

// early puts what is stained before the grain is raised for the last time there: before the last
// raising, or before the last grit where it is never raised.
func early(steps []plan.Step, keys []string) []plan.Step {
	at := -1
	for i, s := range steps {
		if s.Stage == craft.Sand && s.Kind == plan.Sanding {
			at = i
		}
	}
	for i, s := range steps {
		if s.Stage == craft.Sand && s.Kind == plan.Water {
			at = i
		}
	}
	if len(keys) == 0 || at < 0 {
		return steps
	}
	var moved, rest []plan.Step
	for i, s := range steps {
		switch {
		case s.Stage == craft.Finish && slices.Contains(keys, s.Key):
			moved = append(moved, s)
		case i < at:
			rest = append(rest, s)
		}
	}
	out := append(rest, moved...)
	for _, s := range steps[at:] {
		if s.Stage != craft.Finish || !slices.Contains(keys, s.Key) {
			out = append(out, s)
		}
	}
	return out
}

// backToColour ends the drying of a wetted board when its own colour was seen to be back.
func backToColour(steps []plan.Step, log []plan.Entry, now time.Time) {
	for i := range steps {
		s := &steps[i]
		if s.Kind != plan.Water {
			continue
		}
		p := plan.Follow(log, s.Key, now)
		if p.State != plan.Done {
			continue
		}
		for _, n := range plan.Notes(log, s.Key) {
			if n.What == sanding.NoteColour {
				s.Wait = max(0, n.At.Sub(*p.DoneAt).Minutes())
			}
		}
	}
}

// Oiled is how the board looks with its finish on, and how it stands while it dries.
type Oiled struct {
	Light  string       `json:"light" doc:"Lighter colour of its wood, #rrggbb"`
	Dark   string       `json:"dark" doc:"Darker colour, #rrggbb"`
	Parts  []OiledPart  `json:"parts" doc:"What it is made of, where that is more than one wood"`
	Tint   string       `json:"tint" enum:"neutral,warm,brown" doc:"What the finish does to the colour"`
	Coats  int          `json:"coats" doc:"How many are on it"`
	Of     int          `json:"of" doc:"How many it gets"`
	Stands []geom.Point `json:"stands" doc:"Where it stands on points while it dries"`
	Dents  bool         `json:"dents" doc:"They stand on bare wood, and leave dents"`
	Faces  []string     `json:"faces" doc:"In which order its parts are coated"`
	Wet    *time.Time   `json:"wet,omitempty" doc:"Until then what is on it soaks or dries"`
}

// OiledPart is a part of a board with its colour under the finish.
type OiledPart struct {
	Path  string `json:"path" doc:"Outline as SVG path data in the board's frame, mm"`
	Light string `json:"light" doc:"Lighter colour, #rrggbb"`
}

// standIn is how far in from its ends and sides a board stands on points, mm (rule).
const standIn = 30

// oiled is how the board looks with its finish on.
func (l *laid) oiled(c plan.Course) Oiled {
	l.record(craft.Finish)
	f := l.finish
	o := Oiled{Tint: f.Tint, Of: len(f.Coats), Parts: []OiledPart{}, Faces: finish.Parts, Stands: []geom.Point{}}
	woods := stock.SpeciesIn(l.made())
	if len(woods) > 0 {
		o.Light, o.Dark = finish.Oiled(woods[0].Light, f.Tint), finish.Oiled(woods[0].Dark, f.Tint)
	}
	if patches := l.patches(); len(patches) > 1 {
		for _, p := range patches {
			light := p.Species.Light
			if p.Species.Name != river.ResinName { // which drinks nothing
				light = finish.Oiled(light, f.Tint)
			}
			o.Parts = append(o.Parts, OiledPart{p.Ring.SVG(), light})
		}
	}
	for _, coat := range f.Coats {
		if s := stepOf(c, coat.Key); s != nil && s.State == plan.Done {
			o.Coats++
		}
	}
	for _, s := range c.Steps {
		if s.Stage == craft.Finish && s.State == plan.Done && s.Wait > 0 && s.WaitUntil.After(l.on.Now) {
			o.Wet = s.WaitUntil
		}
	}
	o.Stands = append(o.Stands, l.conditions().FootSpots...)
	if o.Dents = len(o.Stands) == 0; o.Dents {
		box := l.shaped.Outline.Bounds()
		for _, share := range []float64{0.25, 0.75} {
			x := box.MinX + share*(box.MaxX-box.MinX)
			ys := l.shaped.Outline.SpansAcross(x, nil)
			if n := len(ys); n > 1 && ys[n-1]-ys[0] > 2*standIn {
				o.Stands = append(
					o.Stands,
					geom.Point{X: x, Y: ys[0] + standIn},
					geom.Point{X: x, Y: ys[n-1] - standIn},
				)
			}
		}
	}
	return o
}

// unwiped judges whether somebody is there when a soak of this board is over that must be wiped by
// the clock; ok is false where none is.
func (l *laid) unwiped(c plan.Course) (v craft.Verdict, ok bool) {
	var late []string
	for _, s := range c.Steps {
		if s.Stage != craft.Finish || s.State == plan.Done || !s.Attended {
			continue
		}
		ok = true
		if s.Alone {
			late = append(late, s.Key)
		}
	}
	if !ok {
		return v, false
	}
	v = craft.Verdict{
		Check: "wiped", Stage: craft.Finish, Level: craft.Over(float64(len(late)), 0, 1e9), Limit: 0,
		Finding: "Somebody is there when each soak is over",
		Reason:  "What is not wiped or buffed in time goes tacky, and is taken off with spirits.",
		Figure: craft.Figure{
			Key: "finish.wiped", Stage: craft.Finish, Label: "Soaks that nobody ends by the clock",
			Value: float64(len(late)),
			Unit:  craft.Count, Formula: "soaks and hazes under 6 h whose end no session holds",
			Source: "the plan", Rule: true,
		},
	}
	if v.Level == craft.Good {
		return v, true
	}
	v.Finding = "No session holds a coat with its wiping: it stays on until you are back"
	// Oil may soak as long as it likes: that helps where nothing else is late.
	acts, coat := slices.Clone(l.finish.Acts), 0
	for i := range acts {
		if acts[i].Product == "" {
			continue
		}
		key := l.finish.Coats[coat].Key
		if coat++; slices.Contains(late, key) && acts[i].Product == finish.Oil && acts[i].Wipe {
			acts[i].Soak = 12 * 60
			late = slices.DeleteFunc(late, func(k string) bool { return k == key })
		}
	}
	if len(late) == 0 {
		v.Remedies = []craft.Remedy{{
			Label: "Let the oil soak overnight", Patch: craft.Patch{"finish": map[string]any{"list": acts}},
		}}
	}
	return v, true
}
