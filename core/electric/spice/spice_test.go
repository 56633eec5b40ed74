package spice_test

import (
	"iter"
	"os"
	"os/exec"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/spice"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
)

var lib = build.Shipped()

func network(t require.TestingT, board string, edits ...plan.Edit) *wiring.Network {
	doc, _, err := plan.Apply(lib, build.New("test .end", board), edits)
	require.NoError(t, err)
	return wiring.Build(lib, doc)
}

// settingsOf lists the settings of a control that are looked at: every mode of a
// pin, whatever the plan says, and what is planned of all others.
func settingsOf(c *wiring.Control) (out []float64) {
	if c.Kind != wiring.Mode {
		return c.Planned
	}
	for mode, name := range c.Settings {
		if name != "" {
			out = append(out, float64(mode))
		}
	}
	return out
}

// spread calls do with combinations of settings: with all, or with about so many
// of them.
func spread(n *wiring.Network, many int, do func(settings []float64)) {
	lists, total := make([][]float64, len(n.Controls)), 1
	for i := range n.Controls {
		lists[i] = settingsOf(&n.Controls[i])
		total *= len(lists[i])
	}
	settings := make([]float64, len(n.Controls))
	for k := 0; k < total; k += max(1, total/many) | 1 { // odd, so that no control is seen in one setting alone
		rest := k
		for i, list := range lists {
			settings[i] = list[rest%len(list)]
			rest /= len(list)
		}
		do(settings)
	}
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
			conducts := e.Kind == circuit.Resistor || e.Kind == circuit.Inductor || e.Kind == circuit.VoltageSource || e.Kind == circuit.Switch && !e.Open
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

// boards are those that are looked at: one of each class, or all.
func boards() []*board.Profile {
	if testkit.Wide() {
		return lib.Boards
	}
	return slices.DeleteFunc(slices.Clone(lib.Boards), func(b *board.Profile) bool { return b.ID != "classic-5v" && b.ID != "wireless-3v3" })
}

// Every hookup of every kind and type, whole, at the typical values: in a spread
// of its states, those that no plan asks for included.
func TestEveryHookupAgainstSpice(t *testing.T) {
	for _, board := range boards() {
		t.Run(board.ID, func(t *testing.T) {
			var b batch
			for n := range hookups(t, wiring.NewCache(), board.ID) {
				spread(n, testkit.Few(3, 20), func(settings []float64) {
					c, _, _ := n.Circuit(settings, wiring.AtTypical)
					b.add(c)
				})
			}
			b.compare(t)
		})
	}
}

// Every piece of every hookup of every kind and type, in the states that an
// analysis looks at, those that an old program could bring about included, at the
// typical values and at every corner that its currents and voltages are worst in.
// Pieces with the same key are the same; of pieces with many states a few are
// looked at, spread over all.
func TestEveryPieceAgainstSpice(t *testing.T) {
	seen := map[string]bool{}
	known := wiring.NewCache()
	many := testkit.Few(2, 16)
	for _, board := range boards() {
		var b batch
		for n := range hookups(t, known, board.ID) {
			for _, p := range n.Pieces {
				if key := p.Key(); seen[key] {
					continue
				}
				seen[p.Key()] = true
				planned, err := p.Planned(wiring.Subject{})
				require.NoError(t, err)
				previous, err := p.Previous()
				require.NoError(t, err)
				for _, list := range [][]*wiring.Solved{planned, previous} {
					for k := 0; k < len(list); k += max(1, len(list)/many) | 1 {
						s := list[k]
						for _, i := range p.Elements {
							s.Amps(i)
							a, _ := n.Ends(i)
							s.Volts(a)
						}
						corners := s.Corners()
						for j := 0; j < len(corners); j += max(1, len(corners)/many) | 1 {
							b.add(p.Circuit(s.State, corners[j]))
						}
					}
				}
			}
		}
		if len(b.circuits) > 0 { // a board may have none that another has not
			b.compare(t)
		}
	}
	require.NotEmpty(t, seen)
}

// hookups yields the network of every hookup of every kind and type on a board.
func hookups(t *testing.T, known *wiring.Cache, board string) iter.Seq[*wiring.Network] {
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
					if !yield(known.Build(lib, network(t, board, testkit.Wired(&kind, h, typ)...).Doc)) {
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
		settings := make([]float64, len(n.Controls))
		for i := range settings {
			settings[i] = rapid.SampledFrom(settingsOf(&n.Controls[i])).Draw(t, "setting")
		}
		c, _, _ := n.Circuit(settings, rapid.SampledFrom([]wiring.Corner{wiring.AtLow, wiring.AtTypical, wiring.AtHigh}).Draw(t, "corner"))
		one.add(c)
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
	n := network(t, "classic-5v", plan.Add{Kind: "led", Name: "lamp\" ; .end"}, plan.Add{Kind: "button"})
	var deck strings.Builder
	require.NoError(t, spice.Write(&deck, n, make([]float64, len(n.Controls)), wiring.AtTypical))
	file := filepath.Join(t.TempDir(), "deck.cir")
	require.NoError(t, os.WriteFile(file, []byte(deck.String()), 0o600))
	out, err := exec.Command("ngspice", "-b", file).CombinedOutput()
	require.NoError(t, err, "%s\n%s", out, deck.String())
	assert.NotContains(t, strings.ToLower(string(out)), "error")
	assert.Contains(t, string(out), "n1")
}
