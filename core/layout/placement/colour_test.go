package placement

import (
	"slices"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
)

// In all ready builds ground is black and nothing else is, a supply red or orange and nothing else
// red (common practice); a net has one colour, and wires of two nets that end in neighbouring holes or places
// have two.
func TestColoursTellWiresApart(t *testing.T) {
	colours := map[string]int{}
	for name, l := range laidOnce(t) {
		s := l.found
		s.paint()
		of := map[int]string{}
		for _, w := range s.wires {
			colours[w.Colour]++
			if c, ok := of[w.net]; ok {
				assert.Equal(t, c, w.Colour, "%s: one net", name)
			}
			of[w.net] = w.Colour
		}
		for net, colour := range of {
			ground := slices.Contains(s.nets.members[net], build.Pin(s.board.Ground))
			fed := slices.ContainsFunc(s.board.Rails, func(r board.Rail) bool {
				return slices.Contains(s.nets.members[net], build.Pin(r.Name))
			})
			assert.Equal(t, ground, colour == "black", "%s: %v is %s", name, s.nets.members[net], colour)
			if fed {
				assert.Contains(t, []string{"red", "orange"}, colour, name)
			} else {
				assert.NotEqual(t, "red", colour, "%s: %v", name, s.nets.members[net])
			}
		}
		for i, a := range s.wires {
			for _, b := range s.wires[:i] {
				near := false
				for _, p := range []float64{a.line.from.To(b.line.from), a.line.from.To(b.line.to), a.line.to.To(b.line.from), a.line.to.To(b.line.to)} {
					near = near || p < 1.01
				}
				if near && a.net != b.net {
					assert.NotEqual(t, a.Colour, b.Colour, "%s: %s to %s, and %s to %s", name, a.From, a.To, b.From, b.To)
				}
			}
		}
	}
	assert.Greater(t, len(colours), 7, "a builder's box has some")
}

// Of the wires at hand the best is taken; with none but those of ground and supply, these.
func TestColoursAtHand(t *testing.T) {
	lib := build.Shipped()
	for _, c := range []struct{ has, others []string }{
		{[]string{"black", "red", "green"}, []string{"black", "red", "green"}},
		{[]string{"green", "white"}, []string{"green", "white"}},
		{[]string{"red"}, []string{"red"}},
	} {
		doc := ready.Builds(t, lib)["demo tram-stop"].Clone()
		doc.Assembly = &build.Assembly{Stock: &build.WireStock{Colours: c.has}}
		p, err := Place(lib, doc)
		require.NoError(t, err)
		for _, w := range p.Wires {
			assert.Contains(t, c.others, w.Colour)
		}
	}
}
