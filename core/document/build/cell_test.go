package build_test

import (
	"encoding/csv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	_ "cablaggio/core/testkit/drawn"
)

// However a spreadsheet divides a line, no cell of it begins as a formula.
func TestNoCellIsAFormula(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		text := rapid.StringOf(rapid.SampledFrom([]rune("=+-@'\t\r\n; a1\""))).Draw(t, "text")
		cell := build.Cell(text)
		for _, part := range strings.FieldsFunc(cell, func(r rune) bool { return strings.ContainsRune(";\t\r\n", r) }) {
			part = strings.TrimLeft(part, " ")
			assert.False(t, part != "" && strings.Contains("=+-@", part[:1]), "%q has the part %q", cell, part)
		}
		assert.Equal(t, strings.ReplaceAll(text, "'", ""), strings.ReplaceAll(cell, "'", ""), "nothing is lost")
		var line strings.Builder
		w := csv.NewWriter(&line)
		require.NoError(t, w.Write([]string{cell, "end"}))
		w.Flush()
		require.NoError(t, w.Error())
	})
	assert.Equal(t, "lamp 1", build.Cell("lamp 1"))
	assert.Equal(t, "'=1+1", build.Cell("=1+1"))
	assert.Equal(t, "a;'=1+1", build.Cell("a;=1+1"))
	assert.Equal(t, "-5", build.FromCell(build.Cell("-5")))
}

func TestNamesThatCannotBeShown(t *testing.T) {
	for name, ok := range map[string]bool{"lamp": true, "Lämpchen 😀": true, "": true, "a\tb": false, "a\x00": false, "\xff": false, strings.Repeat("x", build.MaxName+1): false} {
		what, _ := build.NameProblem(name)
		assert.Equal(t, ok, what == "", "%q", name)
	}
}
