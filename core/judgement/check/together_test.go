package check_test

import (
	"encoding/json"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	"cablaggio/demo"
)

func loadOf(t *testing.T, a *check.Analysis, id string) check.Quantity {
	t.Helper()
	for _, l := range a.Loads {
		if l.ID == id {
			return l.Carries
		}
	}
	require.Fail(t, "no such load", id)
	return check.Quantity{}
}

func raised(a *check.Analysis, rule string) (n int) {
	for _, x := range a.Findings {
		if x.Rule == rule {
			n++
		}
	}
	return n
}

// Lamps that take turns are not added up: two alike carry what one does.
func TestTurnsAreNotAddedUp(t *testing.T) {
	lamp := plan.Add{Kind: "led", Type: "red"}
	one := loadOf(t, analyse(t, edited(t, "classic-5v", lamp)), "pins").Typ
	both := loadOf(t, analyse(t, edited(t, "classic-5v", lamp, lamp)), "pins").Typ
	turns := loadOf(t, analyse(t, edited(t, "classic-5v", lamp, lamp, plan.Turns{Part: "led2", With: "led1"})), "pins").Typ
	assert.InEpsilon(t, 2*one, both, 1e-6)
	assert.InEpsilon(t, one, turns, 1e-6)
}

// The average of a dimmed lamp at half duty is half of its peak.
func TestPeakAndAverage(t *testing.T) {
	a := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "led", Hookup: "dimmed"}))
	peak := quantityOf(t, a, "led1", "current")
	half := quantityOf(t, a, "led1", "average at 50 % duty")
	assert.InEpsilon(t, peak.Typ/2, half.Typ, 1e-9)
	require.NotNil(t, a.Pins[0].Average)
	plain := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "led"}))
	assert.Nil(t, plain.Pins[0].Average)
}

// The margins of a pulled-up button: what is left between its levels and the
// thresholds of the chip in the worst corner.
func TestMargins(t *testing.T) {
	a := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "button"}))
	up, down := a.Pins[0].Inputs[0], a.Pins[0].Inputs[1]
	require.Equal(t, check.ReadsHigh, up.Reads)
	require.Equal(t, check.ReadsLow, down.Reads)
	assert.Equal(t, "margin to the voltage that is reliably high", up.Margin.Name)
	assert.InDelta(t, 0.3*4.75, down.Margin.Typ, 0.1, "VIL is 0.3 VCC, and the pin is at ground")
	assert.InDelta(t, 35e3, up.Ohms.Typ, 500)
	assert.Less(t, down.Ohms.Typ, 1.0)
}

// A wider tolerance of the supply widens what is read of a voltage, and not of a
// part of the supply.
func TestRatiometricReadingsDoNotCareForTheSupply(t *testing.T) {
	pot := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "potentiometer"})).Pins[0].Inputs[1]
	sensor := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "temperature-sensor"})).Pins[0].Inputs[1]
	assert.Contains(t, []string{"510 – 511 – 512", "511 – 511 – 512", "510 – 511 – 513", "511 – 511 – 511"}, pot.Counts)
	assert.NotEqual(t, sensor.Counts[:3], sensor.Counts[len(sensor.Counts)-3:])
}

// What a keypad costs without diodes, and that diodes or letting go cure it.
func TestTwoKeysAtOnce(t *testing.T) {
	testkit.Slow(t)
	for hookup, bad := range map[string]bool{"rows-pushed": true, "rows-driven-diodes": false, "rows-driven": false, "columns-driven": false} {
		a := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "keypad-4x3", Hookup: hookup}))
		assert.Equal(t, bad, raised(a, "pin-current") > 0, "%s: %v", hookup, titles(a))
	}
}

// 74HC outputs: eight lamps at 5 mA each are 40 mA through the package.
func TestThePackageOfARegister(t *testing.T) {
	edits := []plan.Edit{plan.Add{Kind: "shift-register-latched"}}
	for range 8 {
		edits = append(edits, plan.Add{Kind: "led", Hookup: "on-register"})
	}
	a := analyse(t, edited(t, "classic-5v", edits...))
	all := quantityOf(t, a, "shift-register-latched1", "all outputs")
	one := quantityOf(t, a, "led1", "current")
	assert.InEpsilon(t, 8*one.Typ, all.Typ, 1e-6)
	assert.Less(t, one.High, 0.0061, "a lamp on a register is planned for what its output is recommended for")
	assert.Zero(t, a.Counts.Stop+a.Counts.Care, "%v", titles(a))
}

// The same fault by hand and by plan is the same finding: rules read the
// circuit, not how it came about.
func TestHowItCameAboutDoesNotMatter(t *testing.T) {
	planned := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "led", Hookup: "no-resistor"}))
	byHand := analyse(t, edited(t, "classic-5v", plan.Add{Kind: "led"},
		plan.Free{Terminal: "led1.anode"}, plan.Join{Terminal: "led1.anode", To: "board.D4"}))
	assert.Equal(t, 1, raised(planned, "led-current"))
	assert.Equal(t, 1, raised(byHand, "led-current"))
	assert.InEpsilon(t, quantityOf(t, planned, "led1", "current").Typ, quantityOf(t, byHand, "led1", "current").Typ, 1e-6)
}

// What is remembered changes no answer, whatever was checked before.
func TestAMemoryGivesTheSameAnswers(t *testing.T) {
	m := check.NewMemory()
	want := map[string]string{}
	for range 2 {
		for _, d := range demo.Builds() {
			doc, err := lib.Parse(d.Data)
			require.NoError(t, err)
			got, err := m.Check(lib, doc)
			require.NoError(t, err)
			if want[d.Name] == "" {
				data, err := json.Marshal(analyse(t, doc))
				require.NoError(t, err)
				want[d.Name] = string(data)
			}
			data, err := json.Marshal(got)
			require.NoError(t, err)
			assert.Equal(t, want[d.Name], string(data), d.Name)
		}
	}
}

// What is wrong with one of two supplies is mended without taking the other away,
// unless it is that one.
func TestFixesKeepTheOtherSupply(t *testing.T) {
	doc := edited(t, "classic-5v", plan.Add{Kind: "led"}, plan.Supply{Supply: "vin", Text: "15", With: "usb"})
	a := analyse(t, doc)
	require.Equal(t, 1, raised(a, "supply-input"), "%v", titles(a))
	x := a.Findings[0]
	assert.Contains(t, x.Title, "Jack or VIN gets 15.0 V")
	after, _, err := plan.Apply(lib, doc, x.Fixes[0].Edits)
	require.NoError(t, err)
	assert.Equal(t, "usb", after.Also)
	assert.Zero(t, raised(analyse(t, after), "supply-input"))

	doc = edited(t, "classic-5v", plan.Add{Kind: "led"}, plan.Supply{Supply: "usb", With: "vin"})
	for range 9 {
		doc = applied(t, doc, plan.Add{Kind: "led"})
	}
	for _, x := range analyse(t, doc).Findings {
		if x.Rule == "regulator-heat" {
			assert.Contains(t, x.Title, "Jack or VIN alone: ")
			assert.Equal(t, "Unplug jack or VIN", x.Fixes[0].Label)
			return
		}
	}
	assert.Fail(t, "the second supply's regulator is hot")
}

// Fed at two places, a build has the findings and the loads that each of them
// gives alone, and none besides.
func TestTwoSuppliesAreEachLookedAt(t *testing.T) {
	testkit.Slow(t)
	files, err := filepath.Glob("testdata/rules/*/raises-*.json")
	require.NoError(t, err)
	seen := map[string]bool{}
	for _, file := range files {
		doc := read(t, file)
		profile, _ := lib.Board(doc.Board)
		if len(profile.Supplies) < 2 || seen[filepath.Dir(file)] {
			continue
		}
		seen[filepath.Dir(file)] = true
		fed := func(first, second string) *check.Analysis {
			d := doc.Clone()
			d.Supply, d.Also, d.Volts, d.Cells = first, second, 0, nil
			return analyse(t, d)
		}
		found := func(all ...*check.Analysis) map[string]bool {
			ids := map[string]bool{}
			for _, a := range all {
				for _, x := range a.Findings {
					for _, id := range append([]string{x.ID}, x.Also...) {
						ids[id] = x.Rule != "two-supplies"
					}
				}
			}
			delete(ids, "two-supplies")
			return ids
		}
		a, b := profile.Supplies[0].ID, profile.Supplies[1].ID
		both, one, other := fed(a, b), fed(a, ""), fed(b, "")
		assert.Equal(t, found(one, other), found(both), file)
		assert.Equal(t, loadOf(t, one, "supply"), loadOf(t, both, "supply"), file)
		assert.Equal(t, loadOf(t, other, "supply"), loadOf(t, both, "supply-also"), file)
	}
	assert.Greater(t, len(seen), 20)
}
