package store

import (
	"encoding/json"
	"io/fs"
	"testing"
	"time"

	"github.com/jmoiron/sqlx"
	"github.com/pressly/goose/v3"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"idletimber/craft/plan"
	"idletimber/craft/sanding"
	"idletimber/craft/shop"
	"idletimber/craft/tool"
)

// before opens a database as the version before the seams left it: pieces have one
// parent, the log knows boards only.
func before(t *testing.T) (*sqlx.DB, string) {
	t.Helper()
	const version = 4
	url, err := postgres.NewDatabase(ctx)
	require.NoError(t, err)
	db, err := sqlx.ConnectContext(ctx, "pgx", url)
	require.NoError(t, err)
	t.Cleanup(func() { db.Close() })
	files, err := fs.Sub(migrations, "migrations")
	require.NoError(t, err)
	provider, err := goose.NewProvider(goose.DialectPostgres, db.DB, files)
	require.NoError(t, err)
	_, err = provider.UpTo(ctx, version)
	require.NoError(t, err)
	return db, url
}

// oldShop is a workshop as it was written when machines were known by their limits.
func oldShop(t *testing.T) string {
	written, err := encode(shop.Usual())
	require.NoError(t, err)
	var doc map[string]any
	require.NoError(t, json.Unmarshal([]byte(written), &doc))
	delete(doc, "tools")
	doc["machines"] = map[string]any{
		"planerWidth": 254, "planerShortest": 280, "crossCut": 0, "sawThickness": 120, "drillTravel": 45,
	}
	doc["blades"] = []any{
		map[string]any{"name": "band saw, the thin one", "radius": 7},
		map[string]any{"name": "jigsaw, scroll blade", "radius": 12},
	}
	doc["bits"] = []any{6.35, 25}
	out, err := encode(doc)
	require.NoError(t, err)
	return out
}

func TestADatabaseOfTheVersionBeforeIsTakenOver(t *testing.T) {
	db, url := before(t)
	id := func(query string, args ...any) (id string) {
		require.NoError(t, db.GetContext(ctx, &id, query, args...))
		return id
	}
	text := func(v any) string {
		out, err := encode(v)
		require.NoError(t, err)
		return out
	}
	account := id(`INSERT INTO accounts (email, password) VALUES ('maker@example.org', 'x') RETURNING id`)
	w := id(`INSERT INTO workshops (account_id, doc) VALUES ($1, $2) RETURNING id`, account, oldShop(t))
	newPiece := func(name string, leaf int, parent *string) string {
		v := piece(name)
		v.Leaf = leaf
		return id(
			`INSERT INTO pieces (workshop_id, name, species, doc, created_at, parent_id)
			VALUES ($1, $2, 'Pear', $3, $4, $5) RETURNING id`,
			w,
			name,
			text(v),
			now,
			parent,
		)
	}
	whole := newPiece("whole", 0, nil)
	one, two := newPiece("leaf 1", 1, &whole), newPiece("leaf 2", 2, &whole)
	// A board as it was written then.
	board := id(
		`INSERT INTO boards (workshop_id, piece_id, name, doc, created_at) VALUES ($1, $2, 'board', $3, $4)
			RETURNING id`,
		w,
		one,
		`{"name": "board", "placement": {"x": 250, "y": 0, "angle": 0, "flip": false},
		  "design": {"shape": "rectangle", "length": 300, "width": 150, "thickness": 20, "corner": 10,
		"neck": 0, "neckLength": 0, "shoulder": 0,
		             "keepLeft": false, "keepRight": false, "handle": {"kind": "none"},
		"edge": {"kind": "none", "size": 0}},
		  "cut": {"saw": "band saw", "snipe": "allow"}, "fill": {"resin": "casting"},
		"sand": {"start": "planer", "last": 220, "raise": "once"},
		  "finish": {"school": "oil", "coats": 0, "ratio": 3}, "fit": {}, "give": {"use": "nibbles", "people": 2}}`,
		now,
	)
	_, err := db.ExecContext(ctx, `INSERT INTO log (workshop_id, board_id, step, event, at, minutes, kind, title, usual)
		VALUES ($1, $2, 'outline', 'finish', $3, 12, 'curve', 'Saw the outline', 9)`, w, board, now)
	require.NoError(t, err)

	s, err := Open(ctx, Config{URL: url}, func() time.Time { return now })
	require.NoError(t, err)
	defer s.Close()
	parts, err := s.Parts(ctx, w, whole)
	require.NoError(t, err)
	require.Len(t, parts, 2)
	assert.Equal(t, []string{whole}, parts[0].Sources)
	siblings, err := s.Siblings(ctx, w, one)
	require.NoError(t, err)
	require.Len(t, siblings, 1)
	assert.Equal(t, two, siblings[0].ID)
	assert.Equal(t, 2, siblings[0].Leaf)
	log, err := s.LogOf(ctx, w, one)
	require.NoError(t, err)
	require.Len(t, log, 1)
	assert.Equal(t, plan.Board(board), log[0].Subject)
	assert.Equal(t, 12.0, log[0].Minutes)
	b, err := s.Board(ctx, w, board)
	require.NoError(t, err)
	assert.Empty(t, b.Board.Check("board"), "what was stored then is reckoned with now")
	at, _, err := s.Shop(ctx, w)
	require.NoError(t, err)
	require.Empty(t, at.Check("shop", sanding.Grits))
	planer, ok := at.Fits(tool.Planer, tool.Piece{Width: 254, Length: 280})
	require.True(t, ok, "machines keep their limits")
	assert.Equal(t, tool.Tool{Kind: tool.Planer, Width: 254, Shortest: 280}, planer)
	assert.False(t, at.Has(tool.MitreSaw), "there was none")
	assert.Equal(t, 45.0, at.Most(tool.DrillPress, func(t tool.Tool) float64 { return t.Travel }))
	assert.Equal(t, []float64{6.35, 25}, at.Bores(), "bits keep their sizes")
	assert.Equal(t, tool.Blade{Saw: tool.Jigsaw, Name: "jigsaw, scroll blade", Width: 5, Radius: 12}, at.Blades[1])
	assert.Equal(t, tool.Blade{Saw: tool.BandSaw, Name: "band saw, the thin one", Radius: 7}, at.Blades[0])
	samples, err := s.Samples(ctx, w)
	require.NoError(t, err)
	assert.Len(t, samples, 1)
}

// A piece may be made of several.
func TestAPieceOfManySources(t *testing.T) {
	s, w := open(t)
	var sources []string
	for _, name := range []string{"a", "b", "c"} {
		p, err := s.NewPiece(ctx, w, piece(name))
		require.NoError(t, err)
		sources = append(sources, p.ID)
	}
	id, err := s.insert(ctx, w, shop.Usual(), piece("made of three"), sources...)
	require.NoError(t, err)
	made, err := s.Piece(ctx, w, id)
	require.NoError(t, err)
	assert.Equal(t, sources, made.Sources)
	for _, source := range sources {
		parts, err := s.Parts(ctx, w, source)
		require.NoError(t, err)
		require.Len(t, parts, 1)
		assert.Equal(t, id, parts[0].ID)
	}
}
