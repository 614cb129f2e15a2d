// Package archive keeps workshops in one open file, a ZIP of JSON, JPEG and CSV, and brings them back into any database
// of this version or a later one.
//
//	manifest.json                       what is in it, with checksums
//	schemas/*.json                      JSON Schema of a job file, OpenAPI of all documents
//	workshops/1/boards.jsonl            rows of a table, a JSON object a line; documents stand under "doc"
//	workshops/1/pictures/<id>.jpg
//	workshops/1/lists/rack.csv          lists for other programs; they are not read again
//
// An archive holds what a database holds, hashes of passwords and keys of instruments among it: it is kept as one.
package archive

import (
	"archive/zip"
	"bufio"
	"cmp"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"hash"
	"io"
	"maps"
	"path"
	"slices"
	"strings"
	"time"

	"idletimber/store"
)

// Format names an archive in its manifest, and Version how it is laid out.
const (
	Format  = "idletimber workshops"
	Version = 1
)

// Manifest tells what is in an archive.
type Manifest struct {
	Format    string        `json:"format"`
	Version   int           `json:"version"`
	Step      int64         `json:"step"` // of the database that it was written from
	Made      time.Time     `json:"made"`
	Workshops []store.Owned `json:"workshops"` // in the order of their folders, from 1
	Files     []File        `json:"files"`     // all but the manifest
}

// File is a file of an archive.
type File struct {
	Path string `json:"path"`
	Size int64  `json:"size"` // bytes
	SHA  string `json:"sha256"`
}

const (
	manifestName = "manifest.json"
	mostManifest = 256 << 20 // bytes
)

// Source is what an archive is written from.
type Source struct {
	Store *store.Store
	Made  time.Time
	// Lists are lists of a workshop for other programs, by name.
	Lists func(ctx context.Context, workshop string) (map[string][]byte, error)
	// Schemas tell what documents are like, by name.
	Schemas map[string][]byte
}

// writer writes the files of an archive and notes them.
type writer struct {
	zip   *zip.Writer
	files []File
}

// put writes a file.
func (w *writer) put(name string, method uint16, write func(io.Writer) error) error {
	entry, err := w.zip.CreateHeader(&zip.FileHeader{Name: name, Method: method})
	if err != nil {
		return err
	}
	sum := &summed{to: entry, sum: sha256.New()}
	if err := write(sum); err != nil {
		return err
	}
	w.files = append(w.files, File{name, sum.size, hex.EncodeToString(sum.sum.Sum(nil))})
	return nil
}

func (w *writer) putData(name string, data []byte) error {
	return w.put(name, zip.Deflate, func(to io.Writer) error {
		_, err := to.Write(data)
		return err
	})
}

// summed counts and sums what is written.
type summed struct {
	to   io.Writer
	sum  hash.Hash
	size int64
}

// Write writes on.
func (s *summed) Write(data []byte) (int, error) {
	s.size += int64(len(data))
	s.sum.Write(data)
	return s.to.Write(data)
}

func folder(n int) string { return fmt.Sprintf("workshops/%d/", n+1) }

// Write writes workshops as they are at one moment.
func (s Source) Write(ctx context.Context, to io.Writer, which []store.Owned) (Manifest, error) {
	m := Manifest{Format: Format, Version: Version, Made: s.Made.UTC(), Workshops: which}
	w := &writer{zip: zip.NewWriter(to)}
	var err error
	if m.Step, err = s.Store.Step(ctx); err != nil {
		return m, err
	}
	for _, name := range slices.Sorted(maps.Keys(s.Schemas)) {
		if err := w.putData("schemas/"+name, s.Schemas[name]); err != nil {
			return m, err
		}
	}
	if err := s.Store.AtOnce(ctx, func(d store.Dump) error {
		for n, o := range which {
			if err := w.workshop(ctx, d, o.Workshop, folder(n)); err != nil {
				return fmt.Errorf("the workshop of %s: %w", o.Email, err)
			}
		}
		return nil
	}); err != nil {
		return m, err
	}
	for n, o := range which {
		lists, err := s.Lists(ctx, o.Workshop)
		if err != nil {
			return m, fmt.Errorf("the lists of %s: %w", o.Email, err)
		}
		for _, name := range slices.Sorted(maps.Keys(lists)) {
			if err := w.putData(folder(n)+"lists/"+name, lists[name]); err != nil {
				return m, err
			}
		}
	}
	m.Files = w.files
	text, err := json.MarshalIndent(m, "", "  ")
	if err != nil {
		return m, err
	}
	entry, err := w.zip.Create(manifestName)
	if err == nil {
		_, err = entry.Write(text)
	}
	return m, errors.Join(err, w.zip.Close())
}

// workshop writes the tables and pictures of a workshop.
func (w *writer) workshop(ctx context.Context, d store.Dump, workshop, at string) error {
	var pictures []string
	for _, table := range store.Tables() {
		if err := w.put(at+table+".jsonl", zip.Deflate, func(to io.Writer) error {
			for row, err := range d.Rows(ctx, workshop, table) {
				if err != nil {
					return err
				}
				if _, err := io.WriteString(to, row+"\n"); err != nil {
					return err
				}
				if table == "pictures" {
					var p struct{ ID string }
					if err := json.Unmarshal([]byte(row), &p); err != nil {
						return err
					}
					pictures = append(pictures, p.ID)
				}
			}
			return nil
		}); err != nil {
			return err
		}
	}
	for _, id := range pictures {
		data, err := d.Picture(ctx, workshop, id)
		if err != nil {
			return err
		}
		if err := w.put(at+"pictures/"+id+".jpg", zip.Store, func(to io.Writer) error {
			_, err := to.Write(data)
			return err
		}); err != nil {
			return err
		}
	}
	return nil
}

// Bounds of what is read.
const (
	MostBytes = 64 << 30 // of all files, unpacked, where nothing else is said
	mostFiles = 1_000_000
	mostImage = 40 << 20
)

// Archive is an archive that is read.
type Archive struct {
	Manifest Manifest
	files    map[string]*zip.File
	sizes    map[string]int64
}

func refuse(format string, args ...any) error {
	return store.Refused{Why: fmt.Sprintf(format, args...)}
}

// Read reads the manifest of an archive and checks every file against it; most bounds the bytes of all, unpacked, 0 for
// MostBytes. The error is store.Refused where it is no archive, is damaged or is too large.
func Read(from io.ReaderAt, size, most int64) (*Archive, error) {
	opened, err := zip.NewReader(from, size)
	if err != nil {
		return nil, refuse("it is no archive, or only a part of one: %v", err)
	}
	if len(opened.File) > mostFiles {
		return nil, refuse("it holds %d files; %d are the most", len(opened.File), mostFiles)
	}
	a := &Archive{files: map[string]*zip.File{}, sizes: map[string]int64{}}
	for _, f := range opened.File {
		if a.files[f.Name] != nil {
			return nil, refuse("it holds %q twice", f.Name)
		}
		a.files[f.Name] = f
	}
	if err := a.readManifest(); err != nil {
		return nil, err
	}
	return a, a.check(cmp.Or(most, MostBytes))
}

func (a *Archive) readManifest() error {
	f := a.files[manifestName]
	if f == nil {
		return refuse("it has no %s: it is no archive of workshops", manifestName)
	}
	r, err := f.Open()
	if err != nil {
		return refuse("%s cannot be read: %v", manifestName, err)
	}
	defer r.Close()
	text, err := io.ReadAll(io.LimitReader(r, mostManifest+1))
	if err != nil || len(text) > mostManifest {
		return refuse("%s cannot be read, or is too large", manifestName)
	}
	if err := json.Unmarshal(text, &a.Manifest); err != nil {
		return refuse("%s cannot be read: %v", manifestName, err)
	}
	switch m := a.Manifest; {
	case m.Format != Format:
		return refuse("it is no archive of workshops: its format is %.40q", m.Format)
	case m.Version < 1 || m.Version > Version:
		return refuse(
			"it is laid out as version %d, and this program knows 1 to %d; use a newer program",
			m.Version,
			Version,
		)
	case len(m.Workshops) == 0:
		return refuse("there is no workshop in it")
	}
	return nil
}

// check holds every file against the manifest.
func (a *Archive) check(most int64) error {
	var sum int64
	for _, f := range a.Manifest.Files {
		there := a.files[f.Path]
		if _, twice := a.sizes[f.Path]; there == nil || twice || f.Path == manifestName {
			return refuse("%q is listed, and is not in it once", f.Path)
		}
		if f.Size < 0 || f.Size > most || sum+f.Size > most {
			return refuse("it unpacks to more than %d bytes", most)
		}
		sum += f.Size
		a.sizes[f.Path] = f.Size
		if err := checkFile(there, f); err != nil {
			return err
		}
	}
	if len(a.sizes)+1 != len(a.files) {
		for name := range a.files {
			if _, listed := a.sizes[name]; !listed && name != manifestName {
				return refuse("%q is in it and not listed", name)
			}
		}
	}
	return nil
}

// checkFile reads a file, never more than is told of it.
func checkFile(there *zip.File, f File) error {
	r, err := there.Open()
	if err != nil {
		return refuse("%q cannot be read: %v", f.Path, err)
	}
	defer r.Close()
	sum := sha256.New()
	n, err := io.Copy(sum, io.LimitReader(r, f.Size+1))
	switch {
	case err != nil:
		return refuse("%q is damaged: %v", f.Path, err)
	case n != f.Size:
		return refuse("%q is not as long as is told of it", f.Path)
	case hex.EncodeToString(sum.Sum(nil)) != f.SHA:
		return refuse("%q is damaged: its checksum is another", f.Path)
	}
	return nil
}

// open reads a file, and no more than is told of it.
func (a *Archive) open(name string) (io.Reader, error) {
	f := a.files[name]
	if f == nil {
		return nil, refuse("%q is missing", name)
	}
	r, err := f.Open()
	if err != nil {
		return nil, refuse("%q cannot be read: %v", name, err)
	}
	return io.LimitReader(r, a.sizes[name]), nil
}

// BringTo takes the workshops of an archive into a database, all or none.
func (a *Archive) BringTo(ctx context.Context, st *store.Store) error {
	pictures := map[string]string{}
	for name := range a.files {
		if dir, file := path.Split(name); strings.HasSuffix(dir, "/pictures/") {
			pictures[strings.TrimSuffix(file, ".jpg")] = name
		}
	}
	return st.Bring(ctx, store.Brought{
		Step: a.Manifest.Step,
		Rows: func(table string) (io.Reader, error) {
			var all []io.Reader
			for n := range a.Manifest.Workshops {
				name := folder(n) + table + ".jsonl"
				if a.files[name] == nil {
					continue
				}
				r, err := a.open(name)
				if err != nil {
					return nil, err
				}
				all = append(all, bufio.NewReader(r))
			}
			if len(all) == 0 {
				return nil, nil
			}
			return io.MultiReader(all...), nil
		},
		Picture: func(id string) ([]byte, error) {
			name, ok := pictures[id]
			if !ok {
				return nil, fmt.Errorf("what picture %.40q shows is missing", id)
			}
			if a.sizes[name] > mostImage {
				return nil, fmt.Errorf("picture %.40q is too large", id)
			}
			r, err := a.open(name)
			if err != nil {
				return nil, err
			}
			return io.ReadAll(r)
		},
	})
}
