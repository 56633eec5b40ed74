package should

import "cablaggio/core/running/bench"

// since is that a press was done before something else is.
func (x *doing) since() (cond, bool) {
	plain := x.verb == "" && x.nth < 2 && x.every == 0 && x.typed == "" && len(x.keys) == 0
	return cond{hand: x.hand, key: x.key, on: true, since: true}, plain && (x.hand.Kind == bench.Presses || x.hand.Kind == bench.PadOf)
}

// pressedWhile reports whether the conditions of a sentence can be so while something is pressed:
// what is pressed says nothing of itself, and what was pressed before it is said alone.
func (s *Sentence) pressedWhile(x *doing) bool {
	if len(s.conds) > 0 && (s.only || x.nth > 0 || x.typed != "" || len(x.keys) > 0 || x.verb != "" || s.printed != nil) {
		return false
	}
	for _, c := range s.conds {
		if c.before || len(c.any) > 0 || len(c.keys) > 0 || c.since && len(s.conds) > 1 || c.thing == nil && c.hand.Of == x.hand.Of && c.key == x.key {
			return false
		}
	}
	return true
}

// meanwhile reports whether the conditions of a sentence are so as something is done, and stay so
// for as long as one needs to tell what comes of it; what things do counts as it was just before.
func (s *Sentence) meanwhile(rec *bench.Recording, x done) bool {
	const just = 0.01
	for i := range s.conds {
		c := &s.conds[i]
		switch {
		case c.thing != nil:
			if was := x.at - eye - just; was < s.within.Seconds() || !c.met(rec, was, true) {
				return false
			}
		case !c.so(rec, x.at, true) || !c.since && !c.so(rec, x.at+s.needs(), true):
			return false
		}
	}
	return true
}

// happened reports whether a button was pressed up to a time, and nothing else was done to any
// other hand but at that time.
func (c *cond) happened(rec *bench.Recording, at float64) (ok bool) {
	for _, a := range rec.Actions {
		switch {
		case a.At >= at:
		case a.Of != c.hand.Of || a.Key != c.key:
			return false
		case a.Do == bench.Press:
			ok = true
		}
	}
	return ok
}

// led are hands that bring about what a sentence asks for, and then the press that it is about.
func (s *Sentence) led() (out []bench.Action) {
	at := 0.5
	for _, a := range s.brought() {
		a.At -= 0.5
		out, at = append(out, a), a.At
	}
	for _, c := range s.conds {
		if c.since {
			out = append(out, pressed(c.hand, c.key, at)...)
			at += 0.5
		}
	}
	return append(out, pressed(s.hand, s.key, at+s.within.Seconds()+0.1)...)
}

// pressed is a short press.
func pressed(h bench.Hand, key string, at float64) []bench.Action {
	return []bench.Action{{At: at, Do: bench.Press, Of: h.Of, Key: key}, {At: at + 0.15, Do: bench.Release, Of: h.Of, Key: key}}
}
