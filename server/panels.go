package server

import (
	"cmp"
	"context"
	"errors"
	"slices"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/glue"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/shelf"
	"idletimber/craft/slab"
	"idletimber/craft/stock"
	"idletimber/formats"
	"idletimber/store"
)

// gathered is a piece as it stands: a panel with what the pieces of its strips say now.
func (s *Server) gathered(ctx context.Context, workshop, id string, v slab.Slab) (slab.Slab, error) {
	if !v.Panel() {
		return v.Settled(), nil
	}
	spots, err := s.Store.StripsOf(ctx, workshop, id)
	if err != nil {
		return v, err
	}
	return s.gatheredFrom(ctx, workshop, v, spots)
}

// gatheredFrom is gathered with the strips' places.
func (s *Server) gatheredFrom(
	ctx context.Context,
	workshop string,
	v slab.Slab,
	spots []store.Reserved,
) (slab.Slab, error) {
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return v, err
	}
	pieces, err := s.Store.PiecesOf(ctx, workshop, v.Sources())
	if err != nil {
		return v, err
	}
	sources := make([]slab.Source, len(pieces))
	for i, p := range pieces {
		ripped := p.Cut != nil && slices.ContainsFunc(spots, func(t store.Reserved) bool { return t.Piece == p.ID })
		sources[i] = slab.Source{ID: p.ID, Slab: p.Slab, Gone: p.Deleted != nil || p.Cut != nil && !ripped,
			Spots: spotsOn(spots, p.ID)}
	}
	return v.Gather(sources, at.Rules, at.Species).Settled(), nil
}

// panelled is a panel as it is to be: its strips laid on their pieces, with what those
// say. What lies there already keeps its place; again asks whether that is still free,
// too. A piece that is not glued up has no strips.
func (s *Server) panelled(
	ctx context.Context,
	workshop, id string,
	v slab.Slab,
	again bool,
) (slab.Slab, []store.Reserved, error) {
	if !v.Panel() {
		return v.Settled(), nil, nil
	}
	var before, spots []store.Reserved
	var err error
	if id != "" {
		if before, err = s.Store.StripsOf(ctx, workshop, id); err != nil {
			return v, nil, err
		}
	}
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return v, nil, err
	}
	for _, piece := range v.Sources() {
		wanted := reckon.WantedOn(v, piece, stripsOn(before, piece), at.Rules)
		if again || slices.ContainsFunc(wanted, func(w reckon.Wanted) bool { return w.At == nil }) {
			if wanted, err = s.placed(ctx, workshop, id, piece, wanted); err != nil {
				return v, nil, err
			}
		}
		for _, w := range wanted {
			if w.At != nil {
				spots = append(spots, store.Reserved{Piece: piece, Strip: reckon.Strip{
					Panel: id, Name: v.Name, ID: w.ID, At: *w.At, Length: w.Length, Width: w.Width,
				}})
			}
		}
	}
	if v, err = s.gatheredFrom(ctx, workshop, v, spots); err != nil {
		return v, nil, err
	}
	for i := range spots {
		for _, t := range v.Glue.All() {
			if t.ID == spots[i].ID {
				spots[i].Cents = t.Cents
			}
		}
	}
	return v, spots, nil
}

// placed gives strips of a panel their places on a piece among all else that lies there;
// on one that is nowhere they have none, which their verdict tells.
func (s *Server) placed(
	ctx context.Context,
	workshop, panel, piece string,
	wanted []reckon.Wanted,
) ([]reckon.Wanted, error) {
	there, err := s.job(ctx, workshop, piece, "")
	if errors.Is(err, store.ErrNotFound) {
		return wanted, nil
	}
	if err != nil {
		return nil, err
	}
	there.Strips = slices.DeleteFunc(there.Strips, func(t reckon.Strip) bool { return t.Panel == panel })
	at, err := reckon.Reserve(there, wanted)
	for i, w := range wanted {
		wanted[i].At = nil
		if p, ok := at[w.ID]; ok {
			wanted[i].At = &p
		}
	}
	return wanted, err
}

func stripsOn(spots []store.Reserved, piece string) (out []reckon.Strip) {
	for _, t := range spots {
		if t.Piece == piece {
			out = append(out, t.Strip)
		}
	}
	return out
}

func spotsOn(spots []store.Reserved, piece string) map[string]geom.Placement {
	out := map[string]geom.Placement{}
	for _, t := range stripsOn(spots, piece) {
		out[t.ID] = t.At
	}
	return out
}

// NewPanelIn asks for a panel: one of a need, or one that is made of pieces.
type NewPanelIn struct {
	Name         string    `json:"name" maxLength:"200"`
	Construction string    `json:"construction" enum:"flat,on edge,stacked quarter,end grain,chevron,unequal lengths"`
	Need         glue.Need `json:"need"`
	Pieces       []string  `json:"pieces,omitempty" maxItems:"20" doc:"Ids of pieces to rip its strips from"`
}

func (s *Server) panelRoutes(api huma.API) {
	huma.Post(api, "/api/panels/choose", func(ctx context.Context, in *struct{ Body glue.Need }) (*struct {
		Body []glue.Choice
	}, error) {
		conditions, err := s.gluingIn(ctx)
		if err != nil {
			return nil, answer(err)
		}
		if ps := in.Body.Check("body", conditions.Own); len(ps) > 0 {
			return nil, answer(ps)
		}
		return &struct{ Body []glue.Choice }{in.Body.Choose(conditions)}, nil
	})
	huma.Post(api, "/api/panels", s.newPanel)
	huma.Post(api, "/api/panels/arrange", func(ctx context.Context, in *struct{ Body glue.Arranging }) (*struct {
		Body glue.Panel
	}, error) {
		at, _, err := s.Store.Shop(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		if ps := in.Body.Check("body", at.Species); len(ps) > 0 {
			return nil, answer(ps)
		}
		return &struct{ Body glue.Panel }{in.Body.Arranged(at.Rules, at.Species)}, nil
	})
	huma.Post(api, "/api/pieces/{id}/log", s.recordPanel)
	huma.Post(api, "/api/pieces/{id}/press", func(ctx context.Context, in *recordIn) (*pressedOut, error) {
		return s.pressed(ctx, s.pressPanel(ctx, in))
	})
	huma.Get(api, "/api/pieces/{id}/panel.pdf", func(ctx context.Context, in *struct {
		ID    string `path:"id"`
		Paper string `query:"paper" enum:"A4,Letter" doc:"The shop's paper when left out"`
	}) (*file, error) {
		j, wood, err := s.panelOf(ctx, in.ID)
		if err != nil {
			return nil, err
		}
		pieces, err := s.Store.PiecesOf(ctx, account(ctx).Workshop, j.Slab.Sources())
		if err != nil {
			return nil, answer(err)
		}
		names := map[string]string{}
		for _, p := range pieces {
			names[p.ID] = p.Slab.Name
		}
		j.Shop.Paper = cmp.Or(in.Paper, j.Shop.Paper)
		data, err := formats.PanelSheet(j, wood, names)
		return download("application/pdf", j.Slab.Name, "pdf", data), err
	}, rawAnswer("application/pdf"))
	huma.Get(api, "/api/pieces/{id}/strips.pdf", func(ctx context.Context, in *idIn) (*file, error) {
		j, _, err := s.panelOf(ctx, in.ID)
		if err != nil {
			return nil, err
		}
		data, err := formats.StripLabels(j.Shop, *j.Slab)
		return download("application/pdf", j.Slab.Name+" strips", "pdf", data), err
	}, rawAnswer("application/pdf"))
}

// panelOf is a panel with its reckoning.
func (s *Server) panelOf(ctx context.Context, id string) (reckon.Scene, reckon.Wood, error) {
	j, err := s.job(ctx, account(ctx).Workshop, id, "")
	if err != nil {
		return j, reckon.Wood{}, answer(err)
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return j, reckon.Wood{}, answer(err)
	}
	if r.Slab.Parts == nil {
		return j, *r.Slab, huma.Error422UnprocessableEntity("this piece is not glued up of parts")
	}
	return j, *r.Slab, nil
}

// gluingIn are the conditions of the workshop.
func (s *Server) gluingIn(ctx context.Context) (glue.Conditions, error) {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return glue.Conditions{}, err
	}
	samples, err := s.samples(ctx, workshop)
	if err != nil {
		return glue.Conditions{}, err
	}
	sheeted, err := s.Store.Sheeted(ctx, workshop)
	return reckon.GluingIn(at, plan.Learn(samples), shelf.SheetsOf(sheeted)), err
}

// newPanel puts a panel on the rack, planned.
func (s *Server) newPanel(ctx context.Context, in *struct{ Body NewPanelIn }) (*pieceOut, error) {
	workshop := account(ctx).Workshop
	if ids, yes, err := s.Store.Repeated(ctx, workshop); err != nil {
		return nil, answer(err)
	} else if yes {
		return s.piece(ctx, ids[0])
	}
	conditions, err := s.gluingIn(ctx)
	if err != nil {
		return nil, answer(err)
	}
	if ps := in.Body.Need.Check("body.need", conditions.Own); len(ps) > 0 {
		return nil, answer(ps)
	}
	panel := in.Body.Need.New(in.Body.Construction, conditions)
	if len(in.Body.Pieces) > 0 {
		pieces, err := s.Store.PiecesOf(ctx, workshop, in.Body.Pieces)
		if err != nil {
			return nil, answer(err)
		}
		slabs := map[string]slab.Slab{}
		for _, p := range pieces {
			slabs[p.ID] = p.Slab
		}
		panel = reckon.Ripped(panel, in.Body.Pieces, slabs, conditions)
	}
	v := slab.Slab{Name: in.Body.Name, Moisture: []moisture.Reading{}, Flaws: []stock.Flaw{}, Glue: &panel}
	if ps := v.Check("slab", s.Clock(), conditions.Own); len(ps) > 0 {
		return nil, answer(ps)
	}
	v, spots, err := s.panelled(ctx, workshop, "", v.Settled(), true)
	if err != nil {
		return nil, answer(err)
	}
	p, err := s.Store.NewPiece(ctx, workshop, v, spots...)
	if err != nil {
		return nil, answer(err)
	}
	return s.piece(ctx, p.ID)
}

// CourseOf is the work on a piece that is made of others, glued up or cast; ok is false of one that
// is not.
func CourseOf(w reckon.Wood) (c plan.Course, ok bool) {
	switch {
	case w.Parts != nil:
		return w.Parts.Course, true
	case w.River != nil:
		return w.River.Course, true
	}
	return c, false
}

// madeBy is the work on such a piece.
func madeBy(w reckon.Wood) doing {
	course, _ := CourseOf(w)
	out := doing{Course: course}
	switch {
	case w.Parts != nil:
		out.uses = w.Parts.BySteps
	case w.River != nil:
		out.uses = fill.AsWeighed(w.River.BySteps, w.River.Pourings)
		if w.River.Mix != nil {
			out.resin = w.River.Mix.Kind
		}
	}
	return out
}

// stateOf is how far such a piece is.
func stateOf(w reckon.Wood) string {
	if w.River != nil {
		return w.River.State
	}
	return w.Parts.State
}

// madeOf is a piece that is made of others, with its reckoning.
func (s *Server) madeOf(ctx context.Context, id string) (reckon.Scene, reckon.Wood, error) {
	j, err := s.job(ctx, account(ctx).Workshop, id, "")
	if err != nil {
		return j, reckon.Wood{}, answer(err)
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return j, reckon.Wood{}, answer(err)
	}
	if _, ok := CourseOf(*r.Slab); !ok {
		return j, *r.Slab, huma.Error422UnprocessableEntity(
			"this piece is not made of others: it has no steps of its own",
		)
	}
	return j, *r.Slab, nil
}

// recordPanel appends an event to the log of a panel's step, and answers with the panel.
func (s *Server) recordPanel(ctx context.Context, in *recordIn) (*pieceOut, error) {
	if err := s.pressPanel(ctx, in); err != nil {
		return nil, err
	}
	return s.piece(ctx, in.ID)
}

// pressPanel appends an event to the log of a panel's step.
func (s *Server) pressPanel(ctx context.Context, in *recordIn) error {
	if _, yes, err := s.Store.Repeated(ctx, account(ctx).Workshop); err != nil || yes {
		return answer(err)
	}
	j, wood, err := s.madeOf(ctx, in.ID)
	if err != nil {
		return err
	}
	of := madeBy(wood)
	switch {
	case in.Body.Event == plan.Noted && wood.River != nil:
		err = s.noteAtRiver(ctx, j, wood, in.Body)
	case in.Body.Event == plan.Noted:
		err = s.noteOn(ctx, j, in.Body, noted{doing: of})
	default:
		err = s.recordStep(ctx, of, in.Body)
	}
	if err == nil && wood.River != nil {
		err = s.atRiver(ctx, in.ID, *j.Slab, in.Body)
	}
	return err
}
