package program

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/check"
	"cablaggio/core/quantity"
	"cablaggio/core/rig"
	"cablaggio/core/wiring"
)

// contact is the part that the hands of a run use; nil of other runs.
func (f *facts) contact(r *run) *wiring.Control {
	if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Contact {
		return nil
	}
	return &f.net.Controls[r.control]
}

// clean are the runs in which a contact is used without bounce, and the ones with.
func (f *facts) clean() (out [][2]*run) {
	for i, r := range f.o.runs {
		c := f.contact(r)
		if c == nil || len(r.presses) != 3 || !r.presses[2].holds {
			continue
		}
		pair := [2]*run{r, nil}
		if i+1 < len(f.o.runs) && f.o.runs[i+1].control == r.control {
			pair[1] = f.o.runs[i+1]
		}
		out = append(out, pair)
	}
	return out
}

// steady reports whether an actor does nothing by itself in a run from a time on.
func steady(a *rig.Actor, from, to int64) bool { return a.Changes(from, to) == 0 }

// inverted finds lamps that are lit while nobody presses, and go out while somebody does; and
// lamps that are lit by a low pin and darken as their knob is turned up.
var inverted = rule{"inverted", func(f *facts) []check.Finding {
	var out []check.Finding
	told := map[string]bool{}
	for _, pair := range f.clean() {
		r := pair[0]
		hold := r.presses[2]
		c := f.contact(r)
		if !f.momentary(c) {
			continue // a door may be open as well as shut
		}
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			base := &f.o.alone.rig.Actors[i]
			if !a.Lamp || told[a.Name] || !steady(base, 100*ms, f.o.alone.limit) || base.At(r.limit-1).Amps < base.On {
				continue
			}
			// Dark in the later half of the hold, lit in its last moment before and after.
			dark := a.At(hold.to-50*ms).Amps < a.On && a.Changes((hold.from+hold.to)/2, hold.to-50*ms) == 0
			lit := a.At(hold.from-50*ms).Amps >= a.On && a.At(r.limit-1).Amps >= a.On
			short := r.presses[0]
			if !dark || !lit || a.At(short.from-10*ms).Amps < a.On {
				continue
			}
			told[a.Name] = true
			pin, line := f.driver(a)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID, c.Of}, Line: line, State: r.name}
			if pin != "" {
				x.Pins = []string{pin}
			}
			x.Title = fmt.Sprintf("%s is lit while nobody touches %s, and goes out while it is %s.", a.Name, c.Name, c.Settings[wiring.Closed])
			x.Why = f.whyInverted(a, c)
			out = append(out, x)
		}
	}
	return append(out, f.darkens(told)...)
}}

// momentary reports whether a contact goes back by itself when nobody presses it.
func (f *facts) momentary(c *wiring.Control) bool { return c.Settings[wiring.Closed] == "pressed" }

// whyInverted says where the levels are probably exchanged.
func (f *facts) whyInverted(a *rig.Actor, c *wiring.Control) string {
	for _, s := range a.Part.Signals {
		if s.Active == "low" {
			return fmt.Sprintf("A low pin lights it: on %s, LOW is on and HIGH is off.", s.Pin)
		}
	}
	if p := f.doc.Part(c.Of); p != nil {
		for _, s := range p.Signals {
			if s.Pull == "up" {
				return fmt.Sprintf("With the pull-up, %s reads LOW while it is %s and HIGH otherwise.", s.Pin, c.Settings[wiring.Closed])
			}
		}
	}
	return "If that is not what is meant, high and low are exchanged somewhere between the two."
}

// driver is the pin that drives an actor, and a line that writes it.
func (f *facts) driver(a *rig.Actor) (pin string, line int) {
	for _, s := range a.Part.Signals {
		if len(a.Part.Signals) > 1 && !strings.Contains(a.Name, s.Name) {
			continue
		}
		if p := f.o.pins[f.board.Number(s.Pin)]; p != nil && p.output() {
			return s.Pin, slices.Max([]int{p.lowLine, p.highLine, p.duty.line})
		}
	}
	return "", 0
}

// darkens finds lamps on a low pin that get darker as what they follow grows.
func (f *facts) darkens(told map[string]bool) (out []check.Finding) {
	for _, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Level {
			continue
		}
		c := &f.net.Controls[r.control]
		var in *pinFacts
		for _, p := range r.pins {
			if p.reading.full > 0 && p.reading.most-p.reading.least > 0.3*p.reading.full {
				in = p
			}
		}
		if in == nil {
			continue
		}
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			pin, line := f.driver(a)
			if !a.Lamp || told[a.Name] || pin == "" || !lowLights(a, pin) || !steady(&f.o.alone.rig.Actors[i], 100*ms, f.o.alone.limit) {
				continue
			}
			// In the middle of the run the level is at its most.
			middle := r.moves[len(r.moves)/2].At + 20*ms
			atLeast, atMost := a.At(r.moves[0].At+20*ms), a.At(middle)
			high, low := readingAt(r, in, true), readingAt(r, in, false)
			if high <= low || atLeast.Amps < 3*a.On || atMost.Amps > 0.5*atLeast.Amps {
				continue
			}
			told[a.Name] = true
			out = append(out, check.Finding{
				Level: check.Care, Parts: []string{a.Part.ID, c.Of}, Pins: []string{pin}, Line: line, State: r.name,
				Title: fmt.Sprintf("%s gets darker as the reading of %s grows.", a.Name, c.Name),
				Why:   fmt.Sprintf("A low pin lights it: a duty of 0 is as bright as it gets. Write %s less the value.", fullOf(f.o.pins[f.board.Number(pin)])),
			})
		}
	}
	return out
}

func fullOf(p *pinFacts) string {
	if p == nil || p.duty.full == 0 {
		return "255"
	}
	return fmt.Sprintf("%g", p.duty.full)
}

func lowLights(a *rig.Actor, pin string) bool {
	for _, s := range a.Part.Signals {
		if s.Pin == pin && s.Active == "low" {
			return true
		}
	}
	return false
}

// readingAt is the reading at the end of the range, most or least.
func readingAt(r *run, in *pinFacts, most bool) float64 {
	g := rig.New(r.rig.Network())
	for _, c := range []struct{ at int }{{len(r.moves) / 2}, {0}} {
		if (c.at > 0) == most {
			g.Turn(r.control, r.moves[c.at].To)
		}
	}
	g.Set(in.pin, r.rig.Drive(in.pin), 0)
	return g.Reading(in.pin)
}

// together finds parts that are said to be on one at a time, and that the program has on
// together.
var together = rule{"together", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, group := range f.doc.Exclusive {
		for _, r := range f.o.all() {
			a, b, at, amps := overlap(r, group)
			if a == nil {
				continue
			}
			q := check.Against("current", quantity.Ampere, wiring.Range{Low: amps, Typ: amps, High: amps}, f.board.Logic.Total)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID, b.Part.ID}, Found: q, State: r.name}
			_, x.Line = f.driver(b)
			for _, l := range []*rig.Actor{a, b} {
				if pin, _ := f.driver(l); pin != "" {
					x.Pins = append(x.Pins, pin)
				}
			}
			x.Title = fmt.Sprintf("%s and %s are on together, after %s; they are said to take turns.", a.Name, b.Name, seconds(at))
			x.Why = "The wiring was worked out for one at a time: with a shared resistor both are darker, and without one the pins carry more than was counted. Switch the one off before the other goes on."
			out = append(out, x)
			break
		}
	}
	for _, r := range f.o.all() {
		for _, t := range r.turns {
			name := f.doc.Part(t.part).Name
			if !t.broken || slices.ContainsFunc(out, func(x check.Finding) bool { return slices.Contains(x.Parts, t.part) }) {
				continue
			}
			x := f.about(check.Finding{Level: check.Stop, Line: t.line, Parts: []string{t.part}, State: r.name}, t.both[0], t.both[1])
			x.Title = fmt.Sprintf("%s and %s of %s are selected together.", f.o.words(t.both[0]), f.o.words(t.both[1]), name)
			x.Why = "Then nobody can tell which of the two a key belongs to. Let each go before the next is driven."
			if slices.ContainsFunc(r.rig.Actors, func(a rig.Actor) bool { return a.Part.ID == t.part }) {
				x.Level = check.Care
				x.Title = fmt.Sprintf("%s and %s of %s are on together; they are said to take turns.", f.o.words(t.both[0]), f.o.words(t.both[1]), name)
				x.Why = "They share a resistor, so each is darker than alone. Switch the one off before the other goes on."
			}
			out = append(out, x)
		}
	}
	return out
}}

// overlap looks for two parts of a group that are on at the same time for longer than a
// program takes from one write to the next.
func overlap(r *run, group []string) (a, b *rig.Actor, at int64, amps float64) {
	const least = 2 * ms
	for i := range r.rig.Actors {
		x := &r.rig.Actors[i]
		if !slices.Contains(group, x.Part.ID) {
			continue
		}
		for k := i + 1; k < len(r.rig.Actors); k++ {
			y := &r.rig.Actors[k]
			if y.Part == x.Part || !slices.Contains(group, y.Part.ID) {
				continue
			}
			for n, act := range x.Acts {
				if act.Amps < x.On {
					continue
				}
				end := r.limit
				if n+1 < len(x.Acts) {
					end = x.Acts[n+1].At
				}
				for m, other := range y.Within(act.At, end) {
					_ = m
					from := max(act.At, other.At)
					if other.Amps >= y.On && end-from > least && y.At(from+least).Amps >= y.On {
						return x, y, from, act.Amps + other.Amps
					}
				}
			}
		}
	}
	return nil, nil, 0, 0
}

// pinsTotal finds programs with which all pins together carry more than they may.
var pinsTotal = rule{"total", func(f *facts) []check.Finding {
	var worst float64
	var in *run
	for _, r := range f.o.all() {
		if r.rig.Most > worst {
			worst, in = r.rig.Most, r
		}
	}
	if in == nil || worst <= f.board.Logic.Total.Recommended {
		return nil
	}
	q := check.Against("all pins together", quantity.Ampere, wiring.Range{Low: worst, Typ: worst, High: worst}, f.board.Logic.Total)
	x := check.Finding{Level: q.Level, Found: q, State: in.name}
	x.Title = fmt.Sprintf("With this program all pins together carry %s, after %s.", q.TypText, seconds(in.rig.MostAt))
	x.Why = fmt.Sprintf("%s is recommended, %s is the limit, at the typical values.", q.Limit.RecommendedText, q.Limit.AbsoluteText)
	return []check.Finding{x}
}}

// bounces finds presses that act more than once when the contact bounces.
var bounces = rule{"bounce", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, pair := range f.clean() {
		clean, bouncing := pair[0], pair[1]
		if bouncing == nil {
			continue
		}
		c := f.contact(clean)
		from, to := bouncing.presses[1].from, bouncing.limit-20*ms
		what, more := "", false
		for i := range clean.rig.Actors {
			a, b := &clean.rig.Actors[i], &bouncing.rig.Actors[i]
			n, m := a.Changes(from, to), b.Changes(from, to)
			if n > 8 || a.Lost || b.Lost {
				continue // it goes on and off by itself
			}
			// What blinks by itself may do so once more or less.
			alone := f.o.alone.rig.Actors[i].Changes(from, to)
			if on := a.At(to).Amps >= a.On; n != m && alone == 0 || alone == 0 && on != (b.At(to).Amps >= b.On) {
				// Follows of the contact itself are no harm: after the bounce all is as it should be.
				if on == (b.At(to).Amps >= b.On) && follows(a, clean) {
					continue
				}
				what, more = a.Name, true
				break
			}
		}
		if !more {
			n, m, alone := prints(clean, from, to), prints(bouncing, from, to), prints(f.o.alone, from, to)
			if alone == 0 && n > 0 && n <= 6 && m > n {
				what, more = "what it prints", true
			}
		}
		if !more {
			continue
		}
		p := f.doc.Part(c.Of)
		x := check.Finding{Level: check.Care, Parts: []string{c.Of}, State: bouncing.name}
		if p != nil {
			for _, s := range p.Signals {
				x.Pins = append(x.Pins, s.Pin)
				if q := f.o.pins[f.board.Number(s.Pin)]; q != nil {
					x.Line = max(x.Line, q.readLine)
				}
			}
			x.Why = fmt.Sprintf("Its contact opens and closes several times within %s; the program takes each for a press, as %s shows. Let it wait until the pin has stayed as it is for %s.",
				seconds(rig.BounceOf(f.net, p)), what, seconds(int64(math.Max(0.02, 2*rig.ValueOf(f.net, p, "bounce"))*1e9)))
		}
		x.Title = fmt.Sprintf("One press of %s can act more than once.", c.Name)
		out = append(out, x)
	}
	return append(out, f.keysBounce()...)
}}

// keysBounce finds keypads of which one press acts more than once when the keys bounce.
func (f *facts) keysBounce() (out []check.Finding) {
	for i, r := range f.o.runs {
		if r.control < 0 || f.net.Controls[r.control].Kind != wiring.Keys || i+1 >= len(f.o.runs) || f.o.runs[i+1].control != r.control || len(r.presses) == 0 || r.presses[0].bounces {
			continue
		}
		bouncing := f.o.runs[i+1]
		c := &f.net.Controls[r.control]
		what := ""
		for k := range r.rig.Actors {
			a, b, base := &r.rig.Actors[k], &bouncing.rig.Actors[k], &f.o.alone.rig.Actors[k]
			if a.Lost || b.Lost || base.Changes(0, f.o.alone.limit) > 1 {
				continue
			}
			for _, p := range r.presses {
				// Once it has come to rest, down and up again, all should be as without the bounce.
				for _, still := range []int64{p.from + 60*ms, p.to + 60*ms} {
					if (a.At(still).Amps >= a.On) != (b.At(still).Amps >= b.On) {
						what = a.Name
					}
				}
			}
		}
		if n, m := prints(r, 0, r.limit), prints(bouncing, 0, r.limit); what == "" && prints(f.o.alone, 0, f.o.alone.limit) <= 1 && n > 0 && m > n {
			what = "what it prints"
		}
		if what == "" {
			continue
		}
		x := check.Finding{Level: check.Care, Parts: []string{c.Of}, State: bouncing.name}
		for _, s := range f.doc.Part(c.Of).Signals {
			if q := f.o.pins[f.board.Number(s.Pin)]; q != nil && s.Needs == board.DigitalIn {
				x.Pins, x.Line = append(x.Pins, s.Pin), max(x.Line, q.readLine)
			}
		}
		x.Title = fmt.Sprintf("One press of a key of %s can act more than once.", c.Name)
		x.Why = fmt.Sprintf("Keys bounce; the program takes each opening and closing for a press, as %s shows. Pause for some 20 ms when the key that is down has changed.", what)
		out = append(out, x)
	}
	return out
}

// follows reports whether an actor does what the contact does: on while it is held, off while
// it is not, or the other way round.
func follows(a *rig.Actor, r *run) bool {
	h := r.presses[2]
	during, before, after := a.At(h.to-20*ms).Amps >= a.On, a.At(h.from-20*ms).Amps >= a.On, a.At(r.limit-1).Amps >= a.On
	return before == after && during != before
}

func prints(r *run, from, to int64) (n int) {
	for _, p := range r.prints {
		if p.at >= from && p.at <= to && strings.Contains(p.text, "\n") {
			n++
		}
	}
	return n
}

// held finds presses that act again and again while the contact is held.
var held = rule{"held", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, pair := range f.clean() {
		r := pair[0]
		c := f.contact(r)
		h := r.presses[2]
		for i := range r.rig.Actors {
			a := &r.rig.Actors[i]
			n := a.Changes(h.from+100*ms, h.to)
			rate := float64(n) / (float64(h.to-h.from-100*ms) / 1e9)
			if rate < 12 || f.o.alone.rig.Actors[i].Changes(h.from, h.to) > n/4 {
				continue
			}
			x := check.Finding{Level: check.Care, Parts: []string{c.Of, a.Part.ID}, State: r.name}
			_, x.Line = f.driver(a)
			if p := f.doc.Part(c.Of); p != nil && len(p.Signals) > 0 {
				x.Pins = []string{p.Signals[0].Pin}
			}
			x.Title = fmt.Sprintf("While %s is held, %s goes on and off %.0f times a second.", c.Name, a.Name, rate/2)
			x.Why = "So it is chance how it ends. Compare what the pin reads with what it read the last time, and act only when it has changed."
			out = append(out, x)
			break
		}
	}
	return out
}}

// slowAnswer finds presses that are answered late, or missed.
var slowAnswer = rule{"answer", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, pair := range f.clean() {
		r := pair[0]
		c := f.contact(r)
		if f.o.alone.longest == 0 && r.longest == 0 {
			continue
		}
		var latest int64
		missed := false
		first, _ := f.answer(r, r.presses[0].from, r.presses[1].from)
		for k, p := range r.presses {
			until := r.limit
			if k+1 < len(r.presses) {
				until = r.presses[k+1].from
			}
			after, by := f.answer(r, p.from, until)
			if by == nil {
				continue
			}
			latest = max(latest, after)
			missed = missed || first == 0 && k > 0 && alike(r, r.presses[0].from, p.from)
		}
		x := check.Finding{Level: check.Care, Parts: []string{c.Of}, State: r.name, Line: int(f.o.alone.longestLine)}
		if p := f.doc.Part(c.Of); p != nil && len(p.Signals) > 0 {
			x.Pins = []string{p.Signals[0].Pin}
		}
		pause := ""
		if l := max(f.o.alone.longest, r.longest); l > 50*ms {
			pause = fmt.Sprintf(" Line %d pauses for %s, and meanwhile nothing is read.", max(f.o.alone.longestLine, r.longestLine), seconds(l))
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
			x.Why = fmt.Sprintf("Line %d pauses for so long, and meanwhile nothing is read. Pause for some 10 ms instead.", r.longestLine)
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

// answer is how long after a moment something happens that does not happen by itself, and
// what does it; nil: nothing does.
func (f *facts) answer(r *run, from, to int64) (int64, *rig.Actor) {
	best, who := int64(0), (*rig.Actor)(nil)
	for i := range r.rig.Actors {
		a, base := &r.rig.Actors[i], &f.o.alone.rig.Actors[i]
		for _, x := range a.Within(from, to) {
			if x.At <= from {
				continue
			}
			// What is as it would be without the hand, give or take what the hand delays, is no
			// answer.
			if slices.ContainsFunc(base.Within(x.At-5*ms, x.At+5*ms), func(y rig.Act) bool {
				return math.Abs(y.Amps-x.Amps) <= 0.002*math.Max(y.Amps, 1e-4)
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

// blink finds lamps that go on and off faster than anybody sees, or flash for less.
var blink = rule{"blink", func(f *facts) []check.Finding {
	var out []check.Finding
	exclusive := func(id string) bool {
		return slices.ContainsFunc(f.doc.Exclusive, func(g []string) bool { return slices.Contains(g, id) })
	}
	for i := range f.o.alone.rig.Actors {
		for _, r := range f.o.all() {
			a := &r.rig.Actors[i]
			if !a.Lamp || r.control == -2 || exclusive(a.Part.ID) || len(a.Acts) < 8 {
				continue
			}
			on, off, n := shares(a, r.limit)
			if n < 4 {
				continue
			}
			pin, line := f.driver(a)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID}, Line: line, State: r.name}
			if r == f.o.alone {
				x.State = ""
			}
			if pin != "" {
				x.Pins = []string{pin}
			}
			period := on + off
			switch {
			case period < 16*ms && int64(n)*period < 300*ms && !a.Lost:
				continue // a contact that bounces, and what follows it
			case period < 16*ms:
				x.Title = fmt.Sprintf("%s goes on and off %s times a second: the eye sees it steadily lit, at %.0f %%.", a.Name, rounded(1e9/float64(period)), 100*float64(on)/float64(period))
				x.Why = "From about 60 times a second on nobody sees a blinking (common practice). A pause is missing after one of the two writes, or both."
			case on < 4*ms && off > 50*ms:
				x.Title = fmt.Sprintf("%s is lit for %s only: hardly anybody sees that.", a.Name, seconds(on))
				x.Why = "After the write that lights it a pause is missing."
			case off < 4*ms && on > 50*ms:
				x.Title = fmt.Sprintf("%s is dark for %s only: it seems to stay lit.", a.Name, seconds(off))
				x.Why = "After the write that darkens it a pause is missing."
			default:
				continue
			}
			out = append(out, x)
			break
		}
	}
	return out
}}

// clockOver finds programs in which something stands still once the clock has run over.
var clockOver = rule{"clock", func(f *facts) []check.Finding {
	for _, r := range f.o.runs {
		if r.name != overflow {
			continue
		}
		from, to := r.limit/2, r.limit
		// What goes round slowly may be between two of its steps: only when nothing at all moves
		// any more does something stand still.
		moves, before := prints(r, from, to), 0
		for i := range r.rig.Actors {
			moves += len(r.rig.Actors[i].Within(from, to)) - 1
			before += f.o.alone.rig.Actors[i].Changes(from, to)
		}
		for i := range r.rig.Actors {
			a, base := &r.rig.Actors[i], &f.o.alone.rig.Actors[i]
			still := moves <= 0 && before >= 3 && base.Changes(from, to) > 0
			races := a.Lost || a.Changes(0, to) > 3*base.Changes(0, to)+10
			if base.Lost || base.Changes(0, to) == 0 || !still && !races {
				continue
			}
			pin, line := f.driver(a)
			x := check.Finding{Level: check.Care, Parts: []string{a.Part.ID}, Line: line, State: r.name}
			if pin != "" {
				x.Pins = []string{pin}
			}
			days := float64(f.tree.Clock) / 86400e3
			x.Title = fmt.Sprintf("After %.1f days %s stands still.", days, a.Name)
			if !still {
				x.Title = fmt.Sprintf("After %.1f days %s goes on and off as fast as the program runs, for a while.", days, a.Name)
			}
			x.Why = "Then the milliseconds begin again at 0. What is compared should be how long ago something was: now − then, not now with then + pause."
			return []check.Finding{x}
		}
	}
	return nil
}}

// shares is how long an actor is typically on and off, when it goes to and fro.
func shares(a *rig.Actor, end int64) (on, off int64, n int) {
	var ons, offs []int64
	start := 0
	for k := 1; k < len(a.Acts); k++ {
		was, is := a.Acts[k-1].Amps >= a.On, a.Acts[k].Amps >= a.On
		if a.Acts[k].Hertz > 0 || a.Acts[k-1].Hertz > 0 {
			return 0, 0, 0
		}
		if was == is {
			continue
		}
		if start > 0 {
			if lasted := a.Acts[k].At - a.Acts[start].At; was {
				ons = append(ons, lasted)
			} else {
				offs = append(offs, lasted)
			}
		}
		start = k
	}
	if len(ons) == 0 || len(offs) == 0 {
		return 0, 0, 0
	}
	slices.Sort(ons)
	slices.Sort(offs)
	return ons[len(ons)/2], offs[len(offs)/2], min(len(ons), len(offs))
}

// rounded writes a number of which the size matters.
func rounded(x float64) string {
	if x >= 1000 {
		return fmt.Sprintf("%.0f", math.Round(x/100)*100)
	}
	return fmt.Sprintf("%.0f", x)
}

// pulsesLost finds pulse sensors whose pulses come faster than the program takes them.
var pulsesLost = rule{"pulses", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, r := range f.o.runs {
		c := f.contact(r)
		if c == nil || len(r.presses) == 0 || r.presses[len(r.presses)-1].holds || !strings.HasSuffix(r.name, "pulses") {
			continue
		}
		p := f.doc.Part(c.Of)
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
				x.Why = fmt.Sprintf("Line %d pauses for %s; a pulse lasts %s. Use an interrupt, or do not pause.", r.longestLine, seconds(r.longest), seconds(int64(period/2)))
			default:
				continue
			}
			out = append(out, x)
		}
	}
	return out
}}
