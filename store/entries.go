package store

import (
	"context"
	"database/sql"
	"time"
)

// An Entry is a line in the log of a build. Undo does not move it.
type Entry struct {
	ID       int64
	Revision int    // of the build, when it was made
	Kind     string // reading, note…
	Part     string // the id of the part that it is about; empty: the build
	Text     string // as it is searched
	Data     []byte // JSON
	Made     time.Time
	Picture  *Picture // to be kept with it; none in a list
}

// A Picture is a picture in two sizes, as JPEG.
type Picture struct {
	Width, Height int
	Whole, Small  []byte
}

// Picture returns the picture of an entry, small or whole.
func (s *Store) Picture(ctx context.Context, build string, entry int64, small bool) (data []byte, err error) {
	err = s.db.QueryRowContext(ctx, `SELECT IF(?, p.small, p.whole) FROM pictures p JOIN entries e ON e.id = p.entry WHERE e.build = ? AND e.id = ?`, small, build, entry).Scan(&data)
	return data, translate(err)
}

// Log keeps an entry, at the revision that the build shows. When one was kept with the key
// before, that one is returned.
func (s *Store) Log(ctx context.Context, build, key string, e Entry) (*Entry, error) {
	if e.Made.IsZero() { // else it was made elsewhere
		e.Made = time.Now().UTC().Truncate(time.Millisecond)
	}
	named := sql.NullString{String: key, Valid: key != ""}
	err := s.inTx(ctx, func(tx *sql.Tx) error {
		var deleted bool
		if err := tx.QueryRowContext(ctx, `SELECT head, deleted IS NOT NULL FROM builds WHERE id = ? FOR UPDATE`, build).Scan(&e.Revision, &deleted); err != nil {
			return err
		}
		if deleted {
			return ErrDeleted
		}
		done, err := tx.ExecContext(ctx, `INSERT INTO entries (build, revision, kind, part, text, data, made_key, made) VALUES (?, ?, ?, ?, ?, ?, ?, ?)`,
			build, e.Revision, e.Kind, e.Part, e.Text, e.Data, named, e.Made)
		if err != nil {
			return err
		}
		if e.ID, err = done.LastInsertId(); err != nil || e.Picture == nil {
			return err
		}
		_, err = tx.ExecContext(ctx, `INSERT INTO pictures (entry, width, height, whole, small) VALUES (?, ?, ?, ?, ?)`,
			e.ID, e.Picture.Width, e.Picture.Height, e.Picture.Whole, e.Picture.Small)
		return err
	})
	if isDuplicate(err) && named.Valid {
		var id int64
		if err := s.db.QueryRowContext(ctx, `SELECT id FROM entries WHERE build = ? AND made_key = ?`, build, key).Scan(&id); err != nil {
			return nil, translate(err)
		}
		list, _, err := s.Entries(ctx, build, EntryQuery{Before: id + 1, Most: 1})
		if err != nil || len(list) == 0 {
			return nil, err
		}
		return &list[0], nil
	}
	if err != nil {
		return nil, err
	}
	return &e, nil
}

// An EntryQuery says which entries are listed.
type EntryQuery struct {
	Kind   string // empty: all
	Part   string // empty: all
	Search string // in the text; empty: all
	Before int64  // those with a smaller id; 0: all
	Most   int
}

// Entries returns entries of a build's log, the newest first, and whether there are more
// behind them.
func (s *Store) Entries(ctx context.Context, build string, q EntryQuery) (list []Entry, more bool, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT id, revision, kind, part, text, data, made FROM entries
		WHERE build = ? AND gone IS NULL AND (? = 0 OR id < ?) AND (? = '' OR kind = ?) AND (? = '' OR part = ?) AND LOCATE(?, text) > 0
		ORDER BY id DESC LIMIT ?`,
		build, q.Before, q.Before, q.Kind, q.Kind, q.Part, q.Part, q.Search, q.Most+1)
	if err != nil {
		return nil, false, translate(err)
	}
	defer rows.Close()
	list = []Entry{}
	for rows.Next() {
		var e Entry
		if err := rows.Scan(&e.ID, &e.Revision, &e.Kind, &e.Part, &e.Text, &e.Data, &e.Made); err != nil {
			return nil, false, translate(err)
		}
		list = append(list, e)
	}
	if more = len(list) > q.Most; more {
		list = list[:q.Most]
	}
	return list, more, translate(rows.Err())
}

// Strike takes an entry out of the log, or puts it back.
func (s *Store) Strike(ctx context.Context, build string, id int64, gone bool) error {
	var at *time.Time
	if now := time.Now().UTC(); gone {
		at = &now
	}
	return s.inTx(ctx, func(tx *sql.Tx) error {
		var one int
		if err := tx.QueryRowContext(ctx, `SELECT 1 FROM entries WHERE build = ? AND id = ? FOR UPDATE`, build, id).Scan(&one); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `UPDATE entries SET gone = ? WHERE build = ? AND id = ?`, at, build, id)
		return err
	})
}
