package program

import (
	"fmt"
	"regexp"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// dutyRange finds duties beyond what is full, and those that use little of it.
var dutyRange = rule{"range", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		d := p.duty
		if d.line == 0 || d.full == 0 {
			continue
		}
		if d.most > d.full || d.least < 0 {
			bad, line := d.most, d.mostLine
			if d.least < 0 && d.most <= d.full {
				bad, line = d.least, d.leastLine
			}
			x := f.about(check.Finding{Level: check.Care, Line: line}, p.pin)
			x.Title = fmt.Sprintf("%s is given a duty of %g, and full is %g.", f.named(p.pin), bad, d.full)
			x.Why = fmt.Sprintf("What is beyond begins again from the start: %g does as %d does.", bad, int(bad)&int(d.full))
			x.Fixes = f.scale(line, bad, d.full)
			out = append(out, x)
			continue
		}
		if d.most > 0 && d.most*50 < d.full {
			x := f.about(check.Finding{Level: check.Care, Line: d.mostLine}, p.pin)
			x.Title = fmt.Sprintf("%s is never given more than %g of %g: that is as good as off.", f.named(p.pin), d.most, d.full)
			x.Why = fmt.Sprintf("A duty goes from 0 to %g here.", d.full)
			out = append(out, x)
			continue
		}
		if x, ok := f.sliver(p); ok {
			out = append(out, x)
		}
	}
	return append(out, f.astray()...)
}}

// astray finds arms that are sent beyond where they go.
func (f *facts) astray() []check.Finding {
	for _, r := range f.o.all() {
		for _, e := range r.notes {
			if e.Kind != machine.Wronged || e.Text != "angle" {
				continue
			}
			return []check.Finding{{
				Level: check.Care, Line: e.Line, State: r.about(),
				Title: fmt.Sprintf("%s sends an arm to %g degrees, and it goes from 0 to 180.", build.Capital(f.at(e.Line)), e.Value),
				Why:   "What is beyond stays at the end; from 544 on the number is taken for a pulse in microseconds. A reading is scaled first: map(reading, 0, 1023, 0, 180).",
			}}
		}
	}
	return nil
}

// scale is the fix that maps a reading to a duty.
func (f *facts) scale(line int, bad, full float64) []check.Fix {
	if f.doc.Program.Language != build.CPP || bad < 0 {
		return nil
	}
	m := duties.FindStringSubmatch(f.line(line))
	most := float64(int(1)<<f.board.Programs().ReadBits - 1)
	if m == nil || bad > most {
		return nil
	}
	becomes := fmt.Sprintf("analogWrite(%s, map(%s, 0, %g, 0, %g))", m[1], strings.TrimSpace(m[2]), most, full)
	return f.rewrite(fmt.Sprintf("Scale 0 to %g down to 0 to %g", most, full), line, strings.Replace(f.line(line), m[0], becomes, 1))
}

// wholes are divisions of something by a converter's full scale, or one more.
var wholes = regexp.MustCompile(`[\w)]\s*/\s*\(?(1023|1024|4095|4096|65535)\b(?:[^.]|$)`)

var duties = regexp.MustCompile(`analogWrite\(([^,()]+),\s*((?:[^()]|\([^()]*\))+)\)`)

// sliver finds a knob whose whole turn moves a duty over a part of its range only, though the
// reading goes over all of its own.
func (f *facts) sliver(p *pinFacts) (check.Finding, bool) {
	for _, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Level {
			continue
		}
		q := r.pins[p.pin]
		if q == nil || q.duty.line == 0 || q.duty.full == 0 || q.duty.most == q.duty.least {
			continue
		}
		alone := f.o.alone.pins[p.pin]
		if alone != nil && alone.duty.line > 0 && alone.duty.most != alone.duty.least {
			continue // it moves by itself
		}
		for _, in := range r.pins {
			if in.reading.line == 0 || in.reading.full == 0 || in.reading.most < 0.95*in.reading.full || in.reading.least > 0.05*in.reading.full {
				continue
			}
			if m := wholes.FindStringSubmatch(f.doc.Program.Text); m != nil && !q.duty.between && f.doc.Program.Language == build.CPP {
				x := f.about(check.Finding{Level: check.Care, Line: q.duty.mostLine}, p.pin, in.pin)
				x.Title = fmt.Sprintf("%s is only ever off or full, while %s goes over its whole range.", f.named(p.pin), f.named(in.pin))
				x.Why = fmt.Sprintf("A whole number divided by %s is a whole number: 0 until the very end of the range. Multiply first, or use map.", m[1])
				return x, true
			}
			// By one knob alone a lamp may go over a part only, where another has its share.
			if d := f.o.pins[p.pin].duty; d.most-d.least > 0.6*d.full {
				continue
			}
			x := f.about(check.Finding{Level: check.Note, Line: q.duty.mostLine}, p.pin, in.pin)
			x.Title = fmt.Sprintf("%s goes from %g to %g of %g only, while %s goes over its whole range.", f.named(p.pin), q.duty.least, q.duty.most, q.duty.full, f.named(in.pin))
			x.Why = fmt.Sprintf("The reading goes up to %g. Scale that to %g.", in.reading.full, q.duty.full)
			return x, true
		}
	}
	return check.Finding{}, false
}
