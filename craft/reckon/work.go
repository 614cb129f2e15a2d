package reckon

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
	"time"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/rule"
	"idletimber/craft/shop"
	"idletimber/craft/stage"
	"idletimber/craft/tool"
)

// work is all that is to be done, dated: the boards of a scene, then what is
// elsewhere.
type work struct {
	on       *drawn
	sessions []plan.Session // without the minutes that go into clearing up
	planner  *plan.Planner
	chains   []plan.Chain
	courses  []plan.Course
}

// work dates all that is to be done; the error is that of the scene's watch.
func (b *drawn) work() (work, error) {
	w := work{on: b}
	for _, l := range b.boards {
		if err := b.Watch.Ask(); err != nil {
			return w, err
		}
		w.chains = append(w.chains, l.chain())
	}
	if c, ok := b.panelChain(); ok {
		w.chains = append(w.chains, c)
	}
	w.chains = append(w.chains, b.Elsewhere...)
	w.sessions = plan.Working(b.Shop.Sessions, b.clearing(w.chains))
	w.planner = plan.NewPlanner(w.sessions, b.zone, b.Now)
	w.planner.Places = b.places()
	w.planner.Helpers, w.planner.Off = b.Shop.Helpers, b.Shop.Off
	w.planner.Order, w.planner.Pins, w.planner.Ahead = b.Order, b.Pins, b.Ahead
	w.courses = w.planner.Schedule(w.chains)
	return w, nil
}

// clearing is what the end of a session is kept free for clearing up, minutes: as long as after
// resin or carving where there is any to be done.
func (b *drawn) clearing(chains []plan.Chain) float64 {
	mess := slices.ContainsFunc(chains, func(c plan.Chain) bool { return slices.ContainsFunc(c.Steps, messes) })
	return clearing(b.Shop.Rules, mess)
}

func clearing(rules rule.Set, mess bool) float64 {
	if mess {
		return max(rules.Get(rule.ClearUp), rules.Get(rule.ClearMess))
	}
	return rules.Get(rule.ClearUp)
}

// messes tells of a step after which there is more to clear up: resin, putty, carving.
func messes(s plan.Step) bool {
	return slices.Contains([]plan.Kind{plan.Pour, plan.Putty, plan.ThinGlue, plan.HogOut}, s.Kind)
}

// Evening is the session that is on, or the next one, and when clearing up begins.
type Evening struct {
	From    time.Time `json:"from"`
	To      time.Time `json:"to"`
	Clear   time.Time `json:"clear" doc:"When clearing up begins"`
	Minutes float64   `json:"minutes" doc:"That it takes: more after resin or carving"`
	Mess    bool      `json:"mess" doc:"Something is poured, puttied or carved in it"`
}

// EveningOf is the maker's session that is on, or the next one within a month, with what is to be
// done in it; nil where there is none.
func EveningOf(at shop.Shop, courses []plan.Course, now time.Time) *Evening {
	zone, err := at.Zone()
	if err != nil {
		return nil
	}
	const month = 31 * 24 * time.Hour
	next := plan.Hours(at.Sessions, at.Off, "", zone, now, now.Add(month))
	if len(next) == 0 {
		return nil
	}
	e := &Evening{From: next[0].From, To: next[0].To}
	for _, c := range courses {
		for _, s := range c.Steps {
			if s.Starts != nil && s.State != plan.Done && s.Starts.Before(e.To) && messes(s.Step) {
				e.Mess = true
			}
		}
	}
	e.Minutes = plan.Clearing(e.To.Sub(e.From).Minutes(), clearing(at.Rules, e.Mess))
	e.Clear = e.To.Add(-time.Duration(e.Minutes * float64(time.Minute)))
	return e
}

// places are how many boards lie at once where they dry and where they soak, and how many clamps there are. A shop
// that owns none of something is not held up by it here: who glues without clamps is told so where they glue.
func (b *drawn) places() plan.Places { return PlacesOf(b.Shop) }

// PlacesOf are the places of a shop.
func PlacesOf(s shop.Shop) plan.Places {
	at := plan.Places{}
	for _, c := range s.Clamps {
		at[plan.HeldClamps] += c.Count
	}
	for what, kinds := range map[string][]string{plan.Rack: {tool.DryRack, tool.Stand}, plan.Bath: {tool.OilTub}} {
		n := 0
		for _, kind := range kinds {
			for _, t := range s.All(kind) {
				n += t.Count
			}
		}
		if n > 0 {
			at[what] = n
		}
	}
	return at
}

// redated dates the work with one of its chains changed.
func (w work) redated(at int, c plan.Chain) []plan.Course {
	chains := slices.Clone(w.chains)
	chains[at] = c
	return w.planner.Schedule(chains)
}

// worthwhile is how many minutes a help must save to be spoken of.
const worthwhile = 60

// helps tries what would bring a late board nearer to its date: the changes that
// its stages name, one at a time, each reckoned and dated again.
func (w work) helps(at int) []Help {
	out := []Help{}
	was, l := w.courses[at], w.on.boards[at]
	if !was.Late || was.Finish == nil {
		return out
	}
	for _, r := range l.all() {
		for _, h := range r.Helps {
			next := l.board
			if h.On != craft.OnBoard || h.Patch.Apply(&next) != nil {
				continue
			}
			course := w.redated(at, l.with(next).chain())[at]
			if course.Finish == nil {
				continue
			}
			if saves := was.Finish.Sub(*course.Finish).Minutes(); saves >= worthwhile {
				out = append(out, Help{h.Label, math.Round(saves), *course.Finish, !course.Late, h.On, h.Patch})
			}
		}
	}
	sort.SliceStable(out, func(i, j int) bool { return out[i].Saves > out[j].Saves })
	return out
}

// mostWeighed bounds the remedies that are weighed, the gravest verdicts' first:
// each is a reckoning of its own.
const mostWeighed = 40

// weighed is what a board comes to with a remedy.
type weighed struct {
	levels map[string]int // how grave each of its verdicts comes out
	tally  map[string]tally
	worse  string // what becomes worse
}

// tally is what all verdicts of one check come to.
type tally struct{ stops, ranks int }

// tallied adds verdicts up by their checks.
func tallied(verdicts []craft.Verdict) map[string]tally {
	out := map[string]tally{}
	for _, v := range verdicts {
		t := out[v.Check]
		t.ranks += v.Level.Rank()
		if v.Level == craft.Stop {
			t.stops++
		}
		out[v.Check] = t
	}
	return out
}

// helps tells whether a change settles a verdict, or makes it milder, without making
// another of the same check as grave, and brings no stop.
func (w *weighed) helps(v craft.Verdict, before map[string]tally) bool {
	if w == nil || w.levels[key(v)] >= v.Level.Rank() || w.tally[v.Check].ranks >= before[v.Check].ranks {
		return false
	}
	for check, t := range w.tally {
		if t.stops > before[check].stops {
			return false
		}
	}
	return true
}

// weigh works out the remedies of a board. One is offered that helps the check it is for
// and brings no stop; it says what else it would make worse: in the shape, on the slab,
// in the work that follows, and by the date.
func (w work) weigh(at int, r *Reckoned) {
	craft.Offered(r.Verdicts)
	before := tallied(r.Verdicts)
	tried := map[string]*weighed{} // one remedy often answers several verdicts
	left := false                  // nobody waits for the rest
	for i := range r.Verdicts {
		v := &r.Verdicts[i]
		v.Remedies = slices.DeleteFunc(v.Remedies, func(remedy craft.Remedy) bool {
			if remedy.On != craft.OnBoard {
				return false // it is at the piece's place, or the shop's, that it is tried
			}
			change := fmt.Sprint(remedy.Patch)
			if _, ok := tried[change]; !ok {
				left = left || w.on.Watch.Ask() != nil
				if left || len(tried) == mostWeighed {
					return true
				}
				tried[change] = w.with(at, remedy.Patch)
			}
			return !tried[change].helps(*v, before)
		})
		for k := range v.Remedies {
			if t := tried[fmt.Sprint(v.Remedies[k].Patch)]; t != nil {
				v.Remedies[k].Worsens = t.worse
			}
		}
	}
}

// with is what a board comes to when it is patched; nil where the patch makes no board.
func (w work) with(at int, patch craft.Patch) *weighed {
	next := w.on.boards[at].board
	if patch.Apply(&next) != nil || len(next.Check("board")) > 0 {
		return nil
	}
	l := w.on.boards[at].with(next)
	all := l.all()
	var verdicts []craft.Verdict
	for _, r := range all {
		verdicts = append(verdicts, r.Verdicts...)
	}
	return &weighed{levels(all), tallied(verdicts), strings.Join(w.worse(at, l), "; ")}
}

// key names a verdict among all of a board.
func key(v craft.Verdict) string { return string(v.Stage) + "/" + v.Check + "/" + v.Subject }

// levels are how grave each check of some records came out.
func levels(records []stage.Record) map[string]int {
	out := map[string]int{}
	for _, r := range records {
		for _, v := range r.Verdicts {
			out[key(v)] = v.Level.Rank()
		}
	}
	return out
}

// worse lists what becomes worse when a board is made otherwise: verdicts, and
// dates.
func (w work) worse(at int, next *laid) (out []string) {
	was := levels(w.on.boards[at].all())
	for _, r := range next.all() {
		for _, v := range r.Verdicts {
			if v.Level.Rank() > was[key(v)] { // one that was not there was good
				out = append(out, strings.ToLower(v.Finding[:1])+v.Finding[1:])
			}
		}
	}
	chain := next.chain()
	if span(chain) <= span(w.chains[at])+1 {
		return out
	}
	const day = 24 * 60
	courses, before := w.redated(at, chain), w.courses[at]
	if c := courses[at]; c.Late && !before.Late {
		out = append(out, "it is ready too late for its day")
	} else if c.Finish != nil && before.Finish != nil && c.Finish.Sub(*before.Finish).Minutes() >= day {
		out = append(out, fmt.Sprintf("ready %.1f days later", c.Finish.Sub(*before.Finish).Hours()/24))
	}
	for i, c := range courses {
		if i != at && c.Late && !w.courses[i].Late {
			out = append(out, c.Name+" becomes too late for its day")
		}
	}
	return out
}

// span is the time that a chain takes from one end to the other, minutes.
func span(c plan.Chain) (sum float64) {
	for _, s := range c.Steps {
		sum += s.Minutes + s.Wait
	}
	return sum
}

// dates shows how the work and the waits fill the time to the date.
func (w work) dates(c plan.Course) []craft.Figure {
	var work, waits, week float64
	var steps []craft.Term
	for _, s := range c.Steps {
		if s.State == plan.Done {
			continue
		}
		work += s.Minutes
		waits += s.Wait
		steps = append(steps, craft.Term{Name: s.Title, Value: s.Minutes, Unit: craft.Minute})
	}
	for _, s := range w.sessions {
		if s.Who == "" {
			week += s.Minutes()
		}
	}
	out := []craft.Figure{{
		Key: "plan.work", Stage: craft.Give, Label: "Work still to do", Value: c.HandsOn, Unit: craft.Minute,
		Formula: "sum of the steps that are not done, less what has been spent on them", Terms: steps,
		Source: "rates of the trade; your pace from the logbook", Rule: true,
	}}
	if c.Due == nil || c.Finish == nil {
		return out
	}
	return append(out, craft.Figure{
		Key: "plan.slack", Stage: craft.Give, Label: "To spare before the day", Value: c.Slack, Unit: craft.Minute,
		Rule: true,
		Formula: "noon of the day − earliest finish; steps follow one another inside your sessions, beside the work " +
			"on boards with an earlier date, and waits run day and night",
		Terms: []craft.Term{
			{Name: "from now to the day", Value: c.Due.Sub(w.on.Now).Minutes(), Unit: craft.Minute},
			{Name: "from now to the earliest finish", Value: c.Finish.Sub(w.on.Now).Minutes(), Unit: craft.Minute},
			{Name: "work", Value: work, Unit: craft.Minute}, {Name: "waits", Value: waits, Unit: craft.Minute},
			{Name: "your sessions, a week, without clearing up", Value: week, Unit: craft.Minute},
		},
		Source: "your sessions, the choices at each stage",
	})
}

// usesOf is what a step takes from the shelf, by the records of its board.
func usesOf(records []stage.Record, step string) (out []stage.Use) {
	for _, r := range records {
		for _, u := range r.Uses {
			if u.Step == step {
				out = append(out, u)
			}
		}
	}
	return out
}

// awaited keeps steps back that need what is on order, until it comes.
func (b *drawn) awaited(steps []plan.Step, uses func(step string) []stage.Use) {
	for _, o := range b.Shop.Ordered {
		day := plan.Noon(o.Day, b.zone)
		if day == nil || !day.After(b.Now) {
			continue
		}
		for i := range steps {
			s := &steps[i]
			needs := strings.EqualFold(s.Tool(), o.What) ||
				slices.ContainsFunc(uses(s.Key), func(u stage.Use) bool { return strings.EqualFold(u.Item, o.What) })
			if needs && (s.From == nil || s.From.Before(*day)) {
				s.From, s.FromWhat = day, o.What
			}
		}
	}
}
