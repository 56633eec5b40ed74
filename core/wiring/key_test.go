package wiring_test

import (
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/build"
	"cablaggio/core/plan"
	"cablaggio/core/testkit"
	"cablaggio/core/wiring"
)

// Pieces with the same key have the same solutions; a value that changes gives
// another key.
func TestPiecesWithTheSameKeyAreAlike(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		doc := build.New("random", "classic-5v")
		for range rapid.IntRange(2, 7).Draw(t, "steps") {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = after
			}
		}
		n, m := wiring.Build(lib, doc), wiring.Build(lib, doc)
		known := map[string]*wiring.Piece{}
		for _, p := range append(n.Pieces, m.Pieces...) {
			q, ok := known[p.Key()]
			if !ok {
				known[p.Key()] = p
				continue
			}
			states := 0
			for s := range p.States() {
				if states++; states > 8 {
					break
				}
				a, err := p.Solve(s)
				require.NoError(t, err)
				b, err := q.Solve(s)
				require.NoError(t, err)
				moved := b.On(p)
				for _, i := range p.Elements {
					assert.Equal(t, a.Amps(i), moved.Amps(i), p.Describe(s))
				}
			}
		}
	})
	key := func(ohms string) string {
		n := network(t, "classic-5v", plan.Edit{Op: plan.Add, Kind: "led"}, plan.Edit{Op: plan.Value, Part: "led1-resistor", Value: "resistance", Text: ohms})
		return n.Pieces[0].Key()
	}
	assert.Equal(t, key("330"), key("330"))
	assert.NotEqual(t, key("330"), key("331"))
}

// Outputs that take turns are one piece with one control: none, or one of them.
func TestTurns(t *testing.T) {
	n := network(t, "classic-5v", plan.Edit{Op: plan.Add, Kind: "led"}, plan.Edit{Op: plan.Add, Kind: "led"}, plan.Edit{Op: plan.Turns, Part: "led2", With: "led1"})
	require.Len(t, n.Pieces, 1)
	p := n.Pieces[0]
	require.Len(t, p.Controls, 1)
	lit := func(s wiring.State) (on []string) {
		solved, err := p.Solve(s)
		require.NoError(t, err)
		for _, l := range n.Lamps {
			if solved.Amps(l.Element).Typ > 1e-3 {
				on = append(on, l.Name)
			}
		}
		return on
	}
	var all [][]string
	for s := range p.States() {
		all = append(all, lit(s))
	}
	assert.Equal(t, [][]string{nil, {"red LED 1"}, {"red LED 2"}}, all)
}

// A key at each crossing; of a row that is driven low one at a time a pressed key
// pulls its column low, and no other column.
func TestAKeypadReadsItsKeys(t *testing.T) {
	for _, hookup := range []string{"rows-driven", "rows-driven-diodes"} {
		n := network(t, "classic-5v", plan.Edit{Op: plan.Add, Kind: "keypad-4x3", Hookup: hookup})
		var columns []build.Terminal
		for _, s := range n.Doc.Parts[0].Signals {
			if s.Pull != "" {
				columns = append(columns, build.Pin(s.Pin))
			}
		}
		require.Len(t, columns, 3)
		p := n.PieceOf(n.Node(columns[0]))
		seen := 0
		for s := range p.States() {
			turn, key := 0, 0
			for i, c := range p.Controls {
				switch n.Controls[c].Kind {
				case wiring.Turn:
					turn = s[i]
				case wiring.Contact:
					key = s[i]
				}
			}
			if turn == 0 || key == 0 || key > 12 {
				continue // single keys, with some row driven
			}
			row, column := (key-1)/3+1, (key-1)%3
			solved, err := p.Typical(s)
			require.NoError(t, err)
			for c, pin := range columns {
				volts := solved.Volts(n.Node(pin)).Typ
				if c == column && row == turn {
					assert.Less(t, volts, 1.0, "%s %s", hookup, p.Describe(s))
					seen++
				} else {
					assert.Greater(t, volts, 4.0, "%s %s", hookup, p.Describe(s))
				}
			}
		}
		assert.Equal(t, 12, seen, hookup)
	}
}

// The slope of a reading by what is measured: 10 mV a degree for a sensor that
// says so, and for an NTC what the B equation gives, U·R·B/T² ÷ 4 at half the
// supply.
func TestSensitivity(t *testing.T) {
	slope := func(setting int, edits ...plan.Edit) float64 {
		n := network(t, "classic-5v", edits...)
		node := n.Node(build.Pin("A0"))
		p := n.PieceOf(node)
		i := 0
		for s := range p.States() {
			if i == setting {
				for c, control := range n.Controls {
					if len(control.Levels) > 0 {
						v, err := p.Sensitivity(s, c, node)
						require.NoError(t, err)
						return v
					}
				}
			}
			i++
		}
		return 0
	}
	assert.InEpsilon(t, 0.010, slope(1, plan.Edit{Op: plan.Add, Kind: "temperature-sensor"}), 0.01)
	want := 5.0 / 4 * 3950 / (298.15 * 298.15)
	assert.InEpsilon(t, want, slope(1, plan.Edit{Op: plan.Add, Kind: "thermistor"}, plan.Edit{Op: plan.Value, Part: "thermistor1-sense", Value: "resistance", Text: "10k"}), 0.01)
}

// A coil's current goes on when its switch opens: with a diode it lifts the
// transistor to the supply and a forward voltage, without one as high as it can.
func TestTheKickOfACoil(t *testing.T) {
	kick := func(hookup string) float64 {
		n := network(t, "classic-5v", plan.Edit{Op: plan.Add, Kind: "relay", Hookup: hookup})
		coil, transistor := n.Find(wiring.Body, "relay1", ""), n.Find(wiring.Body, "relay1-transistor", "")
		p := n.PieceWith(coil)
		for s := range p.States() {
			solved, err := p.Typical(s)
			require.NoError(t, err)
			if solved.Amps(coil).Typ < 1e-6 {
				return p.Kick(s, coil, 0.07, transistor)
			}
		}
		return 0
	}
	assert.InDelta(t, 5+0.8, kick("npn"), 0.15)
	assert.Greater(t, kick("npn-no-diode"), 100.0)
}

// A 3.3 V rail that is fed from a 3.7 V cell, and a USB rail that is dead then.
func TestRailsFollowTheSupply(t *testing.T) {
	n := network(t, "slim-3v3", plan.Edit{Op: plan.Supply, Supply: "vsys", Cells: "lithium-18650", Count: 1})
	assert.Zero(t, n.RailVolts("VBUS").Typ)
	assert.InDelta(t, 3.3, n.RailVolts("3V3").Typ, 1e-9)
	n = network(t, "wireless-3v3", plan.Edit{Op: plan.Supply, Supply: "5v", Text: "4.8"})
	assert.InDelta(t, 4.8, n.RailVolts("5V").Typ, 1e-9)
}

// A setting is named by what is set and how, and no two have the same name.
func TestSettingsHaveNames(t *testing.T) {
	for name, doc := range ready.Builds(t, lib) {
		n := wiring.Build(lib, doc)
		for i, c := range n.Controls {
			for k, s := range c.Settings {
				got, err := n.Settings([]string{c.Of + "=" + s})
				require.NoError(t, err)
				want := make([]int, len(n.Controls))
				want[i] = k
				assert.Equal(t, want, got, "%s: %s=%s", name, c.Of, s)
			}
		}
		_, err := n.Settings([]string{"nothing=on"})
		assert.ErrorContains(t, err, "is not a setting")
	}
}
