// Package store keeps builds with all their revisions in MariaDB.
//
// Every accepted edit is a revision that points to the one it was made from.
// Undo moves a build's head to the parent, redo to the child made last; nothing
// is ever overwritten, so both survive a restart and have no end.
package store

import (
	"context"
	"crypto/rand"
	"database/sql"
	"database/sql/driver"
	"encoding/base32"
	"errors"
	"fmt"
	"net"
	"strconv"
	"strings"
	"time"

	"github.com/go-sql-driver/mysql"
)

// Errors of the store. A method's error is one of these, a [*StaleError], or
// the text of something unexpected.
var (
	ErrNotFound    = errors.New("there is no such build")
	ErrDeleted     = errors.New("the build was deleted")
	ErrUnavailable = errors.New("the database does not answer")
	ErrFull        = errors.New("there is no room left on the database's disk")
	ErrNoUndo      = errors.New("there is nothing to undo")
	ErrNoRedo      = errors.New("there is nothing to redo")
	ErrKeyUsed     = errors.New("the key was used for another request")
)

// A StaleError says that somebody else changed the build first.
type StaleError struct{ Base, Current Tag }

func (e *StaleError) Error() string {
	return fmt.Sprintf("the build has changed since %v; it is at %v now", e.Base, e.Current)
}

// A Tag names one state of a build: how many changes it has seen, and which
// revision is shown.
type Tag struct {
	Version  int64
	Revision int
}

func (t Tag) String() string { return fmt.Sprintf("%d-%d", t.Version, t.Revision) }

// ParseTag reads what [Tag.String] writes.
func ParseTag(s string) (Tag, error) {
	v, r, ok := strings.Cut(s, "-")
	version, err1 := strconv.ParseInt(v, 10, 64)
	revision, err2 := strconv.Atoi(r)
	if !ok || err1 != nil || err2 != nil {
		return Tag{}, fmt.Errorf("%q is not a tag of a build", s)
	}
	return Tag{version, revision}, nil
}

// Counts is how many findings of each level a revision has.
type Counts struct{ Stops, Cares, Notes int }

// A Draft is a revision before it is saved.
type Draft struct {
	Title    string
	Board    string
	Document []byte // JSON
	Summary  string // what was done, in words
	Counts   Counts
	BoardN   int    // the revision of a board of the builder's own; 0: none
	Key      string // names the request; empty: it has no name
	Asked    []byte // what the request asks for; another one may not use its key
	// Coalesces: it goes on with what the shown revision did, as typing does. Within a minute of
	// when that began, the two are one revision.
	Coalesces bool
	// Line is the kind of the line that it is in the build's log, about a part; empty: none.
	Line, About string
}

// A Build is one build at its head.
type Build struct {
	ID       string
	Tag      Tag
	Title    string
	Board    string
	BoardN   int // the revision of a board of the builder's own that it is on; 0: the newest
	Counts   Counts
	Created  time.Time
	Changed  time.Time
	Deleted  bool
	Document []byte // empty in a list
	Undo     string // what undo would take back, in words; empty: nothing
	Redo     string // what redo would do again
}

// A Store keeps builds. It is safe for concurrent use.
type Store struct{ db *sql.DB }

// A Dial connects to a server whose address may change.
type Dial = func(ctx context.Context, network, addr string) (net.Conn, error)

// Open returns a store on the server of the DSN of the MySQL driver, which dial
// connects to; nil: the DSN says where it is. It does not connect yet.
func Open(dsn string, dial Dial) (*Store, error) {
	cfg, err := config(dsn)
	if err != nil {
		return nil, err
	}
	cfg.DialFunc = dial
	connector, err := mysql.NewConnector(cfg)
	if err != nil {
		return nil, err
	}
	db := sql.OpenDB(connector)
	db.SetMaxOpenConns(16)
	db.SetMaxIdleConns(16)
	db.SetConnMaxLifetime(5 * time.Minute)
	return &Store{db}, nil
}

// config sets what the store relies on: times in UTC, and quick failure when
// the server is away.
func config(dsn string) (*mysql.Config, error) {
	cfg, err := mysql.ParseDSN(dsn)
	if err != nil {
		return nil, fmt.Errorf("the DSN of the database: %w", err)
	}
	cfg.ParseTime, cfg.Loc = true, time.UTC
	cfg.Timeout, cfg.ReadTimeout, cfg.WriteTimeout = 2*time.Second, 5*time.Second, 5*time.Second
	cfg.Logger = &mysql.NopLogger{}
	if cfg.Params == nil {
		cfg.Params = map[string]string{}
	}
	cfg.Params["time_zone"] = "'+00:00'"
	cfg.Params["sql_mode"] = "'TRADITIONAL'"
	return cfg, nil
}

// Close closes the connections.
func (s *Store) Close() error { return s.db.Close() }

// Ping reports whether the database answers.
func (s *Store) Ping(ctx context.Context) error { return translate(s.db.PingContext(ctx)) }

// newID returns a random id of 16 letters and digits.
func newID() string {
	var b [10]byte
	if _, err := rand.Read(b[:]); err != nil {
		panic(err) // the system has no randomness
	}
	return strings.ToLower(base32.StdEncoding.EncodeToString(b[:]))
}

// translate turns what the driver says when the server is away into
// ErrUnavailable, and what it says of a full disk into ErrFull. That the one who asked
// has gone, or ran out of time, is no error of the database's and stays as it is.
func translate(err error) error {
	if err == nil {
		return nil
	}
	var (
		op     *net.OpError
		server *mysql.MySQLError
	)
	switch {
	case errors.Is(err, sql.ErrNoRows):
		return ErrNotFound
	case errors.Is(err, context.Canceled):
		return err
	case errors.As(err, &op), errors.Is(err, driver.ErrBadConn), errors.Is(err, mysql.ErrInvalidConn),
		errors.Is(err, context.DeadlineExceeded):
		return fmt.Errorf("%w: %w", ErrUnavailable, err)
	case errors.As(err, &server) && full[server.Number]:
		return fmt.Errorf("%w: %w", ErrFull, err)
	case errors.As(err, &server) && unavailable[server.Number]:
		return fmt.Errorf("%w: %w", ErrUnavailable, err)
	}
	return err
}

// unavailable are the server's own words for "not now": too many connections,
// shutting down, killed, and a cluster node that is not ready.
var unavailable = map[uint16]bool{1040: true, 1053: true, 1927: true, 1047: true, 1205: true}

// full are the server's words for a disk that takes no more: no space, a full table, a
// file that cannot be written.
var full = map[uint16]bool{1021: true, 1114: true, 1026: true, 3: true}

// isDeadlock reports whether the server gave up a transaction that can simply
// be tried again.
func isDeadlock(err error) bool {
	var server *mysql.MySQLError
	return errors.As(err, &server) && server.Number == 1213
}

// isDuplicate reports whether a unique key was there already.
func isDuplicate(err error) bool {
	var server *mysql.MySQLError
	return errors.As(err, &server) && server.Number == 1062
}
