package rig_test

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
	_ "cablaggio/core/testkit/drawn"
	"cablaggio/starts"
)

var lib = build.Shipped()

// ready is the network of a ready build.
func ready(t testing.TB, id string) *wiring.Network {
	t.Helper()
	for _, s := range starts.All() {
		if s.ID == id {
			doc, err := lib.Parse(s.Data)
			require.NoError(t, err)
			return wiring.Build(lib, doc)
		}
	}
	t.Fatal("no such build: " + id)
	return nil
}

// A hand is at a rig: it knows pins and parts by their names.
type hand struct {
	*rig.Rig
	t  require.TestingT
	at int64
}

func at(t require.TestingT, net *wiring.Network) *hand { return &hand{Rig: rig.New(net), t: t} }

func (h *hand) drive(pin string, level bool) {
	h.at++
	h.Set(h.Network().Board.Number(pin), machine.Drive{Mode: machine.Driven, Level: level}, h.at)
}

func (h *hand) mode(pin string, m machine.Mode) {
	h.at++
	h.Set(h.Network().Board.Number(pin), machine.Drive{Mode: m}, h.at)
}

func (h *hand) level(pin string) bool { return h.Level(h.Network().Board.Number(pin), h.at) }

func (h *hand) control(of string) int {
	for i, c := range h.Network().Controls {
		if c.Of == of && c.Kind != wiring.Mode {
			return i
		}
	}
	require.Fail(h.t, "no control of "+of)
	return 0
}

func (h *hand) actor(part string) *rig.Actor {
	for i := range h.Actors {
		if h.Actors[i].Part.ID == part {
			return &h.Actors[i]
		}
	}
	require.Fail(h.t, "nothing acts in "+part)
	return nil
}

// A button between a pin and ground, held up inside, reads high; pressed, it reads low.
func TestAButtonIsRead(t *testing.T) {
	h := at(t, ready(t, "button"))
	h.mode("D4", machine.PulledUp)
	assert.True(t, h.level("D4"))
	h.Plan([]rig.Move{{At: 2000, Control: h.control("button1"), To: wiring.Open}, {At: 1000, Control: h.control("button1"), To: wiring.Closed}})
	assert.EqualValues(t, 1000, h.Next(), "the first in time comes first")
	h.Happen(1000)
	assert.False(t, h.level("D4"))
	assert.EqualValues(t, 2000, h.Next())
	h.Happen(2000)
	assert.True(t, h.level("D4"))
	assert.EqualValues(t, machine.Never, h.Next())
}

// The current through a lamp is that of Ohm's law over its resistor; with a duty, it is the
// duty's share of it.
func TestALampFollowsItsPin(t *testing.T) {
	net := ready(t, "button")
	h := at(t, net)
	lamp := h.actor("led1")
	h.drive("D7", false)
	off, _ := h.Through(lamp)
	assert.Less(t, off, 1e-6)
	h.drive("D7", true)
	full, hertz := h.Through(lamp)
	assert.Zero(t, hertz)
	assert.Greater(t, full, rig.OnAmps)
	assert.InDelta(t, full, h.Most, 1e-5, "the pins carry what the lamp takes")
	for _, duty := range []float64{0, 0.25, 0.8, 1} {
		h.at++
		h.Set(net.Board.Number("D7"), machine.Drive{Mode: machine.Driven, Duty: duty, Hertz: 490}, h.at)
		amps, hertz := h.Through(lamp)
		assert.InDelta(t, duty*full+(1-duty)*off, amps, 1e-9, "duty %g", duty)
		assert.Equal(t, 490.0, hertz)
	}
	assert.GreaterOrEqual(t, len(lamp.Acts), 4)
	h.drive("D7", false)
	last := lamp.Acts[len(lamp.Acts)-1].At
	assert.Equal(t, last, lamp.At(last+5).At, "it stays as it was last")
	assert.Positive(t, lamp.Changes(0, last))
	assert.Zero(t, lamp.Changes(last+1, last+100))
}

// A knob between the rails gives its part of the way as its part of the full scale (the voltage
// divider).
func TestAKnobIsRead(t *testing.T) {
	net := ready(t, "dimmer")
	h := at(t, net)
	knob := h.control("potentiometer1")
	c := net.Controls[knob]
	pin := net.Board.Number("A0")
	last := -1.0
	for k := range 11 {
		h.Turn(knob, c.Least+(c.Most-c.Least)*float64(k)/10)
		h.Settle()
		got := h.Reading(pin, h.at)
		assert.Greater(t, got, last, "it grows as the knob turns")
		last = got
	}
	h.Turn(knob, c.Least)
	assert.InDelta(t, 0, h.Reading(pin, h.at), 0.01)
	h.Turn(knob, c.Most)
	assert.InDelta(t, 1, h.Reading(pin, h.at), 0.01)
	h.Turn(knob, (c.Least+c.Most)/2)
	assert.InDelta(t, 0.5, h.Reading(pin, h.at), 0.02)
}

// A pin that nothing is wired to reads what it drives, or what it is held to; let go, it hums.
func TestAPinWithNothingAtIt(t *testing.T) {
	h := at(t, ready(t, "button"))
	const pin = "D9"
	require.Nil(t, h.Piece(h.Network().Board.Number(pin)))
	assert.Equal(t, -1, h.ControlOf(h.Network().Board.Number(pin)))
	assert.Equal(t, -1, h.ControlOf(-1))
	h.mode(pin, machine.PulledUp)
	assert.True(t, h.level(pin))
	h.drive(pin, false)
	assert.False(t, h.level(pin))
	h.drive(pin, true)
	assert.True(t, h.level(pin))
	h.mode(pin, machine.LetGo)
	seen := map[bool]int{}
	for range 40 {
		h.at += 3e6
		h.Happen(h.at)
		seen[h.level(pin)]++
	}
	assert.Len(t, seen, 2, "it is now high, now low")
	assert.Zero(t, h.Reading(200, h.at), "of no pin")
}

// With noise what floats is drawn: the same from the same source, another from another.
func TestNoiseIsDrawn(t *testing.T) {
	listen := func(seed uint64, touched bool) (heard []bool) {
		h := at(t, ready(t, "button"))
		h.Noise(rand.New(rand.NewPCG(seed, 0)))
		pin := h.Network().Board.Number("D9")
		if touched {
			h.Touch(pin, 0)
		}
		for k := range int64(400) {
			h.Happen(k * 1e6)
			heard = append(heard, h.Level(pin, h.at))
		}
		return heard
	}
	assert.Equal(t, listen(1, false), listen(1, false))
	assert.NotEqual(t, listen(1, false), listen(2, false))
	high := 0
	for _, is := range listen(3, true) {
		if is {
			high++
		}
	}
	assert.InDelta(t, 200, high, 80, "with a hand near it, half of the time it is high")
}

// A chain of two registers takes over what its data was at each rising edge of the clock, eight
// edges later the second has it, and shows it when the latch rises (JEDEC JESD7 class): for any
// sequence of edges it is what a shift register of sixteen bits would show.
func TestRegistersAreShiftRegisters(t *testing.T) {
	net := ready(t, "register")
	rapid.Check(t, func(t *rapid.T) {
		h := at(t, net)
		pins := []string{"GP0", "GP1", "GP2"} // data, clock, latch
		var levels [3]bool
		for _, pin := range pins {
			h.drive(pin, false)
		}
		var shift, shown [16]bool
		for _, which := range rapid.SliceOfN(rapid.IntRange(0, 2), 20, 120).Draw(t, "edges") {
			levels[which] = !levels[which]
			h.drive(pins[which], levels[which])
			if levels[which] && which == 1 {
				copy(shift[1:], shift[:15])
				shift[0] = levels[0]
			}
			if levels[which] && which == 2 {
				shown = shift
			}
		}
		for k, want := range shown {
			of := "shift-register-latched1."
			if k >= 8 {
				of = "shift-register-latched2."
			}
			out := of + "q" + string(rune('a'+k%8))
			for i, c := range net.Controls {
				if c.Of == out {
					require.Equal(t, want, h.Setting(i) == wiring.High, "output %d of 16", k)
				}
			}
		}
	})
}

// Whatever hands and pins do, no level is another than the circuit's, and the same steps lead
// to the same state.
func TestTheSameStepsLeadToTheSame(t *testing.T) {
	net := ready(t, "button")
	rapid.Check(t, func(t *rapid.T) {
		steps := rapid.SliceOf(rapid.IntRange(0, 5)).Draw(t, "steps")
		run := func() (seen []bool, most float64) {
			h := at(t, net)
			for _, s := range steps {
				switch s {
				case 0, 1:
					h.Turn(h.control("button1"), float64(s))
					h.Settle()
				case 2:
					h.mode("D4", machine.PulledUp)
				case 3:
					h.mode("D4", machine.LetGo)
				default:
					h.drive("D7", s == 4)
				}
				seen = append(seen, h.level("D4"), h.level("D7"))
				if h.Setting(h.control("button1")) == wiring.Closed {
					require.False(t, h.level("D4"), "it is at ground")
				}
			}
			return seen, h.Most
		}
		a, most := run()
		b, again := run()
		require.Equal(t, a, b)
		require.InDelta(t, most, again, 1e-12)
	})
}

func TestPinName(t *testing.T) {
	net := ready(t, "button")
	assert.Equal(t, "D4", rig.PinName(net, 4))
	assert.Equal(t, "pin 79", rig.PinName(net, 79))
	assert.Zero(t, rig.ValueOf(net, nil, "bounce"))
	assert.Zero(t, rig.ValueOf(net, net.Doc.Part("button1"), "no such value"))
	assert.Positive(t, rig.BounceOf(net, net.Doc.Part("button1")))
}
