package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// ErrBoardInUse says that a board cannot go because builds are on it.
var ErrBoardInUse = errors.New("builds are on this board")

// Boards returns the profiles of the builder's own boards, by id.
func (s *Store) Boards(ctx context.Context) ([][]byte, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT profile FROM boards ORDER BY id`)
	if err != nil {
		return nil, translate(err)
	}
	defer rows.Close()
	var list [][]byte
	for rows.Next() {
		var profile []byte
		if err := rows.Scan(&profile); err != nil {
			return nil, translate(err)
		}
		list = append(list, profile)
	}
	return list, translate(rows.Err())
}

// KeepBoard keeps a profile, in place of one with the same id.
func (s *Store) KeepBoard(ctx context.Context, id string, profile []byte) error {
	_, err := s.db.ExecContext(ctx, `INSERT INTO boards (id, profile, changed) VALUES (?, ?, ?)
		ON DUPLICATE KEY UPDATE profile = VALUES(profile), changed = VALUES(changed)`, id, profile, time.Now().UTC())
	return translate(err)
}

// DropBoard forgets a board, unless a build has been on it.
func (s *Store) DropBoard(ctx context.Context, id string) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		var used int
		if err := tx.QueryRowContext(ctx, `SELECT COUNT(*) FROM revisions WHERE board = ?`, id).Scan(&used); err != nil {
			return err
		}
		if used > 0 {
			return ErrBoardInUse
		}
		done, err := tx.ExecContext(ctx, `DELETE FROM boards WHERE id = ?`, id)
		if err != nil {
			return err
		}
		if n, err := done.RowsAffected(); err == nil && n == 0 {
			return sql.ErrNoRows
		}
		return nil
	})
}
