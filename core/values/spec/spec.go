// Package spec holds values as data sheets give them: with a low, a typical and
// a high value, and with where they come from.
package spec

import (
	"fmt"
	"math"
)

// A Value is a quantity with its tolerance in SI base units, and its
// provenance: a published source, "common practice", or "from memory …". The
// zero Value means that nothing is stated.
type Value struct {
	Low    float64 `json:"low"`
	Typ    float64 `json:"typ"`
	High   float64 `json:"high"`
	Source string  `json:"source,omitempty"`
}

// Exactly returns a value without tolerance.
func Exactly(v float64, source string) Value { return Value{v, v, v, source} }

// IsZero reports whether nothing is stated.
func (v Value) IsZero() bool { return v.Low == 0 && v.Typ == 0 && v.High == 0 }

// Rescaled returns v moved to another typical value, with the same relative
// tolerance. A value of zero has no relative tolerance; it is moved as it is.
func (v Value) Rescaled(typ float64, source string) Value {
	if v.Typ == 0 {
		return Exactly(typ, source)
	}
	k := typ / v.Typ
	return Value{v.Low * k, typ, v.High * k, source}
}

// Within returns typ with a tolerance given as a fraction of it.
func Within(typ, fraction float64, source string) Value {
	return Value{typ * (1 - fraction), typ, typ * (1 + fraction), source}
}

// At returns the low value for a negative corner, the typical one for zero and
// the high one for a positive corner.
func (v Value) At(corner int) float64 {
	switch {
	case corner < 0:
		return v.Low
	case corner > 0:
		return v.High
	}
	return v.Typ
}

// Check reports what is wrong with v as a stated value: not finite, not in
// order, or without a source.
func (v Value) Check() error {
	for _, x := range []float64{v.Low, v.Typ, v.High} {
		if math.IsNaN(x) || math.IsInf(x, 0) {
			return fmt.Errorf("it must be finite")
		}
	}
	if v.Low > v.Typ || v.Typ > v.High {
		return fmt.Errorf("low, typ and high must be in this order, not %g, %g, %g", v.Low, v.Typ, v.High)
	}
	if v.Source == "" {
		return fmt.Errorf("it must say its source")
	}
	return nil
}

// A Limit is a pair of values that a current or voltage should not exceed.
type Limit struct {
	Recommended float64 `json:"recommended"`
	Absolute    float64 `json:"absolute"`
	Source      string  `json:"source"`
	// What happens beyond Absolute, as a sentence, where that is a strongest setting and
	// not what destroys; empty: damage.
	Beyond string `json:"beyond,omitempty"`
}

// Check reports what is wrong with l as a stated limit.
func (l Limit) Check() error {
	if !(l.Recommended > 0) || !(l.Absolute >= l.Recommended) || math.IsInf(l.Absolute, 0) {
		return fmt.Errorf("recommended must be above zero and not above absolute, not %g and %g", l.Recommended, l.Absolute)
	}
	if l.Source == "" {
		return fmt.Errorf("it must say its source")
	}
	return nil
}
