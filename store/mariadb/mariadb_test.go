package mariadb_test

import (
	"database/sql"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	_ "github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store/mariadb"
)

func query(t *testing.T, dsn, q string) (string, error) {
	t.Helper()
	db, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer db.Close()
	var out string
	err = db.QueryRow(q).Scan(&out)
	return out, err
}

func TestAServerOfOurOwn(t *testing.T) {
	dir := t.TempDir()
	var said []string
	tell := func(words string) { said = append(said, words) }
	s, err := mariadb.Start(t.Context(), dir, tell)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Stop()) })
	assert.Contains(t, strings.Join(said, "; "), "making a database")

	// Loopback only, and no way in without a password.
	address, err := query(t, s.DSN(), "SELECT @@bind_address")
	require.NoError(t, err)
	assert.Equal(t, "127.0.0.1", address)
	for _, file := range []string{"password", "root-password"} {
		info, err := os.Stat(filepath.Join(dir, file))
		require.NoError(t, err)
		assert.Equal(t, os.FileMode(0o600), info.Mode().Perm(), file)
	}
	_, after, _ := strings.Cut(s.AdminDSN(), "@")
	_, err = query(t, "root@"+after, "SELECT 1")
	assert.Error(t, err, "root has a password")

	// The account that serves builds may read and write rows, and no more.
	for _, q := range []string{"CREATE TABLE cablaggio.t (a INT)", "DROP DATABASE cablaggio", "SELECT password FROM mysql.global_priv", "SHUTDOWN"} {
		_, err := query(t, s.DSN(), q)
		assert.Error(t, err, q)
		assert.NotErrorIs(t, err, sql.ErrNoRows, q)
	}

	// What is kept is there after a stop, on the same port after a kill.
	_, err = query(t, s.AdminDSN(), "CREATE TABLE kept AS SELECT 'here' AS a")
	require.ErrorIs(t, err, sql.ErrNoRows)
	require.NoError(t, s.Kill())
	_, err = query(t, s.DSN(), "SELECT 1")
	assert.Error(t, err)
	dsn := s.DSN()
	require.NoError(t, s.Restart(t.Context()))
	assert.Equal(t, dsn, s.DSN())
	kept, err := query(t, s.DSN(), "SELECT a FROM kept")
	require.NoError(t, err)
	assert.Equal(t, "here", kept)

	// A second start finds the first one's server still running, and takes over.
	began := time.Now()
	again, err := mariadb.Start(t.Context(), dir, tell)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, again.Stop()) })
	assert.Less(t, time.Since(began), 5*time.Second)
	kept, err = query(t, again.DSN(), "SELECT a FROM kept")
	require.NoError(t, err)
	assert.Equal(t, "here", kept)
}

func TestAnInterruptedInstallationIsDoneAgain(t *testing.T) {
	dir := t.TempDir()
	require.NoError(t, os.MkdirAll(filepath.Join(dir, "db", "mysql"), 0o700))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "db", "mysql", "half.frm"), []byte("x"), 0o600))
	s, err := mariadb.Start(t.Context(), dir, func(string) {})
	require.NoError(t, err)
	_, err = query(t, s.DSN(), "SELECT 1")
	assert.NoError(t, err)
	assert.NoError(t, s.Stop())
}

func TestWhatCannotBe(t *testing.T) {
	_, err := mariadb.Start(t.Context(), filepath.Join(t.TempDir(), strings.Repeat("long", 30)), func(string) {})
	assert.ErrorContains(t, err, "too long for a socket")
	file := filepath.Join(t.TempDir(), "file")
	require.NoError(t, os.WriteFile(file, nil, 0o600))
	_, err = mariadb.Start(t.Context(), file, func(string) {})
	assert.Error(t, err)
}
