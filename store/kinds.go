package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// A Kind is a kind of part of the builder's own. Builds bring along what they use of it, so it has
// no revisions.
type Kind struct {
	ID   string
	N    int    // counts how often it was kept, from 1
	Kind []byte // in the open format of parts
}

// MaxKinds is how many kinds of parts of one's own there can be.
const MaxKinds = 200

// ErrTooManyKinds says that there are [MaxKinds] already.
var ErrTooManyKinds = errors.New("there are too many kinds of parts")

// Kinds returns the builder's own kinds of parts, by id.
func (s *Store) Kinds(ctx context.Context) ([]Kind, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, n, kind FROM kinds ORDER BY id`)
	if err != nil {
		return nil, translate(err)
	}
	defer rows.Close()
	var list []Kind
	for rows.Next() {
		var k Kind
		if err := rows.Scan(&k.ID, &k.N, &k.Kind); err != nil {
			return nil, translate(err)
		}
		list = append(list, k)
	}
	return list, translate(rows.Err())
}

// KeepKind keeps a kind of part, and returns how often it was kept. One that was kept otherwise
// since base gives a [*StaleError]; base 0: there is none yet.
func (s *Store) KeepKind(ctx context.Context, id string, base int, kind []byte) (n int, err error) {
	err = s.inTx(ctx, func(tx *sql.Tx) error {
		if err := touch(ctx, tx, "kinds"); err != nil {
			return err
		}
		var now, all int
		if err := tx.QueryRowContext(ctx, `SELECT COALESCE(MAX(IF(id = ?, n, 0)), 0), COUNT(*) FROM kinds`, id).Scan(&now, &all); err != nil {
			return err
		}
		switch {
		case now != base:
			return &StaleError{Tag{Revision: base}, Tag{Revision: now}}
		case now == 0 && all >= MaxKinds:
			return ErrTooManyKinds
		}
		n = now + 1
		_, err := tx.ExecContext(ctx, `INSERT INTO kinds (id, n, kind, changed) VALUES (?, ?, ?, ?)
			ON DUPLICATE KEY UPDATE n = VALUES(n), kind = VALUES(kind), changed = VALUES(changed)`, id, n, kind, time.Now().UTC())
		return err
	})
	return n, err
}

// DropKind forgets a kind of part. Builds that have it keep theirs.
func (s *Store) DropKind(ctx context.Context, id string) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := touch(ctx, tx, "kinds"); err != nil {
			return err
		}
		done, err := tx.ExecContext(ctx, `DELETE FROM kinds WHERE id = ?`, id)
		if err != nil {
			return err
		}
		if n, err := done.RowsAffected(); err == nil && n == 0 {
			return sql.ErrNoRows
		}
		return nil
	})
}
