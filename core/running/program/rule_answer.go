package program

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
)

// slowAnswer finds presses that are answered late, or missed.
var slowAnswer = rule{"answer", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, pair := range f.clean() {
		r := pair[0]
		c := f.contact(r)
		if f.o.alone.longest == 0 && r.longest == 0 || !f.momentary(c) {
			continue // what stays is still there when the program looks
		}
		var latest int64
		missed := false
		_, first := f.answer(r, r.presses[0].from, r.presses[1].from)
		for k, p := range r.presses {
			until := r.limit
			if k+1 < len(r.presses) {
				until = r.presses[k+1].from
			}
			after, by := f.answer(r, p.from, until)
			if by == nil {
				continue
			}
			if lasts := p.to - p.from; after >= lasts {
				after -= lasts // it acts when the button is let go
			}
			latest = max(latest, after)
			missed = missed || first == nil && k > 0 && alike(r, r.presses[0].from, p.from)
		}
		x := check.Finding{Level: check.Care, Parts: []string{c.Of}, State: r.name, Line: int(f.o.alone.longestLine)}
		if p := f.net.Whose(c); p != nil && len(p.Signals) > 0 {
			x.Pins = []string{p.Signals[0].Pin}
		}
		pause := ""
		if l := max(f.o.alone.longest, r.longest); l > 50*ms {
			pause = fmt.Sprintf(" %s pauses for %s, and meanwhile nothing is read.", build.Capital(f.at(int(max(f.o.alone.longestLine, r.longestLine)))), seconds(l))
		}
		if first == nil && latest == 0 && f.dozes(r, c) {
			missed = true
			x.Line = int(r.longestLine)
		}
		switch {
		case missed:
			x.Title = fmt.Sprintf("A short press of %s can be missed.", c.Name)
			x.Why = "A press of " + seconds(r.presses[0].to-r.presses[0].from) + " came and went." + pause
		case latest > 100*ms:
			x.Title = fmt.Sprintf("It takes %s until a press of %s shows.", seconds(latest), c.Name)
			x.Why = "From a tenth of a second on, people feel that they have to wait (common practice)." + pause
		default:
			continue
		}
		out = append(out, x)
	}
	return append(out, f.lagging()...)
}}

// dozes reports whether a program reads a button with pauses so long that nobody holds it for.
func (f *facts) dozes(r *run, c *wiring.Control) bool {
	const held = 1500 * ms
	p := f.net.Whose(c)
	if p == nil || f.o.alone.longest < held {
		return false
	}
	for _, s := range p.Signals {
		if x := f.o.pins[f.board.Number(s.Pin)]; x != nil && x.readLine > 0 && x.attachLine == 0 {
			return true
		}
	}
	return false
}

// lagging finds knobs that what follows them follows in steps that one feels.
func (f *facts) lagging() (out []check.Finding) {
	const felt = 200 * ms
	for _, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Level || f.net.Controls[r.control].Unit != "turn" || r.longest < felt {
			continue
		}
		c := &f.net.Controls[r.control]
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			if len(a.Acts) < 4 || !steady(&f.o.alone.rig.Actors[i], 100*ms, f.o.alone.limit) {
				continue
			}
			x := check.Finding{Level: check.Care, Parts: []string{c.Of, a.Part.ID}, State: r.name, Line: int(r.longestLine)}
			x.Title = fmt.Sprintf("%s follows %s only every %s.", a.Name, c.Name, seconds(r.longest))
			x.Why = fmt.Sprintf("%s pauses for so long, and meanwhile nothing is read. Pause for some 10 ms instead.", build.Capital(f.at(int(r.longestLine))))
			out = append(out, x)
			break
		}
	}
	return out
}

// alike reports whether everything that acts is as much on at one time of a run as at another.
func alike(r *run, at, then int64) bool {
	for i := range r.rig.Actors {
		a := &r.rig.Actors[i]
		if (a.At(at).Amps >= a.On) != (a.At(then).Amps >= a.On) {
			return false
		}
	}
	return true
}

// like reports whether something is as much on as at another time.
func like(x, y rig.Act) bool { return math.Abs(y.Amps-x.Amps) <= 0.002*math.Max(y.Amps, 1e-4) }

// answer is how long after a moment something happens that does not happen by itself, and
// what does it; nil: nothing does.
func (f *facts) answer(r *run, from, to int64) (int64, *rig.Actor) {
	best, who := int64(0), (*rig.Actor)(nil)
	for i := range r.rig.Actors {
		a, base := &r.rig.Actors[i], &f.o.alone.rig.Actors[i]
		for _, x := range a.Within(from, to-1) {
			if x.At < from {
				continue
			}
			// What is as it would be without the hand, give or take what the hand delays, is no
			// answer.
			displaced := steady(base, 0, f.o.alone.limit) && !like(a.At(from-1), base.At(from-1))
			if !displaced && slices.ContainsFunc(base.Within(x.At-5*ms, x.At+5*ms), func(y rig.Act) bool {
				return like(x, y)
			}) {
				continue
			}
			if who == nil || x.At-from < best {
				best, who = x.At-from, a
			}
			break
		}
	}
	if who != nil {
		return best, who
	}
	said := 0
	for _, p := range f.o.alone.prints {
		if p.at >= from && p.at < to {
			said++
		}
	}
	for _, p := range r.prints {
		if p.at >= from && p.at < to && said == 0 {
			return p.at - from, &rig.Actor{Name: "what it prints"}
		}
	}
	return 0, nil
}
