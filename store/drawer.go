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
// or nothing. A drawer that is not at base any more gives a [*StaleError].
func (s *Store) FillDrawer(ctx context.Context, base int64, items []Item) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := move(ctx, tx, "drawer", base); err != nil {
			return err
		}
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
