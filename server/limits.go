package server

import (
	"bytes"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"time"

	"github.com/gofiber/fiber/v3"
)

const (
	// smallBody is how many bytes of a body are read without asking. Larger ones take
	// their turn, a few at a time, so that bodies that are announced and never come
	// take no room.
	smallBody    = 8 << 10
	bodiesAtOnce = 8
	waitForTurn  = 5 * time.Second

	connections = 1000
)

// bodyOf reads the body of a request, of so many bytes at most.
func (s *server) bodyOf(c fiber.Ctx, most int) ([]byte, error) {
	if c.Request().Header.ContentLength() > most {
		return nil, fiber.ErrRequestEntityTooLarge
	}
	if !c.Request().IsBodyStream() {
		return c.Body(), nil
	}
	if n := c.Request().Header.ContentLength(); n < 0 || n > smallBody {
		turn := time.NewTimer(waitForTurn)
		defer turn.Stop()
		select {
		case s.bodies <- struct{}{}:
			defer func() { <-s.bodies }()
		case <-turn.C:
			return nil, busy()
		}
	}
	data, err := io.ReadAll(io.LimitReader(c.Request().BodyStream(), int64(most)+1))
	switch {
	case err != nil:
		return nil, problem(http.StatusRequestTimeout, "The request was not finished.", "send it again")
	case len(data) > most:
		return nil, fiber.ErrRequestEntityTooLarge
	}
	return data, nil
}

func busy() *Problem {
	return problem(http.StatusTooManyRequests, "There is too much to do at once.", "nothing is lost; try again in a moment")
}

// hostOf returns the one host that a request names, without more; "" if it names
// several, or somebody at it.
func hostOf(c fiber.Ctx) string {
	hosts := 0
	for line := range bytes.Lines(c.Request().Header.RawHeaders()) {
		name, _, found := bytes.Cut(line, []byte(":"))
		if found && strings.EqualFold(strings.TrimSpace(string(name)), "host") {
			hosts++
		}
	}
	host := strings.ToLower(string(c.Request().Header.Host()))
	if hosts > 1 || host != strings.ToLower(c.Host()) || strings.Contains(host, "@") {
		return ""
	}
	return host
}

// A connectionLog writes what the HTTP server says of connections that came to nothing,
// one line for a hundred.
type connectionLog struct {
	log *slog.Logger

	mu   sync.Mutex
	seen int
}

// Printf is what the HTTP server calls.
func (l *connectionLog) Printf(format string, args ...any) {
	l.mu.Lock()
	l.seen++
	first := l.seen%100 == 1
	seen := l.seen
	l.mu.Unlock()
	if first {
		l.log.Warn("a connection came to nothing; of its kind one in a hundred is told", "what", fmt.Sprintf(format, args...), "so far", seen)
	}
}
