package main

import (
	"encoding/json"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/fault"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/should"
)

// A build with a fault in it is written, checked, and found by what is seen of it.
func TestDiagnoseCommand(t *testing.T) {
	code, out, _ := cli(t, "diagnose", tram)
	assert.Equal(t, 1, code, "there is all to ask")
	assert.Contains(t, out, "sign lamp: lit when")
	code, out, _ = cli(t, "diagnose", tram, "--seen", "sign lamp is dark", "--answer", "look:led3 -> turn:led3")
	assert.Equal(t, 0, code)
	assert.Contains(t, out, "Sign lamp is the other way round.")
	assert.Contains(t, out, "It was this if then: Sign lamp is lit")
	_, out, _ = cli(t, "diagnose", "--json", tram, "--seen", "sign lamp is dark", "--reading", "led3.anode,led3.cathode when D5=high = -4.9 V")
	var r diagnose.Result
	require.NoError(t, json.Unmarshal([]byte(out), &r))
	assert.Equal(t, []string{"turned:led3"}, r.Causes[0].Faults)
	for _, args := range [][]string{
		{"--seen", "the moon is dark"}, {"--seen", "sign lamp sings"}, {"--reading", "2 V"}, {"--answer", "look"}, {"--answer", "look:moon -> as drawn"},
		{"--answer", "look:led3 -> purple"}, {"--as-built"},
	} {
		code, _, errs := cli(t, append([]string{"diagnose", tram}, args...)...)
		assert.Equal(t, 2, code, "%v", args)
		assert.NotEmpty(t, errs, "%v", args)
	}
}

func TestFaultCommands(t *testing.T) {
	code, out, _ := cli(t, "faults", "--json", tram)
	assert.Equal(t, 0, code)
	var list []fault.Fault
	require.NoError(t, json.Unmarshal([]byte(out), &list))
	assert.Greater(t, len(list), 150)
	to := filepath.Join(t.TempDir(), "turned.json")
	code, _, errs := cli(t, "fault", tram, "turned:led3", "--to", to)
	require.Equal(t, 0, code, errs)
	code, out, _ = cli(t, "check", to)
	assert.Equal(t, 1, code)
	assert.Contains(t, out, "sign lamp")
	code, _, errs = cli(t, "fault", tram, "moon")
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "cablaggio faults lists them")
	code, _, errs = cli(t, "fault", tram, "dead:D4")
	assert.Equal(t, 2, code)
	assert.Contains(t, errs, "not of the wiring")
}

// The program of a build stands beside it where it is not in it.
func TestShouldCommand(t *testing.T) {
	dimmer := "../../starts/dimmer.json"
	code, out, errs := cli(t, "should", dimmer, "--tries", "3")
	assert.Equal(t, 0, code, errs)
	assert.Contains(t, out, "holds  turning moon knob takes moon from dark to full")
	code, out, _ = cli(t, "should", "--json", dimmer, "--tries", "3", "--say", "the moon blinks at 2 Hz")
	assert.Equal(t, 1, code)
	var v []should.Verdict
	require.NoError(t, json.Unmarshal([]byte(out), &v))
	require.Len(t, v, 3)
	require.NotNil(t, v[1].Broken)
	assert.Equal(t, []bench.Action{}, v[1].Broken.Actions, "nobody has to do anything for it")
	code, out, _ = cli(t, "should", dimmer, "--tries", "3", "--say", "the moon sings")
	assert.Equal(t, 2, code)
	assert.Contains(t, out, "\"sings\" is not understood here")
}
