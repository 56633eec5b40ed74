package timing_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/electric/circuit"
	_ "cablaggio/core/testkit/drawn"
	"cablaggio/core/values/timing"
)

// Common practice: 6 closings a second seen through a millisecond clock read
// 5.99 or 6.02.
func ExampleClock() {
	low, high := timing.Clock(6, timing.Tick, 1)
	fmt.Printf("%.2f %.2f\n", low, high)
	// Output: 5.99 6.02
}

// Every textbook: half the voltage after 0.693 RC, 63.2 % after one RC.
func TestReach(t *testing.T) {
	assert.InDelta(t, 0.6931e-3, timing.Reach(1e-3, 0, 5, 2.5), 1e-7)
	assert.InDelta(t, 1e-3, timing.Reach(1e-3, 5, 0, 5/math.E), 1e-12)
	assert.True(t, math.IsInf(timing.Reach(1e-3, 0, 5, 5), 1))
	assert.Zero(t, timing.Reach(1e-3, 3, 5, 2), "it is past that already")
}

// The exponential is what the circuit does over time.
func TestReachIsWhatTheCircuitDoes(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		ohms := rapid.Float64Range(1e3, 1e5).Draw(t, "ohms")
		part := rapid.Float64Range(0.2, 0.9).Draw(t, "part")
		var c circuit.Circuit
		supply, n := c.Node(), c.Node()
		c.Add(circuit.Element{Kind: circuit.VoltageSource, A: supply, Value: 5})
		c.Add(circuit.Element{Kind: circuit.Resistor, A: supply, B: n, Value: ohms})
		c.Add(circuit.Element{Kind: circuit.Capacitor, A: n, Value: 1e-6})
		rc := ohms * 1e-6
		s, err := circuit.NewStepper(&c)
		require.NoError(t, err)
		s.Hold(2, 0)
		hit, err := s.Until(10*rc, circuit.Crossing{Node: n, Volts: 5 * part, Rising: true})
		require.NoError(t, err)
		require.Zero(t, hit)
		passed := s.Time()
		assert.InEpsilon(t, timing.Reach(rc, 0, 5, 5*part), passed, 1e-5)
	})
}

func TestClosings(t *testing.T) {
	// 100 a second, 10 ms apart: a tick is a tenth; for 1 % ten of them, 0.1 s.
	n, seconds := timing.Closings(100, timing.Tick, 0.01)
	assert.Equal(t, 10, n)
	assert.InDelta(t, 0.1, seconds, 1e-12)
	n, _ = timing.Closings(6, timing.Tick, 0.01)
	assert.Equal(t, 1, n)
	low, high := timing.Clock(100, timing.Tick, 10)
	assert.Equal(t, []float64{100, 100}, []float64{low, high})
	// 25 pulses a second with equal sides last 20 ms each.
	assert.InDelta(t, 25, timing.Fastest(0.02, 0.5), 1e-12)
}

// The reading lies around the rate, and averaging brings it closer.
func TestAveragingHelps(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		rate := rapid.Float64Range(0.1, 300).Draw(t, "rate")
		resolution := rapid.Float64Range(0.001, 0.2).Draw(t, "resolution")
		n, _ := timing.Closings(rate, timing.Tick, resolution)
		low, high := timing.Clock(rate, timing.Tick, n)
		assert.LessOrEqual(t, low, rate*(1+1e-9))
		assert.GreaterOrEqual(t, high, rate*(1-1e-9))
		assert.LessOrEqual(t, (high-low)/rate, 2.5*resolution)
	})
}
