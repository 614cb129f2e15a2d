package pgserver

import (
	"context"
	"database/sql"
	"errors"
	"fmt"
	"net/url"
	"os"
	"os/exec"
	"path/filepath"
	"syscall"
	"time"
)

// Pool starts Debian's PgBouncer in transaction mode before a database, with so many connections to it, and returns the
// address that it takes queries at. It is for tests; the returned function stops it.
func Pool(ctx context.Context, direct string, connections int) (pooled string, stop func(), err error) {
	program, err := exec.LookPath("pgbouncer")
	if err != nil {
		if program, err = exec.LookPath("/usr/sbin/pgbouncer"); err != nil {
			return "", nil, errors.New("PgBouncer is not installed: apt-get install pgbouncer")
		}
	}
	at, err := url.Parse(direct)
	if err != nil {
		return "", nil, err
	}
	as, err := runAs()
	if err != nil {
		return "", nil, err
	}
	dir, err := os.MkdirTemp("", "idletimber-pool-*")
	if err != nil {
		return "", nil, err
	}
	port, err := freePort()
	if err != nil {
		return "", nil, err
	}
	password, _ := at.User.Password()
	users, config := filepath.Join(dir, "users"), filepath.Join(dir, "pool.ini")
	for path, text := range map[string]string{
		users: fmt.Sprintf("%q %q\n", at.User.Username(), password),
		config: fmt.Sprintf(`[databases]
* = host=%s port=%s
[pgbouncer]
listen_addr = 127.0.0.1
listen_port = %d
unix_socket_dir =
auth_type = plain
auth_file = %s
pool_mode = transaction
default_pool_size = %d
max_client_conn = 500
`, at.Hostname(), at.Port(), port, users, connections),
	} {
		if err := errors.Join(os.WriteFile(path, []byte(text), 0o600), as.give(path)); err != nil {
			return "", nil, err
		}
	}
	if err := as.give(dir); err != nil {
		return "", nil, err
	}
	cmd := exec.Command(program, "-q", config)
	cmd.Dir, cmd.SysProcAttr = dir, as.attr()
	done, err := start(cmd)
	if err != nil {
		return "", nil, fmt.Errorf("start PgBouncer: %w", err)
	}
	stop = func() {
		cmd.Process.Signal(syscall.SIGTERM)
		<-done
		os.RemoveAll(dir)
	}
	at.Host = fmt.Sprintf("127.0.0.1:%d", port)
	db, err := sql.Open("pgx", at.String())
	if err != nil {
		return "", stop, err
	}
	defer db.Close()
	tick := time.NewTicker(50 * time.Millisecond)
	defer tick.Stop()
	for db.PingContext(ctx) != nil {
		select {
		case <-ctx.Done():
			stop()
			return "", nil, fmt.Errorf("PgBouncer does not answer: %w", ctx.Err())
		case <-tick.C:
		}
	}
	return at.String(), stop, nil
}
