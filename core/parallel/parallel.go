// Package parallel does things side by side.
package parallel

import (
	"runtime"
	"sync"
	"sync/atomic"
)

// Do calls do with 0 to n−1, as many at once as there are processors, and returns
// when all are done. A panic of one of them is a panic of the caller, who may know
// what to do with it: alone in a goroutine it would end the program.
func Do(n int, do func(i int)) {
	var next atomic.Int64
	var workers sync.WaitGroup
	var failed atomic.Pointer[any]
	for range min(runtime.GOMAXPROCS(0), n) {
		workers.Go(func() {
			defer func() {
				if p := recover(); p != nil {
					failed.Store(&p)
				}
			}()
			for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
				do(i)
			}
		})
	}
	workers.Wait()
	if p := failed.Load(); p != nil {
		panic(*p)
	}
}
