package check_test

import (
	"context"
	"math"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	"cablaggio/demo"
)

// An asked context ends after so many looks at it.
type askedContext struct {
	context.Context
	asked atomic.Int64
	most  int64
}

func (c *askedContext) Err() error {
	if c.asked.Add(1) > c.most {
		return context.Canceled
	}
	return nil
}

// An analysis that is ended anywhere leaves nothing behind that is wrong: whoever asks
// next gets the answer that he would have got. Where it is ended is drawn, more in the wide
// run; before each the memory knows nothing, or all that others left.
func TestEndedAnywhere(t *testing.T) {
	for _, d := range demo.Builds() {
		if testing.Short() && d.Name != "seedling-shelf" {
			continue
		}
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		want, err := check.Check(lib, doc)
		require.NoError(t, err)
		within := &askedContext{Context: t.Context(), most: math.MaxInt64}
		_, err = check.NewMemory().CheckWithin(within, lib, doc)
		require.NoError(t, err)
		all := within.asked.Load()
		require.Greater(t, all, int64(100), "there is nothing to end")
		ended, draw := 0, testkit.Draw(t)
		memory := check.NewMemory()
		for range testkit.Few(12, 2000) {
			if draw.IntN(3) == 0 {
				memory = check.NewMemory()
			}
			within := &askedContext{Context: t.Context(), most: draw.Int64N(all)}
			if draw.IntN(2) == 0 {
				_, err = memory.Hurry(within, lib, doc)
			} else {
				_, err = memory.CheckWithin(within, lib, doc)
			}
			if err != nil {
				require.ErrorIs(t, err, context.Canceled, d.Name)
				ended++
			}
			if draw.IntN(8) == 0 {
				got, err := memory.Check(lib, doc)
				require.NoError(t, err)
				assert.Equal(t, want, got, d.Name)
				memory = check.NewMemory() // what is remembered whole is not asked again
			}
		}
		assert.Positive(t, ended, d.Name)
		got, err := memory.Check(lib, doc)
		require.NoError(t, err)
		assert.Equal(t, want, got, d.Name)
	}
}

// In a hurry nothing small is told otherwise, and what is dangerous is told; what is
// missing is said.
func TestInAHurry(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("t", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}, plan.Hookup{Part: "led1", Hookup: "no-resistor"}})
	require.NoError(t, err)
	all, err := check.Check(lib, doc)
	require.NoError(t, err)
	first, err := check.NewMemory().Hurry(t.Context(), lib, doc)
	require.NoError(t, err)
	assert.Equal(t, all.Counts, first.Counts)
	assert.Equal(t, all.Pins, first.Pins)
	assert.NotEmpty(t, first.Missing)
	assert.Empty(t, all.Missing)
	for _, x := range first.Findings {
		assert.Empty(t, x.Fixes)
	}
	_, err = check.NewMemory().Hurry(&askedContext{Context: t.Context()}, lib, doc)
	assert.ErrorIs(t, err, context.Canceled)
}
