package placement_test

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"

	"cablaggio/core/testkit"
	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
)

// bench is a build with its placement, and what can be done wrong with it.
type bench struct {
	doc   *build.Document
	p     *placement.Placement
	table *breadboard.Table
	rnd   *rand.Rand
}

func (b *bench) hole() breadboard.End {
	for {
		h := breadboard.Hole{Column: breadboard.Column(b.rnd.IntN(14)), Row: 1 + b.rnd.IntN(30)}
		if e := breadboard.InHole(h); b.table.CheckEnd(e) == nil {
			return e
		}
	}
}

// near is a hole in the row above or below.
func (b *bench) near(e breadboard.End) breadboard.End {
	for _, by := range []int{1, -1} {
		o := e
		o.Hole.Row += by
		if !e.OnBoard() && b.table.CheckEnd(o) == nil {
			return o
		}
	}
	return e
}

// leg draws a leg that the plan joins with something.
func (b *bench) seat() placement.Seat { return b.p.Seats[b.rnd.IntN(len(b.p.Seats))] }

// mutations are what goes wrong at a bench, and what only looks so.
var mutations = map[string]func(b *bench, x *build.Built) bool{
	"leg one row off": func(b *bench, x *build.Built) bool {
		s := b.seat()
		t := build.Of(s.Part, s.Legs[b.rnd.IntN(len(s.Legs))].Leg)
		x.Legs[t] = b.near(x.Legs[t])
		return true
	},
	"leg anywhere": func(b *bench, x *build.Built) bool {
		s := b.seat()
		x.Legs[build.Of(s.Part, s.Legs[b.rnd.IntN(len(s.Legs))].Leg)] = b.hole()
		return true
	},
	"leg in another hole of its row": func(b *bench, x *build.Built) bool {
		s := b.seat()
		t := build.Of(s.Part, s.Legs[0].Leg)
		e := x.Legs[t]
		if e.Hole.Column.IsRail() {
			return false
		}
		e.Hole = b.table.Hole(b.table.StripOf(e.Hole), b.rnd.IntN(5))
		x.Legs[t] = e
		return b.table.CheckEnd(e) == nil
	},
	"part one row off": func(b *bench, x *build.Built) bool {
		s := b.seat()
		for _, l := range s.Legs {
			t := build.Of(s.Part, l.Leg)
			x.Legs[t] = b.near(x.Legs[t])
		}
		return true
	},
	"two legs change places": func(b *bench, x *build.Built) bool {
		s := b.seat()
		i, j := b.rnd.IntN(len(s.Legs)), b.rnd.IntN(len(s.Legs))
		p, q := build.Of(s.Part, s.Legs[i].Leg), build.Of(s.Part, s.Legs[j].Leg)
		x.Legs[p], x.Legs[q] = x.Legs[q], x.Legs[p]
		return i != j
	},
	"part the other way round": func(b *bench, x *build.Built) bool {
		s := b.seat()
		n := len(s.Legs)
		for i, l := range s.Legs {
			x.Legs[build.Of(s.Part, l.Leg)] = breadboard.InHole(s.Legs[n-1-i].Hole)
		}
		return true
	},
	"chip turned": func(b *bench, x *build.Built) bool {
		s := b.seat()
		n := len(s.Legs)
		if n < 14 {
			return false
		}
		for i, l := range s.Legs {
			x.Legs[build.Of(s.Part, l.Leg)] = breadboard.InHole(s.Legs[(i+n/2)%n].Hole)
		}
		return true
	},
	"button turned": func(b *bench, x *build.Built) bool {
		s := b.seat()
		if b.doc.Part(s.Part).Kind != "button" {
			return false
		}
		for i, leg := range []string{"1a", "1b", "2b", "2a"} {
			x.Legs[build.Of(s.Part, leg)] = breadboard.InHole(s.Legs[i].Hole)
		}
		return true
	},
	"both legs in one row": func(b *bench, x *build.Built) bool {
		s := b.seat()
		if len(s.Legs) != 2 || s.Legs[0].Hole.Column.IsRail() {
			return false
		}
		h := b.table.Hole(b.table.StripOf(s.Legs[0].Hole), 4)
		x.Legs[build.Of(s.Part, s.Legs[1].Leg)] = breadboard.InHole(h)
		return b.table.CheckEnd(breadboard.InHole(h)) == nil
	},
	"wire left out": func(b *bench, x *build.Built) bool {
		if len(x.Wires) == 0 {
			return false
		}
		i := b.rnd.IntN(len(x.Wires))
		x.Wires = slices.Delete(x.Wires, i, i+1)
		return true
	},
	"end of a wire one row off": func(b *bench, x *build.Built) bool {
		if len(x.Wires) == 0 {
			return false
		}
		w := &x.Wires[b.rnd.IntN(len(x.Wires))]
		w.To = b.near(w.To)
		return true
	},
	"wire to the next pin": func(b *bench, x *build.Built) bool {
		for i := range x.Wires {
			if w := &x.Wires[i]; w.From.OnBoard() && b.rnd.IntN(3) == 0 {
				h := b.table.Board.Headers[1]
				w.From.Place = breadboard.Place{Name: h.Places[len(h.Places)-1-b.rnd.IntN(10)]}
				return true
			}
		}
		return false
	},
	"a wire too many": func(b *bench, x *build.Built) bool {
		x.Wires = append(x.Wires, build.Wire{From: b.hole(), To: b.hole()})
		return true
	},
}

// unchanged is the judge: whether what is built has the nets of the plan, also
// with the legs of some part that may change places taken for each other.
func unchanged(b *bench, x *build.Built) bool {
	want := partition(b.doc, b.doc.Nets)
	nets := placement.Trace(b.table, x)
	if slices.Equal(want, partition(b.doc, nets)) {
		return true
	}
	for _, p := range b.doc.Parts {
		kind, _ := lib.Catalogue.Kind(p.Kind)
		if !kind.Body.Alike {
			continue
		}
		swap := map[build.Terminal]build.Terminal{}
		pairs := [][2]string{{kind.Terminals[0].ID, kind.Terminals[len(kind.Terminals)/2].ID}}
		if len(kind.Terminals) == 4 {
			pairs = append(pairs, [2]string{kind.Terminals[1].ID, kind.Terminals[3].ID})
		}
		for _, pair := range pairs {
			a, c := build.Of(p.ID, pair[0]), build.Of(p.ID, pair[1])
			swap[a], swap[c] = c, a
		}
		renamed := make([]build.Net, len(nets))
		for i, n := range nets {
			for _, t := range n {
				if o, ok := swap[t]; ok {
					t = o
				}
				renamed[i] = append(renamed[i], t)
			}
		}
		if slices.Equal(want, partition(b.doc, renamed)) {
			return true
		}
	}
	return false
}

// Every mistake that changes a net is told, and none that does not is.
func TestMutatedPlacementsAreTold(t *testing.T) {
	each := testkit.Few(5, 20)
	total, changed, open := 0, 0, 0
	faults := map[placement.Fault]int{}
	builds := ready.Builds(t, lib)
	for _, name := range slices.Sorted(maps.Keys(builds)) {
		doc := builds[name]
		p, err := laid.Place(lib, doc)
		require.NoError(t, err)
		b := &bench{doc, p, p.Table(lib, doc), rand.New(rand.NewPCG(1, uint64(len(name))))}
		require.Empty(t, placement.Compare(lib, doc, p, p.Built()), name)
		for _, what := range slices.Sorted(maps.Keys(mutations)) {
			for range each {
				x := p.Built()
				if !mutations[what](b, x) {
					continue
				}
				total++
				diffs := placement.Compare(lib, doc, p, x)
				if unchanged(b, x) {
					assert.Empty(t, diffs, "%s, %s: nothing changed", name, what)
					continue
				}
				changed++
				if assert.NotEmpty(t, diffs, "%s, %s: %v", name, what, moved(p.Built(), x)) {
					faults[diffs[0].Fault]++
				}
				if rest := follow(lib, doc, p, x); len(rest) > 0 {
					open++
					assert.Empty(t, rest[0].Right, "%s, %s: doing what is said does not help: %v", name, what, rest)
				}
			}
		}
	}
	t.Log(total, "mutations,", changed, "change a net;", fmt.Sprint(faults), "; left to the builder:", open)
	assert.Less(t, open, changed/20)
	assert.Greater(t, total, 13*each)
	assert.Greater(t, total-changed, total/20)
}

// follow does what the differences say, one after another, and returns those that
// are left.
func follow(lib *build.Library, doc *build.Document, p *placement.Placement, x *build.Built) []placement.Difference {
	var diffs []placement.Difference
	for range 20 {
		if diffs = placement.Compare(lib, doc, p, x); len(diffs) == 0 {
			return nil
		}
		i := slices.IndexFunc(diffs, func(d placement.Difference) bool {
			return len(d.Right.Legs)+len(d.Right.In)+len(d.Right.Out)+len(d.Right.Values) > 0
		})
		if i < 0 {
			return diffs
		}
		x = diffs[i].Right.On(x)
	}
	return diffs
}

// moved says what a mutation did.
func moved(was, is *build.Built) (out []string) {
	for t, e := range is.Legs {
		if was.Legs[t] != e {
			out = append(out, fmt.Sprintf("%s %s→%s", t, was.Legs[t], e))
		}
	}
	for _, w := range is.Wires {
		if !slices.Contains(was.Wires, w) {
			out = append(out, fmt.Sprintf("+%s–%s", w.From, w.To))
		}
	}
	for _, w := range was.Wires {
		if !slices.Contains(is.Wires, w) {
			out = append(out, fmt.Sprintf("-%s–%s", w.From, w.To))
		}
	}
	return out
}

// What is told of each mistake, word for word, on one build: a lamp, a button, a
// knob and a chip on the classic board.
func TestMistakesInWords(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Name: "red lamp", Pin: "D7"},
		plan.Add{Kind: "button", Name: "bell", Pin: "D8"},
		plan.Add{Kind: "potentiometer", Name: "knob"},
		plan.Add{Kind: "shift-register-latched", Name: "chip"},
	})
	require.NoError(t, err)
	doc.Assembly = &build.Assembly{Breadboards: []string{"full-broken"}}
	p, err := placement.Place(lib, doc)
	require.NoError(t, err)
	table := p.Table(lib, doc)
	row := func(x *build.Built, t build.Terminal, k int) breadboard.End {
		return breadboard.InHole(table.Hole(table.StripOf(x.Legs[t].Hole), k))
	}
	wireAt := func(x *build.Built, e breadboard.End) int {
		return slices.IndexFunc(x.Wires, func(w build.Wire) bool {
			for _, o := range []breadboard.End{w.From, w.To} {
				if o == e || !o.OnBoard() && !e.OnBoard() && table.StripOf(o.Hole) == table.StripOf(e.Hole) {
					return true
				}
			}
			return false
		})
	}
	pin := func(name string) breadboard.End { return breadboard.End{Place: breadboard.Place{Name: name}} }
	turn := func(x *build.Built, id string, to func(i, n int) int) {
		s := p.Seats[slices.IndexFunc(p.Seats, func(s placement.Seat) bool { return s.Part == id })]
		for i, l := range s.Legs {
			x.Legs[build.Of(id, l.Leg)] = breadboard.InHole(s.Legs[to(i, len(s.Legs))].Hole)
		}
	}
	for _, c := range []struct {
		name  string
		do    func(x *build.Built)
		fault placement.Fault
		words string
	}{
		{"nothing", func(*build.Built) {}, "", ""},
		{"bridged", func(x *build.Built) { x.Legs["led1.cathode"] = row(x, "led1.anode", 4) }, placement.Bridged, "it is bridged and will stay dark"},
		{"reversed", func(x *build.Built) { turn(x, "led1", func(i, n int) int { return n - 1 - i }) }, placement.Reversed, "red lamp is the wrong way round: the long leg is in"},
		{"a resistor has no way round", func(x *build.Built) { turn(x, "led1-resistor", func(i, n int) int { return n - 1 - i }) }, "", ""},
		{"wrong row", func(x *build.Built) {
			x.Legs["led1.cathode"] = breadboard.InHole(breadboard.Hole{Column: breadboard.A, Row: 62})
		}, placement.WrongRow, "The short leg of red lamp, in a62, is joined with nothing, and belongs to ground"},
		{"wire on the wrong side", func(x *build.Built) {
			w := &x.Wires[wireAt(x, pin("D7"))]
			w.From, w.To = pin("D7"), row(x, "led1.anode", 4)
		}, placement.Bypassed, "the current goes past it"},
		{"missing jumper", func(x *build.Built) {
			i := wireAt(x, row(x, "led1.cathode", 0))
			x.Wires = slices.Delete(x.Wires, i, i+1)
		}, placement.NoWire, "have no way to ground"},
		{"rail not joined", func(x *build.Built) {
			i := wireAt(x, pin("5V"))
			x.Wires = slices.Delete(x.Wires, i, i+1)
		}, placement.FreeRail, "rail hangs free"},
		{"button turned", func(x *build.Built) {
			// Wired on one side: across the corners it would not matter.
			for i := range x.Wires {
				for _, e := range []*breadboard.End{&x.Wires[i].From, &x.Wires[i].To} {
					for _, pair := range [][2]build.Terminal{{"button1.1b", "button1.1a"}, {"button1.2b", "button1.2a"}} {
						if !e.OnBoard() && table.StripOf(e.Hole) == table.StripOf(x.Legs[pair[0]].Hole) {
							*e = row(x, pair[1], 2)
						}
					}
				}
			}
			turn(x, "button1", func(i, _ int) int { return []int{0, 3, 2, 1}[i] })
		}, placement.Turned, "bell is turned: its two joined legs are across the two wires, so it reads as pressed"},
		{"wrong pin", func(x *build.Built) { w := &x.Wires[wireAt(x, pin("D7"))]; *w = build.Wire{From: pin("D6"), To: w.To} }, placement.WrongPin, "goes to D6; it belongs to D7"},
		{"two nets joined", func(x *build.Built) {
			x.Wires = append(x.Wires, build.Wire{From: row(x, "potentiometer1.wiper", 4), To: row(x, "led1.anode", 4)})
		}, placement.Together, "must stay apart"},
		{"chip upside down", func(x *build.Built) {
			turn(x, "shift-register-latched1", func(i, n int) int { return (i + n/2) % n })
		}, placement.UpsideDown, "chip is upside down"},
		{"part too low", func(x *build.Built) {
			for _, leg := range []build.Terminal{"potentiometer1.1", "potentiometer1.wiper", "potentiometer1.2"} {
				e := x.Legs[leg]
				e.Hole.Row++
				x.Legs[leg] = e
			}
		}, placement.WrongRow, "knob sits one row too low: its one end is in"},
		{"knob", func(x *build.Built) { turn(x, "potentiometer1", func(i, n int) int { return n - 1 - i }) }, placement.Swapped, "it works, but turns the other way"},
		{"another resistor", func(x *build.Built) { x.Values = map[string]float64{"led1-resistor": 2700} }, placement.WrongValue, "is 2.7 kΩ; the plan has 270 Ω"},
		{"part missing", func(x *build.Built) { delete(x.Legs, "led1.anode"); delete(x.Legs, "led1.cathode") }, placement.Missing, "Not plugged in: red lamp."},
	} {
		x := p.Built()
		c.do(x)
		diffs := placement.Compare(lib, doc, p, x)
		if c.fault == "" {
			assert.Empty(t, diffs, c.name)
			continue
		}
		if assert.NotEmpty(t, diffs, c.name) {
			assert.Equal(t, c.fault, diffs[0].Fault, "%s: %v", c.name, diffs)
			assert.Contains(t, diffs[0].What, c.words, c.name)
			assert.NotEmpty(t, diffs[0].Do, c.name)
			assert.Len(t, diffs, 1, "%s: %v", c.name, diffs)
		}
	}
}
