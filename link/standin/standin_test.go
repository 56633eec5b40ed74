package standin_test

import (
	"context"
	"io"
	"net"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/program"
	"cablaggio/link/probe"
	"cablaggio/link/standin"
	"cablaggio/toolchain"
)

// probing is the probing program of a board, compiled.
func probing(t *testing.T, profile *board.Profile, language build.Language) *program.Compiled {
	t.Helper()
	text, err := probe.Program(profile, language)
	require.NoError(t, err)
	made, err := toolchain.New().Compile(t.Context(), text, profile)
	require.NoError(t, err)
	require.NotNil(t, made.Program, "%v", made.Messages)
	return made
}

// begin asks who is there: a machine under load takes its time.
func begin(t *testing.T, line io.ReadWriter) *probe.Board {
	t.Helper()
	b, err := probe.Begin(t.Context(), line, time.Minute)
	require.NoError(t, err)
	return b
}

// A board with nothing on it reads what it pulls, in each language, and refuses what it has not.
func TestABareBoard(t *testing.T) {
	lib := build.Shipped()
	for _, of := range []struct {
		board    string
		language build.Language
	}{{"classic-5v", build.CPP}, {"slim-3v3", build.CPP}, {"slim-3v3", build.PythonMachine}} {
		profile, _ := lib.Board(of.board)
		net := wiring.NewCache().Build(lib, build.New("bare", of.board))
		line, err := standin.NewVirtual(t.Context(), net, probing(t, profile, of.language), 1)
		require.NoError(t, err)
		b := begin(t, line)
		assert.Equal(t, of.board, b.ID)
		for _, p := range probe.Pins(profile)[:4] {
			n := profile.Number(p.Name)
			require.NoError(t, b.Pull(t.Context(), n, board.PullUp))
			high, err := b.Read(t.Context(), n)
			require.NoError(t, err)
			assert.True(t, high, p.Name)
		}
		var refused *probe.RefusedError
		assert.ErrorAs(t, b.Pull(t.Context(), 999, board.PullUp), &refused)
		_, err = b.Share(t.Context(), 999)
		assert.ErrorAs(t, err, &refused)
		require.NoError(t, line.Close())
	}
}

// The board in real time answers as the other one does, and ends when it is told to, or when nobody
// is at the line any more.
func TestInRealTime(t *testing.T) {
	lib := build.Shipped()
	profile, _ := lib.Board("classic-5v")
	made := probing(t, profile, build.CPP)
	wires := wiring.NewCache().Build(lib, build.New("bare", "classic-5v"))
	for _, end := range []string{"it is told", "the line is closed"} {
		near, far := net.Pipe()
		ctx, cancel := context.WithCancel(t.Context())
		done := make(chan error)
		go func() { done <- standin.Serve(ctx, far, wires, made, 1, nil) }()
		b := begin(t, near)
		assert.Equal(t, "classic-5v", b.ID)
		if end == "it is told" {
			cancel()
		} else {
			near.Close()
		}
		assert.NoError(t, <-done, end)
		cancel()
		near.Close()
		far.Close()
	}
}
