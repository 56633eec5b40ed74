package store

import (
	"context"
	"database/sql"
	"time"
)

// Meter returns the builder's own meter as it was kept, and its tag; nil: none was.
func (s *Store) Meter(ctx context.Context) (profile []byte, tag int64, err error) {
	var text sql.NullString
	err = s.db.QueryRowContext(ctx, `SELECT COALESCE((SELECT version FROM tags WHERE name = 'meter'), 1), (SELECT profile FROM meter)`).Scan(&tag, &text)
	if err != nil || !text.Valid {
		return nil, tag, translate(err)
	}
	return []byte(text.String), tag, nil
}

// KeepMeter takes a meter in place of the one that was there; nil: there is none any more. A
// meter that is not at base any more gives a [*StaleError].
func (s *Store) KeepMeter(ctx context.Context, base int64, profile []byte) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := move(ctx, tx, "meter", base); err != nil {
			return err
		}
		if profile == nil {
			_, err := tx.ExecContext(ctx, `DELETE FROM meter`)
			return err
		}
		_, err := tx.ExecContext(ctx, `REPLACE INTO meter (one, profile, changed) VALUES (1, ?, ?)`, string(profile), time.Now().UTC())
		return err
	})
}

// move counts a change of what has a tag, which is at base.
func move(ctx context.Context, tx *sql.Tx, name string, base int64) error {
	// What was never changed, or came from an older backup, has none yet.
	if _, err := tx.ExecContext(ctx, `INSERT IGNORE INTO tags (name, version) VALUES (?, 1)`, name); err != nil {
		return err
	}
	var version int64
	if err := tx.QueryRowContext(ctx, `SELECT version FROM tags WHERE name = ? FOR UPDATE`, name).Scan(&version); err != nil {
		return err
	}
	if version != base {
		return &StaleError{Tag{Version: base}, Tag{Version: version}}
	}
	_, err := tx.ExecContext(ctx, `UPDATE tags SET version = version + 1 WHERE name = ?`, name)
	return err
}
