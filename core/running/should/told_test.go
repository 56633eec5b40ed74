package should

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/running/bench"
)

// What hands do is told with the pauses between that are worth waiting for, up to the moment that is
// meant, and what is held is held for so long.
func TestStory(t *testing.T) {
	pad := bench.Hand{Kind: bench.PadOf, Of: "p", Name: "pad", Keys: []string{"row 1 column 1", "row 1 column 2"}, Legends: "AB"}
	knob := bench.Hand{Kind: bench.Levels, Of: "k", Name: "knob", Unit: turns, Most: 1}
	sun := bench.Hand{Kind: bench.Levels, Of: "s", Name: "sun", Unit: "lx", Most: 100_000}
	wheel := bench.Hand{Kind: bench.Spins, Of: "w", Name: "wheel", Most: 20}
	float := bench.Hand{Kind: bench.Switches, Of: "f", Name: "float", Off: "hanging", On: "floating up"}
	hands := []bench.Hand{button, other, pad, knob, sun, wheel, float}
	key := func(at float64, do bench.Verb) bench.Action {
		return bench.Action{At: at, Do: do, Of: "p", Key: "row 1 column 2"}
	}
	for name, x := range map[string]struct {
		actions []bench.Action
		until   float64
		says    string
	}{
		"nothing":                {nil, 0.1, "do nothing"},
		"nothing, for long":      {nil, 3, "wait 3 s"},
		"a tap":                  {[]bench.Action{press(1), release(1.15)}, 1.2, "wait 1 s, press b"},
		"a tap, and what comes":  {[]bench.Action{press(1), release(1.15)}, 9.5, "wait 1 s, press b, wait 8.5 s"},
		"two at once":            {[]bench.Action{press(1), {At: 1.05, Do: bench.Press, Of: "c"}}, 1.2, "wait 1 s, press b, press c"},
		"held":                   {[]bench.Action{press(1), release(3)}, 5, "wait 1 s, hold b for 2 s, wait 2 s"},
		"held till then":         {[]bench.Action{press(1)}, 5, "wait 1 s, hold b for 4 s"},
		"held, and another":      {[]bench.Action{press(1), {At: 2, Do: bench.Press, Of: "c"}, {At: 2.1, Do: bench.Release, Of: "c"}, release(3)}, 3.5, "wait 1 s, hold b for 2 s, wait 1 s, press c, wait 1.5 s"},
		"a key by what is on it": {[]bench.Action{key(0.1, bench.Press), key(0.2, bench.Release)}, 0.2, "press key B on pad"},
		"a knob":                 {[]bench.Action{{At: 0.1, Do: bench.Turn, Of: "k", To: 0.25}}, 0.2, "turn knob to 25 %"},
		"a sensor":               {[]bench.Action{{At: 0.1, Do: bench.Set, Of: "s", To: 1999.87}}, 0.2, "set sun to 2000 lx"},
		"a wheel":                {[]bench.Action{{At: 0.1, Do: bench.Spin, Of: "w", To: 2.5}}, 0.2, "spin wheel at 2.5 a second"},
		"a float":                {[]bench.Action{{At: 0.1, Do: bench.Press, Of: "f"}}, 0.2, `float goes to "floating up"`},
		"a text":                 {[]bench.Action{{At: 0.1, Do: bench.Type, Text: "on\n"}}, 0.2, `type "on"`},
		"not what comes later":   {[]bench.Action{press(1), release(1.1), {At: 4, Do: bench.Press, Of: "c"}}, 2, "wait 1 s, press b, wait 1 s"},
	} {
		assert.Equal(t, x.says, story(hands, x.actions, x.until), name)
	}
}

// What took nine tenths of its time holds only just, and what took less does not say so.
func TestBarely(t *testing.T) {
	s := &Sentence{form: each, doing: doing{hand: button}, things: []thing{lampX}, claim: lit, within: 100 * time.Millisecond}
	for late, barely := range map[float64]bool{0.02: false, 0.085: false, 0.095: true, 0.099: true} {
		rec := recording(3, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 0, 1+late, 80))
		assert.InDelta(t, late, s.slowest(rec), 1e-6)
		said := s.barely(s.slowest(rec))
		assert.Equal(t, barely, said != "", "%g: %q", late, said)
		if barely {
			assert.True(t, strings.HasSuffix(said, "of 100 ms"), said)
		}
	}
	rec := recording(3, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 80))
	assert.Zero(t, s.slowest(rec), "what is lit already takes no time")
	s.claim = leaves
	assert.Zero(t, s.slowest(recording(3, []bench.Action{press(1)}, lampRow("x", 0, 0, 1.09, 80))), "what is to stay so has none")
}

func TestExtent(t *testing.T) {
	assert.Equal(t, "tried in 1 run, 1 move of hands, 6 s", extent(1, 1, 6))
	assert.Equal(t, "tried in 26 runs, 52 moves of hands, 160 s", extent(26, 52, 159.6))
	assert.Equal(t, "tried in 2 runs, no hand, 12 s", extent(2, 0, 12))
}
