package circuit_test

import (
	"fmt"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"cablaggio/core/circuit"
)

// An oracle that shares no code with the solver: the same circuits written as
// netlists and solved by ngspice, all of them in one run.

// netlist writes c with its nodes named n0, n1… under a prefix.
func netlist(c *circuit.Circuit, prefix string) string {
	var b strings.Builder
	node := func(n circuit.Node) string {
		if n == circuit.Ground {
			return "0"
		}
		return fmt.Sprintf("%sn%d", prefix, n)
	}
	for i, e := range c.Elements {
		ends := node(e.A) + " " + node(e.B)
		name := fmt.Sprintf("%s_%d", prefix, i)
		switch e.Kind {
		case circuit.Resistor:
			fmt.Fprintf(&b, "R%s %s %.17g\n", name, ends, e.Value)
		case circuit.Switch:
			if !e.Open {
				fmt.Fprintf(&b, "R%s %s %.17g\n", name, ends, e.Value)
			}
		case circuit.VoltageSource:
			fmt.Fprintf(&b, "V%s %s %.17g\n", name, ends, e.Value)
		case circuit.CurrentSource:
			fmt.Fprintf(&b, "I%s %s %.17g\n", name, ends, e.Value)
		case circuit.Diode:
			fmt.Fprintf(&b, "D%s %s M%s\n.model M%s D(IS=%.17g N=%.17g RS=%.17g)\n", name, ends, name, name, e.Junction.Is, e.Junction.N, e.Junction.Rs)
		}
	}
	return b.String()
}

// againstSpice solves the circuits both ways and compares every node: within
// 1 mV and 0.1 %.
func againstSpice(t *testing.T, circuits []*circuit.Circuit) {
	t.Helper()
	program, err := exec.LookPath("ngspice")
	require.NoError(t, err, "the oracle is missing; make test installs it")
	var deck, prints strings.Builder
	deck.WriteString("* oracle\n.options reltol=1e-7 abstol=1e-15 vntol=1e-10 gmin=1e-12 epsmin=1e-60 temp=27 tnom=27\n")
	for k, c := range circuits {
		deck.WriteString(netlist(c, fmt.Sprintf("c%d", k)))
		for n := 1; n < c.Nodes(); n++ {
			// A node that no conducting element holds is left to 1e12 Ω on both sides.
			fmt.Fprintf(&deck, "Rgmin%d_%d c%dn%d 0 1e12\n", k, n, k, n)
			fmt.Fprintf(&prints, "print v(c%dn%d)\n", k, n)
		}
	}
	deck.WriteString(".control\nset numdgt=12\nop\n" + prints.String() + "quit 0\n.endc\n.end\n")
	file := filepath.Join(t.TempDir(), "deck.cir")
	require.NoError(t, os.WriteFile(file, []byte(deck.String()), 0o600))
	out, err := exec.Command(program, "-b", file).CombinedOutput()
	require.NoError(t, err, "%s", out)

	want := map[string]float64{}
	for line := range strings.Lines(string(out)) {
		var v float64
		name, value, ok := strings.Cut(line, " = ")
		if _, err := fmt.Sscan(value, &v); ok && err == nil {
			want[name] = v
		}
	}
	for k, c := range circuits {
		sol, err := circuit.Solve(c)
		require.NoError(t, err, "circuit %d\n%s", k, netlist(c, ""))
		for n := 1; n < c.Nodes(); n++ {
			v, ok := want[fmt.Sprintf("v(c%dn%d)", k, n)]
			require.True(t, ok, "ngspice printed nothing for node %d of circuit %d", n, k)
			if math.Abs(sol.V[n]-v) > 1e-3 || math.Abs(sol.V[n]-v) > 1e-3*math.Abs(v)+1e-6 {
				t.Errorf("circuit %d node %d: %.9g V here, %.9g V in ngspice\n%s", k, n, sol.V[n], v, netlist(c, ""))
			}
		}
	}
}
