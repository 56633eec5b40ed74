package wiring_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	_ "cablaggio/core/testkit/drawn"
)

// A part is fed while wires lead from both of its supply legs, and not through its other
// legs.
func TestFed(t *testing.T) {
	sensor := func(edits ...plan.Edit) (plus, minus bool) {
		n := network(t, "classic-5v", append([]plan.Edit{plan.Add{Kind: "temperature-sensor"}}, edits...)...)
		return n.Fed(&n.Doc.Parts[0])
	}
	free := func(leg string) plan.Edit {
		return plan.Free{Terminal: build.Of("temperature-sensor1", leg)}
	}
	join := func(leg, to string) plan.Edit {
		return plan.Join{Terminal: build.Of("temperature-sensor1", leg), To: build.Terminal(to)}
	}
	for name, c := range map[string]struct {
		edits       []plan.Edit
		plus, minus bool
	}{
		"as its hookup says":         {nil, true, true},
		"without its supply":         {[]plan.Edit{free("vcc")}, false, true},
		"without its ground":         {[]plan.Edit{free("gnd")}, true, false},
		"from a pin":                 {[]plan.Edit{free("vcc"), join("vcc", "board.D7")}, true, true},
		"its supply leg on ground":   {[]plan.Edit{free("vcc"), join("vcc", "board.GND")}, false, true},
		"through a pull of megaohms": {[]plan.Edit{free("vcc"), plan.Add{Kind: "resistor", Value: "resistance", Text: "1M"}, join("vcc", "resistor1.1"), plan.Join{Terminal: "resistor1.2", To: "board.5V"}}, false, true},
		"through ten ohms":           {[]plan.Edit{free("vcc"), plan.Add{Kind: "resistor", Value: "resistance", Text: "10"}, join("vcc", "resistor1.1"), plan.Join{Terminal: "resistor1.2", To: "board.5V"}}, true, true},
	} {
		plus, minus := sensor(c.edits...)
		assert.Equal(t, [2]bool{c.plus, c.minus}, [2]bool{plus, minus}, name)
	}
}

// Whatever supply leg comes off, no leg has more than the supply has, but for the drop of
// a protection diode: chips and sensors do not make voltages.
func TestNoVoltageWithoutASupply(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		board := rapid.SampledFrom([]string{"classic-5v", "slim-3v3"}).Draw(t, "board")
		kind := rapid.SampledFrom([]string{"shift-register-latched", "shift-register", "temperature-sensor", "analog-sensor", "soil-moisture", "digital-sensor"}).Draw(t, "kind")
		n := network(t, board, plan.Add{Kind: kind}, plan.Add{Kind: "led"})
		p := &n.Doc.Parts[0]
		k, _ := lib.Catalogue.Kind(kind)
		leg := rapid.SampledFrom([]string{k.Feed.Plus, k.Feed.Minus}).Draw(t, "leg")
		m := n.With(wiring.Loose(build.Of(p.ID, leg)))
		most := 0.0
		for _, r := range m.Board.Rails {
			most = math.Max(most, m.RailVolts(r.Name).High)
		}
		for _, piece := range m.Pieces {
			list, err := piece.Planned(wiring.Subject{})
			require.NoError(t, err)
			for _, v := range list {
				for _, term := range k.Terminals {
					r := v.Volts(m.Node(build.Of(p.ID, term.ID)))
					if !piece.Has(m.Node(build.Of(p.ID, term.ID))) {
						continue
					}
					assert.Less(t, r.High, most+0.8, "%s without %s: %s, %s", kind, leg, term.ID, v.Words())
					assert.Greater(t, r.Low, -0.8, "%s without %s: %s, %s", kind, leg, term.ID, v.Words())
				}
			}
		}
	})
}

// A capacitor straight on a pin: at first only the pin's resistance holds the current
// back, and it falls as e^(−t ÷ RC) (by hand: 5 V ÷ 25 Ω = 200 mA; above 40 mA for
// RC·ln 5 = 40 µs with 1 µF).
func TestSurge(t *testing.T) {
	n := network(t, "classic-5v",
		plan.Add{Kind: "led", Pin: "D4", Hookup: "resistor-at-pin"},
		plan.Add{Kind: "capacitor", Value: "capacitance", Text: "1 µF"},
		plan.Free{Terminal: "led1-resistor.1"},
		plan.Join{Terminal: "capacitor1.1", To: "board.D4"},
		plan.Join{Terminal: "capacitor1.2", To: "board.GND"})
	high := n.Find(wiring.HighSide, "", "D4")
	var off, on *wiring.Solved
	for _, v := range planned(t, n.PieceWith(high)) {
		if v.Typical(n.Node("board.D4")) > 1 {
			on = v
		} else {
			off = v
		}
	}
	peak, lasts := on.Surge(off, high, 0.04)
	assert.InEpsilon(t, 0.2, peak, 0.01)
	assert.InEpsilon(t, 40.2e-6, lasts, 0.06)
	peak, lasts = on.Surge(off, high, 1)
	assert.InEpsilon(t, 0.2, peak, 0.01)
	assert.Zero(t, lasts)
}

// A button to ground, 10 kΩ to 5 V, and 10 µF behind 270 Ω at the pin: let go, the pin
// stands at once where the capacitor is, nearly, and rises by (10 + 0.27) kΩ · 10 µF (by
// hand: 5 V · (1 − 10/10.27 · e^(−t/102.7 ms)) passes 3 V after 91.4 ms); pressed, it is low
// at once.
func TestPasses(t *testing.T) {
	n := network(t, "classic-5v",
		plan.Add{Kind: "button", Pin: "D4", Hookup: "ground-pull-up"},
		plan.Add{Kind: "resistor", Value: "resistance", Text: "270"},
		plan.Add{Kind: "capacitor", Value: "capacitance", Text: "10 µF"},
		plan.Join{Terminal: "resistor1.1", To: "board.D4"},
		plan.Join{Terminal: "resistor1.2", To: "capacitor1.1"},
		plan.Join{Terminal: "capacitor1.2", To: "board.GND"})
	pin := n.Node("board.D4")
	var up, down *wiring.Solved
	for _, v := range planned(t, n.PieceWith(n.Find(wiring.Body, "resistor1", ""))) {
		if v.Typical(pin) > 1 {
			up = v
		} else {
			down = v
		}
	}
	assert.InEpsilon(t, 0.1027*math.Log(10/10.27*5/2), up.Passes(down, pin, 3, true), 0.01)
	assert.Zero(t, down.Passes(up, pin, 1.5, false))
	assert.True(t, math.IsInf(up.Passes(down, pin, 6, true), 1))
}

// What a node has against a part of a rail is taken at one corner: a divider of two equal
// resistors of 5 % has 0.475 to 0.525 of its rail, whatever the rail does.
func TestAgainst(t *testing.T) {
	n := network(t, "classic-5v",
		plan.Add{Kind: "resistor", Value: "resistance", Text: "1k"}, plan.Add{Kind: "resistor", Value: "resistance", Text: "1k"},
		plan.Join{Terminal: "resistor1.1", To: "board.5V"}, plan.Join{Terminal: "resistor1.2", To: "resistor2.1"},
		plan.Join{Terminal: "resistor2.2", To: "board.GND"})
	node, rail := n.Node("resistor2.1"), n.RailNode("5V")
	v := planned(t, n.PieceOf(node))[0]
	for most, want := range map[bool]float64{false: 0.475, true: 0.525} {
		volts, of := v.Against(node, rail, 0.5, most)
		assert.InEpsilon(t, want, volts/of, 1e-4)
		assert.InDelta(t, 5.25, of, 1e-6, "what it is off by grows with the rail")
	}
	_, of := v.Against(circuit.Ground, circuit.Node(9999), 0.5, true)
	assert.Zero(t, of)
}

// The same build on another voltage of its supply is the build whose document says so; at 0 V
// everything that is held is at ground.
func TestAnotherVoltageOfTheSupply(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		doc := randomBuild(t, "compact-5v")
		n, to := wiring.Build(lib, doc), rapid.Float64Range(3.4, 5.5).Draw(t, "volts")
		changed := doc.Clone()
		changed.Volts = to
		set := wiring.Settings{}
		for i := range n.Controls {
			set[n.Controls[i].Of] = n.Controls[i].Text(pick(t, "setting", n.Controls[i].Planned))
		}
		state, err := n.Resolve(set)
		require.NoError(t, err)
		fed, want, off := n.With(wiring.Feed(to)), wiring.Build(lib, changed), n.With(wiring.Feed(0))
		for _, place := range places(doc) {
			x, errX := fed.Volts(state, place, "board.GND")
			y, errY := want.Volts(state, place, "board.GND")
			require.Equal(t, errY == nil, errX == nil, "%s: %v %v", place, errX, errY)
			require.InDelta(t, y.Typ, x.Typ, 1e-6, place)
			if z, err := off.Volts(state, place, "board.GND"); err == nil {
				require.InDelta(t, 0, z.Typ, 1e-3, place) // what leaks is no more
			}
		}
	})
}
