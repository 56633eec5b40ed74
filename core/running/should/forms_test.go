package should_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/testkit/ready"
)

// A digit that counts presses does, and one that leaves a figure out, or counts each press twice, does
// not.
func TestCounts(t *testing.T) {
	doc := ready.Build(t, lib, "digit")
	sound := doc.Program.Text
	for program, holds := range map[string]bool{
		sound: true,
		strings.Replace(sound, "(number + 1)", "(number + 2)", 1):           false,
		strings.Replace(sound, "if (!pressed) return;", "", 1):              false,
		strings.Replace(sound, "show(number);\n}", "show(0);\n}", 2):        false,
		strings.Replace(sound, "(number + 1) % 10", "(number + 9) % 10", 1): false,
	} {
		doc.Program.Text = program
		doc.Should = []string{"every push counts one further", "it starts at 0"}
		v := try(t, doc, 5)
		assert.Equal(t, "each press of next counts number up by one", v[0].Says)
		assert.Equal(t, holds, v[0].Holds, "%+v\n%s", v[0].Broken, program)
		assert.True(t, v[1].Holds)
	}
}

// What stands for something else is never taken by half, and says nothing of parts that are not there.
func TestTurnsOfSpeechAreReadWhole(t *testing.T) {
	for build, list := range map[string][]string{
		"four":        {"the sign can be dimmed", "below 25 it's quiet", "turn it down and lamp 1 goes out", "the display counts my presses", "every push counts one further", "brightness goes with the knob"},
		"thermometer": {"press on, press off", "shine a torch on it and the lamp goes out", "at standstill everything is off", "it starts at 0"},
		"crane":       {"the lamp can be dimmed with the pink knob", "hotter than 30 the bell rings", "either the bell or the whistle, never both"},
		"toggle":      {"no water, no lamp", "it's locked at power on", "the more I turn the knob the brighter the lamp", "lamp 3 tells me that door 3 is open"},
	} {
		for _, said := range list {
			s, err := reader(t, build).Read(said)
			if assert.Error(t, err, "%s: %s", build, said) {
				assert.Nil(t, s)
			}
		}
	}
}
