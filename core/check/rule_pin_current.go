package check

import (
	"fmt"

	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
)

// pinCurrent holds what each output sources and sinks against the limits of
// one pin.
var pinCurrent = rule{"pin-current", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		if !u.Drives() {
			continue
		}
		pin := u.Pin.Name
		high, low := f.driver(pin)
		w, way := f.worstOf(f.planned, high), "source"
		if sink := f.worstOf(f.planned, low); sink.High > w.High {
			w, way = sink, "sink"
		}
		q := f.over("current", w, f.board.Logic.Pin)
		if q == nil {
			continue
		}
		x := Finding{
			Level: q.Level, Pins: []string{pin}, Found: q, State: q.State,
			Title: fmt.Sprintf("Pin %s has to %s up to %s; %s is recommended.", pin, way, quantity.Format(q.High, quantity.Ampere), q.Limit.RecommendedText),
			Why:   "Its voltage gives way, and the chip runs warmer than its data sheet promises for.",
			Fixes: f.relieve(u, w),
		}
		if q.Level == Stop {
			x.Title = fmt.Sprintf("Pin %s has to %s up to %s; it survives %s.", pin, way, quantity.Format(q.High, quantity.Ampere), q.Limit.AbsoluteText)
			x.Why = "The pin is damaged, sooner or later for good."
		}
		for _, c := range u.Signals {
			x.Parts = append(x.Parts, c.Part.ID)
		}
		out = append(out, x)
	}
	return out
}}

// relieve takes one of several parts off a pin, limits the lamp that it drives,
// or else guards it.
func (f *facts) relieve(u wiring.Use, w worst) []Fix {
	if len(u.Signals) > 1 {
		return f.moveTo(u.Signals[len(u.Signals)-1])
	}
	drops, _, _ := w.at.Path(w.element)
	for _, d := range drops {
		if l, ok := f.lampAt(d.Element); ok {
			if fixes := f.limitLamp(l, f.worstOf(f.planned, d.Element)); fixes != nil {
				return fixes
			}
		}
	}
	part := u.Signals[0].Part
	if h := f.kind(part).Hookups; part.Hookup != "" && part.Hookup != h[0].ID {
		fix := f.usual(part)
		if g := f.after(fix[0].Edits); g != nil && g.spared(part.ID) {
			return fix
		}
	}
	return f.guard(u.Pin.Name)
}

// spared reports whether every pin of a part carries what is recommended at most.
func (f *facts) spared(part string) bool {
	for _, u := range f.net.Uses {
		if u.Signals[0].Part.ID != part || !u.Drives() {
			continue
		}
		high, low := f.driver(u.Pin.Name)
		if max(f.worstOf(f.planned, high).High, f.worstOf(f.planned, low).High) > f.board.Logic.Pin.Recommended {
			return false
		}
	}
	return true
}
