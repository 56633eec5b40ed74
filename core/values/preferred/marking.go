package preferred

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
)

// A Color is the colour of a band, by its name in IEC 60062.
type Color string

// A Marking is what the bands of a resistor say.
type Marking struct {
	Ohms      float64
	Tolerance float64 // a fraction: 0.05 for 5 %; 0.20 when there is no tolerance band
	TempCo    float64 // in 1e-6 per kelvin; 0 when there is no such band
}

// band is one row of IEC 60062:2016 table 1. A digit of -1, or a
// tolerance or temperature coefficient of 0, means that the colour has no such
// meaning.
type band struct {
	color     Color
	digit     int
	exponent  int
	tolerance float64
	tempCo    float64
}

var bands = []band{
	{"black", 0, 0, 0, 250},
	{"brown", 1, 1, 0.01, 100},
	{"red", 2, 2, 0.02, 50},
	{"orange", 3, 3, 0.0005, 15},
	{"yellow", 4, 4, 0.0002, 25},
	{"green", 5, 5, 0.005, 20},
	{"blue", 6, 6, 0.0025, 10},
	{"violet", 7, 7, 0.001, 5},
	{"grey", 8, 8, 0.0001, 1},
	{"white", 9, 9, 0, 0},
	{"gold", -1, -1, 0.05, 0},
	{"silver", -1, -2, 0.10, 0},
	{"pink", -1, -3, 0, 0},
}

func bandOf(c Color) (band, bool) {
	i := slices.IndexFunc(bands, func(b band) bool { return b.color == c })
	if i < 0 {
		return band{}, false
	}
	return bands[i], true
}

// noTolerance is what a resistor without a tolerance band has (IEC 60062:2016,
// 3.2).
const noTolerance = 0.20

// ReadBands reads three to six bands, the first digit first: two digits and a
// multiplier, then a tolerance; or three digits, a multiplier and a tolerance,
// then a temperature coefficient. Its errors name the band that is wrong.
func ReadBands(colors []Color) (Marking, error) {
	n := len(colors)
	if n < 3 || n > 6 {
		return Marking{}, fmt.Errorf("a resistor has three to six bands, not %d", n)
	}
	digits := 2
	if n >= 5 {
		digits = 3
	}
	read := make([]band, n)
	for i, c := range colors {
		b, ok := bandOf(c)
		if !ok {
			return Marking{}, fmt.Errorf("band %d: %q is not a band colour; the colours are %s", i+1, c, colorNames())
		}
		read[i] = b
	}
	bad := func(i int, what string) (Marking, error) {
		return Marking{}, fmt.Errorf("band %d: %s cannot be %s; the resistor may have to be read from its other end", i+1, colors[i], what)
	}
	value := 0
	for i := range digits {
		if read[i].digit < 0 || i == 0 && read[i].digit == 0 {
			return bad(i, "a digit here")
		}
		value = value*10 + read[i].digit
	}
	m := Marking{Ohms: scale(value, read[digits].exponent), Tolerance: noTolerance}
	if n > digits+1 {
		if m.Tolerance = read[digits+1].tolerance; m.Tolerance == 0 {
			return bad(digits+1, "a tolerance")
		}
	}
	if n > digits+2 {
		if m.TempCo = read[digits+2].tempCo; m.TempCo == 0 {
			return bad(digits+2, "a temperature coefficient")
		}
	}
	return m, nil
}

func colorNames() string {
	names := make([]string, len(bands))
	for i, b := range bands {
		names[i] = string(b.color)
	}
	return strings.Join(names, ", ")
}

// BandNames returns the colours of four bands, or none when four cannot say the
// value.
func BandNames(ohms, tolerance float64) []string {
	bands, err := WriteBands(Marking{Ohms: ohms, Tolerance: tolerance}, 4)
	if err != nil {
		return nil
	}
	out := make([]string, len(bands))
	for i, c := range bands {
		out[i] = string(c)
	}
	return out
}

// WriteBands returns the n bands (3 to 6) that say m. It fails when the value
// needs more digits than n bands have, when it is out of the range of the
// multipliers, or when no colour stands for the tolerance or the coefficient.
func WriteBands(m Marking, n int) ([]Color, error) {
	if n < 3 || n > 6 {
		return nil, fmt.Errorf("a resistor has three to six bands, not %d", n)
	}
	digits := 2
	if n >= 5 {
		digits = 3
	}
	if !(m.Ohms > 0) || math.IsInf(m.Ohms, 0) {
		return nil, fmt.Errorf("bands say a positive resistance, not %g", m.Ohms)
	}
	exp := int(math.Floor(math.Log10(m.Ohms)+1e-12)) - digits + 1
	value := int(math.Round(m.Ohms / math.Pow10(exp)))
	if math.Abs(scale(value, exp)/m.Ohms-1) > 1e-6 {
		return nil, fmt.Errorf("%g Ω has more than the %d digits that %d bands can say", m.Ohms, digits, n)
	}
	find := func(what string, match func(band) bool) (Color, error) {
		i := slices.IndexFunc(bands, match)
		if i < 0 {
			return "", fmt.Errorf("no colour stands for %s", what)
		}
		return bands[i].color, nil
	}
	var out []Color
	for _, d := range strconv.Itoa(value) {
		c, err := find("the digit", func(b band) bool { return b.digit == int(d-'0') })
		if err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	wanted := []struct {
		what  string
		match func(band) bool
	}{
		{fmt.Sprintf("a multiplier of 1e%d", exp), func(b band) bool { return b.exponent == exp }},
		{fmt.Sprintf("a tolerance of %g %%", m.Tolerance*100), func(b band) bool { return m.Tolerance != 0 && near(b.tolerance, m.Tolerance) }},
		{fmt.Sprintf("a temperature coefficient of %g", m.TempCo), func(b band) bool { return m.TempCo != 0 && near(b.tempCo, m.TempCo) }},
	}
	for _, w := range wanted[:n-digits] {
		c, err := find(w.what, w.match)
		if err != nil {
			return nil, err
		}
		out = append(out, c)
	}
	return out, nil
}

func near(a, b float64) bool { return math.Abs(a-b) <= 1e-9*math.Abs(b) }

// toleranceLetters is IEC 60062:2016 table 3.
var toleranceLetters = []struct {
	letter    string
	tolerance float64
}{
	{"E", 0.00005}, {"L", 0.0001}, {"P", 0.0002}, {"W", 0.0005}, {"B", 0.001}, {"C", 0.0025},
	{"D", 0.005}, {"F", 0.01}, {"G", 0.02}, {"H", 0.03}, {"J", 0.05}, {"K", 0.10}, {"M", 0.20}, {"N", 0.30},
}

// ReadCode reads a letter code of IEC 60062 clause 4, a value and perhaps a
// tolerance letter: "4K7J" is 4700 Ω and 5 %, "R47" is 0.47 Ω and no tolerance
// stated, which is given as 0.
func ReadCode(code string) (Marking, error) {
	s := strings.ToUpper(strings.TrimSpace(code))
	bad := fmt.Errorf("%q is not a resistor code; write it like 4K7, 220R, R47 or 4K7J", code)
	var m Marking
	if len(s) < 2 || len(s) > 7 {
		return m, bad
	}
	// A last letter after a multiplier letter is the tolerance: "4K7J", "47KK".
	i := strings.IndexAny(s, "RKMG")
	if i < 0 {
		return m, bad
	}
	if last := s[len(s)-1:]; i < len(s)-1 && !strings.Contains("0123456789", last) {
		j := slices.IndexFunc(toleranceLetters, func(t struct {
			letter    string
			tolerance float64
		}) bool {
			return t.letter == last
		})
		if j < 0 {
			return m, bad
		}
		m.Tolerance, s = toleranceLetters[j].tolerance, s[:len(s)-1]
	}
	whole, frac := s[:i], s[i+1:]
	for _, r := range whole + frac {
		if r < '0' || r > '9' {
			return Marking{}, bad
		}
	}
	if whole+frac == "" {
		return Marking{}, bad
	}
	exp := map[byte]string{'R': "0", 'K': "3", 'M': "6", 'G': "9"}[s[i]]
	v, err := strconv.ParseFloat("0"+whole+"."+frac+"0e"+exp, 64)
	if err != nil || v == 0 {
		return Marking{}, bad
	}
	m.Ohms = v
	return m, nil
}

// WriteCode returns the letter code of a value with up to four digits, with the
// tolerance letter when the tolerance has one.
func WriteCode(m Marking) (string, error) {
	if !(m.Ohms > 0) || m.Ohms >= 1e12 {
		return "", fmt.Errorf("a resistor code says a positive resistance, not %g", m.Ohms)
	}
	letter, v := "R", m.Ohms
	for _, step := range []string{"K", "M", "G"} {
		if v < 1000 {
			break
		}
		letter, v = step, v/1000
	}
	digits := strconv.FormatFloat(v, 'f', -1, 64)
	if len(strings.ReplaceAll(digits, ".", "")) > 5 {
		return "", fmt.Errorf("%g Ω has more digits than a resistor code can say", m.Ohms)
	}
	whole, frac, _ := strings.Cut(digits, ".")
	if whole == "0" {
		whole = ""
	}
	code := whole + letter + frac
	for _, t := range toleranceLetters {
		if near(t.tolerance, m.Tolerance) {
			code += t.letter
		}
	}
	return code, nil
}
