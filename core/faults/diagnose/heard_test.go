package diagnose

import (
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/meter"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// A not turns round what is said, many things are each meant, and what says too little is asked
// for: nothing is heard as its opposite.
func TestHeard(t *testing.T) {
	empty := New(wiring.NewCache(), meter.Handheld(), build.Shipped(), build.New("empty", "classic-5v"))
	_, err := empty.SayAll("something gets hot")
	assert.ErrorContains(t, err, "unplug the board first", "also where nothing hangs on it yet")
	cases := map[string]*Case{}
	for _, x := range []struct{ build, said, words string }{
		{"demo/tram-stop", "the sign lamp is no longer lit", "Sign lamp is dark when D5 (sign lamp) is high."},
		{"demo/tram-stop", "the sign lamp isn't dark", "Sign lamp is lit when D5 (sign lamp) is low."},
		{"demo/tram-stop", "the sign lamp doesn't stay dark", "Sign lamp is lit when D5 (sign lamp) is low."},
		{"demo/tram-stop", "the sign lamp refuses to light up", "Sign lamp is dark when D5 (sign lamp) is high."},
		{"demo/tram-stop", "the sign lamp isn't very bright", "Sign lamp is dim when D5 (sign lamp) is high."},
		{"demo/tram-stop", "when I press the button nothing happens", "D2 (request button) reads high when request button is pressed."},
		{"demo/tram-stop", "pressing the request button has no effect", "D2 (request button) reads high when request button is pressed."},
		{"demo/tram-stop", "the button never reads low", "D2 (request button) reads high when request button is pressed."},
		{"demo/tram-stop", "the third lamp won't come on", "Sign lamp is dark when D5 (sign lamp) is high."},
		{"demo/tram-stop", "the platform lamps don't light", "Platform lamp left is dark when D4 (platform lamp left) is high. Platform lamp right is dark when D7 (platform lamp right) is high."},
		{"demo/tram-stop", "neither of the platform lamps lights", "Platform lamp left is dark when D4 (platform lamp left) is high. Platform lamp right is dark when D7 (platform lamp right) is high."},
		{"demo/tram-stop", "the USB port shuts off", "The board restarts."},
		{"demo/tram-stop", "the sign lamp goes out by itself", "Sign lamp flickers when D5 (sign lamp) is high."},
		{"starts/thermometer", "there is no sound", "Alarm does nothing when D7 (alarm) is high."},
		{"starts/four", "lamp 1 is brighter than the others", "Lamp 1 is too bright when D7 (lamp 1) is high."},
		{"demo/tram-stop", "the dimmer does nothing", "!which number does the program read there?"},
		{"demo/tram-stop", "the dusk sensor reads -40", "!which number"},
		{"demo/tram-stop", "the platform lamps are on in daylight", "!say it of its pin"},
		{"demo/tram-stop", "something gets hot", "!unplug the board first"},
		{"demo/tram-stop", "both lamps are dark", "!names nothing"},
	} {
		if cases[x.build] == nil {
			cases[x.build] = read(t, x.build)
		}
		c := cases[x.build]
		heard, err := c.SayAll(x.said)
		if right, ok := strings.CutPrefix(x.words, "!"); ok {
			assert.ErrorContains(t, err, right, x.said)
			continue
		}
		var words []string
		for _, o := range heard {
			words = append(words, c.Said(o).Words)
		}
		if assert.NoError(t, err, x.said) {
			assert.Equal(t, x.words, strings.Join(words, " "), x.said)
		}
	}
}
