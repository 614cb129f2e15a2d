package reckon

import (
	"fmt"
	"math"
	"strings"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/layout"
	"idletimber/craft/making"
	"idletimber/craft/plan"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
)

// liveEdge is a natural edge that the board keeps: its state as it was found, what is left
// of its bark, and who cleans it.
type liveEdge struct {
	board.LiveSide
	state string // of stock's; empty for sound bark
	bark  string // of layout's
	task  making.Task
	made  making.Made
}

// name is which edge it is.
func (e liveEdge) name() string {
	if e.Left {
		return "left live edge"
	}
	return "right live edge"
}

// liveEdges are the natural edges that the board keeps.
func (l *laid) liveEdges() []liveEdge {
	if l.live != nil {
		return *l.live
	}
	out := []liveEdge{}
	for _, side := range l.shaped.LiveSides() {
		e := liveEdge{LiveSide: side, bark: l.board.Cut.BarkOn(side.Left)}
		w := l.on.wood
		at := l.board.Placement.Out(side.Line[len(side.Line)/2])
		if e.state = w.RightBark; math.Abs(at.Y-w.Left(at.X)) < math.Abs(at.Y-w.Right(at.X)) {
			e.state = w.LeftBark
		}
		e.task = making.Task{
			Work: making.Live, Name: e.name(), Amount: side.Long, State: e.state, Inner: e.bark == layout.InnerBark,
		}
		if e.bark == layout.KeptBark {
			e.task.State = stock.Loose // crumbs are brushed off, no more
		}
		e.made = making.By(l.on.Shop.Kit, e.task)
		out = append(out, e)
	}
	l.live = &out
	return out
}

// how is what is done to the edge, in words.
func (e liveEdge) how() string {
	done := map[string]string{
		layout.KeptBark:  "loose crumbs off, the bark stays",
		layout.InnerBark: "down to the inner bark",
		layout.NoBark:    "to bare wood",
	}[e.bark]
	switch e.state {
	case stock.Bare:
		done = "it is bare: dust out of its hollows"
	case stock.Splintery:
		done += ", splinters pared, never a disc"
	}
	return fmt.Sprintf("%s: %s. %s", craft.Capital(e.name()), done, e.made.How())
}

// bark takes the bark off the live edges before anything dulls on it: knives, tape and
// router follow.
func (l *laid) bark(r *stage.Record) {
	edges := l.liveEdges()
	if len(edges) == 0 {
		return
	}
	var ways []string
	var minutes, setup, kept float64
	terms := []craft.Term{}
	for i, e := range edges {
		step := e.made.Step("live-edge", e.task, nil)
		if i > 0 {
			step.Usual -= step.SetupMinutes
		} else {
			setup = step.SetupMinutes
		}
		minutes += step.Usual
		terms = append(terms, craft.Term{Name: e.name(), Value: step.Usual, Unit: craft.Minute})
		ways = append(ways, e.how())
		if e.bark == layout.KeptBark && e.state != stock.Bare {
			kept += e.Long
		}
	}
	ways = append(ways, "Knock back what is knife-thin; its last grit by hand, fine and short")
	work := plan.Timed(
		"live-edge",
		plan.LiveEdge,
		minutes,
		setup,
		"each edge by its state and its tool",
		terms,
		l.on.pace,
	)
	if edges[0].made.By != nil {
		work = work.On(edges[0].made.By.Tool)
	}
	r.Step("Clean the live edge", strings.Join(ways, ". "), work)
	if kept == 0 {
		return
	}
	r.Verdicts = append(r.Verdicts, craft.Verdict{
		Check: "bark", Stage: craft.Flatten, Level: craft.Mind, Finding: "The bark is kept on the live edge",
		Reason: "Bark sheds: it dries, lets go of the wood, and crumbs fall on the food and the table. Keep the " +
			"piece in the house for a month first: what holds then holds longer.",
		Figure: craft.Figure{
			Key: "flatten.bark", Stage: craft.Flatten, Label: "Edge with its bark on", Value: kept, Unit: craft.MM,
			Formula: "length of the outline that follows a natural edge", Source: "rule of the trade", Rule: true,
		},
		Remedies: []craft.Remedy{
			{
				Label: "Take it off to the inner bark",
				Patch: craft.Patch{"cut": map[string]any{"bark": layout.InnerBark, "barkRight": nil}},
			},
			{Label: "Take it off entirely", Patch: craft.Patch{"cut": map[string]any{"bark": nil, "barkRight": nil}}},
		},
	})
}
