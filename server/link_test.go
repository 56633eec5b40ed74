package server_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/testkit"
	"cablaggio/server"
)

// The simulated bench is asked as a board is, and what it answers stands in the log; what is no port
// is told so in words, and nothing is opened.
func TestTheBoardIsAsked(t *testing.T) {
	t.Parallel()
	path := "/api/builds/" + edit(t, begin(t), led).view(t).ID
	ports := read[server.PortList](t, call(t, http.MethodGet, "/api/ports", nil))
	assert.Equal(t, "bench", ports.Bench)
	said := read[server.BoardAnswers](t, call(t, http.MethodPost, path+"/board", server.BoardAsked{Port: "bench"}))
	assert.True(t, said.AsPlanned, "%v", said.Odd)
	assert.Equal(t, said.Asked, len(said.Observations))
	assert.Positive(t, said.Asked)
	d := read[server.Diagnosis](t, call(t, http.MethodPost, path+"/diagnosis", server.Observed{Observations: said.Observations}))
	assert.False(t, d.Sure, "a sound board settles nothing")
	tram := "/api/builds/" + read[server.BuildView](t, call(t, http.MethodPost, "/api/builds", server.NewBuild{Document: demoBuild(t, build.Shipped(), "tram-stop")})).ID
	said = read[server.BoardAnswers](t, call(t, http.MethodPost, tram+"/board", server.BoardAsked{Port: "bench"}))
	require.NotEmpty(t, said.Hands)
	for _, hand := range said.Hands[:testkit.Few(1, len(said.Hands))] {
		held := read[server.BoardAnswers](t, call(t, http.MethodPost, tram+"/board", server.BoardAsked{Port: "bench", Hand: hand.Hand, Observations: said.Observations}))
		assert.True(t, held.AsPlanned, "%s: %v", hand.Hand, held.Odd)
		assert.Greater(t, held.Asked, said.Asked, hand.Hand)
		assert.GreaterOrEqual(t, held.Shows, said.Shows, hand.Hand)
	}
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, tram+"/board", server.BoardAsked{Port: "bench", Hand: "nobody=pressed"}).StatusCode)
	assert.Equal(t, http.StatusUnprocessableEntity, call(t, http.MethodPost, tram+"/board", server.BoardAsked{Port: "bench", Hand: "button1=pressed", Observations: []diagnose.Observation{{Ask: "pin:D99:", Answer: "high"}}}).StatusCode)
	log := read[server.LogPage](t, call(t, http.MethodGet, path+"/log?kind=note", nil))
	assert.Contains(t, log.Entries[0].Text, "The board was asked.")
	for _, port := range []string{"", "/etc/passwd", "/dev/null", "/dev/ttyNOBODY9", "../x", "x\n"} {
		r := call(t, http.MethodPost, path+"/board", server.BoardAsked{Port: port})
		assert.Equal(t, http.StatusUnprocessableEntity, r.StatusCode, port)
	}
}
