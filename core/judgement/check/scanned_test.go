package check_test

import (
	"fmt"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
)

// scanned is lamps between pins that are one of the outputs each, with a resistor at every pin that
// goes high: lamp i has its anode at highs[i] and its cathode at lows[i].
func scanned(highs, lows []string, open bool) *build.Document {
	doc := build.New("scanned", "classic-5v")
	nets := map[string][]build.Terminal{}
	for i := range highs {
		id := fmt.Sprintf("led%d", i+1)
		doc.Parts = append(doc.Parts, build.Part{ID: id, Kind: "led", Type: "red", Name: id, Signals: []build.Signal{
			{Name: "high", Needs: board.DigitalOut, Pin: highs[i], Drive: part.Drive{Open: open}},
			{Name: "low", Needs: board.DigitalOut, Pin: lows[i], Drive: part.Drive{Open: open, Active: part.ActiveLow}},
		}})
		nets[highs[i]] = append(nets[highs[i]], build.Of(id, "anode"))
		nets[lows[i]] = append(nets[lows[i]], build.Of(id, "cathode"))
	}
	for pin, legs := range nets {
		if !slices.Contains(highs, pin) {
			doc.Nets = append(doc.Nets, append(legs, build.Pin(pin)))
			continue
		}
		id := "resistor" + strings.TrimPrefix(pin, "D")
		doc.Parts = append(doc.Parts, build.Part{ID: id, Kind: "resistor", Name: id, Values: map[string]float64{"resistance": 220}})
		doc.Nets = append(doc.Nets, append(legs, build.Of(id, "2")), []build.Terminal{build.Pin(pin), build.Of(id, "1")})
	}
	return doc
}

// Lamps in rows and columns, or between any two pins that are let go between, are told apart exactly
// where no two have both pins alike: then each can be lit with all others dark, by one pin that is
// high and one that is low (common practice). No lamp is said to stay dark, none to be the wrong way
// round.
func TestScannedLampsAreToldApart(t *testing.T) {
	pins := []string{"D2", "D4", "D7", "D8", "D12", "D13"}
	rapid.Check(t, func(t *rapid.T) {
		open := rapid.Bool().Draw(t, "between any two")
		n := rapid.IntRange(2, 5).Draw(t, "lamps")
		var highs, lows []string
		for range n {
			var a, b int
			if open {
				a = rapid.IntRange(0, 2).Draw(t, "high")
				b = (a + rapid.IntRange(1, 2).Draw(t, "low")) % 3
			} else { // rows are the first three, columns the others
				a, b = rapid.IntRange(0, 1).Draw(t, "row"), 3+rapid.IntRange(0, 2).Draw(t, "column")
			}
			highs, lows = append(highs, pins[a]), append(lows, pins[b])
		}
		var alike []string
		for i := range n {
			for k := range i {
				if highs[i] == highs[k] && lows[i] == lows[k] {
					alike = append(alike, fmt.Sprintf("led%d led%d", k+1, i+1))
				}
			}
		}
		doc := scanned(highs, lows, open)
		a, err := check.Check(lib, doc)
		require.NoError(t, err)
		shared := 0
		for _, f := range a.Findings {
			switch f.Rule {
			case "pin-shared":
				shared++
			case "led-dark":
				t.Fatalf("%v %v: %s", highs, lows, f.Title)
			}
		}
		require.Equal(t, len(alike) > 0, shared > 0, "%v %v: %v", highs, lows, alike)
	})
}
