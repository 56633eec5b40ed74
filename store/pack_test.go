package store_test

import (
	"bytes"
	"database/sql"
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
)

// A long history takes little room, and each of it can be read.
func TestRevisionsAreSmallAndAllAreThere(t *testing.T) {
	s, ctx := open(t), t.Context()
	whole, err := os.ReadFile(filepath.Join("..", "demo", "quiz-table.json"))
	require.NoError(t, err)
	write := func(n int) store.Draft {
		d := draft(fmt.Sprint(n), "called it something")
		d.Document = bytes.Replace(whole, []byte(`"title": "`), fmt.Appendf(nil, `"title": "%d `, n*n), 1)
		return d
	}
	b, err := s.Create(ctx, write(1))
	require.NoError(t, err)
	revisions := 200
	if os.Getenv("CABLAGGIO_WIDE") != "" {
		revisions = 20_000
	}
	for n := 2; n <= revisions; n++ {
		b, err = s.Save(ctx, b.ID, b.Tag, write(n))
		require.NoError(t, err)
	}
	assert.Equal(t, string(write(revisions).Document), string(b.Document))
	for _, n := range []int{1, 2, 64, 65, 66, 128, 129, revisions} {
		doc, err := s.Document(ctx, b.ID, n)
		require.NoError(t, err)
		assert.Equal(t, string(write(n).Document), string(doc), "revision %d", n)
	}
	admin, err := sql.Open("mysql", db.AdminDSN())
	require.NoError(t, err)
	defer admin.Close()
	var bytes float64
	require.NoError(t, admin.QueryRow("SELECT AVG(LENGTH(packed) + LENGTH(summary) + 200) FROM revisions WHERE build = ?", b.ID).Scan(&bytes))
	t.Logf("%.0f bytes a revision, of %d", bytes, len(whole))
	assert.Less(t, bytes, 1000.0)
}

// A revision that is older than packing is read as it is, also as a dictionary.
func TestPlainRevisionsAreRead(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	admin, err := sql.Open("mysql", db.AdminDSN())
	require.NoError(t, err)
	defer admin.Close()
	_, err = admin.Exec(`UPDATE revisions SET document = '{"title":"old"}', packed = NULL WHERE build = ?`, b.ID)
	require.NoError(t, err)
	b, err = s.Save(ctx, b.ID, b.Tag, draft("two", ""))
	require.NoError(t, err)
	assert.JSONEq(t, `{"title":"two"}`, string(b.Document))
	b, err = s.Undo(ctx, b.ID, b.Tag)
	require.NoError(t, err)
	assert.JSONEq(t, `{"title":"old"}`, string(b.Document))
}
