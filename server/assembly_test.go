package server_test

import (
	"net/http"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/document/drawer"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
	"cablaggio/server"
)

// A build on the breadboard, through the interface: the steps, a step that is
// done, what is really there, and the files.
func TestAssembly(t *testing.T) {
	v := edit(t, begin(t), plan.Add{Kind: "led", Name: "pond lamp"}).view(t)
	at := func() server.AssemblyView {
		return read[server.AssemblyView](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/assembly", nil))
	}
	r := at()
	assert.Empty(t, r.Problem)
	assert.Equal(t, "unplug", r.Steps[0].ID)
	assert.Contains(t, r.Map.Marks, `data-leg="led1.anode"`)
	v = edit(t, v, plan.StepDone{Text: "unplug", Name: r.Steps[0].Do, At: v.Created}, plan.AsBuilt{}).view(t)
	r = at()
	assert.True(t, r.Steps[0].Done)
	assert.Empty(t, r.Built.Differences)
	v = edit(t, v, plan.BuiltLeg{Terminal: "led1.anode"}).view(t)
	assert.Equal(t, "Not plugged in: pond lamp.", at().Built.Differences[0].What)
	assert.NotContains(t, at().BuiltMap.Marks, `data-leg="led1.anode"`)

	for format, begins := range map[string]string{"holemap.svg": "<svg", "steps.pdf": "%PDF-", "wires.csv": "from,to,colour", "links.csv": "net,from,to"} {
		file := call(t, http.MethodGet, "/api/builds/"+v.ID+"/files/"+format, nil)
		assert.Equal(t, http.StatusOK, file.StatusCode, format)
		assert.True(t, strings.HasPrefix(string(file.body), begins), format)
		assert.Contains(t, file.Header.Get("Content-Disposition"), "attachment", format)
	}
	// What does not fit is said, and there is no drawing of it.
	for range 6 {
		v = edit(t, v, plan.Add{Kind: "button"}, plan.Add{Kind: "potentiometer"}).view(t)
	}
	v = edit(t, v, plan.Breadboards{Text: "mini"}).view(t)
	assert.Contains(t, at().Problem, "take a bigger breadboard")
	p := call(t, http.MethodGet, "/api/builds/"+v.ID+"/files/steps.pdf", nil).problem(t)
	assert.Equal(t, http.StatusUnprocessableEntity, p.Status)
}

// Half way: what is done so far is what is there, a plan that changes leaves it
// where it is, and what is removed is taken out by a step.
func TestHalfWay(t *testing.T) {
	v := edit(t, begin(t), plan.Add{Kind: "led", Name: "pond lamp"}, plan.Add{Kind: "button", Name: "bell"}).view(t)
	at := func() server.AssemblyView {
		return read[server.AssemblyView](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/assembly", nil))
	}
	seat := func(r server.AssemblyView, part string) assembly.Step {
		return r.Steps[slices.IndexFunc(r.Steps, func(s assembly.Step) bool { return strings.HasPrefix(s.ID, "seat "+part+" ") })]
	}
	lamp, bell := seat(at(), "led1"), seat(at(), "button1")
	v = edit(t, v, plan.StepDone{Text: lamp.ID}, plan.StepDone{Text: bell.ID}, plan.AsBuilt{Text: plan.FromSteps}).view(t)
	r := at()
	assert.Len(t, r.Built.Legs, 6)
	assert.Positive(t, r.Built.ToCome)
	assert.Empty(t, r.Built.Differences)
	assert.Contains(t, r.BuiltMap.Marks, `data-part="button1"`)
	assert.NotContains(t, r.BuiltMap.Marks, `data-part="led1-resistor"`)

	v = edit(t, v, plan.Add{Kind: "potentiometer"}, plan.Remove{Part: "button1"}, plan.Reach{Text: "80"}).view(t)
	r = at()
	assert.Equal(t, lamp.ID, seat(r, "led1").ID, "it stays")
	assert.True(t, seat(r, "led1").Done)
	out := slices.IndexFunc(r.Steps, func(s assembly.Step) bool { return s.ID == "out "+bell.ID })
	assert.Equal(t, 1, out, "after the board is unplugged")
	assert.Contains(t, string(call(t, http.MethodGet, "/api/builds/"+v.ID+"/files/links.csv", nil).body), ",80,")
	v = edit(t, v, plan.StepDone{Text: r.Steps[out].ID}).view(t)
	assert.Equal(t, []string{lamp.ID}, []string{v.Document.Assembly.Done[0].Step})
	v = edit(t, v, plan.StepsUndone{}).view(t)
	assert.Nil(t, at().Built)
}

// What lies in the drawer is taken when a part is added, and in its comparison.
func TestValuesFromTheDrawer(t *testing.T) {
	was := read[server.DrawerView](t, call(t, http.MethodGet, "/api/drawer", nil))
	defer fill(t, was)
	mine := server.DrawerView{Items: []drawer.Item{{Kind: "resistor", Values: map[string]float64{"resistance": 326}, Pieces: 3, Measured: true}}}
	fill(t, mine)
	v := edit(t, begin(t), plan.Add{Kind: "led", Type: "red"}).view(t)
	assert.Equal(t, 326.0, v.Document.Part("led1-resistor").Values["resistance"])
	choice := read[server.ResistorChoice](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/resistors/led1-resistor", nil))
	i := slices.IndexFunc(choice.Candidates, func(c server.Candidate) bool { return c.Best })
	assert.Equal(t, 326.0, choice.Candidates[i].Ohms)
	assert.True(t, choice.Candidates[i].Drawer)
}

// A build in a file is read and shown, and nothing is kept of it.
func TestAFileIsLookedAtFirst(t *testing.T) {
	v := edit(t, begin(t), plan.Add{Kind: "led", Hookup: "no-resistor"}).view(t)
	count := func() int { return len(read[server.BuildList](t, call(t, http.MethodGet, "/api/builds", nil)).Builds) }
	before := count()
	seen := read[server.Preview](t, call(t, http.MethodPost, "/api/builds/read", server.NewBuild{Document: v.Document}))
	assert.Equal(t, v.Document, seen.Document)
	assert.Equal(t, v.Analysis.Counts, seen.Analysis.Counts)
	assert.Equal(t, before, count())
	for _, body := range []string{`{}`, `{"document":{}}`, `{"document":{"format":"cablaggio.build/1","title":"x","board":"toaster"}}`, `{"document":`} {
		p := call(t, http.MethodPost, "/api/builds/read", body).problem(t)
		assert.Equal(t, http.StatusUnprocessableEntity, p.Status, body)
	}
	assert.Equal(t, before, count())
}
