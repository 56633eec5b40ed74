package rig_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/machine"
)

// sounding is a board with a buzzer of a kind on it, wired in a way.
func sounding(t require.TestingT, kind, hookup string) *hand {
	doc, _, err := plan.Apply(lib, build.New("sound", "classic-5v"), []plan.Edit{plan.Add{Kind: kind, Hookup: hookup, Pin: "D4"}})
	require.NoError(t, err)
	h := at(t, wiring.Build(lib, doc))
	h.Timed()
	return h
}

// amps is what goes through an actor by now.
func (h *hand) amps(part string) float64 {
	acts := h.actor(part).Acts
	return acts[len(acts)-1].Amps
}

// over lets what happens by itself happen up to a time.
func (h *hand) over(to int64) {
	for next := h.Next(); next <= to; next = h.Next() {
		h.Happen(next)
	}
	h.at = to
}

// wave turns a pin over by hand for so many periods, with so long a half each.
func (h *hand) wave(pin string, half int64, periods int) {
	for range periods {
		for _, level := range []bool{true, false} {
			h.over(h.at + half)
			h.drive(pin, level)
		}
	}
}

// tones are those that an actor gave, one after the other.
func (h *hand) tones(part string) (out []float64) {
	for _, x := range h.actor(part).Acts {
		if x.Hertz > 0 && (len(out) == 0 || out[len(out)-1] != x.Hertz) {
			out = append(out, x.Hertz)
		}
	}
	return out
}

// A pin that is turned over by hand gives the tone that its halves are of, as long as it goes on.
func TestATonePlayedByHandIsHeard(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		hookup := rapid.SampledFrom([]string{"direct", "resistor-at-pin"}).Draw(t, "hookup")
		hertz := float64(rapid.IntRange(40, 6000).Draw(t, "hertz"))
		h := sounding(t, "buzzer", hookup)
		half := int64(0.5e9 / hertz)
		h.wave("D4", half, 60)
		heard := h.tones("buzzer1")
		if assert.Len(t, heard, 1) {
			assert.InDelta(t, hertz, heard[0], 0.03*hertz+1)
		}
		h.over(h.at + 10*half + 100e6)
		acts := h.actor("buzzer1").Acts
		assert.Zero(t, acts[len(acts)-1].Hertz, "it ends")
		assert.Less(t, len(acts), 30, "a tone is one act, and not one for each half")
	})
}

// What goes over more slowly than anybody hears as a tone is none.
func TestWhatIsSlowIsNoTone(t *testing.T) {
	for _, hertz := range []float64{1, 4, 12, 18} {
		h := sounding(t, "buzzer", "direct")
		h.wave("D4", int64(0.5e9/hertz), 12)
		assert.Empty(t, h.tones("buzzer1"), "%g Hz", hertz)
	}
}

// Another tone is heard as another, and the pin's own PWM as what it is.
func TestTonesFollowOneAnother(t *testing.T) {
	h := sounding(t, "buzzer", "resistor-at-pin")
	h.wave("D4", 1e6, 40)
	h.wave("D4", 0.5e6, 40)
	heard := h.tones("buzzer1")
	require.NotEmpty(t, heard)
	assert.InDelta(t, 500, heard[0], 16)
	assert.InDelta(t, 1000, heard[len(heard)-1], 31)
	h.over(h.at + 200e6)
	h.Set(h.Network().Board.Number("D4"), machine.Drive{Mode: machine.Driven, Duty: 0.5, Hertz: 880}, h.at)
	h.over(h.at + 50e6)
	heard = h.tones("buzzer1")
	assert.InDelta(t, 880, heard[len(heard)-1], 1e-9)
}

// A buzzer with its own tone sounds while it is fed the right way round, and with less than it begins
// with it is silent; no tone is heard of how often it is switched.
func TestABuzzerWithItsOwnTone(t *testing.T) {
	for _, hookup := range []string{"direct", "mosfet", "npn"} {
		h := sounding(t, "buzzer-active", hookup)
		a := h.actor("buzzer-active1")
		h.drive("D4", false)
		assert.Less(t, h.amps("buzzer-active1"), a.On, hookup)
		h.drive("D4", true)
		assert.GreaterOrEqual(t, h.amps("buzzer-active1"), a.On, hookup)
		h.wave("D4", 1e6, 20)
		assert.Empty(t, h.tones("buzzer-active1"), "how often it is switched is no tone: %s", hookup)
	}
	doc, _, err := plan.Apply(lib, build.New("sound", "classic-5v"), []plan.Edit{plan.Add{Kind: "buzzer-active", Hookup: "direct", Pin: "D4"}})
	require.NoError(t, err)
	for i := range doc.Nets { // turned round
		for k, leg := range doc.Nets[i] {
			switch leg {
			case "buzzer-active1.1":
				doc.Nets[i][k] = "buzzer-active1.2"
			case "buzzer-active1.2":
				doc.Nets[i][k] = "buzzer-active1.1"
			}
		}
	}
	h := at(t, wiring.Build(lib, doc))
	h.drive("D4", true)
	assert.Zero(t, h.amps("buzzer-active1"), "what flows backwards makes no sound")
}
