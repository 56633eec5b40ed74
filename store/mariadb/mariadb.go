// Package mariadb runs a MariaDB server of the project's own: a private data
// folder, loopback only, on a free port, beside whatever the system runs.
package mariadb

import (
	"context"
	"errors"
	"fmt"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"runtime"
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
	folder
	password string // of the account that serves builds
	root     string // of the server's root

	mu      sync.Mutex
	port    int
	cmd     *exec.Cmd
	done    chan struct{} // closed when the process has ended
	stopped bool
}

// Start starts a server on the data folder, which it makes when it is not
// there, with a database and an account that may only read and write rows.
//
// A server that an earlier run left there is stopped first. A folder that it does
// not understand is an error, and is left as it is. Progress is told in words as it
// goes on. Nobody else may start a server on the folder meanwhile.
func Start(ctx context.Context, dir string, progress func(string)) (server *Server, err error) {
	f, err := openFolder(dir)
	if err != nil {
		return nil, err
	}
	s := &Server{folder: f}
	defer func() {
		if err != nil {
			err = errors.Join(err, f.Release())
		}
	}()
	if err := s.endLeftovers(); err != nil {
		return nil, err
	}
	if !s.has("db") {
		progress("making a database in " + s.dir)
		if err := s.install(ctx); err != nil {
			return nil, err
		}
	}
	if s.password, err = s.secret("password"); err != nil {
		return nil, err
	}
	if s.root, err = s.secret("root-password"); err != nil {
		return nil, err
	}
	progress("starting the database")
	if err := s.run(ctx); err != nil {
		return nil, err
	}
	return s, nil
}

// DSN returns the data source name of the account that serves builds. Its port may
// change when the server is started again; [Server.Dial] knows the way.
func (s *Server) DSN() string {
	s.mu.Lock()
	defer s.mu.Unlock()
	return dsn(account, s.password, "tcp", fmt.Sprintf("127.0.0.1:%d", s.port))
}

// AdminDSN returns the data source name of the account that may change tables, over
// a socket that only the owner of the folder can reach.
func (s *Server) AdminDSN() string { return dsn("root", s.root, "unix", s.path("s.sock")) }

// Dial connects to the server at the port that it has now.
func (s *Server) Dial(ctx context.Context, _, _ string) (net.Conn, error) {
	s.mu.Lock()
	port := s.port
	s.mu.Unlock()
	var d net.Dialer
	return d.DialContext(ctx, "tcp", fmt.Sprintf("127.0.0.1:%d", port))
}

func dsn(user, password, network, addr string) string {
	cfg := mysql.NewConfig()
	cfg.User, cfg.Passwd, cfg.Net, cfg.Addr, cfg.DBName = user, password, network, addr, database
	return cfg.FormatDSN()
}

// install makes the system tables beside where they belong, and moves them there
// when they are whole: whoever finds "db" finds all of it.
func (s *Server) install(ctx context.Context) error {
	tool, err := find("mariadb-install-db")
	if err != nil {
		return err
	}
	making := s.path(making)
	if err := s.clearMaking(); err != nil {
		return err
	}
	args := []string{"--no-defaults", "--datadir=" + making, "--auth-root-authentication-method=socket", "--skip-test-db"}
	cmd := exec.CommandContext(ctx, tool, append(args, asRoot()...)...)
	s.mark(cmd)
	runtime.LockOSThread() // see run
	defer runtime.UnlockOSThread()
	cmd.Cancel = func() error { return syscall.Kill(-cmd.Process.Pid, syscall.SIGKILL) }
	if out, err := cmd.CombinedOutput(); err != nil {
		if ctx.Err() != nil {
			return ctx.Err()
		}
		return fmt.Errorf("making the database: %w\n%s", err, out)
	}
	return os.Rename(making, s.path("db"))
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

// accounts is what the server does before it lets anybody in, at each start: there
// are our account and root, with their passwords, root over the socket alone; the
// system's own account stays as it comes, locked; and there is nobody else.
func (s *Server) accounts() string {
	lines := ""
	for _, q := range []string{
		"CREATE DATABASE IF NOT EXISTS " + database + " CHARACTER SET utf8mb4",
		"USE mysql",
		"DELETE FROM global_priv WHERE NOT (User = 'mariadb.sys' AND Host = 'localhost')",
		"DELETE FROM db", "DELETE FROM tables_priv WHERE User <> 'mariadb.sys'", "DELETE FROM columns_priv", "DELETE FROM procs_priv",
		"DELETE FROM proxies_priv", "DELETE FROM roles_mapping",
		"FLUSH PRIVILEGES",
		fmt.Sprintf("CREATE USER root@localhost IDENTIFIED BY '%s'", s.root),
		"GRANT ALL PRIVILEGES ON *.* TO root@localhost WITH GRANT OPTION",
		// The server does not resolve names, so the account is told by address.
		fmt.Sprintf("CREATE USER %s@'127.0.0.1' IDENTIFIED BY '%s'", account, s.password),
		fmt.Sprintf("GRANT SELECT, INSERT, UPDATE, DELETE ON %s.* TO %s@'127.0.0.1'", database, account),
	} {
		lines += q + ";\n"
	}
	return lines
}

// run starts the process and waits until it lets root in.
func (s *Server) run(ctx context.Context) error {
	tool, err := find("mariadbd")
	if err != nil {
		return err
	}
	init := s.path("init.sql")
	if err := write(init, s.accounts()); err != nil {
		return err
	}
	defer os.Remove(init)
	log, err := os.OpenFile(s.path("log"), os.O_CREATE|os.O_APPEND|os.O_WRONLY, 0o600)
	if err != nil {
		return err
	}
	defer log.Close()
	s.mu.Lock()
	if s.port, err = freePort(s.port); err != nil {
		s.mu.Unlock()
		return err
	}
	cmd := exec.Command(tool, append([]string{"--no-defaults", "--datadir=" + s.path("db"), "--socket=" + s.path("s.sock"),
		fmt.Sprintf("--port=%d", s.port), "--bind-address=127.0.0.1", "--pid-file=" + s.path("pid"), "--skip-name-resolve",
		"--init-file=" + init, "--secure-file-priv=" + s.path("files"), "--local-infile=OFF", "--symbolic-links=OFF",
		"--character-set-server=utf8mb4", "--innodb-buffer-pool-size=64M", "--performance-schema=OFF"}, asRoot()...)...)
	cmd.Stdout, cmd.Stderr = log, log
	s.mark(cmd)
	started, done := make(chan error, 1), make(chan struct{})
	go func() {
		// The server is told when we die. It takes the end of the thread that
		// started it for that, so the thread waits with us.
		runtime.LockOSThread()
		err := cmd.Start()
		started <- err
		if err == nil {
			_ = cmd.Wait() // how it ended stands in its log
		}
		close(done)
	}()
	if err := <-started; err != nil {
		s.mu.Unlock()
		return err
	}
	s.cmd, s.done = cmd, done
	s.mu.Unlock()
	deadline := time.After(60 * time.Second)
	for {
		if s.answers(ctx) {
			return nil
		}
		select {
		case <-done:
			return fmt.Errorf("the database did not start; the end of its log %s says why:\n%s", s.path("log"), s.lastErrors())
		case <-deadline:
			return errors.Join(fmt.Errorf("the database did not answer within a minute; its log is %s", s.path("log")), s.terminate(syscall.SIGTERM))
		case <-ctx.Done():
			return errors.Join(ctx.Err(), s.terminate(syscall.SIGTERM))
		case <-time.After(20 * time.Millisecond):
		}
	}
}

// Keep restarts the server whenever it ends without having been stopped, until
// the context ends.
func (s *Server) Keep(ctx context.Context, progress func(string)) {
	for wait := time.Second; ; {
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
		if stopped || ctx.Err() != nil {
			return
		}
		progress("the database ended unexpectedly; starting it again")
		if err := s.run(ctx); err == nil {
			wait = time.Second
			continue
		} else if ctx.Err() == nil {
			progress(err.Error())
		}
		select {
		case <-ctx.Done():
			return
		case <-time.After(wait):
		}
		wait = min(2*wait, time.Minute)
	}
}

// Stop ends the server in order and waits for it, at most a few seconds; then it is
// ended as a crash would, after which nothing that was acknowledged is missing.
func (s *Server) Stop() error { return s.end(syscall.SIGTERM) }

// Kill ends the server at once, as a crash would. It is not restarted until
// [Server.Restart].
func (s *Server) Kill() error { return s.end(syscall.SIGKILL) }

// orderly is how long a server may take to end in order.
const orderly = 6 * time.Second

func (s *Server) end(signal syscall.Signal) error {
	s.mu.Lock()
	s.stopped = true
	s.mu.Unlock()
	return s.terminate(signal)
}

// terminate ends the process that there is. Whether another is to be started is not its
// business: one that did not answer in time is tried again.
func (s *Server) terminate(signal syscall.Signal) error {
	s.mu.Lock()
	cmd, done := s.cmd, s.done
	s.mu.Unlock()
	if cmd == nil {
		return nil
	}
	for _, signal := range []syscall.Signal{signal, syscall.SIGKILL} {
		if err := cmd.Process.Signal(signal); err != nil && !errors.Is(err, os.ErrProcessDone) {
			return err
		}
		select {
		case <-done:
			return nil
		case <-time.After(orderly):
		}
	}
	return errors.New("the database does not stop")
}

// Restart starts the server again after Stop or Kill, on the same port unless
// somebody has taken it.
func (s *Server) Restart(ctx context.Context) error {
	s.mu.Lock()
	s.stopped = false
	s.mu.Unlock()
	return s.run(ctx)
}

// freePort returns the port wanted, if nothing listens there, or else one that the
// system chooses.
func freePort(wanted int) (int, error) {
	l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", wanted))
	if err != nil && wanted != 0 {
		l, err = net.Listen("tcp", "127.0.0.1:0")
	}
	if err != nil {
		return 0, err
	}
	defer l.Close()
	return l.Addr().(*net.TCPAddr).Port, nil
}
