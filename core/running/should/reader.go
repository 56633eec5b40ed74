package should

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
)

// A Reader understands sentences about one build.
type Reader struct {
	net     *wiring.Network
	hands   []bench.Hand
	things  []thing
	only    map[string][]string // by part: what it is called as the only one of its kind
	items   []item
	kept    map[string]bool // words that are left out elsewhere, and are part of a name here
	words   map[string]bool // all that a sentence about this build can have
	mu      sync.Mutex
	found   map[string][]item    // what words mean, that were looked up
	parts   map[string]bool      // the words of all names
	ways    map[string]phrases   // what the ways of contacts are called
	levels  map[string][]string  // the stems of what levels are called
	legend  map[string][][]token // by keypad and key: what the key is called
	longest int                  // tokens that a name has
	renamed []rename             // names that would be taken for something else
	units   units                // what the hands here are measured in, and no other
}

// NewReader returns a reader of sentences about a build.
func NewReader(net *wiring.Network) *Reader {
	r := &Reader{net: net, hands: bench.Hands(net), only: build.OnlyOnes(net.Library, net.Doc)}
	for _, l := range net.Lamps {
		kind, _ := net.Library.Catalogue.Kind(l.Part.Kind)
		x := thing{kind: bench.LampRow, of: l.Part.ID, name: l.Name, most: brightest(net, l.Element)}
		if len(kind.Emitters) > 1 {
			x.lamp, x.cased, x.digit = l.Emitter.ID, l.Part.Name, kind.Shows == part.Digits
		}
		r.things = append(r.things, x)
	}
	for i := range net.Doc.Parts {
		p := &net.Doc.Parts[i]
		switch kind, _ := net.Library.Catalogue.Kind(p.Kind); kind.Acts {
		case part.Tone, part.Sounds:
			r.things = append(r.things, thing{kind: bench.SoundRow, of: p.ID, name: p.Name})
		case part.Turns, part.Pulls, part.Glows:
			r.things = append(r.things, thing{kind: bench.LoadRow, of: p.ID, name: p.Name})
		default:
			if kind.Is(part.Servo) {
				r.things = append(r.things, thing{kind: bench.TurnRow, of: p.ID, name: p.Name})
			}
		}
	}
	r.ways, r.levels, r.legend = map[string]phrases{}, map[string][]string{}, map[string][][]token{}
	for _, h := range r.hands {
		also := [2][]string{}
		if p := net.Doc.Part(partOf(h.Of)); p != nil {
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
	r.found, r.units = map[string][]item{}, unitsOf(r.hands)
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
	if s, ok := r.readTurned(text, true, 0); ok {
		return s, nil
	}
	if s, ok := r.readPaired(text); ok {
		return s, nil
	}
	s, err := r.read(text)
	if err != nil {
		if turned, ok := r.readTurned(text, false, 0); ok {
			return turned, nil
		}
	}
	return s, err
}

// tokens takes a text apart, as its names are known here; all is with what adds nothing.
func (r *Reader) tokens(text string) (list, all []token) {
	flat := unquoted(text, r.units.hide)
	flat = strings.TrimRight(strings.TrimSpace(flat), ".!")
	for _, x := range r.renamed {
		flat = x.name.ReplaceAllString(flat, x.word)
	}
	all = lex(flat)
	r.units.show(all)
	return onlyOfPresses(strip(all, r.kept)), all
}

func (r *Reader) read(text string) (*Sentence, error) {
	list, all := r.tokens(text)
	wrong := func(right string, args ...any) (*Sentence, error) {
		return nil, &Error{Text: strings.TrimSpace(text), Right: fmt.Sprintf(right, args...)}
	}
	if len(list) == 0 {
		return wrong("it names nothing that lights, sounds or runs here; there is %s", r.named())
	}
	if len(list) > mostWords {
		return wrong("it is too long; say it in several sentences")
	}
	if n := len(list); n > 3 && list[n-1].text == "too" { // lights X, too
		list = trim(list[:n-1])
	}
	list, unknown := r.spelled(list)
	left := 60_000 // words that are looked at; a sentence that people say takes some thousand
	s, p, err := r.sentence(list, says(all, "by_itself") && says(all, "not"), &left)
	if err != nil {
		return wrong("%v", err)
	}
	if s != nil {
		s.Text = text
		return s, nil
	}
	right := "the words are known, what they say together is not"
	switch {
	case len(unknown) > 0:
		right = fmt.Sprintf("%q is not understood here", strings.Join(unknown, " "))
	case p.err != nil:
		right = p.err.Error()
	case p.unit != "" && !r.names(list, isHand):
		right = fmt.Sprintf("nothing here is measured in %q", p.unit)
	case p.far.name == "" && !r.names(list, isThing):
		right = "it names nothing that lights, sounds or runs here; there is " + r.named()
	case len(list) < 7 && p.far.name != "" && !r.names(list, isHand):
		right = fmt.Sprintf("what does %s do? It %s", p.far.name, strings.Join(may(p.far.kind), ", or "))
	}
	return nil, &Error{strings.TrimSpace(text), right, r.instead(list, unknown)}
}

// sentence reads tokens as a sentence; without one and without an error they are no sentence.
func (r *Reader) sentence(list []token, idle bool, left *int) (*Sentence, *parser, error) {
	s, p := &Sentence{within: usual}, &parser{r: r, left: left}
	list, s.first = r.atFirst(list)
	var ok bool
	if list, s.within, ok = soonest(list); !ok {
		return nil, p, errors.New("within how long? It is more than nothing and at most a minute, as in \"within 100 ms\"")
	}
	var hertz float64
	if list, hertz, ok = rate(list); !ok {
		return nil, p, errors.New("how often? As in \"at 2 Hz\", \"twice a second\", \"every 2 seconds\"")
	}
	stays := false
	if n := len(list); n > 4 && list[n-3].text == "and" && list[n-2].text == "it" && list[n-1].text == "stays" { // and it stays so
		stays, list = true, list[:n-3]
	}
	d, ok := p.read(list)
	if !ok && p.err == nil {
		d, ok = p.moved(list)
	}
	d.stays = d.stays || stays
	if ok && hertz > 0 {
		ok = d.at(hertz)
	}
	if ok && idle {
		ok = d.byItself()
	}
	s.first = s.first || ok && d.begins() && (says(list, "starts") || says(list, "begins"))
	if ok && d.lasts+d.after > time.Minute {
		return nil, p, errors.New("so long is not tried: at most a minute")
	}
	if !ok || !s.put(d) {
		return nil, p, nil
	}
	s.Says = s.plainForm()
	return s, p, nil
}

// tone is the rate from which on something sounds so, and does not beep so often (common
// practice: nobody hears less as a tone).
const tone = 20 // Hz

// says reports whether a word is among tokens.
func says(list []token, word string) bool {
	return slices.ContainsFunc(list, func(t token) bool { return t.text == word })
}

// at makes a draft happen so often; false where it says nothing of that.
func (d *draft) at(hertz float64) bool {
	if d.text != nil {
		d.text.hertz = hertz
		return d.text.text == "" && !d.text.amount && d.press == nil
	}
	if d.claim == lit && d.lasts > 0 && d.press == nil && d.form == holds { // lit for half a second every two seconds
		d.claim, d.litFor, d.lasts = blinks, d.lasts, 0
	}
	if d.hertz > 0 || d.claim != blinks && d.claim != sounds || d.form != holds || d.litFor.Seconds()*hertz >= 1 {
		return false
	}
	d.hertz = hertz
	d.beeps()
	return true
}

// begins reports whether a draft says how things are, so that they may begin so: "it starts dark".
func (d *draft) begins() bool {
	switch d.claim {
	case lit, dark, full, bright, sounds, silent, runs, rests:
		return len(d.conds) == 0 && d.press == nil && d.form == holds && d.text == nil
	}
	return false
}

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
			if list[k].kind == comma || list[k].text == "and" || list[k].text == "then" || list[k].stem == "be" || k > 0 && actsOn(list[k:k+1]) {
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

// actsOn reports whether a word says what is done to something, and is no press.
func actsOn(word []token) bool {
	for _, said := range stemmed.does {
		if said.is(word) && !stemmed.press.is(word) && !stemmed.pressed.is(word) {
			return true
		}
	}
	return false
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

// may lists what things of a kind do, in words.
func may(kind bench.RowKind) (out []string) {
	if kind == bench.TurnRow {
		return []string{"is at an angle, as in \"is at 90°\""}
	}
	for _, x := range claimsOf[kind] {
		out = append(out, (&Sentence{things: []thing{{kind: kind}}, claim: x.claim}).do()[1:])
	}
	return out
}
