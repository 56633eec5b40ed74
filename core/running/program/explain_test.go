package program_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/running/program"
)

// A semicolon after a definition is told where it stands, and can be taken away there; errors that
// follow from it are not told beside it, and others are.
func TestADefinitionWithASemicolon(t *testing.T) {
	p := &build.Program{Language: build.CPP, Text: "#define LED 7;  // the lamp\n#define WAIT 500\nvoid setup() { pinMode(LED, OUTPUT); }\nvoid loop() { delay(WAIT) }\n"}
	said := []program.Message{
		{Line: 3, Wrong: true, Said: "expected ')'"},
		{Line: 4, Wrong: true, Said: "expected ';' after expression"},
	}
	got := program.Explain(p, said)
	require.Len(t, got, 2)
	assert.Equal(t, 1, got[0].Line)
	assert.Contains(t, got[0].Text, "After a #define stands none.")
	assert.Equal(t, &program.Replace{Line: 1, Column: 14, ToLine: 1, ToColumn: 15}, got[0].Replace)
	assert.Equal(t, 4, got[1].Line)
	assert.Len(t, program.Explain(p, said[1:]), 1, "where nothing follows from it, nothing is told of it")
}

// A loop that waits for something from outside has no body by intention.
func TestALoopThatWaits(t *testing.T) {
	p := &build.Program{Language: build.CPP, Text: "void loop() {\n  while (digitalRead(4) == HIGH);\n  for (int i = 0; i < 9; i++);\n}\n"}
	empty := func(line int) program.Message {
		return program.Message{Line: line, Said: "while loop has empty body", Option: "empty-body"}
	}
	assert.Empty(t, program.Explain(p, []program.Message{empty(2)}))
	assert.Len(t, program.Explain(p, []program.Message{empty(3)}), 1)
}
