package program

import (
	"fmt"
	"regexp"
	"strings"
)

// seconds writes a time.
func seconds(ns int64) string {
	switch {
	case ns < 1000*1000:
		return fmt.Sprintf("%.3g µs", float64(ns)/1e3)
	case ns < 1000*ms:
		return fmt.Sprintf("%.3g ms", float64(ns)/1e6)
	}
	return fmt.Sprintf("%.3g s", float64(ns)/1e9)
}

// list writes items, no more than so many.
func list(items []string, most int) string {
	if more := len(items) - most; more > 0 {
		return strings.Join(items[:most], ", ") + fmt.Sprintf(" and %d more", more)
	}
	return strings.Join(items, ", ")
}

var hyphen = regexp.MustCompile(`(^|[\s(])-(\d)`)

// minus writes the sign of negative numbers as it is printed.
func minus(s string) string { return hyphen.ReplaceAllString(s, "${1}−${2}") }
