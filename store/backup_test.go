package store_test

import (
	"archive/zip"
	"bytes"
	"encoding/json"
	"io"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
)

func quiet(string) {}

// content is what a backup holds, file by file, without when it was made.
func content(t *testing.T, data []byte) map[string]string {
	t.Helper()
	z, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	require.NoError(t, err)
	out := map[string]string{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		text, err := io.ReadAll(r)
		require.NoError(t, err)
		if f.Name == "manifest.json" {
			var m store.Manifest
			require.NoError(t, json.Unmarshal(text, &m))
			text, err = json.Marshal(m.Rows)
			require.NoError(t, err)
		}
		out[f.Name] = string(text)
	}
	return out
}

// What a backup holds is all there when it is taken in elsewhere: the backup of that is
// the same, file by file.
func TestABackupIsAllThereIs(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	for range 3 {
		var err error
		b, err = s.Save(ctx, b.ID, b.Tag, draft("more 😀 \x01", "called it"))
		require.NoError(t, err)
	}
	_, err := s.Log(ctx, b.ID, "k-backup", store.Entry{Kind: "note", Text: "a note", Data: []byte(`{}`)})
	require.NoError(t, err)
	_, err = s.KeepBoard(ctx, "backed-up", 0, []byte(`{"x":1}`))
	require.NoError(t, err)
	defer func() { assert.NoError(t, s.DropBoard(ctx, "backed-up")) }()
	var first bytes.Buffer
	m, err := store.Backup(ctx, db.AdminDSN(), &first, quiet)
	require.NoError(t, err)
	assert.Positive(t, m.Rows["revisions"])

	dsn := fresh(t, "restored")
	require.NoError(t, store.Migrate(ctx, dsn))
	restore := func(data []byte) error {
		_, err := store.Restore(ctx, dsn, bytes.NewReader(data), int64(len(data)), quiet)
		return err
	}
	require.NoError(t, restore(first.Bytes()))
	var second bytes.Buffer
	_, err = store.Backup(ctx, dsn, &second, quiet)
	require.NoError(t, err)
	assert.Equal(t, content(t, first.Bytes()), content(t, second.Bytes()))
	other, err := store.Open(dsn, nil)
	require.NoError(t, err)
	defer other.Close()
	got, err := other.Get(ctx, b.ID)
	require.NoError(t, err)
	assert.Equal(t, b.Document, got.Document)
	assert.ErrorIs(t, restore(first.Bytes()), store.ErrNotEmpty, "nothing is written over")
}

func TestWhatIsNoBackup(t *testing.T) {
	dsn := fresh(t, "unrestored")
	require.NoError(t, store.Migrate(t.Context(), dsn))
	pack := func(files map[string]string) []byte {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for name, text := range files {
			w, err := z.Create(name)
			require.NoError(t, err)
			_, err = io.WriteString(w, text)
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return out.Bytes()
	}
	good := `{"format":"cablaggio.backup/1","version":1,"rows":{"builds":1}}`
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"no archive":     {[]byte("PK nonsense"), "not a backup"},
		"no manifest":    {pack(map[string]string{"x": "y"}), "no manifest.json"},
		"another format": {pack(map[string]string{"manifest.json": `{"format":"x"}`}), "reads \"cablaggio.backup/1\""},
		"newer":          {pack(map[string]string{"manifest.json": `{"format":"cablaggio.backup/1","version":999}`}), "version 999"},
		"cut off":        {pack(map[string]string{"manifest.json": good}), "no builds.jsonl"},
		"too few rows":   {pack(map[string]string{"manifest.json": good, "builds.jsonl": ""}), "not whole"},
		"not JSON":       {pack(map[string]string{"manifest.json": good, "builds.jsonl": "{\n"}), "line 1"},
		"other columns":  {pack(map[string]string{"manifest.json": good, "builds.jsonl": `{"id); DROP TABLE builds; --":"x"}`}), "no column"},
	} {
		_, err := store.Restore(t.Context(), dsn, bytes.NewReader(c.data), int64(len(c.data)), quiet)
		assert.ErrorContains(t, err, c.says, name)
	}
	var out bytes.Buffer
	m, err := store.Backup(t.Context(), dsn, &out, quiet)
	require.NoError(t, err)
	assert.Zero(t, m.Rows["builds"], "nothing was taken in")
}
