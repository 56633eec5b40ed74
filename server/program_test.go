package server_test

import (
	"encoding/json"
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/server"
)

func TestProgram(t *testing.T) {
	b := read[server.BuildView](t, call(t, http.MethodPost, "/api/builds", server.NewBuild{Title: "a lamp", Board: "classic-5v"}))
	at := "/api/builds/" + b.ID
	edit := func(edits ...plan.Edit) server.BuildView {
		t.Helper()
		b = read[server.BuildView](t, call(t, http.MethodPost, at+"/edits", server.Edits{Edits: edits}, "If-Match", `"`+b.Tag+`"`))
		return b
	}
	edit(plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "D4"})
	// Without a program there is nothing to say.
	a := read[program.Analysis](t, call(t, http.MethodGet, at+"/program", nil))
	assert.Empty(t, a.Findings)
	// A starter fits, and is kept as an edit like any other.
	p := read[build.Program](t, call(t, http.MethodGet, at+"/program/starter?language=cpp", nil))
	edit(plan.Program{Program: &p})
	a = read[program.Analysis](t, call(t, http.MethodGet, at+"/program", nil))
	assert.True(t, a.Compiles)
	assert.Empty(t, a.Findings)
	// What is typed is looked at without being kept.
	p.Text = strings.Replace(p.Text, "= 4;", "= 5;", 1)
	a = read[program.Analysis](t, call(t, http.MethodPost, at+"/program", p))
	require.NotEmpty(t, a.Findings)
	assert.Contains(t, a.Findings[0].Title, "The program drives D5, but red LED 1 is on D4.")
	assert.Contains(t, read[server.BuildView](t, call(t, http.MethodGet, at, nil)).Document.Program.Text, "= 4;")
	// A fix moves the wire.
	edit(plan.Program{Program: &p})
	fixes := a.Findings[0].Fixes
	edit(fixes[len(fixes)-1].Edits...)
	assert.Equal(t, "D5", b.Document.Parts[0].Signals[0].Pin)
	assert.Empty(t, read[program.Analysis](t, call(t, http.MethodGet, at+"/program", nil)).Findings)

	for _, bad := range []any{build.Program{Language: "basic"}, build.Program{Language: build.CPP, Text: strings.Repeat("x", build.MaxProgram+1)}, build.Program{Language: build.CPP, Text: "a\x00b"}} {
		r := call(t, http.MethodPost, at+"/program", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, "%s", r.body)
	}
	r := call(t, http.MethodGet, at+"/program/starter?language=python-machine", nil)
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	assert.Contains(t, string(r.body), "C++ only")
}

// On the bench it runs as planned, or as it was really built.
func TestRun(t *testing.T) {
	b := read[server.BuildView](t, call(t, http.MethodPost, "/api/builds", server.NewBuild{Title: "a lamp", Board: "classic-5v"}))
	at := "/api/builds/" + b.ID
	edit := func(edits ...plan.Edit) {
		t.Helper()
		b = read[server.BuildView](t, call(t, http.MethodPost, at+"/edits", server.Edits{Edits: edits}, "If-Match", `"`+b.Tag+`"`))
	}
	edit(plan.Add{Kind: "led", Type: "red", Hookup: "resistor-at-pin", Pin: "D4"},
		plan.Program{Program: &build.Program{Language: build.CPP, Text: "void setup() { pinMode(4, OUTPUT); digitalWrite(4, HIGH); }\nvoid loop() { delay(100); }"}})
	looks := func(req server.Running) string {
		t.Helper()
		r := read[bench.Recording](t, call(t, http.MethodPost, at+"/run", req))
		for _, row := range r.Rows {
			if row.Kind == bench.LampRow {
				return row.Looks
			}
		}
		return "no lamp"
	}
	assert.Contains(t, looks(server.Running{Seconds: 1}), "lit")
	assert.Equal(t, "dark", looks(server.Running{Seconds: 1, Bare: true}))
	r := call(t, http.MethodPost, at+"/run", server.Running{Seconds: 1, Built: true})
	assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode)
	edit(plan.AsBuilt{})
	assert.Contains(t, looks(server.Running{Seconds: 1, Built: true}), "lit")
	edit(plan.BuiltLeg{Terminal: build.Of(b.Document.Parts[0].ID, "anode"), Text: "a20"})
	assert.Equal(t, "dark", looks(server.Running{Seconds: 1, Built: true}))
	assert.Contains(t, looks(server.Running{Seconds: 1}), "lit")

	for _, bad := range []server.Running{{}, {Seconds: 1e9}, {Seconds: 1, Actions: []bench.Action{{Do: bench.Press, Of: "nothing"}}}} {
		r := call(t, http.MethodPost, at+"/run", bad)
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, "%s", r.body)
	}
	dump := call(t, http.MethodPost, at+"/run", server.Running{Seconds: 1, Format: "vcd"})
	assert.Contains(t, string(dump.body), "$enddefinitions")
}

// A board of the builder's own that is described anew runs programs as it is now, in a build
// that is put on it then: what was compiled for what it was is not taken.
func TestAProgramIsCompiledForTheBoardAsItIs(t *testing.T) {
	lib := read[server.Library](t, call(t, http.MethodGet, "/api/library", nil))
	own := *lib.Boards[0]
	own.ID, own.Name = "int-board", "Board with another int"
	text, err := json.Marshal(own)
	require.NoError(t, err)
	require.Contains(t, string(text), `"int":16`)
	prints := func(profile string, headers ...string) string {
		t.Helper()
		read[board.Profile](t, call(t, http.MethodPost, "/api/boards", profile, headers...))
		b := read[server.BuildView](t, call(t, http.MethodPost, "/api/builds", server.NewBuild{Title: "int", Board: "int-board"}))
		b = read[server.BuildView](t, call(t, http.MethodPost, "/api/builds/"+b.ID+"/edits", server.Edits{Edits: plan.Edits{
			plan.Program{Program: &build.Program{Language: build.CPP, Text: "void setup() { Serial.begin(9600); int x = 30000; x += 10000; Serial.println(x); }\nvoid loop() { delay(100); }"}},
		}}, "If-Match", `"`+b.Tag+`"`))
		rec := read[bench.Recording](t, call(t, http.MethodPost, "/api/builds/"+b.ID+"/run", server.Running{Seconds: 1}))
		printed := ""
		for _, said := range rec.Serial {
			printed += said.Text
		}
		return strings.TrimSpace(printed)
	}
	assert.Equal(t, "-25536", prints(string(text)))
	assert.Equal(t, "40000", prints(strings.Replace(string(text), `"int":16`, `"int":32`, 1), "If-Match", `"1"`))
}
