package store

import (
	"context"
	"database/sql"
	"embed"
	"errors"
	"fmt"
	"io/fs"

	"github.com/go-sql-driver/mysql"
	"github.com/pressly/goose/v3"
)

//go:embed migrations/*.sql
var migrations embed.FS

// ErrNewer says that a newer program has brought the tables further than this one
// knows.
var ErrNewer = errors.New("the tables are those of a newer Cablaggio")

// patience is how long in seconds a program waits for another one to bring the tables
// up to date.
const patience = 120

// Migrate brings the tables up to date. The account of the DSN must be allowed to
// create tables. Of several that do so at once one does it, the others wait; one that
// is ended midway goes on the next time. Tables of a newer program are left as they are:
// the error is [ErrNewer].
func Migrate(ctx context.Context, dsn string) (err error) {
	cfg, err := config(dsn)
	if err != nil {
		return err
	}
	cfg.ReadTimeout, cfg.WriteTimeout = 0, 0 // a table may take its time
	connector, err := mysql.NewConnector(cfg)
	if err != nil {
		return err
	}
	db := sql.OpenDB(connector)
	defer db.Close()
	// The lock ends with its connection.
	lock, err := db.Conn(ctx)
	if err != nil {
		return err
	}
	defer lock.Close()
	var got sql.NullInt64
	if err := lock.QueryRowContext(ctx, `SELECT GET_LOCK(CONCAT('migrate.', DATABASE()), ?)`, patience).Scan(&got); err != nil {
		return err
	}
	if got.Int64 != 1 {
		return errors.New("another program is bringing the tables up to date and does not come to an end")
	}
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		return err
	}
	provider, err := goose.NewProvider(goose.DialectMySQL, db, sub)
	if err != nil {
		return err
	}
	if err := begun(ctx, lock); err != nil {
		return err
	}
	current, target, err := provider.GetVersions(ctx)
	if err != nil {
		return err
	}
	if current > target {
		return fmt.Errorf("%w: they are at version %d, and this program knows up to %d. Start the newer program", ErrNewer, current, target)
	}
	_, err = provider.Up(ctx)
	return err
}

// begun puts right what a program has left that was ended between making the table of
// versions and writing the first line of it.
func begun(ctx context.Context, conn *sql.Conn) error {
	var there int
	if err := conn.QueryRowContext(ctx, `SELECT COUNT(*) FROM information_schema.tables WHERE table_schema = DATABASE() AND table_name = 'goose_db_version'`).Scan(&there); err != nil || there == 0 {
		return err
	}
	_, err := conn.ExecContext(ctx, `INSERT INTO goose_db_version (version_id, is_applied) SELECT 0, 1 FROM DUAL WHERE NOT EXISTS (SELECT 1 FROM goose_db_version)`)
	return err
}
