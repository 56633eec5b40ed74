package check_test

import (
	"fmt"
	"slices"
	"sort"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
	"cablaggio/starts"
)

// Every fix of every finding of random builds helps: its finding is gone, nothing as bad
// has come anywhere, and no lamp has gone out that was lit. Most stops and cares have one.
func TestEveryFixHelps(t *testing.T) {
	testkit.Slow(t)
	builds := testkit.Few(12, 3000)
	m := check.NewMemory()
	without, all := map[string]int{}, 0
	rules := map[string]int{}
	gen := rapid.Custom(func(t *rapid.T) *build.Document {
		doc := build.New("random", rapid.SampledFrom(lib.Boards).Draw(t, "board").ID)
		if ready := starts.All(); rapid.Bool().Draw(t, "ready") {
			doc, _ = lib.Parse(rapid.SampledFrom(ready).Draw(t, "start").Data)
		}
		for range rapid.IntRange(3, 12).Draw(t, "steps") {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = after
			}
		}
		return doc
	})
	for i := range builds {
		doc := gen.Example(i)
		a, err := m.Check(lib, doc)
		if err != nil {
			continue // a circuit without an answer has no findings
		}
		for _, x := range a.Findings {
			if x.Level != check.Note {
				all++
				rules[x.Rule]++
				if len(x.Fixes) == 0 {
					without[x.Rule]++
				}
				assert.False(t, x.Stuck != "" && len(x.Fixes) > 0, x.Title)
			}
			for _, fix := range x.Fixes {
				after, _, err := plan.Apply(lib, doc, fix.Edits)
				require.NoError(t, err, fix.Label)
				b, err := m.Check(lib, after)
				require.NoError(t, err, fix.Label)
				what := fmt.Sprintf("build %d: %q for %q", i, fix.Label, x.Title)
				for _, y := range b.Findings {
					assert.NotEqual(t, x.ID, y.ID, what)
					known := slices.ContainsFunc(a.Findings, func(z check.Finding) bool { return isKnown(z, y) && !y.Level.Worse(z.Level) })
					assert.True(t, known || y.Level == check.Note || x.Level.Worse(y.Level), "%s brings %q", what, y.Title)
				}
				for part := range lit(a) {
					assert.True(t, lit(b)[part] || after.Part(part) == nil, "%s puts %s out", what, part)
				}
			}
		}
	}
	var names []string
	for rule, n := range without {
		names = append(names, fmt.Sprintf("%s %d of %d", rule, n, rules[rule]))
	}
	sort.Strings(names)
	t.Logf("%d stops and cares, without a fix: %v", all, names)
	require.Greater(t, all, builds/2)
}

// lit lists the lamps that can be seen in some state.
func lit(a *check.Analysis) map[string]bool {
	out := map[string]bool{}
	for _, p := range a.Parts {
		for _, q := range p.Quantities {
			if len(q.Name) >= 10 && q.Name[:10] == "brightness" && q.Typ > 5 {
				out[p.ID] = true
			}
		}
	}
	return out
}

// Where all pins are taken it is said what has to come first.
func TestAFullBoardHasNoPinToMoveTo(t *testing.T) {
	doc := build.New("full", "classic-5v")
	for {
		next, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Add{Kind: "led"}})
		if err != nil {
			break
		}
		doc = next
	}
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	found := false
	for _, x := range a.Findings {
		if x.Rule == "pin-own" && x.Level == check.Care {
			found = true
			assert.Empty(t, x.Fixes)
			assert.Contains(t, x.Stuck, "No other pin that suits is free")
		}
	}
	assert.True(t, found)
}
