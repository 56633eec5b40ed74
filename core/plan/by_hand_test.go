package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/core/plan"
)

// A wire by hand takes the signal along: to the pin where its part is wired now, also through
// a resistor or a transistor; where it is not sure which, nothing moves.
func TestAWireTakesItsSignalAlong(t *testing.T) {
	led := []plan.Edit{{Op: plan.Add, Kind: "led", Pin: "D4"}, {Op: plan.Free, Terminal: "board.D4"}}
	join := func(a, b string) plan.Edit {
		return plan.Edit{Op: plan.Join, Terminal: build.Terminal(a), To: build.Terminal(b)}
	}
	pinOf := func(edits ...plan.Edit) string {
		doc, _, err := plan.Apply(lib, build.New("by hand", "classic-5v"), slices.Concat(led, edits))
		require.NoError(t, err)
		return doc.Part("led1").Signals[0].Pin
	}
	assert.Equal(t, "D4", pinOf())
	assert.Equal(t, "D9", pinOf(join("led1-resistor.1", "board.D9")), "through its resistor")
	assert.Equal(t, "D9", pinOf(join("board.D9", "led1-resistor.1")), "whichever end is named first")
	assert.Equal(t, "D9", pinOf(join("led1-resistor.1", "board.D9"), join("led1-resistor.1", "board.D10")), "a second wire does not move it again")
	assert.Equal(t, "D4", pinOf(join("board.D8", "board.D9"), join("led1-resistor.1", "board.D9")), "two pins: which?")
	assert.Equal(t, "D4", pinOf(join("led1-resistor.1", "board.5V")), "a rail is no pin")
	assert.Equal(t, "D4", pinOf(plan.Edit{Op: plan.Add, Kind: "resistor"}, join("resistor1.1", "board.D9"), join("resistor1.2", "board.GND")), "not over ground")
}
