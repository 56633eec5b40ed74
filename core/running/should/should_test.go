package should_test

import (
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/program"
	"cablaggio/core/running/should"
	"cablaggio/core/testkit"
	"cablaggio/core/testkit/ready"
	"cablaggio/demo"
	"cablaggio/starts"
	"cablaggio/toolchain"
)

var lib = build.Shipped()

// try tries the sentences of a build.
func try(t testing.TB, doc *build.Document, tries int) []should.Verdict {
	t.Helper()
	b, _ := lib.Board(doc.Board)
	made, err := toolchain.New().Compile(t.Context(), doc.Program, b)
	require.NoError(t, err)
	require.NotNil(t, made.Program, "%+v", made.Messages)
	return with(t, doc, made, tries)
}

func with(t testing.TB, doc *build.Document, made *program.Compiled, tries int) []should.Verdict {
	t.Helper()
	bare := doc.Clone()
	bare.Program = nil
	v, err := should.Try(t.Context(), wiring.Build(lib, bare), made, doc.Should, should.Options{Tries: tries, Seed: 1})
	require.NoError(t, err)
	return v
}

func TestReadyBuildsDoWhatTheyShould(t *testing.T) {
	names := []string{"toggle", "thermometer"}
	tries := 12
	if testkit.Wide() {
		tries = 10_000
		names = nil
		for _, s := range starts.All() {
			names = append(names, s.ID)
		}
		for _, d := range demo.Builds() {
			if !strings.Contains(d.Name, "mistakes") {
				names = append(names, d.Name)
			}
		}
	}
	for _, name := range names {
		for _, v := range try(t, ready.Build(t, lib, name), tries) {
			assert.Empty(t, v.Wrong, "%s: %s", name, v.Text)
			assert.True(t, v.Holds, "%s: %s: %+v", name, v.Text, v.Broken)
			assert.NotZero(t, v.Tried, "%s: %s was never tried", name, v.Text)
		}
	}
}

// Each program, or wiring, is broken in one place, and what breaks is found with few hands.
func TestBrokenPrograms(t *testing.T) {
	for _, x := range []struct {
		build, was, is string
		says, words    string // the sentence that breaks, and how
		actions        int    // of the shortest run, at most
	}{
		{"toggle", "settle = 20", "settle = 0", "each press of button changes reading lamp, within 100 ms", "button was pressed at", 2},
		{"toggle", "readingLamp = 7", "readingLamp = 8", "each press of button changes reading lamp, within 100 ms", "stayed dark", 2},
		{"blink", "delay(1500)", "delay(500)", "firefly blinks at 0.5 Hz", "blinks at 1 Hz", 0},
		{"dimmer", "reading / 4", "reading / 2", "turning moon knob takes moon from dark to full", "darker than at", 9},
		{"button", "== LOW", "== HIGH", "while bell push is pressed, lamp is lit", "lamp is dark", 2},
		{"row", "digitalWrite(lamps[i], LOW)", "digitalWrite(lamps[0], LOW)", "lamp 1, lamp 2, lamp 3, lamp 4, lamp 5 and lamp 6 light one at a time", "are lit together", 0},
		{"thermometer", "limit = 28", "limit = 38", "while thermometer is above 30 °C, too warm is lit", "too warm is dark", 1},
	} {
		doc := ready.Build(t, lib, x.build)
		require.Contains(t, doc.Program.Text, x.was)
		doc.Program.Text = strings.Replace(doc.Program.Text, x.was, x.is, 1)
		found := false
		for _, v := range try(t, doc, 20) {
			if v.Says != x.says {
				continue
			}
			found = true
			if assert.False(t, v.Holds, "%s with %s", x.build, x.is) {
				assert.Contains(t, v.Broken.Words, x.words)
				assert.LessOrEqual(t, len(v.Broken.Actions), x.actions, "%v", v.Broken.Actions)
				assert.NotEmpty(t, v.Broken.Of)
			}
		}
		assert.True(t, found, x.says)
	}
}

// Of each ready build with sentences three programs are known that break one.
func TestThreeBrokenProgramsOfEach(t *testing.T) {
	known := map[string]int{}
	for _, x := range lines(t, "broken.txt") {
		name, was, is := x[0], x[1], x[2]
		known[name]++
		if !testkit.Wide() && (name != "hold" && name != "dusk" || known[name] > 1) {
			continue
		}
		doc := ready.Build(t, lib, strings.TrimPrefix(name, "demo/"))
		require.Contains(t, doc.Program.Text, was, name)
		doc.Program.Text = strings.Replace(doc.Program.Text, was, is, 1)
		assert.True(t, slices.ContainsFunc(try(t, doc, 60), func(v should.Verdict) bool { return v.Wrong == "" && !v.Holds }), "%s with %q for %q", name, is, was)
	}
	for name, n := range known {
		assert.GreaterOrEqual(t, n, 3, name)
	}
	assert.Len(t, known, 15)
}

func TestBrokenWiringIsToldFromTheProgram(t *testing.T) {
	doc := ready.Build(t, lib, "button")
	i := doc.NetOf("led1.cathode")
	require.GreaterOrEqual(t, i, 0)
	b, _ := lib.Board(doc.Board)
	made, err := toolchain.New().Compile(t.Context(), doc.Program, b)
	require.NoError(t, err)
	doc.Free("led1.cathode")
	v := with(t, doc, made, 5)[0]
	require.False(t, v.Holds)
	assert.Equal(t, v, with(t, doc, made, 5)[0], "the same seed, the same answer")
	assert.Contains(t, v.Broken.Words, "lamp is dark")
}

// lines are the lines of a table in testdata, in cells.
func lines(t testing.TB, file string) (out [][]string) {
	t.Helper()
	data, err := os.ReadFile("testdata/" + file)
	require.NoError(t, err)
	for line := range strings.Lines(string(data)) {
		cells := strings.Split(line, "|")
		for i := range cells {
			cells[i] = strings.TrimSpace(cells[i])
		}
		if !strings.HasPrefix(line, "#") && len(cells) == 3 {
			out = append(out, cells)
		}
	}
	require.NotEmpty(t, out, file)
	return out
}

func reader(t testing.TB, id string) *should.Reader {
	bare := ready.Build(t, lib, id)
	bare.Program = nil
	return should.NewReader(wiring.Build(lib, bare))
}

func TestSentences(t *testing.T) {
	for _, x := range []struct{ build, text, says string }{
		{"four", "While the door 1 is open, the lamp 1 is lit.", "while door 1 is away from the magnet, lamp 1 is lit"},
		{"four", "as long as door 2 is at the magnet, lamp 2 is off", "while door 2 is at the magnet, lamp 2 is dark"},
		{"four", "door 1 is open, lamp 1 is lit", "while door 1 is away from the magnet, lamp 1 is lit"},
		{"four", "while door 9 is open, lamp 1 is lit", "!say it as \"while door 1 is at the magnet, lamp 1 is lit\""},
		{"four", "while door 1 is purple, lamp 1 is lit", "!\"purple\" is not understood here"},
		{"four", "while door 1 is open sings", "!\"sings\" is not understood"},
		{"four", "while door 1 is open lamp 1", "!what they say together is not"},
		{"four", "when door 1 is open the moon lights", "!\"moon\" is not understood here"},
		// The same in the words of people.
		{"four", "while door 1 is open lamp 1 is lit", "while door 1 is away from the magnet, lamp 1 is lit"},
		{"four", "lamp 2 should be lit when door 2 is open", "while door 2 is away from the magnet, lamp 2 is lit"},
		{"four", "if door 1 is open then lamp 1 lights", "while door 1 is away from the magnet, lamp 1 is lit"},
		{"four", "lamp 1 and lamp 2 are dark", "lamp 1 and lamp 2 are dark"},
		{"four", "all lamps are off", "lamp 1, lamp 2, lamp 3 and lamp 4 are dark"},
		{"four", "both lamps are off", "!"},
		{"four", "lamp 3 is never lit", "lamp 3 is dark"},
		{"four", "only one of lamp 1, lamp 2 is lit at a time", "lamp 1 and lamp 2 light one at a time"},
		{"four", "lamp 1 and lamp 3 blink twice a second", "lamp 1 and lamp 3 blink at 2 Hz"},
		{"four", "lamp 1 blinks every 500 ms", "lamp 1 blinks at 2 Hz"},
		{"toggle", "pressing the button turns the reading lamp on within 200 milliseconds", "each press of button lights reading lamp, within 200 ms"},
		{"toggle", "each press toggles the reading lamp", "each press of button changes reading lamp"},
		{"toggle", "every time the button is pushed, the reading lamp changes within 1 second", "each press of button changes reading lamp, within 1 s"},
		{"toggle", "when the button is pressed the reading lamp toggles", "each press of button changes reading lamp"},
		{"toggle", "the reading lamp must be lit while the button is held down", "while button is pressed, reading lamp is lit"},
		{"thermometer", "the alarm should sound above 30 °C", "while thermometer is above 30 °C, alarm sounds"},
		{"thermometer", "too warm is never lit below 20 °C", "while thermometer is below 20 °C, too warm is dark"},
		{"dimmer", "turning the moon knob makes the moon brighter", "turning moon knob takes moon from dark to full"},
		{"dimmer", "turning the moon knob up dims the moon", "turning moon knob takes moon from full to dark"},
		{"blink", "nothing is ever over its limit", should.Limits},
		{"four", "lamp 1 and lamp 2 are never lit together", "lamp 1 and lamp 2 light one at a time"},
		{"four", "lamp 1 lights one at a time", "!"},
		{"four", "lamp 1 blinks at 2 Hz", "lamp 1 blinks at 2 Hz"},
		{"four", "lamp 1 sings", "!\"sings\" is not understood"},
		{"four", "lamp 1 opens", "!what does lamp 1 do? It is lit, or is dark"},
		{"toggle", "every press of the button toggles the reading lamp within 100 ms", "each press of button changes reading lamp, within 100 ms"},
		{"toggle", "each press of the button paints the reading lamp", "!\"paints\" is not understood here"},
		{"toggle", "each press of the bell changes the reading lamp", "!each press of button changes reading lamp"},
		{"toggle", "while the button is held, the reading lamp is lit, within 2.5 s", "while button is pressed, reading lamp is lit, within 2.5 s"},
		{"toggle", "while the button is held, the reading lamp is lit, within 900 s", "!within how long?"},
		{"thermometer", "Above 30 °C, the alarm sounds at 660 Hz", "while thermometer is above 30 °C, alarm sounds at 660 Hz"},
		{"thermometer", "while the thermometer is below 300 °C, the alarm is silent", "!thermometer goes from"},
		{"thermometer", "above 30 lx the alarm sounds", "!nothing here is measured in \"lx\""},
		{"dimmer", "turning the moon knob takes the moon from dark to bright", "turning moon knob takes moon from dark to full"},
		{"dimmer", "turning the moon knob takes the sun from dark to full", "!say which lamp"},
		{"dimmer", "while the moon knob is above 90 %, the moon is full", "while moon knob is above 90 %, moon is full"},
		{"keypad", "each press of key * of the keypad lights locked", "each press of key * on keypad lights locked"},
		{"keypad", "each press of key 12 of the keypad lights locked", "!has no key \"12\""},
		{"keypad", "each press of the keypad lights locked", "!which key?"},
		{"wheel", "while the water wheel spins above 1 Hz, the flow lamp is lit", "while water wheel is above 1 Hz, flow lamp is lit"},
		{"wheel", "while the water wheel stands still, the alarm sounds", "while water wheel stands still, alarm sounds"},
		{"colours", "turning the red knob takes the red of the sky from dark to full", "turning red knob takes red of sky from dark to full"},
		{"tram-stop", "when the button is pressed, the stop request lamp toggles", "each press of request button changes stop request lamp"},
		{"tram-stop", "after pressing the button the stop request lamp lights within 50 ms", "each press of request button lights stop request lamp, within 50 ms"},
		{"tram-stop", "if it is dark the platform lamps are on", "while dusk sensor is below 5 lx, platform lamp left and platform lamp right are lit"},
		{"tram-stop", "when it gets dark, the platform lamps come on", "while dusk sensor is below 5 lx, platform lamp left and platform lamp right are lit"},
		{"tram-stop", "the platform lamps are lit at night", "while dusk sensor is below 5 lx, platform lamp left and platform lamp right are lit"},
		{"tram-stop", "in daylight both platform lamps are off", "while dusk sensor is above 1000 lx, platform lamp left and platform lamp right are dark"},
		{"tram-stop", "the dimmer controls the brightness of the sign lamp", "turning dimmer takes sign lamp from dark to full"},
		{"tram-stop", "the sign lamp follows the knob", "turning dimmer takes sign lamp from dark to full"},
		{"tram-stop", "at full dimmer the sign lamp is at its brightest", "while dimmer is above 98 %, sign lamp is full"},
		{"tram-stop", "when the dimmer is at zero, the sign lamp is off", "while dimmer is below 2 %, sign lamp is dark"},
		{"tram-stop", "the stop request lamp is off at the start", "before anything is touched, stop request lamp is dark"},
		{"tram-stop", "when nobody presses anything the stop request lamp stays dark", "before anything is touched, stop request lamp is dark"},
		{"tram-stop", "the platform lamps never light together", "platform lamp left and platform lamp right light one at a time"},
		{"blink", "never is anything over its limit", should.Limits},
		{"blink", "", "!names nothing that lights, sounds or runs here; there is firefly"},
	} {
		s, err := reader(t, x.build).Read(x.text)
		if right, ok := strings.CutPrefix(x.says, "!"); ok {
			assert.ErrorContains(t, err, right, x.text)
			continue
		}
		if assert.NoError(t, err, x.text) {
			assert.Equal(t, x.says, s.Says, x.text)
			again, err := reader(t, x.build).Read(s.Says)
			if assert.NoError(t, err, "what it says is understood") {
				assert.Equal(t, s.Says, again.Says)
			}
		}
	}
}

// A hand may be named after what it lights.
func TestAButtonNamedAfterItsLamp(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("named", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Name: "porch"}, plan.Add{Kind: "button", Name: "porch button"}})
	require.NoError(t, err)
	s, err := should.NewReader(wiring.Build(lib, doc)).Read("when the porch button is pressed the porch is lit")
	require.NoError(t, err)
	assert.Equal(t, "while porch button is pressed, porch is lit", s.Says)
}

func FuzzSentences(f *testing.F) {
	for _, s := range []string{"while door 1 is open, lamp 1 is lit", "each press of door 1 changes lamp 1", "above 3 lx lamp 1 is lit", "turning", "key of", "\x00"} {
		f.Add(s)
	}
	r := reader(f, "four")
	f.Fuzz(func(t *testing.T, text string) {
		if s, err := r.Read(text); err == nil && s.Says == "" {
			t.Errorf("%q says nothing", text)
		}
	})
}

// What is suggested is understood, for every kind of part beside a lamp.
func TestSuggestions(t *testing.T) {
	docs := ready.Builds(t, lib)
	for _, k := range lib.Catalogue.Kinds {
		for _, h := range k.Hookups {
			doc, _, err := plan.Apply(lib, build.New(k.ID, "wireless-3v3"), []plan.Edit{plan.Add{Kind: k.ID, Hookup: h.ID}, plan.Add{Kind: "led"}})
			if err == nil {
				docs[k.ID+" "+h.ID] = doc
				break
			}
		}
	}
	assert.Greater(t, len(docs), 40)
	for name, doc := range docs {
		r := should.NewReader(wiring.Build(lib, doc))
		list := r.Suggest()
		assert.NotEmpty(t, list, name)
		for _, text := range list {
			_, err := r.Read(text)
			assert.NoError(t, err, "%s: %s", name, text)
		}
	}
}
