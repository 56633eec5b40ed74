package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/general/version"
	"cablaggio/core/judgement/check"
)

// The program itself, built once for these tests.
var binary string

func TestMain(m *testing.M) { os.Exit(run0(m)) }

func run0(m *testing.M) int {
	dir, err := os.MkdirTemp("", "cablaggio-")
	if err == nil {
		defer os.RemoveAll(dir)
		binary = filepath.Join(dir, "cablaggio")
		var out []byte
		if out, err = exec.Command("go", "build", "-o", binary, ".").CombinedOutput(); err != nil {
			err = fmt.Errorf("%w\n%s", err, out)
		}
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	return m.Run()
}

// cli runs the program and returns its exit code and what it printed.
func cli(t *testing.T, args ...string) (code int, stdout, stderr string) {
	t.Helper()
	var out, errs bytes.Buffer
	cmd := exec.Command(binary, args...)
	cmd.Stdout, cmd.Stderr = &out, &errs
	if err := cmd.Run(); err != nil {
		var exit *exec.ExitError
		require.ErrorAs(t, err, &exit)
	}
	return cmd.ProcessState.ExitCode(), out.String(), errs.String()
}

func TestCheck(t *testing.T) {
	code, out, _ := cli(t, "check", "../../demo/tram-stop.json")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "0 stop, 0 care, 1 note")

	code, out, _ = cli(t, "check", "../../demo/tram-stop-mistakes.json")
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "fix: Put in a resistor of 270 Ω")

	code, out, _ = cli(t, "check", "--json", "../../demo/tram-stop-mistakes.json")
	assert.Equal(t, 1, code)
	var a check.Analysis
	require.NoError(t, json.Unmarshal([]byte(out), &a))
	assert.NotEmpty(t, a.Findings)

	for _, args := range [][]string{{"check", "main.go"}, {"check", "nowhere.json"}, {"check"}, {"check", "/dev/zero"}, {"guess"}} {
		code, _, errs := cli(t, args...)
		assert.Equal(t, 2, code, "%v", args)
		assert.NotEmpty(t, errs, "%v", args)
	}
}

func TestNetlist(t *testing.T) {
	code, out, _ := cli(t, "netlist", "../../demo/tram-stop.json", "--set", "D4=high", "--corner", "low")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "* D4 (platform lamp left) is high\n")
	assert.Contains(t, out, " 15 ; pin D4, driving high\n", "the low corner of the pin's resistance")
	for _, args := range [][]string{{"--set", "D4=purple"}, {"--set", "D4"}, {"--corner", "round"}} {
		code, _, errs := cli(t, append([]string{"netlist", "../../demo/tram-stop.json"}, args...)...)
		assert.Equal(t, 2, code, "%v", args)
		assert.NotEmpty(t, errs, "%v", args)
	}
}

func TestSize(t *testing.T) {
	code, out, _ := cli(t, "size", "--supply", "5", "--led", "red", "--ma", "10", "--series", "E12")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "330 Ω best")
	code, out, _ = cli(t, "size", "--supply", "5", "--led", "red", "--ma", "10", "--have", "100R,220R,270R,1k")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "270 Ω best")
	for _, args := range [][]string{
		{"--supply", "0"}, {"--supply", "-5"}, {"--supply", "abc"}, {"--led", "ultra"}, {"--ma", "0"}, {"--ma", "1000"},
		{"--series", "E7"}, {"--have", "10R"}, {"--have", "x"}, {"--supply", "1V5"}, {"--supply", "1e400"},
	} {
		code, _, errs := cli(t, append([]string{"size"}, args...)...)
		assert.Equal(t, 2, code, "%v", args)
		assert.NotEmpty(t, errs, "%v", args)
	}
}

// patience is how long is waited for what must come: as long as a machine may take that has
// much else to do.
const patience = 3 * time.Minute

// A started program is one that serves.
type started struct {
	cmd *exec.Cmd
	url string
	out *bytes.Buffer
}

var address = regexp.MustCompile(`http://127\.0\.0\.1:\d+`)

func start(t *testing.T, dir string) *started {
	t.Helper()
	s := &started{cmd: exec.Command(binary, "serve", "--demo", "--data", dir, "--port", "18710"), out: &bytes.Buffer{}}
	r, w, err := os.Pipe()
	require.NoError(t, err)
	s.cmd.Stdout, s.cmd.Stderr = w, w
	require.NoError(t, s.cmd.Start())
	require.NoError(t, w.Close())
	t.Cleanup(func() { _ = s.cmd.Process.Kill() })
	buf := make([]byte, 4096)
	for s.url == "" {
		n, err := r.Read(buf)
		require.NoError(t, err, "%s", s.out)
		s.out.Write(buf[:n])
		s.url = address.FindString(s.out.String())
	}
	// Whoever started it may not read on: it goes on all the same.
	require.NoError(t, r.Close())
	return s
}

func (s *started) builds(t *testing.T) string {
	t.Helper()
	resp, err := http.Get(s.url + "/api/builds")
	require.NoError(t, err)
	defer resp.Body.Close()
	var b bytes.Buffer
	_, err = b.ReadFrom(resp.Body)
	require.NoError(t, err)
	return b.String()
}

// lines counts the lines in the log of a build.
func (s *started) lines(t *testing.T, title string) int {
	t.Helper()
	get := func(path string, into any) {
		resp, err := http.Get(s.url + path)
		require.NoError(t, err)
		defer resp.Body.Close()
		require.NoError(t, json.NewDecoder(resp.Body).Decode(into))
	}
	var list struct{ Builds []struct{ ID, Title string } }
	get("/api/builds", &list)
	i := slices.IndexFunc(list.Builds, func(b struct{ ID, Title string }) bool { return b.Title == title })
	require.GreaterOrEqual(t, i, 0)
	var log struct{ Entries []struct{ Kind string } }
	get("/api/builds/"+list.Builds[i].ID+"/log", &log)
	return len(log.Entries)
}

// The version is one, everywhere.
func TestVersion(t *testing.T) {
	code, out, _ := cli(t, "version")
	assert.Zero(t, code)
	assert.Contains(t, out, version.Name)
	changes, err := os.ReadFile("../../CHANGELOG.md")
	require.NoError(t, err)
	assert.Contains(t, string(changes), "## "+version.Number+" ", "the changelog has it")
	code, _, errs := cli(t, "serve", "--log", "loud")
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "debug, info, warn or error")
}

func TestServeStopsInOrderAndSurvivesBeingKilled(t *testing.T) {
	dir := t.TempDir()
	s := start(t, dir)
	assert.Contains(t, s.builds(t), "Model tram stop")
	assert.Equal(t, 9, s.lines(t, "Model tram stop"), "it comes with the log of its building")
	written, err := os.ReadFile(filepath.Join(dir, "cablaggio.log"))
	require.NoError(t, err)
	assert.Contains(t, string(written), `"msg":"ready"`)
	assert.NotContains(t, string(written), `"level":"DEBUG"`)

	code, _, errs := cli(t, "serve", "--data", dir)
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "another Cablaggio is running")

	resp, err := http.Post(s.url+"/api/builds", "application/json", strings.NewReader(`{"title":"kept","board":"classic-5v"}`))
	require.NoError(t, err)
	resp.Body.Close()
	require.Equal(t, http.StatusCreated, resp.StatusCode)
	require.NoError(t, s.cmd.Process.Kill()) // as kill -9
	_ = s.cmd.Wait()

	s = start(t, dir)
	list := s.builds(t)
	assert.Contains(t, list, `"kept"`)
	assert.Equal(t, 2, strings.Count(list, "Model tram stop"), "the demo is loaded once")

	// The database is started again when it dies.
	require.NoError(t, syscall.Kill(databasePID(t, dir), syscall.SIGKILL))
	require.Eventually(t, func() bool {
		resp, err := http.Get(s.url + "/api/health")
		if err != nil {
			return false
		}
		defer resp.Body.Close()
		return resp.StatusCode == http.StatusOK
	}, patience, 50*time.Millisecond)
	assert.Contains(t, s.builds(t), `"kept"`)

	again := databasePID(t, dir)
	require.NoError(t, syscall.Kill(again, 0))
	require.NoError(t, s.cmd.Process.Signal(os.Interrupt))
	done := make(chan error, 1)
	go func() { done <- s.cmd.Wait() }()
	select {
	case err := <-done:
		assert.NoError(t, err)
	case <-time.After(patience):
		t.Fatal("it does not stop")
	}
	assert.ErrorIs(t, syscall.Kill(again, 0), syscall.ESRCH, "the database has stopped too")
}

func databasePID(t *testing.T, dir string) (pid int) {
	t.Helper()
	data, err := os.ReadFile(filepath.Join(dir, "pid"))
	require.NoError(t, err)
	_, err = fmt.Sscan(string(data), &pid)
	require.NoError(t, err)
	return pid
}

// What to measure, what it must read, and what a reading means.
func TestMeter(t *testing.T) {
	const tram = "../../demo/tram-stop.json"
	code, out, _ := cli(t, "checks", tram)
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "Before the supply goes on")
	assert.Contains(t, out, "check volts:board.5V:board.GND")
	_, out, _ = cli(t, "checks", tram, "--json")
	var list struct{ Checks []struct{ ID string } }
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	assert.NotEmpty(t, list.Checks)

	code, out, _ = cli(t, "reads", tram, "--between", "5V,GND")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "5.00")
	code, out, _ = cli(t, "reads", tram, "--in", "button1.1a", "--set", "button1=pressed")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "µA")

	for reading, want := range map[string]int{"4,97 V": 0, "0.1": 1, "OL": 1, "5 A": 2, "": 2} {
		code, _, _ = cli(t, "judge", tram, "--check", "volts:board.5V:board.GND", "--reading", reading)
		assert.Equal(t, want, code, reading)
	}
	for _, wrong := range [][]string{{"judge", tram, "--check", "x", "--reading", "5"}, {"reads", tram, "--between", "5V"}, {"reads", tram, "--between", "5V,moon"},
		{"reads", tram, "--between", "5V,GND", "--set", "D4=purple"}, {"reads", tram, "--between", "5V,GND", "--volts", "--unpowered"}, {"checks", tram, "--meter", "none.json"}} {
		code, _, errs := cli(t, wrong...)
		assert.Equal(t, 2, code, wrong)
		assert.NotEmpty(t, errs, wrong)
	}
}

// A backup of a running server is taken in elsewhere, and is all there; nothing is written
// over.
func TestBackupOfARunningServer(t *testing.T) {
	dir, elsewhere, file := t.TempDir(), filepath.Join(t.TempDir(), "new"), filepath.Join(t.TempDir(), "all.zip")
	s := start(t, dir)
	code, _, errs := cli(t, "backup", file, "--data", dir)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, errs, "builds with")
	code, _, errs = cli(t, "restore", file, "--data", dir)
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "there are builds here already")
	code, _, errs = cli(t, "restore", file, "--data", elsewhere)
	require.Equal(t, 0, code, errs)
	before := s.builds(t)
	require.NoError(t, s.cmd.Process.Signal(os.Interrupt))
	_ = s.cmd.Wait()
	assert.JSONEq(t, before, start(t, elsewhere).builds(t))
	code, _, errs = cli(t, "backup", file, "--data", t.TempDir())
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "no database")
	code, _, _ = cli(t, "restore", "main.go", "--data", filepath.Join(t.TempDir(), "x"))
	assert.Equal(t, 2, code)
}
