package parallel_test

import (
	"errors"
	"fmt"
	"sync/atomic"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/general/parallel"
)

// Everything is done once.
func TestDo(t *testing.T) {
	var done [100]atomic.Int32
	parallel.Do(len(done), func(i int) { done[i].Add(1) })
	for i := range done {
		assert.EqualValues(t, 1, done[i].Load())
	}
	parallel.Do(0, func(int) { t.Error("there is nothing to do") })
}

func breaksOff() { panic(errSeven) }

var errSeven = errors.New("seven")

// What goes wrong beside the caller reaches him with where it was, through several layers.
func TestPanics(t *testing.T) {
	p := parallel.Try(func() {
		parallel.Do(3, func(i int) {
			parallel.Do(10, func(i int) {
				if i == 7 {
					breaksOff()
				}
			})
		})
	})
	require.NotNil(t, p)
	assert.ErrorIs(t, p, errSeven)
	assert.Contains(t, string(p.Stack), "breaksOff")
	assert.Nil(t, parallel.Try(func() {}))
}

func ExampleTry() {
	var list []int
	p := parallel.Try(func() { fmt.Println(list[3]) })
	fmt.Println(p)
	// Output: panic: runtime error: index out of range [3] with length 0
}
