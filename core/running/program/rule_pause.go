package program

import (
	"fmt"
	"time"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
)

// longPause is from which pause on nobody waits for what comes after.
const longPause = int64(time.Hour)

// secondsMeant is from which pause on a program in Python has probably counted in milliseconds,
// which sleep does not.
const secondsMeant = 100 * int64(time.Second)

// pause finds pauses that nobody means: a number that ran over, or was counted in another unit.
var pause = rule{"pause", func(f *facts) []check.Finding {
	var out []check.Finding
	told := map[int64]bool{}
	for _, r := range f.o.all() {
		if r.longest >= secondsMeant && r.longest < longPause && f.doc.Program.Language.Python() && !told[r.longestLine] {
			told[r.longestLine] = true
			s := r.longest / int64(time.Second)
			out = append(out, check.Finding{
				Level: check.Care, Line: int(r.longestLine), State: r.about(),
				Title: fmt.Sprintf("%s pauses for %d s.", build.Capital(f.at(int(r.longestLine))), s),
				Why:   fmt.Sprintf("sleep counts in seconds. If %d ms are meant, write %g, or sleep_ms where there is one.", s, float64(s)/1000),
			})
			continue
		}
		if r.longest < longPause || told[r.longestLine] {
			continue
		}
		told[r.longestLine] = true
		out = append(out, check.Finding{
			Level: check.Stop, Line: int(r.longestLine), State: r.about(),
			Title: fmt.Sprintf("%s pauses for %s.", build.Capital(f.at(int(r.longestLine))), long(r.longest)),
			Why:   "Nothing that comes after it is ever seen. Pauses of delay are in milliseconds, and a negative one is a very long one.",
		})
	}
	return out
}}

// long writes a time that is more than an hour.
func long(ns int64) string {
	hours := float64(ns) / float64(time.Hour)
	if hours >= 48 {
		return fmt.Sprintf("%.1f days", hours/24)
	}
	return fmt.Sprintf("%.1f hours", hours)
}
