package reckon

import (
	"cmp"
	"fmt"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
)

// cure is the last pour that was made on a board, and how far it has come.
type cure struct {
	pour int // from 0
	fill.Curing
}

// log is what was done on the board, oldest first.
func (l *laid) log() []plan.Entry { return l.on.logOf(plan.Board(l.board.ID)) }

// logOf is what was done on a subject, oldest first.
func (b *drawn) logOf(of plan.Subject) []plan.Entry {
	out := []plan.Entry{}
	for _, e := range b.Log {
		if e.Subject == of {
			out = append(out, e.Entry)
		}
	}
	return out
}

// looks are the looks at its pinholes so far.
func (l *laid) looks() []fill.Look { return fill.LooksAt(l.log()) }

// pourings are the pours of the board as far as they have come, in their order.
func (l *laid) pourings() []fill.Pouring {
	l.record(craft.Fill)
	return l.on.pourings(l.mix, l.log(), l.board.Fill)
}

// pourings are the pours of a mix by a log; nil where nothing is mixed.
func (b *drawn) pourings(mix *fill.Mix, log []plan.Entry, c fill.Choice) (out []fill.Pouring) {
	if mix == nil {
		return nil
	}
	here := func(at time.Time) bool {
		const day = 24 * time.Hour
		return slices.ContainsFunc(plan.Hours(b.Shop.Sessions, b.Shop.Off, "", b.zone, at.Add(-day), at.Add(day)),
			func(w plan.Window) bool { return !at.Before(w.From) && !at.After(w.To) })
	}
	for i := range mix.Pours {
		out = append(out, mix.Follow(i, log, b.Shop.ScaleStep, c.Air(b.Shop.Air.Temperature), here))
	}
	return out
}

// drawnVoids are its voids numbered, in its own frame.
func (l *laid) drawnVoids() []fill.Drawn {
	out := []fill.Drawn{}
	for _, v := range l.voids() {
		d := fill.Drawn{
			Number: v.Number, Void: v.Flaw, Outs: geom.Ring(v.Outs).Map(l.board.Placement.In),
			At: l.board.Placement.In(l.flaw(v).Middle()),
		}
		for _, ring := range l.prints(v) {
			d.Paths = append(d.Paths, ring.SVG())
		}
		out = append(out, d)
	}
	return out
}

// curing is how far the last pour on the board has come by the warmth of the room; nil where
// nothing was poured.
func (l *laid) curing() *cure {
	l.record(craft.Fill)
	return l.on.curing(l.mix, l.log(), l.board.Fill)
}

// curing is how far the last pour of a log has come.
func (b *drawn) curing(mix *fill.Mix, log []plan.Entry, c fill.Choice) *cure {
	var last plan.Entry
	pour := -1
	for i := 0; ; i++ {
		key := fmt.Sprintf("%s%d", fill.PourKey, i+1)
		p := plan.Follow(log, key, b.Now)
		if p.State != plan.Done {
			break
		}
		e := plan.Entry{At: *p.DoneAt}
		for _, o := range log {
			if o.Step == key && o.Of != "" {
				e.Of = o.Of
			}
		}
		for _, n := range plan.Notes(log, key) {
			if n.What == fill.NotePoured { // nearer than when the step was called finished
				e.At = n.At
			}
		}
		last, pour = e, i
	}
	if pour < 0 {
		return nil
	}
	kind := last.Of
	if mix != nil {
		kind = cmp.Or(kind, mix.Kind)
	}
	if kind == "" {
		return nil
	}
	room := fill.Room{Read: b.Warmth, Usual: b.Shop.Air.Temperature, Box: c.Warm}
	another := mix != nil && pour+1 < mix.Pours && !mix.Scuffed
	return &cure{pour, fill.CuringOf(c.Kind(kind), room, last.At, b.Now, another)}
}

// missed tells whether the window in which the next pour bonds is over.
func (c *cure) missed(now time.Time) bool { return c.Until != nil && now.After(*c.Until) }

// waits dates the wait and the rest after the last pour by the warmth that it really had. Where
// the next pour came too late to bond, the last one must be sanded first.
func (c *cure) waits(steps []plan.Step, log []plan.Entry, now time.Time) {
	watch, next := fmt.Sprintf("%s%d", fill.WatchKey, c.pour+1), fmt.Sprintf("%s%d", fill.PourKey, c.pour+2)
	for i := range steps {
		s := &steps[i]
		if s.Key == next && c.missed(now) {
			s.Detail = "The window is over: sand the last pour dull first, P80, and wipe it. " + s.Detail
		}
		if s.Key != watch {
			continue
		}
		till := c.Sand
		if c.From != nil && !c.missed(now) {
			till = c.From
		}
		since, done := now, false
		if p := plan.Follow(log, watch, now); p.State == plan.Done {
			since, done = *p.DoneAt, true
		}
		if till != nil {
			s.Until, s.Wait = till, 0
			if done {
				s.Wait = max(0, till.Sub(since).Minutes())
			}
		}
		if c.Full != nil && s.Rest > 0 {
			s.Rest = max(0, c.Full.Sub(since).Minutes())
		}
	}
}

// tack judges whether every pour but the first falls into the window in which it bonds to the one
// before, as the plan has them; ok is false where there is no such window.
func (l *laid) tack(c plan.Course) (v craft.Verdict, ok bool) {
	if l.mix == nil || l.mix.Pours < 2 || l.mix.Scuffed {
		return v, false
	}
	late, worst := 0, 0.0
	for i := range l.mix.Pours - 1 {
		one, two := stepOf(
			c,
			fmt.Sprintf("%s%d", fill.PourKey, i+1),
		), stepOf(
			c,
			fmt.Sprintf("%s%d", fill.PourKey, i+2),
		)
		if one == nil || two == nil || two.Starts == nil { // poured already, or not placed
			continue
		}
		ended := one.Ends
		if one.DoneAt != nil {
			ended = one.DoneAt
		}
		after := two.Starts.Sub(*ended).Minutes()
		worst = max(worst, after)
		if after > l.mix.TackTo {
			late++
		}
	}
	if worst == 0 {
		return v, false
	}
	v = craft.Verdict{
		Check: "tack-window", Stage: craft.Fill, Level: craft.Good, Limit: l.mix.TackTo,
		Finding: "Each pour falls into the window of the one before",
		Reason:  "While the last pour is tacky the next one bonds to it; later it lies on it like on glass.",
		Figure: craft.Figure{
			Key: "fill.tack-plan", Stage: craft.Fill, Label: "The next pour comes after",
			Value: worst, Unit: craft.Minute,
			Formula: "from the end of one pour to the start of the next, as your hours at the bench have them",
			Terms:   []craft.Term{{Name: "tacky from", Value: l.mix.Between, Unit: craft.Minute}},
			Source:  "the plan", Rule: true,
		},
	}
	if late > 0 {
		v.Level, v.Finding = craft.Mind, "No session falls into the window: the next pour would not bond"
		v.Remedies = []craft.Remedy{{
			Label: "Sand each pour before the next", Patch: craft.Patch{"fill": map[string]any{"scuff": true}},
		}}
	}
	return v, true
}

func stepOf(c plan.Course, key string) *plan.Dated {
	for i := range c.Steps {
		if c.Steps[i].Key == key {
			return &c.Steps[i]
		}
	}
	return nil
}
