package rig_test

import (
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
	"cablaggio/core/testkit"
)

// wired is a build on the 5 V board after some edits.
func wired(t testing.TB, edits ...plan.Edit) *wiring.Network {
	t.Helper()
	doc, _, err := plan.Apply(lib, build.New("in time", "classic-5v"), edits)
	require.NoError(t, err)
	return wiring.Build(lib, doc)
}

// timed is a rig of it whose capacitors take their time.
func timed(t testing.TB, net *wiring.Network) *hand {
	h := at(t, net)
	h.Timed()
	return h
}

// until lets the world go on to a time, event by event, and returns when an input read
// otherwise than before.
func (h *hand) until(end int64, pin string) (turns []int64) {
	was := h.level(pin)
	for {
		next := h.Next()
		if next > end {
			h.at = end
			h.Happen(end)
			return turns
		}
		h.at = next
		h.Happen(next)
		if is := h.level(pin); is != was {
			turns, was = append(turns, next), is
		}
	}
}

const ms = int64(1e6)

// wires joins terminals, two by two.
func wires(pairs ...string) (edits []plan.Edit) {
	for i := 0; i < len(pairs); i += 2 {
		edits = append(edits, plan.Join{Terminal: build.Terminal(pairs[i]), To: build.Terminal(pairs[i+1])})
	}
	return edits
}

// Contacts that bounce into the hookups with a capacitor, against ngspice: the voltage at the
// pin within 0.5 % of the supply at twenty times, for random hands.
func TestBounceIntoACapacitorAgainstSpice(t *testing.T) {
	rng := rand.New(rand.NewPCG(5, 6))
	var cases []testkit.Timed
	var got [][]float64
	for _, hookup := range []string{"ground-pull-up-debounced", "ground-internal-pull-up-debounced"} {
		net := wired(t, plan.Add{Kind: "button", Hookup: hookup, Pin: "D4"}, plan.Add{Kind: "led", Pin: "D7"})
		for range 12 {
			h := timed(t, net)
			h.mode("D4", machine.PulledUp)
			h.until(400*ms, "D4") // to its rest
			begin := h.at
			button, piece := h.control("button1"), h.Piece(net.Board.Number("D4"))
			state := make(wiring.State, len(piece.Controls))
			for i, c := range piece.Controls {
				state[i] = h.Setting(c)
			}
			node := net.Node(build.Pin("D4"))
			x := testkit.Timed{Circuit: piece.Circuit(state, nil), Seconds: 60e-3, Full: 5}
			x.Node = local(t, piece, node, state, slices.Index(piece.Controls, button))
			var moves []rig.Move
			for k, from := 0, 0.0; k < 8 && from < 50e-3; k++ {
				from += math.Pow(10, -4+2.5*rng.Float64())
				to := []float64{wiring.Closed, wiring.Open}[k%2]
				moves = append(moves, rig.Move{At: begin + int64(from*1e9), Control: button, To: to})
				was := piece.Circuit(state, nil).Elements
				state[slices.Index(piece.Controls, button)] = to
				for i, e := range piece.Circuit(state, nil).Elements {
					if e.Open != was[i].Open {
						x.Throws = append(x.Throws, testkit.Throw{At: from, Element: i, Open: e.Open})
					}
				}
			}
			h.Plan(moves)
			var volts []float64
			for k := 1; k <= 20; k++ {
				h.until(begin+int64(x.Seconds*1e9*float64(k)/20), "D4")
				volts = append(volts, h.Volts(node, h.at))
			}
			cases, got = append(cases, x), append(got, volts)
		}
	}
	testkit.TransientsAgainstSpice(t, cases)
	for i, x := range cases { // which is how the rig goes on, too
		want, err := x.Run()
		require.NoError(t, err)
		assert.InDeltaSlice(t, want, got[i], 5e-3*x.Full, "case %d", i)
	}
}

// local finds the node of a piece's circuit that is a node of the network: the one that has its
// voltage whether the contact is closed or open.
func local(t testing.TB, p *wiring.Piece, node circuit.Node, state wiring.State, contact int) circuit.Node {
	t.Helper()
	found := map[circuit.Node]int{}
	for _, to := range []float64{wiring.Closed, wiring.Open} {
		s := append(wiring.State{}, state...)
		s[contact] = to
		want, err := p.At(s)
		require.NoError(t, err)
		c := p.Circuit(s, nil)
		var sol circuit.Solution
		require.NoError(t, circuit.NewSolver(c).Solve(&sol))
		for n := 1; n < c.Nodes(); n++ {
			if math.Abs(sol.V[n]-want.Typical(node)) < 1e-6 {
				found[circuit.Node(n)]++
			}
		}
	}
	for n, times := range found {
		if times == 2 {
			return n
		}
	}
	require.Fail(t, "no such node")
	return 0
}

// A pin with a duty, through 10 kΩ into 10 µF, gives a voltage: its average is the duty's share of
// the supply, and its ripple duty × (1 − duty) × period ÷ RC of it (the charge of a capacitor).
func TestADutyBecomesAVoltage(t *testing.T) {
	net := wired(t, append([]plan.Edit{plan.Add{Kind: "resistor", Value: "resistance", Text: "10k"}, plan.Add{Kind: "capacitor", Value: "capacitance", Text: "10 µF"}},
		wires("board.D9", "resistor1.1", "resistor1.2", "capacitor1.1", "capacitor1.1", "board.A0", "capacitor1.2", "board.GND")...)...)
	node := net.Node(build.Pin("A0"))
	for _, duty := range []float64{0.2, 0.5, 0.9} {
		h := timed(t, net)
		h.Set(net.Board.Number("D9"), machine.Drive{Mode: machine.Driven, Duty: duty, Hertz: 490}, 1)
		low, high, sum, n := 5.0, 0.0, 0.0, 0
		for h.at < 1600*ms {
			h.until(h.at+ms/10, "A0")
			if h.at > 1200*ms {
				v := h.Volts(node, h.at)
				low, high, sum, n = min(low, v), max(high, v), sum+v, n+1
			}
		}
		assert.InDelta(t, 5*duty, sum/float64(n), 0.02, "duty %g", duty)
		assert.InEpsilon(t, 5*duty*(1-duty)/490/(10e3*10e-6), high-low, 0.15, "duty %g", duty)
		assert.InDelta(t, sum/float64(n)/5, h.Reading(net.Board.Number("A0"), h.at), 0.02)
	}
}

// A capacitor that is discharged and let go charges through its resistor: the pin reads high
// after RC·ln(V ÷ (V − threshold)), which is how a resistance is measured with a digital pin
// (the charge of a capacitor through a resistor).
func TestAResistanceIsTimed(t *testing.T) {
	net := wired(t, append([]plan.Edit{plan.Add{Kind: "resistor", Value: "resistance", Text: "47k"}, plan.Add{Kind: "capacitor", Value: "capacitance", Text: "1 µF"}},
		wires("board.D4", "resistor1.1", "board.D4", "capacitor1.1", "resistor1.2", "board.5V", "capacitor1.2", "board.GND")...)...)
	h := timed(t, net)
	h.drive("D4", false)
	assert.Empty(t, h.until(20*ms, "D4"))
	h.mode("D4", machine.LetGo)
	begin := h.at
	turns := h.until(300*ms, "D4")
	require.Len(t, turns, 1)
	vih := net.Board.Logic.VIH.At(5)
	assert.InEpsilon(t, 47e3*1e-6*math.Log(5/(5-vih)), float64(turns[0]-begin)/1e9, 0.01)
	assert.EqualValues(t, machine.Never, h.Next(), "nothing happens any more")
}

// What a pin pulses is seen by the pin that it is wired to, edge by edge, for the share of the
// time that is its duty, whatever that is; and by nobody where nobody looks.
func TestADutyIsSeenByAnInput(t *testing.T) {
	net := wired(t, append([]plan.Edit{plan.Add{Kind: "resistor", Value: "resistance", Text: "1k"}},
		wires("board.D9", "resistor1.1", "resistor1.2", "board.D4")...)...)
	for _, duty := range []float64{0.25, 0.75} {
		h := timed(t, net)
		h.Set(net.Board.Number("D9"), machine.Drive{Mode: machine.Driven, Duty: duty, Hertz: 100}, 1)
		assert.EqualValues(t, machine.Never, h.Next(), "nobody looks")
		turns := h.until(1000*ms, "D4")
		require.InDelta(t, 200, len(turns), 1)
		assert.InDelta(t, 10*float64(ms), turns[2]-turns[0], 1000)
		up := float64(turns[1]-turns[0]) / float64(10*ms) // it begins high
		assert.InDelta(t, 1-duty, up, 1e-3)
	}
}

// A lamp behind a capacitor fades, and comes to its rest; the way there is told in steps.
func TestALampFades(t *testing.T) {
	net := wired(t, append([]plan.Edit{plan.Add{Kind: "led", Pin: "D7"}, plan.Add{Kind: "electrolytic", Value: "capacitance", Text: "1000 µF"}},
		wires("electrolytic1.plus", "led1.anode", "electrolytic1.minus", "board.GND")...)...)
	h := timed(t, net)
	lamp := h.actor("led1")
	h.drive("D7", true)
	h.until(3000*ms, "D7")
	acts := lamp.Acts
	require.Greater(t, len(acts), 8)
	for i := 1; i < len(acts); i++ {
		assert.GreaterOrEqual(t, acts[i].Amps, acts[i-1].Amps, "it gets brighter")
	}
	rest := at(t, net)
	rest.drive("D7", true)
	amps, _ := rest.Through(rest.actor("led1"))
	assert.InEpsilon(t, amps, acts[len(acts)-1].Amps, 0.01)
	assert.Less(t, acts[1].Amps, amps/10)
	assert.EqualValues(t, machine.Never, h.Next())
}

// A coil's current rises as 1 − e^(−t·R ÷ L), and dies away through its diode, faster than by itself,
// when the transistor lets go (the charge of a coil through a resistor).
func TestACoilTakesItsTime(t *testing.T) {
	net := wired(t, plan.Add{Kind: "relay", Pin: "D7"})
	relay := net.Doc.Part("relay1")
	still := at(t, net)
	still.drive("D7", true)
	comes, _ := still.Through(still.actor("relay1"))
	require.Greater(t, comes, 0.02)
	h := timed(t, net)
	h.drive("D7", true)
	on := h.at
	tau := rig.ValueOf(net, relay, "inductance") / rig.ValueOf(net, relay, "resistance")
	h.until(on+int64(20*tau*1e9), "D7")
	h.drive("D7", false)
	off := h.at
	h.until(off+int64(20*tau*1e9), "D7")
	rises, falls := 0, 0
	for _, a := range h.actor("relay1").Acts {
		switch since := float64(a.At-off) / 1e9 / tau; {
		case a.At > off && a.Amps > comes/1000:
			falls++
			assert.Less(t, a.Amps, comes*math.Exp(-since), "the diode takes a part of the voltage")
			assert.Greater(t, a.Amps, comes*math.Exp(-1.5*since))
		case a.At > on && a.At <= on+int64(6*tau*1e9):
			rises++
			assert.InEpsilon(t, comes*-math.Expm1(-float64(a.At-on)/1e9/tau), a.Amps, 0.01)
		}
	}
	assert.Greater(t, rises, 3)
	assert.Positive(t, falls)
	assert.EqualValues(t, machine.Never, h.Next())
}
