package check

import (
	"fmt"
	"math"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// sliver is the part of the scale below which a range is one (common practice:
// a quarter costs two bits).
const sliver = 0.25

// analogRange finds analog inputs that use a sliver of the scale.
var analogRange = rule{"analog-range", func(f *facts) []Finding {
	var out []Finding
	full := f.board.Logic.Analog.Full()
	for _, in := range f.analog() {
		pin, part := in.use.Pin.Name, in.claim.Part
		if in.piece == nil {
			volts, _ := f.everywhere(in.node)
			out = append(out, Finding{
				Level: Stop, Parts: []string{part.ID}, Pins: []string{pin},
				title: say("%s always reads %.0f, whatever %s does.", pinName(pin), min(1, volts.Typ/f.net.RailVolts(f.board.Logic.Analog.Reference).Typ)*full, called(part.Name)),
				why:   say("A wire ties it to a rail or to ground, so nothing can move it."),
				Fixes: append(f.offRail(in), f.connect(part)...),
			})
			continue
		}
		low, high := f.span(in)
		if high-low >= sliver*full {
			if from, to, reads, ok := f.stays(in); ok {
				out = append(out, Finding{
					Level: Care, Parts: []string{part.ID}, Pins: []string{pin}, which: "end",
					title: say("From %s to %s %s reads only from %.0f to %.0f of %.0f.", from, to, pinName(pin), reads[0], reads[1], full),
					why:   say("There the sensor is far smaller or far larger than the resistor beside it, so what it does makes little difference."),
					Fixes: f.widen(in),
				})
			}
			continue
		}
		if high-low < 2 {
			out = append(out, Finding{
				Level: Stop, Parts: []string{part.ID}, Pins: []string{pin},
				title: say("%s always reads %.0f, whatever %s does.", pinName(pin), high, called(part.Name)),
				why:   say("What the sensor changes does not reach the pin: a leg leads nowhere, or a level holds the pin."),
				Fixes: f.widen(in),
			})
			continue
		}
		out = append(out, Finding{
			Level: Care, Parts: []string{in.claim.Part.ID}, Pins: []string{in.use.Pin.Name},
			title: say("%s reads only from %.0f to %.0f of %.0f, whatever %s does.", pinName(in.use.Pin.Name), low, high, full, called(in.claim.Part.Name)),
			why:   say("Most of the converter's steps are never used, so each one that is left stands for a large change."),
			Fixes: f.widen(in),
		})
	}
	return out
}}

// The parts of the scale, at its ends, and of a sensor's range that count as staying at
// the end (common practice).
const (
	nearEnd = 0.03
	stays   = 0.25
)

// stays reports whether an analog input stays at an end of its scale over a good part of
// the range that the builder wants the sensor for: from which level to which, and what it
// reads at both.
func (f *facts) stays(in input) (from, to string, ends [2]float64, ok bool) {
	level := f.levelOf(in)
	if level == nil {
		return "", "", ends, false
	}
	full := f.board.Logic.Analog.Full()
	reads := func(x float64) float64 {
		v := level.at(x)
		if v == nil {
			return full / 2
		}
		return full * min(max(v.Typical(in.node)/f.net.RailVolts(f.board.Logic.Analog.Reference).Typ, 0), 1)
	}
	const steps = 24
	for _, atTop := range []bool{false, true} {
		isEnd := func(n float64) bool {
			if atTop {
				return n > (1-nearEnd)*full
			}
			return n < nearEnd*full
		}
		// What a sensor gives rises or falls all the way, so an end of the scale is
		// reached at an end of the range.
		if !isEnd(reads(level.low)) && !isEnd(reads(level.high)) {
			continue
		}
		first, last := -1, -1
		for k := range steps + 1 {
			if isEnd(reads(level.between(float64(k) / steps))) {
				if first < 0 {
					first = k
				}
				last = k
			}
		}
		if first >= 0 && float64(last-first) >= stays*steps {
			a, b := level.between(float64(first)/steps), level.between(float64(last)/steps)
			return level.text(a), level.text(b), [2]float64{reads(a), reads(b)}, true
		}
	}
	return "", "", ends, false
}

// span is the range of an analog input's typical readings.
func (f *facts) span(in input) (low, high float64) {
	low, high = math.Inf(1), math.Inf(-1)
	for _, v := range f.visits(in.node) {
		n := f.counts(v, in.use.Pin.Name).Typ
		low, high = min(low, n), max(high, n)
	}
	return low, high
}

// offRail takes the wire of a rail or of ground out of the row of an input, or puts it
// to a leg of the sensor that is loose.
func (f *facts) offRail(in input) (out []Fix) {
	net := f.doc.NetOf(build.Pin(in.use.Pin.Name))
	if net < 0 {
		return nil
	}
	p := in.claim.Part
	for _, t := range f.doc.Nets[net] {
		_, rail := t.Split()
		if !t.OnBoard() || rail == in.use.Pin.Name || !f.net.Stiff(f.net.Node(t)) {
			continue
		}
		off := plan.Free{Terminal: t}
		for _, term := range f.kind(p).Terminals {
			if leg := build.Of(p.ID, term.ID); f.doc.NetOf(leg) < 0 {
				out = append(out, Fix{fmt.Sprintf("Put the wire from %s to %s instead", rail, f.leg(leg)), editsOf(off, plan.Join{Terminal: leg, To: t})})
			}
		}
		out = append(out, Fix{fmt.Sprintf("Take the wire from %s to %s out", in.use.Pin.Name, rail), editsOf(off)})
	}
	return out
}

// widen chooses the divider's resistor again, also one that was wired by hand, or wires
// the part as usual.
func (f *facts) widen(in input) (out []Fix) {
	p := in.claim.Part
	for _, id := range f.helperIDs(p) {
		out = append(out, f.chooseAgain(id)...)
	}
	for i := range f.doc.Parts {
		r := &f.doc.Parts[i]
		if r.Of != "" || !f.kind(r).Is(part.Resistor) || !f.spend() || f.nodeOf(r.ID, "1") != in.node && f.nodeOf(r.ID, "2") != in.node {
			continue
		}
		if ohms, err := choose.Divider(f.known, f.lib, f.doc, r.ID, p.ID); err == nil && ohms != f.valueOf(r, "resistance") {
			out = append(out, Fix{fmt.Sprintf("Take %s for %s", quantity.Short(ohms, quantity.Ohm), r.Name), editsOf(value(r.ID, "resistance", ohms, quantity.Ohm))})
		}
	}
	return append(out, f.connect(p)...)
}
