package link_test

import (
	"bufio"
	"io"
	"path/filepath"
	"testing"

	"github.com/creack/pty"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/link"
)

// A pseudo terminal is a port like any other: what is written at one end is read at the other, byte
// for byte, and who opened it first has it alone.
func TestOpen(t *testing.T) {
	far, near, err := pty.Open()
	require.NoError(t, err)
	defer far.Close()
	name := near.Name()
	require.NoError(t, near.Close())
	p, err := link.Open(name, link.Rate)
	require.NoError(t, err)
	sent := "1 who\n\x00\xff\r\n"
	_, err = io.WriteString(p, sent)
	require.NoError(t, err)
	got := make([]byte, len(sent))
	_, err = io.ReadFull(bufio.NewReader(far), got)
	require.NoError(t, err)
	assert.Equal(t, sent, string(got))
	require.NoError(t, p.Close())
}

// What cannot be opened is told in words that say what would be right.
func TestWhatCannotBeOpened(t *testing.T) {
	_, err := link.Open("/dev/ttyNOBODY7", link.Rate)
	assert.ErrorContains(t, err, "is the board plugged in?")
	_, err = link.Open(filepath.Join(t.TempDir(), "x"), link.Rate)
	assert.ErrorContains(t, err, "is the board plugged in?")
	_, err = link.Open(t.TempDir(), link.Rate)
	assert.ErrorContains(t, err, "no serial port")
	_, err = link.Open("/dev/null", link.Rate)
	assert.ErrorContains(t, err, "no serial port")
	list, err := link.Ports()
	require.NoError(t, err)
	assert.NotNil(t, list)
}
