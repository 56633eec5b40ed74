package wiring

import (
	"errors"
	"math"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/quantity"
)

// manySteps is how many steps a transient is followed for: what rings or creeps longer
// has shown what it does.
const manySteps = 2000

// after returns a stepper at the moment at which a piece goes over from another state,
// at rest, to this one, with all that its coils and capacitors remember, and the
// circuit that it steps.
func (s *Solved) after(before *Solved) (*circuit.Stepper, *circuit.Circuit, error) {
	c, now := s.Piece.Circuit(before.State, nil), s.Piece.Circuit(s.State, nil)
	step, err := circuit.NewStepper(c)
	if err != nil {
		return nil, nil, err
	}
	copy(c.Elements, now.Elements)
	step.Changed()
	step.Most = manySteps
	return step, c, nil
}

// Breakers lists the bodies of the transistors of a piece with a coil in it: what the coil's current
// breaks through when they cut its way.
func (p *Piece) Breakers() (out []int) {
	coil := false
	for _, i := range p.Elements {
		e := &p.network.Elements[i]
		coil = coil || e.Coil
		if t := p.network.Doc.Part(e.Part); t != nil && e.Role == Body {
			if kind, _ := p.network.Library.Catalogue.Kind(t.Kind); kind.Is(part.NPN) || kind.Is(part.MOSFET) {
				out = append(out, i)
			}
		}
	}
	if !coil {
		return nil
	}
	return out
}

// MostKick is the voltage beyond which nobody says how many volts a coil's kick is: something
// breaks through before.
const MostKick = 1000

// KickWords says the voltage of a kick.
func KickWords(volts float64) string {
	if volts > MostKick {
		return "hundreds of volts"
	}
	return quantity.Format(volts, quantity.Volt)
}

// Kick returns the largest voltage across an element while the piece goes over from
// another state, at rest, to this one, with all that its coils and capacitors
// remember: a coil's current finds a way, or drives the voltage up until it does. It
// is infinite when there is no way.
func (s *Solved) Kick(before *Solved, across int) float64 {
	step, c, err := s.after(before)
	if err != nil {
		return math.Inf(1)
	}
	slowest := 0.0 // the longest that a coil's current takes to fall by itself
	remember := 0
	for i := range c.Elements {
		switch e := &c.Elements[i]; e.Kind {
		case circuit.Inductor:
			slowest = math.Max(slowest, e.Value/e.Ohms)
			remember++
		case circuit.Capacitor:
			remember++
		}
	}
	most := 0.0
	k := s.Piece.localElement(across)
	for t := slowest * 1e-9; t < 10*slowest; t *= 2 {
		sol, err := step.Solution()
		if err != nil {
			return math.Inf(1)
		}
		e := &c.Elements[k]
		if most = math.Max(most, math.Abs(sol.Across(e.A, e.B))); remember == 1 {
			return most // a coil alone only ever gives less
		}
		switch err := step.To(t); {
		case errors.Is(err, circuit.ErrSteps):
			return most
		case err != nil:
			return math.Inf(1)
		}
	}
	return most
}

// The times in seconds between which a surge is looked at: before the first one the
// leads of a board hold it back by themselves, and what lasts longer than the last is
// no surge.
const (
	soonest = 1e-8
	latest  = 0.1
)

// Surge returns the largest current through an element, either way, when the piece
// goes over from another state, at rest, to this one, and for how many seconds it
// stays above a limit: what capacitors take until they are charged. A current that stays above the limit is none. It is that of the
// typical values. The time is found to within a twentieth.
func (s *Solved) Surge(before *Solved, element int, limit float64) (peak, lasts float64) {
	k := s.Piece.localElement(element)
	if k < 0 || math.Abs(s.amps(k)) > limit {
		return 0, 0 // what stays is no surge
	}
	step, _, err := s.after(before)
	if err != nil {
		return 0, 0
	}
	for t := soonest; t < latest; t *= 1.05 {
		sol, err := step.Solution()
		if err != nil {
			break
		}
		amps := math.Abs(sol.I[k])
		peak = math.Max(peak, amps)
		if amps <= limit {
			break
		}
		lasts = step.Time()
		if step.To(t) != nil {
			break
		}
	}
	return peak, lasts
}

// longest is how many seconds a node is followed on its way: what takes longer is
// nothing that a hand waits for.
const longest = 100

// Passes returns after how many seconds a node is above a voltage, or below it when it is
// not to rise, when the piece goes over from another state, at rest, to this one: zero when
// it is so at once, infinite when it never is. It is that of the typical values.
func (s *Solved) Passes(before *Solved, node circuit.Node, volts float64, rising bool) float64 {
	k, ok := s.Piece.local(node)
	step, _, err := s.after(before)
	if !ok || err != nil {
		return math.Inf(1)
	}
	sol, err := step.Solution()
	switch {
	case err != nil:
		return math.Inf(1)
	case rising == (sol.V[k] > volts):
		return 0
	}
	if hit, err := step.Until(longest, circuit.Crossing{Node: k, Volts: volts, Rising: rising}); hit < 0 || err != nil {
		return math.Inf(1)
	}
	return step.Time()
}
