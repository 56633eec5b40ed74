package spice_test

import (
	"iter"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/plan"
	"cablaggio/core/spice"
	"cablaggio/core/testkit"
	"cablaggio/core/wiring"
)

var lib = build.Shipped()

func network(t require.TestingT, board string, edits ...plan.Edit) *wiring.Network {
	doc, _, err := plan.Apply(lib, build.New("test .end", board), edits)
	require.NoError(t, err)
	return wiring.Build(lib, doc)
}

// each calls do with every combination of settings, the old program's included.
func each(n *wiring.Network, do func(settings []int)) {
	settings := make([]int, len(n.Controls))
	for {
		do(settings)
		i := 0
		for ; i < len(settings); i++ {
			if settings[i]++; settings[i] < len(n.Controls[i].Settings) {
				break
			}
			settings[i] = 0
		}
		if i == len(settings) {
			return
		}
	}
}

// stride is how many settings to go on, so that of a part with thousands of
// settings (ten lamps, a keypad) about so many are looked at.
func stride(n *wiring.Network, many int) int {
	total := 1
	for _, c := range n.Controls {
		total *= len(c.Settings)
	}
	return max(1, total/many) | 1 // odd, so that no control is seen in one setting alone
}

// batch gathers circuits and the nodes of them that a path of resistances
// holds; the others float, and their voltage means nothing.
type batch struct {
	circuits []*circuit.Circuit
	held     []map[circuit.Node]bool
}

func (b *batch) add(c *circuit.Circuit) {
	held := map[circuit.Node]bool{circuit.Ground: true}
	for changed := true; changed; {
		changed = false
		for _, e := range c.Elements {
			conducts := e.Kind == circuit.Resistor || e.Kind == circuit.VoltageSource || e.Kind == circuit.Switch && !e.Open
			if conducts && held[e.A] != held[e.B] {
				held[e.A], held[e.B] = true, true
				changed = true
			}
		}
	}
	b.circuits = append(b.circuits, c)
	b.held = append(b.held, held)
}

func (b *batch) compare(t *testing.T) {
	t.Helper()
	require.NotEmpty(t, b.circuits)
	testkit.AgainstSpice(t, b.circuits, func(k int, n circuit.Node) bool { return !b.held[k][n] })
}

// Every hookup of every kind and type on every board, whole, at the typical
// values: in every state, or where there are more than twenty, in a spread of them.
func TestEveryHookupAgainstSpice(t *testing.T) {
	for _, board := range lib.Boards {
		t.Run(board.ID, func(t *testing.T) {
			var b batch
			for n := range hookups(t, board.ID) {
				by, k := stride(n, 20), 0
				each(n, func(settings []int) {
					if k%by == 0 {
						b.add(n.Circuit(settings, wiring.AtTypical))
					}
					k++
				})
			}
			b.compare(t)
		})
	}
}

// Every piece of every hookup of every kind and type on every board, in every
// state that an analysis looks at, those that an old program could bring about
// included, at the typical values and at every corner; of pieces with hundreds of
// states, at the corners of every eleventh. Pieces with the same key are the same.
func TestEveryStateOfEveryPieceAgainstSpice(t *testing.T) {
	var b batch
	seen := map[string]bool{}
	for _, board := range lib.Boards {
		for n := range hookups(t, board.ID) {
			for _, p := range n.Pieces {
				if key := p.Key(); !seen[key] {
					seen[key] = true
					b.addPiece(t, p, p.States())
					b.addPiece(t, p, p.PreviousStates())
				}
			}
		}
	}
	b.compare(t)
}

func (b *batch) addPiece(t *testing.T, p *wiring.Piece, states iter.Seq[wiring.State]) {
	total, k := 0, 0
	for range states {
		total++
	}
	for s := range states {
		corners, err := p.Corners(s)
		require.NoError(t, err)
		if k++; total > 64 && k%11 != 0 {
			corners = corners[:1] // the typical one
		}
		for _, corner := range corners {
			c, err := p.Circuit(s, corner)
			require.NoError(t, err)
			b.add(c)
		}
	}
}

// hookups yields the network of every hookup of every kind and type on a board.
func hookups(t *testing.T, board string) iter.Seq[*wiring.Network] {
	return func(yield func(*wiring.Network) bool) {
		for _, kind := range lib.Catalogue.Kinds {
			for _, h := range kind.Hookups {
				types := []string{""}
				if len(kind.Types) > 0 {
					types = nil
				}
				for _, typ := range kind.Types {
					types = append(types, typ.ID)
				}
				for _, typ := range types {
					if !yield(network(t, board, testkit.Wired(&kind, h, typ)...)) {
						return
					}
				}
			}
		}
	}
}

// 300 random builds, each in one random state.
func TestRandomBuildsAgainstSpice(t *testing.T) {
	var b batch
	gen := rapid.Custom(func(t *rapid.T) *batch {
		one := &batch{}
		board := rapid.SampledFrom(lib.Boards).Draw(t, "board")
		doc := build.New("random", board.ID)
		for range rapid.IntRange(2, 10).Draw(t, "steps") {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = after
			}
		}
		n := wiring.Build(lib, doc)
		settings := make([]int, len(n.Controls))
		for i := range settings {
			settings[i] = rapid.IntRange(0, len(n.Controls[i].Settings)-1).Draw(t, "setting")
		}
		one.add(n.Circuit(settings, rapid.SampledFrom([]wiring.Corner{wiring.AtLow, wiring.AtTypical, wiring.AtHigh}).Draw(t, "corner")))
		return one
	})
	for i := range 300 {
		one := gen.Example(i)
		b.circuits = append(b.circuits, one.circuits...)
		b.held = append(b.held, one.held...)
	}
	b.compare(t)
}

// The deck as it is written runs in ngspice as it is.
func TestTheDeckRuns(t *testing.T) {
	n := network(t, "classic-5v", plan.Edit{Op: plan.Add, Kind: "led", Name: "lamp\" ; .end"}, plan.Edit{Op: plan.Add, Kind: "button"})
	var deck strings.Builder
	require.NoError(t, spice.Write(&deck, n, make([]int, len(n.Controls)), wiring.AtTypical))
	file := filepath.Join(t.TempDir(), "deck.cir")
	require.NoError(t, os.WriteFile(file, []byte(deck.String()), 0o600))
	out, err := exec.Command("ngspice", "-b", file).CombinedOutput()
	require.NoError(t, err, "%s\n%s", out, deck.String())
	assert.NotContains(t, strings.ToLower(string(out)), "error")
	assert.Contains(t, string(out), "n1")
}
