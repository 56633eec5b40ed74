package circuit_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/testkit"
)

func ExampleStepper() {
	var c circuit.Circuit
	supply, n := c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, 5))
	c.Add(resistor(supply, n, 10e3))
	c.Add(circuit.Element{Kind: circuit.Capacitor, A: n, B: circuit.Ground, Value: 100e-9})
	button := c.Add(circuit.Element{Kind: circuit.Switch, A: n, B: circuit.Ground, Value: 0.1})
	s, _ := circuit.NewStepper(&c) // at rest with the button pressed
	c.Elements[button].Open = true // and let go
	s.Changed()
	s.Until(1, circuit.Crossing{Node: n, Volts: 3, Rising: true})
	fmt.Printf("3 V after %.3f ms\n", 1000*s.Time())
	// Output: 3 V after 0.916 ms
}

func capacitor(a, b circuit.Node, farads float64) circuit.Element {
	return circuit.Element{Kind: circuit.Capacitor, A: a, B: b, Value: farads}
}

// what people build: a contact that bounces into an RC, a coil switched off with
// and without its diode, a duty into an RC, two stages one after another.
func timed() []testkit.Timed {
	var out []testkit.Timed
	button := func(throws ...float64) testkit.Timed {
		var c circuit.Circuit
		supply, n, leg := c.Node(), c.Node(), c.Node()
		c.Add(source(supply, circuit.Ground, 5))
		c.Add(resistor(supply, n, 35e3))
		c.Add(capacitor(n, circuit.Ground, 100e-9))
		c.Add(resistor(n, leg, 1e3))
		k := c.Add(circuit.Element{Kind: circuit.Switch, A: leg, B: circuit.Ground, Value: 0.1, Open: true})
		c.Add(circuit.Element{Kind: circuit.Diode, A: n, B: supply, Junction: clamp})
		x := testkit.Timed{Circuit: &c, Seconds: 20e-3, Node: n, Full: 5}
		for i, at := range throws {
			x.Throws = append(x.Throws, testkit.Throw{At: at, Element: k, Open: i%2 == 1})
		}
		return x
	}
	out = append(out, button(1e-3, 1.2e-3, 1.9e-3, 2.0e-3, 3.1e-3), button(1e-3, 9e-3))
	coil := func(diode bool) testkit.Timed {
		var c circuit.Circuit
		supply, n := c.Node(), c.Node()
		c.Add(source(supply, circuit.Ground, 5))
		c.Add(circuit.Element{Kind: circuit.Inductor, A: supply, B: n, Value: 50e-3, Ohms: 70})
		k := c.Add(circuit.Element{Kind: circuit.Switch, A: n, B: circuit.Ground, Value: 1})
		full := 5.0
		if diode {
			c.Add(circuit.Element{Kind: circuit.Diode, A: n, B: supply, Junction: circuit.FitJunction(0.7, 0.1, 1.5, 0.1)})
		} else {
			c.Add(resistor(n, supply, 2e3)) // 70 mA through it: 140 V
			full = 140
		}
		return testkit.Timed{Circuit: &c, Seconds: 4e-3, Node: n, Full: full, Throws: []testkit.Throw{{At: 1e-3, Element: k, Open: true}, {At: 3e-3, Element: k}}}
	}
	out = append(out, coil(true), coil(false))
	var duty circuit.Circuit
	supply, pin, n, m := duty.Node(), duty.Node(), duty.Node(), duty.Node()
	duty.Add(source(supply, circuit.Ground, 5))
	high := duty.Add(circuit.Element{Kind: circuit.Switch, A: supply, B: pin, Value: 25, Open: true})
	low := duty.Add(circuit.Element{Kind: circuit.Switch, A: pin, B: circuit.Ground, Value: 25})
	duty.Add(resistor(pin, n, 4.7e3))
	duty.Add(capacitor(n, circuit.Ground, 1e-6))
	duty.Add(resistor(n, m, 10e3))
	duty.Add(capacitor(m, circuit.Ground, 1e-6))
	x := testkit.Timed{Circuit: &duty, Seconds: 40e-3, Node: m, Full: 5}
	for k := range 19 {
		at := 2e-3 * float64(k+1)
		x.Throws = append(x.Throws,
			testkit.Throw{At: at, Element: low, Open: true}, testkit.Throw{At: at, Element: high},
			testkit.Throw{At: at + 0.6e-3, Element: high, Open: true}, testkit.Throw{At: at + 0.6e-3, Element: low})
	}
	return append(out, x)
}

func TestWhatPeopleBuildOverTimeAgainstSpice(t *testing.T) {
	testkit.TransientsAgainstSpice(t, timed())
}

// Random networks with capacitors, coils, diodes and switches that are thrown.
func TestRandomTransientsAgainstSpice(t *testing.T) {
	rng := rand.New(rand.NewPCG(11, 12))
	cases := make([]testkit.Timed, 200)
	for i := range cases {
		cases[i] = randomTimed(rng)
	}
	testkit.TransientsAgainstSpice(t, cases)
}

// randomTimed draws a circuit in which every node has a resistance to another
// that came before it, with one to three things that remember.
func randomTimed(rng *rand.Rand) testkit.Timed {
	var c circuit.Circuit
	supply := c.Node()
	volts := 3 + 6*rng.Float64()
	c.Add(source(supply, circuit.Ground, volts))
	ohms := func() float64 { return math.Pow(10, 2+2.5*rng.Float64()) }
	x := testkit.Timed{Circuit: &c, Full: volts}
	for range 2 + rng.IntN(3) {
		n := c.Node()
		c.Add(resistor(n, circuit.Node(rng.IntN(int(n))), ohms()))
	}
	node := func() circuit.Node { return circuit.Node(2 + rng.IntN(c.Nodes()-2)) }
	throw := c.Add(circuit.Element{Kind: circuit.Switch, A: node(), B: circuit.Node(rng.IntN(2)), Value: 10 + ohms()/10, Open: rng.IntN(2) == 0})
	slowest := 0.0
	for range 1 + rng.IntN(3) {
		n, r := node(), ohms()
		if rng.IntN(4) == 0 {
			c.Add(circuit.Element{Kind: circuit.Inductor, A: n, B: circuit.Ground, Value: r * 1e-4, Ohms: 5 + r/50})
			slowest = max(slowest, 1e-4)
			continue
		}
		farads := math.Pow(10, -8+2*rng.Float64())
		c.Add(capacitor(n, circuit.Node(rng.IntN(2)), farads))
		slowest = max(slowest, r*farads)
	}
	if rng.IntN(2) == 0 { // and a diode that bends the curve
		c.Add(circuit.Element{Kind: circuit.Diode, A: node(), B: circuit.Ground, Junction: red})
	}
	x.Node, x.Seconds = node(), slowest*(1+3*rng.Float64())
	for k, open := 0, c.Elements[throw].Open; k < 1+rng.IntN(3); k++ {
		open = !open
		x.Throws = append(x.Throws, testkit.Throw{At: x.Seconds * (0.1 + 0.25*float64(k) + 0.1*rng.Float64()), Element: throw, Open: open})
	}
	return x
}

// A circuit of straight elements takes one step, however far: its voltage is the
// formula's to the last digits that the leads of the capacitor leave.
func TestAStraightCircuitIsExact(t *testing.T) {
	c, n := charging(5, 10e3, 1e9, 100e-9)
	for _, seconds := range []float64{1e-9, 1e-6, 1e-3, 1} {
		s, err := circuit.NewStepper(c)
		require.NoError(t, err)
		s.Hold(3, 0)
		require.NoError(t, s.To(seconds))
		sol, err := s.Solution()
		require.NoError(t, err)
		assert.InDelta(t, 5*-math.Expm1(-seconds/1e-3), sol.V[n], 1e-4)
		assert.Equal(t, seconds, s.Time())
	}
}

// From rest nothing moves, and after a jump nothing rings: a discharging
// capacitor never goes up.
func TestRestAndJumps(t *testing.T) {
	x := timed()[0]
	s, err := circuit.NewStepper(x.Circuit)
	require.NoError(t, err)
	sol, err := s.Solution()
	require.NoError(t, err)
	before := sol.V[x.Node]
	require.NoError(t, s.To(10))
	sol, err = s.Solution()
	require.NoError(t, err)
	assert.InDelta(t, before, sol.V[x.Node], 1e-6)
	x.Circuit.Elements[x.Throws[0].Element].Open = false
	s.Changed()
	last := before
	for k := range 200 {
		require.NoError(t, s.To(10+float64(k)*1e-5))
		sol, err = s.Solution()
		require.NoError(t, err)
		assert.LessOrEqual(t, sol.V[x.Node], last+1e-9)
		last = sol.V[x.Node]
	}
	assert.Less(t, last, 0.2)
}

// A coil and a capacitor swing at 1 ÷ 2π√(LC) (every textbook): the first two
// crossings of zero lie half a period apart, and none is missed.
func TestACoilAndACapacitorSwing(t *testing.T) {
	var c circuit.Circuit
	n := c.Node()
	c.Add(resistor(n, circuit.Ground, 1e6))
	k := c.Add(capacitor(n, circuit.Ground, 1e-6))
	c.Add(circuit.Element{Kind: circuit.Inductor, A: n, B: circuit.Ground, Value: 1e-3, Ohms: 0.1})
	s, err := circuit.NewStepper(&c)
	require.NoError(t, err)
	s.Hold(k, 1)
	var at []float64
	for range 4 {
		hit, err := s.Until(1, circuit.Crossing{Node: n}, circuit.Crossing{Node: n, Rising: true})
		require.NoError(t, err)
		require.Equal(t, len(at)%2, hit)
		at = append(at, s.Time())
	}
	half := math.Pi * math.Sqrt(1e-3*1e-6)
	for i := range at[1:] {
		assert.InEpsilon(t, half, at[i+1]-at[i], 1e-3)
	}
}

// An effect is what a small change of one value does: it is held against
// solving the changed circuit, for random circuits and random forms.
func TestEffects(t *testing.T) {
	rng := rand.New(rand.NewPCG(21, 22))
	seen := 0
	for range 150 {
		c := random(rng)
		solver := circuit.NewSolver(c)
		var at circuit.Solution
		for range 2 { // to the last digits
			require.NoError(t, solver.Solve(&at))
		}
		tangent, err := solver.Linearize(&at)
		require.NoError(t, err)
		form := circuit.Form{}
		for range 1 + rng.IntN(3) {
			form.Amps = append(form.Amps, circuit.Weight{At: rng.IntN(len(c.Elements)), By: rng.Float64() - 0.5})
			form.Volts = append(form.Volts, circuit.Weight{At: rng.IntN(c.Nodes()), By: 1e-3 * (rng.Float64() - 0.5)})
		}
		effects := make([]float64, len(c.Elements))
		tangent.Effects(form, effects)
		for i := range c.Elements {
			changed := *c
			changed.Elements = slices.Clone(c.Elements)
			e := &changed.Elements[i]
			was := e.Amps(&at)
			const by = 1e-5
			e.Value *= 1 + by
			if e.Kind == circuit.Diode {
				e.Junction.Is *= 1 + by
			}
			moves := e.Amps(&at) - was
			if e.Kind == circuit.VoltageSource {
				moves = e.Value - c.Elements[i].Value
			}
			sol := circuit.Solution{V: slices.Clone(at.V), I: slices.Clone(at.I)}
			for range 2 {
				require.NoError(t, circuit.NewSolver(&changed).Solve(&sol))
			}
			got, want := moves*effects[i], form.Of(&sol)-form.Of(&at)
			assert.InDelta(t, want, got, 1e-3*math.Abs(want)+1e-12, "element %d", i)
			seen++
		}
	}
	assert.Greater(t, seen, 500)
}

// Ten seconds of a contact, pressed and let go once a second, that bounces into an
// RC, beside ngspice on the same: the ratio is how many times longer it takes.
func BenchmarkBounceBesideNgspice(b *testing.B) {
	program, err := exec.LookPath("ngspice")
	if err != nil {
		b.Skip("ngspice is not installed")
	}
	x := timed()[0]
	k := x.Throws[0].Element
	x.Throws, x.Seconds = nil, 10
	for press := range 10 {
		for edge := range 20 {
			at := float64(press) + 0.2 + 0.4e-3*float64(edge%10)
			if edge >= 10 {
				at += 0.5
			}
			x.Throws = append(x.Throws, testkit.Throw{At: at, Element: k, Open: (edge+edge/10)%2 == 1})
		}
	}
	file := filepath.Join(b.TempDir(), "deck.cir")
	if err := os.WriteFile(file, []byte(x.Deck()), 0o600); err != nil {
		b.Fatal(err)
	}
	theirs := shortest(func() {
		if out, err := exec.Command(program, "-b", file).CombinedOutput(); err != nil {
			b.Fatalf("%v\n%s", err, out)
		}
	})
	for b.Loop() {
		if _, err := x.Run(); err != nil {
			b.Fatal(err)
		}
	}
	ours := shortest(func() { x.Run() })
	b.ReportMetric(float64(theirs)/float64(ours), "times-faster")
}

// shortest returns the shortest of some times.
func shortest(do func()) time.Duration {
	best := time.Hour
	for range 7 {
		start := time.Now()
		do()
		best = min(best, time.Since(start))
	}
	return best
}

// A stepper that comes back to a moment goes on from there as it did the first time, whatever it
// did meanwhile.
func TestAMomentIsComeBackTo(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 4))
	for range 20 {
		x := randomTimed(rng)
		s, err := circuit.NewStepper(x.Circuit)
		require.NoError(t, err)
		for i := range x.Circuit.Elements {
			if x.Circuit.Elements[i].Kind == circuit.Switch {
				x.Circuit.Elements[i].Open = !x.Circuit.Elements[i].Open
			}
		}
		s.Changed()
		require.NoError(t, s.To(x.Seconds/10))
		here := s.Moment()
		volts := func() float64 {
			require.NoError(t, s.To(x.Seconds/2))
			sol, err := s.Solution()
			require.NoError(t, err)
			return sol.V[x.Node]
		}
		first := volts()
		require.NoError(t, s.To(x.Seconds))
		s.Return(here)
		assert.Equal(t, x.Seconds/10, s.Time())
		assert.InDelta(t, first, volts(), 1e-3*x.Full)
	}
}
