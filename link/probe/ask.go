package probe

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"strconv"
	"strings"
	"sync"
	"time"

	"cablaggio/core/catalogue/board"
)

const (
	mostLine   = 4096                   // characters of a line: what is longer is no answer
	answers    = 3 * time.Second        // how long a board takes to answer, at most
	first      = 400 * time.Millisecond // how long it is waited before who is there is asked again
	maybeStale = 64                     // lines that may come before the answer: what was on its way
)

// ComesUp is how long a board may take that begins anew when its line is opened (from memory: 0.5 to
// 2 s).
const ComesUp = 3 * time.Second

// The errors of a board that cannot be asked.
var (
	// ErrSilent is of a board that answers nothing.
	ErrSilent = errors.New("nothing answers as the probing program does: load it into the board first")
	// ErrGone is of a line that came to its end.
	ErrGone = errors.New("the board is gone: its cable was pulled, or it was reset")
)

// A VersionError is of a board whose probing program is of another version.
type VersionError struct{ Version string }

func (e *VersionError) Error() string {
	return fmt.Sprintf("the board's probing program is of version %s, and this application asks by version %d: load it again", e.Version, Version)
}

// A RefusedError is the answer of a board to what it does not do.
type RefusedError struct{ Question, Why string }

func (e *RefusedError) Error() string {
	return fmt.Sprintf("the board does not do %q: %s", e.Question, e.Why)
}

// A Board is one that answers, at the other end of a line. Its methods are called one at a time.
type Board struct {
	ID   string // of its profile
	Full int    // the largest reading of its converter

	line  io.ReadWriter
	lines chan string
	once  sync.Once
	gone  chan struct{}
	asked int
}

// Begin waits so long until the board at the other end of a line answers. A line is begun once. It is closed by whoever opened it, which ends what reads it.
func Begin(ctx context.Context, line io.ReadWriter, patience time.Duration) (*Board, error) {
	b := &Board{line: line, lines: make(chan string, maybeStale), gone: make(chan struct{})}
	go b.listen()
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	for {
		said, err := b.within(ctx, first, "who")
		switch {
		case err == nil:
			return b, b.is(said)
		case errors.Is(err, ErrSilent) && ctx.Err() == nil: // it may be coming up
		case ctx.Err() != nil:
			return nil, ErrSilent
		default:
			return nil, err
		}
	}
}

// is reads who a board says that it is.
func (b *Board) is(said string) error {
	words := strings.Fields(said)
	if len(words) < 2 || words[0] != "probe" {
		return ErrSilent
	}
	if words[1] != strconv.Itoa(Version) {
		return &VersionError{words[1]}
	}
	if len(words) != 4 {
		return ErrSilent
	}
	full, err := strconv.Atoi(words[3])
	if err != nil || full < 1 || full > 1<<24 {
		return ErrSilent
	}
	b.ID, b.Full = words[2], full
	return nil
}

// listen reads lines until there are no more. What is no line of an answer is dropped, and so is the
// oldest where nobody takes them: a board that prints without end neither fills anything nor holds it.
func (b *Board) listen() {
	defer b.once.Do(func() { close(b.gone) })
	r := bufio.NewReaderSize(b.line, mostLine)
	for {
		text, more, err := r.ReadLine()
		whole := string(text)
		for ; more && err == nil; _, more, err = r.ReadLine() {
			whole = ""
		}
		if err != nil {
			return
		}
		for whole != "" {
			select {
			case b.lines <- whole:
				whole = ""
			default:
				select {
				case <-b.lines:
				default:
				}
			}
		}
	}
}

// ask asks one thing, and waits for its answer.
func (b *Board) ask(ctx context.Context, question string) (string, error) {
	return b.within(ctx, answers, question)
}

// within asks one thing, and waits so long for the answer that has its number.
func (b *Board) within(ctx context.Context, patience time.Duration, question string) (string, error) {
	b.asked++
	number := strconv.Itoa(b.asked)
	// A line that takes nothing holds who writes to it, not who asks.
	written := make(chan error, 1)
	go func() {
		_, err := io.WriteString(b.line, number+" "+question+"\n")
		written <- err
	}()
	late := time.NewTimer(patience)
	defer late.Stop()
	for {
		select {
		case err := <-written:
			if err != nil {
				return "", ErrGone
			}
		case line := <-b.lines:
			said, ok := strings.CutPrefix(strings.TrimRight(line, "\r"), number+" ")
			if !ok {
				continue // of another question, or something else that was printed
			}
			if why, refused := strings.CutPrefix(said, "! "); refused {
				return "", &RefusedError{question, why}
			}
			return said, nil
		case <-late.C:
			return "", ErrSilent
		case <-b.gone:
			return "", ErrGone
		case <-ctx.Done():
			return "", ctx.Err()
		}
	}
}

// do asks for something that is answered with "ok".
func (b *Board) do(ctx context.Context, what string, pin int) error {
	said, err := b.ask(ctx, fmt.Sprintf("%s %d", what, pin))
	if err == nil && said != "ok" {
		return &RefusedError{what, said}
	}
	return err
}

// Pull lets a pin go, or has it pulled up or down, by the number that programs know it by.
func (b *Board) Pull(ctx context.Context, pin int, pull board.Pull) error {
	what := map[board.Pull]string{board.PullUp: "up", board.PullDown: "down"}[pull]
	if what == "" {
		what = "free"
	}
	return b.do(ctx, what, pin)
}

// Read reads whether a pin is high.
func (b *Board) Read(ctx context.Context, pin int) (bool, error) {
	said, err := b.ask(ctx, fmt.Sprintf("read %d", pin))
	if err == nil && said != "0" && said != "1" {
		return false, &RefusedError{"read", said}
	}
	return said == "1", err
}

// Share reads an analog pin: the part of the full scale, 0 to 1.
func (b *Board) Share(ctx context.Context, pin int) (float64, error) {
	said, err := b.ask(ctx, fmt.Sprintf("analog %d", pin))
	if err != nil {
		return 0, err
	}
	v, err := strconv.Atoi(said)
	if err != nil || v < 0 || v > b.Full {
		return 0, &RefusedError{"analog", said}
	}
	return float64(v) / float64(b.Full), nil
}
