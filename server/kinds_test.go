package server_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
	"cablaggio/server"
)

// A part of one's own: read from its leaflet, kept, wired, and still what it was in the build that
// has it when it is described anew, and when it is forgotten; whoever gets the build gets the part.
func TestAPartOfOnesOwn(t *testing.T) {
	leaflet := part.Leaflet{Name: "Fog module", Sort: part.Module, From: 3, To: 5, Legs: []part.LeafletLeg{
		{Name: "+", Is: part.PlusLeg}, {Name: "S", Is: part.OutputLeg, Gives: part.GivesLevel, Quiet: "clear", Told: "foggy"}, {Name: "-", Is: part.GroundLeg},
	}}
	made := read[part.File](t, call(t, http.MethodPost, "/api/leaflet", leaflet))
	assert.Equal(t, "own-fogmodule", made.ID)
	read[part.File](t, call(t, http.MethodPost, "/api/kinds", made))
	assert.Equal(t, http.StatusPreconditionFailed, call(t, http.MethodPost, "/api/kinds", made).problem(t).Status, "there is one already")
	assert.Equal(t, "own-fogmodule-2", read[part.File](t, call(t, http.MethodPost, "/api/leaflet", leaflet)).ID, "another one has another id")
	lib := read[server.Library](t, call(t, http.MethodGet, "/api/library", nil))
	assert.Contains(t, lib.OwnKinds, server.OwnKind{ID: "own-fogmodule", Tag: "1"})

	v := call(t, http.MethodPost, "/api/builds", server.NewBuild{Title: "harbour", Board: "classic-5v"}).view(t)
	v = edit(t, v, plan.Add{Kind: "own-fogmodule"}, plan.Add{Kind: "led"}).view(t)
	require.Len(t, v.Document.Kinds, 1)
	assert.Zero(t, v.Analysis.Counts.Stop)

	other := made
	other.Name = "Mist module"
	read[part.File](t, call(t, http.MethodPost, "/api/kinds", other, "If-Match", `"1"`))
	assert.Equal(t, "Fog module", call(t, http.MethodGet, "/api/builds/"+v.ID, nil).view(t).Document.Kinds[0].Name, "the build keeps what it has")
	assert.Equal(t, http.StatusNoContent, call(t, http.MethodDelete, "/api/kinds/own-fogmodule", nil).StatusCode)
	v = edit(t, call(t, http.MethodGet, "/api/builds/"+v.ID, nil).view(t), plan.Name{Part: "own-fogmodule1", Name: "fog at the pier"}).view(t)
	assert.Equal(t, "fog at the pier", v.Document.Part("own-fogmodule1").Name)

	archive := call(t, http.MethodGet, "/api/builds/"+v.ID+"/archive", nil)
	require.Equal(t, http.StatusOK, archive.StatusCode)
	back := call(t, http.MethodPost, "/api/archives", string(archive.body), "Content-Type", "application/zip", "Idempotency-Key", "fog").view(t)
	assert.Equal(t, v.Document.Kinds, back.Document.Kinds)

	// With its last part its kind goes from the build.
	v = edit(t, v, plan.Remove{Part: "own-fogmodule1"}).view(t)
	assert.Empty(t, v.Document.Kinds)
}

// What cannot be a part is refused with all that is wrong; what begins with own- stays.
func TestPartsThatCannotBe(t *testing.T) {
	button := call(t, http.MethodGet, "/api/kinds/button/file", nil)
	p := call(t, http.MethodPost, "/api/kinds", string(button.body)).problem(t)
	assert.Equal(t, http.StatusUnprocessableEntity, p.Status)
	assert.Contains(t, p.Detail, "begins with own-")
	mine := strings.Replace(string(button.body), `"id": "button"`, `"id": "own-mine"`, 1)
	broken := strings.ReplaceAll(mine, `"contactResistance"`, `"ohms"`)
	p = call(t, http.MethodPost, "/api/kinds", broken).problem(t)
	assert.True(t, slices.ContainsFunc(p.Problems, func(x build.Problem) bool { return x.Where == "values" }), "%+v", p)
	assert.Equal(t, http.StatusConflict, call(t, http.MethodDelete, "/api/kinds/button", nil).StatusCode)
	assert.Equal(t, http.StatusNotFound, call(t, http.MethodDelete, "/api/kinds/own-nobody", nil).StatusCode)
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, "/api/leaflet", part.Leaflet{Name: "x"}).problem(t).Status)
}
