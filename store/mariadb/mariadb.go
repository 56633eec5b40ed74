// Package mariadb runs a MariaDB server of the project's own: a private data
// folder, loopback only, on a free port, beside whatever the system runs.
package mariadb

import (
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/base32"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"sync"
	"syscall"
	"time"

	"github.com/go-sql-driver/mysql"
)

const (
	database = "cablaggio"
	account  = "cablaggio"
)

// A Server is a running MariaDB server.
type Server struct {
	dir      string
	port     int
	password string // of the account that serves builds
	root     string // of the server's root

	mu      sync.Mutex
	cmd     *exec.Cmd
	done    chan struct{} // closed when the process has ended
	stopped bool
}

// Start starts a server on the data folder, which it makes when it is not
// there, with a database and an account that may only read and write rows. A
// server that was left running there is stopped first. Progress is told in
// words as it goes on.
func Start(ctx context.Context, dir string, progress func(string)) (*Server, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return nil, err
	}
	// A path to a socket has at most 107 bytes.
	if len(filepath.Join(dir, "s.sock")) > 100 {
		return nil, fmt.Errorf("the path of the data folder is too long for a socket: %s; move the checkout to a shorter path", dir)
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return nil, err
	}
	s := &Server{dir: dir}
	s.endLeftover()
	// A folder whose preparation was interrupted has nothing of the builder's.
	_, err = os.Stat(filepath.Join(dir, "ready"))
	fresh := errors.Is(err, os.ErrNotExist)
	if fresh {
		progress("making a database in " + dir)
		if err := s.install(ctx); err != nil {
			return nil, err
		}
	}
	if s.password, err = secret(filepath.Join(dir, "password")); err != nil {
		return nil, err
	}
	if s.root, err = secret(filepath.Join(dir, "root-password")); err != nil {
		return nil, err
	}
	if s.port, err = freePort(); err != nil {
		return nil, err
	}
	progress("starting the database")
	if err := s.run(ctx); err != nil {
		return nil, err
	}
	if err := s.prepare(ctx, fresh); err != nil {
		return nil, errors.Join(err, s.Stop())
	}
	return s, nil
}

// DSN returns the data source name of the account that serves builds.
func (s *Server) DSN() string { return s.dsn(account, s.password, s.addr(), "tcp", database) }

// AdminDSN returns the data source name of the account that may change tables.
func (s *Server) AdminDSN() string {
	return s.dsn("root", s.root, filepath.Join(s.dir, "s.sock"), "unix", database)
}

func (s *Server) addr() string { return fmt.Sprintf("127.0.0.1:%d", s.port) }

func (s *Server) dsn(user, password, addr, network, db string) string {
	cfg := mysql.NewConfig()
	cfg.User, cfg.Passwd, cfg.Net, cfg.Addr, cfg.DBName = user, password, network, addr, db
	return cfg.FormatDSN()
}

// install makes the data folder's system tables.
func (s *Server) install(ctx context.Context) error {
	tool, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	data := filepath.Join(s.dir, "db")
	if err := os.RemoveAll(data); err != nil {
		return err
	}
	args := []string{"--no-defaults", "--datadir=" + data, "--auth-root-authentication-method=normal", "--skip-test-db"}
	if out, err := exec.CommandContext(ctx, tool, append(args, asRoot()...)...).CombinedOutput(); err != nil {
		return fmt.Errorf("making the database: %w\n%s", err, out)
	}
	return nil
}

// asRoot lets the server run as root where we are root, as in a container.
func asRoot() []string {
	if os.Geteuid() == 0 {
		return []string{"--user=root"}
	}
	return nil
}

// find looks for a program where Debian puts servers, which is not on every
// account's path.
func find(name string) (string, error) {
	if path, err := exec.LookPath(name); err == nil {
		return path, nil
	}
	path := filepath.Join("/usr/sbin", name)
	if _, err := os.Stat(path); err == nil {
		return path, nil
	}
	return "", fmt.Errorf("%s is not installed; on Debian: apt-get install --no-install-recommends mariadb-server", name)
}

// run starts the process and waits until it answers.
func (s *Server) run(ctx context.Context) error {
	tool, err := find("mariadbd")
	if err != nil {
		return err
	}
	log, err := os.OpenFile(filepath.Join(s.dir, "log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer log.Close()
	cmd := exec.Command(tool, append([]string{"--no-defaults", "--datadir=" + filepath.Join(s.dir, "db"), "--socket=" + filepath.Join(s.dir, "s.sock"),
		fmt.Sprintf("--port=%d", s.port), "--bind-address=127.0.0.1", "--pid-file=" + filepath.Join(s.dir, "pid"), "--skip-name-resolve",
		"--character-set-server=utf8mb4", "--innodb-buffer-pool-size=64M", "--performance-schema=OFF"}, asRoot()...)...)
	cmd.Stdout, cmd.Stderr = log, log
	// A group of its own: Ctrl-C at the terminal is for us, who stop it in order.
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true}
	if err := cmd.Start(); err != nil {
		return err
	}
	done := make(chan struct{})
	go func() {
		_ = cmd.Wait() // how it ended stands in its log
		close(done)
	}()
	s.mu.Lock()
	s.cmd, s.done = cmd, done
	s.mu.Unlock()
	deadline := time.After(60 * time.Second)
	for {
		conn, err := net.DialTimeout("unix", filepath.Join(s.dir, "s.sock"), time.Second)
		if err == nil {
			return conn.Close()
		}
		select {
		case <-done:
			return fmt.Errorf("the database did not start; its log is %s", filepath.Join(s.dir, "log"))
		case <-deadline:
			return errors.Join(fmt.Errorf("the database did not answer within a minute; its log is %s", filepath.Join(s.dir, "log")), s.Stop())
		case <-ctx.Done():
			return errors.Join(ctx.Err(), s.Stop())
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// prepare makes the database and the account, and gives root a password.
func (s *Server) prepare(ctx context.Context, fresh bool) error {
	rootPassword := s.root
	if fresh {
		rootPassword = ""
	}
	db, err := sql.Open("mysql", s.dsn("root", rootPassword, filepath.Join(s.dir, "s.sock"), "unix", ""))
	if err != nil {
		return err
	}
	defer db.Close()
	if !fresh {
		return db.PingContext(ctx)
	}
	for _, q := range []string{
		"CREATE DATABASE IF NOT EXISTS " + database + " CHARACTER SET utf8mb4",
		// The server does not resolve names, so the account is told by address.
		fmt.Sprintf("CREATE OR REPLACE USER %s@'127.0.0.1' IDENTIFIED BY '%s'", account, s.password),
		fmt.Sprintf("GRANT SELECT, INSERT, UPDATE, DELETE ON %s.* TO %s@'127.0.0.1'", database, account),
		fmt.Sprintf("ALTER USER root@localhost IDENTIFIED BY '%s'", s.root),
	} {
		if _, err := db.ExecContext(ctx, q); err != nil {
			return fmt.Errorf("preparing the database: %w", err)
		}
	}
	return os.WriteFile(filepath.Join(s.dir, "ready"), nil, 0o600)
}

// Keep restarts the server whenever it ends without having been stopped, until
// the context ends.
func (s *Server) Keep(ctx context.Context, progress func(string)) {
	for {
		s.mu.Lock()
		done, stopped := s.done, s.stopped
		s.mu.Unlock()
		if stopped {
			return
		}
		select {
		case <-ctx.Done():
			return
		case <-done:
		}
		s.mu.Lock()
		stopped = s.stopped
		s.mu.Unlock()
		if stopped {
			return
		}
		progress("the database ended unexpectedly; starting it again")
		if err := s.run(ctx); err != nil {
			progress(err.Error())
			select {
			case <-ctx.Done():
				return
			case <-time.After(2 * time.Second):
			}
		}
	}
}

// Stop ends the server in order and waits for it.
func (s *Server) Stop() error { return s.end(syscall.SIGTERM) }

// Kill ends the server at once, as a crash would. It is not restarted until
// [Server.Restart].
func (s *Server) Kill() error { return s.end(syscall.SIGKILL) }

func (s *Server) end(signal syscall.Signal) error {
	s.mu.Lock()
	s.stopped = true
	cmd, done := s.cmd, s.done
	s.mu.Unlock()
	if cmd == nil {
		return nil
	}
	if err := cmd.Process.Signal(signal); err != nil && !errors.Is(err, os.ErrProcessDone) {
		return err
	}
	select {
	case <-done:
		return nil
	case <-time.After(60 * time.Second):
		return errors.New("the database does not stop")
	}
}

// Restart starts the server again on the same port after Stop or Kill.
func (s *Server) Restart(ctx context.Context) error {
	s.mu.Lock()
	s.stopped = false
	s.mu.Unlock()
	return s.run(ctx)
}

// endLeftover stops a server that an earlier run left behind when it was
// killed. Its process id is trusted only while its socket answers.
func (s *Server) endLeftover() {
	conn, err := net.DialTimeout("unix", filepath.Join(s.dir, "s.sock"), time.Second)
	if err != nil {
		return
	}
	conn.Close()
	data, err := os.ReadFile(filepath.Join(s.dir, "pid"))
	if err != nil {
		return
	}
	var pid int
	if _, err := fmt.Sscan(strings.TrimSpace(string(data)), &pid); err != nil || pid < 2 {
		return
	}
	if syscall.Kill(pid, syscall.SIGTERM) != nil {
		return
	}
	for range 1000 {
		if syscall.Kill(pid, 0) != nil {
			return
		}
		time.Sleep(20 * time.Millisecond)
	}
}

// freePort asks the system for a port that nothing listens on.
func freePort() (int, error) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}

// secret returns the random password in a file that only its owner can read,
// making it when it is not there.
func secret(file string) (string, error) {
	data, err := os.ReadFile(file)
	if err == nil {
		return string(data), nil
	}
	if !errors.Is(err, os.ErrNotExist) {
		return "", err
	}
	var b [20]byte
	if _, err := rand.Read(b[:]); err != nil {
		return "", err
	}
	word := base32.StdEncoding.EncodeToString(b[:])
	return word, os.WriteFile(file, []byte(word), 0o600)
}
