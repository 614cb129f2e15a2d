package server

import (
	"context"
	"fmt"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/finish"
	"idletimber/craft/fitting"
	"idletimber/craft/glue"
	"idletimber/craft/measure"
	"idletimber/craft/milling"
	"idletimber/craft/moisture"
	"idletimber/craft/money"
	"idletimber/craft/photo"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/rescue"
	"idletimber/craft/rule"
	"idletimber/craft/run"
	"idletimber/craft/sanding"
	"idletimber/craft/shelf"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/species"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
	"idletimber/craft/trial"
)

// Tables is what the interface offers to choose from, and between what a number
// may lie.
type Tables struct {
	Species []species.Species `json:"species" doc:"The woods of the table"`
	Rules   []rule.Rule       `json:"rules" doc:"Rules of thumb that a workshop may set"`
	Homes   []moisture.Place  `json:"homes" doc:"Kinds of homes that boards go to"`
	Nominal []slab.Nominal    `json:"nominal" doc:"Shop boards by the size they are sold by"`

	Stages     []craft.NamedStage `json:"stages" doc:"Stages of the work, in their order"`
	Saws       []tool.Saw         `json:"saws" doc:"Saws for outlines"`
	Blades     []tool.Blade       `json:"blades" doc:"Usual blades with the least radius they turn"`
	Bits       Bits               `json:"bits" doc:"Usual boring bits, by the unit they are sold in"`
	RouterBits []string           `json:"routerBits" doc:"Kinds of router bits"`
	BitKinds   []string           `json:"bitKinds" doc:"Kinds of boring bits"`
	Tools      []tool.Kind        `json:"tools" doc:"Kinds of tools that can be owned, by group"`
	Starters   []tool.Starter     `json:"starters" doc:"Shops to begin with"`
	Methods    []string           `json:"methods" doc:"Ways to flatten a blank"`

	Shapes     []board.Kind       `json:"shapes" doc:"Shapes of a board"`
	Ends       []board.Kind       `json:"ends" doc:"Ends of a plank"`
	Formats    Formats            `json:"formats" doc:"Sizes that are often made"`
	Handles    []board.HandleKind `json:"handles" doc:"Kinds of handles"`
	MoreHandle board.Handle       `json:"moreHandle" doc:"A further handle to begin with"`
	Edges      []board.Kind       `json:"edges" doc:"Profiles of an edge"`
	Recesses   []board.Kind       `json:"recesses" doc:"Kinds of recesses"`
	Fittings   fitting.Choice     `json:"fittings" doc:"What each fitting begins with"`

	Flaws    []stock.Mark `json:"flaws" doc:"Flaws that are marked"`
	Features []stock.Mark `json:"features" doc:"What is worth showing"`

	Resins  []string        `json:"resins" doc:"Kinds of resin"`
	Fillers []fill.Filler   `json:"fillers" doc:"Ways to fill a void"`
	Beneath []string        `json:"beneath" doc:"Fillers that may lie below another"`
	Colours []string        `json:"colours" doc:"Ways to colour resin"`
	Clear   []int           `json:"clear" doc:"Grits that resin may go on to, the first of which clears it"`
	Grits   []int           `json:"grits" doc:"Abrasives, the coarsest first"`
	Starts  []string        `json:"starts" doc:"Surfaces that sanding begins with"`
	Raising []string        `json:"raising" doc:"Schools of raising the grain"`
	Schools []finish.School `json:"schools" doc:"Ways to finish"`

	SandTools  []sanding.Tool   `json:"sandTools" doc:"What surfaces are sanded with"`
	Corners    []string         `json:"corners" doc:"Where the thickness is read"`
	Products   []finish.Product `json:"products" doc:"What is put on boards"`
	CoatParts  []string         `json:"coatParts" doc:"Parts of a board that a coat may be for"`
	Begins     []finish.Act     `json:"begins" doc:"What a list of coats and acts is gone on with, by product"`
	RubGrits   []int            `json:"rubGrits" doc:"Grits that are rubbed with between coats"`
	Needs      []finish.Need    `json:"needs" doc:"What a finish is chosen for"`
	Marks      []string         `json:"marks" doc:"Shapes by which samples of a trial are told apart"`
	Treatments []string         `json:"treatments" doc:"What is done in a round of a trial"`
	Measures   []string         `json:"measures" doc:"What is scored in a round of a trial"`

	Glues         []glue.Glue      `json:"glues" doc:"Kinds of glue, the usual one first"`
	Constructions []string         `json:"constructions" doc:"How the parts of a panel may stand"`
	Clamps        []tool.ClampKind `json:"clamps" doc:"Kinds of clamps"`

	Kinds []plan.Kind  `json:"kinds" doc:"Kinds of work"`
	Notes []Noteworthy `json:"notes" doc:"What may be written down at every step"`

	Rates money.Rates `json:"rates" doc:"The usual ones, until a workshop has its own"`

	Ranges map[string]map[string]craft.Range `json:"ranges" doc:"Ranges of each document and request, by path"`
}

// Formats are the sizes of boards that are often made.
type Formats struct {
	MM []board.Format `json:"mm" doc:"Measured in millimetres"`
	In []board.Format `json:"in" doc:"Measured in inches"`
}

// Bits are usual boring bits.
type Bits struct {
	MM []tool.Bit `json:"mm" doc:"Sold in millimetres"`
	In []tool.Bit `json:"in" doc:"Sold in inches"`
}

var tables = Tables{
	Bits:   Bits{tool.NewBits(tool.UsualBits[measure.Millimetre]...), tool.NewBits(tool.UsualBits[measure.Inch]...)},
	Stages: craft.Stages, Species: species.All, Rules: rule.All, Homes: moisture.Places, Nominal: slab.Nominals,
	Saws: tool.Saws, Blades: tool.UsualBlades, RouterBits: tool.RouterBits,
	BitKinds: tool.BitKinds, Tools: tool.Kinds, Starters: tool.Starters, Methods: milling.Methods,
	Shapes: board.ShapeKinds, Formats: Formats{board.Formats, board.FormatsIn}, Ends: board.EndKinds,
	Handles: board.HandleKinds, MoreHandle: board.MoreHandle,
	Edges: board.EdgeKinds, Recesses: board.RecessKinds, Fittings: fitting.Starts,
	Flaws: stock.FlawMarks, Features: stock.FeatureMarks,
	Resins: fill.Kinds(), Fillers: fill.Fillers, Beneath: fill.Underneath, Colours: fill.Colours,
	Grits: sanding.Grits, Clear: sanding.ResinGrits(), Starts: sanding.Starts(),
	Raising: sanding.Schools, Schools: finish.Schools,
	SandTools: sanding.Tools, Corners: sanding.CornerNames(), Products: finish.Products, CoatParts: finish.Parts,
	Begins: finish.Begins(), RubGrits: finish.RubGrits,
	Needs: finish.Needs, Marks: trial.Marks, Treatments: trial.Treatments,
	Measures: trial.Measures,
	Glues:    glue.Glues, Constructions: glue.Constructions, Clamps: tool.ClampKinds,
	Kinds: plan.Kinds(), Notes: noteworthy(), Rates: money.Usual(),
	Ranges: map[string]map[string]craft.Range{
		"board": craft.RangesOf(reckon.Board{}), "piece": craft.RangesOf(slab.Slab{}),
		"size": craft.RangesOf(slab.Size{}), "need": craft.RangesOf(glue.Need{}), "shop": craft.RangesOf(shop.Shop{}),
		"want": craft.RangesOf(reckon.Want{}), "resawing": craft.RangesOf(slab.Resawing{}),
		"copies": craft.RangesOf(Copies{}), "splitting": craft.RangesOf(Splitting{}),
		"mating":  craft.RangesOf(Mating{}),
		"finding": craft.RangesOf(Finding{}), "tracing": craft.RangesOf(Tracing{}),
		"sheet": craft.RangesOf(photo.Sheet{}), "event": craft.RangesOf(Event{}), "run": craft.RangesOf(run.Run{}),
		"product": craft.RangesOf(shelf.Product{}), "mishap": craft.RangesOf(rescue.Report{}),
		"toCome": craft.RangesOf(reckon.ToCome{}), "trial": craft.RangesOf(trial.Trial{}),
	},
}

// Noteworthy is something that may be written down at every step.
type Noteworthy struct {
	What  string     `json:"what" doc:"By which it is named"`
	Name  string     `json:"name" doc:"As it is chosen"`
	Unit  craft.Unit `json:"unit" doc:"Of its value; empty where it has none"`
	Least float64    `json:"least" doc:"Of the value"`
	Most  float64    `json:"most" doc:"Of the value"`
}

func noteworthy() (out []Noteworthy) {
	for _, n := range plan.Anywhere {
		out = append(out, Noteworthy{n.What, n.Name, n.Unit, n.Least, n.Most})
	}
	return out
}

// ShopDoc is the workshop's document with its version.
type ShopDoc struct {
	Version int       `json:"version"`
	Shop    shop.Shop `json:"shop"`
}

type shopOut struct{ Body ShopDoc }

func (s *Server) shopRoutes(api huma.API) {
	huma.Get(api, "/api/tables", func(ctx context.Context, _ *struct{}) (*struct{ Body Tables }, error) {
		return &struct{ Body Tables }{tables}, nil
	})
	huma.Get(api, "/api/shop", func(ctx context.Context, _ *struct{}) (*shopOut, error) {
		return s.shop(ctx)
	})
	huma.Put(api, "/api/shop", func(ctx context.Context, in *shopOut) (*shopOut, error) {
		if ps := in.Body.Shop.Check("shop", sanding.Grits); len(ps) > 0 {
			return nil, answer(ps)
		}
		used, err := s.Store.SpeciesOnRack(ctx, account(ctx).Workshop)
		if err != nil {
			return nil, answer(err)
		}
		for _, name := range used {
			if _, ok := species.FindIn(in.Body.Shop.Species, name); !ok {
				return nil, answer(
					craft.Problems{
						{
							Field: "shop.species",
							Wrong: fmt.Sprintf("%q is on the rack and cannot be taken away", name),
							Right: "keep it, or give its pieces another species first",
						},
					},
				)
			}
		}
		err = s.Store.SaveShop(ctx, account(ctx).Workshop, in.Body.Shop, in.Body.Version)
		if err != nil {
			return nil, conflict(err, in.Body.Shop)
		}
		return s.shop(ctx)
	}, mayConflict[shop.Shop](api))
	huma.Get(api, "/api/shop/savings", s.savings)
	huma.Post(api, "/api/lengths", readLength)
}

// savings tells what each tool that is not owned would save on the boards in work and would
// have saved on those given away, the greatest first.
func (s *Server) savings(ctx context.Context, _ *struct{}) (*struct{ Body []reckon.Saving }, error) {
	pieces, err := s.inWork(ctx, account(ctx).Workshop, "")
	if err != nil {
		return nil, answer(err)
	}
	boards, err := s.given(ctx)
	if err != nil {
		return nil, answer(err)
	}
	for _, w := range pieces {
		for _, b := range w.boards {
			boards = append(boards, b.reckoned)
		}
	}
	return &struct{ Body []reckon.Saving }{reckon.Savings(boards)}, nil
}

// Boards that were given away tell what a tool would have saved: those of 90 days, and no
// more than are reckoned while somebody waits for the page.
const (
	givenFor  = 90 * 24 * time.Hour
	mostGiven = 60
)

// given reckons the boards that were given away lately, as if they were made again.
func (s *Server) given(ctx context.Context) (out []reckon.Reckoned, err error) {
	workshop := account(ctx).Workshop
	all, err := s.Store.GivenSince(ctx, workshop, s.Clock().Add(-givenFor), mostGiven)
	if err != nil {
		return nil, err
	}
	on := map[string][]reckon.Board{}
	for _, b := range all {
		on[b.Piece] = append(on[b.Piece], b.Board)
	}
	for piece, boards := range on {
		j, err := s.job(ctx, workshop, piece, "")
		if err != nil {
			return nil, err
		}
		j.Boards, j.Taken, j.Log = boards, nil, nil
		if j, _, err = s.withApart(ctx, workshop, j); err != nil {
			return nil, err
		}
		r, err := reckon.Reckon(j, reckon.Request{})
		if err != nil { // a document of an older time that no longer passes: its sheet says so
			continue
		}
		out = append(out, r.Boards...)
	}
	return out, nil
}

func (s *Server) shop(ctx context.Context) (*shopOut, error) {
	v, version, err := s.Store.Shop(ctx, account(ctx).Workshop)
	return &shopOut{ShopDoc{version, v}}, answer(err)
}

// Length is a length as it was typed and as it is read.
type Length struct {
	MM   float64 `json:"mm"`
	Text string  `json:"text" doc:"As it is shown in the unit in force"`
}

type lengthIn struct {
	Body struct {
		Text   string       `json:"text" maxLength:"100"`
		Unit   measure.Unit `json:"unit" enum:"mm,in"`
		Signed bool         `json:"signed" doc:"Negative lengths are read too"`
	}
}

// readLength reads a length as a maker writes it.
func readLength(ctx context.Context, in *lengthIn) (*struct{ Body Length }, error) {
	mm, err := measure.Parse(in.Body.Text, in.Body.Unit, in.Body.Signed)
	if err != nil {
		return nil, huma.Error422UnprocessableEntity(
			err.Error(),
			&huma.ErrorDetail{Location: "body.text", Message: err.Error(), Value: in.Body.Text},
		)
	}
	return &struct{ Body Length }{Length{mm, measure.Format(mm, in.Body.Unit)}}, nil
}
