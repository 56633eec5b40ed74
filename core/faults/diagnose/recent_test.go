package diagnose

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
)

// What was plugged in last is likelier than what was there before, and what should not be there
// yet likelier than either; that the board runs no program has nothing to do with it.
func TestWhatWasDoneLast(t *testing.T) {
	plain := read(t, "demo/tram-stop")
	lib, doc := build.Shipped(), plain.doc.Clone()
	require.NotNil(t, plain.placed)
	doc.Assembly = &build.Assembly{}
	seats, of := plain.placed.Seats, map[string]int{}
	for i, s := range seats {
		of[s.Part] = i
	}
	// The wires are in, then the parts, of which the last is still to be plugged in.
	for _, w := range plain.placed.Wires {
		doc.Assembly.Done = append(doc.Assembly.Done, build.Done{Step: w.Step()})
	}
	for _, s := range seats[:len(seats)-1] {
		doc.Assembly.Done = append(doc.Assembly.Done, build.Done{Step: s.Step()})
	}
	c := New(wiring.NewCache(), meter.Handheld(), lib, doc)
	likelier := func(part string) float64 {
		for i := range c.faults {
			if f := &c.faults[i]; f.Kind == fault.Open && len(f.Parts) == 1 && f.Parts[0] == part {
				for k := range plain.faults {
					if plain.faults[k].ID == f.ID {
						return c.priors[i] / plain.priors[k]
					}
				}
			}
		}
		t.Fatal("no leg of " + part)
		return 0
	}
	first, newest, missing := likelier(seats[0].Part), likelier(seats[len(seats)-2].Part), likelier(seats[len(seats)-1].Part)
	assert.Greater(t, newest, 1.5*first)
	assert.Greater(t, missing, 1.5*newest)
	for i, f := range c.faults {
		if f.Kind == fault.Unloaded {
			assert.InDelta(t, plain.priors[i]/plain.priors[0], c.priors[i]/plain.priors[0], 1e-9)
		}
	}
	assert.Empty(t, plain.recent(), "nobody has noted a step")
}
