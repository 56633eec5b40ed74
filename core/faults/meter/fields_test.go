package meter_test

import (
	"bytes"
	"encoding/json"
	"math"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/faults/meter"
)

// What a field shows can be typed again, and means the same; the meter that it makes is one that
// its own file is read as.
func TestAFieldIsTypedAsItIsShown(t *testing.T) {
	for _, f := range meter.Handheld().Fields() {
		assert.NotEmpty(t, f.Name, f.ID)
		assert.NotEmpty(t, f.Help, f.ID)
		again, err := meter.Handheld().With(f.ID, " "+f.Text+" ")
		require.NoError(t, err, f.ID)
		assert.Equal(t, meter.Handheld(), again, f.ID)
	}
	m := meter.Handheld()
	for id, text := range map[string]string{
		"name": "The yellow one", "counts": "6000", "accuracy": "0.05%", "digits": "0", "inputResistance": "1 MΩ", "burden": "0.01",
		"ohms.volts": "0,5 V", "ohms.ohms": "500", "diode.volts": "2.8", "diode.ohms": "2k2", "diodeFull": "1.999 V", "beeps": "50 Ω",
	} {
		before := *m
		next, err := m.With(id, text)
		require.NoError(t, err, id)
		assert.Equal(t, before, *m, "%s: the meter that was is as it was", id)
		m = next
	}
	assert.Equal(t, 0.0005, m.Accuracy)
	assert.Equal(t, 0.5, m.Ohms.Volts)
	assert.Equal(t, 2200.0, m.Diode.Ohms)
	data, err := json.Marshal(m)
	require.NoError(t, err)
	read, err := meter.Parse(bytes.NewReader(data))
	require.NoError(t, err)
	assert.Equal(t, m, read)
}

// Nonsense is told with what would be right.
func TestWhatNoMeterHas(t *testing.T) {
	for _, x := range []struct{ id, text, right string }{
		{"accuracy", "good", "write it as 0.8 %"}, {"accuracy", "50 %", "between 0 % and 20 %"}, {"accuracy", "-1 %", "between"},
		{"counts", "1999.5", "a whole number"}, {"counts", "3", "between 200 and"}, {"counts", "", "write it as 2000"},
		{"inputResistance", "10 V", "write it as 10 MΩ"}, {"inputResistance", "0", "between 1 kΩ"}, {"inputResistance", "1e99", "between"},
		{"name", " ", "not a name"}, {"name", "a\x00b", "not a name"}, {"colour", "yellow", `has no "colour"`}, {"", "", "has no"},
	} {
		_, err := meter.Handheld().With(x.id, x.text)
		assert.ErrorContains(t, err, x.right, "%s: %q", x.id, x.text)
	}
}

// At the edge the tolerance that brings a reading there is named, with what it reads alone: of a
// lamp's resistor the forward voltage does most, of a resistor by itself its own value.
func TestTheToleranceThatExplainsAReading(t *testing.T) {
	b := ready()["tram-stop"]
	for id, of := range map[string]string{
		"volts:led1-resistor.2:led1-resistor.1:D4=high": "platform lamp left",
		"lifted:led1-resistor.1:led1-resistor.2":        "resistance of resistor of platform lamp left",
	} {
		c := named(t, b.list, id)
		require.NotEmpty(t, c.Expect.Leans, id)
		most := c.Expect.Leans[0]
		off := func(l meter.Lean) float64 {
			return max(math.Abs(l.Low-c.Expect.Typ), math.Abs(l.High-c.Expect.Typ))
		}
		assert.Contains(t, most.Of, of)
		for _, l := range c.Expect.Leans {
			assert.LessOrEqual(t, off(l), off(most), "%s: the first does most", id)
			assert.GreaterOrEqual(t, min(l.Low, l.High), c.Expect.Low-1e-9, "%s %s alone is within all together", id, l.Of)
			assert.LessOrEqual(t, max(l.Low, l.High), c.Expect.High+1e-9, "%s %s", id, l.Of)
		}
		near := c.Expect.High - 0.02*(c.Expect.High-c.Expect.Typ)
		v, err := meter.Handheld().Judge(c, strconv.FormatFloat(near, 'f', 6, 64))
		require.NoError(t, err)
		assert.Equal(t, meter.AtTheEdge, v.Means, id)
		assert.Contains(t, v.Words, most.Of)
	}
}
