// Package testkit holds what the tests of several packages share.
package testkit

import (
	"fmt"
	"iter"
	"maps"
	"math"
	"os"
	"os/exec"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/circuit"
	"cablaggio/core/parallel"
	"cablaggio/core/spice"
)

// AgainstSpice solves the circuits here and in ngspice, an oracle that shares
// no code with us, and compares every node: within 1 mV and 0.1 %, and never
// closer than 10 µV, which is what its gmin of 1 pS at every junction makes of a
// phototransistor's nanoamperes behind the largest of our sense resistors. Nodes
// that nothing holds are left out by skip, which may be nil.
func AgainstSpice(t *testing.T, circuits []*circuit.Circuit, skip func(k int, n circuit.Node) bool) {
	t.Helper()
	want := make([]map[string]float64, len(circuits))
	parallel.Do((len(circuits)+perRun-1)/perRun, func(run int) {
		first := run * perRun
		points(t, circuits[first:min(first+perRun, len(circuits))], want[first:])
	})
	for k, c := range circuits {
		sol, err := circuit.Solve(c)
		require.NoError(t, err, "circuit %d", k)
		for n := 1; n < c.Nodes(); n++ {
			if skip != nil && skip(k, circuit.Node(n)) {
				continue
			}
			v, ok := want[k][fmt.Sprintf("v(%s%d)", spice.Prefix, n)]
			if !ok {
				var body strings.Builder
				spice.Body(&body, c, "", nil)
				require.Fail(t, "ngspice printed nothing", "node %d of circuit %d\n%s", n, k, body.String())
			}
			if d := math.Abs(sol.V[n] - v); d > 1e-3 || d > 1e-3*math.Abs(v)+1e-5 {
				var body strings.Builder
				spice.Body(&body, c, "", nil)
				t.Errorf("circuit %d node %d: %.9g V here, %.9g V in ngspice\n%s", k, n, sol.V[n], v, body.String())
			}
		}
	}
}

// perRun is how many circuits ngspice solves between two starts, one after another.
const perRun = 256

// points fills in the operating points of circuits, by name of the voltage.
func points(t *testing.T, circuits []*circuit.Circuit, want []map[string]float64) {
	var deck strings.Builder
	deck.WriteString("* oracle\nR1 1 0 1\n.control\nset numdgt=12\n")
	for k, c := range circuits {
		var body strings.Builder
		spice.Body(&body, c, "", nil)
		for line := range strings.Lines("* circuit\n" + spice.Options + body.String() + ".end\n") {
			deck.WriteString("circbyline " + line)
		}
		fmt.Fprintf(&deck, "op\necho circuit = %d\n", k)
		for n := 1; n < c.Nodes(); n++ {
			fmt.Fprintf(&deck, "print v(%s%d)\n", spice.Prefix, n)
		}
		deck.WriteString("remcirc\ndestroy all\n")
	}
	deck.WriteString("quit 0\n.endc\n.end\n")
	k := -1
	for name, v := range run(t, deck.String()) {
		if name == "circuit" {
			k = int(v)
			want[k] = map[string]float64{}
		} else if k >= 0 {
			want[k][name] = v
		}
	}
}

// TransientAgainstSpice lets a circuit with discharged capacitors run for n
// steps of h seconds here and in ngspice, and compares one node at twenty
// times: within 0.5 % of full volts.
func TransientAgainstSpice(t *testing.T, c *circuit.Circuit, node circuit.Node, h float64, n int, full float64) {
	t.Helper()
	var deck strings.Builder
	deck.WriteString("* oracle\n" + spice.Options)
	spice.Body(&deck, c, "", nil)
	fmt.Fprintf(&deck, ".control\ntran %g %g 0 %g uic\n", h, h*float64(n+1), h/4)
	every := n / 20
	for k := every; k <= n; k += every {
		fmt.Fprintf(&deck, "meas tran at%d find v(%s%d) at=%.12g\n", k, spice.Prefix, node, h*float64(k))
	}
	deck.WriteString("quit 0\n.endc\n.end\n")
	want := maps.Collect(run(t, deck.String()))
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

// run runs a deck and yields what it prints as name = value, in order.
func run(t *testing.T, deck string) iter.Seq2[string, float64] {
	program, err := exec.LookPath("ngspice")
	if !assert.NoError(t, err, "the oracle is missing; make test installs it") {
		return func(func(string, float64) bool) {}
	}
	file, err := os.CreateTemp(t.TempDir(), "*.cir")
	assert.NoError(t, err)
	_, err = file.WriteString(deck)
	assert.NoError(t, err)
	assert.NoError(t, file.Close())
	out, err := exec.Command(program, "-b", file.Name()).Output()
	assert.NoError(t, err, "%s", out)
	return func(yield func(string, float64) bool) {
		for line := range strings.Lines(string(out)) {
			var v float64
			name, value, ok := strings.Cut(line, "=")
			if _, err := fmt.Sscan(value, &v); ok && err == nil && !yield(strings.TrimSpace(name), v) {
				return
			}
		}
	}
}
