package part_test

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
)

// A host is a kind that is there, with the legs and the hookup that are asked
// for, and a part that hangs on one wires it.
func TestHostsAreThere(t *testing.T) {
	hosted := 0
	for _, k := range catalogue.Kinds {
		for _, h := range k.Hookups {
			uses := slices.ContainsFunc(h.Joins, func(join []string) bool { return slices.Contains(join, "host") })
			assert.Equal(t, h.Host != nil, uses, "%s %s", k.ID, h.ID)
			if h.Host == nil {
				continue
			}
			hosted++
			for _, id := range h.Host.Kinds {
				host, ok := catalogue.Kind(id)
				require.True(t, ok, id)
				for _, leg := range h.Host.Legs {
					assert.True(t, host.HasTerminal(leg), "%s %s: %s has no leg %s", k.ID, h.ID, id, leg)
				}
			}
			if h.Host.Hookup != "" {
				own, ok := k.Hookup(h.Host.Hookup)
				require.True(t, ok, "%s %s", k.ID, h.ID)
				assert.True(t, slices.ContainsFunc(own.Helpers, func(x part.Helper) bool { return slices.Contains(h.Host.Kinds, x.Kind) }))
			}
		}
	}
	assert.GreaterOrEqual(t, hosted, 5)
}

// Signals of a bus or a turn say so alike in every hookup of a kind, and what is
// let go has a level to be driven to.
func TestDrives(t *testing.T) {
	for _, k := range catalogue.Kinds {
		for _, h := range k.Hookups {
			groups := map[string]int{}
			for _, s := range h.Signals {
				assert.Contains(t, []string{"", part.ActiveLow}, s.Active, "%s %s", k.ID, h.ID)
				if s.Group != "" {
					groups[s.Group]++
				}
				if s.Open {
					assert.NotEmpty(t, s.Group, "%s %s: %s is let go by itself", k.ID, h.ID, s.Name)
				}
				if s.Bus != "" {
					assert.Empty(t, s.Group)
				}
			}
			for g, n := range groups {
				assert.GreaterOrEqual(t, n, 2, "%s %s: %s takes turns with nobody", k.ID, h.ID, g)
			}
		}
	}
}

// A case with several LEDs has the values of each: those of the type that it is.
func TestCasesHaveTheValuesOfTheirLEDs(t *testing.T) {
	led, _ := catalogue.Kind("led")
	rgb, ok := catalogue.Kind("led-rgb-cathode")
	require.True(t, ok)
	for _, e := range rgb.Emitters {
		for _, id := range []string{"forwardVoltage", "ideality", "luminousIntensity", "dominantWavelength", "targetCurrent"} {
			v, ok := rgb.Value(e.ID + "." + id)
			require.True(t, ok, "%s.%s", e.ID, id)
			assert.Contains(t, v.Name, e.Name)
			if id != "targetCurrent" {
				assert.Equal(t, led.Stated(e.Type, id), rgb.Stated("", v.ID))
			}
		}
	}
	bar, ok := catalogue.Kind("led-bar")
	require.True(t, ok)
	_, ok = bar.Value("forwardVoltage")
	assert.True(t, ok, "ten that are alike state it once")
	_, ok = bar.Value("1.forwardVoltage")
	assert.False(t, ok)
}

// Every symbol that the catalogue names is drawn, within the room that it has, from the one terminal
// to the other; and none is drawn that nobody names.
func TestEverySymbolIsDrawn(t *testing.T) {
	named := map[string]bool{"ground": true}
	for _, k := range catalogue.Kinds {
		assert.Contains(t, part.Symbols(), k.Symbol, k.ID)
		named[k.Symbol] = true
	}
	for name, s := range part.Symbols() {
		assert.True(t, named[name], name)
		left, right := false, name == "ground"
		for _, m := range s {
			strokes, err := m.Path.Strokes()
			require.NoError(t, err, name)
			for _, stroke := range strokes {
				for _, p := range stroke.To {
					assert.True(t, p[0] >= 0 && p[0] <= part.SymbolWidth && p[1] >= -28 && p[1] <= 20, "%s: %v", name, p)
					left = left || p == [2]float64{0, 0}
					right = right || p == [2]float64{part.SymbolWidth, 0}
				}
			}
		}
		assert.True(t, left && right, "%s joins end to end", name)
	}
}

// A path in small letters goes from where it is (SVG 2, 9.3).
func TestPaths(t *testing.T) {
	small, err := part.Path("M10 -5l3 4h-2v1.5c1 1 2 2 3 0zm1 1l1 1").Strokes()
	require.NoError(t, err)
	large, err := part.Path("M10 -5L13 -1H11V0.5C12 1.5 13 2.5 14 0.5ZM11 -4L12 -3").Strokes()
	require.NoError(t, err)
	assert.Equal(t, large, small)
	for _, wrong := range []part.Path{"A1 1 0 0 0 2 2", "M1", "M1 x", "L1 2,"} {
		_, err := wrong.Strokes()
		assert.Error(t, err, wrong)
	}
}

// Both schools of each hookup are there (common practice: where builders differ).
func TestBothSchools(t *testing.T) {
	for id, hookups := range map[string][]string{
		"led":                    {"resistor-at-pin", "resistor-at-ground", "low-side", "dimmed", "shared-resistor", "on-register"},
		"led-rgb-cathode":        {"resistor-each", "resistor-in-common"},
		"led-rgb-anode":          {"resistor-each", "resistor-in-common"},
		"button":                 {"ground-internal-pull-up", "ground-pull-up", "supply-pull-down", "ground-pull-up-debounced"},
		"thermistor":             {"divider-up", "divider-down"},
		"open-collector-sensor":  {"internal-pull-up", "external-pull-up"},
		"digital-sensor":         {"on-supply", "divided"},
		"shift-register-latched": {"own-data-line", "chained"},
		"keypad-4x3":             {"rows-driven", "columns-driven", "rows-driven-diodes"},
		"motor":                  {"mosfet", "npn"},
	} {
		k, ok := catalogue.Kind(id)
		require.True(t, ok, id)
		for _, h := range hookups {
			_, ok := k.Hookup(h)
			assert.True(t, ok, "%s has no hookup %s", id, h)
		}
	}
}
