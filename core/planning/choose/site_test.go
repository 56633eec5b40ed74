package choose_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
)

var lib = build.Shipped()

func parse(t *testing.T, text string) *build.Document {
	t.Helper()
	doc, err := lib.Parse([]byte(text))
	require.NoError(t, err)
	return doc
}

// An RGB LED whose green has a resistor of its own, and whose red and blue share
// none with it.
const rgbText = `{"format":"cablaggio.build/1","title":"t","board":"classic-5v","parts":[
 {"id":"rgb","kind":"led-rgb-cathode","name":"rgb","signals":[{"name":"green","needs":"pwm-out","pin":"D9"},{"name":"red","needs":"pwm-out","pin":"D10"}]},
 {"id":"r1","kind":"resistor","name":"r1"},{"id":"r2","kind":"resistor","name":"r2","values":{"resistance":100}}],
 "nets":[["board.D9","r1.1"],["r1.2","rgb.green"],["board.D10","r2.1"],["r2.2","rgb.red"],["rgb.common","board.GND"]]}`

// A resistor is sized for the LED whose current it carries, though another one in
// the case takes more.
func TestASiteIsTheLampBehindTheResistor(t *testing.T) {
	doc := parse(t, rgbText)
	green, err := choose.InBuild(wiring.NewCache(), lib, doc, "r1", "rgb")
	require.NoError(t, err)
	red, err := choose.InBuild(wiring.NewCache(), lib, doc, "r2", "rgb")
	require.NoError(t, err)
	g, err := green.Typical(220)
	require.NoError(t, err)
	r, err := red.Typical(220)
	require.NoError(t, err)
	assert.Greater(t, r, g, "red needs less voltage")
	// The other one's resistor does not matter to it.
	again, err := green.Typical(220)
	require.NoError(t, err)
	assert.Equal(t, g, again)
	assert.InDelta(t, 0.020, green.Limit, 1e-9, "a pin of the board and the lamp both take 20 mA")
	_, err = choose.InBuild(wiring.NewCache(), lib, doc, "r9", "rgb")
	assert.Error(t, err)
	_, err = choose.InBuild(wiring.NewCache(), lib, doc, "r1", "r2")
	assert.ErrorContains(t, err, "not joined")
}

// A weaker driver lowers the limit: a register's output recommends 6 mA.
func TestTheWayOfTheCurrentLimits(t *testing.T) {
	doc := parse(t, `{"format":"cablaggio.build/1","title":"t","board":"classic-5v","parts":[
	 {"id":"reg","kind":"shift-register-latched","name":"reg"},{"id":"led","kind":"led","type":"red","name":"led"},{"id":"r","kind":"resistor","name":"r"}],
	 "nets":[["reg.vcc","board.5V"],["reg.gnd","led.cathode","board.GND"],["reg.qa","r.1"],["r.2","led.anode"]]}`)
	site, err := choose.InBuild(wiring.NewCache(), lib, doc, "r", "led")
	require.NoError(t, err)
	assert.InDelta(t, 0.006, site.Limit, 1e-9)
}

// The best divider for an NTC lies near the geometric mean of its ends, where the
// swing of a divider is widest (every textbook: R = √(R1·R2)).
func TestTheWidestDivider(t *testing.T) {
	doc := parse(t, `{"format":"cablaggio.build/1","title":"t","board":"classic-5v","parts":[
	 {"id":"ntc","kind":"thermistor","name":"ntc","signals":[{"name":"read","needs":"analog-in","pin":"A0"}]},{"id":"r","kind":"resistor","name":"r"}],
	 "nets":[["board.5V","ntc.1"],["ntc.2","r.1","board.A0"],["r.2","board.GND"]]}`)
	spans, err := choose.Spans(wiring.NewCache(), lib, doc, "r", "ntc", []float64{9100})
	require.NoError(t, err)
	// 33.6 kΩ at 0 °C and 2.49 kΩ at 60 °C: √(33.6 · 2.49) = 9.1 kΩ.
	best, drawer := 0.0, false
	for _, x := range spans {
		if x.Best {
			best = x.Ohms
		}
		drawer = drawer || x.Drawer && x.Ohms == 9100
		assert.InDelta(t, (x.High-x.Low)/5, x.Part, 1e-9)
	}
	assert.InDelta(t, 9100, best, 1900)
	assert.True(t, drawer)
	ohms, err := choose.Divider(wiring.NewCache(), lib, doc, "r", "ntc")
	require.NoError(t, err)
	assert.InDelta(t, 9100, ohms, 1900)
	_, err = choose.Divider(wiring.NewCache(), lib, doc, "ntc", "r")
	assert.Error(t, err)
}

// What a pin is refused for is said, and by whom it is taken.
func TestRefused(t *testing.T) {
	b, _ := lib.Board("classic-5v")
	refused := choose.Refused(b, choose.Want{Needs: "pwm-out"}, []choose.Used{{Pin: "D9"}}, func(string) string { return "lamp 1" })
	able := 0
	for _, r := range refused {
		if r.Pin == "D9" {
			assert.Equal(t, "has lamp 1", r.Reason)
		}
		if r.Able {
			able++
		} else {
			assert.Equal(t, "cannot do PWM out", r.Reason)
		}
	}
	assert.Equal(t, 1, able)
	assert.Len(t, refused, len(b.Pins)-5, "five PWM pins are still free")
}
