package program

import (
	"fmt"

	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// readOnce finds what is measured at the beginning alone, by a program that goes on. Of levels it is
// not known how often they are read.
var readOnce = rule{"read-once", func(f *facts) []check.Finding {
	const (
		begin = 200 * ms // up to which a reading is one of the beginning
		goes  = 1000 * ms
	)
	if f.o.slow || f.o.alone.ending.How != machine.Over || f.o.alone.longest > goes || f.o.alone.limit < 2*goes {
		return nil
	}
	var out []check.Finding
	for _, p := range f.used {
		u, ok := f.uses[f.o.words(p.pin)]
		if _, moved := f.moved[p.pin]; !ok || moved || len(u.Signals) != 1 || !p.reading.seen || p.readLine > 0 {
			continue
		}
		once := true
		for _, r := range f.o.all() {
			x := r.pins[p.pin]
			once = once && x != nil && x.measured < begin && r.ending.How == machine.Over
		}
		if !once {
			continue
		}
		part := u.Signals[0].Part
		x := f.about(check.Finding{Level: check.Care, Line: p.reading.line}, p.pin)
		x.Title = fmt.Sprintf("%s is measured only once, as the program begins: what it does later is not seen.", part.Name)
		x.Why = "The line that measures it is done once, before the loop. What is to be followed is measured in the loop."
		out = append(out, x)
	}
	return out
}}
