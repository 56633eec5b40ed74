package diagnose

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/faults/fault"
)

// stillness is how likely it is that somebody says that a reading stays the same, with a class of
// faults.
func stillness(c *Case, class, ask int) float64 { return c.predict(class, ask).labels[stays] }

// Whether a reading moves is what its readings in the states say that are asked for one by one: with
// every single fault, where they lie wide apart it changes, and where they are all alike it does not.
func TestAReadingMovesAsItsReadingsDo(t *testing.T) {
	still, moving := 0, 0
	for _, name := range []string{"starts/dimmer", "starts/dusk", "starts/thermometer", "demo/tram-stop"} {
		c := read(t, name)
		for i := range c.asks {
			a := &c.asks[i]
			if !a.moves {
				continue
			}
			assert.Less(t, stillness(c, 0, i), 0.05, "%s: as planned it moves", a.ID)
			for f := range c.faults {
				k := c.classOf[f]
				if c.faults[f].Sometimes() || c.hidden(k, a) {
					continue
				}
				least, most, seen := 1.0, 0.0, 0
				for j := range c.asks {
					b := &c.asks[j]
					if b.Sort != Reads || b.test || b.told || b.input != a.input {
						continue
					}
					if p := c.steady(k, b); p.number {
						least, most, seen = min(least, p.value), max(most, p.value), seen+1
					}
				}
				switch {
				case seen < 2:
				case most-least < little/3:
					still++
					assert.Greater(t, stillness(c, k, i), 0.8, "%s: %s", a.ID, c.faults[f].Words)
				case most-least > 3*little:
					moving++
					assert.Less(t, stillness(c, k, i), 0.2, "%s: %s", a.ID, c.faults[f].Words)
				}
			}
		}
	}
	assert.Greater(t, still, 20)
	assert.Greater(t, moving, 100)
}

// Who says that a sensor does nothing, and looks where is asked, comes to what holds its reading.
func TestAReadingThatDoesNotMoveIsFound(t *testing.T) {
	for _, name := range []string{"starts/dimmer", "starts/dusk"} {
		c := read(t, name)
		found := 0
		for f := range c.faults {
			x := &c.faults[f]
			if x.Kind != fault.Open || x.Sometimes() || found > 3 {
				continue
			}
			var moves *Ask
			for i := range c.asks {
				if a := &c.asks[i]; a.moves && stillness(c, c.classOf[f], i) > 0.8 {
					moves = a
				}
			}
			if moves == nil {
				continue
			}
			found++
			seen := []Observation{{moves.ID, stays}}
			r, err := c.Ask(seen)
			require.NoError(t, err)
			assert.False(t, r.Sure, "one saying is no proof")
			before := weightOf(c, r, x.ID)
			for step := 0; step < 4 && r.Next != nil; step++ {
				k := c.byID[r.Next.Ask]
				answer := ""
				for l, w := range c.outcomes(&hypothesis{faults: []int{f}}, k) {
					if w > 0.5 {
						answer = l
					}
				}
				if c.asks[k].Sort != Look || answer == "" {
					break
				}
				seen = append(seen, Observation{r.Next.Ask, answer})
				r, err = c.Ask(seen)
				require.NoError(t, err)
			}
			assert.Greater(t, len(seen), 1, "something is to be looked at")
			assert.Greater(t, weightOf(c, r, x.ID), before, "%s: what is looked at leads to it", x.Words)
		}
		assert.Positive(t, found, name)
	}
}

// weightOf is how likely a fault is held to be.
func weightOf(c *Case, r *Result, id string) float64 {
	for _, cause := range r.Causes {
		for _, f := range cause.Faults {
			if f == id || c.cureIs(f, id) {
				return cause.Weight
			}
		}
	}
	return 0
}

// cureIs reports whether two faults are put right in the same way.
func (c *Case) cureIs(a, b string) bool {
	cure := map[string]string{}
	for i := range c.faults {
		cure[c.faults[i].ID] = c.faults[i].Cure
	}
	return cure[a] != "" && cure[a] == cure[b]
}
