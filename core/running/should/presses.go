package should

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/running/bench"
)

// A done is one time that what a sentence is about was done: from when on something is to come
// of it, and until when nothing else was done.
type done struct{ at, next float64 }

// times are those at which a hand did what the sentence is about.
func (s *Sentence) times(rec *bench.Recording) (out []done) {
	if len(s.keys) > 0 {
		if i := typedAt(rec, s.hand.Of, s.keys); i >= 0 {
			return []done{{rec.Actions[i].At, s.until(rec, i)}}
		}
		return nil
	}
	n := 0
	for i, a := range rec.Actions {
		if !s.is(a) {
			continue
		}
		if n++; s.nth == 0 || n == s.nth || s.every > 0 && n%s.every == s.nth%s.every {
			if x := (done{a.At, s.until(rec, i)}); s.meanwhile(rec, x) {
				out = append(out, x)
			}
		}
	}
	return out
}

// is reports whether an action is what is done.
func (x *doing) is(a bench.Action) bool {
	switch {
	case x.typed != "":
		return a.Do == bench.Type && strings.EqualFold(strings.TrimSpace(a.Text), x.typed)
	case x.verb == bench.Set:
		return a.Of == x.hand.Of
	case x.verb == bench.Release:
		return a.Of == x.hand.Of && a.Do == bench.Release
	}
	return a.Of == x.hand.Of && a.Do == bench.Press && a.Key == x.key
}

// until is when the next thing is done after an action; that what was pressed is let go is none.
func (x *doing) until(rec *bench.Recording, i int) float64 {
	a := rec.Actions[i]
	for _, b := range rec.Actions[i+1:] {
		if b.Do != bench.Release || b.Of != a.Of || a.Do != bench.Press || x.verb == bench.Set {
			return b.At
		}
	}
	return rec.Ended
}

// typedAt is the action with which a row of keys is typed; -1: they are not, as the first that
// are pressed there. What was pressed before would be a part of what is typed.
func typedAt(rec *bench.Recording, pad string, keys []string) int {
	n := 0
	for i, a := range rec.Actions {
		if a.Of != pad || a.Do != bench.Press {
			continue
		}
		if a.Key != keys[n] {
			return -1
		}
		if n++; n == len(keys) {
			return i
		}
	}
	return -1
}

// typedBy reports whether at a time a row of keys has been typed, and no other key after it.
func (c *cond) typedBy(rec *bench.Recording, at float64) bool {
	last := typedAt(rec, c.hand.Of, c.keys)
	if last < 0 || rec.Actions[last].At > at {
		return false
	}
	return !slices.ContainsFunc(rec.Actions[last+1:], func(a bench.Action) bool {
		return a.Of == c.hand.Of && a.Do == bench.Press && a.At <= at
	})
}

// needs is for how long after a press nothing else is to be done, so that one can tell.
func (s *Sentence) needs() float64 {
	n := s.within + s.after
	if s.lasts > 0 {
		n += s.lasts + s.within
	}
	return n.Seconds()
}

// presses says which press did not do what it should.
func (s *Sentence) presses(rec *bench.Recording) *breach {
	for _, x := range s.times(rec) {
		if x.at+s.needs() > x.next {
			continue // too soon to tell
		}
		if s.printed != nil {
			if !s.printed.came(rec, x.at, x.at+s.needs()) {
				return &breach{x.at + s.needs(), fmt.Sprintf("%s at %.3g s, and %s was not printed", s.did(), x.at, s.printed.words()), s.hand.Of}
			}
			continue
		}
		if s.claim == counts {
			if b := s.counted(rec, x); b != nil {
				return b
			}
			continue
		}
		for _, y := range s.things {
			if b := s.came(rec, x, y); b != nil {
				return b
			}
		}
	}
	return nil
}

// did is what was done.
func (s *Sentence) did() string {
	switch {
	case s.typed != "":
		return fmt.Sprintf("%q was typed", s.typed)
	case len(s.keys) > 0:
		return keysTyped(s.keys, s.hand) + " was typed"
	case s.verb == bench.Release:
		return s.hand.Name + " was let go"
	case s.verb == bench.Set && s.hand.Kind == bench.Switches:
		return s.hand.Name + " was moved"
	case s.verb == bench.Set:
		return s.hand.Name + " was turned"
	}
	return s.hand.Name + " was pressed"
}

// open reports whether, when something was done, it was not so already: what is lit all the time
// is lit by nothing.
func (s *Sentence) open(rec *bench.Recording, x done) bool {
	if s.printed != nil || s.claim == changes || s.claim == leaves || s.claim == counts {
		return true
	}
	return slices.ContainsFunc(s.things, func(y thing) bool { return isOn(row(rec, y), y, x.at) != s.wants() })
}

// wants reports whether things are to be on.
func (s *Sentence) wants() bool { return s.claim == lit || s.claim == sounds || s.claim == runs }

// isOn reports whether a thing is seen to be on at a time.
func isOn(r *bench.Row, y thing, at float64) bool {
	if y.kind == bench.LampRow {
		return looks(r, at) >= visible
	}
	return value(r, at) > 0
}

// came says whether of something that was done came what should, at a thing.
func (s *Sentence) came(rec *bench.Recording, x done, y thing) *breach {
	r := row(rec, y)
	on := func(t float64) bool { return isOn(r, y, t) }
	no := func(at float64, words string) *breach {
		return &breach{at, fmt.Sprintf("%s at %.3g s, and %s %s", s.did(), x.at, y.name, words), y.of}
	}
	from := x.at + s.after.Seconds()
	end := from + s.within.Seconds()
	is := map[bool]string{true: "lit", false: "dark"}
	if y.kind == bench.SoundRow {
		is = map[bool]string{true: "sounding", false: "silent"}
	} else if y.kind == bench.LoadRow {
		is = map[bool]string{true: "running", false: "at rest"}
	}
	before := on(x.at)
	// The moments at which it may be another: what the eye makes of each change.
	seen := func(from, to float64) (out []float64) {
		for _, t := range changesIn(r, span{from, to}) {
			out = append(out, math.Min(t+eye, to))
		}
		return append(out, to)
	}
	switch s.claim {
	case changes:
		flips, was := 0, before
		for _, t := range append(changesIn(r, span{x.at, x.next}), end) {
			if now := on(math.Min(t+eye, x.next)); now != was {
				flips, was = flips+1, now
			}
		}
		if on(end) == before {
			return no(end, "stayed "+is[before])
		}
		if flips > 1 {
			return no(end, fmt.Sprintf("changed %d times", flips))
		}
		return nil
	case leaves:
		if len(changesIn(r, span{x.at - s.within.Seconds(), x.at})) > 0 {
			return nil // it changes by itself
		}
		for _, t := range seen(x.at, end) {
			if on(t) != before || math.Abs(looks(r, t)-looks(r, x.at)) > 5 {
				return no(t, "changed")
			}
		}
		return nil
	}
	want := s.wants()
	early := from - math.Max(0.1, 0.05*s.after.Seconds())
	if s.after > 0 && before != want {
		for _, t := range seen(x.at, math.Max(x.at, early)) {
			if t <= early && on(t) == want {
				return no(t, fmt.Sprintf("is %s too early", is[want]))
			}
		}
	}
	i := slices.IndexFunc(seen(math.Max(x.at, early), end), func(t float64) bool { return on(t) == want })
	if i < 0 {
		return no(end, "is "+is[!want])
	}
	if s.keeps {
		for _, t := range seen(seen(math.Max(x.at, early), end)[i], x.next) {
			if on(t) != want {
				return no(t, fmt.Sprintf("is %s again", is[!want]))
			}
		}
	}
	if s.lasts == 0 {
		return nil
	}
	// For so long, give or take a twentieth, and then no more.
	begun := seen(math.Max(x.at, early), end)[i] - eye
	if on(math.Max(x.at, early)) == want {
		begun = from
	}
	slack := math.Max(0.1, 0.05*s.lasts.Seconds())
	over := begun + s.lasts.Seconds()
	for _, t := range seen(begun, over-slack) {
		if on(t) != want {
			return no(t, fmt.Sprintf("is %s already", is[!want]))
		}
	}
	if late := over + math.Max(slack, s.within.Seconds()); late <= x.next && on(late) == want {
		return no(late, fmt.Sprintf("is %s still", is[want]))
	}
	return nil
}

// prints reports whether a text was printed in a time.
func prints(rec *bench.Recording, text string, from, to float64) bool {
	var all strings.Builder
	var at []float64
	for _, said := range rec.Serial {
		for range said.Text {
			at = append(at, said.At)
		}
		all.WriteString(said.Text)
	}
	whole := []rune(strings.ToLower(all.String()))
	want := []rune(strings.ToLower(text))
	for i := 0; i+len(want) <= len(whole) && len(at) == len(whole); i++ {
		if t := at[i+len(want)-1]; t > from && t <= to && slices.Equal(whole[i:i+len(want)], want) {
			return true
		}
	}
	return false
}
