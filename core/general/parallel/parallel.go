// Package parallel does things side by side.
package parallel

import (
	"fmt"
	"runtime"
	"runtime/debug"
	"sync"
	"sync/atomic"
)

// A Panic is what something panicked with, and where.
type Panic struct {
	Value any
	Stack []byte
}

func (p *Panic) Error() string { return fmt.Sprintf("panic: %v", p.Value) }

// Unwrap returns the value where that is an error.
func (p *Panic) Unwrap() error {
	err, _ := p.Value.(error)
	return err
}

// Try does something and returns its panic, or nil.
func Try(do func()) (p *Panic) {
	defer func() {
		switch v := recover().(type) {
		case nil:
		case *Panic: // of something that was done side by side
			p = v
		default:
			p = &Panic{v, debug.Stack()}
		}
	}()
	do()
	return nil
}

// Do calls do with 0 to n−1, as many at once as there are processors, and returns
// when all are done. The first panic of one of them is a panic of the caller with a
// [*Panic], who may know what to do with it: alone in a goroutine it would end the program.
func Do(n int, do func(i int)) {
	var next atomic.Int64
	var workers sync.WaitGroup
	var failed atomic.Pointer[Panic]
	for range min(runtime.GOMAXPROCS(0), n) {
		workers.Go(func() {
			p := Try(func() {
				for i := int(next.Add(1)) - 1; i < n; i = int(next.Add(1)) - 1 {
					do(i)
				}
			})
			if p != nil {
				failed.CompareAndSwap(nil, p)
			}
		})
	}
	workers.Wait()
	if p := failed.Load(); p != nil {
		panic(p)
	}
}
