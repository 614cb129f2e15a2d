package run

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"time"

	"idletimber/craft"
	"idletimber/craft/plan"
	"idletimber/craft/tool"
)

// The states of a cell of the matrix.
const (
	Waits  = "waits"   // something comes before it
	Ready  = "ready"   // it may be begun
	InHand = "in hand" // somebody is at it
	Drying = "drying"  // it is done, and its wait goes on
	Done   = "done"
)

// Cell is one board's step of an operation.
type Cell struct {
	Subject plan.Subject `json:"subject" doc:"Whose step it is"`
	Step    string       `json:"step" doc:"Key of the step"`
	Detail  string       `json:"detail" doc:"Its own numbers, in words"`
	State   string       `json:"state" enum:"waits,ready,in hand,drying,done" doc:"How far it is"`
	Until   *time.Time   `json:"until,omitempty" doc:"When its wait is over, while it is drying"`
	Minutes float64      `json:"minutes" doc:"Its share of the minutes, what is set up shared by all that are open"`
	Late    bool         `json:"late" doc:"Its latest start has passed"`
}

// Operation is one kind of work with one set-up, on all boards that have it.
type Operation struct {
	Key   string      `json:"key" doc:"Names it within the run"`
	Title string      `json:"title" doc:"What is done"`
	Kind  plan.Kind   `json:"kind" doc:"Kind of work"`
	Tool  string      `json:"tool" doc:"What it is set up with; empty where nothing particular is"`
	Stage craft.Stage `json:"stage" doc:"Stage of the work"`
	Cells []Cell      `json:"cells" doc:"By board, in the order of the run; boards without it are left out"`
	Open  int         `json:"open" doc:"Boards on which it is not done"`
	Able  int         `json:"able" doc:"Boards on which it may be done now, or is in hand"`

	Minutes float64 `json:"minutes" doc:"Hands-on for all that is open, set up once"`
	Saved   float64 `json:"saved" doc:"Minutes saved against doing each alone, of all its boards"`
	Hint    string  `json:"hint,omitempty" doc:"How several are worked together"`
	Batch   *Batch  `json:"batch,omitempty" doc:"How those that may be coated now follow each other; for one, left out"`
}

// Room is what several boards find in the shop at once.
type Room struct {
	Rack int                // places where boards dry; 0 where nobody counts them
	High map[string]float64 // thickest that a tool takes, mm, by its kind
}

// RoomOf is the room of a shop.
func RoomOf(kit tool.Kit, places plan.Places) Room {
	r := Room{Rack: places[plan.Rack], High: map[string]float64{}}
	for _, t := range kit.Tools {
		r.High[t.Kind] = max(r.High[t.Kind], t.Height)
	}
	return r
}

// Matrix is the work of a run: operations in an order that keeps that of every board.
type Matrix struct {
	Operations []Operation  `json:"operations" doc:"In their order"`
	Saved      craft.Figure `json:"saved" doc:"Minutes that shared set-ups save, over all boards and all operations"`
}

// column is an operation while it is gathered.
type column struct {
	Operation
	setups, longest float64 // of its open steps: the sum of their set-ups, and the longest
	all, most       float64 // the same of all its steps

	coat, soak, wipe float64 // of those that may be begun now: the longest of each
	place, n         float64 // where it comes on boards, from 0 to 1, summed
	after            map[string]bool
}

// Of gathers the steps of courses by operation, as they stand at a moment and are worked in a room.
func Of(courses []plan.Course, now time.Time, in Room) Matrix {
	columns := map[string]*column{}
	for _, c := range courses {
		gather(columns, c, now)
	}
	m := Matrix{Operations: []Operation{}}
	var terms []craft.Term
	saved := 0.0
	for _, c := range inOrder(columns) {
		op := c.Operation
		op.Minutes += c.longest
		for i := range op.Cells {
			if cell := &op.Cells[i]; op.Open > 0 && cell.State != Done && cell.State != Drying {
				cell.Minutes += c.longest / float64(op.Open)
			}
		}
		op.Saved = c.all - c.most
		if op.Saved > 0 {
			terms = append(terms, craft.Term{Name: op.Title, Value: op.Saved, Unit: craft.Minute})
			saved += op.Saved
		}
		op.Hint = hint(op, in)
		if op.Able > 1 && c.soak > 0 {
			b := Stagger(op.Able, in.Rack, c.soak, c.coat, c.wipe)
			op.Batch = &b
		}
		m.Operations = append(m.Operations, op)
	}
	m.Saved = craft.Figure{
		Key: "run.saved", Stage: craft.Give, Label: "Saved by setting up once", Value: saved, Unit: craft.Minute,
		Formula: "sum over the operations of (boards − 1) × set-up, against doing each alone", Terms: terms,
		Source: "rates of the trade; your pace from the logbook", Rule: true,
	}
	return m
}

// Keys name the operation of each step of a course, by the step's key: a set-up that comes again is another operation.
func Keys(c plan.Course) map[string]string {
	times := map[string]int{}
	out := make(map[string]string, len(c.Steps))
	for _, s := range c.Steps {
		if s.Minutes == 0 && s.State != plan.Done { // what waits by itself
			continue
		}
		setup := cmp.Or(s.Setup, string(s.Kind))
		times[setup]++
		out[s.Key] = fmt.Sprintf("%s/%d", setup, times[setup])
	}
	return out
}

func gather(columns map[string]*column, c plan.Course, now time.Time) {
	keys := Keys(c)
	before := ""
	open := false // a step before is not done, or not waited for
	for i, s := range c.Steps {
		if s.Minutes == 0 && s.State != plan.Done { // what waits by itself
			open = open || s.WaitUntil == nil || s.WaitUntil.After(now)
			continue
		}
		key := keys[s.Key]
		col := columns[key]
		if col == nil {
			col = &column{Operation: Operation{Key: key, Title: s.Title, Kind: s.Kind, Tool: s.Tool(), Stage: s.Stage,
				Cells: []Cell{}}, after: map[string]bool{}}
			columns[key] = col
		}
		if before != "" {
			col.after[before] = true
		}
		before = key
		col.place, col.n = col.place+float64(i)/float64(len(c.Steps)), col.n+1
		col.all, col.most = col.all+s.SetupMinutes, max(col.most, s.SetupMinutes)
		cell := Cell{Subject: c.Subject, Step: s.Key, Detail: s.Detail, Late: s.Late, State: stateOf(s, open, now)}
		switch cell.State {
		case Done:
		case Drying:
			cell.Until = s.WaitUntil
		default:
			own, setup := own(s)
			cell.Minutes, col.Minutes = own, col.Minutes+own
			col.longest = max(col.longest, setup)
			col.Open++
			if cell.State != Waits {
				col.Able++
				if s.Attended && i+1 < len(c.Steps) { // what ends its soak is the step after it
					col.coat, col.soak = max(col.coat, own), max(col.soak, s.Wait)
					col.wipe = max(col.wipe, c.Steps[i+1].Minutes-c.Steps[i+1].SetupMinutes)
				}
			}
		}
		col.Cells = append(col.Cells, cell)
		open = open || cell.State != Done
	}
}

func stateOf(s plan.Dated, open bool, now time.Time) string {
	switch s.State {
	case plan.Running, plan.Paused:
		return InHand
	case plan.Done:
		if s.Wait > 0 && s.WaitUntil != nil && s.WaitUntil.After(now) {
			return Drying
		}
		return Done
	}
	// A step that names what it waits for may begin while another before it is open.
	if s.Starts != nil && len(s.After) > 0 && !s.Starts.After(now) {
		return Ready
	}
	if open || len(s.After) > 0 || s.From != nil && s.From.After(now) {
		return Waits
	}
	return Ready
}

// inOrder puts operations in an order that keeps that of every board; where boards differ, the one that comes sooner
// on most comes first.
func inOrder(columns map[string]*column) []*column {
	left := slices.SortedFunc(maps.Keys(columns), func(a, b string) int {
		p, q := columns[a], columns[b]
		return cmp.Or(cmp.Compare(p.place/p.n, q.place/q.n), cmp.Compare(a, b))
	})
	out := make([]*column, 0, len(left))
	placed := map[string]bool{}
	for len(left) > 0 {
		next := slices.IndexFunc(left, func(key string) bool {
			for before := range columns[key].after {
				if !placed[before] {
					return false
				}
			}
			return true
		})
		next = max(next, 0)
		placed[left[next]] = true
		out = append(out, columns[left[next]])
		left = slices.Delete(left, next, next+1)
	}
	return out
}

// hint tells how several boards are worked together at an operation.
func hint(op Operation, in Room) string {
	if len(op.Cells) < 2 {
		return ""
	}
	switch op.Kind {
	case plan.Planing:
		return "Face one of all boards before face two of any; parts of one thickness nose to tail, so that only the " +
			"first and the last are sniped"
	case plan.RouterSled, plan.HandPlane:
		return "Face one of all boards before face two of any"
	case plan.CrossCut, plan.Rip:
		if high := in.High[op.Tool]; high > 0 {
			return "Equal parts stacked, up to " + craft.Length(high) + " at the " + op.Tool
		}
		return "Equal parts stacked, as high as the saw takes them"
	}
	return ""
}
