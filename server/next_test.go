package server_test

import (
	"net/http"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/document/build"
	"cablaggio/core/output/todo"
	"cablaggio/server"
)

// What is said to be next goes by what is known: a program that nobody has looked at as it is now is
// not said to fit, nor sentences to hold that nobody has tried.
func TestWhatIsNext(t *testing.T) {
	t.Parallel()
	says := func(id string) string {
		return read[todo.List](t, call(t, http.MethodGet, "/api/builds/"+id+"/next", nil)).Next.Words
	}
	v := begin(t)
	assert.Equal(t, "Say what it should have", says(v.ID))
	assert.Equal(t, "Write its program", says(edit(t, v, led).view(t).ID))
	tram := call(t, http.MethodPost, "/api/builds", server.NewBuild{Document: demoBuild(t, build.Shipped(), "tram-stop")}).view(t)
	path := "/api/builds/" + tram.ID
	assert.Equal(t, "Look its program over", says(tram.ID))
	call(t, http.MethodGet, path+"/program", nil)
	assert.Equal(t, "Try its 5 sentences", says(tram.ID))
	if !testing.Short() { // five sentences take their time under the race detector
		call(t, http.MethodPost, path+"/should", server.Sayings{Sentences: tram.Document.Should})
		assert.Equal(t, "Put it on the breadboard", says(tram.ID))
	}
	mistakes := call(t, http.MethodPost, "/api/builds", server.NewBuild{Document: demoBuild(t, build.Shipped(), "tram-stop-mistakes")}).view(t)
	assert.Contains(t, says(mistakes.ID), "to mend")
}
