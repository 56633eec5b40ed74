package store

import (
	"archive/zip"
	"bufio"
	"bytes"
	"context"
	"database/sql"
	"encoding/base64"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/go-sql-driver/mysql"
)

// BackupFormat names the open format of a backup: a ZIP archive with manifest.json and a
// file of JSON lines for each table, a row as an object each. A value that is no text is
// {"base64": "…"}.
const BackupFormat = "cablaggio.backup/1"

// tables is what there is to keep, in an order in which rows only name rows before them.
var tables = []string{"builds", "revisions", "drawer", "boards", "board_revisions", "kinds", "tags", "entries", "pictures", "meter", "drills"}

// A Manifest is what a backup says of itself.
type Manifest struct {
	Format  string         `json:"format"`
	Version int64          `json:"version"` // of the tables
	Made    time.Time      `json:"made"`
	Rows    map[string]int `json:"rows"` // by table
}

// whole is a connection for looking at all there is, however long that takes.
func whole(dsn string) (*sql.DB, error) {
	cfg, err := config(dsn)
	if err != nil {
		return nil, err
	}
	cfg.ReadTimeout, cfg.WriteTimeout = 0, 0
	cfg.ParseTime = false // as it is kept
	connector, err := mysql.NewConnector(cfg)
	if err != nil {
		return nil, err
	}
	return sql.OpenDB(connector), nil
}

// Backup writes everything that there is at one moment, while others may go on. Progress is
// told in words.
func Backup(ctx context.Context, dsn string, to io.Writer, progress func(string)) (*Manifest, error) {
	db, err := whole(dsn)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	tx, err := db.BeginTx(ctx, &sql.TxOptions{Isolation: sql.LevelRepeatableRead, ReadOnly: true})
	if err != nil {
		return nil, translate(err)
	}
	defer tx.Rollback() // nothing was written
	m := &Manifest{Format: BackupFormat, Made: time.Now().UTC().Truncate(time.Second), Rows: map[string]int{}}
	if err := tx.QueryRowContext(ctx, `SELECT MAX(version_id) FROM goose_db_version WHERE is_applied`).Scan(&m.Version); err != nil {
		return nil, translate(err)
	}
	archive := zip.NewWriter(to)
	for _, table := range tables {
		progress("writing " + table)
		file, err := archive.Create(table + ".jsonl")
		if err != nil {
			return nil, err
		}
		if m.Rows[table], err = dump(ctx, tx, table, file); err != nil {
			return nil, fmt.Errorf("%s: %w", table, translate(err))
		}
	}
	file, err := archive.Create("manifest.json")
	if err != nil {
		return nil, err
	}
	e := json.NewEncoder(file)
	e.SetIndent("", "  ")
	if err := e.Encode(m); err != nil {
		return nil, err
	}
	return m, archive.Close()
}

// bytes that are no text are written so.
type binary struct {
	Base64 string `json:"base64"`
}

func dump(ctx context.Context, tx *sql.Tx, table string, to io.Writer) (n int, err error) {
	rows, err := tx.QueryContext(ctx, `SELECT * FROM `+table)
	if err != nil {
		return 0, err
	}
	defer rows.Close()
	columns, err := rows.Columns()
	if err != nil {
		return 0, err
	}
	values := make([]sql.RawBytes, len(columns))
	into := make([]any, len(columns))
	for i := range values {
		into[i] = &values[i]
	}
	out := bufio.NewWriter(to)
	for rows.Next() {
		if err := rows.Scan(into...); err != nil {
			return n, err
		}
		row := map[string]any{}
		for i, c := range columns {
			switch v := values[i]; {
			case v == nil:
				row[c] = nil
			case utf8.Valid(v) && !bytes.ContainsRune(v, 0):
				row[c] = string(v)
			default:
				row[c] = binary{base64.StdEncoding.EncodeToString(v)}
			}
		}
		line, err := json.Marshal(row)
		if err != nil {
			return n, err
		}
		if _, err := out.Write(append(line, '\n')); err != nil {
			return n, err
		}
		n++
	}
	return n, errors.Join(rows.Err(), out.Flush())
}

// ErrNotEmpty says that there is something already where a backup was to go.
var ErrNotEmpty = errors.New("there are builds here already")

// Bounds of what is taken in: a line, and all of it beside what the archive takes, so that
// an archive that swells without end is noticed.
const (
	maxLine  = 64 << 20
	maxSwell = 1000
)

// Restore puts a backup into tables that are up to date and empty, all or nothing. Its
// error says what is wrong with the archive, or is [ErrNotEmpty] or [ErrNewer].
func Restore(ctx context.Context, dsn string, from io.ReaderAt, size int64, progress func(string)) (*Manifest, error) {
	archive, err := zip.NewReader(from, size)
	if err != nil {
		return nil, fmt.Errorf("this is not a backup: %w", err)
	}
	m, err := manifest(archive)
	if err != nil {
		return nil, err
	}
	db, err := whole(dsn)
	if err != nil {
		return nil, err
	}
	defer db.Close()
	tx, err := db.BeginTx(ctx, nil)
	if err != nil {
		return nil, translate(err)
	}
	defer tx.Rollback() // what was committed stays
	var version, there int64
	if err := tx.QueryRowContext(ctx, `SELECT (SELECT MAX(version_id) FROM goose_db_version WHERE is_applied), (SELECT COUNT(*) FROM builds) + (SELECT COUNT(*) FROM drawer) + (SELECT COUNT(*) FROM boards) + (SELECT COUNT(*) FROM kinds) + (SELECT COUNT(*) FROM meter) + (SELECT COUNT(*) FROM drills)`).Scan(&version, &there); err != nil {
		return nil, translate(err)
	}
	switch {
	case there > 0:
		return nil, ErrNotEmpty
	case m.Version > version:
		return nil, fmt.Errorf("%w: the backup is of version %d, and this program knows up to %d. Use the newer program", ErrNewer, m.Version, version)
	}
	for _, table := range tables {
		progress("taking in " + table)
		if _, err := tx.ExecContext(ctx, `DELETE FROM `+table); err != nil {
			return nil, translate(err)
		}
		file, err := archive.Open(table + ".jsonl")
		if err != nil {
			if m.Rows[table] == 0 {
				continue // an older program knew no such table
			}
			return nil, fmt.Errorf("the backup has no %s.jsonl", table)
		}
		n, err := load(ctx, tx, table, io.LimitReader(file, max(1<<20, size)*maxSwell))
		if err = errors.Join(err, file.Close()); err != nil {
			return nil, fmt.Errorf("%s.jsonl, line %d: %w", table, n+1, err)
		}
		if n != m.Rows[table] {
			return nil, fmt.Errorf("%s.jsonl has %d rows, and the manifest says %d: the backup is not whole", table, n, m.Rows[table])
		}
	}
	return m, translate(tx.Commit())
}

func manifest(archive *zip.Reader) (*Manifest, error) {
	file, err := archive.Open("manifest.json")
	if err != nil {
		return nil, errors.New("this is not a backup: there is no manifest.json in it")
	}
	defer file.Close()
	var m Manifest
	if err := json.NewDecoder(io.LimitReader(file, 1<<20)).Decode(&m); err != nil {
		return nil, fmt.Errorf("this is not a backup: manifest.json: %w", err)
	}
	if m.Format != BackupFormat {
		return nil, fmt.Errorf("this is not a backup that this program reads: its format is %q, and it reads %q", m.Format, BackupFormat)
	}
	return &m, nil
}

func load(ctx context.Context, tx *sql.Tx, table string, from io.Reader) (n int, err error) {
	rows, err := tx.QueryContext(ctx, `SELECT * FROM `+table+` LIMIT 0`)
	if err != nil {
		return 0, err
	}
	columns, err := rows.Columns()
	if err = errors.Join(err, rows.Close()); err != nil {
		return 0, err
	}
	lines := bufio.NewScanner(from)
	lines.Buffer(make([]byte, 64<<10), maxLine)
	for lines.Scan() {
		var row map[string]any
		if err := json.Unmarshal(lines.Bytes(), &row); err != nil {
			return n, err
		}
		var names []string
		var values []any
		for name, v := range row {
			if !slices.Contains(columns, name) {
				return n, fmt.Errorf("there is no column %q", name[:min(len(name), 60)])
			}
			if b, ok := v.(map[string]any); ok {
				text, _ := b["base64"].(string)
				if v, err = base64.StdEncoding.DecodeString(text); err != nil {
					return n, err
				}
			} else if _, ok := v.(string); !ok && v != nil {
				return n, fmt.Errorf("%s is neither a text nor bytes", name)
			}
			names, values = append(names, "`"+name+"`"), append(values, v)
		}
		q := fmt.Sprintf("INSERT INTO %s (%s) VALUES (%s)", table, strings.Join(names, ", "), strings.TrimSuffix(strings.Repeat("?, ", len(names)), ", "))
		if _, err := tx.ExecContext(ctx, q, values...); err != nil {
			return n, translate(err)
		}
		if n++; n == math.MaxInt32 {
			return n, errors.New("there are too many rows")
		}
	}
	return n, lines.Err()
}
