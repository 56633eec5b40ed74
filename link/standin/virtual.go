package standin

import (
	"context"
	"io"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

// A Virtual is a board like that of [Serve], whose time goes on only while somebody waits for what it
// says: whoever asks it is answered at once, and the same at every run. It is closed by its owner.
type Virtual struct {
	live *bench.Live
	said []byte
	ask  chan string
	done chan struct{}
}

const (
	leg     = int64(2 * time.Millisecond)
	mostRun = int64(5 * time.Second) // that somebody waits for a word, in its own time
)

// NewVirtual puts a board in its place. Errors are those of [bench.NewLive].
func NewVirtual(ctx context.Context, net *wiring.Network, made *program.Compiled, seed uint64) (*Virtual, error) {
	live, err := bench.NewLive(ctx, net, made, bench.Options{Lasts: bench.MaxLasts * time.Second, Seed: seed})
	if err != nil {
		return nil, err
	}
	return &Virtual{live: live, ask: make(chan string, 64), done: make(chan struct{})}, nil
}

// Write implements [io.Writer]: it is heard when the board is read next.
func (v *Virtual) Write(text []byte) (int, error) {
	select {
	case v.ask <- string(text):
		return len(text), nil
	case <-v.done:
		return 0, io.ErrClosedPipe
	}
}

// Read implements [io.Reader]. It waits until something was written, unless there is something to
// say yet, and lets time go on until the board answers, or has had its time.
func (v *Virtual) Read(into []byte) (int, error) {
	for len(v.said) == 0 {
		select {
		case text := <-v.ask:
			v.live.Receive(text)
		case <-v.done:
			return 0, io.EOF
		}
		for end := v.live.Now() + mostRun; len(v.said) == 0 && v.live.Now() < end; {
			if err := v.live.To(v.live.Now() + leg); err != nil {
				return 0, err
			}
			news := v.live.News()
			for _, s := range news.Serial {
				v.said = append(v.said, s.Text...)
			}
			if news.How != "" {
				return 0, io.EOF
			}
		}
	}
	n := copy(into, v.said)
	v.said = v.said[n:]
	return n, nil
}

// Do does what a hand does, now. It is not called while somebody reads.
func (v *Virtual) Do(a bench.Action) error { return v.live.Do(a) }

// Close ends the board, once nobody reads it any more.
func (v *Virtual) Close() error {
	close(v.done)
	v.live.Close()
	return nil
}
