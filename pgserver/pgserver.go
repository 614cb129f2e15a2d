// Package pgserver runs a private PostgreSQL from Debian's packages: it makes
// a cluster in a folder, starts it on loopback on a free port, and stops it.
// PostgreSQL refuses to run as root; for root it runs as the user postgres.
package pgserver

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
	"sort"
	"strconv"
	"strings"
	"sync"
	"syscall"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver "pgx"
)

// role is the name of the user and of the database in the cluster.
const role = "idletimber"

// Server is a running PostgreSQL.
type Server struct {
	URL string // of the database idletimber, with its password
	Dir string // the cluster's folder

	// Failed tells why the server is down for good, should it come to that. It is
	// started again when it breaks off.
	Failed <-chan error

	command  func() *exec.Cmd
	stopping chan struct{} // closed by Stop
	stopped  chan struct{} // closed when it has ended for good
	once     sync.Once
}

// Times of starting: how long a server may take to answer, and how often one that
// breaks off is started again before it is given up.
const (
	patience   = time.Minute
	mostStarts = 5
)

// Start makes a cluster under dir if there is none and starts it. Options are
// settings such as "fsync=off".
func Start(ctx context.Context, dir string, options ...string) (*Server, error) {
	bin, err := programs()
	if err != nil {
		return nil, err
	}
	dir, err = filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	as, err := runAs()
	if err != nil {
		return nil, err
	}
	cluster, err := home(dir, as)
	if err != nil {
		return nil, err
	}
	password, err := openCluster(ctx, bin, cluster, as, options)
	if err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	log, err := os.OpenFile(filepath.Join(cluster, "server.log"), os.O_CREATE|os.O_WRONLY|os.O_APPEND, 0o600)
	if err != nil {
		return nil, fmt.Errorf("open PostgreSQL's log: %w", full(cluster, err))
	}
	args := []string{"-D", cluster, "-p", strconv.Itoa(port), "-k", cluster,
		"-c", "listen_addresses=127.0.0.1", "-c", "max_connections=100", "-c", "logging_collector=off"}
	for _, o := range options {
		args = append(args, "-c", o)
	}
	failed := make(chan error, 1)
	s := &Server{
		URL:      address(password, strconv.Itoa(port)),
		Dir:      cluster,
		Failed:   failed,
		stopping: make(chan struct{}),
		stopped:  make(chan struct{}),
		command: func() *exec.Cmd {
			cmd := exec.Command(filepath.Join(bin, "postgres"), args...)
			cmd.Stdout, cmd.Stderr, cmd.Dir, cmd.SysProcAttr = log, log, cluster, as.attr()
			return cmd
		},
	}
	cmd, done, err := s.launch(ctx)
	if err != nil {
		log.Close()
		return nil, fmt.Errorf("%w (its log is %s)", full(cluster, err), log.Name())
	}
	go func() {
		defer log.Close()
		defer close(s.stopped)
		if err := s.keep(cmd, done); err != nil {
			failed <- fmt.Errorf("%w (its log is %s)", full(cluster, err), log.Name())
		}
	}()
	return s, nil
}

// start starts a program that ends with us; done tells how it ended.
func start(cmd *exec.Cmd) (done chan error, err error) {
	started := make(chan error)
	done = make(chan error, 1)
	go func() {
		runtime.LockOSThread() // the death signal follows the thread that started it
		err := cmd.Start()
		started <- err
		if err == nil {
			done <- cmd.Wait()
		}
	}()
	return done, <-started
}

// launch starts the server and waits until it answers.
func (s *Server) launch(ctx context.Context) (*exec.Cmd, chan error, error) {
	cmd := s.command()
	done, err := start(cmd)
	if err != nil {
		return nil, nil, fmt.Errorf("start PostgreSQL: %w", err)
	}
	ready := make(chan error, 1)
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	go func() { ready <- s.ready(ctx) }()
	select {
	case err = <-ready:
		if err == nil {
			return cmd, done, nil
		}
		halt(cmd, done)
		return nil, nil, err
	case err = <-done:
		return nil, nil, fmt.Errorf("PostgreSQL stopped at once: %v; %s", err, s.lastWords())
	}
}

// lastWords are what the log says of a server that did not start.
func (s *Server) lastWords() string {
	data, _ := os.ReadFile(filepath.Join(s.Dir, "server.log"))
	lines := strings.Split(strings.TrimSpace(string(data)), "\n")
	for i := len(lines) - 1; i >= 0; i-- {
		_, fatal, ok := strings.Cut(lines[i], "FATAL:")
		switch {
		case ok && strings.Contains(fatal, "lock file"):
			return "another one is using this folder"
		case ok:
			return strings.TrimSpace(fatal)
		}
	}
	return "its log says no more"
}

// keep starts the server again whenever it breaks off, until it is stopped. The
// error is why it is given up.
func (s *Server) keep(cmd *exec.Cmd, done chan error) error {
	for {
		select {
		case <-s.stopping:
			halt(cmd, done)
			return nil
		case <-done:
		}
		var err error
		for try := range mostStarts {
			select {
			case <-s.stopping:
				return nil
			case <-time.After(time.Duration(try) * 200 * time.Millisecond): // its children need a moment to go
			}
			if cmd, done, err = s.launch(context.Background()); err == nil {
				break
			}
		}
		if err != nil {
			return fmt.Errorf("PostgreSQL broke off and does not start again: %w", err)
		}
	}
}

// halt ends the server in order, or by force where it does not end.
func halt(cmd *exec.Cmd, done chan error) {
	cmd.Process.Signal(syscall.SIGINT)
	select {
	case <-done:
	case <-time.After(30 * time.Second):
		cmd.Process.Kill()
		<-done
	}
}

// Stop shuts the server down and waits for it.
func (s *Server) Stop() {
	s.once.Do(func() { close(s.stopping) })
	<-s.stopped
}

// ready waits until the server answers and has the database.
func (s *Server) ready(ctx context.Context) error {
	db, err := sql.Open("pgx", strings.Replace(s.URL, "/"+role+"?", "/postgres?", 1))
	if err != nil {
		return err
	}
	defer db.Close()
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	for db.PingContext(ctx) != nil {
		select {
		case <-ctx.Done():
			if errors.Is(ctx.Err(), context.DeadlineExceeded) {
				return errors.New("PostgreSQL did not answer within a minute")
			}
			return ctx.Err()
		case <-tick.C:
		}
	}
	var there bool
	if err := db.QueryRowContext(ctx, `SELECT EXISTS (SELECT 1 FROM pg_database WHERE datname = $1)`,
		role).Scan(&there); err != nil || there {
		return err
	}
	_, err = db.ExecContext(ctx, "CREATE DATABASE "+role)
	return err
}

// programs finds the newest PostgreSQL that Debian's packages installed.
func programs() (string, error) {
	found, _ := filepath.Glob("/usr/lib/postgresql/*/bin/postgres")
	sort.Slice(found, func(i, j int) bool { return version(found[i]) > version(found[j]) })
	if len(found) > 0 {
		return filepath.Dir(found[0]), nil
	}
	if path, err := exec.LookPath("postgres"); err == nil {
		return filepath.Dir(path), nil
	}
	return "", errors.New("PostgreSQL is not installed: apt-get install postgresql")
}

func version(path string) int {
	n, _ := strconv.Atoi(strings.Split(path, "/")[4])
	return n
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// Running is the URL of the server that runs on the cluster of a folder, started by another process; empty where none
// does, or it is not ours to ask.
func Running(dir string) string {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return ""
	}
	as, err := runAs()
	if err != nil {
		return ""
	}
	cluster, err := home(dir, as)
	if err != nil {
		return ""
	}
	password, err := os.ReadFile(filepath.Join(cluster, passwordFile))
	if err != nil {
		return ""
	}
	const portLine = 3
	about, err := os.ReadFile(filepath.Join(cluster, "postmaster.pid"))
	lines := strings.Split(string(about), "\n")
	if err != nil || len(lines) <= portLine {
		return ""
	}
	at := address(strings.TrimSpace(string(password)), lines[portLine])
	db, err := sql.Open("pgx", at)
	if err != nil {
		return ""
	}
	defer db.Close()
	ctx, cancel := context.WithTimeout(context.Background(), 5*time.Second)
	defer cancel()
	if db.PingContext(ctx) != nil { // what it left behind when it was killed
		return ""
	}
	return at
}

// address is the URL of the database of a cluster.
func address(password, port string) string {
	return fmt.Sprintf("postgres://%s:%s@127.0.0.1:%s/%s?sslmode=disable", role, password, port, role)
}
