package rig

import (
	"math"

	"cablaggio/core/running/machine"
)

// An ear hears the tone of a buzzer that a program turns over by hand, without PWM or tone().
// The zero ear has heard nothing.
type ear struct {
	up    bool  // voltage is across it
	rise  int64 // when it last came, once it came at all
	came  bool
	hertz float64 // of the tone that is heard; 0: none
	over  int64   // when it is over unless voltage comes again
}

// What people hear, in hertz (common practice), and from which voltage on a buzzer counts as moved
// (from memory: a piezo disc ticks at half a volt).
const (
	lowestTone  = 20
	highestTone = 20_000
	ticks       = 0.5
)

// hear takes in the voltage from a time on, and returns the tone that is heard from then on; 0 is
// none. A tone that varies by less than 3 of 100 is the same one.
func (e *ear) hear(at int64, volts float64) float64 {
	if up := volts >= ticks; up != e.up {
		e.up = up
		if up {
			period := at - e.rise
			hertz := 1e9 / float64(max(period, 1))
			if e.came && hertz >= lowestTone && hertz <= highestTone {
				if math.Abs(hertz-e.hertz) > 0.03*e.hertz {
					e.hertz = math.Round(hertz)
				}
				e.over = at + 3*period
			}
			e.rise, e.came = at, true
		}
	}
	return e.hertz
}

// silences is when a tone that is heard is over by itself; [machine.Never] if none is.
func (r *Rig) silences() int64 {
	next := int64(machine.Never)
	for i := range r.Actors {
		if e := r.Actors[i].ear; e != nil && e.hertz > 0 {
			next = min(next, e.over)
		}
	}
	return next
}

// silence ends the tones that are over by now.
func (r *Rig) silence() {
	for i := range r.Actors {
		a := &r.Actors[i]
		if e := a.ear; e != nil && e.hertz > 0 && e.over <= r.now {
			e.hertz = 0
			r.act(a, a.Acts[len(a.Acts)-1].Amps, 0)
		}
	}
}
