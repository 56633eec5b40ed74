package assembly_test

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"testing"

	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
)

// gaps calls do with a value in which one thing after another is missing, null,
// or empty; where says what.
func gaps(value any, where string, do func(where string)) {
	switch v := value.(type) {
	case map[string]any:
		for _, key := range slices.Sorted(maps.Keys(v)) {
			was, at := v[key], where+"."+key
			delete(v, key)
			do(at + " missing")
			for _, other := range []any{nil, map[string]any{}, []any{}, "", 0} {
				v[key] = other
				do(at + " otherwise")
			}
			v[key] = was
			gaps(was, at, do)
		}
	case []any:
		for i, was := range v {
			at := where + "[" + strconv.Itoa(i) + "]"
			v[i] = nil
			do(at + " null")
			v[i] = was
			gaps(was, at, do)
		}
	}
}

// Whatever is missing, null, empty or of another sort in a file that says all that
// can be said: it is refused, or the build is checked, laid out and edited, and
// nothing panics.
func TestGapsInAFile(t *testing.T) {
	full, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{
		plan.Add{Kind: "led", Name: "lamp"}, plan.Add{Kind: "button"}, plan.Add{Kind: "led", Hookup: "resistor-at-ground"},
		plan.Value{Part: "led1", Value: "forwardVoltage", Text: "2 V"}, plan.Turns{Part: "led2", With: "led1"},
		plan.Supply{Supply: "vin", Cells: "alkaline-aa", Count: 6},
		plan.Breadboards{Text: "half"}, plan.Stock{Text: "red", With: "100"}, plan.Reach{Text: "90"}, plan.Fix{Terminal: "button1.1a", Text: "e20"},
	})
	require.NoError(t, err)
	memory := assembly.NewMemory(check.NewMemory())
	for _, s := range memory.Make(lib, full).Steps[:8] {
		full, _, err = plan.Apply(lib, full, []plan.Edit{plan.StepDone{Text: s.ID}})
		require.NoError(t, err)
	}
	full, _, err = plan.Apply(lib, full, []plan.Edit{plan.Add{Kind: "potentiometer"}, plan.AsBuilt{Text: plan.FromSteps}, plan.WireIn{With: "a25", Text: "a26"}, plan.BuiltValue{Part: "led1-resistor", Text: "1k"}})
	require.NoError(t, err)
	data, err := json.Marshal(full)
	require.NoError(t, err)
	var root any
	require.NoError(t, json.Unmarshal(data, &root))
	taken, refused := 0, 0
	gaps(root, "", func(where string) {
		data, err := json.Marshal(root)
		require.NoError(t, err)
		doc, err := lib.Parse(data)
		if err != nil {
			refused++
			return
		}
		taken++
		defer func() {
			if p := recover(); p != nil {
				t.Fatalf("%s: %v", where, p)
			}
		}()
		memory.Make(lib, doc)
		for _, e := range []plan.Edit{
			plan.Add{Kind: "led"}, plan.Hookup{Part: "led1", Hookup: "low-side"}, plan.Size{Part: "led1-resistor"}, plan.Assign{},
			plan.Turns{Part: "led1", With: "led2"}, plan.Board{Board: "slim-3v3"}, plan.BuiltLeg{Terminal: "led1.anode", Text: "e3"},
			plan.StepDone{Text: "seat led1 e3 e4"}, plan.Remove{Part: "led1"}, plan.Swap{Part: "led1", Signal: "drive", Pin: "D7"},
		} {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{e}); err == nil {
				require.NoError(t, lib.Validate(after), "%s: %T", where, e)
			}
		}
	})
	t.Logf("%d taken, %d refused", taken, refused)
	require.Positive(t, taken)
	require.Positive(t, refused)
}
