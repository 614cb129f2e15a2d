package server

import (
	"archive/zip"
	"bytes"
	"context"
	"fmt"
	"maps"
	"slices"

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
		s.archiveShop, s.archiveRack, s.archiveLists, s.archiveRuns, s.archiveTrials, s.archiveShelf, s.archivePeople,
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
	log, err := s.Store.Log(ctx, workshop, store.Wished{Oldest: true, Most: mostLog})
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
	for _, where := range racks {
		pieces, _, err := s.Store.Pieces(ctx, workshop, where, mostItems, 0)
		if err != nil {
			return err
		}
		for _, p := range pieces {
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
	return nil
}

// racks are where pieces lie: on the rack, cut up, and in the offcut bin.
var racks = []store.Wanted{{}, {Cut: true}, {Bin: true}}

// Lists are lists of a workshop for other programs, by name.
func (s *Server) Lists(ctx context.Context, workshop string) (map[string][]byte, error) {
	return s.lists(context.WithValue(ctx, accountKey{}, signedIn{store.Account{Workshop: workshop}, ""}))
}

func (s *Server) lists(ctx context.Context) (map[string][]byte, error) {
	workshop := account(ctx).Workshop
	at, _, err := s.Store.Shop(ctx, workshop)
	if err != nil {
		return nil, err
	}
	zone, err := at.Zone()
	if err != nil {
		return nil, err
	}
	var rack []slab.Slab
	for _, where := range racks {
		pieces, _, err := s.Store.Pieces(ctx, workshop, where, mostItems, 0)
		if err != nil {
			return nil, err
		}
		rack = append(rack, slabsOf(pieces)...)
	}
	log, err := s.Store.Log(ctx, workshop, store.Wished{Oldest: true, Most: mostLog})
	if err != nil {
		return nil, err
	}
	products, _, err := s.Store.Products(ctx, workshop, store.OnShelf{}, mostInArchive, 0)
	if err != nil {
		return nil, err
	}
	out := map[string][]byte{}
	if out["rack.csv"], err = formats.RackCSV(rack, at.Units); err != nil {
		return nil, err
	}
	if out["logbook.csv"], err = formats.LogCSV(logRows(log), at.System(), zone); err != nil {
		return nil, err
	}
	out["shelf.csv"], err = formats.ShelfCSV(productsOf(products))
	return out, err
}

// mostLog bounds the lines of the log that an archive holds.
const mostLog = 1 << 20

func (s *Server) archiveLists(ctx context.Context, to *zip.Writer) error {
	lists, err := s.lists(ctx)
	if err != nil {
		return err
	}
	for _, name := range slices.Sorted(maps.Keys(lists)) {
		if err := put(to, name, lists[name]); err != nil {
			return err
		}
	}
	return nil
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
