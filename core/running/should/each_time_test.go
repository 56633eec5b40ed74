package should

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/running/bench"
)

// What is said of each time, of the order, of what goes by itself, of the how manieth press and of
// what is printed is judged on recordings that show it, and on ones that nearly do.
func TestJudgingMore(t *testing.T) {
	const half = 500 * time.Millisecond
	of := func(c claim) *Sentence {
		return &Sentence{form: holds, things: []thing{lampX}, claim: c, within: half}
	}
	long := func(c claim, least, most time.Duration) *Sentence {
		s := of(c)
		s.atATime = lengths{least, most}
		return s
	}
	order := &Sentence{form: inTurn, things: []thing{lampX, lampY, {kind: bench.LampRow, of: "z", name: "z"}}}
	nth := func(c claim, nth, every int) *Sentence {
		return &Sentence{form: each, doing: doing{hand: button, nth: nth, every: every}, things: []thing{lampX}, claim: c, within: half}
	}
	letGo := &Sentence{form: each, doing: doing{hand: button, verb: bench.Release}, things: []thing{lampX}, claim: leaves, within: half}
	keeps := nth(lit, 0, 0)
	keeps.keeps = true
	pad := bench.Hand{Kind: bench.PadOf, Of: "pad", Name: "pad", Keys: []string{"1", "2", "3"}}
	typed := &Sentence{form: each, doing: doing{hand: pad, keys: []string{"1", "2"}}, things: []thing{lampX}, claim: lit, within: half}
	key := func(at float64, k string) bench.Action {
		return bench.Action{At: at, Do: bench.Press, Of: "pad", Key: k}
	}
	says := func(x printed) *Sentence { return &Sentence{form: holds, printed: &x, within: half} }
	lines := func(ended float64, text ...string) *bench.Recording {
		r := &bench.Recording{Ended: ended}
		for i, l := range text {
			r.Serial = append(r.Serial, bench.Said{At: float64(i) + 0.9, Text: l + "\n"})
		}
		return r
	}
	warm := bench.Hand{Kind: bench.Levels, Of: "t", Name: "t", Unit: "°C", Most: 100, Rest: 20}
	held := []bench.Action{press(1), release(2)}
	twice := []bench.Action{press(1), release(1.2), press(3), release(3.2)}
	for name, x := range map[string]struct {
		s   *Sentence
		rec *bench.Recording
		at  float64 // of the breach; 0: none; -1: somewhere
	}{
		"steady":                       {of(steady), recording(6, nil, lampRow("x", 0, 80)), 0},
		"a hand changes it":            {of(steady), recording(6, twice, lampRow("x", 0, 0, 1, 80, 1.2, 0, 3, 80, 3.2, 0)), 0},
		"blinks":                       {of(steady), recording(6, nil, blinking("x", 2, 0, 6)), -1},
		"dims quickly, as none sees":   {of(steady), recording(2, nil, blinking("x", 200, 0, 2)), 0},
		"changes at a hand":            {of(idle), recording(6, twice, lampRow("x", 0, 0, 1, 80, 3, 0)), 0},
		"changes later by itself":      {of(idle), recording(6, twice, lampRow("x", 0, 0, 1, 80, 5, 0)), 5},
		"goes off by itself":           {of(undark), recording(6, nil, lampRow("x", 0, 80, 4, 0)), 4},
		"only goes off by itself":      {of(unlit), recording(6, nil, lampRow("x", 0, 80, 4, 0)), 0},
		"comes on by itself":           {of(unlit), recording(6, nil, lampRow("x", 0, 0, 4, 80)), 4},
		"a quarter second each time":   {long(lit, 250*time.Millisecond, 250*time.Millisecond), recording(6, nil, blinking("x", 2, 0, 6)), 0},
		"longer than it should":        {long(lit, 0, 200*time.Millisecond), recording(6, nil, blinking("x", 2, 0, 6)), -1},
		"shorter than it should":       {long(lit, time.Second, 0), recording(6, nil, blinking("x", 2, 0, 6)), -1},
		"dark as long":                 {long(dark, 0, 300*time.Millisecond), recording(6, nil, blinking("x", 2, 0, 6)), 0},
		"in their order":               {order, recording(6, nil, lampRow("x", 0, 80, 1, 0, 3, 80, 4, 0), lampRow("y", 0, 0, 1, 80, 2, 0), lampRow("z", 0, 0, 2, 80, 3, 0)), 0},
		"one is left out":              {order, recording(6, nil, lampRow("x", 0, 80, 1, 0, 3, 80, 4, 0), lampRow("y", 0, 0), lampRow("z", 0, 0, 1, 80, 3, 0)), 1},
		"the other way round":          {order, recording(6, nil, lampRow("x", 0, 80, 1, 0), lampRow("y", 0, 0, 2, 80, 3, 0), lampRow("z", 0, 0, 1, 80, 2, 0)), 1},
		"the second press lights":      {nth(lit, 2, 0), recording(6, twice, lampRow("x", 0, 0, 3, 80)), 0},
		"the second does not":          {nth(lit, 2, 0), recording(6, twice, lampRow("x", 0, 0)), 3.5},
		"the first need not":           {nth(lit, 2, 2), recording(6, twice, lampRow("x", 0, 0, 3.1, 80)), 0},
		"odd ones light":               {nth(lit, 1, 2), recording(6, twice, lampRow("x", 0, 0, 1, 80, 3, 0)), 0},
		"odd ones do not":              {nth(lit, 1, 2), recording(6, twice, lampRow("x", 0, 0, 3, 80)), 1.5},
		"let go, and it stays":         {letGo, recording(6, held, lampRow("x", 0, 0, 1, 80)), 0},
		"let go, and it goes off":      {letGo, recording(6, held, lampRow("x", 0, 0, 1, 80, 2.05, 0)), 2.09},
		"stays on":                     {keeps, recording(6, twice, lampRow("x", 0, 0, 1, 80)), 0},
		"does not stay on":             {keeps, recording(6, twice, lampRow("x", 0, 0, 1, 80, 1.2, 0)), -1},
		"typed, and lit":               {typed, recording(6, []bench.Action{key(1, "1"), key(2, "2")}, lampRow("x", 0, 0, 2.1, 80)), 0},
		"typed, and dark":              {typed, recording(6, []bench.Action{key(1, "1"), key(2, "2")}, lampRow("x", 0, 0)), 2.5},
		"typed after another":          {typed, recording(6, []bench.Action{key(0.5, "3"), key(1, "1"), key(2, "2")}, lampRow("x", 0, 0)), 0},
		"a line a second":              {says(printed{hertz: 1}), lines(5, "a", "b", "c", "d", "e"), 0},
		"a line a second, not two":     {says(printed{hertz: 2}), lines(5, "a", "b", "c", "d", "e"), -1},
		"nothing is printed":           {says(printed{}), lines(5), 5},
		"the number":                   {says(printed{amount: true, number: 144, off: usuallyOff}), lines(6, "0 l", "100 l", "144.0 l", "144.2 l", "143.8 l"), 0},
		"another number":               {says(printed{amount: true, number: 144, off: usuallyOff}), lines(6, "0 l", "100 l", "144 l", "288 l", "144 l"), 3.9},
		"what is measured":             {says(printed{of: &warm, off: usuallyOff}), lines(5, "20.1 C", "19.9 C", "20 C"), 0},
		"what is not measured":         {says(printed{of: &warm, off: usuallyOff}), lines(5, "20.1 C", "68 F", "20 C"), 1.9},
		"surely not beyond the number": {&Sentence{form: holds, conds: []cond{{hand: warm, ranged: true, most: 20.2}}, things: []thing{lampX}, claim: lit, within: half}, recording(5, nil, lampRow("x", 0, 0)), 0},
	} {
		b := x.s.judge(x.rec)
		switch {
		case x.at == 0:
			if b != nil {
				t.Errorf("%s: %s", name, b.words)
			}
		case assert.NotNil(t, b, name) && x.at > 0:
			assert.InDelta(t, x.at, b.at, 0.1, "%s: %s", name, b.words)
		}
	}
}
