package assembly_test

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
	"cablaggio/demo"
)

// No document that is valid makes the report panic, whatever is said to be
// fixed, done or built, and what comes of it can be written.
func FuzzMake(f *testing.F) {
	for _, d := range demo.Builds() {
		f.Add(d.Data)
	}
	doc, _, err := plan.Apply(lib, build.New("t", "compact-5v"), []plan.Edit{
		plan.Add{Kind: "led"}, plan.Add{Kind: "button"},
		plan.Fix{Terminal: "led1.anode", Text: "b20"},
		plan.Stock{Text: "red black", With: "50 100"},
		plan.StepDone{Text: "unplug"},
		plan.AsBuilt{},
		plan.BuiltLeg{Terminal: "button1.1a", Text: "L+5"},
		plan.BuiltValue{Part: "led1-resistor", Text: "1k"},
		plan.WireIn{With: "a1", Text: "R-8"},
	})
	require.NoError(f, err)
	data, err := json.Marshal(doc)
	require.NoError(f, err)
	f.Add(data)
	memory := assembly.NewMemory(check.NewMemory())
	f.Fuzz(func(t *testing.T, data []byte) {
		doc, err := lib.Parse(data)
		if err != nil || len(doc.Parts) > 12 {
			return
		}
		if _, err := json.Marshal(memory.Make(lib, doc)); err != nil {
			t.Fatalf("%v\n%s", err, data)
		}
	})
}
