package check

import (
	"fmt"
	"slices"
	"sync"

	"cablaggio/core/general/parallel"
)

// breaks are what broke off by a mistake of this program. They are shared by those who
// judge side by side.
type breaks struct {
	mu   sync.Mutex
	list []*parallel.Panic
	of   []string // by panic: what broke off
}

// maxBreaks is how many are kept: more say nothing new.
const maxBreaks = 20

// attempt does something that belongs to the facts. Where it panics only that is lost: it is
// noted, and what there is of the facts is not all that there is to be said. After the
// context is done what it was told means nothing, and neither does a panic over it.
func (f *facts) attempt(of string, do func()) {
	p := parallel.Try(do)
	if p == nil || f.known.Err() != nil {
		return
	}
	f.unsolved.Store(true)
	b := f.breaks
	b.mu.Lock()
	defer b.mu.Unlock()
	if len(b.list) < maxBreaks {
		b.list, b.of = append(b.list, p), append(b.of, of)
	}
}

func (b *breaks) errors() (out []error) {
	for _, p := range b.list {
		out = append(out, p)
	}
	return out
}

// unjudged says what could not be judged.
func (f *facts) unjudged() (out []string) {
	if f.unsolved.Load() && len(f.breaks.of) == 0 {
		out = append(out, "In some state no answer was found for a part of this circuit: what happens there is not judged.")
	}
	for _, of := range slices.Compact(slices.Sorted(slices.Values(f.breaks.of))) {
		out = append(out, fmt.Sprintf("This could not be worked out, by a mistake of this program: %s. It is in the log.", of))
	}
	return out
}
