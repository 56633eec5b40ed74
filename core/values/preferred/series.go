// Package preferred knows the values that resistors are made in (the E series
// of IEC 60063) and how they are marked (the colour bands and letter codes of
// IEC 60062).
package preferred

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
)

// A Series is one of the E series of IEC 60063, by its number of values in a
// decade: 3, 6, 12, 24, 48, 96 or 192. The zero Series is not valid.
type Series int

// The series of IEC 60063.
const (
	E3   Series = 3
	E6   Series = 6
	E12  Series = 12
	E24  Series = 24
	E48  Series = 48
	E96  Series = 96
	E192 Series = 192
)

// All lists the series from the coarsest to the finest.
var All = []Series{E3, E6, E12, E24, E48, E96, E192}

// ParseSeries reads "E12" or "e12".
func ParseSeries(text string) (Series, error) {
	for _, s := range All {
		if strings.EqualFold(strings.TrimSpace(text), s.String()) {
			return s, nil
		}
	}
	return 0, fmt.Errorf("%q is not a series of preferred values; write E3, E6, E12, E24, E48, E96 or E192", text)
}

func (s Series) String() string { return fmt.Sprintf("E%d", int(s)) }

// Valid reports whether s is one of the series of IEC 60063.
func (s Series) Valid() bool { return slices.Contains(All, s) }

// Tolerance is the tolerance that parts of the series usually have, as a
// fraction (IEC 60063:2015, annex A; E3 as common practice).
func (s Series) Tolerance() float64 {
	switch s {
	case E3:
		return 0.40
	case E6:
		return 0.20
	case E12:
		return 0.10
	case E24:
		return 0.05
	case E48:
		return 0.02
	case E96:
		return 0.01
	}
	return 0.005
}

// e24 holds the values that IEC 60063 table 1 gives in units of a tenth. They
// are historical and do not follow the geometric formula of the finer series.
var e24 = []int{10, 11, 12, 13, 15, 16, 18, 20, 22, 24, 27, 30, 33, 36, 39, 43, 47, 51, 56, 62, 68, 75, 82, 91}

var decades = func() map[Series][]int {
	m := map[Series][]int{}
	for _, s := range []Series{E3, E6, E12, E24} {
		step := 24 / int(s)
		for i := 0; i < 24; i += step {
			m[s] = append(m[s], e24[i]*10)
		}
	}
	for _, s := range []Series{E48, E96, E192} {
		for i := range int(s) {
			v := int(math.Round(100 * math.Pow(10, float64(i)/float64(s))))
			if v == 919 {
				v = 920 // the one value of IEC 60063 table 2 off the formula
			}
			m[s] = append(m[s], v)
		}
	}
	return m
}()

// Decade lists the values of one decade as whole numbers from 100 to 999.
func (s Series) Decade() []int { return slices.Clone(decades[s]) }

// Up returns the smallest value of the series that is not below v.
// It panics when v is not positive and finite, or s is not valid.
func (s Series) Up(v float64) float64 {
	below, above := s.around(v)
	if below >= v*(1-1e-9) {
		return below
	}
	return above
}

// Down returns the largest value of the series that is not above v.
// It panics as [Series.Up] does.
func (s Series) Down(v float64) float64 {
	below, above := s.around(v)
	if above <= v*(1+1e-9) {
		return above
	}
	return below
}

// Nearest returns the value of the series with the least relative difference
// to v, the smaller one of two equally far. It panics as [Series.Up] does.
func (s Series) Nearest(v float64) float64 {
	below, above := s.around(v)
	if v/below <= above/v {
		return below
	}
	return above
}

// around returns the neighbours of v: the last value at or below it and the
// one after that.
func (s Series) around(v float64) (below, above float64) {
	if !(v > 0) || math.IsInf(v, 0) || !s.Valid() {
		panic(fmt.Sprintf("preferred: %v of %v", v, s))
	}
	d := decades[s]
	exp := int(math.Floor(math.Log10(v) + 1e-12))
	m := v * math.Pow10(2-exp)
	i := sort.Search(len(d), func(i int) bool { return float64(d[i]) > m*(1+1e-9) }) - 1
	at := func(i, exp int) float64 {
		if i < 0 {
			i, exp = len(d)-1, exp-1
		}
		if i == len(d) {
			i, exp = 0, exp+1
		}
		return scale(d[i], exp-2)
	}
	return at(i, exp), at(i+1, exp)
}

// scale returns n times ten to the exp, rounded once.
func scale(n, exp int) float64 {
	if exp < 0 {
		return float64(n) / math.Pow10(-exp)
	}
	return float64(n) * math.Pow10(exp)
}
