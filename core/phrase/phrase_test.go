package phrase_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/core/phrase"
	"cablaggio/core/plan"
)

var lib = build.Shipped()

func TestParse(t *testing.T) {
	for text, c := range map[string]struct{ understood, left string }{
		"2 red leds, a button, 10k pot":           {"2 red LEDs; 1 Button; 1 Potentiometer of 10 kΩ", ""},
		"3 LDRs and an NTC thermistor":            {"3 Light-dependent resistors; 1 NTC thermistor", ""},
		"blue led":                                {"1 blue LED", ""},
		"led":                                     {"1 red LED", ""},
		"three yellow lamps; two switches":        {"3 yellow LEDs; 2 Switches", ""},
		"2x push buttons":                         {"2 Buttons", ""},
		"resistor 4k7, 220R resistor":             {"1 Resistor of 4.7 kΩ; 1 Resistor of 220 Ω", ""},
		"4,7k resistor, 1M pot":                   {"1 Resistor of 4.7 kΩ; 1 Potentiometer of 1 MΩ", ""},
		"2 10k resistors":                         {"2 Resistors of 10 kΩ", ""},
		"a soil moisture sensor + a float switch": {"1 Soil-moisture sensor; 1 Float contact", ""},
		"10k pot dims the green led":              {"1 Potentiometer of 10 kΩ; 1 green LED, dimmed", ""},
		"rgb common anode":                        {"1 RGB LED, common anode", ""},
		"3 phototransistors, keypad 4x3":          {"3 Phototransistors; 1 Keypad 3x4", ""},
		"8 leds on a shift register":              {"1 Shift register with latch (74HC595); 8 red LEDs on it", ""},
		"12 green leds on shift registers, motor": {"2 Shift registers with latch (74HC595); 12 green LEDs on them; 1 Small motor", ""},
		"a knob dims a button":                    {"1 Button", "knob dims a"},
		"red led, a jet engine, button":           {"1 red LED; 1 Button", "a jet engine"},
		"2 ultraviolet leds":                      {"2 red LEDs", "ultraviolet"},
		"":                                        {"", ""},
		" , ;; and ":                              {"", ""},
		"99999999999999999999 leds":               {"1 red LED", "99999999999999999999"},
		"-3 leds":                                 {"1 red LED", "-3"},
		"0 leds":                                  {"1 red LED", "0"},
	} {
		got := phrase.Parse(lib.Catalogue, text)
		assert.Equal(t, c.understood, strings.Join(got.Understood, "; "), "%q", text)
		assert.Equal(t, c.left, strings.Join(got.Left, "; "), "%q", text)
	}
}

// What is understood can be taken.
func TestWhatIsUnderstoodCanBeTaken(t *testing.T) {
	got := phrase.Parse(lib.Catalogue, "2 red leds, a button, 22k pot, 3 ldrs, a digital sensor")
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), got.Edits)
	require.NoError(t, err)
	assert.Len(t, doc.Parts, 2*2+1+1+3*2+1)
	assert.Equal(t, 22000.0, doc.Part("potentiometer1").Values["track"])
}

// Every kind can be named, by each of its words and by its own name.
func TestEveryKindHasItsWords(t *testing.T) {
	for _, k := range lib.Catalogue.Kinds {
		require.NotEmpty(t, k.Words, k.ID)
		for _, w := range k.Words {
			got := phrase.Parse(lib.Catalogue, "2 "+w)
			require.Len(t, got.Edits, 2, w)
			assert.Equal(t, k.ID, got.Edits[0].Kind, w)
			assert.Empty(t, got.Left, w)
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add("2 red leds, a button, 10k pot")
	f.Add("4,7k resistor + 3x ldr")
	f.Fuzz(func(t *testing.T, text string) {
		got := phrase.Parse(lib.Catalogue, text)
		for _, e := range got.Edits {
			if _, ok := lib.Catalogue.Kind(e.Kind); !ok {
				t.Fatalf("%q made %+v", text, e)
			}
		}
		if len(got.Edits) > 0 && len(got.Edits) <= 5 {
			_, _, err := plan.Apply(lib, build.New("t", "classic-5v"), got.Edits)
			require.NoError(t, err)
		}
	})
}

// A sentence gives a build in which the lamps hang on the register.
func TestLampsOnARegister(t *testing.T) {
	got := phrase.Parse(lib.Catalogue, "12 leds on a shift register")
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), got.Edits)
	require.NoError(t, err)
	assert.True(t, doc.Joined("shift-register-latched2.qd", "led12-resistor.1"))
	assert.True(t, doc.Joined("shift-register-latched1.serial", "shift-register-latched2.data"))
}

// What is offered would be understood.
func TestCompletions(t *testing.T) {
	got := phrase.Parse(lib.Catalogue, "2 red leds, a pot")
	assert.Equal(t, "2 red leds, a potentiometer", got.Complete[0])
	for _, text := range []string{"bu", "3 ph", "a red led, key", "yel"} {
		got := phrase.Parse(lib.Catalogue, text)
		require.NotEmpty(t, got.Complete, text)
		for _, c := range got.Complete {
			assert.True(t, strings.HasPrefix(c, text))
		}
	}
	assert.Empty(t, phrase.Parse(lib.Catalogue, "b").Complete)
	assert.Empty(t, phrase.Parse(lib.Catalogue, "2 red leds, ").Complete)
}
