package standin

import (
	"context"
	"fmt"
	"io"
	"slices"
	"strings"
	"sync"
	"time"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/core/running/rig"
)

// A Virtual is a board like that of [Serve], whose time goes on only while somebody waits for what it
// says: whoever asks it is answered at once, and the same at every run. It is closed by its owner.
type Virtual struct {
	net  *wiring.Network
	mu   sync.Mutex // over what follows
	live *bench.Live
	said []byte
	amid bool // a line that it says has not come to its end
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
	return &Virtual{net: net, live: live, ask: make(chan string, 64), done: make(chan struct{})}, nil
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
		if v.amid {
			if err := v.answer(""); err != nil {
				return 0, err
			}
			continue
		}
		select {
		case text := <-v.ask:
			if err := v.answer(text); err != nil {
				return 0, err
			}
		case <-v.done:
			return 0, io.EOF
		}
	}
	n := copy(into, v.said)
	v.said = v.said[n:]
	return n, nil
}

// answer lets time go on until the board has said something to what it hears, or has had its time.
func (v *Virtual) answer(text string) error {
	v.mu.Lock()
	defer v.mu.Unlock()
	if v.closed() {
		return io.EOF
	}
	if text != "" {
		v.live.Receive(text)
	}
	for end := v.live.Now() + mostRun; len(v.said) == 0 && v.live.Now() < end && !v.closed(); {
		if err := v.live.To(v.live.Now() + leg); err != nil {
			return err
		}
		news := v.live.News()
		for _, s := range news.Serial {
			v.said = append(v.said, s.Text...)
			v.amid = !strings.HasSuffix(s.Text, "\n")
		}
		if news.How != "" {
			return io.EOF
		}
	}
	return nil
}

func (v *Virtual) closed() bool {
	select {
	case <-v.done:
		return true
	default:
		return false
	}
}

// Hold has a hand hold a thing, by its id, in one of its settings from now on: "pressed", "at one end".
// Its error says what would be right.
func (v *Virtual) Hold(of, setting string) error {
	v.mu.Lock()
	defer v.mu.Unlock()
	i := slices.IndexFunc(v.net.Controls, func(c wiring.Control) bool { return c.Of == of && c.Kind != wiring.Mode })
	if i < 0 {
		return fmt.Errorf("nobody can hold %q in this build", of)
	}
	c := &v.net.Controls[i]
	to, err := c.Parse(setting)
	if err != nil {
		return err
	}
	switch {
	case c.Kind == wiring.Level:
		return v.live.Do(bench.Action{Do: bench.Set, Of: of, To: to})
	case to == rig.Rest(c):
		return v.live.Do(bench.Action{Do: bench.Release, Of: of})
	}
	return v.live.Do(bench.Action{Do: bench.Press, Of: of})
}

// Close ends the board.
func (v *Virtual) Close() error {
	close(v.done)
	v.mu.Lock()
	defer v.mu.Unlock()
	v.live.Close()
	return nil
}
