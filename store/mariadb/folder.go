package mariadb

import (
	"bytes"
	"context"
	"crypto/rand"
	"database/sql"
	"encoding/base32"
	"errors"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"syscall"
	"time"

	_ "github.com/go-sql-driver/mysql" // the driver
)

// A folder is where a server keeps what it has:
//
//	db             the server's data; it is there whole or not at all
//	db.making      while it is being made
//	files          an empty folder, the only one that the server may read files from
//	tmp            its temporary tables; a server that starts clears its folder of them, also of those of others
//	password       of the account that serves builds
//	root-password  of the server's root
//	instance       a secret that our processes carry, so that we know them
//	lock           held while a program works on the folder
//	log, pid, s.sock, init.sql
//
// Only its owner can enter it.
type folder struct {
	dir      string
	lock     *os.File
	instance string
}

const making = "db.making"

// ours are the names of what is in a folder, also with an ending, and what the file
// system itself puts there.
var ours = []string{"db", "files", "tmp", "password", "root-password", "instance", "lock", "log", "pid", "s.sock", "init.sql", "ready", "lost+found"}

// maxSocket is how long the path of a socket may be: 107 bytes, with some room.
const maxSocket = 100

// ErrBusy says that another program is working on a folder.
var ErrBusy = errors.New("another Cablaggio is running on this folder; stop it first, or give this one a folder of its own with --data")

// openFolder takes a folder for this process. One that is not understood is left as
// it is.
func openFolder(dir string) (folder, error) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return folder{}, err
	}
	f := folder{dir: dir}
	if len(f.path("s.sock")) > maxSocket {
		return f, fmt.Errorf("the path of the data folder is too long for a socket: %s; move the checkout to a shorter path", dir)
	}
	if err := f.understand(); err != nil {
		return f, err
	}
	if err := os.MkdirAll(dir, 0o700); err != nil {
		return f, err
	}
	if f.lock, err = os.OpenFile(f.path("lock"), os.O_CREATE|os.O_RDWR|syscall.O_CLOEXEC, 0o600); err != nil {
		return f, err
	}
	if err := syscall.Flock(int(f.lock.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		return f, errors.Join(fmt.Errorf("%s: %w", dir, ErrBusy), f.lock.Close())
	}
	return f, f.secure()
}

// Release lets others work on the folder. The server must have ended.
func (f folder) Release() error { return f.lock.Close() }

func (f folder) path(name string) string { return filepath.Join(f.dir, name) }

func (f folder) has(name string) bool {
	_, err := os.Lstat(f.path(name))
	return err == nil
}

// understand looks at a folder that is there before anything is done to it.
func (f folder) understand() error {
	entries, err := os.ReadDir(f.dir)
	if errors.Is(err, os.ErrNotExist) {
		return nil
	}
	if err != nil {
		return err
	}
	var foreign []string
	for _, e := range entries {
		mine := func(name string) bool { return e.Name() == name || strings.HasPrefix(e.Name(), name+".") }
		if !slices.ContainsFunc(ours, mine) {
			foreign = append(foreign, e.Name())
		}
	}
	if !f.has("db") {
		if len(foreign) > 0 {
			return f.strange("it has no database in it, but " + some(foreign))
		}
		return nil
	}
	// What every data folder of a server has.
	for _, name := range []string{"db/ibdata1", "db/mysql"} {
		if !f.has(name) {
			inside, _ := os.ReadDir(f.path("db")) // what can be read is named
			names := make([]string, len(inside))
			for i, e := range inside {
				names[i] = e.Name()
			}
			found := "is empty"
			if len(names) > 0 {
				found = "has " + some(names)
			}
			return f.strange(fmt.Sprintf("db %s, and no %s", found, filepath.Base(name)))
		}
	}
	return nil
}

func some(names []string) string {
	if len(names) > 4 {
		return strings.Join(names[:4], ", ") + fmt.Sprintf(" and %d more", len(names)-4)
	}
	return strings.Join(names, ", ")
}

func (f folder) strange(found string) error {
	return fmt.Errorf("%s is not a data folder that Cablaggio understands: %s. Nothing was touched. Put back what belongs there, move it away to begin with an empty one, or name another with --data", f.dir, found)
}

// secure lets nobody but the owner in, also into a folder that was made otherwise.
func (f *folder) secure() error {
	if err := os.Chmod(f.dir, 0o700); err != nil {
		return err
	}
	for _, name := range []string{"db", "files", "tmp"} {
		if name != "db" {
			if err := os.MkdirAll(f.path(name), 0o700); err != nil {
				return err
			}
		} else if !f.has(name) {
			continue
		}
		if err := os.Chmod(f.path(name), 0o700); err != nil {
			return err
		}
	}
	for _, name := range []string{"password", "root-password", "instance", "lock", "log", "init.sql"} {
		if err := os.Chmod(f.path(name), 0o600); err != nil && !errors.Is(err, os.ErrNotExist) {
			return err
		}
	}
	var err error
	f.instance, err = f.secret("instance")
	return err
}

// clearMaking makes room for a database that is to be made: what an interrupted
// start has left, and says that it was ours to make, goes. Anything else is moved
// aside.
func (f folder) clearMaking() error {
	at := f.path(making)
	mine := f.path(making + ".ours")
	if f.has(making) {
		if data, err := os.ReadFile(mine); err == nil && string(data) == f.instance {
			if err := os.RemoveAll(at); err != nil {
				return err
			}
		} else if err := os.Rename(at, at+time.Now().UTC().Format(".2006-01-02T150405.000")); err != nil {
			return err
		}
	}
	return write(mine, f.instance)
}

// mark lets a process be known as ours, and gives it a group of its own: Ctrl-C at the
// terminal is for us, who stop it in order. It ends when we do, however we end.
func (f folder) mark(cmd *exec.Cmd) {
	cmd.Env = append(os.Environ(), f.sign(), "TMPDIR="+f.path("tmp"))
	cmd.SysProcAttr = &syscall.SysProcAttr{Setpgid: true, Pdeathsig: syscall.SIGTERM}
}

func (f folder) sign() string { return "CABLAGGIO_INSTANCE=" + f.instance }

// endLeftovers ends the processes that an earlier run has left: those that carry the
// secret of this folder, and no others.
func (f folder) endLeftovers() error {
	for _, signal := range []syscall.Signal{syscall.SIGTERM, syscall.SIGKILL} {
		for deadline := time.Now().Add(orderly); time.Now().Before(deadline); time.Sleep(20 * time.Millisecond) {
			left := f.leftovers()
			if len(left) == 0 {
				return nil
			}
			for _, pid := range left {
				_ = syscall.Kill(pid, signal) // it may have ended by itself
			}
		}
	}
	return fmt.Errorf("a database that an earlier run has left on %s does not end; its process is %v", f.dir, f.leftovers())
}

func (f folder) leftovers() (pids []int) {
	files, _ := filepath.Glob("/proc/[0-9]*/environ")
	for _, file := range files {
		env, err := os.ReadFile(file)
		if err != nil || !slices.Contains(strings.Split(string(env), "\x00"), f.sign()) {
			continue
		}
		var pid int
		if _, err := fmt.Sscanf(file, "/proc/%d/environ", &pid); err == nil && pid != os.Getpid() {
			pids = append(pids, pid)
		}
	}
	return pids
}

// answers reports whether the server lets root in, over the socket and with the
// password of this folder: it is ours, and its accounts are as they should be.
func (s *Server) answers(ctx context.Context) bool {
	ctx, cancel := context.WithTimeout(ctx, time.Second)
	defer cancel()
	db, err := sql.Open("mysql", s.AdminDSN())
	if err != nil {
		return false
	}
	defer db.Close()
	return db.PingContext(ctx) == nil
}

// lastErrors returns the last lines of the server's log that are errors.
func (s *Server) lastErrors() string {
	data, err := os.ReadFile(s.path("log"))
	if err != nil {
		return err.Error()
	}
	var lines []string
	for line := range bytes.Lines(data[max(0, len(data)-8<<10):]) {
		if bytes.Contains(line, []byte("[ERROR]")) {
			lines = append(lines, "  "+strings.TrimSpace(string(line)))
		}
	}
	return strings.Join(lines[max(0, len(lines)-5):], "\n")
}

// secret returns the random word in a file that only its owner can read, making it
// when it is not there, or not one.
func (f folder) secret(name string) (string, error) {
	data, err := os.ReadFile(f.path(name))
	if err == nil && len(data) == secretLetters && !bytes.ContainsFunc(data, func(r rune) bool { return (r < 'A' || r > 'Z') && (r < '2' || r > '7') }) {
		return string(data), nil
	}
	if err != nil && !errors.Is(err, os.ErrNotExist) {
		return "", err
	}
	var b [20]byte
	if _, err := rand.Read(b[:]); err != nil {
		return "", err
	}
	word := base32.StdEncoding.EncodeToString(b[:])
	return word, write(f.path(name), word)
}

const secretLetters = 32

// write writes a file that only its owner can read, whole or not at all.
func write(file, text string) error {
	out, err := os.CreateTemp(filepath.Dir(file), filepath.Base(file)+".*")
	if err != nil {
		return err
	}
	_, err = out.WriteString(text)
	if err = errors.Join(err, out.Sync(), out.Close()); err != nil {
		return errors.Join(err, os.Remove(out.Name()))
	}
	return os.Rename(out.Name(), file)
}

// Running returns root's way into the server that runs on a folder, if one does.
func Running(dir string) (dsnOfRoot string, ok bool) {
	dir, err := filepath.Abs(dir)
	if err != nil {
		return "", false
	}
	f := folder{dir: dir}
	password, err := os.ReadFile(f.path("root-password"))
	if err != nil {
		return "", false
	}
	s := &Server{folder: f, root: string(password)}
	ctx, cancel := context.WithTimeout(context.Background(), 2*time.Second)
	defer cancel()
	return s.AdminDSN(), s.answers(ctx)
}
