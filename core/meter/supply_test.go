package meter_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/meter"
	"cablaggio/core/wiring"
)

// read takes every voltage of the list of a build as a meter would show it with a supply of so
// many volts.
func read(t *testing.T, b surveyed, volts float64) (out []meter.Taken) {
	t.Helper()
	fed := b.doc.Clone()
	fed.Volts = volts
	for _, c := range b.list.Checks {
		if c.Question.Way == meter.Volts {
			x, err := meter.Handheld().Expected(lib, fed, c.Question)
			require.NoError(t, err, c.ID)
			out = append(out, meter.Taken{Question: c.Question, Value: x.Typ})
		}
	}
	return out
}

// Readings taken with a supply that is off are explained by it, and no others.
func TestReadingsTellOfTheSupply(t *testing.T) {
	m, told := meter.Handheld(), 0
	for name, b := range ready() {
		assert.Nil(t, m.Feed(lib, b.doc, read(t, b, 5)), "%s: 5 V is what it is reckoned with", name)
		for _, volts := range []float64{4.8, 4.87, 5.15} {
			taken := read(t, b, volts)
			feed := m.Feed(lib, b.doc, taken)
			if feed == nil {
				continue
			}
			told++
			assert.LessOrEqual(t, feed.Low, volts, name)
			assert.GreaterOrEqual(t, feed.High, volts, name)
			assert.InDelta(t, volts, feed.Volts, 0.06, name)
			assert.GreaterOrEqual(t, len(feed.By), 2, name)
			agreed := b.doc.Clone()
			agreed.Volts = feed.Volts
			assert.Nil(t, m.Feed(lib, agreed, taken), "%s: it is not said twice", name)
		}
	}
	assert.Greater(t, told, 4)
}

// One reading alone may be wrong, two that contradict each other say nothing, cells run down, and
// a regulator holds its rail.
func TestReadingsThatTellNothing(t *testing.T) {
	b := ready()["tram-stop"]
	rail := named(t, b.list, "volts:board.5V:board.GND").Question
	pin := named(t, b.list, "volts:board.D2:board.GND:button1=pressed").Question
	pin.Set = wiring.Settings{"button1": "up"}
	two := []meter.Taken{{Question: rail, Value: 4.85}, {Question: pin, Value: 4.85}}
	m := meter.Handheld()
	require.NotNil(t, m.Feed(lib, b.doc, two))
	assert.Nil(t, m.Feed(lib, b.doc, two[:1]))
	assert.Nil(t, m.Feed(lib, b.doc, []meter.Taken{two[0], two[0]}), "the same place twice")
	assert.Nil(t, m.Feed(lib, b.doc, []meter.Taken{two[0], {Question: pin, Value: 5.2}}))
	other := b.doc.Clone()
	other.Supply = "vin"
	assert.Nil(t, m.Feed(lib, other, two))
}
