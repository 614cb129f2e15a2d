// Package demo is the sample shop: a small riverside workshop that turns
// storm-felled trees into thank-you boards for the volunteers of an orchard's
// midsummer supper. Its dates follow the day on which it is loaded.
package demo

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"idletimber/craft/board"
	"idletimber/craft/fill"
	"idletimber/craft/geom"
	"idletimber/craft/giving"
	"idletimber/craft/moisture"
	"idletimber/craft/plan"
	"idletimber/craft/reckon"
	"idletimber/craft/shop"
	"idletimber/craft/slab"
	"idletimber/craft/stage"
	"idletimber/craft/stock"
	"idletimber/craft/tool"
	"idletimber/instruments"
	"idletimber/server"
	"idletimber/store"
)

// Email is the address of the sample shop's account.
const Email = "sample@idletimber.invalid"

// Load stores the sample shop, all or nothing, unless it is there already; what was
// changed in it stays.
func Load(ctx context.Context, s *server.Server, now time.Time) error {
	if _, err := s.Store.AccountByEmail(ctx, Email); !errors.Is(err, store.ErrNotFound) {
		return err
	}
	err := s.Store.Atomically(ctx, func(tx *store.Store) error {
		a, err := s.NewSample(ctx, tx, Shop())
		if err != nil {
			return err
		}
		for _, i := range []struct{ name, kind string }{{"the pin meter", instruments.MoistureMeter},
			{"the shelf sensor", instruments.RoomSensor}, {"the bench scale", instruments.Scale}} {
			made, err := server.NewInstrument(ctx, tx, a.Workshop, i.name, i.kind, true)
			if err != nil {
				return err
			}
			if i.kind == instruments.RoomSensor {
				if err := roomLog(ctx, tx, made.ID, now); err != nil {
					return err
				}
			}
		}
		rack := map[string]stored{}
		for _, p := range slices.Concat(Pieces(now), Panels(now), Rivers(now), Finishes(now), ForRuns(now),
			Mishaps(now)) {
			id, err := p.store(ctx, tx, a.Workshop, now, rack)
			if err != nil {
				return fmt.Errorf("%s: %w", p.Slab.Name, err)
			}
			rack[p.Slab.Name] = stored{id, p}
		}
		if err := keepRuns(ctx, tx, a.Workshop, now, rack); err != nil {
			return err
		}
		if err := keepPeople(ctx, tx, a.Workshop, now); err != nil {
			return err
		}
		if err := keepShelf(ctx, tx, a.Workshop, now); err != nil {
			return err
		}
		return keepTrials(ctx, tx, a.Workshop, now, rack)
	})
	if errors.Is(err, store.ErrTaken) { // another process was faster
		return nil
	}
	return err
}

// Piece is a slab of the sample with the boards laid on it; of a panel, what was done on it.
type Piece struct {
	Slab   slab.Slab
	Boards []Laid
	Done   []Done
}

// stored is a piece with the id that it was given.
type stored struct {
	id string
	Piece
}

// Laid is a board of the sample and the steps done on it.
type Laid struct {
	Board reckon.Board
	Done  []Done
	Given time.Duration // how long ago it was given away, all done; 0 where it is not
	Wrong *Wrong        // what went wrong on it; nil for nothing
	Back  string        // what was seen on it when it came back yesterday; empty where it has not
}

// Done is a step that was finished some hours ago; or, with what was noted, a note at it.
type Done struct {
	Step    string
	Ago     time.Duration
	Minutes float64

	Noted string
	Value float64
}

// store puts the piece on the rack with its boards and their log. The strips of a panel
// are laid on the pieces that they name.
func (p Piece) store(
	ctx context.Context,
	st *store.Store,
	workshop string,
	now time.Time,
	rack map[string]stored,
) (string, error) {
	spots, err := p.cutFrom(rack, now)
	if err != nil {
		return "", err
	}
	job := Job(p, now)
	id, ids, err := st.TakeIn(ctx, workshop, *job.Slab, job.Boards, spots...)
	if err != nil {
		return "", err
	}
	r, err := reckon.Reckon(job, reckon.Request{})
	if err != nil {
		return "", err
	}
	if p.Slab.Made() {
		course, _ := server.CourseOf(*r.Slab)
		if err := record(ctx, st, workshop, plan.Panel(id), course, usesOf(*r.Slab), p.Done, now); err != nil {
			return "", err
		}
	}
	for i, laid := range p.Boards {
		course := r.Boards[i].Course
		if laid.Given > 0 {
			laid.Done = allDone(course, laid.Given)
		}
		if err := record(ctx, st, workshop, plan.Board(ids[i]), course, r.Boards[i].Uses, laid.Done, now); err != nil {
			return "", err
		}
		if err := laid.Wrong.store(ctx, st, workshop, ids[i], job, i); err != nil {
			return "", err
		}
		if laid.Given == 0 {
			continue
		}
		at := now.Add(-laid.Given)
		if err := st.SetGiven(ctx, workshop, ids[i], &at); err != nil {
			return "", err
		}
		if err := st.SetCare(ctx, store.Care{
			Board: ids[i], Workshop: workshop, Every: r.Boards[i].Gift.Every,
			Next: giving.NextOiling(r.Boards[i].Gift.Every, nil, &at, nil),
		}); err != nil {
			return "", err
		}
		if err := comeBack(ctx, st, workshop, ids[i], laid.Back, now); err != nil {
			return "", err
		}
		if err := st.CutUp(ctx, workshop, id); err != nil {
			return "", err
		}
	}
	return id, nil
}

// usesOf is what a piece that is made of others takes, step by step.
func usesOf(w reckon.Wood) []stage.Use {
	if w.Parts != nil {
		return w.Parts.BySteps
	}
	return w.River.BySteps
}

// record logs what was done on a subject, and what that took.
func record(
	ctx context.Context,
	st *store.Store,
	workshop string,
	subject plan.Subject,
	course plan.Course,
	uses []stage.Use,
	done []Done,
	now time.Time,
) error {
	steps := map[string]plan.Step{}
	for _, s := range course.Steps {
		steps[s.Key] = s.Step
	}
	for _, d := range done {
		s, ok := steps[d.Step]
		if !ok {
			return fmt.Errorf("%s has no step %q", course.Name, d.Step)
		}
		e := store.Entry{
			Subject: subject,
			Step:    d.Step,
			Event:   plan.Finish,
			At:      now.Add(-d.Ago),
			Minutes: d.Minutes,
			Kind:    string(s.Kind),
			Title:   s.Title,
			Usual:   s.Usual,
			What:    d.Noted,
			Value:   d.Value,
		}
		if d.Noted != "" {
			e.Event = plan.Noted
		} else {
			for _, u := range uses {
				if u.Step == d.Step {
					e.Uses = append(e.Uses, u)
				}
			}
		}
		if err := st.Record(ctx, workshop, e); err != nil {
			return err
		}
	}
	return nil
}

// cutFrom lays the strips of a panel on the pieces that they name, and names these by
// their ids.
func (p *Piece) cutFrom(rack map[string]stored, now time.Time) (spots []store.Reserved, err error) {
	if !p.Slab.Panel() {
		return nil, nil
	}
	var sources []slab.Source
	for _, name := range p.Slab.Sources() {
		from, ok := rack[name]
		if !ok {
			return nil, fmt.Errorf("there is no %q", name)
		}
		wanted := reckon.WantedOn(p.Slab, name, nil, nil)
		at, err := reckon.Reserve(Job(from.Piece, now), wanted)
		if err != nil {
			return nil, err
		}
		sources = append(sources, slab.Source{ID: from.id, Slab: from.Slab, Spots: at})
		for _, w := range wanted {
			if place, ok := at[w.ID]; ok {
				spots = append(spots, store.Reserved{Piece: from.id, Strip: reckon.Strip{
					ID: w.ID, At: place, Length: w.Length, Width: w.Width,
				}})
			}
		}
	}
	glued := *p.Slab.Glue
	glued.Strips = slices.Clone(glued.Strips)
	for i, s := range glued.Strips {
		if s.Piece != "" {
			glued.Strips[i].Piece = rack[s.Piece].id
		}
	}
	p.Slab.Glue = &glued
	p.Slab = p.Slab.Gather(sources, nil, nil).Settled()
	return spots, nil
}

// Job is a piece of the sample as a job of its own.
func Job(p Piece, now time.Time) reckon.Scene {
	v := p.Slab.Settled()
	j := reckon.Scene{Schema: reckon.Schema, Now: now, Slab: &v, Shop: Shop()}
	for i, laid := range p.Boards {
		laid.Board.ID = fmt.Sprintf("board-%d", i+1)
		j.Boards = append(j.Boards, laid.Board)
	}
	return j
}

// Shop is the sample workshop.
func Shop() shop.Shop {
	s := shop.Usual()
	s.Name, s.TimeZone = "Weir Lane Boards", "Europe/Vienna"
	s.Air = moisture.Air{Temperature: 19, Humidity: 48}
	s.ScaleStep, s.Starter = 0.1, tool.Starters[1].Name
	s.Meter = moisture.Meter{Lowest: 5}
	return s
}

// done is a step that was finished so many hours ago, in so many minutes.
func done(step string, hours, minutes float64) Done {
	return Done{Step: step, Ago: time.Duration(hours * float64(time.Hour)), Minutes: minutes}
}

// roomLog is what the sensor on the shelf has read: two days and nights, the second one cold.
func roomLog(ctx context.Context, st *store.Store, sensor string, now time.Time) error {
	const hours = 48
	for h := hours; h > 0; h-- {
		at := now.Add(-time.Duration(h) * time.Hour)
		warm := 19.2 + 1.2*math.Sin(2*math.Pi*float64(at.Hour()-9)/24)
		if h < 20 && (at.Hour() < 7 || at.Hour() > 21) {
			warm -= 2.4
		}
		warm, damp := math.Round(warm*10)/10, 48.0
		read := store.Taken{Instrument: sensor, At: at, Temperature: &warm, Humidity: &damp}
		if _, err := st.Take(ctx, read); err != nil {
			return err
		}
	}
	return nil
}

// Rivers are those of the sample, as of a day: a plank of robinia, ripped and turned about a blue
// river, curing.
func Rivers(now time.Time) []Piece {
	from := slab.Slab{
		Name: "Robinia from the ferry steps", Species: "Robinia", Length: 640, LiveLeft: true, LiveRight: true,
		Show: edge(0, 96, -88, 150, 108, -80, 320, 90, -97, 480, 101, -84, 640, 94, -92),
		Under: edge(
			0,
			100,
			-92,
			150,
			113,
			-85,
			320,
			95,
			-101,
			480,
			106,
			-89,
			640,
			99,
			-96,
		), Readings: thick(31, 30.2),
		Moisture: readings(
			now,
			9.9,
			9.4,
			9.3,
		), RingAngle: 15, PriceCents: 2900, LeftBark: stock.Bare, RightBark: stock.Bare,
	}
	made, err := slab.NewRiver([]slab.Slab{from}, []string{""}, "deep pour", Shop().Rules, nil)
	if err != nil {
		panic(err) // the plank above is one
	}
	board := func(name, who string, x, length float64) Laid {
		b := reckon.NewBoard("", name, made.Length)
		b.Placement.X, b.Design.Length, b.Design.Width, b.Design.Thickness = x, length, 150, 0
		b.Give.For, b.Give.People, b.Give.Use = who, 3, "nibbles"
		b.Give.Due = now.AddDate(0, 0, 54).Format(time.DateOnly)
		return Laid{Board: b}
	}
	made.Fill.Colour = &fill.Colour{Kind: fill.Tint, Hue: "#1f6f8b", Pigment: 1}
	return []Piece{{
		Slab: slab.Slab{
			Name: "Ferry river", Moisture: from.Moisture, Flaws: []stock.Flaw{},
			PriceCents: from.PriceCents, River: &made,
			Notes: "For the ferrymen's boards: two from one pour.",
		},
		Boards: []Laid{
			board(
				"Ferrymen's long board",
				"the ferrymen",
				175,
				300,
			), board("Ferrymen's small board", "the toll keeper", 475, 220),
		},
		Done: []Done{
			done("banks", 80, 9), done("plane-banks", 79, 14), done("seal-edges", 78, 10), done("mould-cut", 56, 9),
			done("mould-tape", 55, 24), done("mould", 54.5, 14), done("dam", 30, 12), done("bed", 29.5, 15),
			done("pour-1", 29, 31), done("watch-1", 28, 9),
		},
	}}
}

func readings(now time.Time, percents ...float64) (out []moisture.Reading) {
	for i, p := range percents {
		days := 3 + 9*(len(percents)-1-i)
		out = append(out, moisture.Reading{At: now.AddDate(0, 0, -days).Truncate(time.Hour), Percent: p})
	}
	return out
}

func edge(stations ...float64) (out []slab.Station) {
	for i := 0; i < len(stations); i += 3 {
		out = append(out, slab.Station{X: stations[i], Left: stations[i+1], Right: stations[i+2]})
	}
	return out
}

func thick(values ...float64) (out []slab.Reading) {
	for i, v := range values {
		out = append(out, slab.Reading{X: 40 + float64(i)*180, Thickness: v})
	}
	return out
}

func line(xy ...float64) (out []geom.Point) {
	for i := 0; i < len(xy); i += 2 {
		out = append(out, geom.Point{X: xy[i], Y: xy[i+1]})
	}
	return out
}

// Pieces is the sample rack, as of a day.
func Pieces(now time.Time) []Piece {
	supper := now.AddDate(0, 0, 54).Format(time.DateOnly)
	lay := func(name string, length float64, change func(*reckon.Board), done ...Done) Laid {
		b := reckon.NewBoard("", name, length)
		b.Give.Due = supper
		change(&b)
		return Laid{Board: b, Done: done}
	}
	return []Piece{
		{
			Slab: slab.Slab{
				Name: "Weir plane, first slab", Species: "London plane", Length: 980, LiveLeft: true, LiveRight: true,
				Show: edge(
					0,
					122,
					-128,
					160,
					137,
					-131,
					330,
					148,
					-126,
					520,
					141,
					-139,
					700,
					127,
					-146,
					850,
					133,
					-134,
					980,
					124,
					-121,
				),
				Readings: thick(36, 35.2, 36.8, 36.1, 35.6), Hollow: 2.2, Wind: 2.6, RingAngle: 20, PriceCents: 5200,
				Moisture: readings(now, 11.2, 10.1, 9.6, 9.4, 9.3),
				Flaws: []stock.Flaw{
					{ID: "heart-check", Kind: stock.Crack, Line: line(0, 6, 46, 2, 96, 9), Width: 5, Through: true},
					{ID: "seam", Kind: stock.Crack, Line: line(452, 58, 515, 66, 571, 61), Width: 4.5, Depth: 17},
					{
						ID:     "dead-knot",
						Kind:   stock.Knot,
						State:  "loose",
						Centre: geom.Point{X: 806, Y: -72},
						A:      19,
						B:      13,
						Angle:  25,
						Depth:  16,
					},
					{ID: "burr", Kind: stock.Bark, Line: line(858, 96, 902, 104, 914, 84, 880, 72), Depth: 14},
					{
						ID:       "worms",
						Kind:     stock.Worm,
						Centre:   geom.Point{X: 338, Y: -84},
						A:        36,
						B:        17,
						Angle:    12,
						Count:    9,
						Diameter: 1.8,
						Depth:    9,
					},
				},
				RingRadius: 320, Origin: &slab.Origin{Source: "the plane that came down across the weir",
					Felled: now.AddDate(-2, 0, 0).Format("2006-01"), Milled: now.AddDate(-2, 2, 0).Format("2006-01"),
					EndsSealed: true, Dried: "air"},
				Features: []stock.Feature{
					{
						ID:     "flecks",
						Kind:   "figure",
						Centre: geom.Point{X: 250, Y: 52},
						A:      130,
						B:      38,
						Angle:  4,
						Note:   "lace of flecks",
					},
				},
				ShowLook: &slab.Look{
					Wetted: "spirits",
					Note:   "The flecks stand out, the seam is honey-coloured.",
					Better: true,
				}, UnderLook: &slab.Look{Wetted: "water", Note: "Plainer, and the knot is larger."}, ShowChosen: true,
				Notes: "Came down across the weir in the autumn storm. Flecked where it is nearly quarter-sawn.",
			},
			Boards: []Laid{
				lay("Gatekeepers' long board", 980, func(b *reckon.Board) {
					b.Placement = geom.Placement{X: 395, Y: 6, Angle: 1.5}
					b.Design.Shape, b.Design.KeepLeft, b.Design.KeepRight = board.Plank, true, true
					b.Design.Length, b.Design.Width, b.Design.Thickness = 520, 250, 26
					b.Design.Handle = board.Handle{Kind: "slot", Diameter: 30, Length: 95, Setback: 52}
					b.Give.For, b.Give.People, b.Give.Note = "the gatekeepers", 8, "For the long table by the old pear."
					b.Fit.Feet, b.Cut.Snipe = true, "pieces"
				}),
				lay(
					"Beekeeper's paddle",
					980,
					func(b *reckon.Board) {
						b.Placement = geom.Placement{X: 812, Y: -30, Angle: 180}
						b.Design.Shape, b.Design.Length, b.Design.Width, b.Design.Thickness = board.Paddle, 290, 150, 20
						b.Design.Neck, b.Design.NeckLength, b.Design.Shoulder = 52, 95, 25
						b.Design.Handle = board.Handle{Kind: "hole", Diameter: 25, Setback: 30}
						b.Give.For, b.Give.People = "the beekeeper", 3
						b.Fit.Cord, b.Cut.Snipe = true, "pieces"
					},
					done("cross-cut", 171, 5),
					done("flatten", 170, 13),
					done("clean-voids", 169, 4),
					done("dam", 168.5, 7),
					done("pour-1", 168, 17),
					done("watch-1", 167, 9),
					done("reflatten", 27, 8),
					Done{
						Step:  "pinholes-1",
						Ago:   26 * time.Hour,
						Noted: fill.NoteHoles,
						Value: 5,
					},
					done("pinholes-1", 25.9, 7),
					done("pinholes-1-flush", 25, 3),
				),
			},
		},
		{
			Slab: slab.Slab{
				Name: "Pear from the lane", Species: "Pear", Length: 720, LiveRight: true,
				Show: edge(0, 90, -96, 240, 90, -112, 480, 90, -104, 720, 90, -88),
				Readings: thick(
					28,
					27.4,
					28.3,
				), Hollow: 1, Wind: 1.4, RingAngle: 35, PriceCents: 2600, Moisture: readings(now, 9.5, 9.2, 9.1),
				Flaws: []stock.Flaw{
					{
						ID:     "pin-knot",
						Kind:   stock.Knot,
						State:  "sound",
						Centre: geom.Point{X: 300, Y: 30},
						A:      8,
						B:      6,
						Depth:  10,
					},
				},
				Notes: "Very even. Takes small round-overs well.",
			},
			Boards: []Laid{lay("Ladder crew's cheese board", 720, func(b *reckon.Board) {
				b.Placement = geom.Placement{X: 350, Y: -4}
				b.Design.Length, b.Design.Width, b.Design.Thickness = 380, 170, 20
				b.Design.Handle = board.Handle{Kind: "hole", Diameter: 30, Setback: 36}
				b.Give.For, b.Give.People, b.Give.Use = "the ladder crew", 4, "starter"
				b.Finish.School = "oil"
			}, done("cross-cut", 74, 6), done("flatten", 73, 14),
				done("bore", 50, 5), done("outline", 49, 16), done("edges", 48, 12),
				done("sand-60", 47.5, 9), done("sand-80", 47, 8))},
		},
		{
			Slab: slab.Slab{
				Name: "Hornbeam billet", Species: "Hornbeam", Length: 560, Show: edge(0, 82, -82, 560, 80, -80),
				LiveLeft: false,
				Readings: thick(33, 32.4), Hollow: 0.8, Wind: 1, RingAngle: 60, PriceCents: 1500,
				Moisture: readings(now, 13.8, 12.9, 12.2, 11.6),
				Flaws: []stock.Flaw{
					{ID: "end-check", Kind: stock.Crack, Line: line(0, -30, 70, -24), Width: 2, Through: true},
				},
			},
			Boards: []Laid{lay("Kitchen crew's bread board", 560, func(b *reckon.Board) {
				b.Placement = geom.Placement{X: 300, Y: 0}
				b.Design.Length, b.Design.Width, b.Design.Thickness = 360, 145, 24
				b.Give.For, b.Give.People, b.Give.Use = "the kitchen crew", 2, "starter"
				b.Finish.School, b.Cut.Snipe = "hard wax", "pieces"
				b.Give.Due = now.AddDate(0, 0, 12).Format(time.DateOnly)
			})},
		},
		{
			Slab: slab.Slab{
				Name: "Chestnut crook", Species: "Sweet chestnut", Length: 640, LiveLeft: true, LiveRight: true,
				Show:  edge(0, 88, -60, 150, 112, -70, 320, 128, -58, 480, 116, -48, 640, 92, -66),
				Under: edge(0, 80, -66, 150, 101, -78, 320, 118, -66, 480, 108, -55, 640, 84, -72),
				Origin: &slab.Origin{
					Source: "the crook by the old cider house",
					Felled: now.AddDate(0, -9, 0).Format("2006-01"),
					Milled: now.AddDate(0, -7, 0).Format("2006-01"),
					Dried:  "air",
				},
				Readings: thick(
					41,
					39.5,
					40.2,
				), Hollow: 3, UnderHollow: 1, RingRadius: 140, Wind: 2, RingAngle: 0, PriceCents: 1800,
				Moisture: readings(now, 16.4, 15.2, 14.3),
				Flaws: []stock.Flaw{
					{ID: "split", Kind: stock.Crack, Line: line(640, 12, 560, 18, 505, 9), Width: 3.5, Depth: 22},
				},
				Notes: "Still damp. Mill it thinner and leave it for some weeks.",
			},
		},
		{
			Slab: slab.Slab{
				Name: "Robinia fence rail", Species: "Robinia", Stock: slab.StockPlank, RipLeft: 4, Length: 1240,
				Show: edge(0, 66, -64, 1240, 64, -66),
				Readings: thick(
					26,
					25.5,
					26.4,
				), Hollow: 1.5, Wind: 3, RingAngle: 45, PriceCents: 0, Reclaimed: true,
				Moisture: readings(now, 9.9, 9.6),
				Flaws: []stock.Flaw{
					{
						ID:      "nail-a",
						Kind:    stock.Hole,
						Centre:  geom.Point{X: 210, Y: 22},
						A:       3,
						B:       3,
						Through: true,
						Depth:   26,
					},
					{
						ID:      "nail-b",
						Kind:    stock.Hole,
						Centre:  geom.Point{X: 850, Y: -18},
						A:       3,
						B:       3,
						Through: true,
						Depth:   26,
					},
				},
			},
		},
	}
}
