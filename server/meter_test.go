package server_test

import (
	"bytes"
	"net/http"
	"slices"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/meter"
	"cablaggio/core/planning/plan"
	"cablaggio/demo"
	"cablaggio/server"
)

// The builder's own meter is what readings are expected of, from then on.
func TestOnesOwnMeter(t *testing.T) {
	path := "/api/builds/" + edit(t, begin(t), led).view(t).ID
	expects := func() meter.Expectation {
		list := read[meter.List](t, call(t, http.MethodGet, path+"/checks", nil))
		return list.Checks[0].Expect
	}
	usual := read[server.MeterView](t, call(t, http.MethodGet, "/api/meter", nil))
	assert.False(t, usual.Own)
	before := expects()
	set := func(tag, field, text string) reply {
		return call(t, http.MethodPatch, "/api/meter", server.MeterField{Field: field, Text: text}, "If-Match", tag)
	}
	fine := read[server.MeterView](t, set(usual.Tag, "accuracy", "0.1 %"))
	assert.True(t, fine.Own)
	assert.Equal(t, 0.001, fine.Meter.Accuracy)
	after := expects()
	assert.Less(t, after.High-after.Low, before.High-before.Low)
	for _, c := range []struct {
		tag, field, text string
		status           int
	}{
		{usual.Tag, "accuracy", "0.2 %", http.StatusPreconditionFailed}, {"", "accuracy", "1 %", http.StatusPreconditionRequired},
		{fine.Tag, "accuracy", "much", http.StatusUnprocessableEntity}, {fine.Tag, "accuracy", "90 %", http.StatusUnprocessableEntity},
		{fine.Tag, "digits", "1.5", http.StatusUnprocessableEntity}, {fine.Tag, "name", " ", http.StatusUnprocessableEntity},
		{fine.Tag, "colour", "red", http.StatusUnprocessableEntity}, {fine.Tag, "inputResistance", "-1 MΩ", http.StatusUnprocessableEntity},
	} {
		assert.Equal(t, c.status, set(c.tag, c.field, c.text).StatusCode, "%+v", c)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPut, "/api/meter", `{"name":"x"}`, "If-Match", fine.Tag).StatusCode)
	named := read[server.MeterView](t, set(fine.Tag, "name", "The yellow one"))
	assert.Equal(t, "The yellow one", named.Fields[0].Text)
	whole := *named.Meter
	whole.Beeps = 50
	put := read[server.MeterView](t, call(t, http.MethodPut, "/api/meter", whole, "If-Match", named.Tag))
	assert.Equal(t, whole, *put.Meter)
	gone := read[server.MeterView](t, call(t, http.MethodDelete, "/api/meter", nil, "If-Match", put.Tag))
	assert.False(t, gone.Own)
	assert.Equal(t, before, expects())
}

// Two readings that agree on the supply offer it, until the build is reckoned with it.
func TestReadingsTellOfTheSupply(t *testing.T) {
	tram := slices.IndexFunc(demo.Builds(), func(d demo.Build) bool { return d.Name == "tram-stop" })
	doc, err := build.Shipped().Parse(demo.Builds()[tram].Data)
	require.NoError(t, err)
	v := call(t, http.MethodPost, "/api/builds", server.NewBuild{Document: doc}).view(t)
	path := "/api/builds/" + v.ID
	says := func() *meter.Feed {
		return read[server.SupplyRead](t, call(t, http.MethodGet, path+"/supply", nil)).Feed
	}
	note := func(check, reading string) {
		read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "reading", Check: check, Reading: reading}))
	}
	assert.Nil(t, says())
	note("volts:board.5V:board.GND", "4.86")
	assert.Nil(t, says(), "one reading")
	note("volts:led1-resistor.2:led1-resistor.1:D4=high", "0")
	assert.Nil(t, says(), "a lamp that is dark tells nothing of the supply")
	note("volts:led1-resistor.2:led1-resistor.1:D4=high", "1.7")
	feed := says()
	require.NotNil(t, feed)
	assert.Equal(t, "4.86 V", feed.Text)
	edit(t, v, plan.Supply{Supply: feed.Supply, Text: feed.Text}).view(t)
	assert.Nil(t, says(), "it is reckoned with it")
}

// What is done to a build stands in its book, whatever undo does.
func TestTheLogTellsWhatWasDone(t *testing.T) {
	v := edit(t, begin(t), led).view(t)
	part := v.Document.Parts[0].ID
	v = edit(t, v, plan.Name{Part: part, Name: "moon"}).view(t)
	v = call(t, http.MethodPost, "/api/builds/"+v.ID+"/undo", nil, "If-Match", v.Tag).view(t)
	v = call(t, http.MethodPost, "/api/builds/"+v.ID+"/redo", nil, "If-Match", v.Tag).view(t)
	write := func(text string) {
		v = edit(t, v, plan.Program{Program: &build.Program{Language: build.CPP, Text: text}}).view(t)
	}
	write("void setup() {}")
	write("void setup() {} void loop() {}")
	write("void setup() {} void loop() { }")
	v = edit(t, v, plan.StepDone{Text: "rails", Name: "the rails"}).view(t)
	v = edit(t, v, plan.AsBuilt{Text: "plan"}).view(t)
	log := read[server.LogPage](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/log", nil)).Entries
	kinds := []string{}
	for _, e := range log {
		kinds = append(kinds, e.Kind)
	}
	assert.Equal(t, []string{"built", "step", "program", "program", "change", "change", "change", "change"}, kinds)
	assert.Equal(t, part, log[6].Part)
	assert.Contains(t, log[4].Text, "made again: ")
	assert.Contains(t, log[5].Text, "taken back: ")
	assert.Equal(t, 6, log[2].Revision, "typing goes on with its line")
	assert.Len(t, read[server.LogPage](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/log?kind=program", nil)).Entries, 2)
}

// What goes out as JSON is what its schema says.
func TestFormatsKeepTheirSchemas(t *testing.T) {
	v := edit(t, begin(t), led, plan.Add{Kind: "button"}).view(t)
	path := "/api/builds/" + v.ID
	checks := call(t, http.MethodGet, path+"/checks", nil)
	list := read[meter.List](t, checks)
	for _, reading := range []string{list.Checks[0].Expect.TypText, "17"} {
		read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "reading", Check: list.Checks[0].ID, Reading: reading}))
	}
	read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "note", Part: "led1", Text: "so it is"}))
	for name, got := range map[string]reply{"checks": checks, "log": call(t, http.MethodGet, path+"/log/file/log.json", nil)} {
		require.Equal(t, http.StatusOK, got.StatusCode, "%s", got.body)
		text, err := jsonschema.UnmarshalJSON(bytes.NewReader(got.body))
		require.NoError(t, err)
		require.NoError(t, compiled(t, name).Validate(text), name)
	}
}
