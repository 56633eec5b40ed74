package server_test

import (
	"bytes"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/faults/meter"
	"cablaggio/core/planning/plan"
	"cablaggio/server"
)

// A reading is judged by what was to be expected when it was taken, kept once, and stays
// whatever becomes of the plan.
func TestReadingsAndNotes(t *testing.T) {
	v := edit(t, begin(t), led).view(t)
	path := "/api/builds/" + v.ID
	list := read[meter.List](t, call(t, http.MethodGet, path+"/checks", nil))
	require.NotEmpty(t, list.Checks)
	check := list.Checks[0]
	keep := func(e server.NewEntry, key string) reply {
		return call(t, http.MethodPost, path+"/log", e, "Idempotency-Key", key)
	}
	first := read[server.LogEntry](t, keep(server.NewEntry{Kind: "reading", Check: check.ID, Reading: "OL"}, "r1"))
	require.NotNil(t, first.Reading)
	assert.Equal(t, meter.NotSo, first.Reading.Verdict.Means)
	assert.Equal(t, check.Expect, first.Reading.Expect)
	again := read[server.LogEntry](t, keep(server.NewEntry{Kind: "reading", Check: check.ID, Reading: "OL"}, "r1"))
	assert.Equal(t, first.ID, again.ID)
	read[server.LogEntry](t, keep(server.NewEntry{Kind: "note", Text: " it glows \n", Part: "led1"}, "n1"))
	v = edit(t, v, plan.Remove{Part: "led1"}).view(t)
	call(t, http.MethodPost, path+"/undo", nil, "If-Match", v.Tag).view(t)

	page := func(query string) server.LogPage {
		return read[server.LogPage](t, call(t, http.MethodGet, path+"/log"+query, nil))
	}
	all := page("")
	require.Len(t, all.Entries, 5)
	assert.Equal(t, "taken back: removed red LED 1", all.Entries[0].Text)
	assert.Equal(t, "it glows", all.Entries[2].Text)
	assert.Len(t, page("?kind=reading").Entries, 1)
	assert.Len(t, page("?part=led1&search=GLOWS").Entries, 1)
	at := func(id int64) string { return fmt.Sprintf("%s/log/%d", path, id) }
	assert.Equal(t, http.StatusNoContent, call(t, http.MethodDelete, at(first.ID), nil).StatusCode)
	assert.Empty(t, page("?kind=reading").Entries)
	assert.Equal(t, http.StatusNoContent, call(t, http.MethodPost, at(first.ID)+"/restore", nil).StatusCode)
	assert.Len(t, page("?kind=reading").Entries, 1)

	var shot bytes.Buffer
	require.NoError(t, png.Encode(&shot, image.NewGray(image.Rect(0, 0, 600, 20))))
	pic := read[server.LogEntry](t, call(t, http.MethodPost, path+"/log/pictures?text=the+bench&part=led1", shot.String(), "Content-Type", "image/png"))
	require.NotNil(t, pic.Picture)
	assert.Equal(t, server.PictureEntry{Width: 600, Height: 20}, *pic.Picture)
	for size, width := range map[string]int{"": 600, "?small=true": 480} {
		r := call(t, http.MethodGet, at(pic.ID)+"/picture"+size, nil)
		assert.Equal(t, "image/jpeg", r.Header.Get("Content-Type"))
		c, err := jpeg.DecodeConfig(bytes.NewReader(r.body))
		require.NoError(t, err)
		assert.Equal(t, width, c.Width)
	}
	assert.Contains(t, call(t, http.MethodPost, path+"/log/pictures", "<script>", "Content-Type", "image/png").problem(t).Title, "not a picture")
	assert.Equal(t, http.StatusNotFound, call(t, http.MethodGet, at(first.ID)+"/picture", nil).problem(t).Status)

	printed := call(t, http.MethodGet, path+"/log/file/log.pdf", nil)
	assert.Equal(t, "application/pdf", printed.Header.Get("Content-Type"))
	assert.True(t, bytes.HasPrefix(printed.body, []byte("%PDF-")), "%.80s", printed.body)
	assert.Equal(t, http.StatusNotFound, call(t, http.MethodGet, path+"/log/file/log.doc", nil).StatusCode)
	table := call(t, http.MethodGet, path+"/log/file/readings.csv", nil)
	assert.Contains(t, string(table.body), ",OL,")
	assert.Equal(t, 2, strings.Count(string(table.body), "\n"))
	file := read[server.LogFile](t, call(t, http.MethodGet, path+"/log/file/log.json", nil))
	assert.Len(t, file.Entries, 6)
	assert.Equal(t, first.ID, file.Entries[1].ID)
	assert.Equal(t, http.StatusNotFound, call(t, http.MethodGet, path+"/log/file/log.exe", nil).problem(t).Status)

	for name, c := range map[string]struct {
		e      server.NewEntry
		status int
		says   string
	}{
		"wrong unit":    {server.NewEntry{Kind: "reading", Check: check.ID, Reading: "2 s"}, 422, "not a reading"},
		"nothing":       {server.NewEntry{Kind: "reading", Check: check.ID}, 422, "There is no reading"},
		"no such check": {server.NewEntry{Kind: "reading", Check: "volts:moon", Reading: "1"}, 409, "not among"},
		"empty note":    {server.NewEntry{Kind: "note", Text: "  "}, 422, "nothing in the note"},
		"long note":     {server.NewEntry{Kind: "note", Text: strings.Repeat("x", 10_001)}, 422, "10001 letters"},
		"no such line":  {server.NewEntry{Kind: "note", Text: "x", About: 1 << 40}, 422, "no such line"},
		"before any":    {server.NewEntry{Kind: "note", Text: "x", About: -1}, 422, "no such line"},
		"another kind":  {server.NewEntry{Kind: "picture"}, 422, "no such entry"},
	} {
		p := keep(c.e, "x-"+strings.ReplaceAll(name, " ", "-")).problem(t)
		assert.Equal(t, c.status, p.Status, name)
		assert.Contains(t, p.Title, c.says, name)
	}
}
