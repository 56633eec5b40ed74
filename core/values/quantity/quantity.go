// Package quantity reads and prints electrical quantities the way they are
// written at a bench: "4k7", "220R", "0R47", "15 mA", "100n", "4,7 kΩ".
//
// Values are plain float64 in SI base units (ohms, volts, amperes, farads,
// watts, hertz, seconds); a [Unit] says which. The zero Unit is a bare number.
package quantity

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// A Unit is an SI unit that quantities are written in.
type Unit string

// The units of the trade, by the symbol they are printed with.
const (
	None    Unit = ""
	Ohm     Unit = "Ω"
	Volt    Unit = "V"
	Ampere  Unit = "A"
	Watt    Unit = "W"
	Farad   Unit = "F"
	Henry   Unit = "H"
	Hertz   Unit = "Hz"
	Second  Unit = "s"
	Percent Unit = "%"
	Candela Unit = "cd"
	Celsius Unit = "°C"
	Hour    Unit = "h"
)

// Units lists every unit.
var Units = []Unit{None, Ohm, Volt, Ampere, Watt, Farad, Henry, Hertz, Second, Percent, Candela, Celsius, Hour}

// example is how a value in the unit may be written; errors show it.
func (u Unit) example() string {
	switch u {
	case Ohm:
		return "220, 220R, 4k7, 4.7 kΩ or 1M"
	case Volt:
		return "5, 5 V, 3V3 or 800 mV"
	case Ampere:
		return "15 mA, 0.015 or 500 uA"
	case Watt:
		return "250 mW or 0.25 W"
	case Henry:
		return "60 mH, 470u or 0.06"
	case Farad:
		return "100n, 4u7 or 22 pF"
	case Hertz:
		return "50, 1 kHz or 16M"
	case Second:
		return "5 ms or 0.005"
	case Percent:
		return "5 or 5 %"
	}
	return "12, 0.5 or 4k7"
}

// spellings lists what may stand for the unit in writing, longest first.
func (u Unit) spellings() []string {
	switch u {
	case None:
		return nil
	case Ohm:
		return []string{"ohms", "Ohms", "ohm", "Ohm", "OHM", "Ω", "\u2126", "R", "r"}
	case Hertz:
		return []string{"Hz", "hz", "HZ"}
	}
	return []string{string(u), strings.ToLower(string(u))}
}

// prefixes maps what people type to a power of ten. "k" and "K" both mean a
// thousand; "m" is always milli and "M" always mega (ISO 80000-1, 7.2.4).
var prefixes = map[rune]int{
	'p': -12, 'n': -9, 'u': -6, 'µ': -6, 'μ': -6, 'm': -3, 'k': 3, 'K': 3, 'M': 6, 'G': 9,
}

// A ParseError says what could not be understood and what would be.
type ParseError struct {
	Text   string // as it was typed
	Unit   Unit   // the unit that was asked for
	Reason string // what is wrong with it, in plain words
}

func (e *ParseError) Error() string {
	return fmt.Sprintf("%q %s; write it like %s", e.Text, e.Reason, e.Unit.example())
}

// maxText bounds what Parse looks at: no sensible value is longer.
const maxText = 40

// Parse reads one finite quantity in the given unit. It understands a decimal
// point or comma, an SI prefix before the unit or in the place of the point
// (IEC 60062 clause 4: "4k7", "0R47", "3V3"), spaces between number and unit,
// and the unit left out. Any failure is a [*ParseError].
func Parse(text string, unit Unit) (float64, error) {
	fail := func(reason string) (float64, error) {
		shown := text
		if r := []rune(shown); len(r) > maxText {
			shown = string(r[:maxText]) + "…"
		}
		return 0, &ParseError{Text: shown, Unit: unit, Reason: reason}
	}
	s := strings.TrimSpace(strings.NewReplacer("\u00a0", " ", "\u2212", "-").Replace(text)) // as we write them ourselves
	if s == "" {
		return fail("is empty")
	}
	if len(s) > maxText {
		return fail("is too long for a value")
	}

	whole, rest := cutNumber(s)
	if whole == "" && startsWithLetterAndDigit(s, unit) { // R47, k47
		whole, rest = "0", s
	}
	if whole == "" || whole == "-" || whole == "+" {
		return fail("is not a number with a unit")
	}
	rest = strings.TrimSpace(rest)
	exp, rest := cutPrefix(rest)
	rest, hadUnit := cutUnit(rest, unit)

	// Digits after the letter stand behind the decimal point: 4k7, 0R47.
	if frac, tail := cutDigits(rest); frac != "" {
		if strings.ContainsAny(whole, ".,eE") {
			return fail("has two decimal points")
		}
		if exp == 0 && !hadUnit {
			return fail("is not a number with a unit")
		}
		whole += "." + frac
		rest = tail
		if !hadUnit {
			rest, _ = cutUnit(strings.TrimSpace(rest), unit)
		}
	}
	if rest != "" {
		if unit == None {
			return fail("is not a plain number")
		}
		return fail("is not in " + string(unit))
	}

	v, err := strconv.ParseFloat(strings.Replace(whole, ",", ".", 1)+exponent(exp, whole), 64)
	if err != nil || math.IsInf(v, 0) {
		return fail("is not a number that a part can have")
	}
	return v, nil
}

// exponent writes exp as a suffix for ParseFloat, so that "4k7" becomes
// exactly the float nearest 4700 and not 4.7 times 1000. A number that is
// already in scientific notation cannot take a second exponent.
func exponent(exp int, whole string) string {
	if exp == 0 {
		return ""
	}
	if i := strings.IndexAny(whole, "eE"); i >= 0 {
		return "!" // refused by ParseFloat: "1e3k" is not a value
	}
	return "e" + strconv.Itoa(exp)
}

// cutNumber splits a decimal number, with sign, point or comma and optional
// exponent, from the front of s.
func cutNumber(s string) (number, rest string) {
	i, points := 0, 0
	if i < len(s) && (s[i] == '-' || s[i] == '+') {
		i++
	}
	start := i
	for i < len(s) && (isDigit(s[i]) || s[i] == '.' || s[i] == ',') {
		if !isDigit(s[i]) {
			if points++; points > 1 {
				return "", s
			}
		}
		i++
	}
	if i-start == points {
		return "", s
	}
	if i < len(s) && (s[i] == 'e' || s[i] == 'E') {
		j := i + 1
		if j < len(s) && (s[j] == '-' || s[j] == '+') {
			j++
		}
		if j < len(s) && isDigit(s[j]) {
			for j < len(s) && isDigit(s[j]) {
				j++
			}
			i = j
		}
	}
	return s[:i], s[i:]
}

func cutDigits(s string) (digits, rest string) {
	i := 0
	for i < len(s) && isDigit(s[i]) {
		i++
	}
	return s[:i], s[i:]
}

// startsWithLetterAndDigit reports whether a prefix or unit letter stands in the
// place of the decimal point with no digit before it, as in "R47".
func startsWithLetterAndDigit(s string, unit Unit) bool {
	_, rest := cutPrefix(s)
	rest, _ = cutUnit(rest, unit)
	return len(rest) < len(s) && rest != "" && isDigit(rest[0])
}

func isDigit(c byte) bool { return c >= '0' && c <= '9' }

func cutPrefix(s string) (exp int, rest string) {
	for r, e := range prefixes {
		if after, ok := strings.CutPrefix(s, string(r)); ok {
			return e, after
		}
	}
	return 0, s
}

func cutUnit(s string, unit Unit) (rest string, found bool) {
	for _, name := range unit.spellings() {
		if after, ok := strings.CutPrefix(s, name); ok {
			return after, true
		}
	}
	return s, false
}

// Format prints v in engineering form with three significant digits and the
// unit: 4700 Ω is "4.70 kΩ", 0.0138 A is "13.8 mA", 0 is "0 Ω". Exact values
// that need fewer digits are printed without the trailing zeros by [Short].
func Format(v float64, unit Unit) string { return format(v, unit, false) }

// Short prints v like [Format], without trailing zeros: "4.7 kΩ", "220 Ω".
// It is for nominal values, which are exact.
func Short(v float64, unit Unit) string { return format(v, unit, true) }

var engineering = map[int]string{-12: "p", -9: "n", -6: "µ", -3: "m", 0: "", 3: "k", 6: "M", 9: "G"}

func format(v float64, unit Unit, trim bool) string {
	switch {
	case math.IsNaN(v):
		return "?"
	case math.IsInf(v, 1):
		return "∞ " + string(unit)
	case math.IsInf(v, -1):
		return "−∞ " + string(unit)
	}
	exp := exponentOf(v, unit)
	digits := mantissa(v, exp)
	if trim && strings.Contains(digits, ".") {
		digits = strings.TrimRight(strings.TrimRight(digits, "0"), ".")
	}
	if digits == "0" {
		exp = 0
	}
	return strings.TrimSuffix(digits+" "+engineering[exp]+string(unit), " ")
}

// exponentOf returns the power of ten, a multiple of three, that v is written
// with. Plain numbers and percentages of usual size are written without.
func exponentOf(v float64, unit Unit) int {
	v = math.Abs(v)
	if v == 0 || unit == Percent || unit == Celsius || unit == Hour || unit == None && v < 1e6 && v >= 1e-3 {
		return 0
	}
	exp := int(math.Floor(math.Log10(v)/3)) * 3
	exp = min(max(exp, -12), 9)
	// 999.96 mA rounds to 1000 mA, which is written 1.00 A.
	if exp < 9 && v/math.Pow10(exp) >= 999.5 {
		exp += 3
	}
	return exp
}

// mantissa prints v over ten to the exp with three significant digits.
func mantissa(v float64, exp int) string {
	m := math.Abs(v) / math.Pow10(exp)
	decimals := 2
	switch {
	case m >= 99.95:
		decimals = 0
	case m >= 9.995:
		decimals = 1
	}
	digits := strconv.FormatFloat(m, 'f', decimals, 64)
	if strings.Trim(digits, "0.") == "" {
		return "0"
	}
	if v < 0 {
		return "−" + digits
	}
	return digits
}

// FormatRange prints three values in the unit prefix of the largest one, so
// that they can be compared at a glance: "11.9 – 13.8 – 15.9 mA". Values that
// print alike are printed once.
func FormatRange(low, typ, high float64, unit Unit) string {
	exp := exponentOf(math.Max(math.Abs(low), math.Abs(high)), unit)
	suffix := strings.TrimSuffix(" "+engineering[exp]+string(unit), " ")
	l, t, h := mantissa(low, exp), mantissa(typ, exp), mantissa(high, exp)
	if l == h {
		return t + suffix
	}
	return l + " – " + t + " – " + h + suffix
}

// Rough writes a number rounded to so many significant digits, in plain decimals:
// 12345 with two digits is "12000".
func Rough(v float64, digits int) string {
	rounded, err := strconv.ParseFloat(strconv.FormatFloat(v, 'e', digits-1, 64), 64)
	if err != nil {
		rounded = v
	}
	return strconv.FormatFloat(rounded, 'f', -1, 64)
}
