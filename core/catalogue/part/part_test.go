package part_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
)

var catalogue = part.Shipped()

// The safest hookup is the default: an LED has its resistor, a contact needs
// nothing that could be forgotten.
func TestTheDefaultIsTheSafest(t *testing.T) {
	led, _ := catalogue.Kind("led")
	assert.Len(t, led.Hookups[0].Helpers, 1)
	for _, id := range []string{"button", "switch", "tilt-contact", "reed-contact", "float-contact"} {
		k, ok := catalogue.Kind(id)
		require.True(t, ok, id)
		require.NotEmpty(t, k.Hookups, id)
		assert.Equal(t, board.PullUp, k.Hookups[0].Signals[0].Pull, id)
		assert.Len(t, k.Hands[0].Settings, 2, id)
	}
}

func TestEveryValueSaysItsSource(t *testing.T) {
	for _, k := range catalogue.Kinds {
		for _, v := range k.Values {
			types := k.Types
			if len(types) == 0 {
				types = []part.Type{{}}
			}
			for _, typ := range types {
				stated := k.Stated(typ.ID, v.ID)
				require.NoError(t, stated.Check(), "%s %s %s", k.ID, typ.ID, v.ID)
				assert.GreaterOrEqual(t, stated.Low, v.Min, "%s %s %s", k.ID, typ.ID, v.ID)
				assert.LessOrEqual(t, stated.High, v.Max, "%s %s %s", k.ID, typ.ID, v.ID)
			}
		}
	}
}

// The order of forward voltages is the order of the photons' energies, which
// every table of LEDs shows (common practice): red below green below blue.
func TestForwardVoltages(t *testing.T) {
	led, _ := catalogue.Kind("led")
	last := 0.0
	for _, id := range []string{"red", "amber", "yellow", "green", "blue"} {
		v := led.Stated(id, "forwardVoltage").Typ
		assert.Greater(t, v, last, id)
		last = v
	}
	assert.Equal(t, led.Stated("blue", "forwardVoltage"), led.Stated("white", "forwardVoltage"), "a white LED is a blue one with a phosphor")
}
