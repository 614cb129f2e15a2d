package server

import (
	"cmp"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"math"
	"net/http"
	"net/http/httptest"
	"slices"
	"strings"
	"time"

	"github.com/danielgtaylor/huma/v2"

	"idletimber/craft"
	"idletimber/craft/fill"
	"idletimber/craft/reckon"
	"idletimber/instruments"
	"idletimber/store"
)

// InstrumentDoc is a device that pushes readings.
type InstrumentDoc struct {
	ID        string   `json:"id"`
	Name      string   `json:"name"`
	Kind      string   `json:"kind" enum:"moisture meter,room sensor,scale"`
	Simulated bool     `json:"simulated" doc:"It is pressed here instead of in the shop"`
	Key       string   `json:"key,omitempty" doc:"Shown once, when it is added"`
	Last      *Reading `json:"last,omitempty"`
}

// Reading is a reading that an instrument pushed.
type Reading struct {
	Instrument  string    `json:"instrument" doc:"Id"`
	Name        string    `json:"name"`
	Kind        string    `json:"kind"`
	At          time.Time `json:"at"`
	Percent     float64   `json:"percent" doc:"Moisture as the meter showed it, %"`
	Below       bool      `json:"below" doc:"Below the meter's range"`
	Temperature float64   `json:"temperature" doc:"°C"`
	Humidity    float64   `json:"humidity" doc:"Relative humidity, %"`
	Grams       float64   `json:"grams" doc:"What the scale shows, the cup with it"`
	Settled     bool      `json:"settled" doc:"A scale's: the reading just before it agrees"`
}

// restless is how old the reading before may be with which a scale's must agree to count.
const restless = 5 * time.Second

// settled tells whether a scale has come to rest: the reading just before agrees within a step.
func settled(before, now store.Taken, step float64) bool {
	const rounding = 1e-9
	return before.Grams != nil && now.Grams != nil && now.At.Sub(before.At) <= restless &&
		math.Abs(*now.Grams-*before.Grams) <= step+rounding
}

func readingOf(i store.Instrument, t store.Taken) Reading {
	r := Reading{Instrument: i.ID, Name: i.Name, Kind: i.Kind, At: t.At}
	switch {
	case i.Kind == instruments.Scale:
		r.Grams = *t.Grams
	case i.Kind == instruments.RoomSensor:
		r.Temperature, r.Humidity = *t.Temperature, *t.Humidity
	default:
		r.below(t)
	}
	return r
}

// below takes what a moisture meter showed.
func (r *Reading) below(t store.Taken) {
	if r.Below = t.Percent == nil; !r.Below {
		r.Percent = *t.Percent
	}
}

func hashKey(key string) []byte {
	sum := sha256.Sum256([]byte(key))
	return sum[:]
}

type instrumentIn struct {
	Body struct {
		Name      string `json:"name" minLength:"1" maxLength:"100"`
		Kind      string `json:"kind" enum:"moisture meter,room sensor,scale"`
		Simulated bool   `json:"simulated"`
	}
}

// mostInstruments is how many devices a workshop has.
const mostInstruments = 50

func (s *Server) instrumentRoutes(public, private huma.API) {
	huma.Get(private, "/api/instruments", s.listInstruments)
	huma.Post(private, "/api/instruments", s.addInstrument)
	huma.Delete(private, "/api/instruments/{id}", func(ctx context.Context, in *idIn) (*struct{}, error) {
		return nil, answer(s.Store.RemoveInstrument(ctx, account(ctx).Workshop, in.ID))
	})
	huma.Post(private, "/api/instruments/{id}/press", s.press)
	huma.Post(public, "/api/readings", s.takeReading)
}

func (s *Server) listInstruments(ctx context.Context, _ *struct{}) (*struct{ Body []InstrumentDoc }, error) {
	workshop := account(ctx).Workshop
	all, err := s.Store.Instruments(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	last, err := s.Store.LastTaken(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	out := &struct{ Body []InstrumentDoc }{}
	for _, i := range all {
		doc := InstrumentDoc{ID: i.ID, Name: i.Name, Kind: i.Kind, Simulated: i.SimulatedKey != nil}
		for _, t := range last {
			if t.Instrument == i.ID {
				r := readingOf(i, t)
				doc.Last = &r
			}
		}
		out.Body = append(out.Body, doc)
	}
	return out, nil
}

func (s *Server) addInstrument(ctx context.Context, in *instrumentIn) (*struct{ Body InstrumentDoc }, error) {
	doc, err := NewInstrument(ctx, s.Store, account(ctx).Workshop, in.Body.Name, in.Body.Kind, in.Body.Simulated)
	return &struct{ Body InstrumentDoc }{doc}, answer(err)
}

// NewInstrument registers a device and gives it a key.
func NewInstrument(
	ctx context.Context,
	st *store.Store,
	workshop, name, kind string,
	simulated bool,
) (InstrumentDoc, error) {
	all, err := st.Instruments(ctx, workshop)
	if err != nil {
		return InstrumentDoc{}, err
	}
	if len(all) >= mostInstruments {
		return InstrumentDoc{}, craft.Problems{
			{Field: "body.name", Wrong: "the shop has as many instruments as it may", Right: "remove one first"},
		}
	}
	key := rand.Text()
	i := store.Instrument{Name: name, Kind: kind}
	if simulated {
		i.SimulatedKey = &key
	}
	id, err := st.NewInstrument(ctx, workshop, i, hashKey(key))
	doc := InstrumentDoc{ID: id, Name: name, Kind: kind, Simulated: simulated}
	if !simulated {
		doc.Key = key
	}
	return doc, err
}

var errKey = huma.Error401Unauthorized(
	"no instrument has this key: add it at Shop, and send its key as Authorization: Bearer",
)

// takeReading takes one reading from a device that shows its key.
func (s *Server) takeReading(ctx context.Context, in *struct {
	Key  string `header:"Authorization" maxLength:"200"`
	Body instruments.Reading
}) (*struct{}, error) {
	i, err := store.Instrument{}, store.ErrNotFound
	if key, ok := strings.CutPrefix(in.Key, "Bearer "); ok {
		i, err = s.Store.InstrumentByKey(ctx, hashKey(key))
	}
	if errors.Is(err, store.ErrNotFound) {
		if err := s.limits.take(wrongKeys, clientOf(ctx).address); err != nil {
			return nil, err
		}
		return nil, errKey
	}
	if err != nil {
		return nil, answer(err)
	}
	if err := s.limits.take(readingsByDevice, i.ID); err != nil {
		return nil, err
	}
	at, _, err := s.Store.Shop(ctx, i.Workshop)
	if err != nil {
		return nil, answer(err)
	}
	if ps := checkReading(i.Kind, in.Body, at.ScaleMost); len(ps) > 0 {
		return nil, answer(ps)
	}
	t := store.Taken{
		Instrument:  i.ID,
		At:          s.Clock(),
		Percent:     in.Body.Percent,
		Temperature: in.Body.Temperature,
		Humidity:    in.Body.Humidity,
		Grams:       in.Body.Grams,
	}
	before, err := s.Store.TakenBy(ctx, i.ID)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return nil, answer(err)
	}
	if t, err = s.Store.Take(ctx, t); err != nil {
		return nil, answer(err)
	}
	r := readingOf(i, t)
	r.Settled = settled(before, t, at.ScaleStep)
	s.Store.Tell(store.AboutWorkshop(i.Workshop), readingNews, r)
	return nil, nil
}

// mostGrams is the most that any scale bears, g.
const mostGrams = 100_000

func checkReading(kind string, r instruments.Reading, bears float64) (ps craft.Problems) {
	value := func(field string, v *float64, lo, hi float64) {
		if v == nil {
			ps.Add(field, "it is missing", fmt.Sprintf("a %s sends it", kind))
			return
		}
		ps.Range(field, *v, lo, hi)
	}
	if kind == instruments.Scale {
		value("body.grams", r.Grams, -mostGrams, cmp.Or(bears, mostGrams))
		return ps
	}
	if kind == instruments.RoomSensor {
		value("body.temperature", r.Temperature, -30, 60)
		value("body.humidity", r.Humidity, 0, 100)
		return ps
	}
	if r.Below {
		if r.Percent != nil {
			ps.Add("body.percent", "the wood is below the range and has a percent", "send one of the two")
		}
		return ps
	}
	value("body.percent", r.Percent, 0.5, 200)
	return ps
}

// press takes a reading with a simulated instrument: a meter of a piece of the
// rack or of a board's, a sensor of the shop's air, a scale of the cup and what is asked for or of a
// board, which it sends twice, as one does that has come to rest. It goes the way of every reading,
// over HTTP with the device's key.
func (s *Server) press(ctx context.Context, in *struct {
	ID   string `path:"id"`
	Body struct {
		Piece string `json:"piece,omitempty" doc:"What the meter is pressed into"`
		Board string `json:"board,omitempty" doc:"Whose wood it is, or for whose pour the scale weighs"`
		Step  string `json:"step,omitempty" doc:"Key of the step: at a pour the cup is on the scale, else the board"`
	}
}) (*struct{}, error) {
	workshop := account(ctx).Workshop
	all, err := s.Store.Instruments(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, answer(err)
	}
	for _, i := range all {
		if i.ID != in.ID {
			continue
		}
		if i.SimulatedKey == nil {
			return nil, huma.Error422UnprocessableEntity("this is a real instrument: press it in the shop")
		}
		var device instruments.Instrument = instruments.Room{Air: at.Air}
		if i.Kind == instruments.MoistureMeter {
			piece := in.Body.Piece
			if in.Body.Board != "" {
				b, err := s.Store.Board(ctx, workshop, in.Body.Board)
				if err != nil {
					return nil, answer(err)
				}
				piece = b.Piece
			}
			p, err := s.Store.Piece(ctx, workshop, piece)
			if err != nil {
				return nil, answer(err)
			}
			device = instruments.Meter{
				Truth:  reckon.MoistureAt(p.Slab, at, s.Clock()) - at.Meter.Correction,
				Lowest: at.Meter.Lowest,
			}
		}
		pusher := instruments.Pusher{
			Client: &http.Client{Transport: inside{s}},
			URL:    "http://instrument",
			Key:    *i.SimulatedKey,
		}
		if i.Kind == instruments.Scale {
			on, err := s.onScale(ctx, in.Body.Board, in.Body.Step)
			if err != nil {
				return nil, answer(err)
			}
			device = instruments.Balance{On: on, Step: at.ScaleStep}
			if err := pusher.Push(ctx, device.Read(s.Clock())); err != nil {
				return nil, err
			}
		}
		return nil, pusher.Push(ctx, device.Read(s.Clock()))
	}
	return nil, answer(store.ErrNotFound)
}

// onScale is what lies on the simulated scale, g: at a pour the cup, then with it what is asked
// for; at other steps the board.
func (s *Server) onScale(ctx context.Context, board, step string) (float64, error) {
	const cup = 11
	if board == "" {
		return cup, nil
	}
	_, j, err := s.boardJob(ctx, board, nil)
	if err != nil {
		return 0, err
	}
	r, err := reckon.Reckon(j, reckon.Request{})
	if err != nil {
		return 0, err
	}
	for _, p := range r.Boards[0].Pourings {
		if p.Step == step && p.Tare > 0 && p.Ask != nil {
			return p.Tare + p.Ask.Grams, nil
		}
	}
	pours := slices.ContainsFunc(r.Boards[0].Pourings, func(p fill.Pouring) bool { return p.Step == step })
	if mass := r.Boards[0].Figure("shape.mass"); mass > 0 && !pours {
		return 1000 * mass, nil
	}
	return cup, nil
}

// inside carries requests to the server's own handler.
type inside struct{ s *Server }

// RoundTrip answers a request.
func (t inside) RoundTrip(r *http.Request) (*http.Response, error) {
	w := httptest.NewRecorder()
	t.s.ServeHTTP(w, r)
	return w.Result(), nil
}
