// Package values groups what quantities are and mean: how they are written, which ones are made,
// what data sheets promise of them, what the eye and a clock make of them.
//
// The question: How large is it, and what does that look like?
//
//   - [cablaggio/core/values/quantity]: values as they are written: "4k7", "15 mA"
//   - [cablaggio/core/values/preferred]: E series, colour bands, letter codes
//   - [cablaggio/core/values/spec]: a value with low, typical, high and its source
//   - [cablaggio/core/values/light]: how bright, which colour
//   - [cablaggio/core/values/timing]: bounce, debounce, pulses, clocks
//
// It may lean on: general.
package values
