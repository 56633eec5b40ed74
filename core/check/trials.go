package check

import (
	"encoding/json"
	"sync"

	"cablaggio/core/plan"
)

// trials are builds as they would be after some edits. Rules are asked side by
// side and often try the same, which is made and solved once.
type trials struct {
	mu sync.Mutex
	by map[string]*trial
}

type trial struct {
	once  sync.Once
	after *facts
}

// after returns the facts of the build after the edits, or nil when they
// cannot be made. They are for judging: they invent nothing themselves.
func (f *facts) after(edits []plan.Edit) *facts {
	if f.judging {
		return nil
	}
	text, err := json.Marshal(edits)
	if err != nil {
		return nil
	}
	key := string(text)
	f.trials.mu.Lock()
	if f.trials.by == nil {
		f.trials.by = map[string]*trial{}
	}
	t := f.trials.by[key]
	if t == nil {
		t = &trial{}
		f.trials.by[key] = t
	}
	f.trials.mu.Unlock()
	t.once.Do(func() {
		doc, _, err := plan.Apply(f.lib, f.doc, edits)
		if err != nil {
			return
		}
		if g, err := gather(f.lib, doc, f.known); err == nil {
			g.judging = true
			t.after = g
		}
	})
	return t.after
}
