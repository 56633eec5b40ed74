package wiring_test

import (
	"math/rand/v2"
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

var lib = build.Shipped()

func network(t require.TestingT, board string, edits ...plan.Edit) *wiring.Network {
	doc, _, err := plan.Apply(lib, build.New("test", board), edits)
	if r, ok := t.(*rapid.T); ok && err != nil {
		r.Skip(err) // a random build that has no room on its board
	}
	require.NoError(t, err)
	return wiring.Build(lib, doc)
}

// planned is a piece in its planned states.
func planned(t require.TestingT, p *wiring.Piece) []*wiring.Solved {
	list, err := p.Planned(wiring.Subject{})
	require.NoError(t, err)
	return list
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
	testkit.Slow(t)
	draws := 0
	rapid.Check(t, func(t *rapid.T) {
		rng := rand.New(rand.NewPCG(5, rapid.Uint64().Draw(t, "seed")))
		board, edits := randomEdits(t, "led", "led", "button", "led-rgb-cathode", "phototransistor", "temperature-sensor", "motor", "shift-register-latched")
		n := network(t, board, edits...)
		for _, p := range n.Pieces {
			for _, bounds := range planned(t, p) {
				for range 8 {
					draws++
					c := bounds.Drawn(func(low, high float64) float64 { return low + rng.Float64()*(high-low) })
					got, err := circuit.Solve(c)
					require.NoError(t, err)
					for k, i := range p.Elements {
						if n.Elements[i].Role == wiring.Inner {
							continue // inside a part, where nobody looks; in saturation not monotonic
						}
						b, x := bounds.Amps(i), got.I[k]
						slack := 1e-6*b.Peak() + 1e-11
						if x < b.Low-slack || x > b.High+slack {
							t.Fatalf("%s: %g A is outside of %g to %g A (%s)", n.Elements[i].Name, x, b.Low, b.High, bounds.Words())
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
	testkit.Slow(t)
	rapid.Check(t, func(t *rapid.T) {
		board, edits := randomEdits(t, "led", "led", "button")
		before := network(t, board, edits...)
		after := network(t, board, append(edits, plan.Add{Kind: "led", Type: "green"})...)
		require.Len(t, after.Pieces, len(before.Pieces)+1)
		for _, p := range before.Pieces {
			name := before.Elements[p.Elements[0]].Name
			for _, q := range after.Pieces {
				if after.Elements[q.Elements[0]].Name != name {
					continue
				}
				for _, a := range planned(t, p) {
					b, err := q.At(a.State)
					require.NoError(t, err)
					for k := range p.Elements {
						assert.Equal(t, a.Amps(p.Elements[k]), b.Amps(q.Elements[k]), "%s: %s", a.Words(), before.Elements[p.Elements[k]].Name)
					}
				}
			}
		}
	})
}

func TestStates(t *testing.T) {
	led := plan.Add{Kind: "led"}
	button := plan.Add{Kind: "button"}
	n := network(t, "classic-5v", led, button)
	require.Len(t, n.Pieces, 2, "lamp and button do not influence each other")
	var words []string
	for _, p := range n.Pieces {
		for _, s := range planned(t, p) {
			words = append(words, s.Words())
		}
		assert.True(t, p.Exhaustive())
	}
	assert.Equal(t, []string{"D4 (red LED 1) is low", "D4 (red LED 1) is high", "Button 1 is up", "Button 1 is pressed"}, words)
}

func TestHeld(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "button", Hookup: "no-pull", Pin: "D2"})
	node := n.Node(build.Pin("D2"))
	p := n.PieceOf(node)
	up, err := p.At(wiring.State{wiring.LetGo, wiring.Open})
	require.NoError(t, err)
	down, err := p.At(wiring.State{wiring.LetGo, wiring.Closed})
	require.NoError(t, err)
	assert.False(t, up.Held(node))
	assert.True(t, down.Held(node))
	assert.True(t, up.Held(circuit.Ground))
	assert.InDelta(t, 0, down.Volts(node).Typ, 1e-3)
}

// The drops along the way of a current sum to the voltage between the rails.
func TestPathSumsToTheRails(t *testing.T) {
	testkit.Slow(t)
	rapid.Check(t, func(t *rapid.T) {
		board, edits := randomEdits(t, "led", "led", "button")
		n := network(t, board, edits...)
		for i, e := range n.Elements {
			p := n.PieceWith(i)
			if e.Role != wiring.Body || p == nil {
				continue
			}
			for _, solved := range planned(t, p) {
				drops, from, to := solved.Path(i)
				if len(drops) == 0 || from == to {
					continue
				}
				sum := 0.0
				for _, d := range drops {
					sum += d.Volts
				}
				between := n.FedVolts(from).Typ - n.FedVolts(to).Typ
				assert.InDelta(t, between, sum, 1e-6, "%s: %v", solved.Words(), drops)
			}
		}
	})
}

// A part that takes turns is lit with any of its lamps in its turn, and all others are off: the
// schema says parts, and parts they are.
func TestTurnsAreThoseOfParts(t *testing.T) {
	for kind, outputs := range map[string]int{"led-rgb-cathode": 3, "led-bar": 10} {
		doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: kind}, plan.Add{Kind: "led"}})
		require.NoError(t, err)
		part, lamp := doc.Parts[0].ID, "led1"
		doc.Exclusive = [][]string{{part, lamp}}
		n := wiring.Build(lib, doc)
		carried := func(of string) (most float64) {
			var terms []wiring.Term
			for _, l := range n.Lamps {
				if of == "" || l.Part.ID == of {
					terms = append(terms, wiring.Term{Element: l.Element, By: 1})
				}
			}
			total, err := n.Worst(terms)
			require.NoError(t, err)
			return total.High
		}
		all, both, alone := carried(part), carried(""), carried(lamp)
		assert.Greater(t, all, 2*alone, "%s is lit with all that it has", kind)
		assert.InDelta(t, max(all, alone), both, 1e-6, "and never together with the other")
		free := doc.Clone()
		free.Exclusive = nil
		n = wiring.Build(lib, free)
		assert.InDelta(t, all, carried(part), 1e-6, "its turn takes nothing away from it")
		lit := 0
		for _, l := range n.Lamps {
			if l.Part.ID == part {
				lit++
			}
		}
		assert.Equal(t, outputs, lit)
	}
}
