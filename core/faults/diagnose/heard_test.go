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
		{"demo/tram-stop", "the dimmer does nothing", "The reading of dimmer stays the same."},
		{"demo/tram-stop", "it ignores the dusk sensor", "The reading of dusk sensor stays the same."},
		{"demo/tram-stop", "the dimmer works the wrong way round", "A1 (dimmer) reads 1023 when dimmer is at one end. A1 (dimmer) reads 0 when dimmer is at the other end."},
		{"demo/tram-stop", "left platform lamp is much dimmer than the right one", "Platform lamp left is dim when D4 (platform lamp left) is high."},
		{"demo/tram-stop", "the right platform lamp only works when I push it down", "Platform lamp right flickers when D7 (platform lamp right) is high."},
		{"demo/tram-stop", "the request button works only sometimes", "D2 (request button) jumps when request button is up."},
		{"demo/tram-stop", "sign lamp stays off whatever I do with the dimmer", "Sign lamp is dark when D5 (sign lamp) is high."},
		{"demo/tram-stop", "smoke came out of the sign lamp", "Sign lamp gets warm."},
		{"demo/quiz-table", "team 3's button doesn't work", "D16 (team 3 button) reads high when team 3 button is pressed."},
		{"demo/quiz-table", "score lamps 7 to 8 stay dark", "Score 7 is dark when qg of score register is high. Score 8 is dark when qh of score register is high."},
		{"starts/four", "doors 1 to 3 work, door 4 doesn't", "D6 (door 4) reads high when door 4 is at the magnet."},
		{"starts/four", "lamps 1 and 2 are swapped", "Lamp 2 is dark when D8 (lamp 2) is high. Lamp 1 is lit when D8 (lamp 2) is high. Lamp 1 is dark when D7 (lamp 1) is high. Lamp 2 is lit when D7 (lamp 1) is high."},
		{"starts/toggle", "I press the button and nothing happens", "D4 (button) reads high when button is pressed."},
		{"starts/dimmer", "the moon flickers when I turn the knob", "A0 (moon knob) jumps when moon knob is at one end."},
		{"starts/dimmer", "the moon is either full or dark", "!now this and now that"},
		{"starts/toggle", "sometimes it toggles twice", "!a contact bounces"},
		{"starts/toggle", "the lamp lights only when the moon is full", "!is no state that is known of this build"},
		{"starts/row", "every second lamp is dark", "!name them"},
		{"starts/row", "lamps 2 and 5 light together", "Lamp 2 is lit when D8 (lamp 5) is high. Lamp 5 is lit when D4 (lamp 2) is high."},
		{"starts/four", "the first two lamps don't work", "Lamp 1 is dark when D7 (lamp 1) is high. Lamp 2 is dark when D8 (lamp 2) is high."},
		{"starts/thermometer", "too warm lamp lights at room temperature", "Too warm is lit when D4 (too warm) is high."},
		{"starts/thermometer", "no alarm", "Alarm does nothing when D7 (alarm) is high."},
		{"starts/dimmer", "moon only half bright", "Moon is dim when D5 (moon) is high."},
		{"starts/button", "lamp lights even when I don't press", "Lamp is lit when D7 (lamp) is low."},
		{"starts/colours", "the sky is never red", "Red of sky is dark when D5 (sky) is high."},
		{"starts/colours", "green doesn't light", "Green of sky is dark when D6 (sky) is high."},
		{"starts/colours", "the sky is dark", "Red of sky is dark when D5 (sky) is high. Green of sky is dark when D6 (sky) is high. Blue of sky is dark when D9 (sky) is high."},
		{"starts/colours", "the sky flickers", "!which one is meant"},
		{"starts/digit", "the middle bar of the number never lights", "Bar g of number is dark when D10 (number) is high."},
		{"starts/digit", "the top segment stays dark", "Bar a of number is dark when D2 (number) is high."},
		{"starts/dimmer", "the moon won't go completely dark", "Moon is faint when D5 (moon) is low."},
		{"starts/dusk", "lamp doesn't react to light at all", "The reading of dusk sensor stays the same."},
		{"starts/four", "only door 1 works", "D4 (door 2) reads high when door 2 is at the magnet. D5 (door 3) reads high when door 3 is at the magnet. D6 (door 4) reads high when door 4 is at the magnet."},
		{"starts/row", "lamp 2 is lit together with lamp 3", "Lamp 2 is lit when D5 (lamp 3) is high. Lamp 3 is lit when D4 (lamp 2) is high."},
		{"starts/row", "all lamps but the fourth work", "Lamp 4 is dark when D7 (lamp 4) is high."},
		{"starts/register", "the lamps light in a wild pattern", "!which lamp lights when which should"},
		{"starts/thermometer", "the alarm won't stop", "!is for the program first"},
		{"starts/toggle", "my lamp is dead but the button works", "Reading lamp is dark when D7 (reading lamp) is high."},
		{"starts/toggle", "my lamp stays dark but sometimes it works", "Reading lamp flickers when D7 (reading lamp) is high."},
		{"starts/button", "the lamp only lights while I hold the wire", "Lamp flickers when D7 (lamp) is high."},
		{"starts/button", "lamp on when released, off when pressed", "!now this and now that"},
		{"starts/hold", "spotlight can't be dimmed", "!does not say what it does"},
		{"demo/tram-stop", "button always active", "D2 (request button) reads low when request button is up."},
		{"demo/tram-stop", "neither platform lamp comes on", "Platform lamp left is dark when D4 (platform lamp left) is high. Platform lamp right is dark when D7 (platform lamp right) is high."},
		{"demo/tram-stop", "one of the platform lamps is dead", "!which one is meant"},
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
