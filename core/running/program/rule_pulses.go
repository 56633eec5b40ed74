package program

import (
	"fmt"
	"math"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
)

// pulsesLost finds pulse sensors whose pulses come faster than the program takes them.
var pulsesLost = rule{"pulses", func(f *facts) []check.Finding {
	var out []check.Finding
	if len(f.numbers) > 0 {
		return nil // nothing is taken at all
	}
	for _, r := range f.o.runs {
		c := f.contact(r)
		if c == nil || len(r.presses) == 0 || r.presses[len(r.presses)-1].holds || !strings.HasSuffix(r.name, pulsing) {
			continue
		}
		p := f.net.Whose(c)
		for _, s := range p.Signals {
			q := r.pins[f.board.Number(s.Pin)]
			if q == nil {
				continue
			}
			x := check.Finding{Level: check.Care, Parts: []string{p.ID}, Pins: []string{s.Pin}, State: r.name, Line: max(q.attachLine, q.readLine)}
			rate := rig.ValueOf(f.net, p, "rate")
			period := 1e9 / math.Max(rate, 0.1)
			switch {
			case q.attachLine > 0 && q.lost > 0:
				x.Title = fmt.Sprintf("The program loses pulses of %s at %.3g a second.", c.Name, rate)
				x.Why = "The next comes before the function of the last is done, or while interrupts are held back. Count only, and do the rest in loop."
			case q.attachLine == 0 && float64(r.longest) > period/2:
				x.Title = fmt.Sprintf("The program looks at %s too seldom for %.3g pulses a second.", c.Name, rate)
				x.Why = fmt.Sprintf("%s pauses for %s; a pulse lasts %s. Use an interrupt, or do not pause.", build.Capital(f.at(int(r.longestLine))), seconds(r.longest), seconds(int64(period/2)))
			default:
				continue
			}
			out = append(out, x)
		}
	}
	return out
}}
