package meter_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/meter"
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
			out = append(out, meter.Taken{Check: c.ID, Value: x.Typ})
		}
	}
	return out
}

// Readings taken with a supply that is off are explained by it, and no others.
func TestReadingsTellOfTheSupply(t *testing.T) {
	m, told := meter.Handheld(), 0
	for name, b := range ready() {
		assert.Nil(t, m.Feed(lib, b.doc, b.list, read(t, b, 5)), "%s: 5 V is what it is reckoned with", name)
		for _, volts := range []float64{4.8, 4.87, 5.15} {
			taken := read(t, b, volts)
			feed := m.Feed(lib, b.doc, b.list, taken)
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
			assert.Nil(t, m.Feed(lib, agreed, b.list, taken), "%s: it is not said twice", name)
		}
	}
	assert.Greater(t, told, 4)
}

// One reading alone may be wrong, two that contradict each other say nothing, cells run down, and
// a regulator holds its rail.
func TestReadingsThatTellNothing(t *testing.T) {
	b := ready()["tram-stop"]
	m := meter.Handheld()
	check := func(id string, set wiring.Settings) meter.Check {
		c := *named(t, b.list, id)
		if c.ID, c.Question.Set = id, set; set != nil {
			x, err := m.Expected(lib, b.doc, c.Question)
			require.NoError(t, err)
			c.Expect = x
		}
		return c
	}
	const rail, pin = "volts:board.5V:board.GND", "volts:board.D2:board.GND:button1=pressed"
	list := &meter.List{Checks: []meter.Check{check(rail, nil), check(pin, wiring.Settings{"button1": "up"})}}
	two := []meter.Taken{{Check: rail, Value: 4.85}, {Check: pin, Value: 4.85}}
	require.NotNil(t, m.Feed(lib, b.doc, list, two))
	for what, taken := range map[string][]meter.Taken{
		"one":                         two[:1],
		"the same place twice":        {two[0], two[0]},
		"they contradict":             {two[0], {Check: pin, Value: 5.2}},
		"the newer is another":        {{Check: rail, Value: 5}, two[1], two[0]},
		"one is of a fault":           {two[0], {Check: pin, Value: 0.1}},
		"the newest is of a fault":    {{Check: rail, Value: 0}, two[0], two[1]},
		"one shows OL":                {two[0], {Check: pin, Over: true}},
		"one is of no check any more": {two[0], {Check: "volts:moon", Value: 4.85}},
	} {
		assert.Nil(t, m.Feed(lib, b.doc, list, taken), what)
	}
	perfect := *m
	perfect.Accuracy, perfect.Digits = 0, 0
	feed := perfect.Feed(lib, b.doc, list, two)
	require.NotNil(t, feed)
	assert.InDelta(t, 4.85, feed.Volts, 0.01, "a meter that is never off")
	for what, change := range map[string]func(*build.Document){
		"a regulator holds the rail": func(d *build.Document) { d.Supply = "vin" },
		"cells run down":             func(d *build.Document) { d.Cells = &build.Cells{Type: "alkaline-aa", Count: 3} },
		"two supplies":               func(d *build.Document) { d.Also = "vin" },
		"a supply that is not there": func(d *build.Document) { d.Supply = "moon" },
	} {
		other := b.doc.Clone()
		change(other)
		assert.Nil(t, m.Feed(lib, other, list, two), what)
	}
}
