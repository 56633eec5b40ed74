package circuit

import (
	"errors"
	"math"

	"gonum.org/v1/gonum/mat"
)

// esr is the resistance in ohms of a capacitor's leads. It gives capacitors that
// are joined straight to each other or to a source an answer, and is far below
// what real ones have (from memory: 10 mΩ to some ohms).
const esr = 1e-3

// A Stepper moves a circuit through time. Between two calls values and switches
// of the circuit may be changed; tell it with [Stepper.Changed].
//
// What the circuit remembers is the voltages of its capacitors and the currents
// of its inductors; everything else follows from them at once. So a thrown
// switch is nothing special: the voltages stay, the rest jumps, and nothing
// rings. A step is taken with the exponential Rosenbrock method exprb32 of
// Hochbruck, Ostermann and Schweitzer (SIAM J. Numer. Anal. 47(1), 2009): the
// circuit's tangent is solved exactly, whatever the step, and what the circuit
// differs from its tangent by is estimated and held below the tolerance. A
// circuit of straight elements takes one step for any time.
type Stepper struct {
	// Most is how many steps may be taken in all before [ErrSteps]; zero is no end of them.
	Most int

	circuit *Circuit
	solver  *Solver
	states  []int // the elements that remember
	now     float64
	sol     Solution // at now
	rates   []float64
	jacob   *mat.Dense  // of the rates by what is remembered
	moves   [][]float64 // by state: how each node moves with it
	known   bool        // whether sol holds the circuit as it is now
	linear  bool        // whether rates, jacob and moves belong to it
	stride  float64     // the step that is tried first; zero: all of the way
	taken   int         // steps so far
}

// ErrSteps is the error of a [Stepper] that may take no more steps.
var ErrSteps = errors.New("the circuit moves too fast to follow that far")

// NewStepper returns a stepper that begins at time zero with the circuit at
// rest: capacitors carry no current, inductors have no voltage but that of their
// resistance. Its error is that of [Solver.Solve].
func NewStepper(c *Circuit) (*Stepper, error) {
	s := &Stepper{circuit: c, solver: NewSolver(c)}
	if err := s.solver.Solve(&s.sol); err != nil {
		return nil, err
	}
	held := make([]float64, len(c.Elements))
	for i := range c.Elements {
		switch e := &c.Elements[i]; e.Kind {
		case Capacitor:
			held[i] = s.sol.Across(e.A, e.B)
			s.states = append(s.states, i)
		case Inductor:
			held[i] = s.sol.I[i]
			s.states = append(s.states, i)
		}
	}
	s.solver.held = held
	m := len(s.states)
	s.rates = make([]float64, m)
	if m > 0 {
		s.jacob = mat.NewDense(m, m, nil)
	}
	for range m {
		s.moves = append(s.moves, make([]float64, c.Nodes()))
	}
	return s, nil
}

// Time returns the time in seconds.
func (s *Stepper) Time() float64 { return s.now }

// Changed says that values or switches of the circuit are not what they were.
func (s *Stepper) Changed() { s.known, s.linear, s.stride = false, false, 0 }

// Hold gives a capacitor the voltage of A above B, or an inductor the current
// from A to B, that it has now.
func (s *Stepper) Hold(element int, x float64) {
	s.solver.held[element] = x
	s.Changed()
}

// Held returns what a capacitor or an inductor remembers.
func (s *Stepper) Held(element int) float64 { return s.solver.held[element] }

// Solution returns the voltages and currents now. They are valid until the next
// call.
func (s *Stepper) Solution() (*Solution, error) {
	if !s.known {
		if err := s.solver.Solve(&s.sol); err != nil {
			return nil, err
		}
		s.known = true
	}
	return &s.sol, nil
}

// A Crossing is a node passing a voltage, upwards when it is Rising.
type Crossing struct {
	Node   Node
	Volts  float64
	Rising bool
}

func (x Crossing) between(before, after float64) bool {
	if x.Rising {
		return before < x.Volts && after >= x.Volts
	}
	return before > x.Volts && after <= x.Volts
}

// To moves on to a time.
func (s *Stepper) To(t float64) error {
	_, err := s.Until(t)
	return err
}

// Until moves on to a time, or to the first moment before it at which one of the
// crossings happens. It returns the index of that crossing, or -1. A node that
// stands at the voltage already has crossed it.
func (s *Stepper) Until(t float64, crossings ...Crossing) (hit int, err error) {
	for s.now < t {
		if len(s.states) == 0 {
			s.now = t
			break
		}
		before, err := s.tangentNow()
		if err != nil {
			return -1, err
		}
		from := make([]float64, len(crossings))
		for i, x := range crossings {
			from[i] = before.V[x.Node]
		}
		if s.taken++; s.Most > 0 && s.taken > s.Most {
			return -1, ErrSteps
		}
		start := s.remembered()
		h, err := s.step(t-s.now, start)
		if err != nil {
			return -1, err
		}
		if hit, err := s.crossed(crossings, from, start, h); hit >= 0 || err != nil {
			return hit, err
		}
		s.linear = false
		s.now += h
		if t-s.now < 1e-12*math.Max(t, h) {
			s.now = t
		}
	}
	return -1, nil
}

func (s *Stepper) remembered() []float64 {
	x := make([]float64, len(s.states))
	for k, i := range s.states {
		x[k] = s.solver.held[i]
	}
	return x
}

func (s *Stepper) remember(x []float64) {
	for k, i := range s.states {
		s.solver.held[i] = x[k]
	}
	s.known = false
}

// tangentNow solves the circuit as it is, and says how what it remembers moves
// with time and with itself.
func (s *Stepper) tangentNow() (*Solution, error) {
	sol, err := s.Solution()
	if err != nil || s.linear {
		return sol, err
	}
	s.rate(s.rates)
	tangent, err := s.solver.Linearize(sol)
	if err != nil {
		return nil, err
	}
	for k := range s.states {
		tangent.moved(s.states[k], s.moves[k])
		for j, i := range s.states {
			e := &s.circuit.Elements[i]
			across, own := s.moves[k][e.A]-s.moves[k][e.B], 0.0
			if j == k {
				own = 1
			}
			if e.Kind == Capacitor {
				s.jacob.Set(j, k, (across-own)/esr/e.Value)
			} else {
				s.jacob.Set(j, k, (across-own*e.Ohms)/e.Value)
			}
		}
	}
	s.linear = true
	return sol, nil
}

// rate writes how fast each remembered value moves in the present solution.
func (s *Stepper) rate(into []float64) {
	for k, i := range s.states {
		e := &s.circuit.Elements[i]
		if e.Kind == Capacitor {
			into[k] = s.sol.I[i] / e.Value
		} else {
			into[k] = (s.sol.Across(e.A, e.B) - e.Ohms*s.solver.held[i]) / e.Value
		}
	}
}

// The error of a step that is allowed: a part of the value, and a least one in
// volts and amperes.
const (
	stepPart  = 1e-4
	stepVolts = 1e-4
	stepAmps  = 1e-7
)

// step takes a step of at most h seconds from where the tangent is known, and
// returns how far it went. Afterwards the circuit is solved at its end.
func (s *Stepper) step(most float64, x []float64) (h float64, err error) {
	h = most
	if s.stride > 0 {
		h = math.Min(h, s.stride)
	}
	if swing := s.swing(); swing > 0 {
		h = math.Min(h, 0.3/swing)
	}
	m := len(x)
	next, rates, miss := make([]float64, m), make([]float64, m), make([]float64, m)
	for {
		s.along(h, x, next)
		s.remember(next)
		if _, err := s.Solution(); err != nil {
			return 0, err
		}
		s.rate(rates)
		straight := true
		for j := range m {
			miss[j] = rates[j] - s.rates[j]
			for k := range m {
				miss[j] -= s.jacob.At(j, k) * (next[k] - x[k])
			}
			straight = straight && math.Abs(miss[j])*h <= 1e-3*s.allowed(j, x, next)
		}
		if straight {
			s.stride = 4 * h
			return h, nil
		}
		more := phi3(s.jacob, h, miss)
		worst := 0.0
		for j := range m {
			more[j] *= 2 * h
			worst = math.Max(worst, math.Abs(more[j])/s.allowed(j, x, next))
		}
		if worst <= 1 || h < 1e-15 {
			for j := range m {
				next[j] += more[j]
			}
			s.remember(next)
			_, err := s.Solution()
			s.stride = h * math.Min(4, 0.9/math.Cbrt(math.Max(worst, 1e-3)))
			return h, err
		}
		h *= math.Max(0.05, 0.9/math.Cbrt(worst))
	}
}

// allowed is the error that a step may have in a remembered value.
func (s *Stepper) allowed(j int, x, next []float64) float64 {
	least := stepVolts
	if s.circuit.Elements[s.states[j]].Kind == Inductor {
		least = stepAmps
	}
	return least + stepPart*math.Max(math.Abs(x[j]), math.Abs(next[j]))
}

// swing is the fastest angular frequency at which two remembered values exchange
// what they have: a bound for steps, so that no swing is stepped over.
func (s *Stepper) swing() (fastest float64) {
	for j := range s.states {
		for k := range j {
			if both := s.jacob.At(j, k) * s.jacob.At(k, j); both < 0 {
				fastest = math.Max(fastest, math.Sqrt(-both))
			}
		}
	}
	return fastest
}

// along writes where the tangent leads from x in h seconds.
func (s *Stepper) along(h float64, x, into []float64) {
	d := phi1(s.jacob, h, s.rates)
	for k := range x {
		into[k] = x[k] + h*d[k]
	}
}

// crossed looks whether a step of h seconds, from where x was remembered, passed
// a crossing, and if so goes back to the first moment at which it did.
func (s *Stepper) crossed(crossings []Crossing, from, x []float64, h float64) (hit int, err error) {
	if len(crossings) == 0 {
		return -1, nil
	}
	end := s.remembered()
	hit, at, moved := -1, h, false
	to := make([]float64, len(crossings))
	for i, c := range crossings {
		to[i] = s.sol.V[c.Node]
	}
	for i, c := range crossings {
		upper := h
		moved = moved || len(x) > 1 || c.between(from[i], to[i])
		if !c.between(from[i], to[i]) {
			// Of several remembered values one may go over it and come back.
			if upper = h / 2; len(x) < 2 {
				continue
			}
			v, err := s.voltsAfter(upper, x, c.Node)
			if err != nil {
				return -1, err
			}
			if !c.between(from[i], v) {
				continue
			}
		}
		when, err := s.moment(c, x, from[i], upper)
		if err != nil {
			return -1, err
		}
		if when <= at {
			hit, at = i, when
		}
	}
	if !moved {
		return -1, nil
	}
	if hit < 0 {
		s.remember(end)
		_, err := s.Solution()
		return -1, err
	}
	if _, err := s.voltsAfter(at, x, crossings[hit].Node); err != nil {
		return -1, err
	}
	s.linear, s.stride = false, 0
	s.now += at
	return hit, nil
}

// voltsAfter moves to h seconds from where x was remembered and returns the
// voltage of a node there.
func (s *Stepper) voltsAfter(h float64, x []float64, node Node) (float64, error) {
	next := make([]float64, len(x))
	s.along(h, x, next)
	s.remember(next)
	sol, err := s.Solution()
	if err != nil {
		return 0, err
	}
	return sol.V[node], nil
}

// moment finds when a crossing happens within h seconds from where x was
// remembered, by false position (the Illinois variant: Dowell and Jarratt, BIT
// 11, 1971). What it returns is not before the crossing.
func (s *Stepper) moment(c Crossing, x []float64, from, h float64) (float64, error) {
	sign := 1.0
	if !c.Rising {
		sign = -1
	}
	low, high := 0.0, h
	atLow := sign * (from - c.Volts)
	v, err := s.voltsAfter(high, x, c.Node)
	atHigh := math.Max(sign*(v-c.Volts), 1e-12)
	for n := 0; n < 60 && err == nil && high-low > 1e-9*h && atHigh > 1e-6; n++ {
		t := (atHigh*low - atLow*high) / (atHigh - atLow)
		if !(t > low && t < high) {
			t = (low + high) / 2
		}
		v, err = s.voltsAfter(t, x, c.Node)
		if miss := sign * (v - c.Volts); miss < 0 {
			low, atLow = t, miss
			atHigh /= 2
		} else {
			high, atHigh = t, miss
			atLow /= 2
		}
	}
	return high, err
}

// A Moment is a time with all that a circuit remembers at it.
type Moment struct {
	at   float64
	held []float64
}

// Moment returns where the stepper is, to come back to.
func (s *Stepper) Moment() Moment {
	return Moment{s.now, append([]float64(nil), s.solver.held...)}
}

// Return goes to a moment of this stepper's circuit.
func (s *Stepper) Return(m Moment) {
	s.now = m.at
	copy(s.solver.held, m.held)
	s.Changed()
}

// At returns the moment as one of another time.
func (m Moment) At(seconds float64) Moment { return Moment{seconds, m.held} }
