package plan_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// A program is written, changed and taken out in steps with words for each; the build that a
// step was made on stays as it was, so that it can be gone back to.
func TestAProgramIsAStep(t *testing.T) {
	empty := build.New("t", "classic-5v")
	text := "void setup() {}\nvoid loop() {}\n"
	_, _, err := plan.Apply(lib, empty, []plan.Edit{plan.Program{}})
	assert.ErrorContains(t, err, "there is no program")

	mine := &build.Program{Text: text}
	first, said, err := plan.Apply(lib, empty, []plan.Edit{plan.Program{Program: mine}})
	require.NoError(t, err)
	assert.Contains(t, said, "wrote a program")
	assert.Equal(t, build.CPP, first.Program.Language, "it is recognised where nobody says it")
	assert.Empty(t, mine.Language, "what was given stays as it was")
	assert.Nil(t, empty.Program)

	second, said, err := plan.Apply(lib, first, []plan.Edit{plan.Program{Program: &build.Program{Language: build.CPP, Text: "int a;\n" + text}}})
	require.NoError(t, err)
	assert.Contains(t, said, "changed the program")
	assert.Equal(t, text, first.Program.Text)

	third, said, err := plan.Apply(lib, second, []plan.Edit{plan.Program{}})
	require.NoError(t, err)
	assert.Contains(t, said, "took the program out")
	assert.Nil(t, third.Program)
	assert.NotNil(t, second.Program)

	_, _, err = plan.Apply(lib, first, []plan.Edit{plan.Program{Program: &build.Program{Language: "basic"}}})
	assert.ErrorContains(t, err, "the languages are")
	_, _, err = plan.Apply(lib, first, []plan.Edit{plan.Program{Program: &build.Program{Text: strings.Repeat(" ", build.MaxProgram+1)}}})
	assert.ErrorContains(t, err, "at most 64 kB")
}

// A line is rewritten where it still reads as whoever asks for it saw it, and nowhere else.
func TestRewriteALine(t *testing.T) {
	const text = "const int lamp = 4;\n  pinMode(lamp, INPUT);\nend"
	doc := build.New("t", "classic-5v")
	rewrite := func(line int, was, becomes string) (string, error) {
		next, said, err := plan.Apply(lib, doc, []plan.Edit{plan.Rewrite{Count: line, With: was, Text: becomes}})
		if err != nil {
			return "", err
		}
		assert.Contains(t, said, "of the program")
		return next.Program.Text, nil
	}
	_, err := rewrite(1, "end", "x")
	require.ErrorContains(t, err, "there is no program")
	doc.Program = &build.Program{Language: build.CPP, Text: text}
	for _, c := range []struct {
		line         int
		was, becomes string
		want         string // empty: it is refused
	}{
		{1, "const int lamp = 4;", "const int lamp = 5;", "const int lamp = 5;\n  pinMode(lamp, INPUT);\nend"},
		{2, "pinMode(lamp, INPUT);", "  pinMode(lamp, OUTPUT);", "const int lamp = 4;\n  pinMode(lamp, OUTPUT);\nend"},
		{2, "  pinMode(lamp, INPUT);  ", "", "const int lamp = 4;\nend"},
		{3, "end", "", "const int lamp = 4;\n  pinMode(lamp, INPUT);"},
		{1, "const int lamp = 4;", "int a;\nint b;", "int a;\nint b;\n  pinMode(lamp, INPUT);\nend"},
		{1, "const int lamp = 5;", "x", ""},
		{4, "end", "x", ""},
		{-1, "end", "x", ""},
	} {
		got, err := rewrite(c.line, c.was, c.becomes)
		if c.want == "" {
			assert.ErrorContains(t, err, "another one by now", "%d", c.line)
			continue
		}
		require.NoError(t, err)
		assert.Equal(t, c.want, got)
		assert.Equal(t, text, doc.Program.Text, "the step before stays as it was")
	}
}
