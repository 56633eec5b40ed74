package bench_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/testkit/ready"
)

// What a meter shows on the bench: a pin that is driven, one that is dimmed, a contact that is
// pressed, a pin that floats, and the drop over a lamp.
func TestProbes(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("probes", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Pin: "D7"}, plan.Add{Kind: "led", Type: "red", Hookup: "dimmed", Pin: "D5"},
		plan.Add{Kind: "button", Hookup: "ground-internal-pull-up", Pin: "D4"}, plan.Add{Kind: "button", Hookup: "no-pull", Pin: "D8"}})
	require.NoError(t, err)
	x := compiled(t, doc, "void setup() { pinMode(7, OUTPUT); pinMode(4, INPUT_PULLUP); pinMode(5, OUTPUT); delay(100); digitalWrite(7, HIGH); analogWrite(5, 51); }\nvoid loop() { delay(10); }")
	actions, err := bench.ParseScript(x.net, "0.5s press button1")
	require.NoError(t, err)
	o := bench.Options{Actions: actions, Lasts: time.Second, Seed: 1}
	for _, text := range []string{"D7", "led1.anode,led1.cathode", "D5", "D4", "D8", "5V"} {
		p, err := bench.ParseProbe(x.net, text)
		require.NoError(t, err)
		o.Probes = append(o.Probes, p)
	}
	r, err := bench.Run(t.Context(), x.net, x.made, o)
	require.NoError(t, err)
	volts := func(name string, when float64) bench.Change {
		return at(row(t, r, bench.VoltRow, "Voltage at "+name), when)
	}
	assert.Equal(t, "floats", volts("D7", 0).Text, "before the program")
	// The pin's own resistance takes some of the five volts (its profile), the lamp its forward voltage.
	assert.InDelta(t, 4.8, volts("D7", 0.3).Value, 0.15)
	assert.InDelta(t, 1.9, volts("anode of red LED 1 above cathode of red LED 1", 0.3).Value, 0.2)
	assert.InDelta(t, 0.2*volts("D7", 0.3).Value, volts("D5", 0.3).Value, 0.1, "a meter shows the average of a duty")
	assert.Contains(t, volts("D5", 0.3).Text, "on average, at ")
	assert.InDelta(t, 5, volts("D4", 0.3).Value, 0.01)
	assert.InDelta(t, 0, volts("D4", 0.9).Value, 0.01)
	assert.Equal(t, "floats", volts("D8", 0.9).Text)
	assert.InDelta(t, 5, volts("5V", 0.9).Value, 0.01)
	for _, text := range []string{"", "D99", "led9.anode", "led1.tail", "D7,", "D7,nowhere", ","} {
		_, err := bench.ParseProbe(x.net, text)
		if text == "D7," {
			assert.NoError(t, err)
			continue
		}
		assert.ErrorContains(t, err, "a place is a pin of the board", "%q", text)
	}
	o.Probes = make([]bench.Probe, bench.MaxProbes+1)
	_, err = bench.Run(t.Context(), x.net, x.made, o)
	var wrong *bench.ProbeError
	assert.ErrorAs(t, err, &wrong)
}

// A probe can be put wherever something is joined that is no rail, and each such place is
// named once.
func TestPlaces(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		net := wiring.Build(lib, doc)
		seen := map[int]bool{}
		for _, p := range bench.Places(net) {
			_, err := bench.ParseProbe(net, string(p.At))
			assert.NoError(t, err, "%s: %s", name, p.Name)
			n := doc.NetOf(p.At)
			assert.False(t, seen[n], "%s: %s is named twice", name, p.Name)
			seen[n] = true
			assert.False(t, net.Stiff(net.Node(p.At)))
		}
	}
}
