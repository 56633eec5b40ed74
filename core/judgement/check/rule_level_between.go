package check

import (
	"math"
)

// levelBetween finds sensors of many levels on digital inputs that spend a part of their
// range between the levels.
var levelBetween = rule{"level-between", func(f *facts) []Finding {
	var out []Finding
	for _, in := range f.digital() {
		level := f.levelOf(in)
		if level == nil {
			continue
		}
		low, high, all := f.doubtful(in, level)
		if math.IsNaN(low) {
			continue
		}
		pin, part := in.use.Pin.Name, in.claim.Part
		x := Finding{
			Level: Care, Parts: []string{part.ID}, Pins: []string{pin},
			title: say("From %s to %s, %s reads neither reliably low nor reliably high.", level.text(low), level.text(high), pinName(pin)),
			why:   say("%s has many levels, and a digital pin knows two. Between them what it reads is undefined, and it flickers as it passes.", called(part.Name)),
			Fixes: f.usual(part),
		}
		if all {
			x.Level = Stop
			x.title = say("%s reads neither reliably low nor reliably high, whatever %s does.", pinName(pin), called(part.Name))
		}
		out = append(out, x)
	}
	return out
}}

// doubtful returns between which levels of its sensor a digital input is in doubt, typical
// values taken, and whether those are all; they are not numbers when it never is.
func (f *facts) doubtful(in input, level *levels) (low, high float64, all bool) {
	vil, vih := f.thresholds()
	const steps = 32
	inDoubt := func(part float64) bool {
		v := level.at(level.between(part))
		if v == nil {
			return false
		}
		volts := v.Typical(in.node)
		return volts > vil && volts < vih
	}
	low, high = math.NaN(), math.NaN()
	all = true
	sure := func(in, out float64) float64 { // where it begins, between a doubtful and a sure place
		for range 12 {
			if middle := (in + out) / 2; inDoubt(middle) {
				in = middle
			} else {
				out = middle
			}
		}
		return level.between(in)
	}
	before := false
	var last Reads
	for k := range steps + 1 {
		at := float64(k) / steps
		now := inDoubt(at)
		reads := Reads("")
		if v := level.at(level.between(at)); v != nil && !now {
			reads = ReadsLow
			if v.Typical(in.node) >= vih {
				reads = ReadsHigh
			}
		}
		switch step := 1.0 / steps; {
		case now && !before && k > 0:
			low = sure(at, at-step)
		case now && k == 0:
			low = level.low
		case !now && before:
			high = sure(at-step, at)
		case !now && last != "" && reads != last && f.passes(in, level, at-step, at): // within one step
			low, high = level.between(at-step), level.between(at)
		}
		all = all && now
		before, last = now, reads
	}
	if before {
		high = level.high
	}
	return low, high, all
}

// passes reports whether what an input gets goes by degrees from one side to the other between two
// parts of its sensor's range: what jumps there, as a contact or an output that trips, is not in
// doubt anywhere.
func (f *facts) passes(in input, level *levels, from, to float64) bool {
	volts := func(part float64) float64 {
		v := level.at(level.between(part))
		if v == nil {
			return math.NaN()
		}
		return v.Typical(in.node)
	}
	a, b := volts(from), volts(to)
	whole := math.Abs(b - a)
	for range 20 {
		middle := (from + to) / 2
		v := volts(middle)
		if math.Abs(v-a) < math.Abs(b-v) {
			from, a = middle, v
		} else {
			to, b = middle, v
		}
	}
	const jump = 0.5 // of the whole way, within a millionth of it
	return math.Abs(b-a) < jump*whole
}
