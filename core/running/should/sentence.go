// Package should reads what a builder says that a build should do, tries it with hundreds of
// hands on the bench, and says whether it holds, or what breaks it.
package should

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
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
	low, high float64       // of bright: between which per cents
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
	steady // does not blink
	idle   // does not change by itself
	unlit  // does not come on by itself
	undark // does not go off by itself
)

// word is a claim as words.json and plain forms have it.
func (c claim) word() string {
	return [...]string{"lit", "dark", "full", "blinks", "gets brighter", "gets darker", "bright", "sounds", "silent", "runs", "rests", "changes", "leaves", "steady", "idle", "unlit", "undark"}[c]
}

// turns is the unit of a knob: its way from end to end.
const turns = "turn"

// usual is within which time something happens when nothing is said (common practice: half a
// second is taken for at once by who does not count).
const usual = 500 * time.Millisecond

// A Reader understands sentences about one build.
type Reader struct {
	net    *wiring.Network
	hands  []bench.Hand
	things []thing
	only   map[string][]string // by part: what it is called as the only one of its kind
	items  []item
	kept   map[string]bool // words that are left out elsewhere, and are part of a name here
	words  map[string]bool // all that a sentence about this build can have
	mu     sync.Mutex
	found  map[string][]item    // what words mean, that were looked up
	parts  map[string]bool      // the words of all names
	ways   map[string]phrases   // what the ways of contacts are called
	levels map[string][]string  // the stems of what levels are called
	legend map[string][][]token // by keypad and key: what the key is called
}

// NewReader returns a reader of sentences about a build.
func NewReader(net *wiring.Network) *Reader {
	r := &Reader{net: net, hands: bench.Hands(net), only: build.OnlyOnes(net.Library, net.Doc)}
	for _, l := range net.Lamps {
		r.things = append(r.things, thing{bench.LampRow, l.Part.ID, l.Name, brightest(net, l.Element)})
	}
	for i := range net.Doc.Parts {
		p := &net.Doc.Parts[i]
		switch kind, _ := net.Library.Catalogue.Kind(p.Kind); kind.Model {
		case "buzzer":
			r.things = append(r.things, thing{bench.SoundRow, p.ID, p.Name, 0})
		case "coil", "filament":
			r.things = append(r.things, thing{bench.LoadRow, p.ID, p.Name, 0})
		}
	}
	r.ways, r.levels, r.legend = map[string]phrases{}, map[string][]string{}, map[string][][]token{}
	for _, h := range r.hands {
		also := [2][]string{}
		if p := net.Doc.Part(h.Of); p != nil {
			also = words.Ways[p.Kind]
		}
		for i, way := range []string{h.Off, h.On} {
			r.ways[way] = stems(append([]string{clean(way)}, also[i]...))
		}
		for _, level := range h.Names {
			name, _, _ := strings.Cut(level, " (")
			for _, t := range lex(clean(name)) {
				r.levels[level] = append(r.levels[level], t.stem)
			}
		}
		for i, key := range h.Keys {
			names := [][]token{lex(key)}
			if i < len(h.Legends) {
				names = append(names, lex(h.Legends[i:i+1]))
			}
			r.legend[h.Of+" "+key] = names
		}
	}
	r.found = map[string][]item{}
	r.listItems()
	r.words = r.vocabulary()
	return r
}

// brightest is how bright a lamp looks in the planned state in which it gets most.
func brightest(net *wiring.Network, lamp int) float64 {
	p := net.PieceWith(lamp)
	if p == nil {
		return 0
	}
	list, err := p.Planned(wiring.Current(lamp))
	if err != nil {
		return 0
	}
	amps := 0.0
	for _, s := range list {
		amps = max(amps, s.TypicalAmps(lamp))
	}
	return bench.Lightness(net, lamp, amps)
}

// An Error says which words of a sentence are not understood, and what would be right.
type Error struct {
	Text    string
	Right   string
	Instead []string // sentences that may be meant
}

func (e *Error) Error() string {
	out := e.short()
	if len(e.Instead) > 0 {
		var list []string
		for _, s := range e.Instead {
			list = append(list, strconv.Quote(s))
		}
		out += "; say it as " + inWords(list, "or")
	}
	return out
}

// short is the error without what may be meant.
func (e *Error) short() string { return fmt.Sprintf("%q: %s", e.Text, e.Right) }

// mostWords is how long a sentence is at most: sixteen lamps by their names have room in it.
const mostWords = 70

// Read understands a sentence, all its words: one that is understood by half is not judged. Its
// error is an [*Error].
func (r *Reader) Read(text string) (*Sentence, error) {
	s := &Sentence{Text: text, within: usual}
	all := lex(strings.TrimRight(strings.TrimSpace(text), ".!"))
	list := onlyOfPresses(strip(all, r.kept))
	wrong := func(right string, args ...any) (*Sentence, error) {
		return nil, &Error{Text: strings.TrimSpace(text), Right: fmt.Sprintf(right, args...)}
	}
	if len(list) == 0 {
		return wrong("it names nothing that lights, sounds or runs here; there is %s", r.named())
	}
	if len(list) > mostWords {
		return wrong("it is too long; say it in several sentences")
	}
	list, unknown := r.spelled(list)
	list, s.first = r.atFirst(list)
	var ok bool
	if list, s.within, ok = soonest(list); !ok {
		return wrong("within how long? It is more than nothing and at most a minute, as in \"within 100 ms\"")
	}
	var hertz float64
	if list, hertz, ok = rate(list); !ok {
		return wrong("how often? As in \"at 2 Hz\", \"twice a second\", \"every 2 seconds\"")
	}
	p := &parser{r: r}
	stays := false
	if n := len(list); n > 4 && list[n-3].text == "and" && list[n-2].text == "it" && list[n-1].text == "stays" { // and it stays so
		stays, list = true, list[:n-3]
	}
	d, ok := p.read(list)
	d.stays = d.stays || stays
	if ok && hertz > 0 {
		if d.text != nil {
			ok = d.text.text == "" && !d.text.amount && d.press == nil
			d.text.hertz = hertz
		} else {
			if d.claim == lit && d.lasts > 0 && d.press == nil && d.form == holds { // lit for half a second every two seconds
				d.claim, d.litFor, d.lasts = blinks, d.lasts, 0
				ok = ok && d.litFor.Seconds()*hertz < 1
			}
			ok = ok && d.hertz == 0 && (d.claim == blinks || d.claim == sounds) && d.form == holds
			d.hertz = hertz
			d.beeps()
		}
	}
	if ok && slices.ContainsFunc(all, func(t token) bool { return t.text == "by_itself" }) && slices.ContainsFunc(all, func(t token) bool { return t.text == "not" }) {
		ok = d.byItself()
	}
	if ok && !s.first && len(d.conds) == 0 && d.press == nil && d.form == holds && d.text == nil && slices.ContainsFunc(list, func(t token) bool { return t.text == "starts" || t.text == "begins" }) {
		switch d.claim { // it starts dark
		case lit, dark, full, bright, sounds, silent, runs, rests:
			s.first = true
		}
	}
	if ok && d.lasts+d.after > time.Minute {
		return wrong("so long is not tried: at most a minute")
	}
	if ok && s.put(d) {
		s.Says = s.plainForm()
		return s, nil
	}
	switch {
	case len(unknown) > 0:
		return nil, &Error{strings.TrimSpace(text), fmt.Sprintf("%q is not understood here", strings.Join(unknown, " ")), r.instead(list)}
	case p.err != nil:
		return wrong("%v", p.err)
	case p.far.name == "" && !r.names(list, isThing):
		return wrong("it names nothing that lights, sounds or runs here; there is %s", r.named())
	case len(list) < 7 && p.far.name != "" && !r.names(list, isHand):
		return wrong("what does %s do? It %s", p.far.name, strings.Join(may(p.far.kind), ", or "))
	}
	return nil, &Error{strings.TrimSpace(text), "the words are known, what they say together is not", r.instead(list)}
}

// tone is the rate from which on something sounds so, and does not beep so often (common
// practice: nobody hears less as a tone).
const tone = 20 // Hz

// beeps makes of what sounds at a rate what beeps so often.
func (d *draft) beeps() {
	if d.claim == sounds && d.hertz > 0 && d.hertz < tone {
		d.claim = blinks
	}
}

// onlyOfPresses leaves out each "again" that does not say of a press that it is another: what is
// lit again is lit.
func onlyOfPresses(list []token) (out []token) {
	for i, t := range list {
		if t.text != "again" {
			out = append(out, t)
			continue
		}
		for k := i - 1; k >= 0 && k >= i-4; k-- {
			if list[k].kind == comma || list[k].text == "and" || list[k].text == "then" || list[k].stem == "be" {
				break
			}
			if stemmed.press.is(list[k:k+1]) || stemmed.pressed.is(list[k:k+1]) && list[k].text != "on" {
				out = append(out, t)
				break
			}
		}
	}
	return out
}

// byItself makes of what is not so what does not come to be so by itself.
func (d *draft) byItself() bool {
	switch d.claim {
	case dark, silent, rests:
		d.claim = unlit
	case lit, sounds, runs:
		d.claim = undark
	case leaves:
		d.claim = idle
	default:
		return d.claim == steady
	}
	return d.form == holds && d.press == nil
}

// put makes a draft the sentence; false where its parts say nothing together.
func (s *Sentence) put(d draft) bool {
	s.form, s.conds, s.only, s.things, s.claim, s.low, s.high, s.hertz = d.form, d.conds, d.only, d.things, d.claim, d.low, d.high, d.hertz
	s.one, s.litFor, s.shows = d.one, d.litFor, d.shows
	if d.then != nil {
		s.then = &Sentence{within: s.within}
		if s.first || !s.then.put(*d.then) {
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
	case oneOf, alike, inTurn:
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
		if d.and != nil && s.and.form != each {
			return false
		}
		s.form, s.doing = each, *d.press
		if s.atATime != (lengths{}) || s.verb == bench.Set && s.claim != leaves && s.printed == nil || s.printed != nil && (s.printed.hertz > 0 || s.printed.of != nil) {
			return false
		}
		s.keeps = d.stays && s.lasts == 0 && s.claim != leaves && s.claim != changes && s.verb == ""
		switch s.claim {
		case lit, dark, changes, leaves, sounds, silent, runs, rests:
		case rises, falls, full:
			if s.typed != "" || len(s.keys) > 0 || s.nth > 0 || s.verb != "" || s.lasts > 0 || s.after > 0 {
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
	for i := range s.conds {
		for _, b := range s.conds[:i] {
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
	return s.claim != changes && s.lasts == 0 && s.after == 0 && !(s.first && len(s.conds) > 0)
}

// may lists what things of a kind do, in words.
func may(kind bench.RowKind) (out []string) {
	for _, x := range claimsOf[kind] {
		out = append(out, (&Sentence{things: []thing{{kind: kind}}, claim: x.claim}).do()[1:])
	}
	return out
}

func clean(text string) string {
	t := strings.ToLower(strings.Join(strings.Fields(text), " "))
	t = strings.TrimSuffix(t, ".")
	return strings.TrimSpace(article.ReplaceAllString(t, ""))
}

var article = regexp.MustCompile(`\bthe `)
