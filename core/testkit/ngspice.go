// Package testkit holds what the tests of several packages share.
package testkit

import (
	"fmt"
	"maps"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"cablaggio/core/circuit"
	"cablaggio/core/spice"
)

// AgainstSpice solves the circuits here and in ngspice, an oracle that shares
// no code with us, and compares every node:
// within 1 mV and 0.1 %. Nodes that nothing holds are left out by skip, which
// may be nil.
func AgainstSpice(t *testing.T, circuits []*circuit.Circuit, skip func(k int, n circuit.Node) bool) {
	t.Helper()
	program, err := exec.LookPath("ngspice")
	require.NoError(t, err, "the oracle is missing; make test installs it")
	want := map[string]float64{}
	// A few in one run: more slow its one large matrix down, fewer are
	// mostly the start of the program.
	for first := 0; first < len(circuits); first += perRun {
		var deck, prints strings.Builder
		deck.WriteString("* oracle\n" + spice.Options)
		for k := first; k < min(first+perRun, len(circuits)); k++ {
			label := fmt.Sprintf("c%d", k)
			spice.Body(&deck, circuits[k], label, nil)
			for n := 1; n < circuits[k].Nodes(); n++ {
				fmt.Fprintf(&prints, "print v(%s%s%d)\n", label, spice.Prefix, n)
			}
		}
		deck.WriteString(".control\nset numdgt=12\nop\n" + prints.String() + "quit 0\n.endc\n.end\n")
		maps.Copy(want, run(t, program, deck.String()))
	}
	for k, c := range circuits {
		sol, err := circuit.Solve(c)
		require.NoError(t, err, "circuit %d", k)
		for n := 1; n < c.Nodes(); n++ {
			if skip != nil && skip(k, circuit.Node(n)) {
				continue
			}
			v, ok := want[fmt.Sprintf("v(c%d%s%d)", k, spice.Prefix, n)]
			if !ok {
				var body strings.Builder
				spice.Body(&body, c, "", nil)
				require.Fail(t, "ngspice printed nothing", "node %d of circuit %d\n%s", n, k, body.String())
			}
			if d := math.Abs(sol.V[n] - v); d > 1e-3 || d > 1e-3*math.Abs(v)+1e-6 {
				var body strings.Builder
				spice.Body(&body, c, "", nil)
				t.Errorf("circuit %d node %d: %.9g V here, %.9g V in ngspice\n%s", k, n, sol.V[n], v, body.String())
			}
		}
	}
}

const perRun = 6

// TransientAgainstSpice lets a circuit with discharged capacitors run for n
// steps of h seconds here and in ngspice, and compares one node at twenty
// times: within 0.5 % of full volts.
func TransientAgainstSpice(t *testing.T, c *circuit.Circuit, node circuit.Node, h float64, n int, full float64) {
	t.Helper()
	program, err := exec.LookPath("ngspice")
	require.NoError(t, err, "the oracle is missing; make test installs it")
	var deck strings.Builder
	deck.WriteString("* oracle\n" + spice.Options)
	spice.Body(&deck, c, "", nil)
	fmt.Fprintf(&deck, ".control\ntran %g %g 0 %g uic\n", h, h*float64(n+1), h/4)
	every := n / 20
	for k := every; k <= n; k += every {
		fmt.Fprintf(&deck, "meas tran at%d find v(%s%d) at=%.12g\n", k, spice.Prefix, node, h*float64(k))
	}
	deck.WriteString("quit 0\n.endc\n.end\n")
	want := run(t, program, deck.String())
	sol := &circuit.Solution{V: make([]float64, c.Nodes()), I: make([]float64, len(c.Elements))}
	k, compared := 0, 0
	require.NoError(t, circuit.NewSolver(c).Transient(sol, h, n, func(_ float64, sol *circuit.Solution) bool {
		if k++; k%every == 0 {
			v, ok := want[fmt.Sprintf("at%d", k)]
			require.True(t, ok, "ngspice measured nothing at step %d", k)
			require.InDelta(t, v, sol.V[node], 5e-3*full, "step %d", k)
			compared++
		}
		return true
	}))
	require.Equal(t, n/every, compared)
}

// run runs a deck and returns what it printed as name = value.
func run(t *testing.T, program, deck string) map[string]float64 {
	t.Helper()
	file := filepath.Join(t.TempDir(), "deck.cir")
	require.NoError(t, os.WriteFile(file, []byte(deck), 0o600))
	out, err := exec.Command(program, "-b", file).CombinedOutput()
	require.NoError(t, err, "%s", out)
	values := map[string]float64{}
	for line := range strings.Lines(string(out)) {
		var v float64
		name, value, ok := strings.Cut(line, "=")
		if _, err := fmt.Sscan(value, &v); ok && err == nil {
			values[strings.TrimSpace(name)] = v
		}
	}
	return values
}
