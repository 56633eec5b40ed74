package circuit_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
)

func resistor(a, b circuit.Node, ohms float64) circuit.Element {
	return circuit.Element{Kind: circuit.Resistor, A: a, B: b, Value: ohms}
}

func source(a, b circuit.Node, volts float64) circuit.Element {
	return circuit.Element{Kind: circuit.VoltageSource, A: a, B: b, Value: volts}
}

func ExampleSolve() {
	var c circuit.Circuit
	supply, middle := c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, 5))
	c.Add(resistor(supply, middle, 1000))
	c.Add(resistor(middle, circuit.Ground, 4000))
	sol, _ := circuit.Solve(&c)
	fmt.Printf("%.3f V, %.3f mA\n", sol.V[middle], 1000*sol.I[1])
	// Output: 4.000 V, 1.000 mA
}

var red = circuit.FitJunction(2.0, 0.020, 2, 3)

// series is supply, resistor and diode in one loop.
func series(volts, ohms float64, j circuit.Junction) *circuit.Circuit {
	var c circuit.Circuit
	supply, anode := c.Node(), c.Node()
	c.Add(source(supply, circuit.Ground, volts))
	c.Add(resistor(supply, anode, ohms))
	c.Add(circuit.Element{Kind: circuit.Diode, A: anode, B: circuit.Ground, Junction: j})
	return &c
}

func TestFixedCircuitsAgainstSpice(t *testing.T) {
	bare := circuit.Junction{Is: 1e-14, N: 1}
	blue := circuit.FitJunction(3.1, 0.020, 3, 8)
	circuits := []*circuit.Circuit{
		series(5, 220, red), series(5, 1000, red), series(3.3, 47, blue), series(5, 0.5, red),
		series(5, 100, bare), series(-5, 100, bare), series(12, 1e6, bare), series(0.3, 100, red),
	}
	// Three diodes on one shared resistor; the lowest robs the others.
	var shared circuit.Circuit
	supply, common := shared.Node(), shared.Node()
	shared.Add(source(supply, circuit.Ground, 5))
	for _, j := range []circuit.Junction{red, blue, circuit.FitJunction(2.2, 0.02, 2, 5)} {
		n := shared.Node()
		shared.Add(circuit.Element{Kind: circuit.Diode, A: supply, B: n, Junction: j})
		shared.Add(resistor(n, common, 5))
	}
	shared.Add(resistor(common, circuit.Ground, 150))
	// A floating source in a bridge, and two diodes against each other.
	var bridge circuit.Circuit
	a, b, d := bridge.Node(), bridge.Node(), bridge.Node()
	bridge.Add(source(a, b, 3))
	bridge.Add(resistor(a, circuit.Ground, 1000))
	bridge.Add(resistor(b, d, 470))
	bridge.Add(circuit.Element{Kind: circuit.Diode, A: circuit.Ground, B: d, Junction: bare})
	bridge.Add(circuit.Element{Kind: circuit.Diode, A: d, B: circuit.Ground, Junction: red})
	testkit.AgainstSpice(t, append(circuits, &shared, &bridge), nil)
}

func TestRandomCircuitsAgainstSpice(t *testing.T) {
	rng := rand.New(rand.NewPCG(1, 2))
	var circuits []*circuit.Circuit
	for range 200 {
		circuits = append(circuits, random(rng))
	}
	testkit.AgainstSpice(t, circuits, nil)
}

var clamp = circuit.FitJunction(0.6, 1e-3, 1, 20)

// random returns a circuit in which every node has a path to ground.
func random(rng *rand.Rand) *circuit.Circuit {
	var c circuit.Circuit
	rails := 1 + rng.IntN(2)
	for range rails {
		c.Add(source(c.Node(), circuit.Ground, 1+11*rng.Float64()))
	}
	ohms := func() float64 { return math.Pow(10, 1+5*rng.Float64()) }
	nodes := 1 + rng.IntN(6)
	for range nodes {
		n := c.Node()
		c.Add(resistor(n, circuit.Node(rng.IntN(int(n))), ohms()))
	}
	pick := func() circuit.Node { return circuit.Node(rng.IntN(c.Nodes())) }
	for range 1 + rng.IntN(8) {
		a, b := pick(), pick()
		if a == b {
			continue
		}
		switch rng.IntN(6) {
		case 0, 1:
			c.Add(resistor(a, b, ohms()))
		case 2:
			if int(a) > rails || int(b) > rails {
				c.Add(circuit.Element{Kind: circuit.Diode, A: a, B: b, Junction: circuit.FitJunction(1.6+1.8*rng.Float64(), 0.02, 1.5+2*rng.Float64(), 1+10*rng.Float64())})
			}
		case 3:
			c.Add(circuit.Element{Kind: circuit.Switch, A: a, B: b, Value: 20, Open: rng.IntN(2) == 0})
		case 4: // the clamps of an input: two junctions that face each other
			c.Add(circuit.Element{Kind: circuit.Diode, A: a, B: 1, Junction: clamp})
			c.Add(circuit.Element{Kind: circuit.Diode, A: circuit.Ground, B: a, Junction: clamp})
		case 5:
			c.Add(circuit.Element{Kind: circuit.CurrentSource, A: a, B: b, Value: 2e-3 * (rng.Float64() - 0.5)})
		}
	}
	return &c
}

func TestCurrentsBalanceAtEveryNode(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		c := random(rand.New(rand.NewPCG(rapid.Uint64().Draw(t, "seed"), 3)))
		sol, err := circuit.Solve(c)
		if err != nil {
			t.Fatal(err)
		}
		sums := make([]float64, c.Nodes())
		scale := make([]float64, c.Nodes())
		for i, e := range c.Elements {
			sums[e.A] -= sol.I[i]
			sums[e.B] += sol.I[i]
			scale[e.A] += math.Abs(sol.I[i])
			scale[e.B] += math.Abs(sol.I[i])
		}
		for n := 1; n < c.Nodes(); n++ {
			// What is left is what gmin, 1e-12 S to ground, takes at the node's voltage,
			// beside the junctions' own.
			if math.Abs(sums[n]) > 1e-6*scale[n]+1e-9+1e-11*math.Abs(sol.V[n]) {
				t.Fatalf("node %d: %g A left over of %g A", n, sums[n], scale[n])
			}
		}
	})
}

func TestPiecesAreIndependent(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		seed := rapid.Uint64().Draw(t, "seed")
		alone := random(rand.New(rand.NewPCG(seed, 4)))
		both := random(rand.New(rand.NewPCG(seed, 4)))
		before := len(both.Pieces())
		// A second circuit on the first rail.
		n := both.Node()
		both.Add(resistor(1, n, 330))
		both.Add(circuit.Element{Kind: circuit.Diode, A: n, B: circuit.Ground, Junction: red})
		if len(both.Pieces()) != before+1 {
			t.Fatalf("%d pieces became %d", before, len(both.Pieces()))
		}
		want, err := circuit.Solve(alone)
		if err != nil {
			t.Fatal(err)
		}
		got, err := circuit.Solve(both)
		if err != nil {
			t.Fatal(err)
		}
		for k := range want.V {
			if want.V[k] != got.V[k] {
				t.Fatalf("node %d moved from %v to %v", k, want.V[k], got.V[k])
			}
		}
	})
}

func TestMoreResistanceNeverGivesMoreCurrent(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		volts := rapid.Float64Range(2, 12).Draw(t, "volts")
		ohms := rapid.Float64Range(1, 1e5).Draw(t, "ohms")
		more := ohms * rapid.Float64Range(1, 10).Draw(t, "factor")
		a, err := circuit.Solve(series(volts, ohms, red))
		if err != nil {
			t.Fatal(err)
		}
		b, err := circuit.Solve(series(volts, more, red))
		if err != nil {
			t.Fatal(err)
		}
		if b.I[2] > a.I[2]*(1+1e-9) {
			t.Fatalf("%g Ω: %g A, %g Ω: %g A", ohms, a.I[2], more, b.I[2])
		}
	})
}

func TestNoAnswer(t *testing.T) {
	var twoSources circuit.Circuit
	n := twoSources.Node()
	twoSources.Add(source(n, circuit.Ground, 5))
	twoSources.Add(source(n, circuit.Ground, 3.3))
	var noWay circuit.Circuit
	n = noWay.Node()
	noWay.Add(circuit.Element{Kind: circuit.CurrentSource, A: circuit.Ground, B: n, Value: 1e-3})
	var loop circuit.Circuit
	a, b := loop.Node(), loop.Node()
	loop.Add(source(a, b, 5))
	loop.Add(source(a, b, 4))
	var zero circuit.Circuit
	zero.Add(resistor(zero.Node(), circuit.Ground, 0))
	for name, c := range map[string]*circuit.Circuit{"joined across": &twoSources, "no way back": &noWay, "loop": &loop, "above zero": &zero} {
		_, err := circuit.Solve(c)
		var none *circuit.NoSolutionError
		require.ErrorAs(t, err, &none, name)
		assert.Contains(t, err.Error(), name)
	}
}

func TestFitGoesThroughTheTestPoint(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		volts := rapid.Float64Range(1.2, 3.6).Draw(t, "volts")
		amps := rapid.Float64Range(1e-3, 0.03).Draw(t, "amps")
		j := circuit.FitJunction(volts, amps, rapid.Float64Range(1, 4).Draw(t, "n"), rapid.Float64Range(0, 15).Draw(t, "rs"))
		sol, err := circuit.Solve(series(volts+amps*100, 100, j))
		if err != nil {
			t.Fatal(err)
		}
		if math.Abs(sol.I[2]/amps-1) > 1e-6 {
			t.Fatalf("%g A instead of %g A", sol.I[2], amps)
		}
	})
}

func BenchmarkSolveLED(b *testing.B) {
	s := circuit.NewSolver(series(5, 220, red))
	b.ReportAllocs()
	for b.Loop() {
		if err := s.Solve(&circuit.Solution{}); err != nil {
			b.Fatal(err)
		}
	}
}
