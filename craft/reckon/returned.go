package reckon

import (
	"slices"

	"idletimber/craft"
	"idletimber/craft/aftercare"
	"idletimber/craft/plan"
	"idletimber/craft/sanding"
	"idletimber/craft/stage"
)

// Since is what of a log still tells of the boards as they are: what was done on one that has come back was done on
// what it was before.
func Since(log []LogEntry, boards []Board) []LogEntry {
	again := map[plan.Subject]*aftercare.Return{}
	for _, b := range boards {
		if b.Returned != nil {
			again[plan.Board(b.ID)] = b.Returned
		}
	}
	if len(again) == 0 {
		return log
	}
	return slices.DeleteFunc(slices.Clone(log), func(e LogEntry) bool {
		a := again[e.Subject]
		return a != nil && e.At.Before(a.At)
	})
}

// restored is a board that has come back, with the choices that its sign asks for.
func (d Board) restored() Board {
	if d.Returned == nil {
		return d
	}
	sign, _ := aftercare.SignOf(d.Returned.Sign)
	d.Sand.Start = sanding.WashedOut
	if sign.Raises && d.Sand.Raise == sanding.Never {
		d.Sand.Raise = sanding.Once
	}
	return d
}

// returnedRecord is what a stage comes to for a board that has come back: what was sawn, glued, filled and shaped is as
// it is; it rests, is mended, sanded and coated as its sign asks for, and goes back.
func (l *laid) returnedRecord(of craft.Stage, full stage.Record) stage.Record {
	sign, _ := aftercare.SignOf(l.board.Returned.Sign)
	r := stage.Record{Stage: of, Figures: full.Figures}
	switch of {
	case craft.Wood:
		return sign.Restore(l.on.pace)
	case craft.Sand:
		if !sign.Sands {
			return r
		}
		if screwed(l.board.Fit) {
			r.Step("Take off what is screwed to it", "Screws in a cup, in their order",
				aftercare.Timed("again-off", plan.Fitting, 6, "as it usually takes", l.on.pace))
		}
		r.Steps = append(r.Steps, full.Steps...)
		r.Verdicts, r.Uses, r.Helps = full.Verdicts, full.Uses, full.Helps
	case craft.Finish:
		return l.coatsAgain(sign.Coats, full)
	case craft.Fit:
		if sign.Sands && screwed(l.board.Fit) {
			r.Step("Put back what was screwed to it", "In the old holes, by hand",
				aftercare.Timed("again-on", plan.Fitting, 8, "as it usually takes", l.on.pace))
		}
	case craft.Give:
		return full
	}
	return r
}

// coatsAgain are the coats of a finish that a board gets again.
func (l *laid) coatsAgain(coats aftercare.Coats, full stage.Record) stage.Record {
	r := stage.Record{Stage: full.Stage, Figures: full.Figures}
	n := len(l.finish.Coats)
	if coats == aftercare.NoCoats || n == 0 {
		return r
	}
	if coats == aftercare.AllCoats {
		return full
	}
	// The wiping before the first coat, then the last one with all that follows it.
	at := slices.IndexFunc(full.Steps, func(s plan.Step) bool { return s.Key == l.finish.Coats[n-1].Key })
	r.Steps = slices.Concat(full.Steps[:1], full.Steps[max(1, at):])
	for _, u := range full.Uses {
		if slices.ContainsFunc(r.Steps, func(s plan.Step) bool { return s.Key == u.Step }) {
			r.Uses = append(r.Uses, u)
		}
	}
	return r
}
