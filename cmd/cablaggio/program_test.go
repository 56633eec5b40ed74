package main

import (
	"encoding/csv"
	"encoding/json"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

// aFile writes a file for a test.
func aFile(t *testing.T, name, text string) string {
	t.Helper()
	file := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(file, []byte(text), 0o600))
	return file
}

const (
	tram  = "../../demo/tram-stop.json"
	stops = "../../demo/programs/tram-stop.cpp"
)

func TestProgramCommand(t *testing.T) {
	code, out, errs := cli(t, "program", tram, stops)
	assert.Equal(t, 0, code, errs)
	assert.Contains(t, out, "0 stop, 0 care, 0 note")
	assert.Contains(t, out, "stop request lamp")

	wrong := aFile(t, "wrong.cpp", "const int lamp = 10;\nvoid setup() {\n  pinMode(lamp, OUTPUT);\n}\nvoid loop() {\n  digitalWrite(lamp, HIGH);\n  delay(500);\n  digitalWrite(lamp, LOW);\n  delay(500);\n}\n")
	code, out, _ = cli(t, "program", tram, wrong)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "D10")
	assert.Contains(t, out, "fix: ")
	code, out, _ = cli(t, "program", "--json", tram, wrong)
	assert.Equal(t, 1, code)
	var a program.Analysis
	require.NoError(t, json.Unmarshal([]byte(out), &a))
	assert.True(t, a.Compiles)
	assert.Positive(t, a.Counts.Stop)

	code, out, _ = cli(t, "program", tram, aFile(t, "open.cpp", "void setup() {\n  pinMode(4, OUTPUT)\n}\nvoid loop() {}\n"))
	assert.Equal(t, 2, code)
	assert.Contains(t, out, "does not compile")
	assert.Contains(t, out, "line 2")
	assert.Contains(t, out, "expected ';'", "what the compiler says is there too")

	blink, err := os.ReadFile("../../starts/blink.json") // where no program is beside it
	require.NoError(t, err)
	for says, args := range map[string][]string{
		"runs C++ only":         {tram, aFile(t, "a.py", "from machine import Pin\n")},
		"at most 64":            {tram, aFile(t, "long.cpp", strings.Repeat("\n", 64<<10+1))},
		"not text in UTF-8":     {tram, aFile(t, "a.cpp", "int \xff;")},
		"the languages are":     {tram, wrong, "--language", "basic"},
		"no such file":          {tram, "nowhere.cpp"},
		"name the file of one":  {aFile(t, "blink.json", string(blink))},
		"this is not JSON":      {wrong},
		"accepts between 1 and": {},
	} {
		code, out, errs := cli(t, append([]string{"program"}, args...)...)
		assert.Equal(t, 2, code, says)
		assert.Contains(t, out+errs, says)
	}
}

// What is written as a starter is what the program command has nothing against.
func TestStarterCommand(t *testing.T) {
	code, out, errs := cli(t, "starter", tram)
	require.Equal(t, 0, code, errs)
	code, said, _ := cli(t, "program", tram, aFile(t, "starter.cpp", out))
	assert.Equal(t, 0, code)
	assert.Contains(t, said, "0 stop, 0 care")

	code, out, _ = cli(t, "starter", "../../starts/register.json", "--language", "python-machine", "--test")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "from machine import")
	for says, args := range map[string][]string{
		"C++ only":          {tram, "--language", "python-board"},
		"the languages are": {tram, "--language", "basic"},
	} {
		code, out, errs := cli(t, append([]string{"starter"}, args...)...)
		assert.Equal(t, 2, code, says)
		assert.Empty(t, out, says)
		assert.Contains(t, errs, says)
	}
}

func TestRunCommand(t *testing.T) {
	dump, table := filepath.Join(t.TempDir(), "run.vcd"), filepath.Join(t.TempDir(), "run.csv")
	code, out, errs := cli(t, "run", tram, stops, "--for", "3s", "--do", "1s press button1; 1.3s release button1", "--vcd", dump, "--csv", table)
	require.Equal(t, 0, code, errs)
	assert.Contains(t, out, "3 s, seed 1")
	assert.Contains(t, out, "a tram is asked to stop")
	data, err := os.ReadFile(dump)
	require.NoError(t, err)
	assert.Contains(t, string(data), "$enddefinitions $end")
	f, err := os.Open(table)
	require.NoError(t, err)
	defer f.Close()
	rows, err := csv.NewReader(f).ReadAll()
	require.NoError(t, err, "a table that a table program reads")
	assert.Greater(t, len(rows), 10)

	script := aFile(t, "script.txt", "# a press\n1s press button1\n1.3s release button1\n")
	code, again, _ := cli(t, "run", tram, stops, "--for", "3s", "--script", script)
	assert.Equal(t, 0, code)
	assert.Equal(t, out, again, "a script is what --do is")

	code, out, _ = cli(t, "run", "../../starts/blink.json", "--for", "24h", "--json")
	assert.Equal(t, 0, code)
	var r bench.Recording
	require.NoError(t, json.Unmarshal([]byte(out), &r))
	assert.Equal(t, 86400.0, r.Ended)

	for says, args := range map[string][]string{
		"the parts are":           {"--do", "1s press nothing"},
		"write when":              {"--do", "press button1"},
		"at most a day":           {"--for", "25h"},
		"more than nothing":       {"--for", "0s"},
		"no such file":            {"--script", "nowhere.txt"},
		"no such file or":         {"--for", "1s", "--vcd", "nowhere/run.vcd"},
		"does not compile: line ": {aFile(t, "a.cpp", "void setup() { x(); }\nvoid loop() {}\n")},
	} {
		code, out, errs := cli(t, append([]string{"run", tram}, args...)...)
		assert.Equal(t, 2, code, says)
		assert.Contains(t, errs, says)
		assert.Empty(t, out, says)
	}
}
