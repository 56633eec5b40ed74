package fault_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit/ready"
)

// Of a few driven pins any two may be exchanged, of many the neighbours; and those that are not
// neighbours are together no likelier than those that are.
func TestPinsThatAreExchanged(t *testing.T) {
	for _, lamps := range []int{1, 2, 3, 5, 8, 9, 12} {
		doc := build.New("lamps", "large-5v")
		for range lamps {
			next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "led"}})
			if !assert.NoError(t, err) {
				return
			}
			doc = next
		}
		net := wiring.Build(lib, doc)
		pairs, beside, apart := map[string]bool{}, 0.0, 0.0
		for _, f := range fault.List(lib, doc, nil) {
			if f.Kind != fault.PinsMixed {
				continue
			}
			two := strings.Split(f.ID, ":")[1:]
			pairs[f.ID] = true
			// What the program means for the one goes to the other, and back.
			meant := wiring.Settings{two[0]: "high", two[1]: "low"}
			assert.Equal(t, wiring.Settings{two[0]: "low", two[1]: "high"}, f.Under(net, meant), f.ID)
			assert.Len(t, f.Parts, 2, f.ID)
			if f.Common() == 3 {
				beside += f.Common()
			} else {
				apart += f.Common()
			}
		}
		want := lamps * (lamps - 1) / 2
		if lamps > 8 {
			want = lamps - 1
		}
		assert.Len(t, pairs, want, "%d lamps", lamps)
		assert.LessOrEqual(t, apart, beside, "%d lamps", lamps)
	}
}

// What the supply can lack: every rail that is used, the ground, all of it, and of cells what is
// left in them. A second supply goes on feeding.
func TestWhatTheSupplyLacks(t *testing.T) {
	ids := func(change func(*build.Document)) map[string]*fault.Fault {
		doc := ready.Build(t, lib, "tram-stop").Clone()
		change(doc)
		out := map[string]*fault.Fault{}
		all := fault.List(lib, doc, nil)
		for i := range all {
			switch f := &all[i]; f.Kind {
			case fault.NoRail, fault.Unfed, fault.Sagging:
				out[f.ID] = f
			}
		}
		return out
	}
	plain := ids(func(*build.Document) {})
	for _, id := range []string{"no-rail:5V", "no-rail:GND", "unfed"} {
		assert.Contains(t, plain, id)
	}
	assert.NotContains(t, plain, "no-rail:3V3", "nothing hangs on it")
	for id, f := range plain {
		assert.Equal(t, f.Kind == fault.Unfed || f.Kind == fault.Sagging, f.Everywhere(), id)
		assert.Equal(t, f.Kind == fault.NoRail, f.Metered(), id)
	}
	assert.NotContains(t, ids(func(d *build.Document) { d.Also = "vin" }), "unfed")
	empty := ids(func(d *build.Document) { d.Supply, d.Cells = "vin", &build.Cells{Type: "alkaline", Count: 6} })
	found := false
	for _, f := range empty {
		if f.Kind == fault.Sagging {
			found = true
			with, ok := f.Apply(ready.Build(t, lib, "tram-stop"))
			assert.True(t, ok, fmt.Sprint(f.ID))
			assert.InDelta(t, 0.75*6*1.5, with.Volts, 0.5, "three quarters of six fresh cells of 1.5 V")
		}
	}
	assert.True(t, found, "cells that are used up")
}
