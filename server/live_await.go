package server

import (
	"math"
	"slices"

	"cablaggio/core/running/bench"
)

// awaited is when the row changed that is waited for, if it did.
func (s *session) awaited(n *bench.News) (at int64, changed bool) {
	for _, row := range n.Rows {
		if w := s.awaits; w == nil || row.Kind != w.Kind || row.Of != w.Of || row.Name != w.Name {
			continue
		}
		before := math.NaN()
		if k := slices.IndexFunc(s.whole.Rows, func(r bench.Row) bool { return r.Kind == row.Kind && r.Of == row.Of && r.Name == row.Name }); k >= 0 {
			for _, c := range s.whole.Rows[k].Changes {
				if c.At > s.armed || len(row.Changes) > 0 && c.At >= row.Changes[0].At {
					break
				}
				before = c.Value
			}
		}
		for _, c := range row.Changes {
			crosses := s.awaits.Level == nil || (before < *s.awaits.Level) != (c.Value < *s.awaits.Level) && !math.IsNaN(before)
			if c.At > s.armed && crosses {
				return int64(math.Round(c.At * 1e9)), true
			}
			before = c.Value
		}
	}
	return 0, false
}
