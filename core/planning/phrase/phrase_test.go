package phrase_test

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/phrase"
	"cablaggio/core/planning/plan"
)

var lib = build.Shipped()

// What people say, and what is understood of it: each is looked at by hand before it stands in
// the table. What is understood can be taken.
func TestSayings(t *testing.T) {
	file, err := os.ReadFile("testdata/sayings.txt")
	require.NoError(t, err)
	n := 0
	for line := range strings.Lines(string(file)) {
		text, want, ok := strings.Cut(strings.TrimRight(line, "\n"), " => ")
		if !ok {
			continue
		}
		n++
		got := phrase.Parse(lib.Catalogue, text)
		is := strings.Join(got.Understood, "; ")
		for _, l := range got.Left {
			is += " ! " + l.Text + ": " + l.Why
		}
		assert.Equal(t, want, is, "%q", text)
		_, _, err := plan.Apply(lib, build.New("t", "large-5v"), got.Edits)
		if len(got.Edits) > 0 {
			assert.NoError(t, err, text)
		}
	}
	assert.GreaterOrEqual(t, n, 300)
}

// Any order of count, colour, value and noun, singular and plural, says the same.
func TestOrderDoesNotMatter(t *testing.T) {
	for _, n := range []string{"2", "two", "2x", "a pair of"} {
		for _, colour := range []string{"red", "amber", "yellow", "green", "blue", "white"} {
			for _, form := range []string{"%n %c leds with 220 ohm", "%n %c leds with 220R", "%n leds %c with 220 ohms", "%n 220 ohm %c leds", "%n %c led 220 ohm", "%n %c lamps with a 220 ohm"} {
				text := strings.NewReplacer("%n", n, "%c", colour).Replace(form)
				got := phrase.Parse(lib.Catalogue, text)
				assert.Equal(t, []string{"2 " + colour + " LEDs with 220 Ω"}, got.Understood, text)
				assert.Empty(t, got.Left, text)
				if assert.Len(t, got.Edits, 2) {
					assert.Equal(t, plan.Add{Kind: "led", Type: colour, Value: "resistance", Text: got.Edits[0].(plan.Add).Text}, got.Edits[0])
				}
			}
		}
	}
}

// The value that is said of a lamp is its resistor's.
func TestALampWithItsResistor(t *testing.T) {
	got := phrase.Parse(lib.Catalogue, "a blue led with 47 ohm, an rgb led with 1k")
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), got.Edits)
	require.NoError(t, err)
	assert.Equal(t, 47.0, doc.Part("led1-resistor").Values["resistance"])
	assert.False(t, doc.Part("led1-resistor").Chosen)
	n := 0
	for _, p := range doc.Parts {
		if p.Of == "led-rgb-cathode1" && p.Values["resistance"] == 1000 {
			n++
		}
	}
	assert.Equal(t, 3, n)
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
			assert.Equal(t, k.ID, got.Edits[0].(plan.Add).Kind, w)
			assert.Empty(t, got.Left, w)
		}
	}
}

// A builder who calls a part of his own by a word of the catalogue means his own by it.
func TestOnesOwnNameWins(t *testing.T) {
	for _, name := range []string{"button", "potentiometer", "servo", "Motion Module"} {
		leaflet := part.Leaflet{Name: name, Sort: part.Closer, Legs: []part.LeafletLeg{{Is: part.EndLeg}, {Is: part.EndLeg}}}
		k, err := leaflet.Kind(part.OwnPrefix+"thing", lib.Catalogue)
		require.NoError(t, err)
		got := phrase.Parse(lib.Catalogue.With([]part.Kind{*k}), "2 "+name+"s and a red led")
		require.Len(t, got.Edits, 3, name)
		assert.Equal(t, "own-thing", got.Edits[0].(plan.Add).Kind, name)
		assert.Equal(t, "led", got.Edits[2].(plan.Add).Kind)
	}
}

func FuzzParse(f *testing.F) {
	f.Add("2 red leds, a button, 10k pot")
	f.Add("4,7k resistor + 3x ldr")
	f.Fuzz(func(t *testing.T, text string) {
		got := phrase.Parse(lib.Catalogue, text)
		for _, e := range got.Edits {
			if _, ok := lib.Catalogue.Kind(e.(plan.Add).Kind); !ok {
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
