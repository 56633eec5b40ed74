package check_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

// quantityOf returns a computed quantity of a part.
func quantityOf(t *testing.T, a *check.Analysis, part, name string) check.Quantity {
	t.Helper()
	for _, r := range a.Parts {
		for _, q := range r.Quantities {
			if r.ID == part && q.Name == name {
				return q
			}
		}
	}
	require.Fail(t, "no such quantity", "%s of %s", name, part)
	return check.Quantity{}
}

// Worked examples of textbooks and application notes, done as whole builds. What
// each rests on is named; see docs/sources.md.
func TestWorkedExamples(t *testing.T) {
	add := func(kind, hookup string) plan.Edit { return plan.Add{Kind: kind, Hookup: hookup} }
	set := func(part, value, text string) plan.Edit {
		return plan.Value{Part: part, Value: value, Text: text}
	}
	t.Run("a transistor switch: the load sees the supply less the saturation voltage", func(t *testing.T) {
		// Horowitz and Hill, The Art of Electronics, 3rd ed., 2.2.1: a saturated
		// switch keeps 0.05 to 0.2 V for itself.
		q := quantityOf(t, analyse(t, edited(t, "classic-5v", add("relay", "npn"))), "relay1", "voltage")
		assert.InDelta(t, 5-0.1, q.Typ, 0.12)
	})
	t.Run("a coil's current is its voltage over its resistance", func(t *testing.T) {
		q := quantityOf(t, analyse(t, edited(t, "classic-5v", add("relay", "mosfet"), set("relay1", "resistance", "70"))), "relay1", "current")
		assert.InDelta(t, 5.0/70, q.Typ, 0.001) // Ohm's law
	})
	t.Run("the base current of a saturated switch", func(t *testing.T) {
		// The Art of Electronics 2.2.1: IB = (UB − 0.7 V) ÷ RB.
		a := analyse(t, edited(t, "classic-5v", add("relay", "npn"), set("relay1-base", "resistance", "1k")))
		assert.InDelta(t, (5-0.7)/1025, a.Pins[0].Amps.Typ, 0.0003)
	})
	t.Run("what a shared resistor does to two colours", func(t *testing.T) {
		// Common practice: red beside blue on one resistor takes nearly all of it.
		doc := edited(t, "classic-5v", add("led-rgb-cathode", "resistor-in-common"))
		a := analyse(t, doc)
		found := false
		for _, x := range a.Findings {
			if x.Rule == "led-robbed" && x.Parts[0] == "led-rgb-cathode1" {
				found = found || x.Found.Typ < 0.1e-3
			}
		}
		assert.True(t, found, "%v", titles(a))
	})
	t.Run("an analog thermometer of 10 mV a degree on 10 bits and 5 V", func(t *testing.T) {
		// Data sheets of the class: 750 mV at 25 °C; 5 V ÷ 1023 ÷ 10 mV is 0.49 °C a step.
		a := analyse(t, edited(t, "classic-5v", add("temperature-sensor", "")))
		in := a.Pins[0].Inputs[1]
		assert.InDelta(t, 0.75, in.Volts.Typ, 0.001)
		assert.Equal(t, "153", in.Count) // 0.75 ÷ 5 × 1023 = 153.45
		assert.Equal(t, "25 °C", in.Level)
		assert.Equal(t, "0.49 °C", in.PerCount)
	})
	t.Run("half of the light is three quarters as bright", func(t *testing.T) {
		// CIE 15:2004: L* of 0.5 is 76.07.
		q := quantityOf(t, analyse(t, edited(t, "classic-5v", add("led", ""), set("led1-resistor", "resistance", "275"))), "led1", "brightness")
		assert.InDelta(t, 76, q.Typ, 2)
	})
	t.Run("a divider for a 5 V sensor on a 3.3 V pin", func(t *testing.T) {
		// U · R2 ÷ (R1 + R2): 5 V · 15 ÷ 25 = 3.0 V.
		a := analyse(t, edited(t, "slim-3v3", add("digital-sensor", "divided")))
		assert.InDelta(t, 3.0, a.Pins[0].Inputs[1].Volts.Typ, 0.05)
		assert.InDelta(t, 6000, a.Pins[0].Inputs[1].Ohms.Typ, 150) // Thévenin: 10 kΩ beside 15 kΩ
	})
	t.Run("a phototransistor into a resistor", func(t *testing.T) {
		// U = I · R until it saturates: 200 µA at 200 lx into 10 kΩ is 2 V.
		a := analyse(t, edited(t, "classic-5v", add("phototransistor", ""), set("phototransistor1-sense", "resistance", "10k")))
		assert.InDelta(t, 2.0, a.Pins[0].Inputs[1].Volts.Typ, 0.05)
		assert.Greater(t, a.Pins[0].Inputs[2].Volts.Typ, 4.7, "in daylight it saturates")
	})
	t.Run("the fastest pulses behind a debounce of 20 ms", func(t *testing.T) {
		// Each side must last longer than the wait: 1 ÷ (2 · 20 ms) = 25 a second.
		q := quantityOf(t, analyse(t, edited(t, "classic-5v", add("pulse-sensor", ""))), "pulse-sensor1", "highest rate")
		assert.InDelta(t, 25, q.Typ, 1e-9)
	})
	t.Run("four cells and a board of 45 mA", func(t *testing.T) {
		// Charge over current: 2.2 Ah ÷ 45 mA = 49 h.
		doc := edited(t, "classic-5v", plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 6})
		assert.InDelta(t, 2.2/0.045, analyse(t, doc).Supply.RunTime.Typ, 1)
	})
	t.Run("a regulator that drops 4 V at 218 mA", func(t *testing.T) {
		// (9 V − 5 V) × (45 mA + 5 V ÷ 30 Ω) = 0.85 W.
		a := analyse(t, edited(t, "classic-5v", add("motor", ""), plan.Supply{Supply: "vin", Text: "9"}))
		for _, load := range a.Loads {
			if load.ID == "regulator" {
				assert.InDelta(t, 4*(0.045+5.0/30), load.Carries.Typ, 0.02)
			}
		}
	})
}

// White at equal duty: the currents that White sets give white.
func TestWhite(t *testing.T) {
	for _, kind := range []string{"led-rgb-cathode", "led-rgb-anode"} {
		doc := edited(t, "classic-5v", plan.Add{Kind: kind}, plan.White{Part: kind + "1"})
		a := analyse(t, doc)
		for _, r := range a.Parts {
			if r.ID != kind+"1" {
				continue
			}
			require.Len(t, r.Colour, 7)
			for i := 1; i < 7; i += 2 {
				assert.GreaterOrEqual(t, r.Colour[i:i+1], "d", "%s is not nearly white: E12 resistors have steps", r.Colour)
			}
		}
		assert.Zero(t, a.Counts.Stop+a.Counts.Care, "%v", titles(a))
	}
}

// No sequence of edits, sensible or not, gets a build that the check cannot
// answer.
func TestAnyBuildGetsAnAnswer(t *testing.T) {
	testkit.Slow(t)
	rapid.Check(t, func(t *rapid.T) {
		doc := build.New("random", rapid.SampledFrom(lib.Boards).Draw(t, "board").ID)
		for range rapid.IntRange(1, 6).Draw(t, "steps") {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = after
			}
		}
		_, err := check.Check(lib, doc)
		require.NoError(t, err)
	})
}
