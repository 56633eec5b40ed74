package check_test

import (
	"encoding/json"
	"math"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/require"

	"cablaggio/core/judgement/check"
	"cablaggio/core/testkit"
	"cablaggio/demo"
)

// No document that is valid makes the check panic, and its answer can be
// written as JSON, which has no infinities.
func FuzzCheck(f *testing.F) {
	testkit.Slow(f)
	files, err := filepath.Glob("testdata/rules/*/raises-*.json")
	require.NoError(f, err)
	for _, file := range files {
		data, err := os.ReadFile(file)
		require.NoError(f, err)
		f.Add(data)
	}
	for _, d := range demo.Builds() {
		f.Add(d.Data)
	}
	f.Fuzz(func(t *testing.T, data []byte) {
		doc, err := lib.Parse(data)
		if err != nil || len(doc.Parts) > 12 {
			return
		}
		a, err := check.Check(lib, doc)
		if err != nil {
			t.Fatalf("%v\n%s", err, data)
		}
		if _, err := json.Marshal(a); err != nil {
			t.Fatalf("%v\n%s", err, data)
		}
		for _, load := range a.Loads {
			require.False(t, math.IsNaN(load.Carries.Typ), load.Name)
		}
	})
}
