package standin_test

import (
	"context"
	"net"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/link/probe"
	"cablaggio/link/standin"
	"cablaggio/toolchain"
)

// boards begins the probing program on a build, and asks who is there.
func asked(t *testing.T, doc *build.Document, language build.Language) *probe.Board {
	t.Helper()
	lib := build.Shipped()
	profile, _ := lib.Board(doc.Board)
	text, err := probe.Program(profile, language)
	require.NoError(t, err)
	made, err := toolchain.New().Compile(t.Context(), text, profile)
	require.NoError(t, err)
	require.NotNil(t, made.Program, "%v", made.Messages)
	near, far := net.Pipe()
	ctx, cancel := context.WithCancel(t.Context())
	done := make(chan error)
	go func() { done <- standin.Serve(ctx, far, wiring.NewCache().Build(lib, doc), made, 1, nil) }()
	t.Cleanup(func() {
		cancel()
		near.Close()
		far.Close()
		assert.NoError(t, <-done)
	})
	b, err := probe.Begin(t.Context(), near)
	require.NoError(t, err)
	return b
}

// A board with nothing on it reads what it pulls, in each language, and refuses what it has not.
func TestABareBoard(t *testing.T) {
	for _, of := range []struct {
		board    string
		language build.Language
	}{{"classic-5v", build.CPP}, {"slim-3v3", build.CPP}, {"slim-3v3", build.PythonMachine}} {
		doc := build.New("bare", of.board)
		t.Log(of)
		b := asked(t, doc, of.language)
		assert.Equal(t, of.board, b.ID)
		lib := build.Shipped()
		profile, _ := lib.Board(of.board)
		for _, p := range probe.Pins(profile)[:4] {
			n := profile.Number(p.Name)
			require.NoError(t, b.Pull(t.Context(), n, board.PullUp))
			high, err := b.Read(t.Context(), n)
			require.NoError(t, err)
			assert.True(t, high, p.Name)
		}
		var refused *probe.RefusedError
		assert.ErrorAs(t, b.Pull(t.Context(), 999, board.PullUp), &refused)
		_, err := b.Share(t.Context(), 999)
		assert.ErrorAs(t, err, &refused)
	}
}
