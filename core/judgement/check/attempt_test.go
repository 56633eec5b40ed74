package check

import (
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// A rule that breaks off costs what that rule would have found, and nothing else: it is
// said, where it broke is kept for the log, and no fix is offered that it was to judge.
func TestARuleBreaksOff(t *testing.T) {
	lib := build.Shipped()
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Hookup{Part: "led1", Hookup: "no-resistor"}})
	require.NoError(t, err)
	whole, err := Check(lib, doc)
	require.NoError(t, err)
	require.Empty(t, whole.Missing)
	at := slices.IndexFunc(rules, func(r rule) bool { return r.id == pinCurrent.id })
	was := rules[at].check
	defer func() { rules[at].check = was }()
	rules[at].check = func(*facts) []Finding { panic("a mistake of ours") }
	got, err := Check(lib, doc)
	require.NoError(t, err)
	require.NotEmpty(t, got.Missing)
	assert.Contains(t, got.Missing[0], pinCurrent.id)
	require.NotEmpty(t, got.Breaks())
	assert.Contains(t, string(got.Breaks()[0].Stack), "TestARuleBreaksOff")
	ids := func(a *Analysis) (out []string) {
		for _, x := range a.Findings {
			if x.Rule != pinCurrent.id {
				out = append(out, x.ID)
			}
		}
		return out
	}
	assert.Equal(t, ids(whole), ids(got), "all other rules say what they have to say")
	assert.Equal(t, whole.Parts[0].ID, got.Parts[0].ID)
	for _, x := range got.Findings {
		assert.Empty(t, x.Fixes, "nothing is promised of which a part cannot be judged: %s", x.ID)
	}
	_, err = NewMemory().Find(lib, doc)
	assert.ErrorContains(t, err, "a mistake of ours")
}
