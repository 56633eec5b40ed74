package wiring_test

import (
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/testkit/ready"
)

// What a resistor's tolerance is said to do to a voltage is what the voltage does when the
// resistor has the value of that end, in all ready builds.
func TestLeansAreWhatTheEndsDo(t *testing.T) {
	lib := build.Shipped()
	seen := 0
	for name, doc := range ready.Builds(t, lib) {
		n := wiring.Build(lib, doc)
		ground := build.Pin(n.Board.Ground)
		settings, err := n.Resolve(nil)
		require.NoError(t, err)
		for i, c := range n.Controls {
			settings[i] = c.Planned[len(c.Planned)-1] // pins high, contacts closed
		}
		for _, p := range doc.Parts {
			if p.Kind != "resistor" {
				continue
			}
			for _, leg := range []string{"1", "2"} {
				of := build.Of(p.ID, leg)
				leans, err := n.Leans(settings, of, ground)
				require.NoError(t, err)
				value := n.ValueAt(n.Find(wiring.Body, p.ID, ""))
				typ, err := n.Typical(settings, of)
				require.NoError(t, err)
				for _, l := range leans {
					if l.Of != "resistance of "+p.Name {
						continue
					}
					for _, end := range []struct{ at, says float64 }{{value.Low, l.Low}, {value.High, l.High}} {
						v, err := n.With(wiring.Set(p.ID, "resistance", end.at)).Typical(settings, of)
						require.NoError(t, err)
						if does := v - typ; math.Abs(does) > 1e-3 { // less is not worth a word
							assert.InEpsilon(t, does, end.says, 0.12, "%s: %s", name, of)
							seen++
						}
					}
				}
			}
		}
	}
	assert.Greater(t, seen, 10)
}

// Over a rail it is the rail that does it; between a pulled-up pin and ground it comes first.
func TestLeansOfRails(t *testing.T) {
	lib := build.Shipped()
	doc := ready.Builds(t, lib)["demo tram-stop"]
	n := wiring.Build(lib, doc)
	settings, err := n.Resolve(nil)
	require.NoError(t, err)
	rail := n.Board.Rails[0].Name
	leans, err := n.Leans(settings, build.Pin(rail), build.Pin(n.Board.Ground))
	require.NoError(t, err)
	require.NotEmpty(t, leans)
	assert.True(t, strings.HasPrefix(leans[0].Of, "voltage of the "), leans[0].Of)
	fed := n.FedVolts(n.Node(build.Pin(rail)))
	assert.InDelta(t, fed.High-fed.Typ, leans[0].High, 1e-9)
	other, err := n.Leans(settings, build.Pin(n.Board.Ground), build.Pin(rail))
	require.NoError(t, err)
	assert.Equal(t, -leans[0].High, other[0].High)
}
