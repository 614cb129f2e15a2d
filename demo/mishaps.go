package demo

import (
	"context"
	"time"

	"idletimber/craft/board"
	"idletimber/craft/geom"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/slab"
	"idletimber/store"
)

// hurtSlab is the slab of the board that waits for a decision.
const hurtSlab = "Footbridge plank"

// Mishaps are boards on which something went wrong: one waits for a decision.
func Mishaps(now time.Time) []Piece {
	v := slab.Slab{
		Name: hurtSlab, Species: "London plane", Length: 540, LiveLeft: true,
		Show:     edge(0, 104, -96, 180, 112, -96, 360, 108, -96, 540, 110, -96),
		Readings: thick(28, 27.5, 28), RingAngle: 35, PriceCents: 1400, Moisture: readings(now, 9.5, 9.2, 9.1),
		Notes: "Came down in the night of the storm, across the footbridge.",
	}
	b := reckon.NewBoardOn("", "Lantern hanger's board", v, Shop())
	b.Placement = geom.Placement{X: 270}
	b.Design.Shape, b.Design.Length, b.Design.Width, b.Design.Thickness = board.Oval, 360, 180, 20
	b.Design.Handle = board.Handle{Kind: board.Hole, Diameter: 26, Setback: 38}
	b.Give.For, b.Give.People, b.Give.Use = "the lantern hanger", 3, "nibbles"
	b.Give.Due = now.AddDate(0, 0, 48).Format(time.DateOnly)
	b.Finish.School = "oil"
	return []Piece{{Slab: v, Boards: []Laid{{
		Board: b,
		Done: []Done{
			done("cross-cut", 52, 5), done("flatten", 51, 13), done("bore", 4, 4), done("outline", 3, 16),
		},
		Wrong: &Wrong{
			Step: "edges", Ago: time.Hour, Words: "The saw ran off in the bend",
			Report: rescue.Report{Kind: "deep", Area: []geom.Point{
				{X: -58, Y: 92}, {X: -46, Y: 78}, {X: -30, Y: 77}, {X: -18, Y: 92},
			}},
		},
	}}}}
}

// Wrong is something that went wrong on a board some time ago.
type Wrong struct {
	Step, Words string
	Ago         time.Duration
	Days        float64
	Report      rescue.Report
	Out         *rescue.Out // the way out that was taken; nil while nothing is decided
}

// store writes down what went wrong on a board.
func (w *Wrong) store(ctx context.Context, st *store.Store, workshop, id string, job reckon.Scene, at int) error {
	if w == nil {
		return nil
	}
	stored, err := st.Board(ctx, workshop, id)
	if err != nil {
		return err
	}
	j := job
	j.Boards = []reckon.Board{job.Boards[at]}
	j.Boards[0].ID = id
	log, err := st.LogOf(ctx, workshop, stored.Piece)
	if err != nil {
		return err
	}
	for _, e := range log {
		j.Log = append(j.Log, e.Logged())
	}
	when := job.Now.Add(-w.Ago)
	next, err := reckon.Happened(j, store.NewID(), w.Step, when, w.Days, w.Report)
	if err != nil {
		return err
	}
	m := &next.Mishaps[len(next.Mishaps)-1]
	if w.Out != nil {
		out := *w.Out
		out.At = when
		m.Out, m.Gone = &out, nil
	}
	kind, _ := rescue.KindOf(w.Report.Kind)
	kept := stored.Stored()
	kept.Board.Mishaps = next.Mishaps
	_, err = st.Rescue(ctx, workshop, store.Rescued{
		Boards: []reckon.Stored{kept},
		Log: []store.Entry{{
			Subject: plan.Board(id), Step: w.Step, Event: plan.Noted, At: when, Kind: string(plan.EdgeWork),
			Title: kind.Name, What: plan.NoteMishap, Value: w.Days, Of: kind.Key, Words: w.Words,
		}},
	})
	return err
}
