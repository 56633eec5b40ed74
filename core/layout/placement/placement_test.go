package placement_test

import (
	"fmt"
	"os"
	"slices"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
)

var lib = build.Shipped()

// laid is what the tests have laid out already.
var laid = placement.NewMemory()

// partition writes which terminals are joined, one line a net, with what parts
// join inside. It is made without the package's own union, as a judge of it.
func partition(doc *build.Document, nets []build.Net) []string {
	label := map[build.Terminal]string{}
	for _, p := range doc.Parts {
		kind, _ := lib.Catalogue.Kind(p.Kind)
		for _, t := range kind.Terminals {
			label[build.Of(p.ID, t.ID)] = p.ID + "." + t.ID
		}
		for _, l := range kind.Links {
			nets = append(nets, build.Net{build.Of(p.ID, l[0]), build.Of(p.ID, l[1])})
		}
	}
	board, _ := lib.Board(doc.Board)
	for _, h := range board.Headers {
		for _, name := range h.Places {
			label[build.Pin(name)] = "board." + name
		}
	}
	for changed := true; changed; {
		changed = false
		for _, net := range nets {
			least := label[net[0]]
			for _, t := range net {
				least = min(least, label[t])
			}
			for _, t := range net {
				if label[t] != least {
					label[t], changed = least, true
				}
			}
		}
	}
	groups := map[string][]string{}
	for t, l := range label {
		groups[l] = append(groups[l], string(t))
	}
	var out []string
	for _, g := range groups {
		slices.Sort(g)
		out = append(out, fmt.Sprint(g))
	}
	slices.Sort(out)
	return out
}

// The rows of every breadboard fit into the words that sets of holes are made of.
func TestRowsFitAWord(t *testing.T) {
	for _, s := range breadboard.Sizes() {
		assert.Less(t, s.Rows, 64, s.ID)
	}
}

// sound holds a placement to what must be true of every one.
func sound(t require.TestingT, doc *build.Document) *placement.Placement {
	p, err := laid.Place(lib, doc)
	require.NoError(t, err)
	table := p.Table(lib, doc)
	seen := map[string]bool{}
	fill := func(e breadboard.End, what string) {
		require.NoError(t, table.CheckEnd(e), what)
		require.False(t, seen[e.String()], "%s: two in %s", what, e)
		require.False(t, !e.OnBoard() && table.Covers(e.Hole), "%s: %s is under the board", what, e)
		seen[e.String()] = true
	}
	for _, s := range p.Seats {
		kind, _ := lib.Catalogue.Kind(doc.Part(s.Part).Kind)
		require.Len(t, s.Legs, len(kind.Terminals), s.Part)
		for _, l := range s.Legs {
			fill(breadboard.InHole(l.Hole), s.Part)
		}
	}
	for _, w := range p.Wires {
		fill(w.From, "wire")
		fill(w.To, "wire")
	}
	require.Equal(t, partition(doc, doc.Nets), partition(doc, placement.Trace(table, p.Built())))
	return p
}

func TestEveryBuildIsLaidOut(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		t.Run(name, func(t *testing.T) {
			p := sound(t, doc)
			t.Log(p.Breadboards, len(p.Seats), "parts", len(p.Wires), "wires")
		})
	}
}

func TestRandomBuildsTraceToTheirPlan(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		doc := build.New("t", rapid.SampledFrom([]string{"classic-5v", "compact-5v", "slim-3v3", "wireless-3v3", "large-5v"}).Draw(t, "board"))
		for range rapid.IntRange(1, 12).Draw(t, "edits") {
			next, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)})
			if err == nil {
				doc = next
			}
		}
		p := sound(t, doc)
		if len(p.Wires) > 0 { // each is needed
			i := rapid.IntRange(0, len(p.Wires)-1).Draw(t, "wire")
			x := p.Built()
			x.Wires = slices.Delete(x.Wires, i, i+1)
			require.NotEqual(t, partition(doc, doc.Nets), partition(doc, placement.Trace(p.Table(lib, doc), x)), "the wire from %s to %s", p.Wires[i].From, p.Wires[i].To)
		}
	})
}

// A loose leg does not go where a body lies over the hole: eight parts fit a half
// breadboard.
func TestLooseLegsHeedBodies(t *testing.T) {
	data, err := os.ReadFile("testdata/shared-row.json")
	require.NoError(t, err)
	doc, err := lib.Parse(data)
	require.NoError(t, err)
	assert.Equal(t, []string{"half"}, sound(t, doc).Breadboards)
}
