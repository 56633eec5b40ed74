package check_test

import (
	"go/constant"
	"go/token"
	"go/types"
	"math"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
)

var written = regexp.MustCompile(`(-?[0-9.]+) ?([pnµmkMG]?)(V|A|Ω|W)\b|(-?[0-9.]+) ?([pnµmkMG]?)(Ω)`)

// compute evaluates a line of arithmetic with quantities as they are shown, such as
// "(5.00 V − 1.95 V) ÷ (25 Ω + 220 Ω)". Names of what is summed are left out.
func compute(line string) (float64, bool) {
	line = strings.ReplaceAll(line, "−", "-")
	powers := map[string]string{"p": "e-12", "n": "e-9", "µ": "e-6", "m": "e-3", "": "", "k": "e3", "M": "e6", "G": "e9"}
	number := func(q string) string {
		m := written.FindStringSubmatch(q)
		if m[1] == "" {
			m[1], m[2] = m[4], m[5]
		}
		return m[1] + powers[m[2]]
	}
	if terms := strings.Split(line, " + "); !strings.ContainsAny(line, "÷×") {
		sum := 0.0
		for _, t := range terms { // "D4 13.8 mA": what stands last is the quantity
			all := written.FindAllString(t, -1)
			if len(all) == 0 {
				return 0, false
			}
			v, err := strconv.ParseFloat(number(all[len(all)-1]), 64)
			if err != nil {
				return 0, false
			}
			sum += v
		}
		return sum, true
	}
	expr := written.ReplaceAllStringFunc(line, number)
	expr = regexp.MustCompile(`\(([^()]*)\)²`).ReplaceAllString(expr, "(($1)*($1))")
	expr = strings.NewReplacer("×", "*", "÷", "/").Replace(expr)
	v, err := types.Eval(token.NewFileSet(), nil, token.NoPos, "1.0*"+expr)
	if err != nil || v.Value == nil {
		return 0, false
	}
	f, _ := constant.Float64Val(constant.ToFloat(v.Value))
	return f, true
}

// Every working that is shown adds up: the arithmetic of its numbers gives its
// result, as far as three digits go.
func TestEveryWorkingAddsUp(t *testing.T) {
	testkit.Slow(t)
	computed := 0
	look := func(t require.TestingT, q *check.Quantity, where string) {
		w := q.Working
		if w == nil || w.Numbers == "" || w.Result == "" {
			return
		}
		arithmetic := strings.HasPrefix(w.Formula, "I = ") || strings.HasPrefix(w.Formula, "P = I") || strings.HasPrefix(w.Formula, "P = U × I") ||
			strings.HasPrefix(w.Formula, "sum") || strings.HasPrefix(w.Formula, "the board itself +")
		if !arithmetic || w.Numbers == "nothing draws a current" {
			return
		}
		got, ok := compute(w.Numbers)
		require.True(t, ok, "%s: %s", where, w.Numbers)
		want, ok := compute(w.Result)
		require.True(t, ok, "%s: %s", where, w.Result)
		// Differences of rounded numbers lose digits; a sum leaves out what leaks.
		slack := 0.02*math.Abs(want) + 2e-5
		if strings.Contains(w.Numbers, "−") {
			slack += 0.05 * math.Abs(want)
		}
		assert.InDelta(t, math.Abs(want), math.Abs(got), slack, "%s: %s = %s", where, w.Numbers, w.Result)
		computed++
	}
	rapid.Check(t, func(t *rapid.T) {
		b := lib.Boards[rapid.IntRange(0, len(lib.Boards)-1).Draw(t, "board")]
		doc := build.New("random", b.ID)
		for range rapid.IntRange(1, 6).Draw(t, "steps") {
			if after, _, err := plan.Apply(lib, doc, []plan.Edit{testkit.RandomEdit(t, lib, doc)}); err == nil {
				doc = after
			}
		}
		a, err := check.Check(lib, doc)
		if err != nil {
			t.Skip(err)
		}
		for i := range a.Parts {
			for k := range a.Parts[i].Quantities {
				look(t, &a.Parts[i].Quantities[k], a.Parts[i].ID)
			}
		}
		for i := range a.Pins {
			if a.Pins[i].Amps != nil {
				look(t, a.Pins[i].Amps, a.Pins[i].Pin)
			}
		}
		for i := range a.Loads {
			look(t, &a.Loads[i].Carries, a.Loads[i].ID)
		}
		for i := range a.Findings {
			if a.Findings[i].Found != nil {
				look(t, a.Findings[i].Found, a.Findings[i].ID)
			}
		}
	})
	assert.Greater(t, computed, 100)
}
