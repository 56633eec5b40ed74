package build

import (
	"fmt"
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"
)

// NameProblem says what is wrong with a name or a title that the builder gives, and
// what would be right; nothing is "".
func NameProblem(s string) (what, right string) {
	switch n := utf8.RuneCountInString(s); {
	case n > MaxName:
		return fmt.Sprintf("it has %d letters", n), fmt.Sprintf("at most %d", MaxName)
	case !utf8.ValidString(s) || strings.ContainsFunc(s, unicode.IsControl):
		return "it has characters that cannot be shown", "letters, digits and signs"
	}
	return "", ""
}

// formula is where a spreadsheet begins to read a formula: at the beginning of a cell,
// and behind what some take for the end of one.
var formula = regexp.MustCompile(`(^|[;\t\r\n])([ ]*)([=+\-@\t\r\n])`)

// Cell makes a cell of a table of a text, with an apostrophe where a spreadsheet would
// take the text for a formula; one at the beginning is not shown.
func Cell(s string) string {
	for { // what follows the end of one match may begin the next
		next := formula.ReplaceAllString(s, "$1$2'$3")
		if next == s {
			return s
		}
		s = next
	}
}

// FromCell takes the apostrophe off that [Cell] puts at the beginning.
func FromCell(s string) string { return strings.TrimPrefix(s, "'") }
