package bench_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/document/build"
	"cablaggio/core/running/bench"
)

// lampAt is how bright a lamp of a part looks at a time.
func lampAt(r *bench.Recording, lamp string, at float64) (v float64) {
	for _, row := range r.Rows {
		if row.Kind != bench.LampRow || row.Lamp != lamp {
			continue
		}
		for _, c := range row.Changes {
			if c.At <= at {
				v = c.Value
			}
		}
	}
	return v
}

// A starter counts the seconds on a digit, with the bars that its figures have (common practice
// for digits of seven segments; 6 and 9 with their tails).
func TestStartersShowFigures(t *testing.T) {
	figures := strings.Fields("abcdef bc abdeg abcdg bcfg acdfg acdefg abc abcdefg abcdfg")
	for _, kind := range []string{"digit-cathode", "digit-anode"} {
		eachStart(t, kind, nil, func(t *testing.T, doc *build.Document) {
			r := compiled(t, doc, "").run(t, "", 11*time.Second, 1)
			for n, bars := range figures {
				for _, bar := range "abcdefg" {
					lit := lampAt(r, string(bar), float64(n)+0.5) > 8
					assert.Equal(t, strings.ContainsRune(bars, bar), lit, "bar %c of %d\n%s", bar, n, doc.Program.Text)
				}
			}
		})
	}
}

// A lamp of two colours shows one and then the other, whichever way it is wired.
func TestStartersShowBothColours(t *testing.T) {
	for _, kind := range []string{"led-two-ways"} {
		eachStart(t, kind, nil, func(t *testing.T, doc *build.Document) {
			r := compiled(t, doc, "").run(t, "", 3*time.Second, 1)
			for i, at := range []float64{0.25, 0.75, 1.25, 1.75} {
				red, green := lampAt(r, "red", at) > 8, lampAt(r, "green", at) > 8
				assert.NotEqual(t, red, green, "at %g s\n%s", at, doc.Program.Text)
				assert.Equal(t, i%2 == 0, red, "at %g s", at)
			}
		})
	}
}

// A buzzer sounds in every language, on pins with PWM and without; one that makes its own tone as
// that tone.
func TestStartersSound(t *testing.T) {
	for kind, tone := range map[string][2]float64{"buzzer": {600, 1100}, "buzzer-active": {2300, 2300}} {
		eachStart(t, kind, nil, func(t *testing.T, doc *build.Document) {
			r := compiled(t, doc, "").run(t, "", 5*time.Second, 1)
			heard := false
			for _, row := range r.Rows {
				for _, c := range row.Changes {
					heard = heard || row.Kind == bench.SoundRow && c.Value >= tone[0] && c.Value <= tone[1]
				}
			}
			assert.True(t, heard, "%s", doc.Program.Text)
		})
	}
}
