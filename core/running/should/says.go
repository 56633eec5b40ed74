package should

import (
	"fmt"
	"math"
	"slices"
	"strings"
	"time"

	"cablaggio/core/running/bench"
)

// plainForm is a sentence as it was understood, in the words in which it is read alike again.
func (s *Sentence) plainForm() string {
	if s.then != nil {
		one := *s
		one.then = nil
		return one.plainForm() + "; " + s.then.plainForm()
	}
	switch s.form {
	case limits:
		return Limits
	case oneOf:
		if s.more {
			return s.when() + "at least one of " + names(s.things) + " is lit"
		}
		if s.one {
			return s.when() + "exactly one of " + names(s.things) + " is lit"
		}
		return s.when() + names(s.things) + " light one at a time"
	case alike:
		return s.when() + names(s.things) + " " + map[bool]string{true: "light", false: "go"}[s.lamps()] + " together"
	case inTurn:
		return names(s.things) + " light one after the other"
	case turning:
		way := "from dark to full"
		if s.back {
			way = "from full to dark"
		}
		return "turning " + s.hand.Name + " takes " + s.things[0].name + " " + way
	case each:
		out := "each press of " + s.hand.Name
		switch {
		case s.typed != "":
			out = fmt.Sprintf("typing %q", s.typed)
		case len(s.keys) > 0:
			out = "typing " + keysTyped(s.keys, s.hand)
		case s.verb == bench.Release:
			out = "releasing " + s.hand.Name
		case s.verb == bench.Set && s.hand.Kind == bench.Switches:
			out = "moving " + s.hand.Name
		case s.verb == bench.Set:
			out = "turning " + s.hand.Name
		case s.nth > 0:
			out = s.whichPress()
		case s.hand.Kind == bench.PadOf:
			out = "each press of " + keyOf(s.hand, s.key)
		}
		out = s.when() + out + " " + s.done()
		for x := s.and; x != nil && s.shows == ""; x = x.and {
			out += " and " + x.done()
		}
		if s.lasts > 0 {
			out += " for " + howLong(s.lasts)
		}
		if s.after > 0 {
			out += " after " + howLong(s.after)
		}
		if s.keeps {
			return out + s.soon() + " and it stays so"
		}
		return out + s.soon()
	}
	out := s.when() + s.do()
	for x := s.and; x != nil && s.shows == ""; x = x.and {
		out += " and " + x.do()
	}
	return out + s.soon()
}

// whichPress is the press of a number, in words.
func (x *doing) whichPress() string {
	of := " press of " + x.hand.Name
	if x.hand.Kind == bench.PadOf {
		of = " press of " + keyOf(x.hand, x.key)
	}
	switch {
	case x.every == 2 && x.nth == 1:
		return "each odd" + of
	case x.every == 2:
		return "each even" + of
	case x.every > 0:
		return "every " + words.Ordinals[x.nth-1] + of
	}
	return "the " + words.Ordinals[x.nth-1] + of
}

// keyOf is a key of a pad, by what stands on it.
func keyOf(pad bench.Hand, key string) string { return "key " + keysTyped([]string{key}, pad) }

// keysTyped are keys as they are typed on a pad.
func keysTyped(keys []string, pad bench.Hand) string {
	var list []string
	for _, k := range keys {
		if i := slices.Index(pad.Keys, k); i >= 0 && i < len(pad.Legends) {
			k = pad.Legends[i : i+1]
		}
		list = append(list, k)
	}
	return strings.Join(list, " ") + " on " + pad.Name
}

// lamps reports whether all things are lamps.
func (s *Sentence) lamps() bool {
	return !slices.ContainsFunc(s.things, func(x thing) bool { return x.kind != bench.LampRow })
}

// done is what a press does to things.
func (s *Sentence) done() string {
	if s.printed != nil {
		return "prints " + s.printed.words() + s.printed.how()
	}
	if s.shows != "" {
		return "makes " + s.things[0].cased + " show " + s.shows
	}
	if s.claim == counts {
		return "counts " + s.things[0].cased + " up by one"
	}
	of := names(s.things)
	if s.claim == leaves {
		if len(s.things) > 1 {
			return "leaves " + of + " as they are"
		}
		return "leaves " + of + " as it is"
	}
	verb := map[claim]string{lit: "lights", dark: "darkens", changes: "changes", sounds: "sounds", silent: "silences", runs: "starts", rests: "stops"}[s.claim]
	return verb + " " + of
}

// byItselfNot is what things do not do by themselves: a buzzer that goes off sounds.
func (s *Sentence) byItselfNot() string {
	on, off := "come on", "go off"
	switch s.things[0].kind {
	case bench.SoundRow:
		on, off = "sound", "stop"
	case bench.LoadRow:
		on, off = "run", "stop"
	}
	switch s.claim {
	case unlit:
		return "does not " + on + " by itself"
	case undark:
		return "does not " + off + " by itself"
	case idle:
		return "does not change by itself"
	}
	return "does not blink"
}

// do is what things do.
func (s *Sentence) do() string {
	if s.printed != nil {
		return s.printed.words() + " is printed" + s.printed.how()
	}
	if s.shows != "" {
		return s.things[0].cased + " shows " + s.shows
	}
	many := len(s.things) > 1
	does := s.claim.word()
	switch {
	case s.claim == bright && s.high >= 100:
		does = fmt.Sprintf("is above %g %%", s.low)
	case s.claim == bright && s.low <= 0:
		does = fmt.Sprintf("is below %g %%", s.high)
	case s.claim == bright:
		does = fmt.Sprintf("is at %g %%", (s.low+s.high)/2)
	case s.claim == stands:
		does = fmt.Sprintf("is at %g°", (s.low+s.high)/2)
	case s.litFor > 0:
		period := time.Duration(math.Round(1e3/s.hertz)) * time.Millisecond
		does = "is lit for " + howLong(s.litFor) + " and dark for " + howLong(period-s.litFor)
	case s.claim == blinks && s.things[0].kind == bench.SoundRow:
		does = "beeps"
	case s.claim >= steady:
		does = s.byItselfNot()
	case s.claim == leaves && many:
		does = "stays as they are"
	case s.claim == leaves:
		does = "stays as it is"
	case s.claim == lit || s.claim == dark || s.claim == full || s.claim == silent:
		does = "is " + does
	}
	if many {
		first, rest, _ := strings.Cut(does, " ")
		first = map[string]string{"is": "are", "gets": "get", "blinks": "blink", "sounds": "sound", "runs": "run", "rests": "rest", "stays": "stay", "beeps": "beep", "does": "do"}[first]
		does = strings.TrimSpace(first + " " + rest)
	}
	out := names(s.things) + " " + does + s.atATime.words()
	if s.hertz > 0 && s.litFor == 0 {
		out += fmt.Sprintf(" at %g Hz", math.Round(s.hertz*1e4)/1e4)
	}
	return out
}

// when is what is so meanwhile, with its comma.
func (s *Sentence) when() string {
	begin := ""
	if s.first {
		begin = "before anything is touched, "
	}
	if len(s.conds) == 0 {
		return begin
	}
	word := "while "
	switch {
	case s.conds[0].before:
		word = "until "
	case s.conds[0].since:
		word = "after "
	}
	if s.only {
		word = "only " + word
	}
	var list []string
	for i := range s.conds {
		if i > 0 && s.conds[i].narrow && s.conds[i-1].narrow { // at a number, from both sides
			continue
		}
		if w := s.conds[i].words(); !slices.Contains(list, w) {
			list = append(list, w)
		}
	}
	return begin + word + strings.Join(list, " and ") + ", "
}

// words say what a condition asks for.
func (c *cond) words() string {
	h := c.hand
	switch {
	case c.since && h.Kind == bench.PadOf:
		return "a press of " + keyOf(h, c.key)
	case c.since:
		return "a press of " + h.Name
	case len(c.keys) > 0:
		return keysTyped(c.keys, h) + " is typed"
	case len(c.any) > 0:
		var list []string
		for i := range c.any {
			list = append(list, c.any[i].words())
		}
		out := strings.Join(list, " or ")
		if c.not {
			return "neither " + strings.ReplaceAll(out, " or ", " nor ")
		}
		return out
	case c.thing != nil:
		return (&Sentence{things: []thing{*c.thing}, claim: c.claim}).do()
	case h.Kind == bench.PadOf:
		is := " is pressed"
		if c.not {
			is = " is not pressed"
		}
		return keyOf(h, c.key) + is
	case !c.ranged && c.on:
		return h.Name + " is " + h.On
	case !c.ranged:
		return h.Name + " is " + h.Off
	case c.called:
		return h.Name + " is " + c.name
	case h.Kind == bench.Spins && c.least == h.Most/100:
		return h.Name + " spins"
	case h.Kind == bench.Spins && c.most == h.Most/100:
		return h.Name + " stands still"
	}
	if c.narrow {
		return strings.TrimSpace(fmt.Sprintf("%s is at %g %s", h.Name, c.at, h.Unit))
	}
	way, v, shown := "below", c.most, h.Unit
	if !c.under() {
		way, v = "above", c.least
	}
	if h.Unit == turns {
		v, shown = 100*v, "%"
	}
	return strings.TrimSpace(fmt.Sprintf("%s is %s %g %s", h.Name, way, math.Round(v*1e6)/1e6, shown))
}

// under reports whether a level is to be below a number.
func (c *cond) under() bool { return c.most != 0 || c.least == 0 }

// soon says within which time, where that is not the usual.
func (s *Sentence) soon() string {
	if s.within == usual {
		return ""
	}
	return ", within " + howLong(s.within)
}

func howLong(d time.Duration) string {
	if d < time.Second {
		return fmt.Sprintf("%d ms", d.Milliseconds())
	}
	return fmt.Sprintf("%g s", d.Seconds())
}
