package check

import (
	"math"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// pinCurrent holds what each output sources and sinks against the limits of
// one pin.
var pinCurrent = rule{"pin-current", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		if !u.Drives() || !f.concerns(u.Pin.Name) {
			continue
		}
		pin := u.Pin.Name
		high, low := f.driver(pin)
		w, way := f.worstOf(high), "source"
		if sink := f.worstOf(low); sink.High > w.High {
			w, way = sink, "sink"
		}
		q := f.over("current", w, f.board.Logic.Pin)
		if q == nil {
			continue
		}
		x := Finding{
			Level: q.Level, Pins: []string{pin}, Found: q, State: q.State, At: q.At,
			title: say("Pin %s has to %s up to %s; %s is recommended.", pinName(pin), way, quantity.Format(q.High, quantity.Ampere), q.Limit.RecommendedText),
			why:   say("Its voltage gives way, and the chip runs warmer than its data sheet promises for."),
			Fixes: f.relieve(u, w),
		}
		if beyond := f.board.Logic.Pin.Beyond; beyond != "" && q.Level == Care && q.High > q.Limit.Absolute {
			x.why = words(beyond)
		}
		if q.Level == Stop {
			x.title = say("Pin %s has to %s up to %s; it survives %s.", pinName(pin), way, quantity.Format(q.High, quantity.Ampere), q.Limit.AbsoluteText)
			x.why = say("The pin is damaged for good, at once or before long.")
		}
		if other := f.rival(pin, w); other != "" {
			x.why = say("%s and %s are outputs on one wire: while one is high and the other low, they fight, and nothing but themselves holds the current back.", pinName(pin), pinName(other))
			x.Fixes = append([]Fix{{"Take the wire off " + pin, editsOf(plan.Free{Terminal: build.Pin(pin)})}}, x.Fixes...)
		}
		for _, c := range u.Signals {
			x.Parts = append(x.Parts, c.Part.ID)
		}
		out = append(out, x)
	}
	return out
}}

// rival is the pin that drives against another one with nothing between them; empty where the
// current goes another way.
func (f *facts) rival(pin string, w worst) (other string) {
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		e := &f.net.Elements[d.Element]
		switch {
		case e.Role != wiring.HighSide && e.Role != wiring.LowSide:
			if math.Abs(d.Volts) > 0.1 {
				return ""
			}
		case e.Pin != pin:
			other = e.Pin
		}
	}
	return other
}

// relieve takes one of several parts off a pin, limits a lamp that it drives,
// wires its part the usual way, or else guards the pin: the first of these that
// brings the pin's current down.
func (f *facts) relieve(u wiring.Use, w worst) []Fix {
	var tries []Fix
	// What is on a bus takes the load along to the next pin.
	if last := u.Signals[len(u.Signals)-1]; len(u.Signals) > 1 && last.Signal.Bus == "" {
		tries = append(tries, f.moveTo(last)...)
	}
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		if l, ok := f.lampAt(d.Element); ok {
			tries = append(tries, f.limitLamp(l, f.worstOf(d.Element))...)
		}
	}
	part := u.Signals[0].Part
	if h := f.kind(part).Hookups; part.Hookup != "" && len(h) > 0 && part.Hookup != h[0].ID {
		tries = append(tries, f.usual(part)...)
	}
	tries = append(tries, f.turnRectifiers()...)
	for _, try := range append(tries, f.guard(u.Pin.Name)...) {
		if g := f.after(try.Edits); g != nil && g.spared(u.Pin.Name) {
			return []Fix{try}
		}
	}
	return nil
}

// spared reports whether a pin carries what is recommended at most.
func (f *facts) spared(pin string) bool {
	high, low := f.driver(pin)
	return max(f.worstOf(high).High, f.worstOf(low).High) <= f.board.Logic.Pin.Recommended
}
