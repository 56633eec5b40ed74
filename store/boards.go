package store

import (
	"context"
	"database/sql"
	"errors"
	"time"
)

// ErrBoardInUse says that a board cannot go because builds are on it.
var ErrBoardInUse = errors.New("builds are on this board")

// A Board is one revision of a board of the builder's own.
type Board struct {
	ID      string
	N       int // counts from 1
	Newest  bool
	Profile []byte // in the open format of boards
}

// MaxBoards is how many boards of one's own there can be.
const MaxBoards = 200

// ErrTooManyBoards says that there are [MaxBoards] already.
var ErrTooManyBoards = errors.New("there are too many boards")

// Tags is how many times a board or a kind of part was kept or forgotten, and how many times the
// drawer has changed: what has been read of them is good while these stay.
type Tags struct{ Boards, Kinds, Drawer int64 }

// Tags returns them as they are.
func (s *Store) Tags(ctx context.Context) (t Tags, err error) {
	sum := func(name string) string { return `COALESCE(SUM(IF(name = '` + name + `', version, 0)), 0)` }
	err = s.db.QueryRowContext(ctx, `SELECT `+sum("boards")+`, `+sum("kinds")+`, `+sum("drawer")+` FROM tags`).Scan(&t.Boards, &t.Kinds, &t.Drawer)
	return t, translate(err)
}

// Boards returns all revisions of the builder's own boards, by id and number.
func (s *Store) Boards(ctx context.Context) ([]Board, error) {
	rows, err := s.db.QueryContext(ctx, `SELECT r.id, r.n, r.n = b.n, r.profile FROM board_revisions r JOIN boards b ON b.id = r.id ORDER BY r.id, r.n`)
	if err != nil {
		return nil, translate(err)
	}
	defer rows.Close()
	var list []Board
	for rows.Next() {
		var b Board
		if err := rows.Scan(&b.ID, &b.N, &b.Newest, &b.Profile); err != nil {
			return nil, translate(err)
		}
		list = append(list, b)
	}
	return list, translate(rows.Err())
}

// KeepBoard keeps a profile as the newest revision of a board, and returns its number.
// Builds stay on the revision that they were made on. A board whose newest revision is
// not base gives a [*StaleError]; base 0: there is none yet.
func (s *Store) KeepBoard(ctx context.Context, id string, base int, profile []byte) (n int, err error) {
	err = s.inTx(ctx, func(tx *sql.Tx) error {
		if err := touch(ctx, tx, "boards"); err != nil {
			return err
		}
		var now, all int
		if err := tx.QueryRowContext(ctx, `SELECT COALESCE(MAX(IF(id = ?, n, 0)), 0), COUNT(*) FROM boards`, id).Scan(&now, &all); err != nil {
			return err
		}
		switch {
		case now != base:
			return &StaleError{Tag{Revision: base}, Tag{Revision: now}}
		case now == 0 && all >= MaxBoards:
			return ErrTooManyBoards
		}
		n = now + 1
		at := time.Now().UTC()
		if _, err := tx.ExecContext(ctx, `INSERT INTO board_revisions (id, n, profile, created) VALUES (?, ?, ?, ?)`, id, n, profile, at); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `INSERT INTO boards (id, n, profile, changed) VALUES (?, ?, ?, ?)
			ON DUPLICATE KEY UPDATE n = VALUES(n), profile = VALUES(profile), changed = VALUES(changed)`, id, n, profile, at)
		return err
	})
	return n, err
}

// DropBoard forgets a board, unless a build has been on it.
func (s *Store) DropBoard(ctx context.Context, id string) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		if err := touch(ctx, tx, "boards"); err != nil {
			return err
		}
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
		_, err = tx.ExecContext(ctx, `DELETE FROM board_revisions WHERE id = ?`, id)
		return err
	})
}

// touch counts a change of what has the name; others that change it wait.
func touch(ctx context.Context, tx *sql.Tx, name string) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO tags (name, version) VALUES (?, 1) ON DUPLICATE KEY UPDATE version = version + 1`, name)
	return err
}
