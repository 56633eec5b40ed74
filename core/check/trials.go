package check

import (
	"encoding/json"

	"cablaggio/core/plan"
)

// after returns the facts of the build after the edits, or nil when they
// cannot be made. They are for judging: they invent nothing themselves. Edits
// that several findings try are made and solved once.
func (f *facts) after(edits []plan.Edit) *facts {
	if f.judging {
		return nil
	}
	key, err := json.Marshal(edits)
	if err != nil {
		return nil
	}
	return f.trials.get(string(key), func() *facts {
		doc, _, err := plan.Apply(f.lib, f.doc, edits)
		if err != nil {
			return nil
		}
		g := about(f.lib, doc, f.known)
		g.judging = true
		return g
	})
}
