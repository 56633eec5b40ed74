package wiring_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

// A piece in motion: 10 kΩ and 1 µF on a pin that goes from low to high cross half of the supply
// after RC·ln 2 (the charge of a capacitor); looking ahead moves nothing; after twenty time
// constants it is at the rest of its state.
func TestMotion(t *testing.T) {
	n := network(t, "classic-5v",
		plan.Add{Kind: "resistor", Value: "resistance", Text: "10k"}, plan.Add{Kind: "capacitor", Value: "capacitance", Text: "1 µF"},
		plan.Join{Terminal: "board.D9", To: "resistor1.1"}, plan.Join{Terminal: "resistor1.2", To: "capacitor1.1"},
		plan.Join{Terminal: "capacitor1.2", To: "board.GND"})
	top := n.Node(build.Of("capacitor1", "1"))
	p := n.PieceOf(top)
	require.True(t, p.Remembers())
	low, high := wiring.State{wiring.DrivenLow}, wiring.State{wiring.DrivenHigh}
	begin, err := p.At(low)
	require.NoError(t, err)
	end, err := p.At(high)
	require.NoError(t, err)
	m, err := begin.Motion(7)
	require.NoError(t, err)
	assert.True(t, m.Rests(begin))
	assert.False(t, m.Rests(end))
	m.Turn(high)
	for range 2 { // the same again: looking moves nothing
		at, err := m.Ahead(8, []circuit.Crossing{{Node: top, Volts: end.Typical(top) / 2, Rising: true}})
		require.NoError(t, err)
		assert.InEpsilon(t, 10e3*1e-6*math.Ln2, at-7, 0.01)
		assert.InDelta(t, 0, m.Volts(top), 0.01)
	}
	require.NoError(t, m.To(7.01))
	assert.InEpsilon(t, end.Typical(top)*(1-math.Exp(-1)), m.Volts(top), 0.01)
	assert.InEpsilon(t, (end.Typical(top)-m.Volts(top))/10e3, math.Abs(m.Amps(n.Find(wiring.Body, "resistor1", ""))), 0.01)
	require.NoError(t, m.To(7.2))
	assert.True(t, m.Rests(end))
	still := network(t, "classic-5v", plan.Add{Kind: "led"})
	assert.False(t, still.PieceOf(still.Node(build.Of("led1", "anode"))).Remembers())
}
