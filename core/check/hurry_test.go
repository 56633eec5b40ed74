package check_test

import (
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/plan"
	"cablaggio/core/wiring"
	"cablaggio/demo"
)

// An analysis that is halted anywhere leaves nothing behind that is wrong: whoever asks
// next gets the answer that they would have got.
func TestHaltedAnywhere(t *testing.T) {
	for _, d := range demo.Builds() {
		if testing.Short() && d.Name != "seedling-shelf" {
			continue
		}
		name := d.Name
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		want, err := check.Check(lib, doc)
		require.NoError(t, err)
		memory := check.NewMemory()
		halts := 0
		for after := int64(1); ; after = after*2 + 1 {
			var asked atomic.Int64
			got, err := memory.CheckUntil(lib, doc, func() bool { return asked.Add(1) > after })
			if err == nil {
				assert.Equal(t, want, got, name)
				break
			}
			require.ErrorIs(t, err, wiring.Halted)
			halts++
		}
		assert.Positive(t, halts, name)
		got, err := memory.Check(lib, doc)
		require.NoError(t, err)
		assert.Equal(t, want, got, name)
	}
}

// In a hurry nothing small is told otherwise, and what is dangerous is told; what is
// missing is said.
func TestInAHurry(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Hookup{Part: "led1", Hookup: "no-resistor"}})
	require.NoError(t, err)
	all, err := check.Check(lib, doc)
	require.NoError(t, err)
	first, err := check.NewMemory().Hurry(lib, doc, nil)
	require.NoError(t, err)
	assert.Equal(t, all.Counts, first.Counts)
	assert.Equal(t, all.Pins, first.Pins)
	assert.NotEmpty(t, first.Missing)
	assert.Empty(t, all.Missing)
	for _, x := range first.Findings {
		assert.Empty(t, x.Fixes)
	}
	_, err = check.NewMemory().Hurry(lib, doc, func() bool { return true })
	assert.ErrorIs(t, err, wiring.Halted)
}
