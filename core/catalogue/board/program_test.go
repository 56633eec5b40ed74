package board_test

import (
	"bytes"
	"encoding/json"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
)

// The numbers by which C++ programs know the pins of these classes of boards (common practice:
// where the pins have an A of their own, A0 follows the last digital pin; where they are called
// by the number of the chip's pin, that is the number).
func TestNumbersOfPins(t *testing.T) {
	for _, c := range []struct {
		id, pin string
		number  int
		code    string
	}{
		{"classic-5v", "D0", 0, "0"},
		{"classic-5v", "D13", 13, "13"},
		{"classic-5v", "A0", 14, "A0"},
		{"classic-5v", "A5", 19, "A5"},
		{"large-5v", "D53", 53, "53"},
		{"large-5v", "A0", 54, "A0"},
		{"large-5v", "A15", 69, "A15"},
		{"slim-3v3", "GP26", 26, "26"},
	} {
		p := find(t, c.id)
		assert.Equal(t, c.number, p.Number(c.pin), "%s %s", c.id, c.pin)
		assert.Equal(t, c.code, p.InCode(c.pin), "%s %s", c.id, c.pin)
	}
	assert.Equal(t, -1, find(t, "classic-5v").Number("VIN"))
	assert.Equal(t, -1, find(t, "classic-5v").Number(""))
}

// On each board no two pins have one number, and each is found by its own.
func TestNumbersAreUnlike(t *testing.T) {
	for _, p := range board.Shipped() {
		seen := map[int]string{}
		for _, pin := range p.Pins {
			n := p.Number(pin.Name)
			require.GreaterOrEqual(t, n, 0, "%s %s", p.ID, pin.Name)
			assert.Empty(t, seen[n], "%s: %s has the number of another", p.ID, pin.Name)
			seen[n] = pin.Name
			found, ok := p.Numbered(n)
			assert.True(t, ok)
			assert.Equal(t, pin.Name, found.Name, p.ID)
		}
		_, ok := p.Numbered(-1)
		assert.False(t, ok, p.ID)
	}
}

// What a program finds: boards of 5 V have an int of 16 bits, and no Python; those of 3.3 V an
// int of 32 bits (common practice of these classes). Every price has a source, and its clock is
// right on the average.
func TestWhatAProgramFinds(t *testing.T) {
	for _, p := range board.Shipped() {
		c := p.Programs()
		fiveVolts := strings.Contains(p.ID, "5v")
		assert.Equal(t, map[bool]int{true: 16, false: 32}[fiveVolts], c.Int, p.ID)
		assert.False(t, fiveVolts && c.Python, p.ID)
		assert.NotEmpty(t, c.Costs.Source, p.ID)
		assert.LessOrEqual(t, c.Clock.Low, 1.0, p.ID)
		assert.GreaterOrEqual(t, c.Clock.High, 1.0, p.ID)
		for _, name := range c.Interrupts {
			_, ok := p.Pin(name)
			assert.True(t, ok, "%s: interrupt at %s", p.ID, name)
		}
	}
}

// A board of the builder's own says what a program finds on it, or is refused with what would
// be right.
func TestWhatABoardSaysOfItsPrograms(t *testing.T) {
	whole, err := json.Marshal(find(t, "slim-3v3"))
	require.NoError(t, err)
	for name, c := range map[string]struct {
		change func(map[string]any)
		says   string
	}{
		"as it is":        {func(map[string]any) {}, ""},
		"half an int":     {func(p map[string]any) { p["int"] = 24 }, "16 or 32 bits"},
		"rough readings":  {func(p map[string]any) { p["readBits"] = 2 }, "8 to 16 bits"},
		"no time at all":  {func(p map[string]any) { p["costs"].(map[string]any)["write"] = 0 }, "more than 0 ns"},
		"nobody's prices": {func(p map[string]any) { p["costs"].(map[string]any)["source"] = "" }, "have a source"},
		"free statements": {func(p map[string]any) { p["costs"].(map[string]any)["statement"] = 0 }, "a statement"},
	} {
		var fields map[string]any
		require.NoError(t, json.Unmarshal(whole, &fields))
		if fields["program"] == nil {
			said, err := json.Marshal(find(t, "slim-3v3").Programs())
			require.NoError(t, err)
			var p map[string]any
			require.NoError(t, json.Unmarshal(said, &p))
			fields["program"] = p
		}
		c.change(fields["program"].(map[string]any))
		data, err := json.Marshal(fields)
		require.NoError(t, err)
		_, err = board.Parse(bytes.NewReader(data))
		if c.says == "" {
			assert.NoError(t, err, name)
		} else {
			assert.ErrorContains(t, err, c.says, name)
		}
	}
}

// A pin may have any name: its number for programs stands beside it where the name does not say it,
// and pins that a program could not tell apart are told.
func TestNumbersOfAnyNames(t *testing.T) {
	p := *find(t, "classic-5v")
	p.Pins = slices.Clone(p.Pins)
	assert.Empty(t, p.Unnumbered())
	forty := 40
	p.Pins[0].Name, p.Pins[1].Name = "PA7", "PB7" // as D7
	wrong := p.Unnumbered()
	require.Len(t, wrong, 2)
	assert.Contains(t, wrong[0].Error(), "number 7, as P")
	p.Pins[0].Number = &forty
	assert.Equal(t, 40, p.Number("PA7"))
	assert.Equal(t, "40", p.InCode("PA7"))
	found, ok := p.Numbered(40)
	assert.True(t, ok)
	assert.Equal(t, "PA7", found.Name)
	p.Pins[1].Name = "TX"
	assert.ErrorContains(t, p.Unnumbered(), "its name has none")
}
