package placement

import (
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
)

// Over all ready builds: the search never makes a layout worse, and takes out at least a quarter
// of what crosses. Of the parts that are alike nine in ten lie alike, which takes no more than one
// wire in ten beyond the fewest.
func TestReadyBuildsAreLaidWell(t *testing.T) {
	lib := build.Shipped()
	count := func(s *state) (crossings int) {
		for i, w := range s.wires {
			crossings += s.crossings(w.line, i)
		}
		return crossings
	}
	before, after, units, like, wires, fewest, covered := 0, 0, 0, 0, 0, 0, 0
	for name, doc := range ready.Builds(t, lib) {
		s, empty, err := begun(lib, doc)
		require.NoError(t, err)
		found := s.better(empty)
		assert.LessOrEqual(t, found.cost(), s.cost(), doc.Title)
		before, after = before+count(s), after+count(found)
		for _, c := range found.alike {
			shapes := map[string]int{}
			for _, unit := range c.units {
				key, _ := found.lies(unit)
				shapes[key]++
			}
			units, like = units+len(c.units), like+most(shapes)
			if most(shapes) < len(c.units) {
				t.Logf("%s: %d of %d like %s lie alike", name, most(shapes), len(c.units), c.units[0][0].Name)
			}
		}
		wires, fewest = wires+len(found.wires), fewest+found.fewest
		for _, w := range found.wires {
			covered += found.covers(w.line)
		}
	}
	t.Logf("%d wires cross, %d when the search is done; %d of %d lie alike; %d wires, %d at the fewest; %d cross a body", before, after, like, units, wires, fewest, covered)
	assert.Less(t, float64(after), 0.75*float64(before))
	assert.GreaterOrEqual(t, float64(like), 0.9*float64(units))
	assert.LessOrEqual(t, float64(wires), 1.1*float64(fewest))
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
