package should

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/running/bench"
)

func pressC(at float64) bench.Action { return bench.Action{At: at, Do: bench.Press, Of: "c"} }

// A press after another counts where that other was pressed before it, and nothing else was done; one
// while something is so, where it surely is, just before it and for as long as one looks.
func TestPressesWhile(t *testing.T) {
	sun := bench.Hand{Kind: bench.Levels, Of: "s", Name: "sun", Most: 1000, Rest: 300}
	set := func(at, to float64) bench.Action { return bench.Action{At: at, Do: bench.Set, Of: "s", To: to} }
	after := cond{hand: other, on: true, since: true}
	bright := cond{hand: sun, ranged: true, least: 500}
	held := cond{hand: other, on: true}
	dark := cond{thing: &lampY, claim: dark}
	for name, x := range map[string]struct {
		cond    cond
		actions []bench.Action
		y       []float64
		presses []float64 // that count
	}{
		"none before":                   {after, []bench.Action{press(1)}, nil, nil},
		"the other before":              {after, []bench.Action{pressC(1), press(2)}, nil, []float64{2}},
		"the other behind":              {after, []bench.Action{press(1), pressC(2)}, nil, nil},
		"twice, and each is one":        {after, []bench.Action{pressC(1), pressC(2), press(3)}, nil, []float64{3}},
		"only the first of two":         {after, []bench.Action{pressC(1), press(2), press(4)}, nil, []float64{2}},
		"a third hand between":          {after, []bench.Action{pressC(1), set(2, 900), press(3)}, nil, nil},
		"bright":                        {bright, []bench.Action{set(1, 900), press(2)}, nil, []float64{2}},
		"not bright any more":           {bright, []bench.Action{set(1, 900), set(1.5, 100), press(2)}, nil, nil},
		"nearly bright":                 {bright, []bench.Action{set(1, 503), press(2)}, nil, nil},
		"held":                          {held, []bench.Action{pressC(1), press(2)}, nil, []float64{2}},
		"let go":                        {held, []bench.Action{pressC(1), {At: 1.5, Do: bench.Release, Of: "c"}, press(2)}, nil, nil},
		"let go as one looks":           {held, []bench.Action{pressC(1), press(2), {At: 2.05, Do: bench.Release, Of: "c"}}, nil, nil},
		"y dark":                        {dark, []bench.Action{press(2)}, []float64{0, 0}, []float64{2}},
		"y lit":                         {dark, []bench.Action{press(2)}, []float64{0, 80}, nil},
		"y lit by the press itself":     {dark, []bench.Action{press(2)}, []float64{0, 0, 2.001, 80}, []float64{2}},
		"y dark by the press itself":    {dark, []bench.Action{press(2)}, []float64{0, 80, 2.001, 0}, nil},
		"before y can be known":         {dark, []bench.Action{press(0.05)}, []float64{0, 0}, nil},
		"the second, after y goes dark": {dark, []bench.Action{press(2), press(4)}, []float64{0, 80, 3, 0}, []float64{4}},
	} {
		s := &Sentence{form: each, doing: doing{hand: button}, conds: []cond{x.cond}, things: []thing{lampX}, claim: lit, within: 100 * time.Millisecond}
		var at []float64
		for _, d := range s.times(recording(6, x.actions, lampRow("y", x.y...), lampRow("x", 0, 0))) {
			at = append(at, d.at)
		}
		assert.Equal(t, x.presses, at, name)
	}
}

// What is pressed says nothing of itself, and what was pressed before is said alone: such sentences
// are none.
func TestNoPressesWhile(t *testing.T) {
	down, since, before := cond{hand: button, on: true}, cond{hand: other, on: true, since: true}, cond{hand: other, on: true, before: true}
	press := &doing{hand: button}
	for name, x := range map[string]struct {
		s  Sentence
		ok bool
	}{
		"without any":            {Sentence{}, true},
		"another":                {Sentence{conds: []cond{{hand: other, on: true}}}, true},
		"after another":          {Sentence{conds: []cond{since}}, true},
		"itself":                 {Sentence{conds: []cond{down}}, false},
		"until another":          {Sentence{conds: []cond{before}}, false},
		"after another, and so":  {Sentence{conds: []cond{since, {thing: &lampY, claim: lit}}}, false},
		"only while":             {Sentence{only: true, conds: []cond{{hand: other, on: true}}}, false},
		"what is printed":        {Sentence{printed: &printed{}, conds: []cond{{hand: other, on: true}}}, false},
		"one of several hands":   {Sentence{conds: []cond{{any: []cond{down, since}}}}, false},
		"another key of the pad": {Sentence{conds: []cond{{hand: button, key: "5", on: true}}}, true},
	} {
		assert.Equal(t, x.ok, x.s.pressedWhile(press), name)
	}
	third := &doing{hand: button, nth: 3}
	assert.False(t, (&Sentence{conds: []cond{{hand: other, on: true}}}).pressedWhile(third), "the third of which presses?")
	_, ok := third.since()
	assert.False(t, ok, "after the third press is no press")
	_, ok = press.since()
	assert.True(t, ok)
}
