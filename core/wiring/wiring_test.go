package wiring_test

import (
	"math/rand/v2"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/plan"
	"cablaggio/core/spec"
	"cablaggio/core/testkit"
	"cablaggio/core/wiring"
)

var lib = build.Shipped()

func network(t require.TestingT, board string, edits ...plan.Edit) *wiring.Network {
	doc, _, err := plan.Apply(lib, build.New("test", board), edits)
	if r, ok := t.(*rapid.T); ok && err != nil {
		r.Skip(err) // a random build that has no room on its board
	}
	require.NoError(t, err)
	return wiring.Build(lib, doc)
}

// randomEdits draws parts with any hookup, type, resistor and a few wires
// across, on a random board.
func randomEdits(t *rapid.T, kinds ...string) (string, []plan.Edit) {
	board := rapid.SampledFrom([]string{"classic-5v", "slim-3v3"}).Draw(t, "board")
	var edits []plan.Edit
	for range rapid.IntRange(1, 3).Draw(t, "parts") {
		kind, _ := lib.Catalogue.Kind(rapid.SampledFrom(kinds).Draw(t, "kind"))
		typ := ""
		if len(kind.Types) > 0 {
			typ = kind.Types[rapid.IntRange(0, len(kind.Types)-1).Draw(t, "type")].ID
		}
		edits = append(edits, testkit.Wired(kind, kind.Hookups[rapid.IntRange(0, len(kind.Hookups)-1).Draw(t, "hookup")], typ)...)
	}
	return board, edits
}

// The corners that Solve takes bound what any draw of the tolerances gives.
func TestCornersBoundRandomDraws(t *testing.T) {
	draws := 0
	rapid.Check(t, func(t *rapid.T) {
		rng := rand.New(rand.NewPCG(5, rapid.Uint64().Draw(t, "seed")))
		board, edits := randomEdits(t, "led", "led", "button", "led-rgb-cathode", "phototransistor", "temperature-sensor", "motor", "shift-register-latched")
		n := network(t, board, edits...)
		for _, p := range n.Pieces {
			for s := range p.States() {
				bounds, err := p.Solve(s)
				require.NoError(t, err)
				for range 3 {
					draws++
					drawn := network(t, board, edits...)
					for i := range drawn.Params {
						v := drawn.Params[i].Value
						drawn.Params[i].Value = spec.Exactly(v.Low+rng.Float64()*(v.High-v.Low), v.Source)
					}
					q := drawn.PieceWith(p.Elements[0])
					got, err := q.Solve(s)
					require.NoError(t, err)
					for _, i := range p.Elements {
						if n.Elements[i].Role == wiring.Inner {
							continue // inside a part, where nobody looks; in saturation not monotonic
						}
						b, x := bounds.Amps(i), got.Amps(i).Typ
						slack := 1e-6*b.Peak() + 1e-11
						if x < b.Low-slack || x > b.High+slack {
							t.Fatalf("%s: %g A is outside of %g to %g A (%s)", n.Elements[i].Name, x, b.Low, b.High, p.Describe(s))
						}
					}
				}
			}
		}
	})
	assert.Greater(t, draws, 1000)
}

// Adding a part that shares nothing but the rails changes no piece.
func TestAnUnrelatedPartChangesNothing(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		board, edits := randomEdits(t, "led", "led", "button")
		before := network(t, board, edits...)
		after := network(t, board, append(edits, plan.Edit{Op: plan.Add, Kind: "led", Type: "green"})...)
		require.Len(t, after.Pieces, len(before.Pieces)+1)
		for _, p := range before.Pieces {
			name := before.Elements[p.Elements[0]].Name
			for _, q := range after.Pieces {
				if after.Elements[q.Elements[0]].Name != name {
					continue
				}
				for s := range p.States() {
					a, err := p.Solve(s)
					require.NoError(t, err)
					b, err := q.Solve(s)
					require.NoError(t, err)
					for k := range p.Elements {
						assert.Equal(t, a.Amps(p.Elements[k]), b.Amps(q.Elements[k]), "%s: %s", p.Describe(s), before.Elements[p.Elements[k]].Name)
					}
				}
			}
		}
	})
}

func TestStates(t *testing.T) {
	led := plan.Edit{Op: plan.Add, Kind: "led"}
	button := plan.Edit{Op: plan.Add, Kind: "button"}
	n := network(t, "classic-5v", led, button)
	require.Len(t, n.Pieces, 2, "lamp and button do not influence each other")
	var words []string
	for _, p := range n.Pieces {
		assert.True(t, p.Exhaustive())
		for s := range p.States() {
			words = append(words, p.Describe(s))
		}
	}
	assert.Equal(t, []string{"D4 (red LED 1) is low", "D4 (red LED 1) is high", "Button 1 is up", "Button 1 is pressed"}, words)

	// 13 lamps between outputs and one common node: 8192 states, so the extremes.
	var many []plan.Edit
	for i := range 13 {
		many = append(many, plan.Edit{Op: plan.Add, Kind: "led", Hookup: "no-resistor"})
		if i > 0 {
			many = append(many, plan.Edit{Op: plan.Free, Terminal: build.Of("led"+strconv.Itoa(i+1), "cathode")})
			many = append(many, plan.Edit{Op: plan.Join, Terminal: build.Of("led"+strconv.Itoa(i+1), "cathode"), To: "resistor1.1"})
			continue
		}
		many = append(many, plan.Edit{Op: plan.Add, Kind: "resistor"}, plan.Edit{Op: plan.Free, Terminal: "led1.cathode"},
			plan.Edit{Op: plan.Join, Terminal: "led1.cathode", To: "resistor1.1"}, plan.Edit{Op: plan.Join, Terminal: "resistor1.2", To: "board.GND"})
	}
	n = network(t, "classic-5v", many...)
	require.Len(t, n.Pieces, 1)
	count := 0
	for range n.Pieces[0].States() {
		count++
	}
	assert.False(t, n.Pieces[0].Exhaustive())
	assert.Equal(t, 2*(13+1), count, "all low and all high, and each output alone turned from there")
}

func TestHeld(t *testing.T) {
	n := network(t, "classic-5v", plan.Edit{Op: plan.Add, Kind: "button", Hookup: "no-pull", Pin: "D2"})
	node := n.Node(build.Pin("D2"))
	p := n.PieceOf(node)
	up, err := p.Solve(wiring.State{wiring.AsPlanned, wiring.Open})
	require.NoError(t, err)
	down, err := p.Solve(wiring.State{wiring.AsPlanned, wiring.Closed})
	require.NoError(t, err)
	assert.False(t, up.Held(node))
	assert.True(t, down.Held(node))
	assert.True(t, up.Held(circuit.Ground))
	assert.InDelta(t, 0, down.Volts(node).Typ, 1e-3)
}

// The drops along the way of a current sum to the voltage between the rails.
func TestPathSumsToTheRails(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		board, edits := randomEdits(t, "led", "led", "button")
		n := network(t, board, edits...)
		logic := n.Board.Logic.Rail
		rail, _ := n.Board.Rail(logic)
		for i, e := range n.Elements {
			p := n.PieceWith(i)
			if e.Role != wiring.Body || p == nil {
				continue
			}
			for s := range p.States() {
				solved, err := p.Solve(s)
				require.NoError(t, err)
				drops, from, to := solved.Path(i)
				if len(drops) == 0 || from == to {
					continue
				}
				sum := 0.0
				for _, d := range drops {
					sum += d.Volts
				}
				assert.InDelta(t, rail.Volts.Typ, sum, 1e-6, "%s: %v", p.Describe(s), drops)
			}
		}
	})
}
