package main

import (
	"context"
	"errors"
	"fmt"
	"os"
	"path/filepath"

	"github.com/spf13/cobra"

	"cablaggio/store"
	"cablaggio/store/mariadb"
)

func backupCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use:   "backup FILE",
		Short: "Write everything into one file, also while Cablaggio is running",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			say := func(words string) { fmt.Fprintln(cmd.ErrOrStderr(), "  "+words) }
			return withDatabase(cmd.Context(), data, false, say, func(dsn string) error { return runBackup(cmd.Context(), dsn, args[0], say) })
		},
	}
	cmd.Flags().StringVar(&data, "data", ".data", "folder of the database")
	return cmd
}

// runBackup writes beside the file and then in its place, so that a backup that was there
// is not lost to one that failed.
func runBackup(ctx context.Context, dsn, file string, say func(string)) error {
	out, err := os.CreateTemp(filepath.Dir(file), filepath.Base(file)+".*")
	if err != nil {
		return exit{exitUsage, err}
	}
	m, err := store.Backup(ctx, dsn, out, say)
	if err = errors.Join(err, out.Sync(), out.Close()); err == nil {
		err = os.Rename(out.Name(), file)
	}
	if err != nil {
		return exit{exitUsage, errors.Join(err, os.Remove(out.Name()))}
	}
	say(fmt.Sprintf("%d builds with %d states, %d lines of their logs: %s", m.Rows["builds"], m.Rows["revisions"], m.Rows["entries"], file))
	return nil
}

func restoreCommand() *cobra.Command {
	var data string
	cmd := &cobra.Command{
		Use:   "restore FILE",
		Short: "Take a backup in, into a data folder that is empty or not there",
		Args:  cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			say := func(words string) { fmt.Fprintln(cmd.ErrOrStderr(), "  "+words) }
			in, err := os.Open(args[0])
			if err != nil {
				return exit{exitUsage, err}
			}
			defer in.Close()
			info, err := in.Stat()
			if err != nil {
				return exit{exitUsage, err}
			}
			return withDatabase(cmd.Context(), data, true, say, func(dsn string) error {
				m, err := store.Restore(cmd.Context(), dsn, in, info.Size(), say)
				if errors.Is(err, store.ErrNotEmpty) {
					err = fmt.Errorf("%w; take it into a folder of its own with --data, or move %s away first", err, data)
				}
				if err != nil {
					return exit{exitUsage, err}
				}
				say(fmt.Sprintf("%d builds with %d states are back", m.Rows["builds"], m.Rows["revisions"]))
				return nil
			})
		},
	}
	cmd.Flags().StringVar(&data, "data", ".data", "folder for the database")
	return cmd
}

// withDatabase does something with root's way into the database of a data folder: that
// which runs there, or one that is started for it. A folder that has nothing yet is made
// when that is wanted.
func withDatabase(ctx context.Context, data string, make bool, say func(string), do func(dsn string) error) (err error) {
	if dsn := os.Getenv("CABLAGGIO_DSN"); dsn != "" {
		if err := store.Migrate(ctx, dsn); err != nil {
			return exit{exitUsage, err}
		}
		return do(dsn)
	}
	if dsn, ok := mariadb.Running(data); ok {
		return do(dsn)
	}
	if _, err := os.Stat(filepath.Join(data, "db")); err != nil && !make {
		return exit{exitUsage, fmt.Errorf("there is no database in %s; name its folder with --data", data)}
	}
	db, err := mariadb.Start(ctx, data, say)
	if err != nil {
		return exit{exitUsage, err}
	}
	defer func() { err = errors.Join(err, db.Stop(), db.Release()) }()
	if err := store.Migrate(ctx, db.AdminDSN()); err != nil {
		return exit{exitUsage, err}
	}
	return do(db.AdminDSN())
}
