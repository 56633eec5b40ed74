package program

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
)

// keys finds keypads of which the program cannot see some keys, or not when they are pressed for
// a short time.
var keys = rule{"keys", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Keys || r.presses[0].bounces {
			continue
		}
		c := &f.net.Controls[r.control]
		p := f.net.Whose(c)
		if p == nil || r.ending.How == machine.Crashed {
			continue
		}
		var columns []int
		line := 0
		for _, s := range p.Signals {
			if x := f.o.pins[f.board.Number(s.Pin)]; s.Needs == board.DigitalIn && x != nil && x.readLine > 0 {
				columns, line = append(columns, x.pin), max(line, x.readLine)
			}
		}
		looked := slices.ContainsFunc(columns, func(pin int) bool { return r.pins[pin] != nil && r.pins[pin].readLine > 0 })
		if len(columns) == 0 || !looked {
			continue // that it is never used is told otherwise; or it is looked at after something else only
		}
		var unseen []string
		for k := range r.presses {
			if !slices.ContainsFunc(columns, func(pin int) bool { return r.sensed[[2]int{k, pin}] }) {
				unseen = append(unseen, c.Keys[k])
			}
		}
		x := f.about(check.Finding{Line: line}, columns...)
		x.Parts = []string{p.ID}
		switch short := r.longest; {
		case len(unseen) == len(c.Keys):
			x.Level = check.Stop
			x.Title = fmt.Sprintf("The program never sees a key of %s.", c.Name)
			x.Why = "Whatever key is down, what the program reads stays the same. A key shows when the pin that it is read at is pulled one way, and the pin at its other end is driven the other way."
		case short > shortPress:
			x.Level, x.Line = check.Care, int(r.longestLine)
			x.Title = fmt.Sprintf("A short press of a key of %s can be missed.", c.Name)
			x.Why = fmt.Sprintf("The program pauses for %s, and meanwhile nothing is read. Look at the keys every 20 ms or so.", seconds(short))
		case len(unseen) > 0:
			x.Level = check.Care
			x.Title = fmt.Sprintf("The program never sees %s of %s.", list(unseen, 8), c.Name)
			x.Why = "While such a key is down, what the program reads stays the same: a row or a column is left out."
		default:
			continue
		}
		out = append(out, x)
	}
	return out
}}
