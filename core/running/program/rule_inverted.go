package program

import (
	"fmt"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/rig"
)

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
	if p := f.net.Whose(c); p != nil {
		for _, s := range p.Signals {
			if s.Pull == "up" {
				return fmt.Sprintf("With the pull-up, %s reads LOW while it is %s and HIGH otherwise.", s.Pin, c.Settings[wiring.Closed])
			}
		}
	}
	return "If that is not what is meant, high and low are exchanged somewhere between the two."
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
	return g.Reading(in.pin, 0)
}
