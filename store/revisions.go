package store

import (
	"context"
	"time"
)

// A Revision is one state of a build in its history.
type Revision struct {
	N, Parent int
	Summary   string
	Counts    Counts
	Created   time.Time
}

// Revisions returns part of the history of a build, the newest first: at most as many as
// most, and only those before the numbered one, unless that is 0.
func (s *Store) Revisions(ctx context.Context, id string, before, most int) ([]Revision, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT n, parent, summary, stops, cares, notes, created FROM revisions
		WHERE build = ? AND (? = 0 OR n < ?) ORDER BY n DESC LIMIT ?`, id, before, before, most)
	if err != nil {
		return nil, translate(err)
	}
	defer rows.Close()
	list := []Revision{}
	for rows.Next() {
		var r Revision
		if err := rows.Scan(&r.N, &r.Parent, &r.Summary, &r.Counts.Stops, &r.Counts.Cares, &r.Counts.Notes, &r.Created); err != nil {
			return nil, translate(err)
		}
		list = append(list, r)
	}
	return list, translate(rows.Err())
}
