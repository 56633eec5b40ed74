package wiring_test

import (
	"fmt"
	"math"
	"os"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

// ends are all corners of a piece, as draws of its tolerances.
func ends(s *wiring.Solved, mask int) *circuit.Circuit {
	k := 0
	return s.Drawn(func(low, high float64) float64 {
		k++
		if mask>>(k-1)&1 == 1 {
			return high
		}
		return low
	})
}

// The corner that is searched is that of brute force over all corners, for every
// current, every voltage and random sums of pieces with up to eight tolerances.
func TestWorstCornersAgainstBruteForce(t *testing.T) {
	testkit.Slow(t)
	searched := 0
	rapid.Check(t, func(t *rapid.T) {
		n := wiring.Build(lib, randomBuild(t, pick(t, "board", lib.Boards).ID))
		for _, p := range n.Pieces {
			if p.Tolerances() > 8 {
				continue
			}
			list := planned(t, p)
			s := list[rapid.IntRange(0, len(list)-1).Draw(t, "state")]
			low, high := slices.Repeat([]float64{math.Inf(1)}, len(p.Elements)), slices.Repeat([]float64{math.Inf(-1)}, len(p.Elements))
			for mask := range 1 << p.Tolerances() {
				var sol circuit.Solution
				if err := circuit.NewSolver(ends(s, mask)).Solve(&sol); err != nil {
					return
				}
				for k := range p.Elements {
					low[k], high[k] = min(low[k], sol.I[k]), max(high[k], sol.I[k])
				}
			}
			for k, i := range p.Elements {
				if n.Elements[i].Role == wiring.Inner {
					continue
				}
				r := s.Amps(i)
				slack := 1e-6*max(math.Abs(low[k]), math.Abs(high[k])) + 2e-9
				searched++
				if r.Low > low[k]+slack || r.High < high[k]-slack {
					t.Fatalf("%s: %v A searched, %g to %g A by brute force (%s)", n.Elements[i].Name, r, low[k], high[k], s.Words())
				}
			}
		}
	})
	t.Logf("%d quantities", searched)
	assert.Positive(t, searched)
}

// What lamps on one resistor carry together is what the resistor lets through,
// and what pins source together is no more than what their pieces can at one
// voltage of the rail: brute force over states and corners, in ngspice.
func TestSumsAgainstSpice(t *testing.T) {
	shared := network(t, "classic-5v", sharing(8)...)
	var lamps, pins []wiring.Term
	resistor := shared.Find(wiring.Body, "resistor1", "")
	for _, l := range shared.Lamps {
		lamps = append(lamps, wiring.Term{Element: l.Element, By: 1})
	}
	for i, e := range shared.Elements {
		if e.Role == wiring.HighSide {
			pins = append(pins, wiring.Term{Element: i, By: 1})
		}
	}
	together, err := shared.Worst(lamps)
	require.NoError(t, err)
	through, err := shared.Worst([]wiring.Term{{Element: resistor, By: 1}})
	require.NoError(t, err)
	sourced, err := shared.Worst(pins)
	require.NoError(t, err)
	one, err := shared.Worst(lamps[:1])
	require.NoError(t, err)
	assert.InEpsilon(t, through.High, together.High, 1e-6)
	assert.InEpsilon(t, through.High, sourced.High, 1e-6)
	assert.Less(t, together.High, 1.3*one.High, "not eight times as much as one")
	// The worst corner is the high rail, the low resistances and the low forward
	// voltages, with all lamps lit.
	s := together.Pieces[0]
	c := s.Drawn(func(low, high float64) float64 {
		if high > 4 && low > 4 && high < 6 { // volts of the rail
			return high
		}
		return low
	})
	testkit.SpiceVolts(t, []*circuit.Circuit{c}, func(_ int, volts func(circuit.Node) float64) {
		k := slices.Index(s.Piece.Elements, resistor)
		e := c.Elements[k]
		assert.InEpsilon(t, (volts(e.A)-volts(e.B))/e.Value, through.High, 1e-3)
	})
}

// sharing is lamps on pins of their own with one resistor to ground.
func sharing(lamps int) []plan.Edit {
	edits := []plan.Edit{plan.Add{Kind: "resistor"}, plan.Join{Terminal: "resistor1.2", To: "board.GND"}}
	for i := range lamps {
		id := fmt.Sprintf("led%d", i+1)
		edits = append(edits, plan.Add{Kind: "led", Hookup: "no-resistor"}, plan.Free{Terminal: build.Of(id, "cathode")},
			plan.Join{Terminal: build.Of(id, "cathode"), To: "resistor1.1"})
	}
	return edits
}

// Sums of what pins and rails carry, of random builds: what is found is there at
// one corner of the rails (so it is possible), and no draw of the tolerances in
// any state goes above it (so it is the worst).
func TestSumsBoundRandomDraws(t *testing.T) {
	testkit.Slow(t)
	compared := 0
	rapid.Check(t, func(t *rapid.T) {
		board, edits := randomEdits(t, "led", "button", "led-rgb-cathode", "potentiometer", "shift-register-latched")
		n := network(t, board, edits...)
		var terms []wiring.Term
		for i, e := range n.Elements {
			if e.Role == wiring.HighSide || e.Role == wiring.Body && rapid.Bool().Draw(t, "also") {
				terms = append(terms, wiring.Term{Element: i, By: 1})
			}
		}
		worst, err := n.Worst(terms)
		require.NoError(t, err)
		rail := rapid.Float64Range(0, 1).Draw(t, "rail")
		sum := 0.0
		for _, p := range n.Pieces {
			list := planned(t, p)
			s := list[rapid.IntRange(0, len(list)-1).Draw(t, "state")]
			c := s.Drawn(func(low, high float64) float64 {
				if low > 2 && high < 6 && high-low < 1 { // a rail: one for all
					return low + rail*(high-low)
				}
				return low + rapid.Float64Range(0, 1).Draw(t, "draw")*(high-low)
			})
			sol, err := circuit.Solve(c)
			require.NoError(t, err)
			for k, i := range p.Elements {
				if slices.ContainsFunc(terms, func(x wiring.Term) bool { return x.Element == i }) {
					sum += sol.I[k]
				}
			}
		}
		compared++
		if sum > worst.High*(1+1e-6)+1e-9 {
			t.Fatalf("%g A drawn, %v A found", sum, worst.Range)
		}
	})
	assert.Greater(t, compared, 20)
}

// Alike controls are exchanged, and nothing that is asked is other for it: the
// twelve-button lamp, the lamp matrix and lamps both ways between pins, against
// solving states as they are.
func TestAlikeStatesAreTheSame(t *testing.T) {
	testkit.Slow(t)
	for _, file := range []string{"matrix5x7", "charlie6"} {
		doc := heavy(t, file)
		n := wiring.Build(lib, doc)
		p := n.PieceWith(n.Lamps[0].Element)
		list, err := p.Planned(wiring.Current(n.Lamps[0].Element))
		require.NoError(t, err)
		assert.True(t, p.Exhaustive(), file)
		assert.Less(t, len(list), wiring.MaxStates, file)
		for k := 0; k < len(list); k += 1 + len(list)/40 {
			sol, err := circuit.Solve(p.Circuit(list[k].State, nil))
			require.NoError(t, err)
			for j, i := range p.Elements {
				assert.InDelta(t, sol.I[j], list[k].TypicalAmps(i), 1e-9+1e-6*math.Abs(sol.I[j]), "%s: %s", file, n.Elements[i].Name)
			}
		}
	}
}

// heavy is a build that has many states.
func heavy(t *testing.T, name string) *build.Document {
	data, err := os.ReadFile("testdata/heavy/" + name + ".json")
	require.NoError(t, err)
	doc, err := lib.Parse(data)
	require.NoError(t, err)
	return doc
}

// Thirteen unlike switches over 27 kΩ or so each on one input: only two of them
// together give a doubtful level, which is found among 8192 states.
func TestTheSearchFindsWhatNeedsTwo(t *testing.T) {
	doc := network(t, "classic-5v", plan.Add{Kind: "button", Hookup: "ground-internal-pull-up", Pin: "D2"}).Doc
	pin := build.Net{}
	for i := range 13 {
		s, r := fmt.Sprintf("switch%d", i+1), fmt.Sprintf("resistor%d", i+1)
		doc.Parts = append(doc.Parts, build.Part{ID: s, Kind: "switch", Name: s},
			build.Part{ID: r, Kind: "resistor", Name: r, Values: map[string]float64{"resistance": 27e3 + 100*float64(i)}})
		doc.Nets = append(doc.Nets, build.Net{build.Of(s, "1"), build.Of(r, "1")})
		pin = append(pin, build.Of(r, "2"))
		ground := doc.NetOf("board.GND")
		doc.Nets[ground] = append(doc.Nets[ground], build.Of(s, "2"))
	}
	at := doc.NetOf("board.D2")
	doc.Nets[at] = append(doc.Nets[at], pin...)
	require.NoError(t, lib.Validate(doc))
	n := wiring.Build(lib, doc)
	node := n.Node("board.D2")
	p := n.PieceOf(node)
	list, err := p.Planned(wiring.Voltage(node))
	require.NoError(t, err)
	assert.False(t, p.Exhaustive())
	between := slices.ContainsFunc(list, func(s *wiring.Solved) bool { v := s.Typical(node); return v > 1.5 && v < 3 })
	assert.True(t, between, "%d states", len(list))
}

// A state goes through its address and back.
func TestStatesHaveAddresses(t *testing.T) {
	testkit.Slow(t)
	rapid.Check(t, func(t *rapid.T) {
		n := wiring.Build(lib, randomBuild(t, pick(t, "board", lib.Boards).ID))
		for _, p := range n.Pieces {
			for _, s := range planned(t, p) {
				all, err := n.Resolve(p.Address(s.State))
				require.NoError(t, err)
				assert.Equal(t, s.State, p.Restrict(all), "%v", p.Address(s.State))
			}
		}
	})
	n := network(t, "classic-5v", plan.Add{Kind: "potentiometer"}, plan.Add{Kind: "keypad-4x3"})
	at, err := n.Resolve(wiring.Settings{"potentiometer1": "0.3", "keypad-4x31": "row 1 column 2 + row 4 column 3"})
	require.NoError(t, err)
	v, err := n.Volts(at, "potentiometer1.wiper", "board.GND")
	require.NoError(t, err)
	assert.InDelta(t, 1.5, min(v.Typ, 5-v.Typ), 0.01, "three tenths of 5 V")
	for setting, says := range map[[2]string]string{
		{"nothing", "on"}:                  "cannot be set in this build; what can be set is",
		{"potentiometer1", "1.5"}:          "a number from 0 to 1",
		{"keypad-4x31", "row 9 column 1"}:  "is not a key of keypad-4x31; they are row 1 column 1",
		{"A0", "loud"}:                     "is not a setting of A0; it is let go",
		{"potentiometer1", "at one side!"}: "at one end",
	} {
		_, err := n.Resolve(wiring.Settings{setting[0]: setting[1]})
		assert.ErrorContains(t, err, says)
	}
}
