package should

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/running/bench"
)

// A recording made by hand: what is judged of it is worked out on paper.
func recording(ended float64, actions []bench.Action, rows ...bench.Row) *bench.Recording {
	return &bench.Recording{Ended: ended, Actions: actions, Rows: rows}
}

func lampRow(name string, changes ...float64) bench.Row {
	r := bench.Row{Kind: bench.LampRow, Of: name, Name: name}
	for i := 0; i+1 < len(changes); i += 2 {
		r.Changes = append(r.Changes, bench.Change{At: changes[i], Value: changes[i+1]})
	}
	return r
}

func press(at float64) bench.Action   { return bench.Action{At: at, Do: bench.Press, Of: "b"} }
func release(at float64) bench.Action { return bench.Action{At: at, Do: bench.Release, Of: "b"} }

var (
	button = bench.Hand{Kind: bench.Presses, Of: "b", Name: "b", Most: 1, Off: "up", On: "pressed"}
	other  = bench.Hand{Kind: bench.Presses, Of: "c", Name: "c", Most: 1, Off: "up", On: "pressed"}
	lampX  = thing{kind: bench.LampRow, of: "x", name: "x"}
	lampY  = thing{kind: bench.LampRow, of: "y", name: "y"}
	lampZ  = thing{kind: bench.LampRow, of: "x", name: "x", most: 95} // that could be brighter
)

// blinking is a lamp that is on half of the time, at a rate.
func blinking(name string, hertz, from, to float64) bench.Row {
	var c []float64
	for t := from; t < to; t += 1 / hertz {
		c = append(c, t, 80, t+0.5/hertz, 0)
	}
	return lampRow(name, append([]float64{0, 0}, c...)...)
}

func TestJudging(t *testing.T) {
	while := func(c claim) *Sentence {
		return &Sentence{form: holds, conds: []cond{{hand: button, on: true}}, things: []thing{lampX}, claim: c, within: 500 * time.Millisecond}
	}
	always := func(c claim, hertz float64) *Sentence {
		return &Sentence{form: holds, things: []thing{lampX}, claim: c, hertz: hertz, within: 500 * time.Millisecond}
	}
	eachPress := func(c claim) *Sentence {
		return &Sentence{form: each, doing: doing{hand: button}, things: []thing{lampX}, claim: c, within: 100 * time.Millisecond}
	}
	onlyWhile := func(c claim) *Sentence {
		s := while(c)
		s.only = true
		return s
	}
	until := func(c claim) *Sentence {
		s := while(c)
		s.conds[0].before = true
		return s
	}
	whileY := func(c claim) *Sentence {
		s := while(c)
		s.conds = []cond{{thing: &lampY, claim: lit}}
		return s
	}
	timed := func(lasts, after float64) *Sentence {
		return &Sentence{form: each, doing: doing{hand: button}, things: []thing{lampX}, claim: lit, within: 500 * time.Millisecond, lasts: time.Duration(lasts * 1e9), after: time.Duration(after * 1e9)}
	}
	between := func(low, high float64) *Sentence {
		return &Sentence{form: holds, things: []thing{lampX}, claim: bright, low: low, high: high, within: 500 * time.Millisecond}
	}
	prints := func(text string) *Sentence {
		return &Sentence{form: each, doing: doing{hand: button}, printed: &printed{text: text}, within: 500 * time.Millisecond}
	}
	turns := []turned{{1, 0}, {2, 0.5}, {3, 1}}
	for name, x := range map[string]struct {
		s   *Sentence
		rec *bench.Recording
		at  float64 // of the breach; 0: none
	}{
		"lit while pressed":             {while(lit), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 0, 1.2, 80, 3, 0)), 0},
		"lit too late":                  {while(lit), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 0, 1.8, 80, 3, 0)), 1.5},
		"out before it is let go":       {while(lit), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 0, 1.2, 80, 2, 0)), 2.04},
		"let go after the end":          {while(dark), recording(2, []bench.Action{press(1.8), release(9)}, lampRow("x", 0, 80)), 0},
		"dark until it is touched":      {&Sentence{form: holds, things: []thing{lampX}, claim: dark, first: true, within: 500 * time.Millisecond}, recording(5, []bench.Action{press(2), release(3)}, lampRow("x", 0, 0, 2, 80)), 0},
		"lit before it is touched":      {&Sentence{form: holds, things: []thing{lampX}, claim: dark, first: true, within: 500 * time.Millisecond}, recording(5, []bench.Action{press(2), release(3)}, lampRow("x", 0, 80)), 0.5},
		"never pressed":                 {while(lit), recording(5, nil, lampRow("x", 0, 0)), 0},
		"too short a press to tell":     {while(lit), recording(5, []bench.Action{press(1), release(1.3)}, lampRow("x", 0, 0)), 0},
		"the eye joins what is fast":    {always(lit, 0), recording(2, nil, blinking("x", 200, 0, 2)), 0},
		"and sees what is slow":         {always(lit, 0), recording(3, nil, blinking("x", 2, 0, 3)), 0.5},
		"blinks":                        {always(blinks, 2), recording(6, nil, blinking("x", 2, 0, 6)), 0},
		"blinks a little off":           {always(blinks, 2), recording(6, nil, blinking("x", 2.2, 0, 6)), 0},
		"blinks at another rate":        {always(blinks, 2), recording(6, nil, blinking("x", 3, 0, 6)), -1},
		"stops blinking":                {always(blinks, 2), recording(9, nil, blinking("x", 2, 0, 4)), -1},
		"does not blink":                {always(blinks, 0), recording(6, nil, lampRow("x", 0, 80)), 6},
		"changes":                       {eachPress(changes), recording(5, []bench.Action{press(1), release(1.2), press(3), release(3.2)}, lampRow("x", 0, 0, 1.02, 80, 3.02, 0)), 0},
		"misses the second":             {eachPress(changes), recording(5, []bench.Action{press(1), release(1.2), press(3), release(3.2)}, lampRow("x", 0, 0, 1.02, 80)), 3.1},
		"changes twice, as it bounces":  {eachPress(changes), recording(5, []bench.Action{press(1), release(1.4)}, lampRow("x", 0, 0, 1.01, 80, 1.3, 0, 1.35, 80)), 1.1},
		"lights":                        {eachPress(lit), recording(5, []bench.Action{press(1), release(1.4)}, lampRow("x", 0, 0, 1.05, 80)), 0},
		"does not light":                {eachPress(lit), recording(5, []bench.Action{press(1), release(1.4)}, lampRow("x", 0, 0, 1.2, 80)), 1.1},
		"one at a time":                 {&Sentence{form: oneOf, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 0, 2, 80)), 0},
		"a moment together is none":     {&Sentence{form: oneOf, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 0, 1.999, 80)), 0},
		"together":                      {&Sentence{form: oneOf, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 0, 1.9, 80)), 1.9},
		"within its limits":             {&Sentence{form: limits}, recording(4, nil), 0},
		"over one":                      {&Sentence{form: limits}, &bench.Recording{Ended: 4, Stress: []bench.Stress{{At: 2.5, Of: "x", Words: "x takes too much"}}}, 2.5},
		"only while pressed":            {onlyWhile(lit), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 0, 1.1, 80, 3.1, 0)), 0},
		"lit without it, too":           {onlyWhile(lit), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 80)), 0.5},
		"dark until it is pressed":      {until(dark), recording(5, []bench.Action{press(2), release(2.5)}, lampRow("x", 0, 0, 2, 80)), 0},
		"lit before it is pressed":      {until(dark), recording(5, []bench.Action{press(2), release(2.5)}, lampRow("x", 0, 0, 1, 80)), 1.04},
		"one of two is pressed":         {&Sentence{form: holds, conds: []cond{{any: []cond{{hand: button, on: true}, {hand: other, on: true}}}}, things: []thing{lampX}, claim: lit, within: 500 * time.Millisecond}, recording(5, []bench.Action{{At: 1, Do: bench.Press, Of: "c"}, {At: 3, Do: bench.Release, Of: "c"}}, lampRow("x", 0, 0)), 1.5},
		"while another is lit":          {whileY(dark), recording(5, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 0, 2, 80)), 0},
		"lit while another is":          {whileY(dark), recording(5, nil, lampRow("x", 0, 80), lampRow("y", 0, 0, 2, 80)), 2.1},
		"lights for 2 s":                {timed(2, 0), recording(9, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 0, 1.05, 80, 3.05, 0)), 0},
		"lights for 1 s, not 2":         {timed(2, 0), recording(9, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 0, 1.05, 80, 2.05, 0)), 2.09},
		"lights for 4 s, not 2":         {timed(2, 0), recording(9, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 0, 1.05, 80, 5.05, 0)), 3.55},
		"is pressed again meanwhile":    {timed(2, 0), recording(9, []bench.Action{press(1), release(1.2), press(2), release(2.2)}, lampRow("x", 0, 0, 1.05, 80, 4.05, 0)), 0},
		"lights after 2 s":              {timed(0, 2), recording(9, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 0, 3.05, 80)), 0},
		"lights at once, not after 2 s": {timed(0, 2), recording(9, []bench.Action{press(1), release(1.2)}, lampRow("x", 0, 0, 1.05, 80)), 1.09},
		"a flash is light":              {eachPress(lit), recording(5, []bench.Action{press(1), release(1.4)}, lampRow("x", 0, 0, 1.01, 80, 1.07, 0)), 0},
		"leaves it as it is":            {eachPress(leaves), recording(5, []bench.Action{press(1), release(1.4)}, lampRow("x", 0, 80)), 0},
		"does not leave it":             {eachPress(leaves), recording(5, []bench.Action{press(1), release(1.4)}, lampRow("x", 0, 80, 1.05, 0)), 1.09},
		"changes by itself":             {eachPress(leaves), recording(5, []bench.Action{press(1), release(1.4)}, blinking("x", 8, 0, 5)), 0},
		"together, or nearly":           {&Sentence{form: alike, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 80, 2.02, 0)), 0},
		"not together":                  {&Sentence{form: alike, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 80, 2.5, 0)), 2.1},
		"exactly one":                   {&Sentence{form: oneOf, one: true, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 0, 2, 80)), 0},
		"for a second none":             {&Sentence{form: oneOf, one: true, things: []thing{lampX, lampY}}, recording(4, nil, lampRow("x", 0, 80, 2, 0), lampRow("y", 0, 0, 3, 80)), 2},
		"gets brighter":                 {while(rises), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 10, 1.4, 20, 2, 40, 2.5, 60)), 0},
		"stays as bright":               {while(rises), recording(5, []bench.Action{press(1), release(3)}, lampRow("x", 0, 10)), 3},
		"at half":                       {between(40, 60), recording(5, nil, lampRow("x", 0, 50)), 0},
		"over half":                     {between(40, 60), recording(5, nil, lampRow("x", 0, 70)), 0.5},
		"says it":                       {prints("on"), &bench.Recording{Ended: 4, Actions: []bench.Action{press(1)}, Serial: []bench.Said{{At: 0.2, Text: "ready\n"}, {At: 1.1, Text: "it is o"}, {At: 1.12, Text: "n\n"}}}, 0},
		"says it before":                {prints("on"), &bench.Recording{Ended: 4, Actions: []bench.Action{press(1)}, Serial: []bench.Said{{At: 0.2, Text: "on\n"}}}, 1.5},
		"follows its knob":              {knobOf(false), recording(4, turnsOf(turns), lampRow("x", 0, 30, 1, 0, 2, 40, 3, 90)), 0},
		"is lit at the dark end":        {knobOf(false), recording(4, turnsOf(turns), lampRow("x", 0, 30, 1, 20, 2, 40, 3, 90)), 2},
		"falls on the way":              {knobOf(false), recording(4, turnsOf(turns), lampRow("x", 0, 30, 1, 0, 2, 95, 3, 60)), 4},
		"stays below what it could be":  {fuller(knobOf(false)), recording(4, turnsOf(turns), lampRow("x", 0, 30, 1, 0, 2, 40, 3, 76)), 4},
		"is full enough":                {fuller(knobOf(false)), recording(4, turnsOf(turns), lampRow("x", 0, 30, 1, 0, 2, 40, 3, 93)), 0},
		"full, and could be fuller":     {fuller(always(full, 0)), recording(4, nil, lampRow("x", 0, 76)), 0.5},
		"follows it backwards":          {knobOf(true), recording(4, turnsOf(turns), lampRow("x", 0, 30, 1, 90, 2, 40, 3, 0)), 0},
	} {
		b := x.s.judge(x.rec)
		switch {
		case x.at == 0:
			assert.Nil(t, b, name)
		case assert.NotNil(t, b, name) && x.at > 0:
			assert.InDelta(t, x.at, b.at, 0.011, "%s: %s", name, b.words)
			assert.NotEmpty(t, b.words)
		}
	}
}

// fuller is a sentence about a lamp that could be brighter than it ever is.
func fuller(s *Sentence) *Sentence {
	s.things = []thing{lampZ}
	return s
}

type turned struct{ at, to float64 }

func turnsOf(list []turned) (out []bench.Action) {
	for _, x := range list {
		out = append(out, bench.Action{At: x.at, Do: bench.Turn, Of: "k", To: x.to})
	}
	return out
}

func knobOf(back bool) *Sentence {
	return &Sentence{form: turning, doing: doing{hand: bench.Hand{Kind: bench.Levels, Of: "k", Name: "k", Most: 1, Rest: 0.5}}, things: []thing{lampX}, within: 500 * time.Millisecond, back: back}
}

// A press goes with its release when a run is made shorter.
func TestWithout(t *testing.T) {
	list := []bench.Action{press(1), {At: 1.1, Do: bench.Press, Of: "c"}, release(1.2), {At: 1.3, Do: bench.Release, Of: "c"}}
	assert.Equal(t, []bench.Action{list[1], list[3]}, without(list, 0))
	assert.Equal(t, []bench.Action{list[0], list[2]}, without(list, 1))
	assert.Equal(t, []bench.Action{list[0], list[1], list[3]}, without(list, 2))
}
