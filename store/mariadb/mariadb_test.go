package mariadb_test

import (
	"bufio"
	"context"
	"crypto/sha256"
	"database/sql"
	"fmt"
	"io/fs"
	"math/rand/v2"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store/mariadb"
)

const helper = "CABLAGGIO_TEST_START"

// The test program is also the program that is killed: it starts a server on the
// folder that its environment names, says so, and waits.
func TestMain(m *testing.M) {
	if dir := os.Getenv(helper); dir != "" {
		if _, err := mariadb.Start(context.Background(), dir, func(string) {}); err != nil {
			fmt.Println(err)
			os.Exit(1)
		}
		fmt.Println("up")
		select {}
	}
	os.Exit(m.Run())
}

func query(t *testing.T, dsn, q string) (string, error) {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	var out string
	err = db.QueryRow(q).Scan(&out)
	return out, err
}

func start(t *testing.T, dir string) *mariadb.Server {
	t.Helper()
	s, err := mariadb.Start(t.Context(), dir, func(string) {})
	require.NoError(t, err)
	return s
}

func end(t *testing.T, s *mariadb.Server) {
	t.Helper()
	require.NoError(t, s.Stop())
	require.NoError(t, s.Release())
}

// keep leaves a row that has to be there afterwards.
func keep(t *testing.T, s *mariadb.Server) {
	t.Helper()
	_, err := query(t, s.AdminDSN(), "CREATE TABLE kept AS SELECT 'here' AS a")
	require.ErrorIs(t, err, sql.ErrNoRows)
}

func assertKept(t *testing.T, s *mariadb.Server) {
	t.Helper()
	kept, err := query(t, s.DSN(), "SELECT a FROM kept")
	require.NoError(t, err)
	assert.Equal(t, "here", kept)
}

// assertClosed tries every account that the server has on every way in, without a
// password and with a wrong one.
func assertClosed(t *testing.T, s *mariadb.Server, dir string) {
	t.Helper()
	admin, err := sql.Open("mysql", s.AdminDSN())
	require.NoError(t, err)
	defer admin.Close()
	rows, err := admin.Query("SELECT User, Host FROM mysql.user")
	require.NoError(t, err)
	defer rows.Close()
	ours, err := mysql.ParseDSN(s.DSN())
	require.NoError(t, err)
	names := map[string]bool{"root": true, "": true, "mysql": true}
	var accounts []string
	for rows.Next() {
		var user, host string
		require.NoError(t, rows.Scan(&user, &host))
		accounts, names[user] = append(accounts, user+"@"+host), true
	}
	assert.ElementsMatch(t, []string{"root@localhost", "cablaggio@127.0.0.1", "mariadb.sys@localhost"}, accounts)
	_, port, _ := net.SplitHostPort(ours.Addr)
	for name := range names {
		for _, password := range []string{"", "wrong"} {
			for _, way := range [][2]string{{"unix", filepath.Join(dir, "s.sock")}, {"tcp", "127.0.0.1:" + port}, {"tcp", "[::1]:" + port}} {
				cfg := mysql.NewConfig()
				cfg.User, cfg.Passwd, cfg.Net, cfg.Addr = name, password, way[0], way[1]
				_, err := query(t, cfg.FormatDSN(), "SELECT 1")
				assert.Error(t, err, "%q %q %v", name, password, way)
			}
		}
	}
	// Root's own password does not let in over the network.
	root, err := mysql.ParseDSN(s.AdminDSN())
	require.NoError(t, err)
	root.Net, root.Addr = "tcp", "127.0.0.1:"+port
	_, err = query(t, root.FormatDSN(), "SELECT 1")
	assert.Error(t, err)
	for file, mode := range map[string]fs.FileMode{"": 0o700, "db": 0o700, "password": 0o600, "root-password": 0o600, "instance": 0o600, "log": 0o600} {
		info, err := os.Stat(filepath.Join(dir, file))
		require.NoError(t, err)
		assert.Equal(t, mode, info.Mode().Perm(), file)
	}
	assert.NoFileExists(t, filepath.Join(dir, "init.sql"), "it has the passwords in it")
}

func TestAServerOfOurOwn(t *testing.T) {
	dir := t.TempDir()
	var said []string
	s, err := mariadb.Start(t.Context(), dir, func(words string) { said = append(said, words) })
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Stop()) })
	assert.Contains(t, strings.Join(said, "; "), "making a database")

	// Loopback only, and no way in without a password.
	address, err := query(t, s.DSN(), "SELECT @@bind_address")
	require.NoError(t, err)
	assert.Equal(t, "127.0.0.1", address)
	assertClosed(t, s, dir)

	// The account that serves builds may read and write rows, and no more.
	for _, q := range []string{"CREATE TABLE cablaggio.t (a INT)", "DROP DATABASE cablaggio", "SELECT password FROM mysql.global_priv", "SHUTDOWN", "SELECT LOAD_FILE('/etc/passwd')"} {
		out, err := query(t, s.DSN(), q)
		if strings.Contains(q, "LOAD_FILE") { // NULL, which no string takes, or refused
			assert.Error(t, err, "%q", out)
			continue
		}
		assert.Error(t, err, q)
		assert.NotErrorIs(t, err, sql.ErrNoRows, q)
	}
	// Nor does root read files from anywhere, or write them.
	_, err = query(t, s.AdminDSN(), "SELECT 'x' INTO OUTFILE '"+filepath.Join(t.TempDir(), "out")+"'")
	assert.ErrorContains(t, err, "secure-file-priv")

	// What is kept is there after a kill, on the same port.
	keep(t, s)
	require.NoError(t, s.Kill())
	_, err = query(t, s.DSN(), "SELECT 1")
	assert.Error(t, err)
	dsn := s.DSN()
	require.NoError(t, s.Restart(t.Context()))
	assert.Equal(t, dsn, s.DSN())
	assertKept(t, s)

	// A second program on the folder is told.
	_, err = mariadb.Start(t.Context(), dir, func(string) {})
	require.ErrorIs(t, err, mariadb.ErrBusy)
	assertKept(t, s)
}

// A folder of before: root without a password at every address, an account that
// somebody made, and everybody may read it.
func TestAnOldFolderIsPutRight(t *testing.T) {
	dir := t.TempDir()
	s := start(t, dir)
	keep(t, s)
	for _, q := range []string{"CREATE USER root@'127.0.0.1'", "GRANT ALL ON *.* TO root@'127.0.0.1' WITH GRANT OPTION", "CREATE USER ''@localhost",
		"CREATE USER friend@'%' IDENTIFIED BY 'x'", "GRANT ALL ON cablaggio.* TO friend@'%'"} {
		_, err := query(t, s.AdminDSN(), q)
		require.ErrorIs(t, err, sql.ErrNoRows, q)
	}
	end(t, s)
	for _, file := range []string{"", "db", "password", "root-password"} {
		require.NoError(t, os.Chmod(filepath.Join(dir, file), 0o755))
	}
	s = start(t, dir)
	defer end(t, s)
	assertClosed(t, s, dir)
	assertKept(t, s)
}

// A port that somebody else has taken in the meantime is changed, and who asks
// through Dial finds it.
func TestATakenPortIsChanged(t *testing.T) {
	s := start(t, t.TempDir())
	defer end(t, s)
	before := s.DSN()
	require.NoError(t, s.Kill())
	cfg, err := mysql.ParseDSN(before)
	require.NoError(t, err)
	l, err := net.Listen("tcp", cfg.Addr)
	require.NoError(t, err)
	defer l.Close()
	require.NoError(t, s.Restart(t.Context()))
	assert.NotEqual(t, before, s.DSN())
	cfg.DialFunc = s.Dial
	connector, err := mysql.NewConnector(cfg)
	require.NoError(t, err)
	db := sql.OpenDB(connector)
	defer db.Close()
	assert.NoError(t, db.Ping())
}

// picture is all that a folder holds, as one text.
func picture(t *testing.T, dir string) string {
	t.Helper()
	var out strings.Builder
	require.NoError(t, filepath.WalkDir(dir, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		info, err := d.Info()
		if err != nil {
			return err
		}
		fmt.Fprint(&out, path, info.Mode(), info.Size())
		if info.Mode().IsRegular() {
			data, err := os.ReadFile(path)
			if err != nil {
				return err
			}
			fmt.Fprintf(&out, "%x", sha256.Sum256(data))
		}
		return nil
	}))
	return out.String()
}

func TestWhatIsNotUnderstoodIsNotTouched(t *testing.T) {
	for name, files := range map[string][]string{
		"somebody's letters":      {"letter.txt", "pictures/cat"},
		"half a database":         {"db/mysql/half.frm"},
		"a database without core": {"db/ibdata1", "ready"},
		"an empty database":       {"db/"},
	} {
		dir := t.TempDir()
		for _, file := range files {
			at := filepath.Join(dir, file)
			require.NoError(t, os.MkdirAll(filepath.Dir(at), 0o755))
			if strings.HasSuffix(file, "/") {
				require.NoError(t, os.MkdirAll(at, 0o755))
				continue
			}
			require.NoError(t, os.WriteFile(at, []byte("x"), 0o644))
		}
		before := picture(t, dir)
		_, err := mariadb.Start(t.Context(), dir, func(string) {})
		assert.ErrorContains(t, err, "not a data folder that Cablaggio understands", name)
		assert.Equal(t, before, picture(t, dir), name)
	}
}

// A database that comes back from a copy without the small files beside it is there.
func TestARestoredFolderIsNotEmptied(t *testing.T) {
	dir := t.TempDir()
	s := start(t, dir)
	keep(t, s)
	end(t, s)
	for _, file := range []string{"password", "root-password", "instance", "pid", "log", "lock", "files"} {
		require.NoError(t, os.RemoveAll(filepath.Join(dir, file)))
	}
	s = start(t, dir)
	defer end(t, s)
	assertKept(t, s)
	assertClosed(t, s, dir)
}

// Passwords that were cut off while they were written are made anew.
func TestHalfAPassword(t *testing.T) {
	dir := t.TempDir()
	s := start(t, dir)
	keep(t, s)
	end(t, s)
	for _, file := range []string{"password", "root-password"} {
		require.NoError(t, os.Truncate(filepath.Join(dir, file), 3))
	}
	s = start(t, dir)
	defer end(t, s)
	assertKept(t, s)
}

// However a program is killed while it starts, also while it makes the database, the
// next one serves.
func TestKilledAtAnyMoment(t *testing.T) {
	kills := 5
	if os.Getenv("CABLAGGIO_WIDE") != "" {
		kills = 500
	}
	began, dir := false, ""
	for n := range kills {
		if n%4 == 0 { // a first start again
			dir, began = t.TempDir(), false
		}
		cmd := exec.Command(os.Args[0])
		cmd.Env = append(os.Environ(), helper+"="+dir)
		out, err := cmd.StdoutPipe()
		require.NoError(t, err)
		require.NoError(t, cmd.Start())
		up := make(chan string, 1)
		go func() {
			line, _ := bufio.NewReader(out).ReadString('\n')
			up <- strings.TrimSpace(line)
		}()
		select {
		case said := <-up:
			assert.Equal(t, "up", said)
		case <-time.After(time.Duration(rand.IntN(1500)) * time.Millisecond):
		}
		require.NoError(t, cmd.Process.Signal(syscall.SIGKILL))
		_ = cmd.Wait() // it was killed

		s := start(t, dir)
		if !began {
			keep(t, s)
			began = true
		}
		assertKept(t, s)
		end(t, s)
	}
}

func TestWhatCannotBe(t *testing.T) {
	_, err := mariadb.Start(t.Context(), filepath.Join(t.TempDir(), strings.Repeat("long", 30)), func(string) {})
	assert.ErrorContains(t, err, "too long for a socket")
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	_, err = mariadb.Start(t.Context(), file, func(string) {})
	assert.Error(t, err)
}
