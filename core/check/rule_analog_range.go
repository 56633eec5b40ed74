package check

import (
	"fmt"
	"math"
)

// sliver is the part of the scale below which a range is one (common practice:
// a quarter costs two bits).
const sliver = 0.25

// analogRange finds analog inputs that use a sliver of the scale.
var analogRange = rule{"analog-range", func(f *facts) []Finding {
	var out []Finding
	full := f.board.Logic.Analog.Full()
	for _, in := range f.analog() {
		low, high := f.span(in)
		if in.piece == nil || high-low >= sliver*full {
			continue
		}
		out = append(out, Finding{
			Level: Care, Parts: []string{in.claim.Part.ID}, Pins: []string{in.use.Pin.Name},
			Title: fmt.Sprintf("%s reads only from %.0f to %.0f of %.0f, whatever %s does.", in.use.Pin.Name, low, high, full, in.claim.Part.Name),
			Why:   "Most of the converter's steps are never used, so each one that is left stands for a large change.",
			Fixes: f.widen(in),
		})
	}
	return out
}}

// span is the range of an analog input's typical readings.
func (f *facts) span(in input) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, v := range f.visits(in.node) {
		n := f.counts(v, in.use.Pin.Name).Typ
		low, high = min(low, n), max(high, n)
	}
	return low, high
}

// widen chooses the divider's resistor again, or wires the part as usual.
func (f *facts) widen(in input) []Fix {
	for _, id := range f.helperIDs(in.claim.Part) {
		if fixes := f.chooseAgain(id); fixes != nil {
			return fixes
		}
	}
	return f.connect(in.claim.Part)
}
