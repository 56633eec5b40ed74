package server_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/diagnose"
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
			if o.Answer == "turned:"+thing.Part {
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
	e := read[server.LogEntry](t, call(t, http.MethodPost, path+"/log", server.NewEntry{Kind: "fault", Part: thing.Part, Text: d.Causes[0].Words}, "Idempotency-Key", "found-it-1"))
	assert.Equal(t, "fault", e.Kind)
}
