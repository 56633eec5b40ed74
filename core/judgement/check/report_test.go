package check_test

import (
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

func says(a *check.Analysis, part string) []string {
	for _, r := range a.Parts {
		if r.ID == part {
			return r.Says
		}
	}
	return nil
}

// White is reached with a series that is fine enough, and what is reached is said when
// the drawer is not.
func TestWhiteThatIsNotReachedIsSaid(t *testing.T) {
	white := []plan.Edit{plan.Add{Kind: "led-rgb-cathode"}, plan.White{Part: "led-rgb-cathode1"}}
	assert.Empty(t, says(analyse(t, edited(t, "classic-5v", white...)), "led-rgb-cathode1"))
	poor := append(white,
		plan.Value{Part: "led-rgb-cathode1-resistor-red", Value: "resistance", Text: "220"},
		plan.Value{Part: "led-rgb-cathode1-resistor-green", Value: "resistance", Text: "220"},
		plan.Value{Part: "led-rgb-cathode1-resistor-blue", Value: "resistance", Text: "2k2"})
	all := says(analyse(t, edited(t, "classic-5v", poor...)), "led-rgb-cathode1")
	if assert.Len(t, all, 1) {
		assert.Contains(t, all[0], "looks tinted towards")
	}
}

// Three keys at the corners of a rectangle look like four, on a keypad without a diode at
// each key (common practice).
func TestAKeypadSaysItsGhost(t *testing.T) {
	testkit.Slow(t)
	for _, hookup := range []string{"rows-driven", "columns-driven", "rows-driven-diodes"} {
		a := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "keypad-4x3", Hookup: hookup}))
		all := says(a, "keypad-4x31")
		if assert.Len(t, all, 1, hookup) {
			assert.Contains(t, all[0], "row 2 column 2 seems down too", hookup)
		}
	}
}

// A sensor is looked at between the ends of the range that its builder wants it for, and
// the choice of its resistor goes by that (a darkroom and a beach: invented).
func TestTheRangeOfASensorDecides(t *testing.T) {
	ohms := func(from, to string) float64 {
		doc := edited(t, "classic-5v",
			plan.Add{Kind: "light-resistor"},
			plan.Value{Part: "light-resistor1", Value: "rangeFrom", Text: from},
			plan.Value{Part: "light-resistor1", Value: "rangeTo", Text: to},
			plan.Size{Part: "light-resistor1-sense"})
		a := analyse(t, doc)
		for _, x := range a.Findings {
			assert.NotEqual(t, "analog-range", x.Rule, x.Title)
		}
		return doc.Part("light-resistor1-sense").Values["resistance"]
	}
	assert.Greater(t, ohms("0.1", "10"), 5*ohms("1000", "100000"), "in the dark the sensor has far more ohms")
}

// What a pulse sensor reads is said in the builder's own unit as well: four closings a
// turn, a quarter litre a turn (the arithmetic by hand: 40 ÷ 4 × 0.25 = 2.5).
func TestPulsesInTheOwnUnit(t *testing.T) {
	doc := edited(t, "classic-5v", plan.Add{Kind: "pulse-sensor"},
		plan.Value{Part: "pulse-sensor1", Value: "closures", Text: "4"},
		plan.Value{Part: "pulse-sensor1", Value: "factor", Text: "0.25"},
		plan.Value{Part: "pulse-sensor1", Value: "rate", Text: "40"})
	for _, q := range analyse(t, doc).Parts[0].Quantities {
		switch q.Name {
		case "reads":
			assert.Contains(t, q.Text, "= 2.5 of your unit a second")
		case "lowest rate told from standing still":
			assert.InDelta(t, 0.1, q.Typ, 1e-9)
			assert.Contains(t, q.Text, "= 0.00625 of your unit a second")
		}
	}
}

// Low, typical and high are told apart: 6 closings a second, read by a clock of
// milliseconds, are 5.988 to 6.024, and with 2.5 a closing (by hand) 14.97, 15 and 15.06.
func TestTheOwnUnitHasDigitsEnough(t *testing.T) {
	doc := edited(t, "classic-5v", plan.Add{Kind: "pulse-sensor"},
		plan.Value{Part: "pulse-sensor1", Value: "factor", Text: "2.5"},
		plan.Value{Part: "pulse-sensor1", Value: "rate", Text: "6"})
	for _, q := range analyse(t, doc).Parts[0].Quantities {
		if q.Name != "reads" {
			continue
		}
		_, own, found := strings.Cut(q.Text, " = ")
		require.True(t, found)
		values := strings.Split(strings.TrimSuffix(own, " of your unit a second"), " – ")
		require.Len(t, values, 3, q.Text)
		for i, want := range []float64{q.Low, q.Typ, q.High} {
			v, err := strconv.ParseFloat(values[i], 64)
			require.NoError(t, err)
			assert.InEpsilon(t, 2.5*want, v, 1e-3)
			assert.NotContains(t, values[i+1:], values[i], q.Text)
		}
		return
	}
	assert.Fail(t, "no reading")
}
