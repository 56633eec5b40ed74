package wiring_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

func ExampleNetwork_With() {
	doc, _, _ := plan.Apply(lib, build.New("lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	n := wiring.Build(lib, doc)
	lit, _ := n.Resolve(wiring.Settings{"D4": "high"})
	for _, m := range []*wiring.Network{n, n.With(wiring.Exchange("led1.anode", "led1.cathode"))} {
		amps, _ := m.Amps(lit, "led1.anode")
		fmt.Printf("%.1f mA\n", 1000*max(0, amps.Typ))
	}
	// Output:
	// 10.4 mA
	// 0.0 mA
}

// randomBuild draws a build by a few edits.
func randomBuild(t *rapid.T, board string) *build.Document {
	doc := build.New("random", board)
	for range rapid.IntRange(2, 8).Draw(t, "steps") {
		if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil && after.Board == board {
			doc = after
		}
	}
	return doc
}

// places lists the legs and the places of the board that one can put a tip to.
func places(doc *build.Document) (out []build.Terminal) {
	board, _ := lib.Board(doc.Board)
	for _, name := range board.Terminals() {
		out = append(out, build.Pin(name))
	}
	for _, p := range doc.Parts {
		kind, _ := lib.Catalogue.Kind(p.Kind)
		for _, t := range kind.Terminals {
			out = append(out, build.Of(p.ID, t.ID))
		}
	}
	return out
}

func pick[T any](t *rapid.T, label string, from []T) T {
	return from[rapid.IntRange(0, len(from)-1).Draw(t, label)]
}

// freed takes a terminal out of the nets of a document; exchanged and joined are
// the other changes, made to the document by hand.
func freed(doc *build.Document, t build.Terminal) {
	for i, net := range doc.Nets {
		var left build.Net
		for _, x := range net {
			if x != t {
				left = append(left, x)
			}
		}
		doc.Nets[i] = left
	}
	whole(doc)
}

func exchanged(doc *build.Document, a, b build.Terminal) {
	for _, net := range doc.Nets {
		for k, x := range net {
			switch x {
			case a:
				net[k] = b
			case b:
				net[k] = a
			}
		}
	}
}

func joined(doc *build.Document, a, b build.Terminal) {
	i, j := doc.NetOf(a), doc.NetOf(b)
	switch {
	case i < 0 && j < 0:
		doc.Nets = append(doc.Nets, build.Net{a, b})
	case i < 0:
		doc.Nets[j] = append(doc.Nets[j], a)
	case j < 0:
		doc.Nets[i] = append(doc.Nets[i], b)
	case i != j:
		doc.Nets[i] = append(doc.Nets[i], doc.Nets[j]...)
		doc.Nets[j] = nil
		whole(doc)
	}
}

// whole leaves out nets of nothing; of one terminal they are still wires to it.
func whole(doc *build.Document) {
	var nets []build.Net
	for _, net := range doc.Nets {
		if len(net) > 0 {
			nets = append(nets, net)
		}
	}
	doc.Nets = nets
}

// A network with changes is the network of the changed document: every place has
// the same voltage, and every leg the same current, in the same state.
func TestWithIsTheChangedDocument(t *testing.T) {
	testkit.Slow(t)
	overlays := 0
	rapid.Check(t, func(t *rapid.T) {
		doc := randomBuild(t, pick(t, "board", lib.Boards).ID)
		if len(doc.Parts) == 0 {
			return
		}
		n := wiring.Build(lib, doc)
		at := places(doc)
		for range testkit.Few(50, 50) {
			changed := doc.Clone()
			var changes []wiring.Change
			for range rapid.IntRange(1, 2).Draw(t, "changes") {
				a, b := pick(t, "a", at), pick(t, "b", at)
				switch rapid.IntRange(0, 3).Draw(t, "change") {
				case 0:
					changes = append(changes, wiring.Loose(a))
					freed(changed, a)
				case 1:
					changes = append(changes, wiring.Join(a, b))
					joined(changed, a, b)
				case 2:
					changes = append(changes, wiring.Exchange(a, b))
					exchanged(changed, a, b)
				case 3:
					p := pick(t, "part", changed.Parts)
					kind, _ := lib.Catalogue.Kind(p.Kind)
					v := pick(t, "value", kind.Values)
					to := v.Min + (v.Max-v.Min)*rapid.Float64Range(0.05, 0.95).Draw(t, "to")
					changes = append(changes, wiring.Set(p.ID, v.ID, to))
					q := changed.Part(p.ID)
					if q.Values == nil {
						q.Values = map[string]float64{}
					}
					q.Values[v.ID], q.Chosen = to, false
				}
			}
			overlays++
			t.Logf("%+v", changes)
			same(t, n.With(changes...), wiring.Build(lib, changed), at)
		}
	})
	assert.Greater(t, overlays, 800)
}

// same compares two networks in a state of the second: places that are held or
// stiff by their voltage, and what both have by name.
func same(t *rapid.T, got, want *wiring.Network, at []build.Terminal) {
	for _, e := range want.Elements {
		if e.Role == wiring.Wire {
			return // which rail a leg is on, of two that are joined, the order of the wires says
		}
	}
	settings := wiring.Settings{}
	for i := range want.Controls {
		c := &want.Controls[i]
		settings[c.Of] = c.Text(pick(t, "setting", c.Planned))
	}
	for i := range got.Controls { // what an earlier change has left without a wire
		if c := &got.Controls[i]; settings[c.Of] == "" {
			settings[c.Of] = c.Text(c.Planned[0])
		}
	}
	known := func(n *wiring.Network) wiring.Settings {
		out := wiring.Settings{}
		for i := range n.Controls {
			out[n.Controls[i].Of] = settings[n.Controls[i].Of]
		}
		return out
	}
	a, err := got.Resolve(known(got))
	require.NoError(t, err)
	b, err := want.Resolve(known(want))
	require.NoError(t, err)
	for _, place := range at {
		x, errX := got.Volts(a, place, "board.GND")
		y, errY := want.Volts(b, place, "board.GND")
		require.Equal(t, errY == nil, errX == nil, "%s: %v %v", place, errX, errY)
		if errY != nil {
			return
		}
		if y.Of == wiring.Afloat && want.Doc.NetOf(place) < 0 {
			continue // an output or a pull of the board's stays in a network that once had a wire there
		}
		require.Equal(t, y.Of, x.Of, "footing of %s", place)
		if y.Of == wiring.Afloat {
			continue
		}
		near := func(x, y float64) bool { return math.Abs(x-y) <= 1e-5+1e-6*math.Abs(y) }
		if !near(x.Typ, y.Typ) || !near(x.Low, y.Low) || !near(x.High, y.High) {
			t.Fatalf("%s: %v V with the changes, %v V in the changed document", place, x.Range, y.Range)
		}
	}
}

// What a change does not touch is the same piece, not one like it.
func TestWithKeepsWhatItDoesNotTouch(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "button"}, plan.Add{Kind: "potentiometer"})
	m := n.With(wiring.Loose("led1.cathode"))
	kept := 0
	for _, p := range m.Pieces {
		for _, q := range n.Pieces {
			if p == q {
				kept++
			}
		}
	}
	assert.Equal(t, 2, kept)
	assert.Len(t, n.Pieces, 3)
}

// A network is asked and changed from several goroutines at once; the race detector
// looks on.
func TestManyChangeANetworkAtOnce(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "relay"}, plan.Add{Kind: "phototransistor"}, plan.Add{Kind: "shift-register-latched"}, plan.Add{Kind: "led"})
	at, err := n.Resolve(wiring.Settings{"D4": "high"})
	require.NoError(t, err)
	changes := []wiring.Change{
		wiring.Set("relay1-transistor", "gain", 150), wiring.Set("phototransistor1", "photocurrent", 1e-3), wiring.Set("shift-register-latched1", "outputResistance", 50),
		wiring.Loose("led1.cathode"), wiring.Join("shift-register-latched1.qa", "board.A5"), wiring.Join("board.D13", "board.A4"), wiring.Unpowered(),
	}
	parallel.Do(8*len(changes), func(i int) {
		m := n.With(changes[i%len(changes)])
		settings := at
		for k := len(at); k < len(m.Controls); k++ {
			settings = append(settings[:k:k], m.Controls[k].Planned[0])
		}
		for _, place := range []build.Terminal{"led1.anode", "relay1-transistor.collector", "phototransistor1.emitter"} {
			_, err := m.Volts(settings, place, "board.GND")
			assert.NoError(t, err)
			_, err = m.Amps(settings, place)
			assert.NoError(t, err)
		}
	})
}

// Probes against ngspice, for random places of random builds: the whole build as
// one circuit there, a piece and its rails here.
func TestProbesAgainstSpice(t *testing.T) {
	testkit.Slow(t)
	var circuits []*circuit.Circuit
	type question struct {
		node circuit.Node
		volt float64
		what string
	}
	var asked [][]question
	probes := 0
	gen := rapid.Custom(func(t *rapid.T) bool {
		doc := randomBuild(t, pick(t, "board", lib.Boards).ID)
		n := wiring.Build(lib, doc)
		at := places(doc)
		settings := make([]float64, len(n.Controls))
		for i := range settings {
			settings[i] = pick(t, "setting", n.Controls[i].Planned)
		}
		c, _, nodes := n.Circuit(settings, wiring.AtTypical)
		var list []question
		for range 8 {
			place := pick(t, "place", at)
			p, err := n.Volts(settings, place, "board.GND")
			node, here := nodes[n.Node(place)]
			if err != nil || p.Of == wiring.Afloat || !here {
				continue
			}
			list = append(list, question{node, p.Typ, string(place)})
		}
		if len(list) > 0 {
			circuits, asked = append(circuits, c), append(asked, list)
		}
		return true
	})
	for i := range 130 {
		gen.Example(i)
	}
	testkit.SpiceVolts(t, circuits, func(k int, volts func(circuit.Node) float64) {
		for _, q := range asked[k] {
			probes++
			want := volts(q.node)
			assert.InDelta(t, want, q.volt, 1e-3*math.Abs(want)+1e-3, q.what)
		}
	})
	assert.Greater(t, probes, 500)
}

// What a meter finds without power, against ngspice: the whole board and build with
// the meter's source in it as one circuit there.
func TestTestsWithoutPowerAgainstSpice(t *testing.T) {
	testkit.Slow(t)
	var circuits []*circuit.Circuit
	type question struct {
		red, black circuit.Node
		volts      float64
		what       string
	}
	var asked []question
	gen := rapid.Custom(func(t *rapid.T) bool {
		doc := randomBuild(t, pick(t, "board", lib.Boards).ID)
		n := wiring.Build(lib, doc).With(wiring.Unpowered())
		at := places(doc)
		settings := make([]float64, len(n.Controls))
		for i := range settings {
			settings[i] = pick(t, "setting", n.Controls[i].Planned)
		}
		for range 4 {
			red, black := pick(t, "red", at), pick(t, "black", at)
			tester := wiring.Ohmmeter
			if rapid.Bool().Draw(t, "diode test") {
				tester = wiring.DiodeTest
			}
			found, err := n.Test(settings, tester, red, black)
			require.NoError(t, err)
			if n.Node(red) == n.Node(black) {
				assert.Zero(t, found.Ohms.Typ)
				continue
			}
			m := n.With(
				wiring.Between(black, red, circuit.Element{Kind: circuit.CurrentSource, Value: tester.Volts / tester.Ohms}),
				wiring.Between(red, black, circuit.Element{Kind: circuit.Resistor, Value: tester.Ohms}))
			for i := len(settings); i < len(m.Controls); i++ {
				settings = append(settings, m.Controls[i].Planned[0])
			}
			c, _, nodes := m.Circuit(settings, wiring.AtTypical)
			settings = settings[:len(n.Controls)]
			circuits = append(circuits, c)
			asked = append(asked, question{nodes[m.Node(red)], nodes[m.Node(black)], found.Volts.Typ, fmt.Sprintf("%s to %s", red, black)})
		}
		return true
	})
	for i := range 60 {
		gen.Example(i)
	}
	compared := 0
	testkit.SpiceVolts(t, circuits, func(k int, volts func(circuit.Node) float64) {
		at := func(n circuit.Node) float64 {
			if n == circuit.Ground {
				return 0
			}
			return volts(n)
		}
		q := asked[k]
		compared++
		assert.InDelta(t, at(q.red)-at(q.black), q.volts, 2e-3, q.what)
	})
	assert.Greater(t, compared, 150)
}

// Without power a resistor reads what it is, a lamp shows its forward voltage one
// way only, and a button closes (common practice: that is what people check
// before the supply goes on).
func TestWithoutPower(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "button"}).With(wiring.Unpowered())
	rest, err := n.Resolve(nil)
	require.NoError(t, err)
	resistor, err := n.Test(rest, wiring.Ohmmeter, "led1-resistor.1", "led1-resistor.2")
	require.NoError(t, err)
	ohms := n.ValueAt(n.Find(wiring.Body, "led1-resistor", "")).Typ
	assert.InEpsilon(t, ohms, resistor.Ohms.Typ, 1e-3)
	assert.InEpsilon(t, ohms*0.95, resistor.Ohms.Low, 1e-3)
	forward, err := n.Test(rest, wiring.DiodeTest, "led1.anode", "led1.cathode")
	require.NoError(t, err)
	assert.InDelta(t, 1.7, forward.Volts.Typ, 0.15, "a red lamp at half a milliampere")
	lone := network(t, "classic-5v", plan.Add{Kind: "led"}, plan.Free{Terminal: "led1.anode"}, plan.Free{Terminal: "led1.cathode"}).With(wiring.Unpowered())
	back, err := lone.Test(make([]float64, len(lone.Controls)), wiring.DiodeTest, "led1.cathode", "led1.anode")
	require.NoError(t, err)
	assert.InDelta(t, wiring.DiodeTest.Volts, back.Volts.Typ, 0.01, "backwards it shows the meter's own voltage")
	assert.Greater(t, back.Ohms.Typ, 10e6)
	for setting, least := range map[string]float64{"up": 100e3, "pressed": 0} {
		at, err := n.Resolve(wiring.Settings{"button1": setting})
		require.NoError(t, err)
		contact, err := n.Test(at, wiring.Ohmmeter, "button1.1a", "button1.2a")
		require.NoError(t, err)
		assert.GreaterOrEqual(t, contact.Ohms.Typ, least, setting)
		if setting == "pressed" {
			assert.Less(t, contact.Ohms.High, 1.0)
		}
	}
}

// A fault put into a full board, and one reading of it: what diagnosis does a
// thousand times.
func BenchmarkFaultAndReading(b *testing.B) {
	doc := build.New("full", "classic-5v")
	for _, kind := range []string{"led", "button", "led", "potentiometer", "button", "led", "light-resistor", "shift-register-latched", "button", "led"} {
		next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: kind}})
		if err != nil {
			b.Fatal(err)
		}
		doc = next
	}
	n := wiring.Build(lib, doc)
	on, err := n.Resolve(nil)
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	legs := []build.Terminal{"led1.cathode", "button1.1a", "led2.anode", "potentiometer1.wiper", "led3-resistor.1"}
	for i := 0; b.Loop(); i++ {
		leg := legs[i%len(legs)]
		if _, err := n.With(wiring.Loose(leg)).Typical(on, leg); err != nil {
			b.Fatal(err)
		}
	}
}
