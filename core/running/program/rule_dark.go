package program

import (
	"fmt"
	"strings"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// dark finds lamps that the program drives and never lights, whatever hands do.
var dark = rule{"dark", func(f *facts) []check.Finding {
	if f.o.slow || f.o.alone.ending.How == machine.Crashed || f.o.alone.longest > f.o.alone.limit || len(f.moved)+len(f.numbers) > 0 {
		return nil
	}
	if f.contacts() >= riddles {
		return nil
	}
	var out []check.Finding
	for i := range f.o.alone.rig.Actors {
		a := &f.o.alone.rig.Actors[i]
		pin, line := f.driver(a)
		if pin == "" || !a.Lamp {
			continue
		}
		p := f.o.pins[f.board.Number(pin)]
		if line == 0 && p.toneLine == 0 && !p.high && !f.o.lit(i) {
			x := f.about(check.Finding{Level: check.Care, Line: p.firstLine}, p.pin)
			x.Title = fmt.Sprintf("The program makes %s an output and writes nothing to it: %s never lights.", pin, a.Name)
			x.Why = "An output that nothing is written to stays low."
			out = append(out, x)
			continue
		}
		written := p.lowLine > 0 && p.highLine > 0
		if line == 0 || written || p.toneLine > 0 || p.duty.line > 0 && p.duty.between || f.o.lit(i) {
			continue
		}
		level := "low"
		if p.highLine > 0 {
			level = "high"
		}
		if f.otherLit(i) {
			continue // of a digit, or a lamp of several colours, one may be left out
		}
		x := f.about(check.Finding{Level: check.Care, Line: line}, p.pin)
		x.Title = fmt.Sprintf("%s never lights, whatever was tried.", a.Name)
		x.Why = fmt.Sprintf("The program keeps %s %s, and %s leaves it dark.", pin, level, level)
		if p.duty.line > 0 {
			x.Why = fmt.Sprintf("Its duty stays at %g.", p.duty.most)
		}
		if in := f.readings(); in != "" {
			x.Why += " Is what the readings are compared with within them? " + in
		}
		if f.tree.Clock != 0 || f.tree.Receives {
			x.Level = check.Note // it may come with time, or be typed
		}
		out = append(out, x)
	}
	return out
}}

// riddles is from how many contacts on a lamp may wait for a sequence that nobody tried.
const riddles = 3

// contacts is how many contacts there are; a keypad is as many as a riddle takes.
func (f *facts) contacts() (n int) {
	for _, c := range f.net.Controls {
		switch c.Kind {
		case wiring.Keys:
			n += riddles
		case wiring.Contact:
			n++
		}
	}
	return n
}

// otherLit reports whether another lamp of the same case was on in any run.
func (f *facts) otherLit(actor int) bool {
	a := &f.o.alone.rig.Actors[actor]
	for k := range f.o.alone.rig.Actors {
		if b := &f.o.alone.rig.Actors[k]; k != actor && b.Lamp && b.Part == a.Part && f.o.lit(k) {
			return true
		}
	}
	return false
}

// readings says over what the readings of the program went.
func (f *facts) readings() string {
	var out []string
	for _, p := range f.used {
		if p.reading.seen {
			out = append(out, fmt.Sprintf("%s gave %g to %g.", f.named(p.pin), p.reading.least, p.reading.most))
		}
	}
	return strings.Join(out, " ")
}
