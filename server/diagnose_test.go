package server_test

import (
	"net/http"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/meter"
	"cablaggio/server"
)

func TestDiagnosis(t *testing.T) {
	t.Parallel()
	path := "/api/builds/" + edit(t, begin(t), led).view(t).ID
	d := read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{}))
	require.NotEmpty(t, d.Things)
	assert.False(t, d.Sure)
	thing := d.Things[0]
	assert.Equal(t, "lit", thing.States[0].Should)
	seen := []diagnose.Observation{{Ask: thing.States[0].Ask, Answer: "dark"}}
	d = read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{Observations: seen}))
	require.NotNil(t, d.Next)
	for n := 0; d.Next != nil && n < 9; n++ { // somebody sees that the lamp is turned round
		answer := d.Next.Options[0].Answer
		for _, o := range d.Next.Options {
			if o.Answer == "turn:"+thing.Part {
				answer = o.Answer
			}
		}
		seen = append(seen, diagnose.Observation{Ask: d.Next.Ask, Answer: answer})
		d = read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{Observations: seen}))
	}
	assert.True(t, d.Sure)
	assert.Equal(t, []string{"turned:" + thing.Part}, d.Causes[0].Faults)
	assert.NotEmpty(t, d.Causes[0].Proof)

	for _, x := range []server.Observed{
		{Observations: []diagnose.Observation{{Ask: "see:gone", Answer: "dark"}}},
		{Observations: []diagnose.Observation{{Ask: thing.States[0].Ask, Answer: "purple"}}},
		{Observations: make([]diagnose.Observation, 401)},
		{Built: true},
	} {
		assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, path+"/diagnosis", x).StatusCode)
	}
	heard := read[server.Heard](t, call(t, http.MethodPost, path+"/diagnosis/heard", server.Told{Text: thing.Name + " stays dark\nthe moon is dark"}))
	assert.Equal(t, server.Heard{Observations: []diagnose.Said{{
		Ask: thing.States[0].Ask, Answer: "dark", Part: thing.Part,
		Words: build.Capital(thing.Name) + " is dark when " + thing.States[0].When + ".",
	}}, Unknown: []string{"the moon is dark"}, Why: heard.Why}, heard)
	assert.Contains(t, heard.Why, "names nothing that is seen or read")
	for _, x := range []server.Told{{Text: strings.Repeat("x", 20_001)}, {Text: "x", Built: true}} {
		assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, path+"/diagnosis/heard", x).StatusCode)
	}
	// What the meter read is offered, until a fault was found.
	list := read[meter.List](t, call(t, http.MethodGet, path+"/checks", nil))
	check := list.Checks[len(list.Checks)-1]
	read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "reading", Check: check.ID, Reading: "0.01"}, "Idempotency-Key", "read-1"))
	d = read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{}))
	require.Len(t, d.Readings, 1)
	assert.Equal(t, "taken:"+check.ID, d.Readings[0].Ask, "with the test program, as the list says")
	read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{Observations: d.Readings}))
	e := read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "fault", Part: thing.Part, Text: d.Causes[0].Words}, "Idempotency-Key", "found-it-1"))
	assert.Equal(t, "fault", e.Kind)
	assert.Empty(t, read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{})).Readings)
}

// A lesson is begun, asked and named; what is hidden is not told before.
func TestDrill(t *testing.T) {
	t.Parallel()
	list := read[server.DrillList](t, call(t, http.MethodGet, "/api/drills", nil))
	assert.Len(t, list.Lessons, 10)
	d := read[server.DrillView](t, call(t, http.MethodPost, "/api/drills", server.NewDrill{Lesson: "turned"}))
	again := read[server.DrillView](t, call(t, http.MethodPost, "/api/drills", server.NewDrill{Code: d.Code}))
	assert.Equal(t, d, again)
	assert.NotEmpty(t, d.Map.Marks)
	require.NotEmpty(t, d.Does)
	assert.True(t, d.Does[0].Wrong)
	at := "/api/drills/" + d.Code
	choices := read[server.DrillChoices](t, call(t, http.MethodGet, at+"/choices?part=led1", nil))
	require.NotEmpty(t, choices.Choices)
	a := read[server.DrillAnswer](t, call(t, http.MethodPost, at+"/ask", server.DrillAsk{Ask: "look:led1"}))
	assert.Contains(t, a.Words, "other way round")
	hint := read[server.DrillHint](t, call(t, http.MethodPost, at+"/hint", server.Observed{Observations: []diagnose.Observation{}}))
	assert.NotEmpty(t, hint.Words)
	end := read[server.DrillEnd](t, call(t, http.MethodPost, at+"/name", server.DrillGuess{Cure: "value:led1-resistor"}))
	assert.Equal(t, server.DrillEnd{}, end, "a wrong guess tells nothing")
	end = read[server.DrillEnd](t, call(t, http.MethodPost, at+"/name", server.DrillGuess{Cure: "turn:led1", Spent: 3.5, Lesson: "turned"}, "Idempotency-Key", "named-1"))
	assert.True(t, end.Right)
	read[server.DrillEnd](t, call(t, http.MethodPost, at+"/name", server.DrillGuess{Cure: "turn:led1", Spent: 3.5, Lesson: "turned"}, "Idempotency-Key", "named-1"))
	record := read[server.DrillRecord](t, call(t, http.MethodGet, "/api/drills/record", nil))
	require.Len(t, record.Found, 1, "a repeated request counts once")
	assert.Equal(t, server.DrillFound{Code: d.Code, Lesson: "turned", Kind: end.Kind, Spent: 3.5, Par: end.Par, Made: record.Found[0].Made}, record.Found[0])
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, at+"/name", server.DrillGuess{Cure: "turn:led1", Spent: -1}).StatusCode)
	assert.Contains(t, end.Teaches, "long leg")
	drawn := read[server.DrillView](t, call(t, http.MethodPost, "/api/drills", server.NewDrill{Build: "dimmer"}))
	assert.Regexp(t, `^DIMMER-\w{6}$`, drawn.Code)
	own := edit(t, begin(t), led).view(t).ID
	drawn = read[server.DrillView](t, call(t, http.MethodPost, "/api/drills", server.NewDrill{Build: own}))
	assert.Equal(t, drawn, read[server.DrillView](t, call(t, http.MethodPost, "/api/drills", server.NewDrill{Code: drawn.Code})), "on one's own build, too")
	for _, x := range []server.NewDrill{{Code: "MOON-234567"}, {Code: "x"}, {Lesson: "flying"}, {Build: "moon"}} {
		assert.Equal(t, http.StatusNotFound, call(t, http.MethodPost, "/api/drills", x).StatusCode, "%+v", x)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, at+"/ask", server.DrillAsk{Ask: "try:turn:led1"}).StatusCode)
}

// A build says what it should do, and whether it does.
func TestShould(t *testing.T) {
	t.Parallel()
	path := "/api/builds/" + edit(t, begin(t), led).view(t).ID
	v := read[server.Verdicts](t, call(t, http.MethodPost, path+"/should", server.Sayings{Sentences: []string{"the moon is lit"}}))
	require.Len(t, v.Verdicts, 2)
	assert.NotEmpty(t, v.Verdicts[0].Wrong)
	assert.True(t, v.Verdicts[1].Holds, "nothing is over its limit")
	assert.NotEmpty(t, v.Suggest)
	v = read[server.Verdicts](t, call(t, http.MethodPost, path+"/should", server.Sayings{Sentences: []string{"the moon is lit"}, Read: true}))
	assert.Len(t, v.Verdicts, 1)
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, path+"/should", server.Sayings{Sentences: make([]string, 41)}).StatusCode)
}
