package main

import (
	"context"
	"errors"
	"fmt"
	"io"
	"net"
	"net/http"
	"os"
	"os/signal"
	"runtime/debug"
	"strings"
	"syscall"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/spf13/cobra"

	"cablaggio/core/document/build"
	"cablaggio/core/general/version"
	"cablaggio/core/judgement/check"
	"cablaggio/demo"
	"cablaggio/server"
	"cablaggio/store"
	"cablaggio/store/mariadb"
	"cablaggio/web"
)

type serveOptions struct {
	data string
	port int
	demo bool
	log  string
}

func serveCommand() *cobra.Command {
	var o serveOptions
	cmd := &cobra.Command{
		Use:   "serve",
		Short: "Serve the wiring book on this computer",
		Long: "Serve the wiring book on this computer.\n\nBuilds are kept in a MariaDB of its own in the data folder, or on the server\n" +
			"that CABLAGGIO_DSN names (user:password@tcp(host:port)/database).",
		Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM, syscall.SIGHUP)
			defer stop()
			// Nobody may read what is printed any more: that is no reason to end.
			signal.Ignore(syscall.SIGPIPE)
			return serve(ctx, o, cmd.ErrOrStderr(), func(words string) { fmt.Fprintln(cmd.OutOrStdout(), "  "+words) })
		},
	}
	f := cmd.Flags()
	f.StringVar(&o.data, "data", ".data", "folder for the database")
	f.IntVar(&o.port, "port", 8710, "port to serve on; the next free one when it is taken")
	f.BoolVar(&o.demo, "demo", false, "load the demo builds")
	f.StringVar(&o.log, "log", "info", "how much goes into the log, DATA/cablaggio.log: debug, info, warn or error")
	return cmd
}

// collectAt is how far the heap grows before garbage is collected, in per cent. An
// analysis leaves half a megabyte of it beside a heap that is small: collected
// less often than is usual, it is done a tenth sooner. GOGC has the last word.
const collectAt = 400

// roomFor is how many bytes the program should do with: nearing it, garbage is collected
// more often. GOMEMLIMIT has the last word.
const roomFor = 256 << 20

func serve(ctx context.Context, o serveOptions, terminal io.Writer, progress func(string)) (err error) {
	log, closes, err := openLog(o.data, o.log, terminal)
	if err != nil {
		return err
	}
	defer func() {
		if err != nil {
			log.Error("the server ends", "error", err)
		}
		err = errors.Join(err, closes.Close())
	}()
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(collectAt)
	}
	if os.Getenv("GOMEMLIMIT") == "" {
		debug.SetMemoryLimit(roomFor)
	}
	dsn, admin := os.Getenv("CABLAGGIO_DSN"), os.Getenv("CABLAGGIO_DSN")
	var dial store.Dial
	if dsn == "" {
		db, err := mariadb.Start(ctx, o.data, progress)
		if err != nil {
			return err
		}
		defer func() { err = errors.Join(err, db.Stop(), db.Release()) }()
		go db.Keep(ctx, progress)
		dsn, admin, dial = db.DSN(), db.AdminDSN(), db.Dial
	}
	progress("bringing the tables up to date")
	if err := store.Migrate(ctx, admin); err != nil {
		return fmt.Errorf("the database: %w", err)
	}
	st, err := store.Open(dsn, dial)
	if err != nil {
		return err
	}
	defer st.Close()
	lib := build.Shipped()
	if o.demo {
		if err := loadDemo(ctx, lib, st); err != nil {
			return err
		}
	}
	l, err := listen(o.port)
	if err != nil {
		return err
	}
	port := l.Addr().(*net.TCPAddr).Port
	app := server.New(server.Config{
		Store: st, Library: lib, Web: web.Dist(), Log: log,
		Hosts: []string{fmt.Sprintf("127.0.0.1:%d", port), fmt.Sprintf("localhost:%d", port)},
	})
	log.Info("ready", "port", port, "version", version.Number)
	progress(fmt.Sprintf("ready: http://127.0.0.1:%d  (Ctrl-C stops)", port))
	return run(ctx, app, l)
}

// run serves until the context ends, then lets open requests finish.
func run(ctx context.Context, app *fiber.App, l net.Listener) error {
	done := make(chan error, 1)
	go func() { done <- app.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	select {
	case err := <-done:
		return err
	case <-ctx.Done():
	}
	if err := app.ShutdownWithTimeout(2 * time.Second); err != nil && !errors.Is(err, context.DeadlineExceeded) {
		return err
	}
	if err := <-done; err != nil && !errors.Is(err, http.ErrServerClosed) {
		return err
	}
	return nil
}

// listen takes the port, or the next free one of twenty. Loopback only.
func listen(port int) (net.Listener, error) {
	var first error
	for p := port; p < port+20; p++ {
		l, err := net.Listen("tcp", fmt.Sprintf("127.0.0.1:%d", p))
		if err == nil {
			return l, nil
		}
		if first == nil {
			first = err
		}
	}
	return nil, fmt.Errorf("no port from %d to %d is free: %w", port, port+19, first)
}

// loadDemo keeps the demo builds that were never kept before.
func loadDemo(ctx context.Context, lib *build.Library, st *store.Store) error {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		if err != nil {
			return fmt.Errorf("demo %s: %w", d.Name, err)
		}
		a, err := check.Check(lib, doc)
		if err != nil {
			return fmt.Errorf("demo %s: %w", d.Name, err)
		}
		draft, err := server.Draft(doc, a, "demo build")
		if err != nil {
			return fmt.Errorf("demo %s: %w", d.Name, err)
		}
		b, err := st.CreateDemo(ctx, strings.ToLower(d.Name), draft)
		if err == nil && b != nil {
			err = server.LoadLog(ctx, lib, st, d.Name, b.ID, doc)
		}
		if err != nil {
			return fmt.Errorf("demo %s: %w", d.Name, err)
		}
	}
	return nil
}
