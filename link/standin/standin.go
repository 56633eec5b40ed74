// Package standin is a board at the other end of a line that is none: a build on the simulated bench,
// in real time. What asks it, or listens to it, does so by the same bytes as with a board on a cable.
package standin

import (
	"context"
	"errors"
	"io"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

const (
	tick     = 2 * time.Millisecond
	mostRead = 512 // bytes of a line at once
)

// Serve lives until its context is done, the line is closed, or the run comes to its end; only the
// last of these, by a mistake of the program, is an error. Hands act by what comes from do.
func Serve(ctx context.Context, line io.ReadWriter, net *wiring.Network, made *program.Compiled, seed uint64, do <-chan bench.Action) error {
	ctx, cancel := context.WithCancel(ctx)
	defer cancel()
	live, err := bench.NewLive(ctx, net, made, bench.Options{Lasts: bench.MaxLasts * time.Second, Seed: seed})
	if err != nil {
		return err
	}
	defer live.Close()
	heard := make(chan []byte)
	go hear(ctx, line, heard, cancel)
	clock := time.NewTicker(tick)
	defer clock.Stop()
	began := time.Now()
	for {
		select {
		case <-ctx.Done():
			return nil
		case text := <-heard:
			live.Receive(string(text))
		case action, ok := <-do:
			if !ok {
				do = nil
			} else if err := live.Do(action); err != nil {
				return err
			}
		case <-clock.C:
			if err := live.To(int64(time.Since(began))); err != nil && ctx.Err() == nil {
				return err
			}
			news := live.News()
			for _, said := range news.Serial {
				if _, err := io.WriteString(line, said.Text); err != nil {
					return nil // nobody is there any more
				}
			}
			if news.How != "" {
				return ended(news)
			}
		}
	}
}

// ended is how a run came to its end.
func ended(news bench.News) error {
	if news.How == "broke off" || news.How == "too much" {
		return errors.New("the program on the board " + news.How + ": " + news.Why)
	}
	return nil
}

// hear passes on what comes over the line, until it is closed.
func hear(ctx context.Context, line io.Reader, to chan<- []byte, end func()) {
	defer end()
	for {
		text := make([]byte, mostRead)
		n, err := line.Read(text)
		if n > 0 {
			select {
			case to <- text[:n]:
			case <-ctx.Done():
				return
			}
		}
		if err != nil {
			return
		}
	}
}
