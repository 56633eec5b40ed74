package program

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/starts"
)

func TestIdentifiers(t *testing.T) {
	o := &outline{ownName: map[string]bool{}}
	for _, x := range []struct {
		words string
		in    build.Language
		want  string
	}{
		{"stop request lamp", build.CPP, "stopRequestLamp"},
		{"stop request lamp", build.PythonMachine, "stop_request_lamp"},
		{"red of the sky", build.CPP, "redSky"},
		{"3rd lamp", build.CPP, "part3rdLamp"},
		{"ü", build.PythonBoard, "part"},
		{"loop", build.CPP, "loopPin"},
		{"stop request lamp", build.CPP, "stopRequestLamp2"},
	} {
		assert.Equal(t, x.want, o.identifier(x.words, x.in))
	}
}

// What the editor completes is what the starter is written with.
func TestNamesAreThoseOfTheStarter(t *testing.T) {
	lib := build.Shipped()
	for _, s := range starts.All() {
		doc, err := lib.Parse(s.Data)
		require.NoError(t, err)
		p, err := Starter(lib, doc, build.CPP)
		require.NoError(t, err)
		for _, n := range newOutline(lib, doc).names(build.CPP) {
			assert.Contains(t, p.Text, "const int "+n.Name+" = ", "%s: %s", s.ID, n.Words)
			assert.True(t, strings.HasPrefix(n.Pin, "D") || strings.HasPrefix(n.Pin, "A") || strings.HasPrefix(n.Pin, "G"), n.Pin)
		}
	}
}
