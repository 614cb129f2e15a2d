package server

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/glue"
	"idletimber/craft/making"
	"idletimber/craft/measure"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/run"
	"idletimber/craft/stage"
	"idletimber/formats"
	"idletimber/store"
)

// RunListed is a run in the list.
type RunListed struct {
	ID     string     `json:"id"`
	Name   string     `json:"name"`
	Day    string     `json:"day"`
	Wanted int        `json:"wanted"`
	Boards int        `json:"boards"`
	Given  int        `json:"given"`
	Done   int        `json:"done" doc:"Steps done"`
	Steps  int        `json:"steps"`
	Finish *time.Time `json:"finish,omitempty" doc:"When the last board is ready"`
	Late   int        `json:"late" doc:"Boards that are too late"`
}

// RunBoard is a board of a run.
type RunBoard struct {
	ID     string     `json:"id"`
	Name   string     `json:"name"`
	For    string     `json:"for"`
	Due    string     `json:"due"`
	Piece  string     `json:"piece" doc:"Id of its piece"`
	Slab   string     `json:"slab" doc:"Name of its piece"`
	Given  bool       `json:"given"`
	Finish *time.Time `json:"finish,omitempty"`
	Slack  float64    `json:"slack"`
	Late   bool       `json:"late"`

	Path  string       `json:"path"`
	Holes []string     `json:"holes"`
	Box   [4]float64   `json:"box"`
	Light string       `json:"light"`
	Dark  string       `json:"dark"`
	Parts []glue.Drawn `json:"parts,omitempty" doc:"Of a panel"`
}

// RunSheet is all that the page of a run shows.
type RunSheet struct {
	ID      string     `json:"id"`
	Version int        `json:"version"`
	Run     run.Run    `json:"run"`
	Binned  bool       `json:"binned"`
	Boards  []RunBoard `json:"boards"`
	Matrix  run.Matrix `json:"matrix"`

	Machines []run.Visit   `json:"machines" doc:"What is cut at each machine in one visit, by hand last"`
	Shelf    []stage.Use   `json:"shelf" doc:"What all boards take from the shelf"`
	Phases   []run.Phase   `json:"phases" doc:"Hands-on minutes still to do, by stage"`
	Spares   int           `json:"spares" doc:"How many spares the rule asks for"`
	Missing  int           `json:"missing" doc:"Boards still to be laid: wanted, spares, or waited for"`
	Template run.Templates `json:"template" doc:"Whether a template pays"`
	Now      time.Time     `json:"now"`
	Line     int64         `json:"line" doc:"Id of the newest line of the log that is known here"`
}

type runOut struct{ Body RunSheet }

const xlsxType = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

func (s *Server) runRoutes(api huma.API) {
	huma.Get(api, "/api/runs", s.listRuns)
	huma.Post(api, "/api/runs", s.newRun)
	huma.Get(api, "/api/runs/{id}", func(ctx context.Context, in *idIn) (*runOut, error) {
		return s.runSheet(ctx, in.ID)
	})
	huma.Put(api, "/api/runs/{id}", s.saveRun, mayConflict[run.Run](api))
	huma.Delete(api, "/api/runs/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinRun(ctx, account(ctx).Workshop, in.ID, true))
	})
	huma.Post(api, "/api/runs/{id}/restore", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.BinRun(ctx, account(ctx).Workshop, in.ID, false))
	})
	huma.Post(api, "/api/runs/{id}/boards", s.putInRun)
	huma.Post(api, "/api/runs/{id}/log", s.recordRun)
	huma.Post(api, "/api/runs/{id}/press", func(ctx context.Context, in *runPress) (*pressedOut, error) {
		return s.pressed(ctx, s.pressRun(ctx, in))
	})
	huma.Get(api, "/api/runs/{id}/matrix.csv", func(ctx context.Context, in *idIn) (*file, error) {
		return s.runTable(ctx, in.ID, "csv", "text/csv; charset=utf-8", formats.RunCSV)
	}, rawAnswer("text/csv; charset=utf-8"))
	huma.Get(api, "/api/runs/{id}/matrix.xlsx", func(ctx context.Context, in *idIn) (*file, error) {
		return s.runTable(ctx, in.ID, "xlsx", xlsxType, formats.RunXLSX)
	}, rawAnswer(xlsxType))
	huma.Get(api, "/api/runs/{id}/sheet.pdf", byErrand[idIn](s, "run sheet"), rawAnswer("application/pdf"))
	huma.Get(api, "/api/runs/{id}/labels.pdf", byErrand[idIn](s, "run labels"), rawAnswer("application/pdf"))
}

// printRun is a run on paper: its matrix with boxes, what is cut at each machine, what it takes.
func (s *Server) printRun(ctx context.Context, in *idIn) (*file, error) {
	sheet, err := s.runSheet(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	b := sheet.Body
	out := formats.RunSheet{Run: b.Run, Boards: b.rows(), Matrix: b.Matrix, Visits: b.Machines, Shelf: b.Shelf,
		Late: map[string]bool{}}
	for _, board := range b.Boards {
		out.Late[board.ID] = board.Late
	}
	data, err := formats.RunPDF(at, s.Clock(), out)
	return download("application/pdf", b.Run.Name, "pdf", data), answer(err)
}

// labelRun is a label for each board of a run, to be tied to it.
func (s *Server) labelRun(ctx context.Context, in *idIn) (*file, error) {
	sheet, err := s.runSheet(ctx, in.ID)
	if err != nil {
		return nil, err
	}
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	b := sheet.Body
	if len(b.Boards) == 0 {
		return nil, huma.Error422UnprocessableEntity("there is no board in the run, so there is nothing to label")
	}
	var labels []formats.Label
	for _, board := range b.Boards {
		lines := []string{board.Slab}
		if board.For != "" {
			lines = append(lines, "for "+board.For)
		}
		lines = append(lines, strings.TrimSuffix(b.Run.Name+", "+board.Due, ", "))
		labels = append(
			labels,
			formats.BoardLabel(board.Name, board.Path, s.base(ctx)+"/boards/"+board.ID, lines...),
		)
	}
	data, err := formats.Labels(at, labels)
	return download("application/pdf", b.Run.Name+" labels", "pdf", data), answer(err)
}

// rows are the boards of a run as its tables name them.
func (r RunSheet) rows() (out []formats.RunRow) {
	for _, b := range r.Boards {
		out = append(out, formats.RunRow{ID: b.ID, Name: b.Name, Slab: b.Slab, For: b.For, Due: b.Due})
	}
	return out
}

// runTable is the matrix of a run as a file.
func (s *Server) runTable(ctx context.Context, id, extension, contentType string,
	write func(run.Matrix, []formats.RunRow, measure.System, *time.Location) ([]byte, error),
) (*file, error) {
	sheet, err := s.runSheet(ctx, id)
	if err != nil {
		return nil, err
	}
	at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
	if err != nil {
		return nil, answer(err)
	}
	zone, err := at.Zone()
	if err != nil {
		return nil, answer(err)
	}
	data, err := write(sheet.Body.Matrix, sheet.Body.rows(), at.System(), zone)
	return download(contentType, sheet.Body.Run.Name, extension, data), answer(err)
}

func (s *Server) listRuns(ctx context.Context, _ *struct{}) (*struct{ Body []RunListed }, error) {
	workshop := account(ctx).Workshop
	runs, err := s.Store.Runs(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	of, err := s.planned(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	courses := of.bySubject()
	out := &struct{ Body []RunListed }{[]RunListed{}}
	for _, r := range runs {
		boards, err := s.Store.BoardsOfRun(ctx, workshop, r.ID)
		if err != nil {
			return nil, answer(err)
		}
		line := RunListed{ID: r.ID, Name: r.Run.Name, Day: r.Run.Day, Wanted: r.Run.Count, Boards: len(boards)}
		for _, b := range boards {
			if b.Given != nil {
				line.Given++
			}
			c, ok := courses[plan.Board(b.Board.ID)]
			if !ok {
				continue
			}
			line.Steps += len(c.Steps)
			for _, step := range c.Steps {
				if step.State == plan.Done {
					line.Done++
				}
			}
			if c.Late {
				line.Late++
			}
			if c.Finish != nil && (line.Finish == nil || c.Finish.After(*line.Finish)) {
				line.Finish = c.Finish
			}
		}
		out.Body = append(out.Body, line)
	}
	return out, nil
}

// runBefore is the answer to a request that changed a run when it was asked before, an empty one where it made it; nil
// for a new request.
func (s *Server) runBefore(ctx context.Context, id string) (*runOut, error) {
	ids, yes, err := s.Store.Repeated(ctx, account(ctx).Workshop)
	if err != nil || !yes {
		return nil, answer(err)
	}
	if id == "" {
		id = ids[0]
	}
	return s.runSheet(ctx, id)
}

func (s *Server) newRun(ctx context.Context, in *struct {
	Body struct {
		Run    run.Run  `json:"run"`
		Boards []string `json:"boards" doc:"Ids of those that it begins with"`
	}
}) (*runOut, error) {
	workshop := account(ctx).Workshop
	if before, err := s.runBefore(ctx, ""); before != nil || err != nil {
		return before, err
	}
	if ps := in.Body.Run.Check("body.run"); len(ps) > 0 {
		return nil, answer(ps)
	}
	id, err := s.Store.NewRun(ctx, workshop, in.Body.Run, in.Body.Boards)
	if err != nil {
		return nil, answer(err)
	}
	return s.runSheet(ctx, id)
}

func (s *Server) saveRun(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Version int     `json:"version"`
		Run     run.Run `json:"run"`
	}
}) (*runOut, error) {
	if ps := in.Body.Run.Check("run"); len(ps) > 0 {
		return nil, answer(ps)
	}
	err := s.Store.SaveRun(ctx, account(ctx).Workshop, in.ID, in.Body.Run, in.Body.Version)
	if err != nil {
		return nil, conflict(err, in.Body.Run)
	}
	return s.runSheet(ctx, in.ID)
}

// putInRun makes boards part of a run, or takes them out of it.
func (s *Server) putInRun(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Boards []string `json:"boards" doc:"Their ids"`
		Out    bool     `json:"out,omitempty" doc:"They are taken out of it"`
	}
}) (*runOut, error) {
	to := in.ID
	if in.Body.Out {
		to = ""
	}
	if err := s.Store.PutInRun(ctx, account(ctx).Workshop, to, in.Body.Boards); err != nil {
		return nil, answer(err)
	}
	return s.runSheet(ctx, in.ID)
}

// runPress is an event of one operation on several boards of a run.
type runPress struct {
	ID   string `path:"id"`
	Body struct {
		Steps []struct {
			Board string `json:"board" doc:"Id"`
			Step  string `json:"step" doc:"Key of its step"`
		} `json:"steps"`
		Event   string     `json:"event" enum:"start,pause,finish,undo"`
		Minutes float64    `json:"minutes" minimum:"0" maximum:"60000" doc:"With finish: of all of them"`
		At      *time.Time `json:"at,omitempty" doc:"When it was pressed, by the device's clock set right"`
		Late    bool       `json:"late,omitempty" doc:"It could not be sent at once, and stands as it was pressed"`
	}
}

// recordRun writes an event down, and answers with the run.
func (s *Server) recordRun(ctx context.Context, in *runPress) (*runOut, error) {
	if err := s.pressRun(ctx, in); err != nil {
		return nil, err
	}
	return s.runSheet(ctx, in.ID)
}

// pressRun writes an event of one operation down on several boards of a run at once: all of them or none. The
// minutes of all are shared among them as the operation is.
func (s *Server) pressRun(ctx context.Context, in *runPress) error {
	workshop, steps := account(ctx).Workshop, in.Body.Steps
	if _, yes, err := s.Store.Repeated(ctx, workshop); err != nil || yes {
		return answer(err)
	}
	courses, err := s.alone(ctx, workshop, in)
	if err != nil {
		return err
	}
	dated := make([]plan.Dated, len(steps))
	entries := make([]store.Entry, len(steps))
	for i, st := range steps {
		c := courses[st.Board]
		event := Event{Step: st.Step, Event: in.Body.Event, At: in.Body.At, Late: in.Body.Late}
		if entries[i], err = s.entry(ctx, c, event); err != nil {
			return err
		}
		dated[i] = c.Steps[slices.IndexFunc(c.Steps, func(d plan.Dated) bool { return d.Key == st.Step })]
	}
	estimated, took := run.Split(dated, in.Body.Minutes)
	for i, d := range dated {
		if d.Minutes > 0 {
			entries[i].Usual *= estimated[i] / d.Minutes
		}
		if in.Body.Event == plan.Finish {
			entries[i].Minutes = took[i]
		}
	}
	return answer(s.Store.Record(ctx, workshop, entries...))
}

// alone is the work on the boards that a press is of, by their ids, without the work elsewhere.
func (s *Server) alone(ctx context.Context, workshop string, in *runPress) (map[string]doing, error) {
	boards, err := s.Store.BoardsOfRun(ctx, workshop, in.ID)
	if err != nil {
		return nil, answer(err)
	}
	out := map[string]doing{}
	for i, st := range in.Body.Steps {
		if !slices.ContainsFunc(boards, func(b store.Board) bool { return b.Board.ID == st.Board }) {
			return nil, huma.Error422UnprocessableEntity(
				"there is no such board in the run",
				&huma.ErrorDetail{
					Location: fmt.Sprintf("body.steps[%d].board", i),
					Message:  "name one of its boards",
				},
			)
		}
		if _, ok := out[st.Board]; ok {
			continue
		}
		j, err := s.boardAlone(ctx, st.Board)
		if err != nil {
			return nil, answer(err)
		}
		r, err := reckon.Reckon(j, reckon.Request{})
		if err != nil {
			return nil, answer(err)
		}
		for _, b := range r.Boards { // all that lie on its piece
			out[b.ID] = doingOf(b)
		}
	}
	return out, nil
}

func (s *Server) runSheet(ctx context.Context, id string) (*runOut, error) {
	workshop := account(ctx).Workshop
	r, err := s.Store.Run(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	line, err := s.Store.LastLine(ctx, workshop) // before the rest is read, which may know more
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.Store.BoardsOfRun(ctx, workshop, id)
	if err != nil {
		return nil, answer(err)
	}
	of, err := s.planned(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	j, dated, known := of.scene, of.bySubject(), of.boards()
	var courses []plan.Course
	for _, b := range boards {
		if c, ok := dated[plan.Board(b.Board.ID)]; ok {
			courses = append(courses, c)
		}
	}
	out := RunSheet{
		ID: r.ID, Version: r.Version, Run: r.Run, Binned: r.Deleted != nil, Boards: []RunBoard{},
		Matrix: run.Of(courses, s.Clock(), run.RoomOf(j.Shop.Kit, reckon.PlacesOf(j.Shop))),
		Phases: run.Phases(courses), Spares: run.Spares(r.Run.Count, j.Shop.Rules),
		Missing: r.Run.Missing(len(boards)), Now: s.Clock(), Line: line,
	}
	var uses []stage.Use
	var made []run.Made
	var makes [][]making.Made
	var outlines []string
	for _, b := range boards {
		line := RunBoard{ID: b.Board.ID, Name: b.Board.Name, For: b.Board.Give.For, Due: b.Board.Give.Due,
			Piece: b.Piece, Slab: b.Slab, Given: b.Given != nil}
		if w, ok := known[b.Board.ID]; ok {
			line.Path, line.Holes, line.Box, line.Light, line.Dark = w.reckoned.Path, w.reckoned.Holes, w.reckoned.Box,
				w.light, w.dark
			line.Parts = w.reckoned.Parts
			uses = append(uses, w.reckoned.Uses...)
			made, makes = append(made, run.Made{Board: b.Board.Name, Slab: b.Slab}), append(makes, w.reckoned.Makes)
			outlines = append(outlines, w.reckoned.Path)
		} else {
			line.Path, line.Holes, line.Box = pictured(b.Board.Design)
		}
		if c, ok := dated[plan.Board(b.Board.ID)]; ok {
			line.Finish, line.Slack, line.Late = c.Finish, c.Slack, c.Late
		}
		out.Boards = append(out.Boards, line)
	}
	out.Shelf, out.Machines = stage.Together(uses), run.Visits(made, makes)
	out.Template = run.TemplatesFor(outlines)
	return &runOut{out}, nil
}
