package pgserver

import (
	"context"
	"database/sql"
	"fmt"
	"os"
	"strings"
	"sync/atomic"
)

// Temporary starts a throwaway server for tests; the returned function stops
// it and removes its folder.
func Temporary() (*Server, func(), error) {
	dir, err := os.MkdirTemp("", "idletimber-pg-*")
	if err != nil {
		return nil, nil, err
	}
	if err := os.Chmod(dir, 0o755); err != nil {
		return nil, nil, err
	}
	s, err := Start(context.Background(), dir, "fsync=off", "full_page_writes=off", "synchronous_commit=off")
	if err != nil {
		os.RemoveAll(dir)
		return nil, nil, err
	}
	return s, func() {
		s.Stop()
		os.RemoveAll(dir)
	}, nil
}

// Around runs tests with a throwaway server that they find in s, and returns the code to exit with.
func Around(tests interface{ Run() int }, s **Server) int {
	server, stop, err := Temporary()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer stop()
	*s = server
	return tests.Run()
}

var serial atomic.Int64

// NewDatabase makes an empty database and returns its URL.
func (s *Server) NewDatabase(ctx context.Context) (string, error) {
	db, err := sql.Open("pgx", s.URL)
	if err != nil {
		return "", err
	}
	defer db.Close()
	name := fmt.Sprintf("test%d", serial.Add(1))
	if _, err := db.ExecContext(ctx, "CREATE DATABASE "+name); err != nil {
		return "", err
	}
	return strings.Replace(s.URL, "/"+role+"?", "/"+name+"?", 1), nil
}
