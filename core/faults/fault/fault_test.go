package fault_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/judgement/check"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
	"cablaggio/core/testkit/ready"
)

var lib = build.Shipped()

func list(t testing.TB, doc *build.Document) []fault.Fault {
	t.Helper()
	p, err := placement.Place(lib, doc)
	require.NoError(t, err)
	return fault.List(lib, doc, p)
}

func named(t testing.TB, all []fault.Fault, id string) *fault.Fault {
	t.Helper()
	for i := range all {
		if all[i].ID == id {
			return &all[i]
		}
	}
	t.Fatal("no fault " + id)
	return nil
}

// Every fault has its words, its place and its cure; what the same puts right is seen alike;
// and a build with it is a build.
func TestEveryFaultIsWhole(t *testing.T) {
	for _, name := range []string{"dusk", "colours", "keypad", "tram-stop", "seedling-shelf"} {
		doc := ready.Build(t, lib, name)
		ids, sights := map[string]bool{}, map[string]string{}
		last := 1e9
		for _, f := range list(t, doc) {
			assert.False(t, ids[f.ID], "%s is there twice", f.ID)
			ids[f.ID] = true
			for _, text := range []string{f.Words, f.Look, f.Sight} {
				assert.Regexp(t, `^[A-Z0-9].*\.$`, text, f.ID)
				assert.NotContains(t, text, "%!", f.ID)
			}
			if s, ok := sights[f.Cure]; ok && f.Seen() {
				assert.Equal(t, s, f.Sight, "%s is put right as another is, and seen otherwise", f.ID)
			} else if f.Seen() {
				sights[f.Cure] = f.Sight
			}
			assert.Positive(t, f.Common(), f.ID)
			for _, id := range f.Parts {
				assert.NotNil(t, doc.Part(id), "%s is of %s", f.ID, id)
			}
			assert.LessOrEqual(t, f.Common(), last, "the most common come first")
			last = f.Common()
			if with, ok := f.Apply(doc); ok {
				assert.NoError(t, lib.Validate(with), f.ID)
				assert.NotEqual(t, fmt.Sprint(doc.Nets, doc.Parts, doc.Volts), fmt.Sprint(with.Nets, with.Parts, with.Volts), "%s changes nothing", f.ID)
			}
		}
	}
}

// What was plugged in wrongly is what the nets say that a hand would make.
func TestWhatFaultsDo(t *testing.T) {
	doc := ready.Build(t, lib, "tram-stop")
	all := list(t, doc)
	joined := func(id string, a, b build.Terminal) bool {
		t.Helper()
		with, ok := named(t, all, id).Apply(doc)
		require.True(t, ok, id)
		return with.Joined(a, b)
	}
	assert.True(t, joined("turned:led3", "led3.anode", "board.GND"))
	assert.True(t, joined("turned:led3", "led3.cathode", "led3-resistor.2"))
	assert.False(t, joined("open:led1.anode", "led1.anode", "led1-resistor.2"))
	assert.True(t, joined("shorted:led1-resistor", "led1.anode", "board.D4"))
	assert.True(t, joined("touch:potentiometer1.1:potentiometer1.wiper", "board.A1", "board.GND"))
	for _, f := range all {
		if f.Kind == fault.Crossed {
			with, _ := f.Apply(doc)
			assert.True(t, with.Joined("board.5V", "led1.cathode"), "minus is plus")
			assert.True(t, with.Joined("board.GND", "led4-resistor.1"), "and plus is minus")
		}
	}
	with, _ := named(t, all, "value:led1-resistor:1800").Apply(doc)
	assert.Equal(t, 1800.0, with.Part("led1-resistor").Values["resistance"])
	with, _ = named(t, all, "swapped:led1-resistor:light-resistor1-sense").Apply(doc)
	assert.Equal(t, 2200.0, with.Part("led1-resistor").Values["resistance"])
	assert.Equal(t, 180.0, with.Part("light-resistor1-sense").Values["resistance"])

	rgb := list(t, ready.Build(t, lib, "colours"))
	with, ok := named(t, rgb, "case:led-rgb-cathode1:led-rgb-anode").Apply(ready.Build(t, lib, "colours"))
	require.True(t, ok)
	assert.Equal(t, "led-rgb-anode", with.Part("led-rgb-cathode1").Kind)
}

// A button that is turned joins its two wires where they lie on one side, and changes nothing
// where they lie crosswise.
func TestAButtonTurned(t *testing.T) {
	for id, always := range map[string]bool{"hold": true, "toggle": false} {
		doc := ready.Build(t, lib, id)
		with, ok := named(t, list(t, doc), "quarter:button1").Apply(doc)
		require.True(t, ok)
		pin := doc.Part("button1").Signals[0].Pin
		assert.Equal(t, always, with.Joined(build.Pin(pin), "board.GND"), id)
	}
}

// What is wrong in the program changes what the pins are set to, not the wiring.
func TestFaultsOfTheProgram(t *testing.T) {
	doc := ready.Build(t, lib, "tram-stop")
	all := list(t, doc)
	net := wiring.Build(lib, doc)
	meant := wiring.Settings{"D4": "high", "D5": "low"}
	for id, want := range map[string]wiring.Settings{
		"inverted:D4":              {"D4": "low", "D5": "low"},
		"unset:D4":                 {"D4": "pulled up", "D5": "low"},
		"dead:D4":                  {"D4": "let go", "D5": "low"},
		"mixed:D4:D5":              {"D4": "low", "D5": "high"},
		"no-pull:D2":               {"D2": "let go", "D4": "high", "D5": "low"},
		"turned:led3":              meant,
		"value:led1-resistor:1800": meant,
	} {
		f := named(t, all, id)
		assert.Equal(t, want, f.Under(net, meant), id)
		if _, ok := f.Apply(doc); strings.HasPrefix(id, "dead") || f.InProgram() {
			assert.False(t, ok, "%s is not of a build", id)
		}
	}
	unloaded := named(t, all, "unloaded").Under(net, meant)
	assert.Equal(t, "let go", unloaded["D4"])
	_, err := net.Resolve(unloaded)
	assert.NoError(t, err)
}

func TestNowAndThen(t *testing.T) {
	all := list(t, ready.Build(t, lib, "blink"))
	n := 0
	for i := range all {
		g, ok := all[i].NowAndThen()
		if !ok {
			continue
		}
		n++
		assert.True(t, g.Sometimes())
		assert.Contains(t, []fault.Kind{fault.Open, fault.NoWire}, all[i].Kind)
		_, ok = g.Apply(ready.Build(t, lib, "blink"))
		assert.False(t, ok, "a build is not so now and then")
	}
	assert.Greater(t, n, 4)
}

// The meter looks for what differs, once.
func TestDistinct(t *testing.T) {
	all := list(t, ready.Build(t, lib, "tram-stop"))
	few := fault.Distinct(all)
	same := map[string]bool{}
	for i := range few {
		assert.False(t, same[few[i].Same()], few[i].ID)
		same[few[i].Same()] = true
		assert.True(t, few[i].Metered())
	}
	assert.Less(t, len(few), len(all))
}

// The faults of random builds can be listed, put into the network, and looked at by the check.
func TestRandomBuilds(t *testing.T) {
	random := rapid.Custom(func(t *rapid.T) *build.Document {
		doc := build.New("random", rapid.SampledFrom([]string{"classic-5v", "slim-3v3"}).Draw(t, "board"))
		for range rapid.IntRange(1, 5).Draw(t, "edits") {
			if next, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = next
			}
		}
		return doc
	})
	for seed := range testkit.Few(12, 600) {
		doc := random.Example(seed)
		p, err := placement.Place(lib, doc)
		if err != nil {
			p = nil // it is measured at the legs
		}
		all := fault.List(lib, doc, p)
		net := wiring.Build(lib, doc)
		for i := 0; i < len(all); i += 1 + len(all)/5 {
			f := &all[i]
			assert.NotPanics(t, func() { f.In(net, wiring.Unpowered()) }, f.ID)
			if with, ok := f.Apply(doc); ok {
				require.NoError(t, lib.Validate(with), f.ID)
				_, err := check.Check(lib, with)
				assert.NoError(t, err, f.ID)
			}
		}
	}
}
