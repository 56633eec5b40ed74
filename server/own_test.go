package server_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/drawer"
	"cablaggio/core/planning/plan"
	"cablaggio/server"
)

func read[T any](t *testing.T, r reply) (v T) {
	t.Helper()
	require.Less(t, r.StatusCode, 300, "%s", r.body)
	require.NoError(t, json.Unmarshal(r.body, &v))
	return v
}

// fill puts things into the drawer, as it is now.
func fill(t *testing.T, v server.DrawerView) {
	t.Helper()
	now := read[server.DrawerView](t, call(t, http.MethodGet, "/api/drawer", nil))
	v.Tag = ""
	read[server.DrawerView](t, call(t, http.MethodPut, "/api/drawer", v, "If-Match", now.Tag))
}

// A board of one's own: taken in, built on, compared with, not forgotten under a
// build, and given out as it came.
func TestABoardOfOnesOwn(t *testing.T) {
	lib := read[server.Library](t, call(t, http.MethodGet, "/api/library", nil))
	own := *lib.Boards[0]
	assert.Equal(t, http.StatusConflict, call(t, http.MethodPost, "/api/boards", own).StatusCode, "shipped boards stay")
	own.ID, own.Name = "market", "Market board"
	kept := read[board.Profile](t, call(t, http.MethodPost, "/api/boards", own))
	assert.Equal(t, own, kept)
	lib = read[server.Library](t, call(t, http.MethodGet, "/api/library", nil))
	assert.Equal(t, []server.OwnBoard{{ID: "market", Tag: "1"}}, lib.Own)
	v := call(t, http.MethodPost, "/api/builds", server.NewBuild{Title: "on it", Board: "market"}).view(t)
	v = edit(t, v, plan.Add{Kind: "led"}).view(t)
	assert.Len(t, v.Document.Parts, 2)
	assert.Equal(t, http.StatusConflict, call(t, http.MethodDelete, "/api/boards/market", nil).StatusCode)
	assert.Equal(t, http.StatusConflict, call(t, http.MethodDelete, "/api/boards/classic-5v", nil).StatusCode)
	file := call(t, http.MethodGet, "/api/boards/market/file", nil)
	back, err := board.Parse(strings.NewReader(string(file.body)))
	require.NoError(t, err)
	assert.Equal(t, &own, back)

	broken := own
	broken.ID, broken.Rails, broken.Pins = "broken", nil, broken.Pins[1:]
	p := call(t, http.MethodPost, "/api/boards", broken).problem(t)
	assert.Equal(t, http.StatusUnprocessableEntity, p.Status)
	assert.NotEmpty(t, p.Problems)
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, "/api/boards", `{"format":`).StatusCode)
	data, err := json.Marshal(own)
	require.NoError(t, err)
	twins := strings.Replace(strings.ReplaceAll(string(data), `"D9"`, `"PB8"`), `"market"`, `"twins"`, 1)
	p = call(t, http.MethodPost, "/api/boards", twins).problem(t)
	assert.Equal(t, http.StatusUnprocessableEntity, p.Status)
	assert.Contains(t, p.Detail, "number 8", "two pins that a program cannot tell apart")
}

// A board that is described anew, with a pin by another name, does not touch the builds
// that are on it, until they are moved to what it is now.
func TestABuildKeepsItsBoard(t *testing.T) {
	lib := read[server.Library](t, call(t, http.MethodGet, "/api/library", nil))
	own := *lib.Boards[0]
	own.ID, own.Name = "fair", "Board from the fair"
	read[board.Profile](t, call(t, http.MethodPost, "/api/boards", own))
	v := call(t, http.MethodPost, "/api/builds", server.NewBuild{Title: "on it", Board: "fair"}).view(t)
	v = edit(t, v, plan.Add{Kind: "led", Pin: "D9"}).view(t)
	assert.Nil(t, v.Board)

	data, err := json.Marshal(own)
	require.NoError(t, err)
	changed := strings.ReplaceAll(string(data), `"D9"`, `"P9"`)
	assert.Equal(t, http.StatusPreconditionFailed, call(t, http.MethodPost, "/api/boards", changed).problem(t).Status)
	read[board.Profile](t, call(t, http.MethodPost, "/api/boards", changed, "If-Match", `"1"`))
	assert.Equal(t, http.StatusPreconditionFailed, call(t, http.MethodPost, "/api/boards", changed, "If-Match", `"1"`).problem(t).Status)

	v = edit(t, v, plan.Add{Kind: "button"}).view(t)
	require.NotNil(t, v.Board, "it comes with the board that it is on")
	assert.Equal(t, own, *v.Board)
	assert.Equal(t, "D9", v.Document.Part("led1").Signals[0].Pin)
	call(t, http.MethodPost, "/api/builds/"+v.ID+"/undo", nil, "If-Match", v.Tag).view(t)
	v = call(t, http.MethodGet, "/api/builds/"+v.ID, nil).view(t)

	v = edit(t, v, plan.Board{Board: "fair"}).view(t)
	assert.Nil(t, v.Board)
	assert.NotEqual(t, "D9", v.Document.Part("led1").Signals[0].Pin)
	v = call(t, http.MethodPost, "/api/builds/"+v.ID+"/undo", nil, "If-Match", v.Tag).view(t)
	assert.NotNil(t, v.Board, "undone, it is back on what it was")
}

func TestHistoryAndComparison(t *testing.T) {
	v := begin(t)
	v = edit(t, v, plan.Add{Kind: "led"}).view(t)
	v = edit(t, v, plan.Add{Kind: "button"}).view(t)
	list := read[server.RevisionList](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/revisions", nil))
	require.Len(t, list.Revisions, 3)
	assert.True(t, list.Revisions[0].Shown)
	assert.Equal(t, "added Button 1", list.Revisions[0].Summary)
	old := read[server.RevisionDetail](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/revisions/2", nil))
	assert.Equal(t, []string{"Button 1 is gone"}, old.Changes)
	back := edit(t, v, plan.Replace{Document: old.Document}).view(t)
	assert.Len(t, back.Document.Parts, 2)
	for _, wrong := range []string{"99", "x", "-1"} {
		assert.Equal(t, http.StatusNotFound, call(t, http.MethodGet, "/api/builds/"+v.ID+"/revisions/"+wrong, nil).StatusCode, wrong)
	}
	compared := read[[]server.Comparison](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/boards", nil))
	assert.GreaterOrEqual(t, len(compared), 6)
	for _, c := range compared {
		assert.True(t, c.Fits, c.Board)
		assert.Zero(t, c.Counts.Stop, c.Board)
	}
}

func TestTheDrawerAndItsTable(t *testing.T) {
	text := "kind,value,pieces\r\nresistor,4k7,3\r\n"
	items := read[server.DrawerView](t, call(t, http.MethodPost, "/api/drawer/read", server.Text{Text: text}))
	require.Len(t, items.Items, 1)
	old := read[server.DrawerView](t, call(t, http.MethodGet, "/api/drawer", nil)).Tag
	fill(t, items)
	assert.Equal(t, http.StatusPreconditionFailed, call(t, http.MethodPut, "/api/drawer", items, "If-Match", old).problem(t).Status)
	assert.Equal(t, http.StatusPreconditionRequired, call(t, http.MethodPut, "/api/drawer", items).problem(t).Status)
	assert.Contains(t, string(call(t, http.MethodGet, "/api/drawer/file", nil).body), "resistance=4700 Ω")
	items.Items[0].Kind = "unobtainium"
	assert.NotEmpty(t, call(t, http.MethodPut, "/api/drawer", items).problem(t).Problems)
	assert.NotEmpty(t, call(t, http.MethodPost, "/api/drawer/read", server.Text{Text: "kind\nwarp coil\n"}).problem(t).Problems)
	// What it holds stands among the values for a lamp.
	v := edit(t, begin(t), plan.Add{Kind: "led"}).view(t)
	choice := read[server.ResistorChoice](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/resistors/led1-resistor", nil))
	found := false
	for _, c := range choice.Candidates {
		found = found || c.Drawer && c.Ohms == 4700
	}
	assert.True(t, found)
	fill(t, server.DrawerView{Items: []drawer.Item{}})
}

func TestAPinTableIsShownBeforeItIsTaken(t *testing.T) {
	v := edit(t, begin(t), plan.Add{Kind: "led"}).view(t)
	got := read[server.PinTable](t, call(t, http.MethodPost, "/api/builds/"+v.ID+"/pins", server.Text{Text: "pin,part\nD9,red LED 1\n"}))
	assert.Equal(t, []string{"red LED 1 goes from D4 to D9"}, got.Changes)
	v = edit(t, v, got.Edits...).view(t)
	assert.Equal(t, "D9", v.Document.Part("led1").Signals[0].Pin)
	assert.NotEmpty(t, call(t, http.MethodPost, "/api/builds/"+v.ID+"/pins", server.Text{Text: "pin\n"}).problem(t).Problems)
}

func TestStarts(t *testing.T) {
	got := read[server.StartList](t, call(t, http.MethodGet, "/api/starts", nil))
	assert.GreaterOrEqual(t, len(got.Starts), 12)
}
