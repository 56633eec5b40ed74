package circuit_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/testkit"
)

// npn adds a transistor of current gain 200 forwards and 5 backwards.
func npn(c *circuit.Circuit, collector, base, emitter circuit.Node) (transport int) {
	const is = 1e-14
	c.Add(circuit.Element{Kind: circuit.Diode, A: base, B: emitter, Junction: circuit.Junction{Is: is / 200, N: 1}})
	c.Add(circuit.Element{Kind: circuit.Diode, A: base, B: collector, Junction: circuit.Junction{Is: is / 5, N: 1}})
	return c.Add(circuit.Element{Kind: circuit.Transport, A: collector, B: emitter, Control: base, Value: is})
}

// switched is a load between a supply and a transistor that a pin drives.
func switched(rng *rand.Rand, mosfet bool) *circuit.Circuit {
	var c circuit.Circuit
	supply, pin, low, control := c.Node(), c.Node(), c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, 3+9*rng.Float64()))
	c.Add(source(pin, circuit.Ground, 5*rng.Float64()))
	c.Add(resistor(supply, low, math.Pow(10, 1+3*rng.Float64())))
	c.Add(resistor(pin, control, math.Pow(10, 2+3*rng.Float64())))
	if mosfet {
		c.Add(resistor(control, circuit.Ground, 1e5))
		c.Add(circuit.Element{Kind: circuit.Channel, A: low, B: circuit.Ground, Control: control, Value: 0.1 + 3*rng.Float64(), Threshold: 1 + rng.Float64()})
	} else {
		npn(&c, low, control, circuit.Ground)
	}
	return &c
}

// Switches, followers and a phototransistor, at random.
func TestTransistorsAgainstSpice(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	var circuits []*circuit.Circuit
	for i := range 60 {
		circuits = append(circuits, switched(rng, i%2 == 0))
	}
	for range 20 {
		// Emitter follower: the load is below.
		var c circuit.Circuit
		supply, base, emitter := c.Node(), c.Node(), c.Node()
		c.Add(source(supply, circuit.Ground, 5))
		c.Add(resistor(supply, base, math.Pow(10, 2+3*rng.Float64())))
		npn(&c, supply, base, emitter)
		c.Add(resistor(emitter, circuit.Ground, math.Pow(10, 1+4*rng.Float64())))
		// Phototransistor: light is a current into the base that no leg leads to.
		inner, out := c.Node(), c.Node()
		c.Add(circuit.Element{Kind: circuit.CurrentSource, A: supply, B: inner, Value: math.Pow(10, -8+3*rng.Float64())})
		npn(&c, supply, inner, out)
		c.Add(resistor(out, circuit.Ground, math.Pow(10, 3+2*rng.Float64())))
		circuits = append(circuits, &c)
	}
	testkit.AgainstSpice(t, circuits, nil)
}

// In the active region the collector carries the gain times the base current
// (every textbook on transistors).
func TestTheGainOfATransistor(t *testing.T) {
	var c circuit.Circuit
	supply, base := c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, 5))
	c.Add(circuit.Element{Kind: circuit.CurrentSource, A: circuit.Ground, B: base, Value: 10e-6})
	k := npn(&c, supply, base, circuit.Ground)
	sol, err := circuit.Solve(&c)
	require.NoError(t, err)
	assert.InEpsilon(t, 2e-3, sol.I[k], 1e-4)
	assert.InDelta(t, 0.67, sol.V[base], 0.05)
}

// Saturation of a MOSFET: KP/2·(VGS − VT)² (Shichman and Hodges, 1968); a gate
// takes no current.
func TestTheChannelOfAMosfet(t *testing.T) {
	var c circuit.Circuit
	supply, gate := c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, 10))
	c.Add(source(gate, circuit.Ground, 3))
	k := c.Add(circuit.Element{Kind: circuit.Channel, A: supply, B: circuit.Ground, Control: gate, Value: 0.2, Threshold: 1.5})
	sol, err := circuit.Solve(&c)
	require.NoError(t, err)
	assert.InDelta(t, 0.2/2*1.5*1.5, sol.I[k], 1e-12)
	assert.Zero(t, sol.I[1])
}

// charging is a capacitor behind a resistor, with a node beside it that a
// second resistor loads.
func charging(volts, r1, r2, farads float64) (*circuit.Circuit, circuit.Node) {
	var c circuit.Circuit
	supply, n := c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, volts))
	c.Add(resistor(supply, n, r1))
	c.Add(resistor(n, circuit.Ground, r2))
	c.Add(circuit.Element{Kind: circuit.Capacitor, A: n, B: circuit.Ground, Value: farads})
	return &c, n
}

// A capacitor charges through a resistor to 63.2 % in one time constant, 95.0 %
// in three and 99.3 % in five: v = U·(1 − exp(−t/RC)) (every textbook).
func TestACapacitorCharges(t *testing.T) {
	c, n := charging(5, 10e3, 1e9, 100e-9) // 1 ms
	s, err := circuit.NewStepper(c)
	require.NoError(t, err)
	s.Hold(3, 0)
	for _, known := range []struct{ at, part float64 }{{1e-3, 0.632}, {3e-3, 0.950}, {5e-3, 0.993}} {
		require.NoError(t, s.To(known.at))
		sol, err := s.Solution()
		require.NoError(t, err)
		assert.InDelta(t, known.part, sol.V[n]/5, 1e-3)
		assert.InDelta(t, 5*(1-math.Exp(-known.at/1e-3)), sol.V[n], 1e-4)
	}
	// At rest it conducts nothing: the divider alone says what the voltage is.
	rest, err := circuit.Solve(c)
	require.NoError(t, err)
	assert.InDelta(t, 5, rest.V[n], 1e-4)
	assert.Zero(t, rest.I[3])
}

// A MOSFET whose gate is driven while its drain and source lead nowhere has an
// answer: nothing flows.
func TestALooseMosfet(t *testing.T) {
	for _, volts := range []float64{0, 3.3, 5, 12} {
		var c circuit.Circuit
		gate, drain, sourceLeg := c.Node(), c.Node(), c.Node()
		c.Add(source(gate, circuit.Ground, volts))
		k := c.Add(circuit.Element{Kind: circuit.Channel, A: drain, B: sourceLeg, Control: gate, Value: 8, Threshold: 1.5})
		c.Add(circuit.Element{Kind: circuit.Diode, A: sourceLeg, B: drain, Junction: circuit.FitJunction(0.8, 1, 1.5, 0.05)})
		sol, err := circuit.Solve(&c)
		require.NoError(t, err)
		assert.InDelta(t, 0, sol.I[k], 1e-6)
	}
}
