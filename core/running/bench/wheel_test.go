package bench_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"cablaggio/core/running/bench"
	_ "cablaggio/core/testkit/drawn"
)

// A wheel that is let go slows as it is told, stands in the end, and is below a rate from the moment
// on at which it is said to be.
func TestCoast(t *testing.T) {
	let := bench.Coast{Excess: 10}
	assert.InDelta(t, 10/math.E, let.At(1), 1e-9)
	assert.InDelta(t, math.Log(10), let.Below(1), 1e-9)
	assert.Zero(t, let.At(5), "0.1 Hz come after ln 100 = 4.6 s")
	assert.Positive(t, let.At(4.6))
	assert.Zero(t, bench.Coast{}.At(0))
	assert.Equal(t, 3.0, bench.Coast{Rate: 3}.At(100))
	rapid.Check(t, func(t *rapid.T) {
		c := bench.Coast{Rate: rapid.Float64Range(0, 5).Draw(t, "rate"), Excess: rapid.Float64Range(0, 20).Draw(t, "excess")}
		hertz := rapid.Float64Range(0.01, 25).Draw(t, "hertz")
		at := c.Below(hertz)
		if math.IsInf(at, 1) {
			assert.GreaterOrEqual(t, c.At(1000), hertz)
			return
		}
		assert.Less(t, c.At(at+1e-6), hertz)
		if at > 1e-6 {
			assert.GreaterOrEqual(t, c.At(at-1e-6), hertz)
		}
	})
}
