package pgserver

import (
	"context"
	"database/sql"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStartStopStartAgain(t *testing.T) {
	dir, err := os.MkdirTemp("", "idletimber-again-*")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755))
	defer os.RemoveAll(dir)
	ctx := context.Background()

	s, err := Start(ctx, dir)
	require.NoError(t, err)
	db, err := sql.Open("pgx", s.URL)
	require.NoError(t, err)
	_, err = db.Exec(`CREATE TABLE kept (v int); INSERT INTO kept VALUES (7)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	require.NoError(t, s.Stop())
	_, err = os.Stat(filepath.Join(dir, "postgres", "postmaster.pid"))
	assert.ErrorIs(t, err, os.ErrNotExist, "it was shut down cleanly")

	s, err = Start(ctx, dir)
	require.NoError(t, err)
	defer s.Stop()
	db, err = sql.Open("pgx", s.URL)
	require.NoError(t, err)
	defer db.Close()
	var v int
	require.NoError(t, db.QueryRow(`SELECT v FROM kept`).Scan(&v))
	assert.Equal(t, 7, v)

	_, err = Start(ctx, dir)
	assert.ErrorContains(t, err, "another one", "a folder serves one server at a time")
}

func TestFoldersNobodyMayEnter(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.Chmod(dir, 0o700))
	assert.False(t, reachable(dir))
	assert.True(t, reachable("/usr/lib"))
}
