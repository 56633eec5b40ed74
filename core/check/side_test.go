package check

import (
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Everything is done once, and what goes wrong beside the caller reaches it.
func TestSideBySide(t *testing.T) {
	var done [100]atomic.Int32
	sideBySide(len(done), func(i int) { done[i].Add(1) })
	for i := range done {
		assert.EqualValues(t, 1, done[i].Load())
	}
	sideBySide(0, func(int) { t.Error("there is nothing to do") })
	assert.PanicsWithValue(t, "seven", func() {
		sideBySide(10, func(i int) {
			if i == 7 {
				panic("seven")
			}
		})
	})
}
