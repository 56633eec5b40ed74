package program

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// triggered finds distance modules whose echo is read and which are never asked to measure, or only
// once.
var triggered = rule{"trigger", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How != machine.Over || len(f.moved) > 0 {
		return nil
	}
	var out []check.Finding
	for i := range f.net.Doc.Parts {
		p := &f.net.Doc.Parts[i]
		kind, ok := f.lib.Catalogue.Kind(p.Kind)
		if !ok || !kind.Is(part.Echo) || len(p.Signals) < 2 {
			continue
		}
		trigger, echo := f.o.pins[f.board.Number(p.Signals[0].Pin)], f.o.pins[f.board.Number(p.Signals[1].Pin)]
		if trigger == nil || echo == nil || !trigger.output() || f.asked(p.ID) > 1 || !f.waited(echo.pin) {
			continue
		}
		x := f.about(check.Finding{Level: check.Stop, Line: trigger.firstLine}, trigger.pin, echo.pin)
		x.Title = fmt.Sprintf("%s is never asked to measure: no echo comes.", p.Name)
		switch {
		case f.asked(p.ID) == 1 && trigger.highLine == 0:
			x.Title = fmt.Sprintf("%s is asked to measure only once.", p.Name)
			x.Why = fmt.Sprintf("%s goes high only once.", p.Signals[0].Pin)
			x.Line = trigger.lowLine
		case trigger.highLine == 0:
			x.Why = fmt.Sprintf("%s is never high.", p.Signals[0].Pin)
			x.Line = trigger.lowLine
		case trigger.lowLine == 0:
			x.Why = fmt.Sprintf("%s goes high and never low again.", p.Signals[0].Pin)
			x.Line = trigger.highLine
		default:
			x.Why = fmt.Sprintf("%s is high for too short a time, or too seldom.", p.Signals[0].Pin)
			x.Line = trigger.highLine
		}
		x.Why += " The module measures after its trigger was high for ten microseconds and is low again; each measurement takes that once more."
		out = append(out, x)
	}
	return out
}}

// waited reports whether a run waited for several echoes: one that was just begun tells nothing.
func (f *facts) waited(echo int) bool {
	return slices.ContainsFunc(f.o.all(), func(r *run) bool { return r.pins[echo] != nil && r.pins[echo].timed >= 3 })
}

// asked is how often a distance module measured at most in a run.
func (f *facts) asked(id string) (n int) {
	for _, r := range f.o.all() {
		n = max(n, r.rig.Measured(id))
	}
	return n
}
