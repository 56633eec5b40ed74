package plan_test

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/choose"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
	"cablaggio/core/values/spec"
)

var lib = build.Shipped()

func ExampleApply() {
	doc, words, _ := plan.Apply(build.Shipped(), build.New("lamp", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Type: "red", Name: "pond lamp"},
	})
	fmt.Println(words)
	for _, net := range doc.Nets {
		fmt.Println(net)
	}
	// Output:
	// added pond lamp
	// [board.D4 led1-resistor.1]
	// [led1-resistor.2 led1.anode]
	// [led1.cathode board.GND]
}

func apply(t require.TestingT, doc *build.Document, edits ...plan.Edit) *build.Document {
	after, _, err := plan.Apply(lib, doc, edits)
	require.NoError(t, err)
	return after
}

func TestTheResistorFollowsUntilTheBuilderSetsIt(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led", Type: "red"})
	ohms := func() float64 { return doc.Part("led1-resistor").Values["resistance"] }
	assert.Equal(t, 270.0, ohms())
	doc = apply(t, doc, plan.SetType{Part: "led1", Type: "white"})
	assert.Equal(t, 180.0, ohms(), "a white lamp leaves the resistor less voltage")
	doc = apply(t, doc, plan.Value{Part: "led1", Value: "targetCurrent", Text: "2 mA"})
	assert.Greater(t, ohms(), 800.0)
	doc = apply(t, doc, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "4k7"})
	doc = apply(t, doc, plan.SetType{Part: "led1", Type: "red"})
	assert.Equal(t, 4700.0, ohms(), "the builder's own value stays")
	doc = apply(t, doc, plan.Size{Part: "led1-resistor"})
	assert.NotEqual(t, 4700.0, ohms())
}

// What lies in the drawer is taken first, unless it would leave the lamp far
// from what was wanted.
func TestValuesComeFromTheDrawer(t *testing.T) {
	with := *lib
	add := func(kind string, ohms ...float64) *build.Document {
		with.Resistors = ohms
		doc, _, err := plan.Apply(&with, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: kind}})
		require.NoError(t, err)
		return doc
	}
	lamp := func(ohms ...float64) float64 { return add("led", ohms...).Part("led1-resistor").Values["resistance"] }
	assert.Equal(t, 270.0, lamp())
	assert.Equal(t, 331.5, lamp(331.5, 1000), "a measured value counts as measured")
	assert.Equal(t, 270.0, lamp(10_000), "ten kilohms would leave it faint")
	assert.Equal(t, 270.0, lamp(47), "47 ohms would let too much through")
	divider := func(ohms ...float64) float64 {
		return add("light-resistor", ohms...).Part("light-resistor1-sense").Values["resistance"]
	}
	usual := divider()
	assert.Equal(t, usual*1.3, divider(usual*1.3, usual*30))
	assert.Equal(t, usual, divider(usual*1000), "a far value would use a sliver of the scale")
}

// Two resistors from the drawer are two parts: each is in the parts list and on
// the breadboard, and they stay when the lamp is wired again.
func TestTwoResistorsTogether(t *testing.T) {
	for way, ohms := range map[string]float64{plan.InSeries: 220 + 100, plan.InParallel: 220.0 * 100 / 320} {
		doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led", Type: "red", Pin: "D9"})
		doc = apply(t, doc, plan.Pair{Part: "led1-resistor", Text: "220", With: "100", Value: way})
		alone := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led", Type: "red", Pin: "D9"},
			plan.Value{Part: "led1-resistor", Value: "resistance", Text: fmt.Sprint(ohms)})
		same := func(a, b *build.Document) {
			t.Helper()
			x, err := check.Check(lib, a)
			require.NoError(t, err)
			y, err := check.Check(lib, b)
			require.NoError(t, err)
			assert.InEpsilon(t, y.Parts[0].Quantities[0].Typ, x.Parts[0].Quantities[0].Typ, 1e-6, way)
		}
		require.Len(t, doc.Parts, 3)
		same(doc, alone)
		for _, hookup := range []string{"low-side", "dimmed"} { // wired again, they stay together
			again := plan.Hookup{Part: "led1", Hookup: hookup}
			same(apply(t, doc, again), apply(t, alone, again))
		}
		// A value that is typed is one resistor again, and so is one that is chosen.
		assert.Len(t, apply(t, doc, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "470"}).Parts, 2)
		assert.Len(t, apply(t, doc, plan.Size{Part: "led1-resistor"}).Parts, 2)
		same(apply(t, doc, plan.Size{Part: "led1-resistor"}), apply(t, alone, plan.Size{Part: "led1-resistor"}))
		assert.Len(t, apply(t, doc, plan.Remove{Part: "led1"}).Parts, 0)
		for _, e := range []plan.Edit{plan.Pair{Part: "led1", Text: "1k", With: "1k", Value: way}, plan.Pair{Part: "led1-resistor", Text: "1k", With: "x", Value: way}, plan.Pair{Part: "led1-resistor", Text: "1k", With: "1k"}} {
			_, _, err := plan.Apply(lib, doc, []plan.Edit{e})
			assert.Error(t, err)
		}
	}
}

// Half the lightness is about a fifth of the light (CIE 15:2004: Y = 0.184 at L* = 50).
func TestBrightnessIsTyped(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led", Type: "red"})
	doc = apply(t, doc, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "220"})
	doc = apply(t, doc, plan.Bright{Part: "led1", Text: " 50 % "})
	assert.InEpsilon(t, 0.184*0.02, doc.Part("led1").Values["targetCurrent"], 0.002)
	assert.InDelta(t, 820, doc.Part("led1-resistor").Values["resistance"], 140, "the resistor follows again")
	for _, text := range []string{"", "bright", "0", "101 %", "-5", "NaN"} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Bright{Part: "led1", Text: text}})
		assert.ErrorContains(t, err, "1 % to 100 %", text)
	}
	_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Bright{Part: "led1-resistor", Text: "50"}})
	assert.ErrorContains(t, err, "not a lamp")
}

func TestHookupsReuseWhatFits(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led", Pin: "D9"})
	doc = apply(t, doc, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "1k"})
	doc = apply(t, doc, plan.Hookup{Part: "led1", Hookup: "low-side"})
	assert.Equal(t, 1000.0, doc.Part("led1-resistor").Values["resistance"])
	assert.Equal(t, "D9", doc.Part("led1").Signals[0].Pin)
	assert.True(t, doc.Joined("led1.cathode", "board.D9"))
	assert.True(t, doc.Joined("led1-resistor.1", "board.5V"))
	doc = apply(t, doc, plan.Hookup{Part: "led1", Hookup: "no-resistor"})
	assert.Nil(t, doc.Part("led1-resistor"))
	assert.Len(t, doc.Nets, 2)
}

func TestAWireByHandEndsTheHookup(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led"})
	doc = apply(t, doc, plan.Free{Terminal: "led1.cathode"})
	assert.Empty(t, doc.Part("led1").Hookup)
	require.NotNil(t, doc.Part("led1-resistor"))
	assert.Empty(t, doc.Part("led1-resistor").Of, "the resistor is a part of its own now")
	doc = apply(t, doc, plan.MovePin{Part: "led1", Signal: "drive", Pin: "D8"})
	assert.True(t, doc.Joined("board.D8", "led1-resistor.1"))
	assert.Negative(t, doc.NetOf("board.D4"))
}

func TestMovingToAnotherBoard(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"),
		plan.Add{Kind: "led", Type: "red"}, plan.Add{Kind: "button"},
		plan.Add{Kind: "resistor"}, plan.Join{Terminal: "resistor1.1", To: "board.5V"})
	doc = apply(t, doc, plan.Board{Board: "slim-3v3"})
	assert.True(t, doc.Joined("resistor1.1", "board.3V3"), "the logic's rail stays the logic's rail")
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	assert.Zero(t, a.Counts.Stop+a.Counts.Care, "%v", a.Findings)
}

func TestRefusals(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led"}, plan.Add{Kind: "button"})
	for says, e := range map[string]plan.Edit{
		`no kind of part "laser"`:      plan.Add{Kind: "laser"},
		`no part "led9" any more`:      plan.Remove{Part: "led9"},
		`no pin "D99"`:                 plan.MovePin{Part: "led1", Signal: "drive", Pin: "D99"},
		`no signal "taste"`:            plan.MovePin{Part: "led1", Signal: "taste", Pin: "D5"},
		`write it like 220`:            plan.Value{Part: "led1-resistor", Value: "resistance", Text: "many"},
		`it is between 10 mΩ`:          plan.Value{Part: "led1-resistor", Value: "resistance", Text: "0"},
		`is not possible here`:         plan.Value{Part: "led1-resistor", Value: "resistance", Text: "-220"},
		`no hookup "magic"`:            plan.Hookup{Part: "led1", Hookup: "magic"},
		`joined already`:               plan.Join{Terminal: "led1.cathode", To: "board.GND"},
		`no place "MOON"`:              plan.Join{Terminal: "led1.cathode", To: "board.MOON"},
		`joined to nothing`:            plan.Free{Terminal: "button1.1b"},
		`not just two legs`:            plan.Flip{Part: "button1"},
		`no board "toaster"`:           plan.Board{Board: "toaster"},
		`needs "document"`:             plan.Replace{},
		`belongs to no lamp`:           plan.Size{Part: "led1"},
		`of type "ultra"`:              plan.SetType{Part: "led1", Type: "ultra"},
		`give it a name to find it by`: plan.Title{Name: " "},
	} {
		before, err := json.Marshal(doc)
		require.NoError(t, err)
		_, _, err = plan.Apply(lib, doc, []plan.Edit{plan.Title{Name: "changed"}, e})
		assert.ErrorContains(t, err, says)
		after, err := json.Marshal(doc)
		require.NoError(t, err)
		assert.Equal(t, string(before), string(after), "all or none")
	}
	_, _, err := plan.Apply(lib, doc, make([]plan.Edit, plan.MaxEdits+1))
	assert.Error(t, err)
}

func TestABoardWithoutAFreePinSaysSo(t *testing.T) {
	doc := build.New("t", "classic-5v")
	for range 20 {
		doc = apply(t, doc, plan.Add{Kind: "button"})
	}
	_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "led"}})
	assert.ErrorContains(t, err, "no pin of the Classic 5 V board that can do digital out is free")
}

func TestPinsAreChosenWithCare(t *testing.T) {
	pins := plan.FreePins(lib, build.New("t", "classic-5v"), board.DigitalOut)
	require.Len(t, pins, 20)
	assert.Equal(t, "D4", pins[0].Pin, "no PWM, analog, interrupt or serial pin is wasted")
	assert.Subset(t, []string{"D0", "D1"}, []string{pins[18].Pin, pins[19].Pin}, "the serial pins come last")
	for i := 1; i < len(pins); i++ {
		assert.LessOrEqual(t, pins[i-1].Cost, pins[i].Cost)
	}
}

// Any edits, sensible or not, leave a valid build that can be analysed, or are
// refused whole. Whatever is on offer as a fix can be made.
func TestAnyEditsAreTakenOrRefused(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		doc := build.New("t", rapid.SampledFrom([]string{"classic-5v", "slim-3v3"}).Draw(t, "board"))
		for range rapid.IntRange(1, 12).Draw(t, "steps") {
			e := testkit.RandomEdit(t, lib, doc)
			after, _, err := plan.Apply(lib, doc, []plan.Edit{e})
			if err != nil {
				continue
			}
			t.Logf("%+v", e)
			doc = after
		}
		require.NoError(t, lib.Validate(doc))
		a, err := check.Check(lib, doc)
		require.NoError(t, err)
		for _, x := range a.Findings {
			for _, f := range x.Fixes {
				_, _, err := plan.Apply(lib, doc, f.Edits)
				require.NoError(t, err, "%s: %s", x.Title, f.Label)
			}
		}
	})
}

// add applies edits to an empty build on a board.
func made(t *testing.T, board string, edits ...plan.Edit) *build.Document {
	t.Helper()
	doc, _, err := plan.Apply(lib, build.New("t", board), edits)
	require.NoError(t, err)
	return doc
}

func pinOf(doc *build.Document, part string) string { return doc.Part(part).Signals[0].Pin }

// Assign moves what is badly placed, and nothing that is locked.
func TestAssignKeepsLocks(t *testing.T) {
	add := plan.Add{Kind: "led"}
	doc := made(t, "classic-5v", add, add,
		plan.MovePin{Part: "led1", Signal: "drive", Pin: "A0"},
		plan.Assign{})
	assert.Equal(t, "A0", pinOf(doc, "led1"), "the builder chose it")
	assert.True(t, doc.Part("led1").Signals[0].Locked)
	doc, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Lock{Part: "led1", Signal: "drive"}, plan.Assign{}})
	require.NoError(t, err)
	assert.NotEqual(t, "A0", pinOf(doc, "led1"))
}

func TestSwap(t *testing.T) {
	doc := made(t, "classic-5v", plan.Add{Kind: "led"}, plan.Add{Kind: "button"})
	lamp, button := pinOf(doc, "led1"), pinOf(doc, "button1")
	after, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Swap{Part: "led1", Signal: "drive", Pin: button}})
	require.NoError(t, err)
	assert.Equal(t, button, pinOf(after, "led1"))
	assert.Equal(t, lamp, pinOf(after, "button1"))
	assert.Len(t, after.Nets, len(doc.Nets), "no two nets became one")
	_, _, err = plan.Apply(lib, doc, []plan.Edit{plan.Swap{Part: "led1", Signal: "drive", Pin: "D12"}})
	assert.ErrorContains(t, err, "nothing is on D12")
}

// Lamps on a register stay on their outputs when the register moves, and those
// on a shared resistor when its lamp does.
func TestGuestsStayWhenTheirHostMoves(t *testing.T) {
	doc := made(t, "classic-5v", plan.Add{Kind: "shift-register-latched"},
		plan.Add{Kind: "led", Hookup: "on-register"}, plan.Add{Kind: "led", Hookup: "on-register"})
	require.True(t, doc.Joined("shift-register-latched1.qb", "led2-resistor.1"))
	doc, _, err := plan.Apply(lib, doc, []plan.Edit{plan.MovePin{Part: "shift-register-latched1", Signal: "clock", Pin: "D12"}})
	require.NoError(t, err)
	assert.True(t, doc.Joined("shift-register-latched1.qa", "led1-resistor.1"))
	assert.True(t, doc.Joined("shift-register-latched1.qb", "led2-resistor.1"))
	assert.True(t, doc.Joined("shift-register-latched1.clock", "board.D12"))

	doc = made(t, "classic-5v", plan.Add{Kind: "led", Hookup: "resistor-at-ground"}, plan.Add{Kind: "led", Hookup: "shared-resistor"},
		plan.MovePin{Part: "led1", Signal: "drive", Pin: "D12"})
	assert.True(t, doc.Joined("led2.cathode", "led1-resistor.1"))
	assert.Equal(t, [][]string{{"led1", "led2"}}, doc.Exclusive)
}

// Two registers share clock and latch, and a move takes both along.
func TestABusMovesTogether(t *testing.T) {
	doc := made(t, "classic-5v", plan.Add{Kind: "shift-register-latched"}, plan.Add{Kind: "shift-register-latched", Hookup: "chained"},
		plan.MovePin{Part: "shift-register-latched2", Signal: "clock", Pin: "D12"})
	assert.True(t, doc.Joined("shift-register-latched1.clock", "shift-register-latched2.clock"))
	assert.True(t, doc.Joined("shift-register-latched1.clock", "board.D12"))
	assert.True(t, doc.Joined("shift-register-latched1.serial", "shift-register-latched2.data"))
}

func TestWhatFeedsTheBoard(t *testing.T) {
	doc := made(t, "classic-5v", plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 6})
	assert.Equal(t, &build.Cells{Type: "alkaline-aa", Count: 6}, doc.Cells)
	for _, e := range []plan.Edit{
		plan.Supply{Supply: "vin", Text: "230"}, plan.Supply{Supply: "sun"}, plan.Supply{Supply: "vin", Cells: "potato", Count: 2},
		plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 99}, plan.Supply{Supply: "vin", Text: "nine"},
	} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{e})
		assert.Error(t, err, "%+v", e)
	}
}

// As bright as the other one: the same candela, as near as the series has steps.
func TestAsBrightAsTheOther(t *testing.T) {
	doc := made(t, "classic-5v", plan.Add{Kind: "led", Type: "yellow"}, plan.Add{Kind: "led", Type: "green"},
		plan.Match{Part: "led2", With: "led1"})
	// 0.10 cd against 1 cd at the same current: a tenth of it.
	assert.InEpsilon(t, 0.1, doc.Part("led2").Values["targetCurrent"]/10.4e-3, 0.1)
	for _, e := range []plan.Edit{plan.Match{Part: "led2", With: "led2"}, plan.Match{Part: "led2", With: "led1-resistor"}, plan.Match{Part: "led2", With: "nobody"}} {
		_, _, err := plan.Apply(lib, doc, []plan.Edit{e})
		assert.Error(t, err, "%+v", e)
	}
	_, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "led", Type: "infrared"}, plan.Match{Part: "led3", With: "led1"}})
	assert.ErrorContains(t, err, "the eye sees")
}

// Why a pin, and what another would cost: the price is what the points of all
// pins change by when the edit is made that goes with it.
func TestPricesOfPins(t *testing.T) {
	b, _ := lib.Board("classic-5v")
	for _, start := range []string{"start four", "start light", "demo tram-stop", "start keypad"} {
		doc := ready.Builds(t, lib)[start]
		points := func(doc *build.Document) (sum int) {
			for _, q := range doc.Parts {
				for _, s := range q.Signals {
					i := slices.IndexFunc(choose.Pins(b, choose.Want{Needs: s.Needs}, nil), func(c choose.PinChoice) bool { return c.Pin == s.Pin })
					sum += choose.Pins(b, choose.Want{Needs: s.Needs}, nil)[i].Cost
				}
			}
			return sum
		}
		for i := range doc.Parts {
			q := &doc.Parts[i]
			for _, s := range q.Signals {
				why := plan.WhyPin(lib, doc, q, s)
				assert.Equal(t, s.Pin, why.Here.Pin)
				assert.NotEmpty(t, why.Here.Reasons)
				assert.Len(t, why.Other, len(b.Pins)-1, "every other pin is named once")
				impossible := false
				for k, p := range why.Other {
					assert.NotEmpty(t, p.Reasons, p.Pin)
					assert.False(t, p.Possible && impossible, "what cannot be had comes last")
					impossible = !p.Possible
					if !p.Possible || k%3 != 0 {
						continue
					}
					var edit plan.Edit = plan.MovePin{Part: q.ID, Signal: s.Name, Pin: p.Pin}
					if p.With != "" {
						edit = plan.Swap{Part: q.ID, Signal: s.Name, Pin: p.Pin}
					}
					moved, _, err := plan.Apply(lib, doc, []plan.Edit{edit})
					if assert.NoError(t, err, "%s: %s to %s", start, q.Name, p.Pin) {
						assert.Equal(t, points(doc)+p.Price, points(moved), "%s: %s to %s", start, q.Name, p.Pin)
					}
				}
			}
		}
	}
}

// What is at hand goes along to another board; what is done on this one does not.
func TestWhatGoesToAnotherBoard(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led"}, plan.Stock{Text: "red"}, plan.Reach{Text: "150"}, plan.StepDone{Text: "unplug"}, plan.Board{Board: "slim-3v3"},
	})
	require.NoError(t, err)
	assert.Equal(t, &build.Assembly{Stock: &build.WireStock{Colours: []string{"red"}}, Reach: 150}, doc.Assembly)
}

// A file may say of the breadboard as little as it likes: null, or nothing. Every
// edit of it is made or refused.
func TestLittleIsSaidOfTheBreadboard(t *testing.T) {
	lamp, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Name: "lamp"}})
	require.NoError(t, err)
	plain, err := json.Marshal(lamp)
	require.NoError(t, err)
	for _, assembly := range []string{
		`{}`, `null`, `{"built":{}}`, `{"built":{"legs":null,"wires":null,"values":null}}`, `{"kept":{}}`, `{"kept":{"legs":null},"built":{"partial":true}}`,
		`{"stock":{}}`, `{"stock":null,"fixed":null,"done":null,"built":null}`, `{"done":[{"step":"seat led1"}],"built":{}}`,
	} {
		doc, err := lib.Parse([]byte(strings.Replace(string(plain), `"parts":`, `"assembly":`+assembly+`,"parts":`, 1)))
		require.NoError(t, err, assembly)
		for _, e := range []plan.Edit{
			plan.BuiltLeg{Terminal: "led1.anode", Text: "e3"}, plan.BuiltLeg{Terminal: "led1.anode"}, plan.BuiltValue{Part: "led1-resistor", Text: "1k"},
			plan.WireIn{With: "e3", Text: "e4"}, plan.WireOut{With: "e3", Text: "e4"}, plan.StepDone{Text: "seat led1 e3 e4"}, plan.StepDone{Text: "out seat led1 e3 e4"},
			plan.StepUndone{Text: "seat led1 e3 e4"}, plan.StepsUndone{}, plan.Fix{Terminal: "led1.anode", Text: "e3"}, plan.Fix{Terminal: "led1.anode"}, plan.Reach{},
			plan.AsBuilt{}, plan.AsBuilt{Text: plan.FromSteps}, plan.AsBuilt{Text: plan.Forget}, plan.Breadboards{Text: "half"}, plan.Remove{Part: "led1"}, plan.Add{Kind: "button"},
		} {
			for _, edits := range [][]plan.Edit{{e}, {plan.Replace{Document: doc}, e}} {
				if after, _, err := plan.Apply(lib, doc, edits); err == nil {
					require.NoError(t, lib.Validate(after), "%s %v", assembly, e)
				}
			}
		}
	}
}

// A pull comes from the drawer when one there serves, and is the usual one otherwise.
func TestPullsComeFromTheDrawer(t *testing.T) {
	for want, have := range map[float64][]float64{10e3: {220, 10e3, 12e3}, 12e3: {220, 12e3, 22e3}, 4700: {220, 4700, 100e3}} {
		own := *lib
		own.Resistors = have
		doc, _, err := plan.Apply(&own, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "button", Hookup: "ground-pull-up"}})
		require.NoError(t, err)
		assert.Equal(t, want, doc.Part("button1-pull-up").Values["resistance"])
	}
	own := *lib
	own.Resistors = []float64{220, 330}
	doc, _, err := plan.Apply(&own, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "button", Hookup: "ground-pull-up"}})
	require.NoError(t, err)
	assert.Equal(t, 10e3, doc.Part("button1-pull-up").Values["resistance"])
}

// What was measured of a part is its own, within what a meter may be off, until it has
// another value.
func TestAMeasuredPart(t *testing.T) {
	doc := apply(t, build.New("t", "classic-5v"), plan.Add{Kind: "led"}, plan.Measure{Part: "led1-resistor", Value: "resistance", Text: "221.5"})
	kind, _ := lib.Catalogue.Kind("resistor")
	of := func() spec.Value { return wiring.ValueOf(kind, doc.Part("led1-resistor"), "resistance") }
	assert.InDelta(t, 221.5*0.99, of().Low, 1e-9)
	assert.Equal(t, "measured", of().Source)
	n := wiring.Build(lib, doc)
	assert.InDelta(t, 221.5*1.01, n.ValueAt(n.Find(wiring.Body, "led1-resistor", "")).High, 1e-9, "and that is reckoned with")
	again, err := lib.Parse(must(t, doc))
	require.NoError(t, err)
	assert.Equal(t, doc, again)
	doc = apply(t, doc, plan.Value{Part: "led1-resistor", Value: "resistance", Text: "330"})
	n = wiring.Build(lib, doc)
	assert.InDelta(t, 330*0.95, n.ValueAt(n.Find(wiring.Body, "led1-resistor", "")).Low, 1e-9)
	assert.Empty(t, doc.Part("led1-resistor").Measured)
}

func must(t *testing.T, doc *build.Document) []byte {
	t.Helper()
	data, err := json.Marshal(doc)
	require.NoError(t, err)
	return data
}

// A pin may be called by its number, as programs do, or by the letters of another board.
func TestPinsByTheirNumbers(t *testing.T) {
	for _, c := range []struct{ board, says, is string }{
		{"classic-5v", "13", "D13"}, {"classic-5v", "D7", "D7"}, {"slim-3v3", "D15", "GP15"}, {"wireless-3v3", "GP25", "IO25"}, {"wireless-3v3", "IO25", "IO25"},
	} {
		doc, _, err := plan.Apply(lib, build.New("t", c.board), []plan.Edit{plan.Add{Kind: "led", Pin: c.says}})
		require.NoError(t, err, c)
		assert.Equal(t, c.is, doc.Parts[0].Signals[0].Pin, c)
	}
	for _, says := range []string{"D99", "99", "A0x", "moon"} {
		_, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Pin: says}})
		assert.ErrorContains(t, err, says)
	}
}

// A signal that moves takes its wire along, and leaves nothing on the pin that it had, whatever the
// part: each signal of each kind, to each pin that would do.
func TestAMovedSignalLeavesItsPin(t *testing.T) {
	for _, kind := range lib.Catalogue.Kinds {
		for _, h := range kind.Hookups {
			doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: kind.ID, Hookup: h.ID}})
			if err != nil {
				continue
			}
			p := doc.Part(doc.Parts[0].ID)
			for i, s := range p.Signals {
				for _, choice := range free(plan.PinsFor(lib, doc, p, s)) {
					if slices.ContainsFunc(p.Signals, func(o build.Signal) bool { return o.Pin == choice.Pin }) {
						continue
					}
					moved, _, err := plan.Apply(lib, doc, []plan.Edit{plan.MovePin{Part: p.ID, Signal: s.Name, Pin: choice.Pin}})
					require.NoError(t, err)
					assert.Equal(t, choice.Pin, moved.Part(p.ID).Signals[i].Pin)
					assert.Negative(t, moved.NetOf(build.Pin(s.Pin)), "%s %s: %s stays wired", kind.ID, h.ID, s.Pin)
					assert.GreaterOrEqual(t, moved.NetOf(build.Pin(choice.Pin)), 0, "%s %s", kind.ID, h.ID)
				}
			}
		}
	}
}

// free is a few of some pins.
func free(all []choose.PinChoice) []choose.PinChoice { return all[:min(2, len(all))] }
