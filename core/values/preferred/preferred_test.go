package preferred_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	_ "cablaggio/core/testkit/drawn"
	"cablaggio/core/values/preferred"
)

func ExampleSeries_Up() {
	fmt.Println(preferred.E12.Up(290), preferred.E12.Down(290), preferred.E12.Nearest(290))
	// Output: 330 270 270
}

// The tables of IEC 60063: E3 to E24 and E48, E96 whole; of E192 the end, with
// the one value that is off the formula.
func TestSeriesFollowTheTables(t *testing.T) {
	list := func(s string) (out []int) {
		for f := range strings.FieldsSeq(s) {
			var v int
			fmt.Sscan(f, &v)
			out = append(out, v)
		}
		return out
	}
	assert.Equal(t, list("100 220 470"), preferred.E3.Decade())
	assert.Equal(t, list("100 150 220 330 470 680"), preferred.E6.Decade())
	assert.Equal(t, list("100 120 150 180 220 270 330 390 470 560 680 820"), preferred.E12.Decade())
	assert.Equal(t, list("100 110 120 130 150 160 180 200 220 240 270 300 330 360 390 430 470 510 560 620 680 750 820 910"), preferred.E24.Decade())
	assert.Equal(t, list(`100 105 110 115 121 127 133 140 147 154 162 169 178 187 196 205 215 226 237 249 261 274 287 301
		316 332 348 365 383 402 422 442 464 487 511 536 562 590 619 649 681 715 750 787 825 866 909 953`), preferred.E48.Decade())
	assert.Equal(t, list(`100 102 105 107 110 113 115 118 121 124 127 130 133 137 140 143 147 150 154 158 162 165 169 174
		178 182 187 191 196 200 205 210 215 221 226 232 237 243 249 255 261 267 274 280 287 294 301 309
		316 324 332 340 348 357 365 374 383 392 402 412 422 432 442 453 464 475 487 499 511 523 536 549
		562 576 590 604 619 634 649 665 681 698 715 732 750 768 787 806 825 845 866 887 909 931 953 976`), preferred.E96.Decade())
	e192 := preferred.E192.Decade()
	assert.Len(t, e192, 192)
	assert.Equal(t, list("898 909 920 931 942 953 965 976 988"), e192[183:])
}

func TestNeighbours(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		s := rapid.SampledFrom(preferred.All).Draw(t, "series")
		v := math.Pow(10, rapid.Float64Range(-2, 8).Draw(t, "decades"))
		up, down, near := s.Up(v), s.Down(v), s.Nearest(v)
		if up < v*(1-1e-8) || down > v*(1+1e-8) || near != up && near != down {
			t.Fatalf("%v: %g lies between %g and %g, nearest %g", s, v, down, up, near)
		}
		if s.Up(up) != up || s.Down(up) != up || s.Nearest(up) != up {
			t.Fatalf("%v: %g is a value of the series and does not stay itself", s, up)
		}
	})
}

// Colour table: IEC 60062. The combinations are markings of every hobby drawer
// (common practice).
func TestReadBands(t *testing.T) {
	for _, c := range []struct {
		bands string
		want  preferred.Marking
	}{
		{"red violet orange", preferred.Marking{Ohms: 27e3, Tolerance: 0.20}},
		{"red red brown gold", preferred.Marking{Ohms: 220, Tolerance: 0.05}},
		{"yellow violet red gold", preferred.Marking{Ohms: 4700, Tolerance: 0.05}},
		{"brown black black brown brown", preferred.Marking{Ohms: 1000, Tolerance: 0.01}},
		{"orange orange black black brown red", preferred.Marking{Ohms: 330, Tolerance: 0.01, TempCo: 50}},
		{"yellow violet silver gold", preferred.Marking{Ohms: 0.47, Tolerance: 0.05}},
	} {
		var colors []preferred.Color
		for f := range strings.FieldsSeq(c.bands) {
			colors = append(colors, preferred.Color(f))
		}
		got, err := preferred.ReadBands(colors)
		require.NoError(t, err, c.bands)
		assert.Equal(t, c.want, got, c.bands)
		back, err := preferred.WriteBands(got, len(colors))
		require.NoError(t, err, c.bands)
		assert.Equal(t, colors, back)
	}
}

func TestBandsRefuseWhatTheyCannotSay(t *testing.T) {
	for _, c := range [][]preferred.Color{
		{}, {"red"}, {"red", "red"}, {"gold", "red", "red"}, {"black", "red", "red"}, {"red", "red", "red", "white"},
		{"red", "red", "beige"}, {"red", "red", "black", "red", "red", "gold"}, {"red", "red", "red", "red", "red", "red", "red"},
	} {
		_, err := preferred.ReadBands(c)
		assert.Error(t, err, "%v", c)
	}
	for _, m := range []preferred.Marking{{Ohms: 0}, {Ohms: -1}, {Ohms: math.NaN()}, {Ohms: math.Inf(1)}, {Ohms: 1234}, {Ohms: 220}, {Ohms: 220, Tolerance: 0.07}, {Ohms: 1e15, Tolerance: 0.05}} {
		_, err := preferred.WriteBands(m, 4)
		assert.Error(t, err, "%v", m)
	}
}

func TestMarkingsAreReadBack(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(3, 6).Draw(t, "bands")
		m := preferred.Marking{Tolerance: 0.20}
		series := preferred.E24
		if n > 3 {
			m.Tolerance = rapid.SampledFrom([]float64{0.001, 0.0025, 0.005, 0.01, 0.02, 0.05, 0.10}).Draw(t, "tolerance")
		}
		if n > 4 {
			series = preferred.E192
		}
		if n > 5 {
			m.TempCo = rapid.SampledFrom([]float64{5, 10, 15, 25, 50, 100}).Draw(t, "coefficient")
		}
		d := series.Decade()
		m.Ohms = series.Nearest(float64(rapid.SampledFrom(d).Draw(t, "value")) * math.Pow10(rapid.IntRange(-2, 5).Draw(t, "decade")))
		colors, err := preferred.WriteBands(m, n)
		if err != nil {
			t.Fatal(err)
		}
		got, err := preferred.ReadBands(colors)
		if err != nil || math.Abs(got.Ohms/m.Ohms-1) > 1e-12 || got.Tolerance != m.Tolerance || got.TempCo != m.TempCo {
			t.Fatalf("%v as %v reads %v, %v", m, colors, got, err)
		}
		code, err := preferred.WriteCode(m)
		if err != nil {
			t.Fatal(err)
		}
		got, err = preferred.ReadCode(code)
		if err != nil || math.Abs(got.Ohms/m.Ohms-1) > 1e-12 || got.Tolerance != m.Tolerance {
			t.Fatalf("%v as %s reads %v, %v", m, code, got, err)
		}
	})
}

// In the form of the examples in IEC 60062, clause 4; values from memory.
func TestReadCode(t *testing.T) {
	for code, want := range map[string]preferred.Marking{
		"R10": {Ohms: 0.1}, "3R32": {Ohms: 3.32}, "590R": {Ohms: 590}, "5K90": {Ohms: 5900}, "5M9": {Ohms: 5.9e6},
		"4K7J": {Ohms: 4700, Tolerance: 0.05}, "47KK": {Ohms: 47e3, Tolerance: 0.10}, "R47M": {Ohms: 0.47, Tolerance: 0.20},
	} {
		got, err := preferred.ReadCode(code)
		require.NoError(t, err, code)
		assert.InEpsilon(t, want.Ohms, got.Ohms, 1e-12, code)
		assert.Equal(t, want.Tolerance, got.Tolerance, code)
	}
	for _, code := range []string{"", "R", "47", "4K7Z", "4K7JJ", "K", "0R0", "-4K7", "4K7K7"} {
		_, err := preferred.ReadCode(code)
		assert.Error(t, err, code)
	}
}

func FuzzReadCode(f *testing.F) {
	f.Add("4K7J")
	f.Add("R47")
	f.Fuzz(func(t *testing.T, s string) {
		if m, err := preferred.ReadCode(s); err == nil && !(m.Ohms > 0) {
			t.Fatalf("%q reads %v", s, m)
		}
	})
}

// What stands on a resistor, as its drawer says it: worked examples of IEC 60062.
func TestBandNames(t *testing.T) {
	assert.Equal(t, []string{"red", "violet", "brown", "gold"}, preferred.BandNames(270, 0.05))
	assert.Equal(t, []string{"yellow", "violet", "red", "gold"}, preferred.BandNames(4700, 0.05))
	assert.Nil(t, preferred.BandNames(123.4, 0.05), "four bands have two digits")
}
