package should

import (
	"fmt"
	"testing"
	"time"

	"pgregory.net/rapid"

	"cablaggio/core/running/bench"
)

// A film is what one sees of a button and two lamps, every ten milliseconds: another way to say what
// a recording says, by which sentences are judged without spans and edges.
type film struct {
	down, x, y []bool
	acted      []bool // a hand did something
}

const (
	frame  = 0.01 // s
	frames = 600
	blur   = 7 // frames in which an eye may not be sure
)

// drawnFilm is a button that is held some times, for half a second at least, and lamps that change
// a quarter of a second apart at least: what nobody disputes.
func drawnFilm(t *rapid.T) (film, *bench.Recording) {
	f := film{make([]bool, frames), make([]bool, frames), make([]bool, frames), make([]bool, frames)}
	var actions []bench.Action
	for at := 60; at < frames-80; {
		at += rapid.IntRange(0, 90).Draw(t, "rests")
		end := at + rapid.IntRange(60, 150).Draw(t, "held")
		if end > frames-60 {
			break
		}
		for k := at; k < end; k++ {
			f.down[k] = true
		}
		f.acted[at], f.acted[end] = true, true
		actions = append(actions, press(float64(at)*frame), release(float64(end)*frame))
		at = end + 60
	}
	lamp := func(of string, seen []bool) bench.Row {
		on := rapid.Bool().Draw(t, of+" begins lit")
		pairs := []float64{0, map[bool]float64{true: 80}[on]}
		for at := 0; at < frames; {
			next := at + rapid.IntRange(25, 140).Draw(t, of)
			for k := at; k < min(next, frames); k++ {
				seen[k] = on
			}
			if on, at = !on, next; at < frames {
				pairs = append(pairs, float64(at)*frame, map[bool]float64{true: 80}[on])
			}
		}
		return lampRow(of, pairs...)
	}
	rows := []bench.Row{lamp("x", f.x), lamp("y", f.y)}
	return f, recording(frames*frame, actions, rows...)
}

// A frame by frame judgement says that it surely holds, that it surely is broken, or neither.
func TestJudgedLikeAFilm(t *testing.T) {
	const soon = 40 // frames within which something is to be
	within := time.Duration(soon*frame*1e9) * time.Nanosecond
	// wrong reports whether something is wrong in a frame and in all around it, and near whether in any.
	wrong := func(n int, is func(k int) bool) (sure, near bool) {
		row := 0
		for k := range n {
			if !is(k) {
				row = 0
				continue
			}
			if near, row = true, row+1; row > 2*blur {
				sure = true
			}
		}
		return sure, near
	}
	// since is for how many frames the button has been as it is.
	since := func(f film, k int) (n int) {
		for ; k-n > 0 && f.down[k-n-1] == f.down[k]; n++ {
		}
		return n
	}
	// quiet is for how many frames no hand has acted.
	quiet := func(f film, k int) (n int) {
		for ; k-n >= 0 && !f.acted[k-n]; n++ {
		}
		return n
	}
	one := func(c claim) *Sentence {
		return &Sentence{form: holds, things: []thing{lampX}, claim: c, within: within}
	}
	while := func(c claim, on bool) *Sentence {
		s := one(c)
		s.conds = []cond{{hand: button, on: on}}
		return s
	}
	cases := map[string]struct {
		s     *Sentence
		wrong func(f film) (sure, near bool)
	}{
		"while it is pressed it is lit": {while(lit, true), func(f film) (bool, bool) {
			return wrong(frames, func(k int) bool { return f.down[k] && since(f, k) > soon-blur && !f.x[k] })
		}},
		"while it is up it is dark": {while(dark, false), func(f film) (bool, bool) {
			return wrong(frames, func(k int) bool { return !f.down[k] && since(f, k) > soon-blur && f.x[k] })
		}},
		"it does not come on by itself": {one(unlit), func(f film) (sure, near bool) {
			for k := 1; k < frames; k++ {
				if f.x[k] && !f.x[k-1] {
					sure, near = sure || quiet(f, k) > soon+blur, near || quiet(f, k) > soon-blur
				}
			}
			return sure, near
		}},
		"never both": {&Sentence{form: oneOf, things: []thing{lampX, lampY}}, func(f film) (sure, near bool) {
			for k := range frames {
				if f.x[k] && f.y[k] {
					return true, true // not even for a frame
				}
			}
			return false, false
		}},
		"always alike": {&Sentence{form: alike, things: []thing{lampX, lampY}, within: within}, func(f film) (bool, bool) {
			return wrong(frames, func(k int) bool { return f.x[k] != f.y[k] })
		}},
		"lit for at most 600 ms": {&Sentence{form: holds, things: []thing{lampX}, claim: lit, within: within, atATime: lengths{most: 600 * time.Millisecond}}, func(f film) (sure, near bool) {
			n := 0
			for k := soon + blur; k < frames; k++ {
				if !f.x[k] {
					n = 0
				} else {
					n++
				}
				sure, near = sure || n > 60+blur, near || n > 60-blur
			}
			return sure, near || func() bool { // what began before it is looked at
				for k := soon - blur; k < soon+blur; k++ {
					if f.x[k] {
						return true
					}
				}
				return false
			}()
		}},
		"each press lights it": {&Sentence{form: each, doing: doing{hand: button}, things: []thing{lampX}, claim: lit, within: within}, func(f film) (sure, near bool) {
			for k := 1; k+soon+blur < frames; k++ {
				if !f.down[k] || f.down[k-1] {
					continue
				}
				late, early := true, true // dark all the time, and in the middle of it
				for i := -blur; i <= soon+blur; i++ {
					lit := f.x[k+i]
					late = late && !lit
					if i <= soon-blur && i >= blur {
						early = early && !lit
					}
				}
				sure, near = sure || late, near || early || f.x[k] // what is lit already is lit by nothing
			}
			return sure, near
		}},
		"at least one is lit": {&Sentence{form: oneOf, one: true, more: true, things: []thing{lampX, lampY}, within: within}, func(f film) (sure, near bool) {
			n := 0
			for k := range frames {
				if n++; f.x[k] || f.y[k] {
					n = 0
				}
				sure = sure || k > soon+blur && n > 2*blur+10
				near = near || k > soon-blur && n > 0
			}
			return sure, near
		}},
		"at least one while it is pressed": {&Sentence{form: oneOf, one: true, more: true, things: []thing{lampX, lampY}, conds: []cond{{hand: button, on: true}}, within: within}, func(f film) (sure, near bool) {
			n := 0
			for k := range frames {
				if n++; f.x[k] || f.y[k] || !f.down[k] || since(f, k) <= soon+blur {
					n = 0
				}
				sure = sure || n > 2*blur+10
				near = near || f.down[k] && since(f, k) > soon-blur && !f.x[k] && !f.y[k]
			}
			return sure, near
		}},
		"while y is lit each press lights x": {&Sentence{form: each, doing: doing{hand: button}, things: []thing{lampX}, claim: lit, conds: []cond{{thing: &lampY, claim: lit}}, within: within}, func(f film) (sure, near bool) {
			for k := 3 * blur; k+soon+blur < frames; k++ {
				if !f.down[k] || f.down[k-1] {
					continue
				}
				lit, some, late := true, false, true // y just before it, and x all the time
				for i := -3 * blur; i <= soon+blur; i++ {
					if i < 0 {
						lit, some = lit && f.y[k+i], some || f.y[k+i]
					}
					late = late && (i < -blur || !f.x[k+i])
				}
				sure, near = sure || lit && late && k > soon+4*blur, near || some
			}
			return sure, near
		}},
	}
	rapid.Check(t, func(t *rapid.T) {
		f, rec := drawnFilm(t)
		for name, x := range cases {
			sure, near := x.wrong(f)
			b := x.s.judge(rec)
			if sure && b == nil {
				t.Fatalf("%s: it is broken, and nothing is said of it", name)
			}
			if b != nil && !near {
				t.Fatalf("%s: nothing is wrong, and it is said: %s", name, fmt.Sprint(b.words))
			}
		}
	})
}
