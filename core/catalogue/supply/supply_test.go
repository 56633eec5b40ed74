package supply_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/values/spec"
)

func exactly(v float64) spec.Value { return spec.Exactly(v, "test") }

// P = (U_in − U_out) · I, the sum of every textbook on linear regulators: 9 V
// made into 5 V at 100 mA is 0.4 W, and at 12 V 0.7 W.
func TestTheHeatOfALinearRegulator(t *testing.T) {
	r := &board.Regulator{Drop: exactly(1.1)}
	assert.InDelta(t, 0.4, supply.Heat(r, exactly(9), exactly(5), exactly(0.1)).Typ, 1e-12)
	assert.InDelta(t, 0.7, supply.Heat(r, exactly(12), exactly(5), exactly(0.1)).Typ, 1e-12)
	assert.Zero(t, supply.Heat(r, exactly(4), exactly(5), exactly(0.1)).Typ, "nothing is dropped where there is too little")
	assert.Equal(t, 0.1, supply.Drawn(r, exactly(9), exactly(5), exactly(0.1)).Typ)
}

// What goes in is what comes out and the heat (conservation of energy).
func TestASwitchingRegulatorKeepsTheBooks(t *testing.T) {
	r := &board.Regulator{Efficiency: exactly(0.88)}
	fed, rail, amps := exactly(3.7), exactly(3.3), exactly(0.2)
	in := supply.Drawn(r, fed, rail, amps).Typ * fed.Typ
	assert.InDelta(t, in, rail.Typ*amps.Typ+supply.Heat(r, fed, rail, amps).Typ, 1e-12)
}

// Four AA cells: 6.4 V fresh, 4 V empty (common practice); about 2200 mAh at 50 mA
// is 44 hours.
func TestCells(t *testing.T) {
	fed := supply.Fed(board.Supply{}, 0, "alkaline-aa", 4)
	assert.InDelta(t, 4.0, fed.Low, 1e-9)
	assert.InDelta(t, 6.4, fed.High, 1e-9)
	c, ok := supply.CellOf("alkaline-aa")
	require.True(t, ok)
	assert.InDelta(t, 44, supply.Hours(c, exactly(0.05)).Typ, 1e-9)
	for _, c := range supply.Cells() {
		assert.NoError(t, c.Volts.Check(), c.ID)
		assert.NoError(t, c.AmpHours.Check(), c.ID)
		assert.Positive(t, c.Amps, c.ID)
	}
	_, ok = supply.CellOf("potato")
	assert.False(t, ok)
}

func ExampleFed() {
	jack := board.Supply{Input: spec.Value{Low: 7, Typ: 9, High: 12}, Regulator: &board.Regulator{}}
	fmt.Printf("%.2f V\n", supply.Fed(jack, 12, "", 0).High)
	// Output: 12.60 V
}
