package part_test

import (
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/catalogue/part"
)

// Each way of lighting a figure is that figure's alone, and its bars stand in the order in which they are
// compared; what is no figure is none.
func TestFigures(t *testing.T) {
	seen := map[string]bool{}
	for n, ways := range part.Figures {
		for _, bars := range ways {
			assert.Equal(t, n, part.FigureOf(bars))
			assert.False(t, seen[bars], "%s is two figures", bars)
			assert.True(t, slices.IsSorted(strings.Split(bars, "")), bars)
			assert.Empty(t, strings.Trim(bars, "abcdefg"), bars)
			seen[bars] = true
		}
	}
	for _, bars := range []string{"", "g", "abcefg", "cb", "abcdefgh"} {
		assert.Equal(t, -1, part.FigureOf(bars), bars)
	}
}
