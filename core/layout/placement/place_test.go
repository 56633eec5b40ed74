package placement_test

import (
	"fmt"
	"maps"
	"math"
	"runtime"
	"slices"
	"testing"

	"cablaggio/core/testkit"
	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
)

func planned(t *testing.T, board string, edits ...plan.Edit) *build.Document {
	t.Helper()
	doc, _, err := plan.Apply(lib, build.New("t", board), edits)
	require.NoError(t, err)
	return doc
}

// Every kind of part has a package that holds its legs, each once.
func TestEveryKindHasAPackage(t *testing.T) {
	for _, k := range lib.Catalogue.Kinds {
		p, ok := placement.PackageOf(k.Body.Package)
		if !assert.True(t, ok, "%s: there is no package %q", k.ID, k.Body.Package) {
			continue
		}
		legs := slices.Clone(k.LegOrder())
		slices.Sort(legs)
		var terminals []string
		for _, x := range k.Terminals {
			terminals = append(terminals, x.ID)
		}
		slices.Sort(terminals)
		assert.Equal(t, terminals, legs, k.ID)
		switch {
		case p.Loose:
		case p.Span[1] > 0:
			assert.Len(t, legs, 2, k.ID)
		default:
			assert.Len(t, legs, len(p.Left)+len(p.Right), k.ID)
		}
		assert.NotEmpty(t, p.Source)
		if k.Body.Alike {
			assert.True(t, len(legs) == 2 || len(k.Links) == 2, "%s: which legs change places?", k.ID)
		}
	}
}

// Pins of 74HC registers as JEDEC and the data sheets of the class number them
// (from memory): supply in one corner, ground in the other, across.
func TestRegistersHaveTheirPins(t *testing.T) {
	for id, pins := range map[string]map[int]string{
		"shift-register-latched": {1: "qb", 7: "qh", 8: "gnd", 9: "serial", 10: "clear", 11: "clock", 12: "latch", 13: "enable", 14: "data", 15: "qa", 16: "vcc"},
		"shift-register":         {1: "data", 2: "data2", 3: "qa", 7: "gnd", 8: "clock", 9: "clear", 10: "qe", 14: "vcc"},
	} {
		k, ok := lib.Catalogue.Kind(id)
		require.True(t, ok)
		for n, leg := range pins {
			assert.Equal(t, leg, k.LegOrder()[n-1], "%s, pin %d", id, n)
		}
	}
}

// Legs are as far apart as the package says, chips and buttons straddle the
// channel, and bodies do not lie over the legs of others.
func TestLegsFitTheirPackages(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		p := sound(t, doc)
		type over struct {
			part string
			hole breadboard.Hole
		}
		legs := map[breadboard.Hole]string{}
		var bodies []over
		for _, s := range p.Seats {
			kind, _ := lib.Catalogue.Kind(doc.Part(s.Part).Kind)
			pack, _ := placement.PackageOf(kind.Body.Package)
			for _, l := range s.Legs {
				legs[l.Hole] = s.Part
			}
			switch first, last := s.Legs[0].Hole, s.Legs[len(s.Legs)-1].Hole; {
			case pack.Loose:
			case pack.Span[1] > 0:
				d := first.At().To(last.At())
				assert.True(t, d >= pack.Span[0] && d <= pack.Span[1], "%s: %s spans %.1f", name, s.Part, d)
			case len(pack.Right) > 0:
				for i, l := range s.Legs {
					assert.Equal(t, i >= len(pack.Left), l.Hole.Column.Right(), "%s: %s", name, s.Part)
				}
				if pack.Columns == [2]string{} {
					assert.Equal(t, breadboard.E, first.Column)
				} else {
					assert.Equal(t, pack.Columns, [2]string{first.Column.String(), last.Column.String()})
				}
			default:
				rows := math.Abs(float64(first.Row - last.Row))
				assert.InDelta(t, float64(pack.Left[len(pack.Left)-1]), rows, 0, "%s: %s", name, s.Part)
				for by := -pack.Wide; by <= pack.Wide; by++ {
					c := int(first.Column) + by
					if c < 0 || c > 9 || breadboard.Column(c).Right() != first.Column.Right() {
						continue
					}
					for row := min(first.Row, last.Row); row <= max(first.Row, last.Row); row++ {
						bodies = append(bodies, over{s.Part, breadboard.Hole{Board: first.Board, Column: breadboard.Column(c), Row: row}})
					}
				}
			}
		}
		for _, b := range bodies {
			if who, ok := legs[b.hole]; ok {
				assert.Equal(t, b.part, who, "%s: %s lies over a leg of %s in %s", name, b.part, who, b.hole)
			}
		}
	}
}

// What the builder fixes stays, and the rest finds its way around it.
func TestFixedLegsAreKept(t *testing.T) {
	doc := planned(t, "classic-5v",
		plan.Add{Kind: "led", Name: "lamp"}, plan.Add{Kind: "led"}, plan.Add{Kind: "button"},
		plan.Breadboards{Text: "half"},
		plan.Fix{Terminal: "led1.anode", Text: "c20"},
		plan.Fix{Terminal: "button1.1a", Text: "e10"},
		plan.Fix{Terminal: "led2-resistor.1", Text: "j28"},
	)
	p := sound(t, doc)
	for leg, want := range map[build.Terminal]string{"led1.anode": "c20", "button1.1a": "e10", "led2-resistor.1": "j28"} {
		id, name := leg.Split()
		h, _ := p.Seat(id).Hole(name)
		assert.Equal(t, want, h.String(), leg)
	}
	for text, words := range map[string]string{
		"e11": "e11 is taken", "d12": "the row of d12 belongs to lamp", "e31": "rows 1 to 30",
	} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Fix{Terminal: "led2.anode", Text: text}})
		assert.ErrorContains(t, err, words, text)
	}
}

// Without rails, with rails that break, with two breadboards, with the board
// beside: the same nets.
func TestOtherTables(t *testing.T) {
	lamps := func(n int) (out []plan.Edit) {
		for range n {
			out = append(out, plan.Add{Kind: "led"})
		}
		return out
	}
	for _, c := range []struct{ board, text, with string }{
		{"classic-5v", "mini", ""}, {"classic-5v", "full-broken", ""}, {"classic-5v", "half half", ""}, {"classic-5v", "mini half", ""},
		{"compact-5v", "half", ""}, {"compact-5v", "half", plan.Beside}, {"slim-3v3", "full", ""}, {"slim-3v3", "mini", plan.Beside}, {"wireless-3v3", "full-broken", ""},
	} {
		doc := planned(t, c.board, append(lamps(3), plan.Breadboards{Text: c.text, With: c.with})...)
		p := sound(t, doc)
		assert.Equal(t, c.with != plan.Beside && c.board != "classic-5v", p.Plugged, fmt.Sprint(c))
	}
	// A second breadboard is used when the first is full, and its rails are linked.
	doc := planned(t, "large-5v", append(lamps(24), plan.Breadboards{Text: "half half"})...)
	p := sound(t, doc)
	boards := map[int]bool{}
	for _, s := range p.Seats {
		boards[s.Legs[0].Hole.Board] = true
	}
	assert.Len(t, boards, 2)
}

// Only the wires that the builder has are taken; one that is too long is said.
func TestWiresAtHand(t *testing.T) {
	doc := planned(t, "classic-5v", plan.Add{Kind: "led", Type: "blue"}, plan.Add{Kind: "button"}, plan.Add{Kind: "potentiometer"})
	free := sound(t, doc)
	colours := func(p *placement.Placement) (out []string) {
		for _, w := range p.Wires {
			if !slices.Contains(out, w.Colour) {
				out = append(out, w.Colour)
			}
		}
		return out
	}
	assert.Subset(t, colours(free), []string{"black", "red", "blue"}, "ground, supply, and a blue lamp's")
	doc, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Stock{Text: "Red, black green", With: "40mm 60; 200"}})
	require.NoError(t, err)
	p := sound(t, doc)
	assert.Subset(t, []string{"black", "red", "green"}, colours(p))
	for i, w := range p.Wires {
		assert.Contains(t, []int{40, 60, 200}, w.Millimetres)
		assert.GreaterOrEqual(t, w.Millimetres, free.Wires[i].Millimetres)
		assert.False(t, w.TooLong)
	}
	doc, _, err = plan.Apply(lib, doc, []plan.Edit{plan.Stock{With: "30"}})
	require.NoError(t, err)
	assert.True(t, slices.ContainsFunc(sound(t, doc).Wires, func(w placement.Jumper) bool { return w.TooLong }))
	for _, e := range []plan.Edit{plan.Stock{Text: "mauve"}, plan.Stock{With: "long"}, plan.Stock{With: "0"}, plan.Stock{With: "99999"}} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{e})
		assert.Error(t, err, "%v", e)
	}
}

// Renaming everything changes nothing but names: the placement looks at nets.
func TestNamesDoNotMatter(t *testing.T) {
	builds := ready.Builds(t, lib)
	for i, name := range slices.Sorted(maps.Keys(builds)) {
		if !testkit.Wide() && i%3 != 0 {
			continue
		}
		doc := builds[name]
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		renamed := doc.Clone()
		for i := range renamed.Parts {
			renamed.Parts[i].Name = fmt.Sprintf("part %d", len(renamed.Parts)-i)
		}
		again, err := placement.Place(lib, renamed)
		require.NoError(t, err)
		assert.Equal(t, p, again, name)
	}
}

// The search draws and works side by side, and yet the layout is the same however
// many processors there are.
func TestProcessorsDoNotMatter(t *testing.T) {
	doc := ready.Builds(t, lib)["start four"]
	lay := func(processors int) *placement.Placement {
		defer runtime.GOMAXPROCS(runtime.GOMAXPROCS(processors))
		p, err := placement.Place(lib, doc)
		require.NoError(t, err)
		return p
	}
	assert.Equal(t, lay(1), lay(4))
}

// What is remembered is what would be placed anew; a step that is done asks for
// nothing, a leg that is fixed does.
func TestMemory(t *testing.T) {
	memory := placement.NewMemory()
	anew := func(doc *build.Document) *placement.Placement {
		p, err := placement.Place(lib, doc)
		require.NoError(t, err)
		return p
	}
	doc := planned(t, "compact-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "button"})
	first, err := memory.Place(lib, doc)
	require.NoError(t, err)
	assert.Equal(t, anew(doc), first)
	done, _, err := plan.Apply(lib, doc, []plan.Edit{plan.StepDone{Text: "unplug"}, plan.Title{Name: "another name"}})
	require.NoError(t, err)
	again, err := memory.Place(lib, done)
	require.NoError(t, err)
	assert.Same(t, first, again)
	for _, e := range []plan.Edit{plan.Fix{Terminal: "led1.anode", Text: "c25"}, plan.Breadboards{Text: "full"}, plan.Breadboards{With: plan.Beside}, plan.Add{Kind: "led"}, plan.Stock{Text: "green"}} {
		other, _, err := plan.Apply(lib, done, []plan.Edit{e})
		require.NoError(t, err)
		got, err := memory.Place(lib, other)
		require.NoError(t, err)
		assert.Equal(t, anew(other), got)
		assert.NotEqual(t, first, got, "%v", e)
	}
}

// No wire is laid for nothing: without any one of them the nets are others. And
// none is laid between what a part or the board joins already.
func TestEveryWireIsNeeded(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		p := sound(t, doc)
		table := p.Table(lib, doc)
		want := partition(doc, doc.Nets)
		for i, w := range p.Wires {
			x := p.Built()
			x.Wires = slices.Delete(x.Wires, i, i+1)
			assert.NotEqual(t, want, partition(doc, placement.Trace(table, x)), "%s: the wire from %s to %s", name, w.From, w.To)
		}
	}
}

// Lengths are at least those of the way between the ends, and what goes into the holes; and they
// are cut to centimetres.
func TestWiresAreLongEnough(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		p := sound(t, doc)
		table := p.Table(lib, doc)
		for _, w := range p.Wires {
			at, way := table.At(w.From), 0.0
			for _, next := range append(slices.Clone(w.Way), table.At(w.To)) {
				at, way = next, way+at.To(next)*breadboard.Pitch
			}
			assert.GreaterOrEqual(t, float64(w.Millimetres), way+10, "%s: %s to %s", name, w.From, w.To)
			assert.Less(t, float64(w.Millimetres), way+30)
			assert.Equal(t, len(w.Way) > 0, len(w.Round) > 0, "it bends for something, and goes round nothing without")
			assert.Zero(t, w.Millimetres%10)
		}
	}
}

// Ground is black and the supply red (common practice), and no other net of a
// build without a red or a black lamp is.
func TestColoursOfRails(t *testing.T) {
	doc := planned(t, "classic-5v", plan.Add{Kind: "potentiometer"}, plan.Add{Kind: "button"}, plan.Add{Kind: "led", Type: "green"})
	p := sound(t, doc)
	table := p.Table(lib, doc)
	rail := func(w placement.Jumper) string {
		for _, e := range []breadboard.End{w.From, w.To} {
			for _, r := range table.RailStrips() {
				if !e.OnBoard() && table.StripOf(e.Hole) == r.Strip {
					if r.Minus() {
						return "black"
					}
					return "red"
				}
			}
		}
		return ""
	}
	seen := map[string]int{}
	for _, w := range p.Wires {
		if want := rail(w); want != "" {
			assert.Equal(t, want, w.Colour)
		} else {
			assert.NotContains(t, []string{"black", "red"}, w.Colour, "%s to %s", w.From, w.To)
		}
		seen[w.Colour]++
	}
	assert.Positive(t, seen["black"])
	assert.Positive(t, seen["red"])
	assert.Positive(t, seen["green"], "the lamp's")
}

// Six lamps in a row: each with its resistor as the one before, two rows further, in the order of
// their pins.
func TestARowOfLamps(t *testing.T) {
	var edits []plan.Edit
	for _, pin := range []string{"D7", "D2", "D9", "D4", "D12", "D8"} {
		edits = append(edits, plan.Add{Kind: "led", Type: "red", Pin: pin})
	}
	doc, _, err := plan.Apply(lib, build.New("row", "classic-5v"), edits)
	require.NoError(t, err)
	p, err := placement.Place(lib, doc)
	require.NoError(t, err)
	var rows []int
	for _, id := range []string{"led5", "led3", "led6", "led1", "led4", "led2"} {
		rows = append(rows, p.Seat(id).Legs[0].Hole.Row)
	}
	for i := range rows[2:] {
		assert.Equal(t, rows[1]-rows[0], rows[i+2]-rows[i+1], "%v", rows)
	}
}

// Where a line of all that is alike finds no room, each finds its own, as on a half breadboard that
// a dozen lamps fill; and what the builder has put somewhere stays there, and is no part of a line.
func TestALineThatFindsNoRoom(t *testing.T) {
	edits := []plan.Edit{plan.Breadboards{Text: "half"}}
	for range 13 {
		edits = append(edits, plan.Add{Kind: "led", Type: "red"})
	}
	doc, _, err := plan.Apply(lib, build.New("many", "large-5v"), edits)
	require.NoError(t, err)
	p := sound(t, doc)
	assert.Equal(t, []string{"half"}, p.Breadboards)

	doc, _, err = plan.Apply(lib, build.New("fixed", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "led", Type: "red"},
		plan.Fix{Terminal: "led2.anode", Text: "h28"},
	})
	require.NoError(t, err)
	p = sound(t, doc)
	at, _ := p.Seat("led2").Hole("anode")
	assert.Equal(t, "h28", at.String())
	first, _ := p.Seat("led1").Hole("anode")
	third, _ := p.Seat("led3").Hole("anode")
	assert.Equal(t, first.Column, third.Column, "the others are still alike")
}

// Buttons lie in a line as well, and so does what hangs on a chip, by the chip that it hangs on.
func TestOtherPartsInALine(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("buttons", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "button", Pin: "D2"}, plan.Add{Kind: "button", Pin: "D4"}, plan.Add{Kind: "button", Pin: "D7"}, plan.Add{Kind: "button", Pin: "D8"},
	})
	require.NoError(t, err)
	p := sound(t, doc)
	var rows []int
	for _, id := range []string{"button1", "button2", "button3", "button4"} {
		rows = append(rows, p.Seat(id).Legs[0].Hole.Row)
	}
	for i := range rows[2:] {
		assert.Equal(t, rows[1]-rows[0], rows[i+2]-rows[i+1], "%v", rows)
	}
}

// The legs of each package are as many as kinds of one's own are told.
func TestPackagesHaveTheLegsThatKindsAreTold(t *testing.T) {
	for id, legs := range part.Packages {
		p, ok := placement.PackageOf(id)
		require.True(t, ok, id)
		if !p.Loose {
			assert.Equal(t, legs, max(len(p.Left)+len(p.Right), map[bool]int{true: 2}[p.Span != [2]float64{}]), id)
		}
	}
}
