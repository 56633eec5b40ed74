package check

import (
	"encoding/json"

	"cablaggio/core/planning/plan"
)

// planner makes edits with what has been solved of the build.
func (f *facts) planner() plan.Planner { return plan.NewPlanner(f.lib, f.known) }

// maxTrials is how often one rule tries what would help. A build with hundreds of
// findings has fixes for the first of them; when those are taken, the next come.
const maxTrials = 150

// statesPerTrial is how many states of a piece cost as much as one trial more.
const statesPerTrial = 128

// trialsKept is how many trials of small pieces are kept for others that ask for the
// same; of those with many states fewer.
const trialsKept = 512

// spend takes one trial off those that a rule may still make, and reports whether there was
// one. Where a piece has many states a trial counts for more, so that a build in which
// everything hangs together is answered as soon as one in which it does not.
func (f *facts) spend() bool {
	if f.judging || f.known.Err() != nil || f.left != nil && *f.left <= 0 {
		return false
	}
	if f.left != nil {
		*f.left -= f.weighs()
	}
	return true
}

// weighs is how many trials a trial counts for.
func (f *facts) weighs() int {
	f.weighed.Do(func() {
		f.weight = 1
		for _, p := range f.net.Pieces {
			f.weight = max(f.weight, 1+p.Planning()/statesPerTrial)
		}
		f.trials.mu.Lock()
		f.trials.most = trialsKept / f.weight
		f.trials.mu.Unlock()
	})
	return f.weight
}

// after returns the facts of the build after the edits, or nil when they
// cannot be made. They are for judging: they invent nothing themselves. Edits
// that several findings try are made and solved once.
func (f *facts) after(edits []plan.Edit) *facts {
	if !f.spend() {
		return nil
	}
	key, err := json.Marshal(plan.Edits(edits))
	if err != nil {
		return nil
	}
	return f.trials.get(string(key), func() *facts {
		doc, _, err := f.planner().Apply(f.doc, edits)
		if err != nil {
			return nil
		}
		g := about(f.lib, doc, f.known)
		g.judging, g.breaks = true, f.breaks
		return g
	})
}
