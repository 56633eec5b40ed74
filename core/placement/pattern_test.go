package placement

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/core/testkit/ready"
)

// Over all ready builds, of the parts that are alike nine in ten lie alike, and that takes no more
// than one wire in ten beyond the fewest. Hardly a wire crosses a body.
func TestWhatIsAlikeLiesAlike(t *testing.T) {
	lib := build.Shipped()
	units, alike, wires, fewest, covered := 0, 0, 0, 0, 0
	for name, doc := range ready.Builds(t, lib) {
		begun, empty, err := begun(lib, doc)
		require.NoError(t, err)
		s := begun.better(empty)
		for _, c := range s.alike {
			shapes := map[string]int{}
			for _, unit := range c.units {
				key, _ := s.lies(unit)
				shapes[key]++
			}
			units, alike = units+len(c.units), alike+most(shapes)
			if most(shapes) < len(c.units) {
				t.Logf("%s: %d of %d like %s lie alike", name, most(shapes), len(c.units), c.units[0][0].Name)
			}
		}
		wires, fewest = wires+len(s.wires), fewest+s.fewest
		n := 0
		for _, w := range s.wires {
			n += s.covers(w.line)
		}
		if n > 0 {
			t.Logf("%s: %d wires cross a body", name, n)
		}
		covered += n
	}
	t.Logf("%d of %d lie alike; %d wires, %d at the fewest; %d cross a body", alike, units, wires, fewest, covered)
	assert.GreaterOrEqual(t, float64(alike), 0.9*float64(units))
	assert.LessOrEqual(t, float64(wires), 1.1*float64(fewest))
}
