package store

import (
	"context"
	"database/sql"
	"time"
)

// A Drill is one that was ended: its fault was found.
type Drill struct {
	Code   string
	Lesson string // empty: it was drawn
	Kind   string // of the fault
	Spent  float64
	Par    float64 // what the diagnosis would have spent
	Made   time.Time
}

// mostDrills is how many of the last drills are told.
const mostDrills = 500

// KeepDrill keeps a drill that was ended, once under a key.
func (s *Store) KeepDrill(ctx context.Context, key string, d Drill) error {
	named := sql.NullString{String: key, Valid: key != ""}
	_, err := s.db.ExecContext(ctx, `INSERT INTO drills (code, lesson, kind, spent, par, made_key, made) VALUES (?, ?, ?, ?, ?, ?, ?)`,
		d.Code, d.Lesson, d.Kind, d.Spent, d.Par, named, time.Now().UTC().Truncate(time.Millisecond))
	if isDuplicate(err) {
		return nil
	}
	return translate(err)
}

// Drills returns the drills that were ended, the first one first.
func (s *Store) Drills(ctx context.Context) ([]Drill, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT code, lesson, kind, spent, par, made FROM
		(SELECT * FROM drills ORDER BY id DESC LIMIT ?) last ORDER BY id`, mostDrills)
	if err != nil {
		return nil, translate(err)
	}
	defer rows.Close()
	list := []Drill{}
	for rows.Next() {
		var d Drill
		if err := rows.Scan(&d.Code, &d.Lesson, &d.Kind, &d.Spent, &d.Par, &d.Made); err != nil {
			return nil, translate(err)
		}
		list = append(list, d)
	}
	return list, translate(rows.Err())
}
