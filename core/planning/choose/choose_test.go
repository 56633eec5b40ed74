package choose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/planning/choose"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/spec"
)

// red on 5 V: the sum that every textbook on LEDs works out, (5 V − 2 V) over
// 20 mA is 150 Ω (common practice).
var red = choose.Loop{
	Volts: spec.Exactly(5, "test"), Forward: spec.Value{Low: 1.8, Typ: 2.0, High: 2.3, Source: "test"},
	Amps: 0.020, N: 2, Rs: 3, Tolerance: 0.05,
}

func TestIdeal(t *testing.T) {
	ohms, err := choose.Ideal(red, 0.020)
	require.NoError(t, err)
	assert.InDelta(t, 150, ohms, 0.01)

	ohms, err = choose.Ideal(red, 100)
	require.NoError(t, err)
	assert.Equal(t, 1.0, ohms, "the nearest end when the current cannot be had")
}

func TestIdealGivesTheWantedCurrent(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		l := red
		l.Volts = spec.Exactly(rapid.Float64Range(3, 24).Draw(t, "volts"), "test")
		l.Forward = spec.Exactly(rapid.Float64Range(1.5, 2.5).Draw(t, "forward"), "test")
		amps := rapid.Float64Range(1e-4, 0.03).Draw(t, "amps")
		ohms, err := choose.Ideal(l, amps)
		require.NoError(t, err)
		got, err := l.Typical(ohms)
		require.NoError(t, err)
		assert.InEpsilon(t, amps, got, 1e-5)
	})
}

func TestTheBestKeepsTheLimitAndNothingIsNearer(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		wish := choose.Wish{
			Amps:   rapid.Float64Range(1e-3, 0.02).Draw(t, "amps"),
			Limit:  rapid.Float64Range(5e-3, 0.03).Draw(t, "limit"),
			Series: rapid.SampledFrom(preferred.All[1:]).Draw(t, "series"),
		}
		candidates, err := choose.Resistor(red, wish)
		require.NoError(t, err)
		best := choose.Best(candidates).Ohms
		// Every value of three decades of the series, one by one.
		for _, d := range wish.Series.Decade() {
			for _, scale := range []float64{0.1, 1, 10, 100} {
				r, err := red.Corners(float64(d) * scale)
				require.NoError(t, err)
				b, err := red.Corners(best)
				require.NoError(t, err)
				require.LessOrEqual(t, b.High, wish.Limit)
				if r.High <= wish.Limit {
					assert.LessOrEqual(t, abs(b.Typ-wish.Amps), abs(r.Typ-wish.Amps)+1e-12, "%g is nearer than %g", float64(d)*scale, best)
				}
			}
		}
		for _, usual := range choose.Usual {
			found := false
			for _, c := range candidates {
				found = found || c.Ohms == usual
			}
			assert.True(t, found, "%g is not shown", usual)
		}
	})
}

func abs(x float64) float64 { return max(x, -x) }

func TestTheDrawerDecides(t *testing.T) {
	candidates, err := choose.Resistor(red, choose.Wish{Amps: 0.010, Limit: 0.03, Have: []float64{100, 220, 330, 1000}})
	require.NoError(t, err)
	assert.Equal(t, 330.0, choose.Best(candidates).Ohms)
	_, err = choose.Resistor(red, choose.Wish{Amps: 0.010, Limit: 0.03, Have: []float64{10, 22}})
	assert.ErrorContains(t, err, "a larger one is needed")
	_, err = choose.Resistor(red, choose.Wish{Amps: -1, Limit: 0.03})
	assert.Error(t, err)
}

// What the drawer has stands beside the rest, and the best is from it.
func TestTheDrawerStandsBeside(t *testing.T) {
	wish := choose.Wish{Amps: 0.010, Limit: 0.03, Series: preferred.E12}
	candidates, err := choose.Beside(red, wish, []float64{100, 220, 1000})
	require.NoError(t, err)
	assert.Equal(t, 220.0, choose.Best(candidates).Ohms)
	pair := false
	for _, c := range candidates {
		if c.Pair != nil {
			pair = true
			assert.InDelta(t, c.Ohms, c.Pair.Ohms(), 1e-9)
		}
	}
	assert.True(t, pair, "100 Ω and 220 Ω in series are nearer to 309 Ω than 220 Ω")
	assert.Equal(t, 50.0, choose.Pair{A: 100, B: 100, Parallel: true}.Ohms())
	// An empty drawer changes nothing.
	plain, err := choose.Resistor(red, wish)
	require.NoError(t, err)
	same, err := choose.Beside(red, wish, nil)
	require.NoError(t, err)
	assert.Equal(t, plain, same)
}
