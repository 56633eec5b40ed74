package program_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/program"
)

// Whoever reads one list finds both in it, the worst first, and with what is found in a state
// whether the program brings that state about.
func TestJoin(t *testing.T) {
	wiring := &check.Analysis{
		Counts: check.Counts{Stop: 1, Care: 1},
		Findings: []check.Finding{
			{ID: "a", Rule: "pin-current", Level: check.Stop, Why: "Too much.", At: check.At{"D4": "high", "D5": "low"}},
			{ID: "b", Rule: "previous-program", Level: check.Care, Why: "It may be.", Pins: []string{"D4", "D6"}},
		},
	}
	p := &program.Analysis{
		Language: build.CPP, Compiles: true, Counts: check.Counts{Stop: 1},
		Findings: []check.Finding{{ID: "c", Rule: "program-pin", Level: check.Stop}},
		Pins:     []program.PinUse{{Pin: "D4", Sets: []string{"low"}}, {Pin: "D5", Sets: []string{"low"}}},
	}
	joined := program.Join(wiring, p)
	require.Len(t, joined.Findings, 3)
	var ids []string
	for _, x := range joined.Findings {
		ids = append(ids, x.ID)
	}
	assert.Equal(t, []string{"a", "c", "b"}, ids, "the worst first, else as they were")
	assert.Equal(t, "Too much. The program of this build never drives D4 high.", joined.Findings[0].Why)
	assert.Equal(t, "It may be. The program of this build drives D4 itself.", joined.Findings[2].Why)
	assert.Equal(t, check.Counts{Stop: 2, Care: 1}, joined.Counts)
	assert.Equal(t, "Too much.", wiring.Findings[0].Why, "what was given stays as it was")
	assert.Equal(t, check.Counts{Stop: 1, Care: 1}, wiring.Counts)

	p.Pins = nil
	assert.Contains(t, program.Join(wiring, p).Findings[2].Why, "drives none of them")

	p = &program.Analysis{Language: build.CPP, Counts: check.Counts{Stop: 1}, Messages: []program.Message{{Line: 7, Wrong: true, Text: "A semicolon is missing."}}}
	joined = program.Join(wiring, p)
	assert.Equal(t, "Too much.", joined.Findings[0].Why, "of a program that does not compile nobody knows what it brings about")
	assert.Equal(t, "program-compile", joined.Findings[1].Rule)
	assert.Equal(t, 7, joined.Findings[1].Line)
	assert.Equal(t, "A semicolon is missing.", joined.Findings[1].Why)

	assert.Len(t, program.Join(wiring, &program.Analysis{}).Findings, 2, "without a program there is only the wiring")
}
