// Package pgserver runs a private PostgreSQL from Debian's packages: it makes
// a cluster in a folder, starts it on loopback on a free port, and stops it.
// PostgreSQL refuses to run as root; for root it runs as the user postgres.
package pgserver

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"runtime"
	"sort"
	"strconv"
	"strings"
	"syscall"
	"time"

	_ "github.com/jackc/pgx/v5/stdlib" // the driver "pgx"
)

const (
	role = "idletimber"
	// systemHome is a folder that Debian's package gives to the user postgres.
	systemHome = "/var/lib/postgresql"
)

// Server is a running PostgreSQL.
type Server struct {
	URL  string // of the database idletimber, with its password
	Dir  string // the cluster's folder
	cmd  *exec.Cmd
	done chan error
}

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
	password, err := makeCluster(ctx, bin, cluster, as)
	if err != nil {
		return nil, err
	}
	port, err := freePort()
	if err != nil {
		return nil, err
	}
	args := []string{"-D", cluster, "-p", strconv.Itoa(port), "-k", cluster,
		"-c", "listen_addresses=127.0.0.1", "-c", "max_connections=60", "-c", "logging_collector=off"}
	for _, o := range options {
		args = append(args, "-c", o)
	}
	s := &Server{done: make(chan error, 1), Dir: cluster,
		URL: fmt.Sprintf("postgres://%s:%s@127.0.0.1:%d/%s?sslmode=disable", role, password, port, role)}
	log, err := os.OpenFile(filepath.Join(cluster, "server.log"), os.O_CREATE|os.O_WRONLY|os.O_APPEND, 0o600)
	if err != nil {
		return nil, fmt.Errorf("open PostgreSQL's log: %w", err)
	}
	defer log.Close()
	s.cmd = exec.Command(filepath.Join(bin, "postgres"), args...)
	s.cmd.Stdout, s.cmd.Stderr, s.cmd.Dir = log, log, cluster
	s.cmd.SysProcAttr = as.attr()
	s.cmd.SysProcAttr.Setpgid = true              // Ctrl-C is for us; we stop it when requests are done
	s.cmd.SysProcAttr.Pdeathsig = syscall.SIGQUIT // never outlive us
	started := make(chan error)
	go func() {
		runtime.LockOSThread() // the death signal follows the thread that started it
		if err := s.cmd.Start(); err != nil {
			started <- err
			return
		}
		started <- nil
		s.done <- s.cmd.Wait()
	}()
	if err := <-started; err != nil {
		return nil, fmt.Errorf("start PostgreSQL: %w", err)
	}
	if err := s.ready(ctx, strings.Replace(s.URL, "/"+role+"?", "/postgres?", 1)); err != nil {
		s.Stop()
		return nil, fmt.Errorf("%w (its log is %s)", err, log.Name())
	}
	return s, nil
}

// Stop shuts the server down and waits for it.
func (s *Server) Stop() error {
	if err := s.cmd.Process.Signal(syscall.SIGINT); err != nil && !errors.Is(err, os.ErrProcessDone) {
		return err
	}
	select {
	case <-s.done:
		return nil
	case <-time.After(30 * time.Second):
		return s.cmd.Process.Kill()
	}
}

// ready waits until the server answers and has the database.
func (s *Server) ready(ctx context.Context, maintenance string) error {
	ctx, cancel := context.WithTimeout(ctx, 60*time.Second)
	defer cancel()
	db, err := sql.Open("pgx", maintenance)
	if err != nil {
		return err
	}
	defer db.Close()
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	for db.PingContext(ctx) != nil {
		select {
		case err := <-s.done:
			s.done <- err
			return fmt.Errorf("PostgreSQL stopped at once: %v; is another one using this folder?", err)
		case <-ctx.Done():
			return errors.New("PostgreSQL did not answer within a minute")
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

// account is the user that PostgreSQL runs as; nil is ourselves.
type account struct{ uid, gid uint32 }

func runAs() (*account, error) {
	if os.Geteuid() != 0 {
		return nil, nil
	}
	u, err := user.Lookup("postgres")
	if err != nil {
		return nil, fmt.Errorf("PostgreSQL does not run as root and there is no user postgres: %w", err)
	}
	uid, _ := strconv.Atoi(u.Uid)
	gid, _ := strconv.Atoi(u.Gid)
	return &account{uint32(uid), uint32(gid)}, nil
}

func (a *account) attr() *syscall.SysProcAttr {
	if a == nil {
		return &syscall.SysProcAttr{}
	}
	return &syscall.SysProcAttr{Credential: &syscall.Credential{Uid: a.uid, Gid: a.gid}}
}

// home is the folder of the cluster: dir/postgres, or, where the user
// postgres cannot reach into dir, a folder of its own named after dir.
func home(dir string, as *account) (string, error) {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", fmt.Errorf("make the data folder: %w", err)
	}
	cluster := filepath.Join(dir, "postgres")
	if as == nil {
		return cluster, os.MkdirAll(cluster, 0o700)
	}
	if !reachable(dir) {
		cluster = filepath.Join(systemHome, fmt.Sprintf("idletimber-%x", sha256.Sum256([]byte(dir)))[:24])
	}
	if err := os.MkdirAll(cluster, 0o700); err != nil {
		return "", err
	}
	return cluster, os.Chown(cluster, int(as.uid), int(as.gid))
}

// reachable reports whether everybody may pass through every folder to dir.
func reachable(dir string) bool {
	for ; ; dir = filepath.Dir(dir) {
		info, err := os.Stat(dir)
		if err != nil || info.Mode().Perm()&1 == 0 {
			return false
		}
		if dir == filepath.Dir(dir) {
			return true
		}
	}
}

// makeCluster runs initdb once and keeps the random password beside it.
func makeCluster(ctx context.Context, bin, cluster string, as *account) (string, error) {
	secret := filepath.Join(cluster, "idletimber.password")
	if _, err := os.Stat(filepath.Join(cluster, "PG_VERSION")); err == nil {
		data, err := os.ReadFile(secret)
		return strings.TrimSpace(string(data)), err
	}
	password := rand.Text()
	pass, err := os.CreateTemp("", "idletimber-*")
	if err != nil {
		return "", err
	}
	defer os.Remove(pass.Name())
	fmt.Fprintln(pass, password)
	pass.Close()
	if as != nil {
		if err := os.Chown(pass.Name(), int(as.uid), int(as.gid)); err != nil {
			return "", err
		}
	}
	cmd := exec.CommandContext(ctx, filepath.Join(bin, "initdb"), "-D", cluster, "-U", role, "-A", "scram-sha-256",
		"--pwfile", pass.Name(), "-E", "UTF8", "--locale=C.UTF-8", "--no-sync")
	cmd.SysProcAttr, cmd.Dir = as.attr(), cluster
	if out, err := cmd.CombinedOutput(); err != nil {
		return "", fmt.Errorf("initdb: %w: %s", err, out)
	}
	return password, os.WriteFile(secret, []byte(password+"\n"), 0o600)
}

func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
