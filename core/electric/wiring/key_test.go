package wiring_test

import (
	"fmt"
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

// Outputs that take turns are one piece with one control: none, or one of them.
func TestTurns(t *testing.T) {
	n := network(t, "classic-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "led"}, plan.Turns{Part: "led2", With: "led1"})
	require.Len(t, n.Pieces, 1)
	p := n.Pieces[0]
	lit := func(solved *wiring.Solved) (on []string) {
		for _, l := range n.Lamps {
			if solved.Amps(l.Element).Typ > 1e-3 {
				on = append(on, l.Name)
			}
		}
		return on
	}
	var all [][]string
	for _, s := range planned(t, p) {
		all = append(all, lit(s))
	}
	assert.Equal(t, [][]string{nil, {"red LED 1"}, {"red LED 2"}}, all)
}

// A key at each crossing; of a row that is driven low one at a time a pressed key
// pulls its column low, and no other column.
func TestAKeypadReadsItsKeys(t *testing.T) {
	testkit.Slow(t)
	for _, hookup := range []string{"rows-driven", "rows-driven-diodes"} {
		n := network(t, "classic-5v", plan.Add{Kind: "keypad-4x3", Hookup: hookup})
		var rows []string
		var columns []build.Terminal
		for _, s := range n.Doc.Parts[0].Signals {
			if s.Pull != "" {
				columns = append(columns, build.Pin(s.Pin))
			} else {
				rows = append(rows, s.Pin)
			}
		}
		require.Len(t, columns, 3)
		for key := range 12 {
			for active := range rows {
				settings := wiring.Settings{"keypad-4x31": fmt.Sprintf("row %d column %d", key/3+1, key%3+1)}
				for i, pin := range rows {
					settings[pin] = "let go"
					if i == active {
						settings[pin] = "low"
					}
				}
				at, err := n.Resolve(settings)
				require.NoError(t, err)
				for c, pin := range columns {
					v, err := n.Volts(at, pin, "board.GND")
					require.NoError(t, err)
					if c == key%3 && active == key/3 {
						assert.Less(t, v.High, 1.0, "%s %v", hookup, settings)
					} else {
						assert.Greater(t, v.Low, 3.5, "%s %v", hookup, settings)
					}
				}
			}
		}
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
		s := planned(t, p)[setting]
		v, err := s.Sensitivity(slices.IndexFunc(n.Controls, func(c wiring.Control) bool { return c.Kind == wiring.Level }), node)
		require.NoError(t, err)
		return v
	}
	assert.InEpsilon(t, 0.010, slope(1, plan.Add{Kind: "temperature-sensor"}), 0.01)
	want := 5.0 / 4 * 3950 / (298.15 * 298.15)
	assert.InEpsilon(t, want, slope(1, plan.Add{Kind: "thermistor"}, plan.Value{Part: "thermistor1-sense", Value: "resistance", Text: "10k"}), 0.01)
}

// A coil's current goes on when its switch opens: with a diode it lifts the
// transistor to the supply and a forward voltage, without one as high as it can;
// into a capacitor to I·√(L/C) above the supply at most (the energy of the one in
// the other; every textbook).
func TestTheKickOfACoil(t *testing.T) {
	kick := func(hookup string, more ...plan.Edit) (volts, amps float64) {
		n := network(t, "classic-5v", append([]plan.Edit{plan.Add{Kind: "relay", Hookup: hookup}}, more...)...)
		coil, transistor := n.Find(wiring.Body, "relay1", ""), n.Find(wiring.Body, "relay1-transistor", "")
		var on, off *wiring.Solved
		for _, s := range planned(t, n.PieceWith(coil)) {
			if s.TypicalAmps(coil) < 1e-6 {
				off = s
			} else {
				on = s
			}
		}
		return off.Kick(on, transistor), on.TypicalAmps(coil)
	}
	withDiode, _ := kick("npn")
	assert.InDelta(t, 5+0.8, withDiode, 0.15)
	without, _ := kick("npn-no-diode")
	assert.Greater(t, without, 100.0)
	snubbed, amps := kick("npn-no-diode",
		plan.Add{Kind: "capacitor", Value: "capacitance", Text: "10u"},
		plan.Join{Terminal: "capacitor1.1", To: "relay1.1"}, plan.Join{Terminal: "capacitor1.2", To: "relay1.2"})
	assert.Greater(t, snubbed, 5.5)
	assert.Less(t, snubbed, 5+amps*math.Sqrt(0.06/9e-6))
}

// A 3.3 V rail that is fed from a 3.7 V cell, and a USB rail that is dead then.
func TestRailsFollowTheSupply(t *testing.T) {
	n := network(t, "slim-3v3", plan.Supply{Supply: "vsys", Cells: "lithium-18650", Count: 1})
	assert.Zero(t, n.RailVolts("VBUS").Typ)
	assert.InDelta(t, 3.3, n.RailVolts("3V3").Typ, 1e-9)
	n = network(t, "wireless-3v3", plan.Supply{Supply: "5v", Text: "4.8"})
	assert.InDelta(t, 4.8, n.RailVolts("5V").Typ, 1e-9)
}
