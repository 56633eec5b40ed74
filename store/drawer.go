package store

import (
	"context"
	"database/sql"
	"encoding/json"
	"time"
)

// An Item is something in the drawer: parts of one kind that are alike.
type Item struct {
	ID       string
	Kind     string
	Type     string
	Name     string // as the builder calls it; may be empty
	Values   map[string]float64
	Pieces   int
	Measured bool // the first value was measured, not read
}

// MaxItems is how many different things a drawer holds.
const MaxItems = 1000

// Drawer returns what is in the drawer.
func (s *Store) Drawer(ctx context.Context) ([]Item, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, kind, type, name, vals, pieces, measured FROM drawer ORDER BY changed, id LIMIT ?`, MaxItems)
	if err != nil {
		return nil, translate(err)
	}
	defer rows.Close()
	list := []Item{}
	for rows.Next() {
		var i Item
		var vals []byte
		if err := rows.Scan(&i.ID, &i.Kind, &i.Type, &i.Name, &vals, &i.Pieces, &i.Measured); err != nil {
			return nil, translate(err)
		}
		if err := json.Unmarshal(vals, &i.Values); err != nil {
			return nil, err
		}
		list = append(list, i)
	}
	return list, translate(rows.Err())
}

// FillDrawer takes the drawer's whole content in place of what was there, all
// or nothing.
func (s *Store) FillDrawer(ctx context.Context, items []Item) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `DELETE FROM drawer`); err != nil {
			return err
		}
		now := time.Now().UTC()
		for n, i := range items {
			vals, err := json.Marshal(i.Values)
			if err != nil {
				return err
			}
			if i.ID == "" {
				i.ID = newID()
			}
			// A millisecond apart, so that they come back in their order.
			if _, err := tx.ExecContext(ctx, `INSERT INTO drawer (id, kind, type, name, vals, pieces, measured, changed) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
				i.ID, i.Kind, i.Type, i.Name, vals, i.Pieces, i.Measured, now.Add(time.Duration(n)*time.Millisecond)); err != nil {
				return err
			}
		}
		return nil
	})
}

// A Revision is one state of a build in its history.
type Revision struct {
	N, Parent int
	Summary   string
	Counts    Counts
	Created   time.Time
}

// Revisions returns the history of a build, the newest first.
func (s *Store) Revisions(ctx context.Context, id string, most int) ([]Revision, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT n, parent, summary, stops, cares, notes, created FROM revisions WHERE build = ? ORDER BY n DESC LIMIT ?`, id, most)
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
