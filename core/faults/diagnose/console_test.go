package diagnose

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What the console prints is understood as the test program prints it, beside what is said.
func TestTold(t *testing.T) {
	c := read(t, "demo/tram-stop")
	const up, down = "reads:D2", "reads:D2:button1=pressed"
	for text, want := range map[string][]Observation{
		"request button: open":                                 {{up, readsHigh}},
		"Request button: closed":                               {{up, readsLow}},
		"the console always prints \"request button: closed\"": {{up, readsLow}},
		"request button: open\nrequest button: closed":         {{up, readsHigh}, {down, readsLow}},
		"D2=0":                                   {{up, readsLow}},
		"dusk sensor: 1023":                      {{"reads:A0", "1023"}},
		"dusk sensor: 40000\ndusk sensor: 12":    {{"reads:A0", "624"}},
		"it prints dimmer: 0; sign lamp is dark": {{"reads:A1", "0"}, {"see:led3:D5=high", dark}},
		"platform lamp left\nheld\ngoing on\nsign lamp\n\nrequest button: open": {{up, readsHigh}},
		"request button: open\nrequest button: closed\nrequest button: open\nrequest button: closed\nrequest button: open\nrequest button: closed\nrequest button: open": {
			{down, readsLow}, {up, jumps}},
		"both platform lamps are dark": {{"see:led1:D4=high", dark}, {"see:led2:D7=high", dark}},
	} {
		got, unknown := c.Told(text)
		assert.Equal(t, want, got, text)
		assert.Empty(t, unknown, text)
	}
	got, unknown := c.Told("moon: open\nrequest button: purple\ndimmer: open\nrequest button: open.")
	assert.Equal(t, []Observation{{up, readsHigh}}, got)
	assert.Equal(t, []string{"moon: open", "request button: purple", "dimmer: open"}, unknown)
	got, unknown = c.Told(" \n;;\n")
	assert.Empty(t, got)
	assert.Empty(t, unknown)
}
