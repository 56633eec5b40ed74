package server_test

import (
	"archive/zip"
	"bytes"
	"compress/flate"
	"image"
	"image/png"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/drawer"
	"cablaggio/server"
)

// A build goes out in one file with its log and pictures, and comes in whole.
func TestABuildGoesElsewhereWhole(t *testing.T) {
	v := edit(t, begin(t), led).view(t)
	path := "/api/builds/" + v.ID
	fill := func(items ...drawer.Item) {
		d := read[server.DrawerView](t, call(t, http.MethodGet, "/api/drawer", nil))
		read[server.DrawerView](t, call(t, http.MethodPut, "/api/drawer", server.DrawerView{Items: items}, "If-Match", d.Tag))
	}
	lamp := drawer.Item{Kind: "led", Type: v.Document.Parts[0].Type, Name: "from the blue box", Pieces: 7, Values: map[string]float64{}}
	fill(lamp, drawer.Item{Kind: "buzzer", Pieces: 1, Values: map[string]float64{}})
	call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "note", Text: "first"})
	var shot bytes.Buffer
	require.NoError(t, png.Encode(&shot, image.NewGray(image.Rect(0, 0, 30, 20))))
	pic := read[server.LogEntry](t, call(t, http.MethodPost, path+"/log/pictures", shot.String(), "Content-Type", "image/png"))
	onIt := read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "note", Text: "the red one", About: pic.ID}))
	assert.Equal(t, pic.ID, onIt.About)
	file := call(t, http.MethodGet, path+"/archive", nil)
	require.Equal(t, "application/zip", file.Header.Get("Content-Type"), "%s", file.body)
	fill(drawer.Item{Kind: "button", Pieces: 2, Values: map[string]float64{}})
	send := func(data string) reply {
		return call(t, http.MethodPost, "/api/archives", data, "Content-Type", "application/zip", "Idempotency-Key", "a-1")
	}
	in := send(string(file.body)).view(t)
	assert.NotEqual(t, v.ID, in.ID)
	assert.Equal(t, v.Document, in.Document)
	assert.Equal(t, in.ID, send(string(file.body)).view(t).ID, "a repeated request makes one")
	log := read[server.LogPage](t, call(t, http.MethodGet, "/api/builds/"+in.ID+"/log", nil))
	require.Len(t, log.Entries, 4)
	assert.Equal(t, "change", log.Entries[3].Kind)
	assert.Equal(t, "first", log.Entries[2].Text)
	require.NotNil(t, log.Entries[1].Picture)
	assert.Equal(t, log.Entries[1].ID, log.Entries[0].About, "a note is on the line that it was on")
	assert.NotEqual(t, pic.ID, log.Entries[0].About)
	have := read[server.DrawerView](t, call(t, http.MethodGet, "/api/drawer", nil)).Items
	require.Len(t, have, 2, "what the build takes of the drawer comes with it, once, and nothing else")
	assert.True(t, lamp.Same(have[1]), "%+v", have[1])
}

// Every format that ever was is still read: one file of each is kept. A format to come is
// refused with what is read.
func TestEveryFormatThatEverWas(t *testing.T) {
	files, err := filepath.Glob("testdata/formats/*")
	require.NoError(t, err)
	require.Len(t, files, 3)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		var b server.BuildView
		if strings.HasSuffix(file, ".zip") {
			b = call(t, http.MethodPost, "/api/archives", string(data), "Content-Type", "application/zip").view(t)
		} else {
			b = call(t, http.MethodPost, "/api/builds", `{"document":`+string(data)+`}`).view(t)
		}
		assert.Equal(t, "kept", b.Document.Title, file)
		require.NotEmpty(t, b.Document.Parts, file)
		assert.Equal(t, "led", b.Document.Parts[0].Kind, file)
	}
	var later bytes.Buffer
	z := zip.NewWriter(&later)
	w, err := z.Create("archive.json")
	require.NoError(t, err)
	_, err = io.WriteString(w, `{"format":"cablaggio.archive/2","by":"Cablaggio 2.0"}`)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	p := call(t, http.MethodPost, "/api/archives", later.String(), "Content-Type", "application/zip").problem(t)
	assert.Contains(t, p.Detail, `written by "Cablaggio 2.0"`)
	assert.Contains(t, p.Detail, `it reads "cablaggio.archive/1"`)
	assert.Contains(t, call(t, http.MethodPost, "/api/builds", `{"document":{"format":"cablaggio.build/2","title":"t","board":"classic-5v"}}`).problem(t).Detail, "cablaggio.build/1")
}

// bomb is an archive of a picture that says how large it is, and holds a million letters.
func bomb(t *testing.T, says uint64) string {
	t.Helper()
	var packed bytes.Buffer
	w, err := flate.NewWriter(&packed, flate.BestCompression)
	require.NoError(t, err)
	_, err = io.WriteString(w, strings.Repeat("0", 1_000_000))
	require.NoError(t, err)
	require.NoError(t, w.Close())
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	raw, err := z.CreateRaw(&zip.FileHeader{Name: "pictures/1.jpg", Method: zip.Deflate, CompressedSize64: uint64(packed.Len()), UncompressedSize64: says})
	require.NoError(t, err)
	_, err = raw.Write(packed.Bytes())
	require.NoError(t, err)
	require.NoError(t, z.Close())
	return out.String()
}

func TestWhatIsNoArchive(t *testing.T) {
	pack := func(files ...string) string {
		var out bytes.Buffer
		z := zip.NewWriter(&out)
		for i := 0; i < len(files); i += 2 {
			w, err := z.Create(files[i])
			require.NoError(t, err)
			_, err = io.WriteString(w, files[i+1])
			require.NoError(t, err)
		}
		require.NoError(t, z.Close())
		return out.String()
	}
	good := `{"format":"cablaggio.build/1","title":"t","board":"classic-5v","parts":[],"nets":[]}`
	for name, c := range map[string][2]string{
		"no ZIP":             {"hello", "not a ZIP file"},
		"paths that climb":   {pack("../../etc/cron.d/x", "x", "build.json", good), "does not belong there"},
		"no build":           {pack("log.json", "{}"), "no build.json"},
		"a bomb":             {bomb(t, 97<<20), "unpacks to more than 96 MB"},
		"a bomb that lies":   {bomb(t, 10), "pictures/1.jpg"},
		"a log that is none": {pack("build.json", good, "log.json", `{"format":"x"}`), "log.json"},
		"a lost picture":     {pack("build.json", good, "log.json", `{"format":"cablaggio.log/1","entries":[{"id":7,"kind":"picture"}]}`), "pictures/7.jpg"},
		"another kind":       {pack("build.json", good, "log.json", `{"format":"cablaggio.log/1","entries":[{"kind":"virus","text":"x"}]}`), "not a kind of entry"},
	} {
		p := call(t, http.MethodPost, "/api/archives", c[0], "Content-Type", "application/zip").problem(t)
		assert.Equal(t, http.StatusUnprocessableEntity, p.Status, name)
		assert.Contains(t, p.Detail, c[1], name)
	}
}
