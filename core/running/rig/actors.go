package rig

import (
	"math"
	"slices"
	"sort"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// An Actor is something that a builder sees or hears: a lamp, a buzzer, a motor. Its acts are
// how much current goes through it from when on.
type Actor struct {
	Part    *build.Part
	Name    string
	Element int
	region  *region
	Lamp    bool
	On      float64 // amperes from which on it counts as on
	Acts    []Act
	Lost    bool // there were more than are kept
	ear     *ear // of a buzzer
	oneWay  bool // what flows backwards through it does nothing
}

// An Act is the current through an actor from a time on.
type Act struct {
	At    int64
	Amps  float64 // the average where it is pulsed
	Hertz float64 // of what it is pulsed with; 0: steady
}

// maxActs bounds what is kept of an actor in one run.
const maxActs = 4000

// OnAmps is the current from which on a lamp is seen in a lit room (common practice: a modern
// LED glimmers at a tenth of a milliampere, and is seen well from half of one).
const OnAmps = 0.2e-3

// speaks is the part of its voltage from which on a buzzer with its own tone sounds (from memory: one
// for 5 V begins between 2 and 3 V).
const speaks = 0.5

// findActors lists what acts.
func (r *Rig) findActors(of map[*wiring.Piece]*region) {
	add := func(a Actor) {
		if a.Element >= 0 {
			if a.region = of[r.net.PieceWith(a.Element)]; a.region != nil {
				r.Actors = append(r.Actors, a)
			}
		}
	}
	for _, l := range r.net.Lamps {
		add(Actor{Part: l.Part, Name: l.Name, Element: l.Element, Lamp: true, On: OnAmps})
	}
	for i := range r.net.Doc.Parts {
		p := &r.net.Doc.Parts[i]
		kind, _ := r.net.Library.Catalogue.Kind(p.Kind)
		if kind != nil && kind.Acts != "" {
			a := Actor{Part: p, Name: p.Name, Element: r.net.Find(wiring.Body, p.ID, ""), On: 1e-3}
			switch kind.Acts {
			case part.Tone:
				a.ear = &ear{}
			case part.Sounds:
				a.oneWay = true
				a.On = speaks * wiring.ValueOf(kind, p, "ratedVoltage").Typ / wiring.ValueOf(kind, p, "resistance").Typ
			}
			add(a)
		}
	}
	sort.SliceStable(r.Actors, func(i, j int) bool { return r.Actors[i].Name < r.Actors[j].Name })
	for i := range r.Actors {
		g := r.Actors[i].region
		g.actors = append(g.actors, i)
	}
}

// sum adds up what the pins of a region carry, sourced or sunk; with a duty, while it is where
// it is most of the time.
func (r *Rig) sum(g *region) {
	if len(g.ends) == 0 {
		return
	}
	s := g.solve()
	if s == nil {
		return
	}
	if !s.summed {
		s.summed = true
		for _, e := range g.ends {
			s.amps += math.Abs(s.TypicalAmps(e))
		}
	}
	r.total += s.amps - g.amps
	g.amps = s.amps
}

// maxPulsed is how many pins with a duty are averaged over in one region; of more, the rest
// stay where they are most of the time.
const maxPulsed = 4

// Through is the current through an actor: of pins with a duty the average over their levels.
func (r *Rig) Through(a *Actor) (amps, hertz float64) {
	if g := a.region; g.motion != nil && len(g.pulsed) == 0 {
		return math.Abs(g.motion.Amps(a.Element)), 0
	}
	return r.averaged(a.region, func(s *stand) float64 {
		if amps := s.TypicalAmps(a.Element); !a.oneWay || amps > 0 {
			return math.Abs(amps)
		}
		return 0
	})
}

// averaged is the average of something over the levels of a region's pins that have a duty, and
// how often they go over.
func (r *Rig) averaged(g *region, of func(*stand) float64) (mean, hertz float64) {
	pulsed := g.pulsed[:min(len(g.pulsed), maxPulsed)]
	if len(pulsed) == 0 {
		if s := g.solve(); s != nil {
			return of(s), 0
		}
		return 0, 0
	}
	state := slices.Clone(g.state)
	for set := range 1 << len(pulsed) {
		weight := 1.0
		for i, pin := range pulsed {
			w := &r.pins[pin]
			mode, share := float64(wiring.DrivenLow), 1-w.drive.Duty
			if set>>i&1 == 1 {
				mode, share = wiring.DrivenHigh, w.drive.Duty
			}
			state[r.knobs[w.control].index] = mode
			weight *= share
			hertz = max(hertz, w.drive.Hertz)
		}
		if s := g.in(state); s != nil {
			mean += weight * of(s)
		}
	}
	return mean, hertz
}

// Beside reports whether an actor is in the same piece as a pin.
func (r *Rig) Beside(a *Actor, pin int) bool { return a.region == r.region(pin) }

// Within are the acts of an actor from one time to another, the one that holds at its
// beginning first.
func (a *Actor) Within(from, to int64) []Act {
	after := func(x Act, at int64) int {
		if x.At < at {
			return -1
		}
		return 1
	}
	first, _ := slices.BinarySearchFunc(a.Acts, from+1, after)
	last, _ := slices.BinarySearchFunc(a.Acts, to+1, after)
	return a.Acts[max(0, first-1):last]
}

// At is what an actor does at a time.
func (a *Actor) At(t int64) Act {
	in := a.Within(t, t)
	if len(in) == 0 {
		return Act{}
	}
	return in[0]
}

// Changes counts how often an actor goes on or off between two times.
func (a *Actor) Changes(from, to int64) (n int) {
	in := a.Within(from, to)
	for i := 1; i < len(in); i++ {
		if (in[i].Amps >= a.On) != (in[i-1].Amps >= a.On) {
			n++
		}
	}
	return n
}
