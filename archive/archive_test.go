package archive_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"io"
	"log/slog"
	"os"
	"regexp"
	"strings"
	"testing"
	"testing/fstest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/archive"
	"idletimber/craft/shop"
	"idletimber/demo"
	"idletimber/pgserver"
	"idletimber/server"
	"idletimber/store"
)

var postgres *pgserver.Server

func TestMain(m *testing.M) { os.Exit(pgserver.Around(m, &postgres)) }

var (
	ctx = context.Background()
	now = time.Date(2031, 4, 22, 15, 30, 0, 0, time.UTC)
)

func empty(t *testing.T) *store.Store {
	t.Helper()
	url, err := postgres.NewDatabase(ctx)
	require.NoError(t, err)
	st, err := store.Open(ctx, store.Config{URL: url}, func() time.Time { return now })
	require.NoError(t, err)
	t.Cleanup(func() { st.Close() })
	return st
}

// sample is a database with the sample shop, a picture and a second workshop.
func sample(t *testing.T) (*store.Store, *server.Server) {
	t.Helper()
	st := empty(t)
	srv, err := server.New(server.Config{Store: st, Clock: func() time.Time { return now },
		Log: slog.New(slog.DiscardHandler), Web: fstest.MapFS{}, Demo: demo.Email})
	require.NoError(t, err)
	t.Cleanup(srv.Close)
	require.NoError(t, demo.Load(ctx, srv, now))
	a, err := st.AccountByEmail(ctx, demo.Email)
	require.NoError(t, err)
	_, err = st.NewPicture(
		ctx,
		a.Workshop,
		store.Picture{Data: []byte("\xff\xd8\xff\xe0 a picture"), Width: 3, Height: 2},
	)
	require.NoError(t, err)
	require.NoError(t, st.ChangePlan(ctx, a.Workshop, func(p *store.Plan) { p.Ahead = []string{"board:7/sand-120"} }))
	_, err = st.NewAccount(ctx, "second@example.org", "hash", shop.Usual())
	require.NoError(t, err)
	return st, srv
}

// written is an archive of workshops.
func written(t *testing.T, st *store.Store, srv *server.Server, emails ...string) ([]byte, archive.Manifest) {
	t.Helper()
	all, err := st.Workshops(ctx)
	require.NoError(t, err)
	var which []store.Owned
	for _, o := range all {
		if len(emails) == 0 || o.Email == emails[0] {
			which = append(which, o)
		}
	}
	var out bytes.Buffer
	m, err := archive.Source{
		Store:   st,
		Made:    now,
		Lists:   srv.Lists,
		Schemas: map[string][]byte{"job.json": []byte("{}")},
	}.
		Write(
			ctx,
			&out,
			which,
		)
	require.NoError(t, err)
	return out.Bytes(), m
}

// taken takes an archive into a database.
func taken(st *store.Store, data []byte) error {
	a, err := archive.Read(bytes.NewReader(data), int64(len(data)), 1<<30)
	if err != nil {
		return err
	}
	return a.BringTo(ctx, st)
}

// rows are all rows of the workshops of a database, by table; ids that are only an order are left out.
func rows(t *testing.T, st *store.Store) map[string][]string {
	t.Helper()
	order := regexp.MustCompile(`^\{"id": \d+, |, "id": \d+`)
	out := map[string][]string{}
	all, err := st.Workshops(ctx)
	require.NoError(t, err)
	require.NoError(t, st.AtOnce(ctx, func(d store.Dump) error {
		for _, o := range all {
			for _, table := range store.Tables() {
				for row, err := range d.Rows(ctx, o.Workshop, table) {
					if err != nil {
						return err
					}
					out[table] = append(out[table], order.ReplaceAllString(row, ""))
				}
			}
		}
		return nil
	}))
	return out
}

// What is written and taken in elsewhere is the same to the last column, and is written the same again.
func TestRoundTrip(t *testing.T) {
	st, srv := sample(t)
	data, m := written(t, st, srv)
	assert.Len(t, m.Workshops, 2)
	there := empty(t)
	require.NoError(t, taken(there, data))
	want, got := rows(t, st), rows(t, there)
	for _, table := range strings.Fields("boards pieces log readings pictures products care strips plans") {
		assert.NotEmpty(t, want[table], table)
	}
	assert.Equal(t, want, got)
	again, m2 := written(t, there, srv0(t, there))
	require.NoError(t, taken(empty(t), again))
	for i, f := range m.Files {
		if strings.HasSuffix(f.Path, "log.jsonl") || strings.HasSuffix(f.Path, "readings.jsonl") {
			continue // their ids are only an order
		}
		assert.Equal(t, f, m2.Files[i])
	}
	a, err := there.AccountByEmail(ctx, demo.Email)
	require.NoError(t, err)
	ids, err := there.PictureIDs(ctx, a.Workshop)
	require.NoError(t, err)
	p, err := there.Picture(ctx, a.Workshop, ids[0])
	require.NoError(t, err)
	assert.Equal(t, []byte("\xff\xd8\xff\xe0 a picture"), p.Data)

	// It is a database like any other: the log goes on, and what is done is stored.
	_, err = there.DB.Exec(
		`INSERT INTO log (workshop_id, subject_id, subject_kind, step, event, at, kind, title, usual)
		SELECT id, id, 'board', 'sand-120', 'start', now(), 'sand', 'Sand', 0 FROM workshops LIMIT 1`,
	)
	assert.NoError(t, err)
	var schemas int
	require.NoError(
		t,
		there.DB.Get(&schemas, `SELECT count(*) FROM pg_namespace WHERE nspname = 'idletimber_import'`),
	)
	assert.Zero(t, schemas, "what was needed on the way is gone")
}

// srv0 is a server on a database, for its lists.
func srv0(t *testing.T, st *store.Store) *server.Server {
	t.Helper()
	srv, err := server.New(
		server.Config{Store: st, Clock: func() time.Time { return now }, Log: slog.New(slog.DiscardHandler)},
	)
	require.NoError(t, err)
	t.Cleanup(srv.Close)
	return srv
}

// What an older version has written is brought up to this one.
func TestOlderArchives(t *testing.T) {
	st, srv := sample(t)
	data, _ := written(t, st, srv)
	there := empty(t)
	older := packed(t, parts(t, data), func(m *archive.Manifest) { m.Step = 15 }) // whose tables were these
	require.NoError(t, taken(there, older))
	assert.Equal(t, rows(t, st), rows(t, there))
}

// One workshop is taken from among others, and put among others.
func TestOneWorkshop(t *testing.T) {
	st, srv := sample(t)
	data, _ := written(t, st, srv, "second@example.org")
	there := empty(t)
	_, err := there.NewAccount(ctx, "third@example.org", "hash", shop.Usual())
	require.NoError(t, err)
	require.NoError(t, taken(there, data))
	all, err := there.Workshops(ctx)
	require.NoError(t, err)
	assert.Len(t, all, 2)
	var why store.Refused
	require.ErrorAs(t, taken(there, data), &why, "it is here already")
	assert.Contains(t, why.Why, "here already")
	assert.Contains(t, why.Why, "another database")
}

// parts are the files of an archive.
func parts(t *testing.T, data []byte) map[string][]byte {
	t.Helper()
	r, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	out := map[string][]byte{}
	for _, f := range r.File {
		in, err := f.Open()
		require.NoError(t, err)
		out[f.Name], err = io.ReadAll(in)
		require.NoError(t, err)
	}
	return out
}

// packed is an archive of files, with a manifest that holds of them.
func packed(t *testing.T, files map[string][]byte, change func(*archive.Manifest)) []byte {
	t.Helper()
	var m archive.Manifest
	require.NoError(t, json.Unmarshal(files["manifest.json"], &m))
	m.Files = nil
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	put := func(name string, data []byte) {
		to, err := w.Create(name)
		require.NoError(t, err)
		_, err = to.Write(data)
		require.NoError(t, err)
	}
	for name, data := range files {
		if name == "manifest.json" {
			continue
		}
		sum := sha256.Sum256(data)
		m.Files = append(m.Files, archive.File{Path: name, Size: int64(len(data)), SHA: hex.EncodeToString(sum[:])})
		put(name, data)
	}
	change(&m)
	text, err := json.Marshal(m)
	require.NoError(t, err)
	put("manifest.json", text)
	require.NoError(t, w.Close())
	return out.Bytes()
}

// Wrong and hostile archives are refused with the reason, and nothing of them is taken in.
func TestWrongArchivesAreRefused(t *testing.T) {
	st, srv := sample(t)
	data, _ := written(t, st, srv)
	there := empty(t)
	same := func(*archive.Manifest) {}
	with := func(change func(map[string][]byte)) []byte {
		files := parts(t, data)
		change(files)
		return packed(t, files, same)
	}
	replaced := func(file, old, by string) []byte {
		return with(func(f map[string][]byte) {
			require.Contains(t, string(f[file]), old)
			f[file] = []byte(strings.Replace(string(f[file]), old, by, 1))
		})
	}
	told := func(change func(*archive.Manifest)) []byte { return packed(t, parts(t, data), change) }
	board := regexp.MustCompile(`"piece_id": "[^"]+"`).FindString(string(parts(t, data)["workshops/1/boards.jsonl"]))
	picture := ""
	for name := range parts(t, data) {
		if strings.Contains(name, "/pictures/") {
			picture = name
		}
	}
	flipped := bytes.Clone(data)
	flipped[bytes.Index(flipped, []byte(" a picture"))] ^= 0x55
	deep := `{"id": "x", "doc": ` + strings.Repeat("[", 100) + strings.Repeat("]", 100) + `}`
	cases := map[string]struct {
		data []byte
		why  string
	}{
		"no archive":       {[]byte("a text"), "no archive"},
		"cut short":        {data[:len(data)-100], "no archive"},
		"a bit over":       {flipped, "damaged"},
		"no manifest":      {zipped(t, "a.txt", "a"), "no manifest.json"},
		"another format":   {told(func(m *archive.Manifest) { m.Format = "recipes" }), `its format is "recipes"`},
		"a later layout":   {told(func(m *archive.Manifest) { m.Version = 9 }), "use a newer program"},
		"a later step":     {told(func(m *archive.Manifest) { m.Step = 900 }), "use a newer program"},
		"before the start": {told(func(m *archive.Manifest) { m.Step = -1 }), "step -1"},
		"a wrong sum":      {told(func(m *archive.Manifest) { m.Files[0].SHA = "00" }), "checksum"},
		"a wrong size":     {told(func(m *archive.Manifest) { m.Files[0].Size++ }), "not as long"},
		"not in it": {
			told(func(m *archive.Manifest) { m.Files[0].Path = "../../etc/passwd" }),
			"is not in it once",
		},
		"not listed": {told(func(m *archive.Manifest) { m.Files = m.Files[1:] }), "not listed"},
		"too large":  {told(func(m *archive.Manifest) { m.Files[0].Size = 1 << 40 }), "unpacks to more"},
		"no rows": {
			with(func(f map[string][]byte) { f["workshops/1/boards.jsonl"] = []byte("nonsense\n") }),
			"line 1 of boards",
		},
		"a number": {
			replaced("workshops/1/pieces.jsonl", `"version": 1`, `"version": 1e300`),
			"no number of a workshop",
		},
		"nested": {
			with(func(f map[string][]byte) { f["workshops/1/people.jsonl"] = []byte(deep + "\n") }),
			"nested",
		},
		"a lost piece": {
			replaced("workshops/1/boards.jsonl", board, `"piece_id": "00000000-0000-0000-0000-000000000000"`),
			"does not hold together",
		},
		"no workshop": {
			with(func(f map[string][]byte) { f["workshops/1/workshops.jsonl"] = nil }),
			"does not hold together",
		},
		"a lost picture": {with(func(f map[string][]byte) { delete(f, picture) }), "is missing"},
		"not a picture":  {with(func(f map[string][]byte) { f[picture] = []byte("<script>") }), "no JPEG"},
		"a strange doc": {
			replaced("workshops/1/boards.jsonl", `"design": {`, `"design": 7, "was": {`),
			"cannot be read",
		},
		"an account alone": {with(func(f map[string][]byte) {
			f["workshops/2/accounts.jsonl"] = append(
				f["workshops/2/accounts.jsonl"],
				[]byte(`{"id":"00000000-0000-0000-0000-000000000001","email":"x@x","password":"",`+
					`"created_at":"2031-01-01"}`)...)
		}), "stand alone"},
	}
	for name, c := range cases {
		err := taken(there, c.data)
		var why store.Refused
		if assert.ErrorAs(t, err, &why, name) {
			assert.Contains(t, why.Why, c.why, name)
		}
		all, err := there.Workshops(ctx)
		require.NoError(t, err)
		require.Empty(t, all, "%s: nothing is taken in", name)
	}
	require.NoError(t, taken(there, with(func(map[string][]byte) {})), "packed anew it is as good")
}

func zipped(t *testing.T, name, text string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	to, err := w.Create(name)
	require.NoError(t, err)
	_, err = io.WriteString(to, text)
	require.NoError(t, err)
	require.NoError(t, w.Close())
	return out.Bytes()
}

// Rows of different workshops that name each other are refused.
func TestMixedWorkshopsAreRefused(t *testing.T) {
	st, srv := sample(t)
	data, _ := written(t, st, srv)
	files := parts(t, data)
	var second struct{ ID string }
	require.NoError(t, json.Unmarshal(files["workshops/2/workshops.jsonl"], &second))
	boards := string(files["workshops/1/boards.jsonl"])
	mine := regexp.MustCompile(`"workshop_id": "[^"]+"`).FindString(boards)
	files["workshops/1/boards.jsonl"] = []byte(strings.Replace(boards, mine, `"workshop_id": "`+second.ID+`"`, 1))
	err := taken(empty(t), packed(t, files, func(*archive.Manifest) {}))
	assert.ErrorContains(t, err, "mixed")
}
