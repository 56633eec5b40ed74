package quantity_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	_ "cablaggio/core/testkit/drawn"
	"cablaggio/core/values/quantity"
)

func ExampleParse() {
	v, _ := quantity.Parse("4k7", quantity.Ohm)
	fmt.Println(v, quantity.Format(v, quantity.Ohm), quantity.Short(v, quantity.Ohm))
	_, err := quantity.Parse("fifteen", quantity.Ampere)
	fmt.Println(err)
	// Output:
	// 4700 4.70 kΩ 4.7 kΩ
	// "fifteen" is not a number with a unit; write it like 15 mA, 0.015 or 500 uA
}

func TestParse(t *testing.T) {
	// The letter in the place of the decimal point: IEC 60062:2016, clause 4.
	for _, c := range []struct {
		text string
		unit quantity.Unit
		want float64
	}{
		{"4k7", quantity.Ohm, 4700}, {"220R", quantity.Ohm, 220}, {"0R47", quantity.Ohm, 0.47},
		{"R47", quantity.Ohm, 0.47}, {"1M", quantity.Ohm, 1e6}, {"2M2", quantity.Ohm, 2.2e6},
		{"4.7 kΩ", quantity.Ohm, 4700}, {"4,7 kΩ", quantity.Ohm, 4700}, {"10K", quantity.Ohm, 10e3},
		{"330 ohm", quantity.Ohm, 330}, {"4k7Ω", quantity.Ohm, 4700}, {"1e3", quantity.Ohm, 1000},
		{"15 mA", quantity.Ampere, 0.015}, {"500uA", quantity.Ampere, 500e-6}, {"500 µA", quantity.Ampere, 500e-6},
		{"100n", quantity.Farad, 100e-9}, {"4u7", quantity.Farad, 4.7e-6}, {"22pF", quantity.Farad, 22e-12},
		{"3V3", quantity.Volt, 3.3}, {"800mV", quantity.Volt, 0.8}, {"-5", quantity.Volt, -5},
		{"5 ms", quantity.Second, 0.005}, {"16M", quantity.Hertz, 16e6}, {"5 %", quantity.Percent, 5}, {".5", quantity.None, 0.5},
	} {
		got, err := quantity.Parse(c.text, c.unit)
		require.NoError(t, err, c.text)
		assert.Equal(t, c.want, got, c.text)
	}
}

func TestParseRefusesAndSaysWhatWouldBeRight(t *testing.T) {
	for _, text := range []string{"", "  ", "abc", "12 mA", "4k7k", "4.7k2", "1.2.3", "--5", "1e3k", "1e999", "NaN", "Inf", "5 5", "220 R 5 R", "k", strings.Repeat("9", 41), "4k7\x00"} {
		_, err := quantity.Parse(text, quantity.Ohm)
		var bad *quantity.ParseError
		require.ErrorAs(t, err, &bad, "%q", text)
		assert.Contains(t, err.Error(), "220R", "%q", text)
	}
}

func TestFormat(t *testing.T) {
	for _, c := range []struct {
		v     float64
		unit  quantity.Unit
		want  string
		short string
	}{
		{4700, quantity.Ohm, "4.70 kΩ", "4.7 kΩ"}, {220, quantity.Ohm, "220 Ω", "220 Ω"}, {0, quantity.Ohm, "0 Ω", "0 Ω"},
		{0.0138, quantity.Ampere, "13.8 mA", "13.8 mA"}, {0.99996, quantity.Ampere, "1.00 A", "1 A"},
		{-1e-6, quantity.Ampere, "−1.00 µA", "−1 µA"}, {1e-19, quantity.Ampere, "0 A", "0 A"},
		{100, quantity.Ohm, "100 Ω", "100 Ω"}, {10, quantity.None, "10.0", "10"}, {math.Inf(1), quantity.Ohm, "∞ Ω", "∞ Ω"},
	} {
		assert.Equal(t, c.want, quantity.Format(c.v, c.unit))
		assert.Equal(t, c.short, quantity.Short(c.v, c.unit))
	}
}

func TestFormatRange(t *testing.T) {
	assert.Equal(t, "11.9 – 13.8 – 15.9 mA", quantity.FormatRange(0.0119, 0.0138, 0.0159, quantity.Ampere))
	assert.Equal(t, "0 – 0.80 – 1.20 V", quantity.FormatRange(0, 0.8, 1.2, quantity.Volt))
	assert.Equal(t, "220 Ω", quantity.FormatRange(220, 220, 220, quantity.Ohm))
}

func TestWhatIsPrintedIsReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		unit := rapid.SampledFrom([]quantity.Unit{quantity.Ohm, quantity.Ampere, quantity.Volt, quantity.Farad}).Draw(t, "unit")
		v := rapid.Float64Range(1, 9.99).Draw(t, "mantissa") * math.Pow10(rapid.IntRange(-12, 9).Draw(t, "exponent"))
		got, err := quantity.Parse(quantity.Format(v, unit), unit)
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(got-v) > 0.0051*v {
			t.Fatalf("%g printed as %s, read as %g", v, quantity.Format(v, unit), got)
		}
	})
}

func FuzzParse(f *testing.F) {
	for _, s := range []string{"4k7", "0R47", "15 mA", "4,7 kΩ", "-1e-3", "3V3"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		for _, unit := range []quantity.Unit{quantity.None, quantity.Ohm, quantity.Ampere, quantity.Volt} {
			v, err := quantity.Parse(s, unit)
			if err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
				t.Fatalf("%q gave %g without an error", s, v)
			}
		}
	})
}
