package board_test

import (
	"errors"
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
)

func ExampleThreshold_At() {
	fraction := board.Threshold{Fraction: 0.6}
	volts := board.Threshold{Volts: 2}
	fmt.Println(fraction.At(5), volts.At(5))
	// Output: 3 2
}

func find(t *testing.T, id string) *board.Profile {
	t.Helper()
	boards := board.Shipped()
	i := slices.IndexFunc(boards, func(p *board.Profile) bool { return p.ID == id })
	require.GreaterOrEqual(t, i, 0, id)
	return boards[i]
}

// count returns how many pins have a function.
func count(p *board.Profile, f board.Function) (n int) {
	for _, pin := range p.Pins {
		if pin.Has(f) {
			n++
		}
	}
	return n
}

// What everybody knows of these classes of boards (common practice).
func TestTheShippedBoards(t *testing.T) {
	for _, c := range []struct {
		id                           string
		digital, analog, pwm, places int
		rail                         string
	}{
		{"classic-5v", 20, 6, 6, 32, "5V"},
		{"compact-5v", 20, 8, 6, 30, "5V"},
		{"large-5v", 70, 16, 15, 86, "5V"},
		{"classic-layout-3v3", 20, 6, 6, 32, "3V3"},
		{"slim-3v3", 26, 3, 26, 40, "3V3"},
		{"wireless-3v3", 21, 6, 21, 30, "3V3"},
	} {
		p := find(t, c.id)
		assert.Equal(t, c.digital, count(p, board.DigitalOut), "%s: digital outputs", c.id)
		assert.Equal(t, c.analog, count(p, board.AnalogIn), "%s: analog inputs", c.id)
		assert.Equal(t, c.pwm, count(p, board.PWMOut), "%s: PWM", c.id)
		assert.Equal(t, c.rail, p.Logic.Rail, c.id)
		places := 0
		for _, h := range p.Headers {
			places += len(h.Places)
		}
		assert.Equal(t, c.places, places, "%s: places on the headers", c.id)
	}
	assert.Len(t, board.Shipped(), 6)
}

func TestEveryPinHasOnePlace(t *testing.T) {
	for _, p := range board.Shipped() {
		at := map[string]int{}
		for _, h := range p.Headers {
			for _, place := range h.Places {
				at[place]++
			}
		}
		for _, pin := range p.Pins {
			assert.Equal(t, 1, at[pin.Name], "%s %s", p.ID, pin.Name)
		}
		assert.Positive(t, at[p.Ground], "%s has no ground on its headers", p.ID)
		assert.Positive(t, at[p.Logic.Rail], "%s has no %s on its headers", p.ID, p.Logic.Rail)
	}
}

func TestNumbersHangTogether(t *testing.T) {
	for _, p := range board.Shipped() {
		rail, ok := p.Rail(p.Logic.Rail)
		require.True(t, ok)
		assert.Less(t, p.Logic.VIL.At(rail.Volts.High), p.Logic.VIH.At(rail.Volts.Low), "%s: the thresholds overlap", p.ID)
		assert.Less(t, p.Logic.VIH.At(rail.Volts.High), rail.Volts.High, "%s: no voltage reads as high", p.ID)
		assert.LessOrEqual(t, p.Logic.Pin.Absolute, p.Logic.Total.Absolute, "%s: one pin more than all", p.ID)
		assert.Equal(t, float64(int(1)<<p.Logic.Analog.Bits-1), p.Logic.Analog.Full())
		supply, ok := p.Supply("")
		require.True(t, ok)
		assert.Less(t, p.Appetite.High, supply.Limit.Recommended, "%s: the board alone is too much", p.ID)
		_, ok = p.Supply("wind")
		assert.False(t, ok)
		_, ok = p.Rail("12V")
		assert.False(t, ok)
		_, ok = p.Pin("D99")
		assert.False(t, ok)
	}
}

// Boards carry descriptive names of our own, and everything says its source.
func TestProvenance(t *testing.T) {
	for _, p := range board.Shipped() {
		assert.True(t, strings.HasSuffix(p.Name, "board"), p.Name)
		for _, source := range []string{p.Logic.High.Source, p.Logic.Low.Source, p.Logic.VIL.Source, p.Logic.VIH.Source,
			p.Logic.Pin.Source, p.Logic.Total.Source, p.Logic.Analog.Source, p.Appetite.Source} {
			assert.True(t, strings.Contains(source, "memory") || strings.Contains(source, "USB 2.0"), "%s: %q", p.ID, source)
		}
		for _, pin := range p.Pins {
			if pin.Own != nil {
				assert.True(t, strings.HasSuffix(pin.Own.Effect, "."), "%s %s: a sentence", p.ID, pin.Name)
			}
		}
	}
}

func FuzzParse(f *testing.F) {
	f.Add(`{"format":"cablaggio.board/1"}`)
	f.Add(`{"format":"cablaggio.board/1","id":"x","name":"x","ground":"GND","rails":[],"supplies":[]}`)
	f.Fuzz(func(t *testing.T, s string) {
		p, err := board.Parse(strings.NewReader(s))
		if err == nil && (p.ID == "" || len(p.Supplies) == 0) {
			t.Fatalf("taken without an id or a supply: %s", s)
		}
		var wrong board.Problems
		if err != nil && (!errors.As(err, &wrong) || len(wrong) == 0) {
			t.Fatalf("refused without a problem: %v", err)
		}
	})
}

// What a regulator lets through: all that it makes while it has enough, its drop less below that,
// and of a switching one nothing where it has too little.
func TestRailsFollowTheSupply(t *testing.T) {
	for _, x := range []struct {
		board, supply, rail string
		fed, volts          float64
	}{
		{"classic-5v", "vin", "5V", 9, 5}, {"classic-5v", "vin", "5V", 5, 3.9}, {"classic-5v", "vin", "3V3", 9, 3.3}, {"classic-5v", "vin", "3V3", 4, 2.9},
		{"classic-5v", "vin", "5V", 0.5, 0}, {"classic-5v", "vin", "VIN", 7.5, 7.5}, {"classic-5v", "usb", "5V", 4.4, 4.4}, {"classic-5v", "usb", "3V3", 4.4, 3.3},
		{"slim-3v3", "vsys", "3V3", 2, 3.3}, {"slim-3v3", "vsys", "3V3", 1.7, 0}, {"slim-3v3", "vsys", "VBUS", 3.7, 0}, {"slim-3v3", "usb", "3V3", 0, 0},
	} {
		b := find(t, x.board)
		s, ok := b.Supply(x.supply)
		require.True(t, ok)
		assert.InDelta(t, x.volts, s.RailAt(b.Rails, x.rail, x.fed), 1e-9, "%v", x)
	}
}
