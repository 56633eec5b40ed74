package breadboard_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/breadboard"
)

func ExampleParseHole() {
	h, err := breadboard.ParseHole(" E12 ")
	fmt.Println(h, err)
	_, err = breadboard.ParseHole("k3")
	fmt.Println(err)
	// Output:
	// e12 <nil>
	// "k3" is not a hole; e12 is one, and L-7 is the left − rail beside row 7
}

func profile(t *testing.T, id string) *board.Profile {
	for _, b := range board.Shipped() {
		if b.ID == id {
			return b
		}
	}
	t.Fatal("no board " + id)
	return nil
}

// Holes per board (from memory of boards of these classes): 170, 400 and 830.
// Five holes of a half row are a strip, and nothing else of the rows is.
func TestHolesAndStrips(t *testing.T) {
	for id, holes := range map[string]int{"mini": 170, "half": 400, "full": 830, "full-broken": 830} {
		table, err := breadboard.NewTable([]string{id}, profile(t, "classic-5v"), false)
		require.NoError(t, err)
		byStrip := map[breadboard.Strip][]breadboard.Hole{}
		count := 0
		for c := breadboard.A; c <= breadboard.RightMinus; c++ {
			for row := 1; row <= 70; row++ {
				if h := (breadboard.Hole{Column: c, Row: row}); table.Check(h) == nil {
					count++
					byStrip[table.StripOf(h)] = append(byStrip[table.StripOf(h)], h)
				}
			}
		}
		assert.Equal(t, holes, count, id)
		assert.Len(t, byStrip, table.Strips(), id)
		for strip, list := range byStrip {
			if list[0].Column.IsRail() {
				continue
			}
			assert.Len(t, list, 5)
			for k := range 5 {
				h := table.Hole(strip, k)
				assert.Contains(t, list, h)
				assert.Equal(t, list[0].Row, h.Row)
				assert.Equal(t, list[0].Column.Right(), h.Column.Right())
			}
		}
	}
}

func TestARailThatEndsInTheMiddle(t *testing.T) {
	strips := func(id string) map[breadboard.Strip]bool {
		table, err := breadboard.NewTable([]string{id}, profile(t, "classic-5v"), false)
		require.NoError(t, err)
		out := map[breadboard.Strip]bool{}
		for row := 1; row <= 63; row++ {
			if h := (breadboard.Hole{Column: breadboard.LeftMinus, Row: row}); table.Check(h) == nil {
				out[table.StripOf(h)] = true
			}
		}
		return out
	}
	assert.Len(t, strips("full"), 1)
	assert.Len(t, strips("full-broken"), 2)
}

// A board that plugs in takes two columns, covers those between, and leaves
// holes beside each pin.
func TestBoardsThatPlugIn(t *testing.T) {
	for id, left := range map[string][2]int{"compact-5v": {2, 3}, "slim-3v3": {2, 2}, "wireless-3v3": {1, 1}} {
		b := profile(t, id)
		table, err := breadboard.NewTable([]string{"full"}, b, false)
		require.NoError(t, err)
		assert.Len(t, table.Pins(), 2*len(b.Headers[0].Places), id)
		var free [2]int
		for c := breadboard.A; c <= breadboard.J; c++ {
			h := breadboard.Hole{Column: c, Row: 1}
			if !table.Covers(h) {
				if c.Right() {
					free[1]++
				} else {
					free[0]++
				}
			}
			_, pin := table.Pins()[h]
			assert.False(t, pin && !table.Covers(h))
		}
		assert.Equal(t, left, free, id)
		_, err = breadboard.NewTable([]string{"mini"}, b, false)
		if len(b.Headers[0].Places) > 17 {
			assert.ErrorContains(t, err, "takes 20 rows")
		}
	}
}

func TestWhatIsNotThere(t *testing.T) {
	table, err := breadboard.NewTable([]string{"half"}, profile(t, "classic-5v"), false)
	require.NoError(t, err)
	for name, words := range map[string]string{
		"a31": "rows 1 to 30", "L+1": "no hole there", "2.a1": "there is one breadboard", "board.D99": "has no place D99; board.D0 is one", "board.GND/9": "has no place GND/9",
	} {
		e, err := breadboard.ParseEnd(name)
		require.NoError(t, err, name)
		assert.ErrorContains(t, table.CheckEnd(e), words, name)
	}
	for _, name := range []string{"", "12", "e", "e0", "e1000", "x5", "9.e1", "0.e1", "e-1", "board.", "board.GND/1", "L7", "e12e"} {
		_, err := breadboard.ParseEnd(name)
		assert.Error(t, err, name)
	}
	_, err = breadboard.NewTable([]string{"huge"}, profile(t, "classic-5v"), false)
	assert.ErrorContains(t, err, "mini, half, full, full-broken")
	_, err = breadboard.NewTable(nil, profile(t, "classic-5v"), false)
	assert.Error(t, err)
}

// What is read is written back, whatever is typed.
func FuzzParseEnd(f *testing.F) {
	for _, s := range []string{"e12", "L-7", "2.r+30", "board.GND/2", "board.D4", "4.J255", "−", "L−3"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		e, err := breadboard.ParseEnd(s)
		if err != nil {
			return
		}
		again, err := breadboard.ParseEnd(e.String())
		if err != nil || again != e {
			t.Fatalf("%q reads as %v, written %q, and that reads as %v, %v", s, e, e.String(), again, err)
		}
	})
}

// Distances of the trade: 2.54 mm from hole to hole, 7.62 mm across the channel,
// as wide as a dual in-line package (JEDEC MS-001).
func TestDistances(t *testing.T) {
	at := func(name string) breadboard.Point {
		h, err := breadboard.ParseHole(name)
		require.NoError(t, err)
		return h.At()
	}
	assert.InDelta(t, 7.62, at("e1").To(at("f1"))*breadboard.Pitch, 1e-9)
	assert.InDelta(t, 2.54, at("a1").To(at("b1"))*breadboard.Pitch, 1e-9)
	assert.InDelta(t, 2.54, at("L-3").To(at("L-4"))*breadboard.Pitch, 1e-9)
	assert.InDelta(t, 5, at("a1").To(at("d5")), 1e-9, "3, 4, 5")
	assert.Greater(t, at("2.a1").X, at("R-3").X, "breadboards lie side by side")
}

func TestRailsHaveNames(t *testing.T) {
	table, err := breadboard.NewTable([]string{"full-broken", "half"}, profile(t, "classic-5v"), false)
	require.NoError(t, err)
	var names []string
	for _, r := range table.RailStrips() {
		names = append(names, r.Name())
		assert.Equal(t, r.Strip, table.StripOf(table.Hole(r.Strip, 0)))
	}
	assert.Equal(t, []string{
		"upper half of the left + rail", "lower half of the left + rail", "upper half of the left − rail", "lower half of the left − rail",
		"upper half of the right + rail", "lower half of the right + rail", "upper half of the right − rail", "lower half of the right − rail",
		"left + rail of breadboard 2", "left − rail of breadboard 2", "right + rail of breadboard 2", "right − rail of breadboard 2",
	}, names)
}

// Places of one name are several on the headers, and each takes one wire.
func TestPlacesBesideTheBreadboard(t *testing.T) {
	table, err := breadboard.NewTable([]string{"half"}, profile(t, "classic-5v"), false)
	require.NoError(t, err)
	grounds := table.PlacesOf("GND")
	require.Len(t, grounds, 3)
	seen := map[breadboard.Point]bool{}
	for _, p := range grounds {
		e := breadboard.End{Place: p}
		require.NoError(t, table.CheckEnd(e))
		again, err := breadboard.ParseEnd(e.String())
		require.NoError(t, err)
		assert.Equal(t, e, again)
		seen[table.At(e)] = true
		assert.Less(t, table.At(e).X, 0.0, "left of the breadboard")
	}
	assert.Len(t, seen, 3)
	assert.Empty(t, table.PlacesOf("D99"))
	plugged, err := breadboard.NewTable([]string{"half"}, profile(t, "compact-5v"), false)
	require.NoError(t, err)
	e, err := breadboard.ParseEnd("board.D4")
	require.NoError(t, err)
	assert.ErrorContains(t, plugged.CheckEnd(e), "wires go to the holes beside its pins")
	e, err = breadboard.ParseEnd("c1")
	require.NoError(t, err)
	assert.ErrorContains(t, plugged.CheckEnd(e), "the board's pin D13 is in it")
}
