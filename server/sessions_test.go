package server

import (
	"log/slog"
	"net/http"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
)

// There are only so many runs: one more takes the place of the one that nobody has watched for
// longest, and where all are watched it is refused.
func TestRoomForOneMore(t *testing.T) {
	lib := build.Shipped()
	net := wiring.Build(lib, build.New("bench", "classic-5v"))
	l := &sessions{log: slog.New(slog.DiscardHandler), all: map[string]*session{}}
	defer l.close()
	begin := func() *session {
		t.Helper()
		s, err := l.begin("b", net, nil, bench.Options{Lasts: time.Minute, Seed: 1})
		require.NoError(t, err)
		return s
	}
	first := begin()
	for range maxSessions - 1 {
		begin()
	}
	begin()
	select {
	case <-first.ended:
	case <-time.After(time.Minute):
		t.Fatal("the first one goes on")
	}
	assert.Nil(t, l.join(first.id, "b"))

	l.mu.Lock()
	var all []*session
	for _, s := range l.all {
		all = append(all, s)
	}
	l.mu.Unlock()
	require.Len(t, all, maxSessions)
	for _, s := range all {
		watching := make(chan struct{})
		s.ask(func() { s.watch(&watcher{make(chan []byte, backlog)}); close(watching) })
		<-watching
	}
	_, err := l.begin("b", net, nil, bench.Options{Lasts: time.Minute, Seed: 1})
	var refused *Problem
	require.ErrorAs(t, err, &refused)
	assert.Equal(t, http.StatusServiceUnavailable, refused.Status)
	assert.Nil(t, l.join(all[0].id, "another build"), "a run belongs to its build")
	assert.Same(t, all[0], l.join(all[0].id, "b"))
}

// What a row did too fast is told in part: the last of it always, so that what it is stays right.
func TestThin(t *testing.T) {
	n := bench.News{Rows: []bench.Row{{Name: "few", Changes: make([]bench.Change, mostChanges)}, {Name: "many"}}}
	for k := range 10_000 {
		n.Rows[1].Changes = append(n.Rows[1].Changes, bench.Change{At: float64(k), Value: float64(k)})
	}
	thin(&n)
	assert.Len(t, n.Rows[0].Changes, mostChanges)
	many := n.Rows[1].Changes
	assert.Len(t, many, mostChanges+1)
	assert.Equal(t, 0.0, many[0].At)
	assert.Equal(t, 9999.0, many[len(many)-1].At)
	for k := range many[1:] {
		assert.Greater(t, many[k+1].At, many[k].At)
	}
}
