package program

import (
	"fmt"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// serial finds links that are not opened, that are asked for more than they carry, and parts
// on their pins.
var serial = rule{"serial", func(f *facts) []check.Finding {
	if f.doc.Program.Language != build.CPP {
		return nil
	}
	var out []check.Finding
	began, rates := 0, map[float64]bool{}
	for _, r := range f.o.all() {
		for _, e := range r.notes {
			if e.Kind == machine.Began && e.Value > 0 {
				began = e.Line
				rates[e.Value] = true
			}
		}
	}
	for _, r := range f.o.all() {
		for _, p := range r.prints {
			if p.rate == 0 && len(out) == 0 {
				x := check.Finding{Level: check.Care, Line: p.line}
				x.Title = build.Capital(f.at(p.line)) + " prints, but the serial link is not open."
				x.Why = "Nothing arrives. It is opened in setup, with the rate that the computer listens at."
				if line, indent := f.setupOf(); line > 0 && began == 0 {
					x.Fixes = f.rewrite("Open it at 9600", line, f.line(line)+"\n"+indent+"Serial.begin(9600);")
				}
				out = append(out, x)
			}
		}
	}
	if began == 0 {
		return out
	}
	if x, ok := f.flood(); ok {
		out = append(out, x)
	}
	// Signals and wires on the link's own pins.
	for _, pin := range f.board.Pins {
		if pin.Own == nil || !strings.HasPrefix(pin.Own.For, "serial link") || !f.wired(f.board.Number(pin.Name)) {
			continue
		}
		x := f.about(check.Finding{Level: check.Care, Line: began}, f.board.Number(pin.Name))
		x.Title = fmt.Sprintf("The program talks by the serial link, and %s belongs to it.", f.named(f.board.Number(pin.Name)))
		x.Why = pin.Own.Effect
		out = append(out, x)
	}
	return out
}}

// flood finds programs that print more than their rate carries.
func (f *facts) flood() (check.Finding, bool) {
	r := f.o.alone
	if !f.board.Programs().Paced || len(r.prints) < 50 {
		return check.Finding{}, false
	}
	chars, rate := 0, 0.0
	for _, p := range r.prints {
		chars, rate = chars+len(p.text), p.rate
	}
	span := r.prints[len(r.prints)-1].at - r.prints[0].at
	if rate <= 0 || span <= 0 {
		return check.Finding{}, false
	}
	share := float64(chars) * 10 / rate * 1e9 / float64(span)
	if share < 0.9 {
		return check.Finding{}, false
	}
	x := check.Finding{Level: check.Care, Line: r.prints[len(r.prints)-1].line}
	x.Title = fmt.Sprintf("The program prints as fast as %.0f baud carries, all the time.", rate)
	x.Why = fmt.Sprintf("%.0f characters a second is all there is: every print waits for the last, and everything else with it. Print less often, or at 115200.", rate/10)
	return x, true
}
