package placement

import (
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
)

// The search never makes a layout worse, and over all ready builds it takes out
// at least a quarter of what crosses.
func TestTheSearchPays(t *testing.T) {
	lib := build.Shipped()
	count := func(s *state) (crossings int) {
		for i, w := range s.wires {
			crossings += s.crossings(w.line, i)
		}
		return crossings
	}
	before, after := 0, 0
	for _, doc := range ready.Builds(t, lib) {
		s, empty, err := begun(lib, doc)
		require.NoError(t, err)
		found := s.better(empty)
		assert.LessOrEqual(t, found.cost(), s.cost(), doc.Title)
		before, after = before+count(s), after+count(found)
	}
	t.Logf("%d wires cross, %d when the search is done", before, after)
	assert.Less(t, float64(after), 0.75*float64(before))
}

// A row of lamps, one after another, needs no crossing.
func TestARowOfLampsDoesNotCross(t *testing.T) {
	lib := build.Shipped()
	s, empty, err := begun(lib, ready.Builds(t, lib)["start row"])
	require.NoError(t, err)
	found := s.better(empty)
	for k, w := range found.wires {
		assert.Zero(t, found.crossings(w.line, k), "from %s to %s", w.From, w.To)
	}
}
