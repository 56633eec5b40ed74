package parallel_test

import (
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/parallel"
)

// Everything is done once, and what goes wrong beside the caller reaches it.
func TestDo(t *testing.T) {
	var done [100]atomic.Int32
	parallel.Do(len(done), func(i int) { done[i].Add(1) })
	for i := range done {
		assert.EqualValues(t, 1, done[i].Load())
	}
	parallel.Do(0, func(int) { t.Error("there is nothing to do") })
	assert.PanicsWithValue(t, "seven", func() {
		parallel.Do(10, func(i int) {
			if i == 7 {
				panic("seven")
			}
		})
	})
}
