package part_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
)

var catalogue = part.Shipped()

// owner returns what a terminal of a hookup belongs to.
func owner(terminal string) string {
	who, _, _ := strings.Cut(terminal, ".")
	return who
}

func TestHookupsNameOnlyWhatThereIs(t *testing.T) {
	for _, k := range catalogue.Kinds {
		ids := map[string]bool{}
		for _, h := range k.Hookups {
			assert.False(t, ids[h.ID], "%s has two hookups %s", k.ID, h.ID)
			ids[h.ID] = true
			assert.NotContains(t, h.Name, "{", "%s %s", k.ID, h.ID)
			seen := map[string]bool{}
			for _, join := range h.Joins {
				assert.GreaterOrEqual(t, len(join), 2)
				for _, terminal := range join {
					if terminal == "host" {
						assert.NotNil(t, h.Host, "%s %s", k.ID, h.ID)
						continue
					}
					who, leg, ok := strings.Cut(terminal, ".")
					require.True(t, ok, terminal)
					switch who {
					case "self":
						assert.True(t, k.HasTerminal(leg), "%s %s: %s", k.ID, h.ID, terminal)
					case "pin":
						assert.True(t, slices.ContainsFunc(h.Signals, func(s part.Signal) bool { return s.Name == leg }), "%s %s: %s", k.ID, h.ID, terminal)
					case "board":
						assert.Contains(t, []string{"ground", "supply", "power"}, leg)
					default:
						i := slices.IndexFunc(h.Helpers, func(x part.Helper) bool { return x.Role == who })
						require.GreaterOrEqual(t, i, 0, "%s %s: %s", k.ID, h.ID, terminal)
						kind, ok := catalogue.Kind(h.Helpers[i].Kind)
						require.True(t, ok)
						assert.True(t, kind.HasTerminal(leg), "%s %s: %s", k.ID, h.ID, terminal)
					}
					if who != "board" {
						assert.False(t, seen[terminal], "%s %s joins %s twice", k.ID, h.ID, terminal)
						seen[terminal] = true
					}
				}
			}
			for _, s := range h.Signals {
				assert.True(t, seen["pin."+s.Name], "%s %s wires its signal %s nowhere", k.ID, h.ID, s.Name)
				assert.Contains(t, board.Functions, s.Needs)
			}
		}
	}
}

// What is drawn in a row is joined in that order.
func TestRowsFollowTheJoins(t *testing.T) {
	belongs := func(terminal, name string) bool { return terminal == name || owner(terminal) == name }
	for _, k := range catalogue.Kinds {
		for _, h := range k.Hookups {
			for i := 1; i < len(h.Row); i++ {
				joined := slices.ContainsFunc(h.Joins, func(join []string) bool {
					has := func(name string) bool {
						return slices.ContainsFunc(join, func(t string) bool { return belongs(t, name) })
					}
					return has(h.Row[i-1]) && has(h.Row[i])
				})
				assert.True(t, joined, "%s %s: %s is drawn beside %s and not joined to it", k.ID, h.ID, h.Row[i-1], h.Row[i])
			}
			if h.Tap != "" {
				assert.True(t, slices.ContainsFunc(h.Joins, func(join []string) bool { return slices.Contains(join, h.Tap) }), "%s %s", k.ID, h.ID)
			}
		}
	}
}

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
