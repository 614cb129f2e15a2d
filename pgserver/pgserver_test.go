package pgserver

import (
	"bytes"
	"context"
	"database/sql"
	"errors"
	"flag"
	"fmt"
	"math/rand/v2"
	"os"
	"os/exec"
	"os/signal"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestStartStopStartAgain(t *testing.T) {
	dir := folder(t)
	ctx := context.Background()

	s, err := Start(ctx, dir)
	require.NoError(t, err)
	db, err := sql.Open("pgx", s.URL)
	require.NoError(t, err)
	_, err = db.Exec(`CREATE TABLE kept (v int); INSERT INTO kept VALUES (7)`)
	require.NoError(t, err)
	require.NoError(t, db.Close())
	s.Stop()
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

var kills = flag.Int("kills", 4, "how often a first start is killed")

// TestMain is also the process that is killed.
func TestMain(m *testing.M) {
	if dir := os.Getenv("IDLETIMBER_FIRST_START"); dir != "" {
		ctx, stop := signal.NotifyContext(context.Background(), syscall.SIGTERM)
		defer stop()
		if s, err := Start(ctx, dir); err == nil {
			<-ctx.Done()
			s.Stop()
		}
		return
	}
	os.Exit(m.Run())
}

func folder(t *testing.T) string {
	dir, err := os.MkdirTemp("", "idletimber-pg-*")
	require.NoError(t, err)
	require.NoError(t, os.Chmod(dir, 0o755))
	t.Cleanup(func() { os.RemoveAll(dir) })
	return dir
}

// answers reports that a server has its database.
func answers(t *testing.T, s *Server) {
	t.Helper()
	db, err := sql.Open("pgx", s.URL)
	require.NoError(t, err)
	defer db.Close()
	require.EventuallyWithT(t, func(t *assert.CollectT) {
		assert.NoError(t, db.Ping())
	}, 20*time.Second, 50*time.Millisecond)
}

func TestAFirstStartThatIsStoppedLeavesNoneOrAWholeCluster(t *testing.T) {
	for n := range *kills {
		after := time.Duration(40+rand.IntN(1000)) * time.Millisecond
		signal := []syscall.Signal{syscall.SIGTERM, syscall.SIGKILL}[n%2]
		t.Run(fmt.Sprintf("%s after %s", signal, after), func(t *testing.T) {
			dir := folder(t)
			first := exec.Command(os.Args[0])
			first.Env = append(os.Environ(), "IDLETIMBER_FIRST_START="+dir)
			require.NoError(t, first.Start())
			time.AfterFunc(after, func() { first.Process.Signal(signal) })
			first.Wait()
			s, err := Start(t.Context(), dir, "fsync=off")
			require.NoError(t, err)
			defer s.Stop()
			answers(t, s)
			left, err := filepath.Glob(s.Dir + ".making-*")
			require.NoError(t, err)
			assert.Empty(t, left, "what was unfinished is gone")
		})
	}
}

func TestAClusterOfAnOlderTimeThatWasNeverFinishedIsBegunAnew(t *testing.T) {
	dir := folder(t)
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "postgres", "base"), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "postgres", "PG_VERSION"), []byte("15\n"), 0o600))
	s, err := Start(t.Context(), dir, "fsync=off")
	require.NoError(t, err)
	answers(t, s)
	s.Stop()

	require.NoError(t, os.Remove(filepath.Join(s.Dir, passwordFile)))
	_, err = Start(t.Context(), dir)
	assert.ErrorContains(t, err, "password is gone", "what a server ran on is never thrown away")
}

func TestACopyThatBelongsToSomebodyElseTellsWhatMendsIt(t *testing.T) {
	dir := folder(t)
	s, err := Start(t.Context(), dir, "fsync=off")
	require.NoError(t, err)
	s.Stop()
	require.NoError(t, os.Chmod(s.Dir, 0o755))
	_, err = Start(t.Context(), dir)
	require.ErrorContains(t, err, "chmod 700")
	if os.Geteuid() != 0 {
		t.Skip("only root gives files away")
	}
	out, err := exec.Command("sh", "-c", "chown -R root: '"+s.Dir+"'").CombinedOutput()
	require.NoError(t, err, string(out))
	_, err = Start(t.Context(), dir)
	require.ErrorContains(t, err, "chown -R postgres")
	command := regexp.MustCompile("`(.*)`").FindStringSubmatch(err.Error())[1]
	out, err = exec.Command("sh", "-c", command).CombinedOutput()
	require.NoError(t, err, string(out))
	s, err = Start(t.Context(), dir, "fsync=off")
	require.NoError(t, err)
	s.Stop()
}

// breakOff kills a server and returns what its file said of it.
func breakOff(t *testing.T, s *Server) []byte {
	t.Helper()
	pid, err := os.ReadFile(filepath.Join(s.Dir, "postmaster.pid"))
	require.NoError(t, err)
	n, err := strconv.Atoi(strings.SplitN(string(pid), "\n", 2)[0])
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(n, syscall.SIGKILL))
	return pid
}

func TestAServerThatBreaksOffIsStartedAgain(t *testing.T) {
	s, err := Start(t.Context(), folder(t), "fsync=off")
	require.NoError(t, err)
	defer s.Stop()
	for range 2 {
		pid := breakOff(t, s)
		require.Eventually(t, func() bool {
			now, err := os.ReadFile(filepath.Join(s.Dir, "postmaster.pid"))
			return err == nil && !bytes.Equal(now, pid)
		}, 20*time.Second, 20*time.Millisecond)
		answers(t, s)
	}

	require.NoError(t, os.Remove(filepath.Join(s.Dir, "PG_VERSION"))) // nothing can start on this
	breakOff(t, s)
	select {
	case err := <-s.Failed:
		assert.ErrorContains(t, err, "does not start again")
	case <-time.After(30 * time.Second):
		t.Fatal("nobody was told")
	}
}

func TestAFullDiskIsNamed(t *testing.T) {
	for _, err := range []error{
		&os.PathError{Op: "mkdir", Path: "/d", Err: syscall.ENOSPC},
		errors.New("initdb: could not write to file: No space left on device"),
	} {
		assert.ErrorContains(t, full("/d", err), "the disk that holds /d is full")
	}
	assert.Equal(t, os.ErrPermission, full("/d", os.ErrPermission))
	assert.NoError(t, full("/d", nil))
}
