package build_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// A file that says of the breadboard what cannot be is refused with the place in
// the file, and with what would be right.
func TestParseRefusesWhatCannotBeOnABreadboard(t *testing.T) {
	with := func(assembly string) []byte { return change(t, `"nets":`, `"assembly":`+assembly+`,"nets":`) }
	many := func(n int, x string) string { return strings.TrimSuffix(strings.Repeat(x+",", n), ",") }
	for assembly, says := range map[string]string{
		`{"breadboards":["tray"]}`:                                           `assembly.breadboards: there is no breadboard "tray"; there are mini, half`,
		`{"breadboards":["full","full","full","full","full"]}`:               "5 breadboards; 1 to 4 lie side by side",
		`{"fixed":{"led1.anode":"e99"}}`:                                     "assembly.fixed.led1.anode: e99: the full breadboard",
		`{"breadboards":["half"],"fixed":{"led1.anode":"e31"}}`:              "the half breadboard has rows 1 to 30",
		`{"breadboards":["mini"],"fixed":{"led1.anode":"L+3"}}`:              "the mini breadboard has no rails",
		`{"breadboards":["half"],"fixed":{"led1.anode":"2.e3"}}`:             "2.e3: there is one breadboard",
		`{"fixed":{"led1.gate":"e3"}}`:                                       `no terminal "gate"`,
		`{"fixed":{"board.D4":"e3"}}`:                                        `"board.D4" is not a leg of a part; led1.anode is one`,
		`{"fixed":{"led1.anode":"k3"}}`:                                      `"k3" is not a hole; e12 is one`,
		`{"stock":{"colours":["mauve"]}}`:                                    `"mauve" is not a colour of wires`,
		`{"stock":{"lengths":[100,50]}}`:                                     "from the shortest",
		`{"stock":{"lengths":[0]}}`:                                          "1 to 2000 mm each",
		`{"reach":-5}`:                                                       "assembly.reach: -5 mm; 1 to 2000 mm",
		`{"reach":2001}`:                                                     "or 0 for the usual length",
		`{"done":[{"step":" ","at":"2026-01-01T00:00:00Z"}]}`:                "assembly.done[0]: it names no step",
		`{"done":[` + many(2001, `{"step":"unplug"}`) + `]}`:                 "at most 2000 are done",
		`{"built":{"legs":{"led1.anode":"board.D99"},"wires":[]}}`:           "assembly.built.legs.led1.anode: the board has no place D99",
		`{"built":{"legs":{},"wires":[{"from":"e3","to":"x"}]}}`:             `"x" is not a hole`,
		`{"built":{"legs":{},"wires":[{"from":"e3","to":"e99"}]}}`:           "assembly.built.wires[0].to: e99",
		`{"built":{"wires":[` + many(401, `{"from":"e3","to":"e4"}`) + `]}}`: "at most 400",
		`{"built":{"values":{"led9":100}}}`:                                  `there is no part "led9"`,
		`{"built":{"values":{"led1":100}}}`:                                  `has no value "resistance"`,
		`{"kept":{"legs":{"led1.anode":"L+1"}}}`:                             "assembly.kept.legs.led1.anode: L+1: the",
		`{"kept":{"legs":{},"wires":[{"from":"board.D4","to":""}]}}`:         "is not a hole",
		`{"colour":"red"}`:                                                   `no field "colour"`,
	} {
		_, err := lib.Parse(with(assembly))
		var problems build.Problems
		if assert.ErrorAs(t, err, &problems, clip(assembly)) {
			assert.Contains(t, err.Error(), says, clip(assembly))
		}
	}
}

func clip(s string) string { return s[:min(len(s), 80)] }

// Everything that can be said of the breadboard is copied whole: the copy shares
// nothing with what it was made from.
func TestAssemblyIsCopiedWhole(t *testing.T) {
	doc, err := lib.Parse(change(t, `"nets":`, `"assembly":{"breadboards":["half"],"beside":true,"fixed":{"led1.anode":"c7"},"reach":150,
		"stock":{"colours":["red"],"lengths":[50,100]},"done":[{"step":"unplug","at":"2026-01-01T00:00:00Z"}],
		"kept":{"legs":{"led1.cathode":"c8"},"wires":[{"from":"board.GND/2","to":"L-3"}]},
		"built":{"legs":{"led1.anode":"c7"},"wires":[{"from":"e3","to":"e4"}],"partial":true}},"nets":`))
	require.NoError(t, err)
	copied := doc.Clone()
	require.Equal(t, doc, copied)
	for what, edit := range map[string]func(a *build.Assembly){
		"breadboards":    func(a *build.Assembly) { a.Breadboards[0] = "full" },
		"fixed":          func(a *build.Assembly) { a.Fixed["led1.anode"] = breadboard.Hole{Row: 9} },
		"stock":          func(a *build.Assembly) { a.Stock.Lengths[0], a.Stock.Colours[0] = 60, "blue" },
		"done":           func(a *build.Assembly) { a.Done[0].Step = "power" },
		"legs kept":      func(a *build.Assembly) { a.Kept.Legs["led1.cathode"] = breadboard.End{} },
		"wires kept":     func(a *build.Assembly) { a.Kept.Wires[0].To = breadboard.End{} },
		"legs as built":  func(a *build.Assembly) { delete(a.Built.Legs, "led1.anode") },
		"wires as built": func(a *build.Assembly) { a.Built.Wires[0].To = breadboard.End{} },
	} {
		changed := doc.Clone()
		edit(changed.Assembly)
		assert.NotEqual(t, doc, changed, what)
		assert.Equal(t, doc, copied, what)
	}
}

// What is noted of a part goes with it.
func TestForget(t *testing.T) {
	doc, err := lib.Parse(change(t, `"nets":`, `"assembly":{"fixed":{"led1.anode":"c7"},"kept":{"legs":{"led1.cathode":"c8"}},"built":{"legs":{"led1.anode":"c7"}}},"nets":`))
	require.NoError(t, err)
	doc.RemovePart("led1")
	doc.Assembly.Forget(doc)
	for name, n := range map[string]int{"fixed": len(doc.Assembly.Fixed), "kept": len(doc.Assembly.Kept.Legs), "built": len(doc.Assembly.Built.Legs)} {
		assert.Zero(t, n, name)
	}
	require.NoError(t, lib.Validate(doc), fmt.Sprint(doc.Assembly))
}
