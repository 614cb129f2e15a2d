package pgserver

import (
	"bytes"
	"context"
	"crypto/rand"
	"crypto/sha256"
	"errors"
	"fmt"
	"io/fs"
	"os"
	"os/exec"
	"os/user"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"syscall"
	"time"
)

// systemHome is a folder that Debian's package gives to the user postgres.
const systemHome = "/var/lib/postgresql"

// passwordFile lies in a cluster that is finished.
const passwordFile = "idletimber.password"

// account is the user that PostgreSQL runs as; nil is ourselves.
type account struct{ uid, gid int }

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
	return &account{uid, gid}, nil
}

// attr is how a program of PostgreSQL runs: as its user, in a group of its own, so
// that Ctrl-C is for us, and never longer than we do.
func (a *account) attr() *syscall.SysProcAttr {
	out := &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGQUIT}
	if a != nil {
		out.Credential = &syscall.Credential{Uid: uint32(a.uid), Gid: uint32(a.gid)}
	}
	return out
}

// give makes a file or folder the account's.
func (a *account) give(path string) error {
	if a == nil {
		return nil
	}
	return os.Chown(path, a.uid, a.gid)
}

// home is the folder of the cluster: dir/postgres, or, where the user
// postgres cannot reach into dir, a folder of its own named after dir.
func home(dir string, as *account) (string, error) {
	if err := os.MkdirAll(dir, 0o755); err != nil {
		return "", fmt.Errorf("make the data folder: %w", full(dir, err))
	}
	if as != nil && !reachable(dir) {
		return filepath.Join(systemHome, fmt.Sprintf("idletimber-%x", sha256.Sum256([]byte(dir)))[:24]), nil
	}
	return filepath.Join(dir, "postgres"), nil
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

// openCluster is the password of the cluster in a folder, which it makes where there
// is none. It is made beside and moved into place when it is finished, so that
// whatever stops us leaves none or a whole one.
func openCluster(ctx context.Context, bin, cluster string, as *account, options []string) (string, error) {
	lock, err := os.OpenFile(cluster+".lock", os.O_CREATE|os.O_RDWR, 0o600)
	if err != nil {
		return "", full(cluster, err)
	}
	defer lock.Close() // which unlocks it
	if err := syscall.Flock(int(lock.Fd()), syscall.LOCK_EX); err != nil {
		return "", fmt.Errorf("lock %s: %w", lock.Name(), err)
	}
	password, err := os.ReadFile(filepath.Join(cluster, passwordFile))
	switch {
	case err == nil:
		return strings.TrimSpace(string(password)), owned(cluster, as)
	case !errors.Is(err, fs.ErrNotExist):
		return "", errors.Join(owned(cluster, as), err)
	}
	if used(cluster) {
		return "", fmt.Errorf("%s holds a database, but its password is gone: put %s back from a copy, or name "+
			"another folder with --data", cluster, filepath.Join(cluster, passwordFile))
	}
	stale, _ := filepath.Glob(cluster + ".making-*")
	for _, old := range append(stale, cluster) {
		for range 40 { // a program that was killed may leave a child that writes a little longer
			if os.RemoveAll(old) == nil {
				break
			}
			time.Sleep(50 * time.Millisecond)
		}
	}
	return makeCluster(ctx, bin, cluster, as, options)
}

// used reports whether a server ever ran on the cluster; initdb alone leaves no
// options behind.
func used(cluster string) bool {
	_, err := os.Stat(filepath.Join(cluster, "postmaster.opts"))
	return err == nil
}

// owned reports files that PostgreSQL cannot use, as when a folder was copied by
// another user, with the commands that mend it.
func owned(cluster string, as *account) error {
	want, name := os.Geteuid(), strconv.Itoa(os.Geteuid())
	if as != nil {
		want, name = as.uid, "postgres"
	}
	for _, path := range []string{cluster, filepath.Join(cluster, "PG_VERSION"), filepath.Join(cluster, "base")} {
		info, err := os.Stat(path)
		if err != nil {
			return full(cluster, err)
		}
		owner := int(info.Sys().(*syscall.Stat_t).Uid)
		if owner != want || path == cluster && info.Mode().Perm()&0o027 != 0 {
			return fmt.Errorf("%s belongs to user %d with mode %o, and PostgreSQL runs as %s: mend it with "+
				"`chown -R %s '%s' && chmod 700 '%s'`, as root", path, owner, info.Mode().Perm(), name, name, cluster,
				cluster)
		}
	}
	return nil
}

// makeCluster makes a cluster with a random password beside its place and moves it
// there.
func makeCluster(ctx context.Context, bin, cluster string, as *account, options []string) (string, error) {
	making, err := os.MkdirTemp(filepath.Dir(cluster), filepath.Base(cluster)+".making-")
	if err != nil {
		return "", full(cluster, err)
	}
	defer os.RemoveAll(making) // it has moved, or is of no use
	password, secret, made := rand.Text(), filepath.Join(making, "password"), filepath.Join(making, "cluster")
	if err := errors.Join(writeSynced(secret, password+"\n"), as.give(secret), as.give(making)); err != nil {
		return "", full(cluster, err)
	}
	args := []string{"-D", made, "-U", role, "-A", "scram-sha-256", "--pwfile", secret, "-E", "UTF8",
		"--locale=C.UTF-8"}
	if slices.Contains(options, "fsync=off") {
		args = append(args, "--no-sync")
	}
	cmd := exec.Command(filepath.Join(bin, "initdb"), args...)
	cmd.SysProcAttr, cmd.Dir = as.attr(), making
	var out bytes.Buffer
	cmd.Stdout, cmd.Stderr = &out, &out
	done, err := start(cmd)
	if err != nil {
		return "", fmt.Errorf("initdb: %w", err)
	}
	select {
	case err = <-done:
	case <-ctx.Done():
		syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) // with its children
		<-done
		return "", ctx.Err()
	}
	if err != nil {
		return "", full(cluster, fmt.Errorf("initdb: %w: %s", err, out.Bytes()))
	}
	if err := os.Rename(secret, filepath.Join(made, passwordFile)); err != nil {
		return "", full(cluster, err)
	}
	return password, errors.Join(syncDir(made), os.Rename(made, cluster), syncDir(filepath.Dir(cluster)))
}

func writeSynced(path, text string) error {
	f, err := os.OpenFile(path, os.O_CREATE|os.O_EXCL|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	_, err = f.WriteString(text)
	return errors.Join(err, f.Sync(), f.Close())
}

// syncDir makes what was moved into a folder stay there.
func syncDir(dir string) error {
	f, err := os.Open(dir)
	if err != nil {
		return err
	}
	return errors.Join(f.Sync(), f.Close())
}

// full names a full disk as such.
func full(dir string, err error) error {
	if err == nil || !errors.Is(err, syscall.ENOSPC) && !strings.Contains(err.Error(), syscall.ENOSPC.Error()) &&
		!strings.Contains(err.Error(), "No space left on device") {
		return err
	}
	return fmt.Errorf("the disk that holds %s is full: make room on it and start again (%w)", dir, err)
}
