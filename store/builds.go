package store

import (
	"bytes"
	"context"
	"crypto/sha256"
	"database/sql"
	"errors"
	"fmt"
	"time"
	"unicode/utf8"
)

const columns = `b.id, b.head, b.version, b.created, b.changed, b.deleted IS NOT NULL, r.title, r.board, r.board_n, r.stops, r.cares, r.notes`

func scanBuild(row interface{ Scan(...any) error }, b *Build, more ...any) error {
	return row.Scan(append([]any{&b.ID, &b.Tag.Revision, &b.Tag.Version, &b.Created, &b.Changed, &b.Deleted,
		&b.Title, &b.Board, &b.BoardN, &b.Counts.Stops, &b.Counts.Cares, &b.Counts.Notes}, more...)...)
}

// A Query says which builds are listed.
type Query struct {
	Search  string // in the title; empty: all
	Deleted bool   // those in the bin, instead of the others
	Skip    int    // how many of the first are left out
	Most    int    // how many are listed
}

// List returns builds, the last changed first, without their documents, and whether
// there are more behind them.
func (s *Store) List(ctx context.Context, q Query) (list []Build, more bool, err error) {
	rows, err := s.db.QueryContext(ctx, `SELECT `+columns+`
		FROM builds b JOIN revisions r ON r.build = b.id AND r.n = b.head
		WHERE (b.deleted IS NOT NULL) = ? AND LOCATE(?, r.title) > 0 ORDER BY b.changed DESC, b.id LIMIT ? OFFSET ?`,
		q.Deleted, q.Search, q.Most+1, q.Skip)
	if err != nil {
		return nil, false, translate(err)
	}
	defer rows.Close()
	list = []Build{}
	for rows.Next() {
		var b Build
		if err := scanBuild(rows, &b); err != nil {
			return nil, false, translate(err)
		}
		list = append(list, b)
	}
	if more = len(list) > q.Most; more {
		list = list[:q.Most]
	}
	return list, more, translate(rows.Err())
}

// querier is a connection or a transaction.
type querier interface {
	QueryRowContext(ctx context.Context, query string, args ...any) *sql.Row
}

// Get returns a build with its document. A deleted one comes with ErrDeleted.
func (s *Store) Get(ctx context.Context, id string) (*Build, error) {
	b, err := get(ctx, s.db, id)
	return b, translate(err)
}

func get(ctx context.Context, q querier, id string) (*Build, error) {
	var b Build
	var undo, redo sql.NullString
	var k kept
	row := q.QueryRowContext(ctx, `SELECT `+columns+`, `+documentColumns+`,
			IF(r.parent > 0, r.summary, NULL),
			(SELECT c.summary FROM revisions c WHERE c.build = b.id AND c.parent = b.head ORDER BY c.n DESC LIMIT 1)
		FROM builds b JOIN revisions r ON r.build = b.id AND r.n = b.head `+withDictionary+` WHERE b.id = ?`, id)
	if err := scanBuild(row, &b, append(k.into(), &undo, &redo)...); err != nil {
		return nil, err
	}
	var err error
	if b.Document, err = k.document(); err != nil {
		return nil, fmt.Errorf("build %s: %w", id, err)
	}
	b.Undo, b.Redo = undo.String, redo.String
	if b.Deleted {
		return &b, ErrDeleted
	}
	return &b, nil
}

// Document returns the document of one revision.
func (s *Store) Document(ctx context.Context, id string, revision int) ([]byte, error) {
	doc, err := documentOf(ctx, s.db, id, revision)
	return doc, translate(err)
}

// Create keeps a new build. When one was made with the draft's key before, that one is
// returned as it is now.
func (s *Store) Create(ctx context.Context, d Draft) (*Build, error) { return s.create(ctx, d, nil) }

// CreateDemo keeps a demo build, unless one of that name was kept before,
// whatever has become of it since: then it returns nil.
func (s *Store) CreateDemo(ctx context.Context, name string, d Draft) (*Build, error) {
	b, err := s.create(ctx, d, &name)
	if isDuplicate(err) {
		return nil, nil
	}
	return b, err
}

func (s *Store) create(ctx context.Context, d Draft, demo *string) (*Build, error) {
	id, now := newID(), time.Now().UTC()
	key := sql.NullString{String: d.Key, Valid: d.Key != ""}
	var b *Build
	err := s.inTx(ctx, func(tx *sql.Tx) error {
		if _, err := tx.ExecContext(ctx, `INSERT INTO builds (id, head, version, created, changed, demo, make_key) VALUES (?, 1, 1, ?, ?, ?, ?)`, id, now, now, demo, key); err != nil {
			return err
		}
		if err := insert(ctx, tx, id, 1, 0, d, now); err != nil {
			return err
		}
		var err error
		b, err = get(ctx, tx, id)
		return err
	})
	if isDuplicate(err) && key.Valid && demo == nil {
		return s.made(ctx, d)
	}
	return b, err
}

// made returns the build that was made with the draft's key.
func (s *Store) made(ctx context.Context, d Draft) (*Build, error) {
	var id string
	if err := s.db.QueryRowContext(ctx, `SELECT id FROM builds WHERE make_key = ?`, d.Key).Scan(&id); err != nil {
		return nil, translate(err)
	}
	if _, err := seen(ctx, s.db, id, d.Key, d.Asked); err != nil {
		return nil, translate(err)
	}
	return s.Get(ctx, id)
}

func insert(ctx context.Context, tx *sql.Tx, id string, n, parent int, d Draft, now time.Time) error {
	p, err := packRevision(ctx, tx, id, n, d.Document)
	if err != nil {
		return err
	}
	key := sql.NullString{String: d.Key, Valid: d.Key != ""}
	_, err = tx.ExecContext(ctx, `INSERT INTO revisions (build, n, parent, title, board, board_n, packed, dictionary, summary, stops, cares, notes, edit_key, edit_hash, created)
		VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)`,
		id, n, parent, d.Title, d.Board, d.BoardN, p.data, p.dictionary, clip(d.Summary, 2000), d.Counts.Stops, d.Counts.Cares, d.Counts.Notes, key, hash(d.Asked), now)
	return err
}

func hash(asked []byte) []byte {
	h := sha256.Sum256(asked)
	return h[:]
}

// clip shortens s to n letters.
func clip(s string, n int) string {
	if utf8.RuneCountInString(s) <= n {
		return s
	}
	return string([]rune(s)[:n-1]) + "…"
}

// Save keeps a new revision of a build that is at base, and shows it. When a
// revision with the draft's key is there already, nothing is done: the request
// was made before and its answer got lost. Otherwise a build that is not at
// base gives a [*StaleError].
func (s *Store) Save(ctx context.Context, id string, base Tag, d Draft) (*Build, error) {
	return s.change(ctx, id, base, &d, func(tx *sql.Tx, now time.Time) (int, error) {
		var last int
		if err := tx.QueryRowContext(ctx, `SELECT MAX(n) FROM revisions WHERE build = ?`, id).Scan(&last); err != nil {
			return 0, err
		}
		parent, began := base.Revision, now
		if d.Coalesces && last == base.Revision {
			var err error
			if parent, began, err = join(ctx, tx, id, base.Revision, d, now); err != nil {
				return 0, err
			}
		}
		if err := insert(ctx, tx, id, last+1, parent, d, began); err != nil || d.Line == "" {
			return last + 1, err
		}
		if parent != base.Revision { // it goes on with a line that is there
			_, err := tx.ExecContext(ctx, `UPDATE entries SET revision = ? WHERE build = ? AND revision = ?`, last+1, id, base.Revision)
			return last + 1, err
		}
		return last + 1, line(ctx, tx, id, Entry{Revision: last + 1, Kind: d.Line, Part: d.About, Text: d.Summary, Made: now})
	})
}

// line keeps a line of the log about what was done to a build.
func line(ctx context.Context, tx *sql.Tx, id string, e Entry) error {
	_, err := tx.ExecContext(ctx, `INSERT INTO entries (build, revision, kind, part, text, data, made) VALUES (?, ?, ?, ?, ?, '{}', ?)`,
		id, e.Revision, e.Kind, e.Part, clip(e.Text, 2000), e.Made)
	return err
}

// joinWithin is for how long what goes on with a revision is one with it.
const joinWithin = time.Minute

// join takes out the newest revision, when a draft goes on with what it did and nothing else
// rests on it, and returns what the draft is made from, and when that was begun.
func join(ctx context.Context, tx *sql.Tx, id string, n int, d Draft, now time.Time) (parent int, began time.Time, err error) {
	var before int
	var summary string
	var created time.Time
	var noted int
	err = tx.QueryRowContext(ctx, `SELECT r.parent, r.summary, r.created, (SELECT COUNT(*) FROM entries e WHERE e.build = r.build AND e.revision = r.n AND e.kind <> ?)
		FROM revisions r WHERE r.build = ? AND r.n = ?`, d.Line, id, n).Scan(&before, &summary, &created, &noted)
	if err != nil {
		return 0, now, err
	}
	if before == 0 || summary != d.Summary || noted > 0 || now.Sub(created) > joinWithin || dictionaryOf(n) == 0 {
		return n, now, nil
	}
	_, err = tx.ExecContext(ctx, `DELETE FROM revisions WHERE build = ? AND n = ?`, id, n)
	return before, created, err
}

// Seen reports whether a revision with the key is there already. One that was made of
// another request is [ErrKeyUsed].
func (s *Store) Seen(ctx context.Context, id, key string, asked []byte) (bool, error) {
	seen, err := seen(ctx, s.db, id, key, asked)
	return seen, translate(err)
}

func seen(ctx context.Context, q querier, id, key string, asked []byte) (bool, error) {
	if key == "" {
		return false, nil
	}
	var before []byte
	err := q.QueryRowContext(ctx, `SELECT edit_hash FROM revisions WHERE build = ? AND edit_key = ?`, id, key).Scan(&before)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return false, nil
	case err == nil && before != nil && !bytes.Equal(before, hash(asked)):
		return false, ErrKeyUsed
	}
	return err == nil, err
}

// Undo shows the revision that the shown one was made from.
func (s *Store) Undo(ctx context.Context, id string, base Tag) (*Build, error) {
	return s.change(ctx, id, base, &Draft{}, func(tx *sql.Tx, now time.Time) (int, error) {
		var parent int
		var done string
		err := tx.QueryRowContext(ctx, `SELECT parent, summary FROM revisions WHERE build = ? AND n = ?`, id, base.Revision).Scan(&parent, &done)
		switch {
		case err != nil:
			return 0, err
		case parent == 0:
			return 0, ErrNoUndo
		}
		return parent, line(ctx, tx, id, Entry{Revision: parent, Kind: lineTaken, Text: "taken back: " + done, Made: now})
	})
}

// lineTaken is the kind of a line that tells of a step along the revisions.
const lineTaken = "change"

// Redo shows the last revision that was made from the shown one.
func (s *Store) Redo(ctx context.Context, id string, base Tag) (*Build, error) {
	return s.change(ctx, id, base, &Draft{}, func(tx *sql.Tx, now time.Time) (int, error) {
		var child int
		var done string
		err := tx.QueryRowContext(ctx, `SELECT n, summary FROM revisions WHERE build = ? AND parent = ? ORDER BY n DESC LIMIT 1`, id, base.Revision).Scan(&child, &done)
		if errors.Is(err, sql.ErrNoRows) {
			err = ErrNoRedo
		}
		if err != nil {
			return 0, err
		}
		return child, line(ctx, tx, id, Entry{Revision: child, Kind: lineTaken, Text: "made again: " + done, Made: now})
	})
}

// change moves the head of a build that is at base to the revision that to
// returns.
func (s *Store) change(ctx context.Context, id string, base Tag, d *Draft, to func(*sql.Tx, time.Time) (int, error)) (*Build, error) {
	var b *Build
	err := s.inTx(ctx, func(tx *sql.Tx) error {
		var now Tag
		var deleted bool
		row := tx.QueryRowContext(ctx, `SELECT version, head, deleted IS NOT NULL FROM builds WHERE id = ? FOR UPDATE`, id)
		if err := row.Scan(&now.Version, &now.Revision, &deleted); err != nil {
			return err
		}
		if deleted {
			return ErrDeleted
		}
		done, err := seen(ctx, tx, id, d.Key, d.Asked)
		if err != nil {
			return err
		}
		if !done {
			if now != base {
				return &StaleError{base, now}
			}
			at := time.Now().UTC()
			head, err := to(tx, at)
			if err != nil {
				return err
			}
			if _, err := tx.ExecContext(ctx, `UPDATE builds SET head = ?, version = version + 1, changed = ? WHERE id = ?`, head, at, id); err != nil {
				return err
			}
		}
		b, err = get(ctx, tx, id)
		return err
	})
	return b, err
}

// Delete takes a build out of the list. It can be restored.
func (s *Store) Delete(ctx context.Context, id string) error {
	now := time.Now().UTC()
	return s.mark(ctx, id, &now)
}

// Restore puts a deleted build back into the list.
func (s *Store) Restore(ctx context.Context, id string) error {
	return s.mark(ctx, id, nil)
}

func (s *Store) mark(ctx context.Context, id string, deleted *time.Time) error {
	return s.inTx(ctx, func(tx *sql.Tx) error {
		var one int
		if err := tx.QueryRowContext(ctx, `SELECT 1 FROM builds WHERE id = ? FOR UPDATE`, id).Scan(&one); err != nil {
			return err
		}
		_, err := tx.ExecContext(ctx, `UPDATE builds SET deleted = ? WHERE id = ?`, deleted, id)
		return err
	})
}

// inTx runs do in a transaction, again when the server gave it up for another, until
// there is no time left.
func (s *Store) inTx(ctx context.Context, do func(*sql.Tx) error) error {
	for try := 0; ; try++ {
		err := s.once(ctx, do)
		if !isDeadlock(err) {
			return translate(err)
		}
		select {
		case <-ctx.Done():
			return fmt.Errorf("%w: %w", ErrUnavailable, err)
		case <-time.After(min(time.Duration(1+try)*5*time.Millisecond, 100*time.Millisecond)):
		}
	}
}

func (s *Store) once(ctx context.Context, do func(*sql.Tx) error) (err error) {
	tx, err := s.db.BeginTx(ctx, nil)
	if err != nil {
		return err
	}
	defer func() {
		if err != nil {
			if e := tx.Rollback(); e != nil && !errors.Is(e, sql.ErrTxDone) {
				err = fmt.Errorf("%w (and rolling back: %w)", err, e)
			}
		}
	}()
	if err := do(tx); err != nil {
		return err
	}
	return tx.Commit()
}
