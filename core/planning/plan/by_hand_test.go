package plan_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// A wire by hand takes the signal along: to the pin where its part is wired now, also through
// a resistor or a transistor; where it is not sure which, nothing moves.
func TestAWireTakesItsSignalAlong(t *testing.T) {
	led := []plan.Edit{plan.Add{Kind: "led", Pin: "D4"}, plan.Free{Terminal: "board.D4"}}
	join := func(a, b string) plan.Edit {
		return plan.Join{Terminal: build.Terminal(a), To: build.Terminal(b)}
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
	assert.Equal(t, "D4", pinOf(plan.Add{Kind: "resistor"}, join("resistor1.1", "board.D9"), join("resistor1.2", "board.GND")), "not over ground")
}

// A leg is named as people name it, as long as it is one.
func TestALegIsSaidInManyWays(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("said", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "led", Type: "blue", Name: "lamp 2"}, plan.AsBuilt{}})
	require.NoError(t, err)
	for said, leg := range map[string]build.Terminal{
		"led1.anode e20": "led1.anode", "led 1 anode e20": "led1.anode", "LED 2 cathode e20": "led2.cathode", "lamp 2 short e20": "led2.cathode",
		"red led long leg e20": "led1.anode", "long leg of led 2 in e20": "led2.anode", "led2-resistor one end e20": "led2-resistor.1",
	} {
		after, _, err := plan.Apply(lib, doc, []plan.Edit{plan.BuiltLeg{Text: said}})
		if assert.NoError(t, err, said) {
			assert.Equal(t, "e20", after.Assembly.Built.Legs[leg].String(), said)
		}
	}
	for said, right := range map[string]string{"led long e20": "may be ", "e20": "say which leg", "moon long e20": "there is no leg"} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.BuiltLeg{Text: said}})
		assert.ErrorContains(t, err, right, said)
	}
}
