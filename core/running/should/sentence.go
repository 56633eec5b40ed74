// Package should reads what a builder says that a build should do, tries it with hundreds of
// hands on the bench, and says whether it holds, or what breaks it.
package should

import (
	"regexp"
	"slices"
	"strings"
	"time"

	"cablaggio/core/running/bench"
)

// Limits is the sentence that is always there.
const Limits = "never is anything over its limit"

// form says what sentence it is.
type form uint8

const (
	holds   form = iota // while …, X is lit
	each                // each press of B changes X
	turning             // turning K takes X from dark to full
	oneOf               // X, Y and Z light one at a time
	alike               // X and Y light together
	limits              // never is anything over its limit
	inTurn              // X, Y and Z light one after the other
)

// A Sentence is something that a build should do.
type Sentence struct {
	Text string // as it was said
	Says string // as it was understood

	form      form
	conds     []cond
	only      bool // and where the conditions are not met, the opposite
	things    []thing
	claim     claim
	low, high float64       // of bright: between which per cents; of stands: between which degrees
	hertz     float64       // of Blinks and Sounds; 0: any
	litFor    time.Duration // of Blinks: for how long each time; 0: nothing is said of it
	doing                   // what is done once; of turning, what is turned
	printed   *printed      // what is printed, in place of a claim
	lasts     time.Duration // after a press, for how long; 0: nothing is said of it
	atATime   lengths       // for how long each time
	keeps     bool          // after a press, until something else is done
	shows     string        // the figure that the things and what is so, too, make; empty: none
	after     time.Duration // how long after a press
	within    time.Duration
	back      bool      // from full to dark
	first     bool      // before anything is touched
	and       *Sentence // is so, too
	then      *Sentence // another sentence that was said with it
	one       bool      // of oneOf: and one always
	more      bool      // of oneOf: or several
}

// A cond is something that is so meanwhile: a hand in a place, or what a thing does.
type cond struct {
	hand   bench.Hand
	on     bool // of a contact
	key    string
	not    bool    // of a key, and of any
	least  float64 // of a level, a knob or a wheel: above it, or
	most   float64 // below it
	ranged bool
	called bool // it has a name:
	name   string
	thing  *thing
	claim  claim
	any    []cond // one of these, in place of all else
	before bool   // not yet so
	since  bool   // it was pressed, and nothing else was done
	narrow bool   // the numbers are those between which it surely is at
	at     float64
	surely float64  // beyond which number it surely is so, and
	barely float64  // beyond which it surely is not, where there is more between than the margin
	keys   []string // were pressed one after the other, in place of all else
}

// negated is the opposite of a condition.
func (c cond) negated() cond {
	c.surely, c.barely = c.barely, c.surely
	switch {
	case len(c.any) > 0 || c.hand.Kind == bench.PadOf:
		c.not = !c.not
	case c.thing != nil:
		c.claim, _ = opposite(c.claim)
	case c.ranged && c.under():
		c.least, c.most = c.most, 0
	case c.ranged:
		c.least, c.most = 0, c.least
	default:
		c.on = !c.on
	}
	return c
}

// A thing is a row of a recording that acts.
type thing struct {
	kind bench.RowKind
	of   string
	name string
	most float64 // of a lamp: how bright it looks, 0 to 100, when it is driven steadily; 0: not known

	// Of a lamp in a case with several: which it is, what the case is called, and whether that is a
	// digit.
	lamp, cased string
	digit       bool
}

// A claim is what a thing does.
type claim uint8

const (
	lit claim = iota
	dark
	full
	blinks
	rises
	falls
	bright
	sounds
	silent
	runs
	rests
	changes
	leaves
	stands // its arm is at an angle
	counts // a digit goes up by one
	steady // does not blink
	idle   // does not change by itself
	unlit  // does not come on by itself
	undark // does not go off by itself
)

// word is a claim as words.json and plain forms have it.
func (c claim) word() string {
	return [...]string{"lit", "dark", "full", "blinks", "gets brighter", "gets darker", "bright", "sounds", "silent", "runs", "rests", "changes", "leaves", "stands", "counts", "steady", "idle", "unlit", "undark"}[c]
}

// turns is the unit of a knob: its way from end to end.
const turns = "turn"

// ofSupply is the unit of a part that gives a part of its supply's voltage.
const ofSupply = "of its supply"

// inUnits says what something is measured in, where its unit alone says too little.
var inUnits = strings.NewReplacer(turns, "% of its way", ofSupply, "% of its supply")

// usual is within which time something happens when nothing is said (common practice: half a
// second is taken for at once by who does not count).
const usual = 500 * time.Millisecond

// put makes a draft the sentence; false where its parts say nothing together.
func (s *Sentence) put(d draft) bool {
	if arms := slices.ContainsFunc(d.things, func(x thing) bool { return x.kind == bench.TurnRow }); arms && (d.claim != stands || d.form != holds || d.press != nil) {
		return false // of an arm only where it stands is judged
	}
	s.form, s.conds, s.only, s.things, s.claim, s.low, s.high, s.hertz = d.form, d.conds, d.only, d.things, d.claim, d.low, d.high, d.hertz
	s.one, s.more, s.litFor, s.shows = d.one, d.more, d.litFor, d.shows
	if d.then != nil {
		s.then = &Sentence{within: s.within}
		if s.first || !s.then.put(*d.then) || len(s.then.conds) > 0 && s.then.conds[0].before {
			return false
		}
	}
	s.hand, s.back, s.printed, s.lasts, s.after, s.atATime = d.hand, d.back, d.text, d.lasts, d.after, d.times
	if d.within > 0 {
		s.within = d.within
	}
	if d.and != nil {
		more := *d.and
		more.conds, more.press, more.only, more.within, more.after = d.conds, d.press, d.only, d.within, d.after
		also := &Sentence{within: s.within, first: s.first}
		if d.lasts > 0 || !also.put(more) || also.form == turning {
			return false
		}
		s.and = also
	}
	// What gets brighter as a knob goes up follows it.
	if c := d.conds; (d.claim == rises || d.claim == falls) && len(c) > 0 && slices.ContainsFunc(c, func(x cond) bool { return x.ranged }) {
		if len(c) > 1 || c[0].hand.Kind != bench.Levels || c[0].called || len(d.things) > 1 || d.and != nil || d.only || s.first || d.press != nil || c[0].hand.Unit != turns || c[0].least < 0.98*c[0].hand.Most && !(c[0].under() && c[0].most <= 0.02*c[0].hand.Most) {
			return false
		}
		s.form, s.hand, s.conds, s.back = turning, c[0].hand, nil, (d.claim == falls) != c[0].under()
		return true
	}
	switch d.form {
	case limits:
		return len(d.conds) == 0 && d.press == nil && !s.first
	case turning:
		return len(d.conds) == 0 && d.press == nil && !s.first
	case oneOf:
		return d.press == nil && !d.only && !s.first && d.and == nil
	case alike, inTurn:
		return len(d.conds) == 0 && d.press == nil
	}
	if s.claim >= steady && (d.press != nil || s.only || d.and != nil) {
		return false
	}
	// While a button is held is each press of it where a time says so, or the thing changes.
	if c := d.conds; d.press == nil && len(c) == 1 && !c[0].before && c[0].thing == nil && len(c[0].any) == 0 && !c[0].ranged && c[0].on && !s.only && (d.lasts > 0 || d.after > 0 || d.claim == changes) {
		d.press, s.conds = &doing{hand: c[0].hand, key: c[0].key}, nil
	}
	if d.freed != nil && d.press == nil && len(s.conds) == 1 && !s.only && d.and == nil && d.lasts > 0 { // for 2 s after it was let go
		d.press, s.conds = d.freed, nil
	}
	// What stays lit when a button is let go is left as it is.
	if d.freed != nil && d.press == nil && len(s.conds) == 1 && !s.only && d.and == nil && (d.stays && (s.claim == lit || s.claim == dark) || s.claim == leaves && !d.stays) {
		d.press, s.conds, s.claim = d.freed, nil, leaves
	}
	if d.press != nil {
		if d.press.hand.Kind == bench.Switches && d.press.verb == "" { // which of its ways?
			return false
		}
		if d.and != nil && s.and.form != each || !s.pressedWhile(d.press) {
			return false
		}
		s.form, s.doing = each, *d.press
		if s.atATime != (lengths{}) || s.verb == bench.Set && s.claim != leaves && s.printed == nil || s.printed != nil && (s.printed.hertz > 0 || s.printed.of != nil) {
			return false
		}
		s.keeps = d.stays && s.lasts == 0 && s.claim != leaves && s.claim != changes && s.verb == ""
		switch s.claim {
		case lit, dark, changes, leaves, sounds, silent, runs, rests:
		case counts:
			return s.lasts == 0 && s.after == 0 && !s.first && d.and == nil && len(s.conds) == 0
		case rises, falls, full:
			if len(s.conds) > 0 || s.typed != "" || len(s.keys) > 0 || s.nth > 0 || s.verb != "" || s.lasts > 0 || s.after > 0 {
				return false
			}
			s.form, s.conds = holds, []cond{{hand: s.hand, key: s.key, on: true}}
			return !s.first
		default:
			return false
		}
		return !s.first && s.hertz == 0 && (s.lasts == 0 || s.claim != changes && s.claim != leaves) && s.within+s.lasts+s.after <= time.Minute
	}
	if s.claim == sounds && s.hertz >= tone && len(s.conds) == 0 && !s.first && s.atATime == (lengths{}) { // it plays 660 Hz, when it plays
		for i := range s.things {
			s.conds = append(s.conds, cond{thing: &s.things[i], claim: sounds})
		}
	}
	if d.stays && s.wants() && slices.ContainsFunc(s.conds, func(c cond) bool { return c.before }) { // it is to come on first
		return false
	}
	for i := range s.conds {
		for _, b := range s.conds[:i] {
			if a := s.conds[i]; a.thing == nil && b.thing == nil && !a.ranged && len(a.any)+len(b.any)+len(a.keys)+len(b.keys) == 0 && a.hand.Of == b.hand.Of && a.key == b.key && a.on != b.on {
				return false // pressed and up
			}
			if a := s.conds[i]; a.ranged && b.ranged && a.hand.Of == b.hand.Of && a.under() != b.under() && max(a.least, b.least) >= max(a.most, b.most) {
				return false
			}
		}
		if s.conds[i].before && len(s.conds) > 1 {
			return false
		}
		if c := s.conds[i]; c.thing != nil && slices.Contains(s.things, *c.thing) && s.hertz == 0 && (s.claim == c.claim || opposed(s.claim, c.claim)) {
			return false // lit while it is dark
		}
	}
	if _, ok := opposite(s.claim); s.only && !ok {
		return false
	}
	if s.lasts > 0 {
		s.atATime, s.lasts = lengths{s.lasts, s.lasts}, 0
	}
	if s.atATime != (lengths{}) {
		switch s.claim {
		case lit, dark, sounds, silent, runs, rests:
		default:
			return false
		}
		if s.only || s.first || d.and != nil {
			return false
		}
	}
	return s.claim != changes && s.claim != counts && s.lasts == 0 && s.after == 0 && !(s.first && len(s.conds) > 0)
}

func clean(text string) string {
	t := strings.ToLower(strings.Join(strings.Fields(text), " "))
	t = strings.TrimSuffix(t, ".")
	return strings.TrimSpace(article.ReplaceAllString(t, ""))
}

var article = regexp.MustCompile(`\bthe `)
