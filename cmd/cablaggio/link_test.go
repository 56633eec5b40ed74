package main

import (
	"bufio"
	"bytes"
	"encoding/json"
	"io"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/faults/diagnose"
)

// simulated starts a build's board at a pseudo terminal, and returns its port, and the way to its hands.
func simulated(t *testing.T, args ...string) (port string, hands io.Writer) {
	t.Helper()
	cmd := exec.Command(binary, append([]string{"board"}, args...)...)
	in, err := cmd.StdinPipe()
	require.NoError(t, err)
	out, err := cmd.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, cmd.Start())
	t.Cleanup(func() {
		require.NoError(t, cmd.Process.Signal(syscall.SIGTERM))
		assert.NoError(t, cmd.Wait(), "it ends when it is told to")
	})
	name, err := bufio.NewReader(out).ReadString('\n')
	require.NoError(t, err)
	return strings.TrimSpace(name), in
}

// asked runs cablaggio ask until the board answers: one that is simulated in real time is late on a
// machine that has much to do.
func asked(t *testing.T, args ...string) (code int, stdout, stderr string) {
	t.Helper()
	for {
		code, stdout, stderr = cli(t, append([]string{"ask"}, args...)...)
		if !strings.Contains(stderr, "nothing answers") || t.Context().Err() != nil {
			return code, stdout, stderr
		}
	}
}

// A board is asked over a real terminal, by the same bytes as one on a cable: a sound build is as
// planned and says how far that goes, one with a fault is not, and has it among the causes.
func TestAskCommand(t *testing.T) {
	port, _ := simulated(t, tram)
	code, out, errs := asked(t, tram, "--port", port)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "The board reads at its pins what it should.")
	assert.Contains(t, out, "would have shown")

	const wire = "no-wire:board.GND/3:L-4"
	port, _ = simulated(t, tram, "--fault", wire)
	code, out, errs = asked(t, tram, "--json", "--port", port)
	require.Equal(t, 1, code, errs)
	var told diagnose.Answered
	require.NoError(t, json.Unmarshal([]byte(out), &told))
	assert.False(t, told.AsPlanned)
	assert.Equal(t, []string{wire}, told.Causes[0].Faults)

	// The board of another build is not asked: its pins are not these.
	code, _, errs = asked(t, filepath.Join(filepath.Dir(tram), "quiz-table.json"), "--port", port)
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "load the one for this board")
}

// The builder's own program prints to who listens at the terminal, and hands act as it lives.
func TestConsoleCommand(t *testing.T) {
	port, hands := simulated(t, tram, filepath.Join(filepath.Dir(tram), "programs", "tram-stop.cpp"))
	console := exec.Command(binary, "console", "--port", port)
	out, err := console.StdoutPipe()
	require.NoError(t, err)
	require.NoError(t, console.Start())
	t.Cleanup(func() { _ = console.Process.Signal(syscall.SIGTERM); _ = console.Wait() })
	said := make(chan string, 1)
	go func() {
		line, _ := bufio.NewReader(out).ReadString('\n')
		said <- line
	}()
	for line := ""; line == ""; { // until the console listens
		_, err := io.WriteString(hands, "press button1\n")
		require.NoError(t, err)
		_, err = io.WriteString(hands, "release button1\n")
		require.NoError(t, err)
		select {
		case line = <-said:
			assert.Contains(t, line, "a tram is asked to stop")
		case <-t.Context().Done():
			t.Fatal("nothing was printed")
		}
	}
}

// What makes no sense is told with what would be right, and nothing is opened.
func TestLinkCommandsRefuse(t *testing.T) {
	for words, args := range map[string][]string{
		"is the board plugged in?":      {"ask", tram, "--port", "/dev/ttyNOBODY7"},
		"is no serial port":             {"console", "--port", "/dev/null"},
		"there is no fault":             {"board", tram, "--fault", "rust"},
		"port":                          {"ask", tram},
		"it names no part of the build": {"board", tram, "--do", "press moon"},
		"no such file or directory":     {"board", "nowhere.json"},
		"there is no fault \"unset:":    {"board", tram, "--fault", "unset:D4"},
	} {
		code, _, errs := cli(t, args...)
		assert.Equal(t, 2, code, "%v", args)
		assert.Contains(t, errs, words, "%v", args)
	}
	code, out, _ := cli(t, "ports", "--json")
	assert.Equal(t, 0, code)
	assert.True(t, json.Valid(bytes.TrimSpace([]byte(out))))
}
