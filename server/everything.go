package server

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"

	"github.com/go-json-experiment/json"
	"github.com/go-json-experiment/json/jsontext"

	"idletimber/craft/reckon"
	"idletimber/craft/slab"
	"idletimber/formats"
	"idletimber/store"
)

// mostPictures bounds the pictures of one archive, bytes.
const mostPictures = 150 << 20

// everything is a workshop as an archive of open formats: each piece of the rack with
// its boards and their log as a job file, which can be taken in again; the rack as a
// table, the shop, kept shapes, the runs and the plan, the trials, the shelf, and the pictures.
func (s *Server) everything(ctx context.Context, _ *struct{}) (*file, error) {
	var out bytes.Buffer
	archive := zip.NewWriter(&out)
	for _, part := range []func(context.Context, *zip.Writer) error{
		s.archiveShop, s.archiveRack, s.archiveRuns, s.archiveTrials, s.archiveShelf, s.archivePeople,
		s.archivePictures,
	} {
		if err := part(ctx, archive); err != nil {
			return nil, answer(err)
		}
	}
	if err := archive.Close(); err != nil {
		return nil, err
	}
	return download("application/zip", "workshop", "zip", out.Bytes()), nil
}

func put(to *zip.Writer, name string, data []byte) error {
	w, err := to.Create(name)
	if err == nil {
		_, err = w.Write(data)
	}
	return err
}

func putJSON(to *zip.Writer, name string, v any) error {
	data, err := json.Marshal(v, json.Deterministic(true), jsontext.WithIndent("  "))
	if err != nil {
		return err
	}
	return put(to, name, data)
}

func (s *Server) archiveShop(ctx context.Context, to *zip.Writer) error {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return err
	}
	kept, err := s.Store.Templates(ctx, workshop)
	if err != nil {
		return err
	}
	shapes := map[string]any{}
	for _, t := range kept {
		shapes[t.Name] = t.Design
	}
	if err := putJSON(to, "shop.json", at); err != nil {
		return err
	}
	return putJSON(to, "shapes.json", shapes)
}

// archiveRuns puts every run into the archive, with the ids of its boards, and what is kept of the plan.
func (s *Server) archiveRuns(ctx context.Context, to *zip.Writer) error {
	workshop := account(ctx).Workshop
	runs, err := s.Store.Runs(ctx, workshop)
	if err != nil {
		return err
	}
	for i, r := range runs {
		boards, err := s.Store.BoardsOfRun(ctx, workshop, r.ID)
		if err != nil {
			return err
		}
		ids := []string{}
		for _, b := range boards {
			ids = append(ids, b.Board.ID)
		}
		doc := map[string]any{"run": r.Run, "boards": ids}
		if err := putJSON(to, fmt.Sprintf("runs/%d %s.json", i+1, safe(r.Run.Name)), doc); err != nil {
			return err
		}
	}
	kept, err := s.Store.Plan(ctx, workshop)
	if err != nil {
		return err
	}
	return putJSON(to, "plan.json", kept)
}

// archiveShelf puts all that is on the shelf into the archive.
func (s *Server) archiveShelf(ctx context.Context, to *zip.Writer) error {
	all, _, err := s.Store.Products(ctx, account(ctx).Workshop, store.OnShelf{}, mostInArchive, 0)
	if err != nil {
		return err
	}
	return putJSON(to, "shelf.json", productsOf(all))
}

// archivePeople puts the people whom boards are for into the archive, and the occasions.
func (s *Server) archivePeople(ctx context.Context, to *zip.Writer) error {
	workshop := account(ctx).Workshop
	people, _, err := s.Store.People().Named(ctx, workshop, "", false, mostInArchive, 0)
	if err != nil {
		return err
	}
	occasions, _, err := s.Store.Occasions().Named(ctx, workshop, "", false, mostInArchive, 0)
	if err != nil {
		return err
	}
	if err := putJSON(to, "people.json", people); err != nil {
		return err
	}
	return putJSON(to, "occasions.json", occasions)
}

// mostInArchive bounds the products, and the people, that an archive holds.
const mostInArchive = 100_000

// archiveTrials puts every trial into the archive, with its scores as a table.
func (s *Server) archiveTrials(ctx context.Context, to *zip.Writer) error {
	all, err := s.Store.Trials(ctx, account(ctx).Workshop)
	if err != nil {
		return err
	}
	zone, err := s.zoneOf(ctx)
	if err != nil {
		return err
	}
	for i, t := range all {
		name := fmt.Sprintf("trials/%d %s", i+1, safe(t.Trial.Name))
		if err := putJSON(to, name+".json", t.Trial); err != nil {
			return err
		}
		table, err := formats.TrialCSV(t.Trial, zone)
		if err != nil {
			return err
		}
		if err := put(to, name+".csv", table); err != nil {
			return err
		}
	}
	return nil
}

func (s *Server) archiveRack(ctx context.Context, to *zip.Writer) error {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return err
	}
	log, err := s.Store.Log(ctx, workshop, store.Wished{Oldest: true, Most: 1 << 20})
	if err != nil {
		return err
	}
	done := map[string][]reckon.LogEntry{}
	for _, e := range log {
		done[e.Subject.ID] = append(done[e.Subject.ID], e.Logged())
	}
	laid := map[string][]store.Board{}
	for _, binned := range []bool{false, true} {
		boards, _, err := s.Store.Boards(ctx, workshop, "", binned, mostItems, 0)
		if err != nil {
			return err
		}
		for _, b := range boards {
			laid[b.Piece] = append(laid[b.Piece], b)
		}
	}
	var rack []slab.Slab
	for _, where := range []store.Wanted{{}, {Cut: true}, {Bin: true}} {
		pieces, _, err := s.Store.Pieces(ctx, workshop, where, mostItems, 0)
		if err != nil {
			return err
		}
		for _, p := range pieces {
			rack = append(rack, p.Slab)
			j := reckon.Scene{
				Schema: reckon.Schema, Now: s.Clock(), Shop: at, Piece: p.ID, Slab: &p.Slab, Log: done[p.ID],
			}
			for _, b := range laid[p.ID] {
				j.Boards = append(j.Boards, b.Board)
				j.Log = append(j.Log, done[b.Board.ID]...)
			}
			data, err := formats.WriteJob(j)
			if err != nil {
				return err
			}
			if err := put(to, fmt.Sprintf("pieces/%s %s.json", safe(p.Slab.Name), p.ID[:8]), data); err != nil {
				return err
			}
		}
	}
	table, err := formats.RackCSV(rack, at.Units)
	if err != nil {
		return err
	}
	if err := put(to, "rack.csv", table); err != nil {
		return err
	}
	zone, err := at.Zone()
	if err != nil {
		return err
	}
	if table, err = formats.LogCSV(logRows(log), at.System(), zone); err != nil {
		return err
	}
	return put(to, "logbook.csv", table)
}

func (s *Server) archivePictures(ctx context.Context, to *zip.Writer) error {
	workshop := account(ctx).Workshop
	ids, err := s.Store.PictureIDs(ctx, workshop)
	if err != nil {
		return err
	}
	size := 0
	for i, id := range ids {
		p, err := s.Store.Picture(ctx, workshop, id)
		if err != nil {
			return err
		}
		if size += len(p.Data); size > mostPictures {
			return put(to, "pictures/not all.txt", fmt.Appendf(nil, "%d older pictures are left out.\n", len(ids)-i))
		}
		w, err := to.CreateHeader(&zip.FileHeader{Name: "pictures/" + id + ".jpg", Method: zip.Store})
		if err != nil {
			return err
		}
		if _, err := w.Write(p.Data); err != nil {
			return err
		}
	}
	return nil
}
