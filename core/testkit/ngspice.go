// Package testkit holds what the tests of several packages share.
package testkit

import (
	"fmt"
	"iter"
	"maps"
	"math"
	"os"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/spice"
	"cablaggio/core/general/parallel"
)

// AgainstSpice solves the circuits here and in ngspice, an oracle that shares
// no code with us, and compares every node: within 1 mV and 0.1 %, and never
// closer than 10 µV, which is what its gmin of 1 pS at every junction makes of a
// phototransistor's nanoamperes behind the largest of our sense resistors. Nodes
// that nothing holds are left out by skip, which may be nil.
func AgainstSpice(t *testing.T, circuits []*circuit.Circuit, skip func(k int, n circuit.Node) bool) {
	t.Helper()
	want := operatingPoints(t, circuits)
	unanswered := 0
	for k, c := range circuits {
		if _, ok := want[k][fmt.Sprintf("v(%s1)", spice.Prefix)]; !ok && c.Nodes() > 1 {
			unanswered++ // everything floats, and ngspice finds no balance of leakages
			continue
		}
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
	require.LessOrEqual(t, unanswered, len(circuits)/leastAnswered, "ngspice found no answer")
}

// SpiceVolts solves circuits in ngspice and calls look with the voltages of each
// that it has an answer for.
func SpiceVolts(t *testing.T, circuits []*circuit.Circuit, look func(k int, volts func(circuit.Node) float64)) {
	t.Helper()
	unanswered := 0
	for k, want := range operatingPoints(t, circuits) {
		if _, ok := want[fmt.Sprintf("v(%s1)", spice.Prefix)]; !ok {
			unanswered++
			continue
		}
		look(k, func(n circuit.Node) float64 { return want[fmt.Sprintf("v(%s%d)", spice.Prefix, n)] })
	}
	require.LessOrEqual(t, unanswered, len(circuits)/leastAnswered, "ngspice found no answer")
}

func operatingPoints(t *testing.T, circuits []*circuit.Circuit) []map[string]float64 {
	t.Helper()
	want := make([]map[string]float64, len(circuits))
	parallel.Do((len(circuits)+perRun-1)/perRun, func(run int) {
		first := run * perRun
		points(t, circuits[first:min(first+perRun, len(circuits))], want[first:])
	})
	return want
}

// leastAnswered is of how many circuits ngspice leaves one unanswered at most.
const leastAnswered = 50

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
	for name, v := range Ngspice(t, deck.String()) {
		if name == "circuit" {
			k = int(v)
			want[k] = map[string]float64{}
		} else if k >= 0 {
			want[k][name] = v
		}
	}
}

// A Timed is a circuit that begins at rest and whose switches are thrown.
type Timed struct {
	Circuit *circuit.Circuit
	Throws  []Throw // in the order of time
	Seconds float64 // how long it runs
	Node    circuit.Node
	Full    float64 // volts; 0.5 % of them, or of the voltage where it is larger, is the difference that may be
}

// A Throw sets a switch.
type Throw struct {
	At      float64
	Element int
	Open    bool
}

// Deck writes the same for ngspice, which measures the node twenty times.
func (c Timed) Deck() string {
	still := *c.Circuit
	still.Elements = slices.Clone(still.Elements)
	var deck, body strings.Builder
	deck.WriteString("* oracle\n" + spice.Options)
	edge := c.Seconds * 1e-7
	for i := range still.Elements {
		e := &still.Elements[i]
		if !slices.ContainsFunc(c.Throws, func(t Throw) bool { return t.Element == i }) {
			continue
		}
		level := map[bool]int{false: 1, true: 0}
		now := level[e.Open]
		fmt.Fprintf(&body, "Vc%d c%d 0 PWL(0 %d", i, i, now)
		for _, t := range c.Throws {
			if t.Element == i {
				fmt.Fprintf(&body, " %.12g %d %.12g %d", t.At-edge, now, t.At, level[t.Open])
				now = level[t.Open]
			}
		}
		fmt.Fprintf(&body, ")\nS%d %s%d %s%d c%d 0 SM%d\n.model SM%d SW(VT=0.5 VH=0.01 RON=%g ROFF=1e12)\n", i, spice.Prefix, e.A, spice.Prefix, e.B, i, i, i, e.Value)
		e.Open = true // written above
	}
	deck.WriteString(strings.ReplaceAll(body.String(), " "+spice.Prefix+"0 ", " 0 "))
	spice.Body(&deck, &still, "", nil)
	fmt.Fprintf(&deck, ".control\ntran %g %g 0 %g\n", c.Seconds/500, c.Seconds*1.001, c.Seconds/2000)
	for k := 1; k <= looks; k++ {
		fmt.Fprintf(&deck, "meas tran at%d find v(%s%d) at=%.12g\n", k, spice.Prefix, c.Node, c.Seconds*float64(k)/looks)
	}
	deck.WriteString("quit 0\n.endc\n.end\n")
	return deck.String()
}

// looks is how often a run is looked at.
const looks = 20

// Run lets the circuit run here and returns the node's voltage twenty times.
func (c Timed) Run() (volts []float64, err error) {
	own := *c.Circuit
	own.Elements = slices.Clone(own.Elements)
	s, err := circuit.NewStepper(&own)
	if err != nil {
		return nil, err
	}
	throws := c.Throws
	for k := 1; k <= looks; k++ {
		until := c.Seconds * float64(k) / looks
		for len(throws) > 0 && throws[0].At <= until {
			if err := s.To(throws[0].At); err != nil {
				return nil, err
			}
			own.Elements[throws[0].Element].Open = throws[0].Open
			s.Changed()
			throws = throws[1:]
		}
		if err := s.To(until); err != nil {
			return nil, err
		}
		sol, err := s.Solution()
		if err != nil {
			return nil, err
		}
		volts = append(volts, sol.V[c.Node])
	}
	return volts, nil
}

// TransientsAgainstSpice lets circuits run here and in ngspice and compares.
func TransientsAgainstSpice(t *testing.T, cases []Timed) {
	t.Helper()
	parallel.Do(len(cases), func(i int) {
		want := maps.Collect(Ngspice(t, cases[i].Deck()))
		volts, err := cases[i].Run()
		assert.NoError(t, err, "case %d", i)
		for k, v := range volts {
			w, ok := want[fmt.Sprintf("at%d", k+1)]
			if !ok || math.Abs(v-w) > 5e-3*math.Max(cases[i].Full, math.Abs(w)) {
				t.Errorf("case %d, look %d of %d: %.6g V here, %.6g V in ngspice (%v)\n%s", i, k+1, looks, v, w, ok, cases[i].Deck())
				break
			}
		}
	})
}

// Ngspice runs a deck and yields what it prints as name = value, in order.
func Ngspice(t *testing.T, deck string) iter.Seq2[string, float64] {
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
