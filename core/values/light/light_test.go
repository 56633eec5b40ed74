package light_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/values/light"
)

// CIE 15:2004: the grey that photographers take for the middle reflects 18 % and
// has a lightness of 49.5; half the light has 76; all of it 100.
func TestLightness(t *testing.T) {
	assert.InDelta(t, 49.5, light.Lightness(0.18), 0.1)
	assert.InDelta(t, 76.1, light.Lightness(0.5), 0.1)
	assert.InDelta(t, 100, light.Lightness(1), 1e-9)
	assert.Zero(t, light.Lightness(0))
	for l := 0.0; l <= 100; l += 0.5 {
		assert.InDelta(t, l, light.Lightness(light.Share(l)), 1e-9)
	}
	// Both branches meet where they part.
	assert.InDelta(t, light.Lightness(216.0/24389), light.Lightness(216.0/24389*(1+1e-9)), 1e-6)
}

func ExampleWord() {
	fmt.Println(light.Word(light.Lightness(0.01)), light.Word(light.Lightness(0.5)))
	// Output: faint bright
}

var rgb = []light.Primary{{625, 30}, {525, 60}, {470, 15}}

// One colour alone is that colour; all three at White's currents are white.
func TestMixing(t *testing.T) {
	for i := range rgb {
		amps := make([]float64, 3)
		amps[i] = 0.01
		c, ok := light.Mix(rgb, amps)
		require.True(t, ok)
		assert.InDelta(t, 1, c[i], 1e-9, "colour %d", i)
		for k := range c {
			if k != i {
				assert.Less(t, c[k], 0.6)
			}
		}
	}
	amps, ok := light.White(rgb, 0.02)
	require.True(t, ok)
	assert.InDelta(t, 0.02, max(amps[0], amps[1], amps[2]), 1e-12)
	c, ok := light.Mix(rgb, amps)
	require.True(t, ok)
	for k := range c {
		assert.InDelta(t, 1, c[k], 0.005)
	}
	_, ok = light.Mix(rgb, make([]float64, 3))
	assert.False(t, ok)
	_, ok = light.White([]light.Primary{{625, 30}, {620, 60}, {630, 15}}, 0.02)
	assert.False(t, ok, "three reds give no white")
	_, ok = light.White([]light.Primary{{625, 30}, {525, 60}, {940, 15}}, 0.02)
	assert.False(t, ok, "infrared gives no colour")
}

// CIE 1931: the wavelengths of a helium-neon laser and of the sodium lines lie
// at 0.71, 0.29 and 0.57, 0.43.
func TestChromaticity(t *testing.T) {
	x, y, ok := light.Chromaticity(632.8)
	require.True(t, ok)
	assert.InDelta(t, 0.711, x, 0.001)
	assert.InDelta(t, 0.288, y, 0.001)
	x, y, ok = light.Chromaticity(589.3)
	require.True(t, ok)
	assert.InDelta(t, 0.571, x, 0.002)
	assert.InDelta(t, 0.428, y, 0.002)
	_, _, ok = light.Chromaticity(940)
	assert.False(t, ok)
}
