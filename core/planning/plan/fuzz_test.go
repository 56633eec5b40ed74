package plan_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/demo"
)

// Whatever edits come in as JSON, on whichever build: they are refused, or
// leave a valid build that can be analysed. Nothing panics.
func FuzzApply(f *testing.F) {
	for _, edits := range []string{
		`[{"op":"add","kind":"led","type":"red"}]`,
		`[{"op":"flip","part":"led1"},{"op":"free","terminal":"led1.anode"}]`,
		`[{"op":"join","terminal":"board.5V","to":"board.GND"}]`,
		`[{"op":"value","part":"led1-resistor","value":"resistance","text":"4k7"}]`,
		`[{"op":"board","board":"wireless-3v3"},{"op":"pin","part":"led1","signal":"drive","pin":"IO34"}]`,
		`[{"op":"insert","terminal":"board.D4","text":"1k"},{"op":"pull","part":"button1","signal":"read","pull":"down"}]`,
		`[{"op":"hookup","part":"button1","hookup":"supply-pull-down"},{"op":"remove","part":"led1-resistor"}]`,
	} {
		f.Add(0, []byte(edits))
		f.Add(1, []byte(edits))
	}
	demos := demo.Builds()
	f.Fuzz(func(t *testing.T, which int, data []byte) {
		var edits plan.Edits
		if json.Unmarshal(data, &edits) != nil || len(edits) > 20 {
			return
		}
		doc, err := lib.Parse(demos[uint(which)%uint(len(demos))].Data)
		require.NoError(t, err)
		after, _, err := plan.Apply(lib, doc, edits)
		if err != nil {
			return
		}
		require.NoError(t, lib.Validate(after))
		_, err = check.Check(lib, after)
		require.NoError(t, err)
	})
}
