package store_test

import (
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/go-sql-driver/mysql"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
)

// fresh makes an empty database, and returns root's way into it.
func fresh(t *testing.T, name string) string {
	t.Helper()
	admin, err := sql.Open("mysql", db.AdminDSN())
	require.NoError(t, err)
	defer admin.Close()
	_, err = admin.Exec("CREATE DATABASE " + name + " CHARACTER SET utf8mb4")
	require.NoError(t, err)
	cfg, err := mysql.ParseDSN(db.AdminDSN())
	require.NoError(t, err)
	cfg.DBName = name
	return cfg.FormatDSN()
}

// statements are what the migrations do on the way up, file by file.
func statements(t *testing.T) (out [][]string) {
	t.Helper()
	files, err := filepath.Glob("migrations/*.sql")
	require.NoError(t, err)
	slices.Sort(files)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		up, _, _ := strings.Cut(string(data), "-- +goose Down")
		_, up, _ = strings.Cut(up, "-- +goose Up")
		var list []string
		for s := range strings.SplitSeq(up, ";\n") {
			if s = strings.TrimSpace(s); s != "" {
				list = append(list, s)
			}
		}
		out = append(out, list)
	}
	return out
}

func version(t *testing.T, dsn string) (v int) {
	t.Helper()
	d, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer d.Close()
	require.NoError(t, d.QueryRow("SELECT MAX(version_id) FROM goose_db_version").Scan(&v))
	return v
}

// Ended between any two statements of any migration, also in the table of versions
// itself, the tables come up to date the next time.
func TestMigrationsGoOnFromWhereTheyWereEnded(t *testing.T) {
	all := statements(t)
	for k, list := range all {
		for done := 1; done <= len(list); done++ {
			dsn := fresh(t, fmt.Sprintf("midway_%d_%d", k, done))
			d, err := sql.Open("mysql", dsn)
			require.NoError(t, err)
			_, err = d.Exec("CREATE TABLE goose_db_version (id SERIAL PRIMARY KEY, version_id BIGINT NOT NULL, is_applied BOOLEAN NOT NULL, tstamp TIMESTAMP NULL DEFAULT NOW())")
			require.NoError(t, err)
			for v := 0; v <= k && k > 0; v++ {
				_, err = d.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (?, 1)", v)
				require.NoError(t, err)
			}
			for _, before := range all[:k] {
				for _, q := range before {
					_, err := d.Exec(q)
					require.NoError(t, err, q)
				}
			}
			for _, q := range list[:done] {
				_, err := d.Exec(q)
				require.NoError(t, err, q)
			}
			require.NoError(t, d.Close())
			require.NoError(t, store.Migrate(t.Context(), dsn), "file %d after statement %d", k+1, done)
			assert.Equal(t, len(all), version(t, dsn))
		}
	}
}

// Six programs that start at once all find the tables made.
func TestSixAtOnce(t *testing.T) {
	dsn := fresh(t, "six")
	var wg sync.WaitGroup
	for range 6 {
		wg.Go(func() { assert.NoError(t, store.Migrate(t.Context(), dsn)) })
	}
	wg.Wait()
	assert.Equal(t, len(statements(t)), version(t, dsn))
}

func TestTablesOfANewerProgramAreLeft(t *testing.T) {
	dsn := fresh(t, "newer")
	require.NoError(t, store.Migrate(t.Context(), dsn))
	d, err := sql.Open("mysql", dsn)
	require.NoError(t, err)
	defer d.Close()
	_, err = d.Exec("INSERT INTO goose_db_version (version_id, is_applied) VALUES (99, 1)")
	require.NoError(t, err)
	err = store.Migrate(t.Context(), dsn)
	require.ErrorIs(t, err, store.ErrNewer)
	assert.ErrorContains(t, err, "version 99")
	assert.ErrorContains(t, err, fmt.Sprint("knows up to ", len(statements(t))))
}
