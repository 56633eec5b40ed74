// Package should reads what a builder says that a build should do, tries it with hundreds of
// hands on the bench, and says whether it holds, or what breaks it.
package should

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
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
	limits              // never is anything over its limit
)

// A Sentence is something that a build should do.
type Sentence struct {
	Text string // as it was said
	Says string // as it was understood

	form   form
	conds  []cond
	things []thing
	claim  claim
	hertz  float64 // of Blinks and Sounds; 0: any
	hand   bench.Hand
	key    string
	within time.Duration
	back   bool // from full to dark
	first  bool // before anything is touched
}

// A cond is a hand in a place.
type cond struct {
	hand   bench.Hand
	on     bool // of a contact
	key    string
	least  float64 // of a level, a knob or a wheel: above it, or
	most   float64 // below it
	ranged bool
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
	sounds
	silent
	runs
	rests
	changes
)

// claims are the words of claims, those of one claim that are said first.
var claims = []struct {
	say   string
	claim claim
	of    []bench.RowKind
}{
	{"is lit", lit, lamps}, {"is on", lit, lamps}, {"lights", lit, lamps}, {"glows", lit, lamps},
	{"is dark", dark, lamps}, {"is off", dark, lamps}, {"goes out", dark, lamps},
	{"is full", full, lamps}, {"is at its brightest", full, lamps},
	{"blinks", blinks, lamps}, {"flashes", blinks, lamps},
	{"sounds", sounds, []bench.RowKind{bench.SoundRow}}, {"beeps", sounds, []bench.RowKind{bench.SoundRow}},
	{"is silent", silent, []bench.RowKind{bench.SoundRow}},
	{"runs", runs, []bench.RowKind{bench.LoadRow}}, {"is on", runs, []bench.RowKind{bench.LoadRow}},
	{"rests", rests, []bench.RowKind{bench.LoadRow}}, {"is off", rests, []bench.RowKind{bench.LoadRow}},
}

var lamps = []bench.RowKind{bench.LampRow}

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
	Text  string
	Right string
}

func (e *Error) Error() string { return fmt.Sprintf("%q: %s", e.Text, e.Right) }

// Read understands a sentence. Its error is an [*Error].
func (r *Reader) Read(text string) (*Sentence, error) {
	s := &Sentence{Text: text, within: usual}
	t := clean(text)
	wrong := func(right string, args ...any) (*Sentence, error) {
		return nil, &Error{strings.TrimSpace(text), fmt.Sprintf(right, args...)}
	}
	if m := within.FindStringSubmatch(t); m != nil {
		v, _ := strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
		unit := time.Second
		if strings.HasPrefix(m[2], "m") {
			unit = time.Millisecond
		}
		s.within = time.Duration(v * float64(unit))
		if s.within <= 0 || s.within > time.Minute {
			return wrong("within how long? It is more than nothing and at most a minute, as in \"within 100 ms\"")
		}
		t = strings.Join(strings.Fields(strings.Replace(t, m[0], " ", 1)), " ")
	}
	if at := atFirst.FindStringIndex(t); at != nil {
		s.first = true
		t = strings.TrimSpace(t[:at[0]] + " " + strings.TrimLeft(t[at[1]:], ", "))
	}
	t = r.rephrase(t)
	if t == Limits {
		s.form, s.Says = limits, Limits
		return s, nil
	}
	switch {
	case strings.HasPrefix(t, "each press of ") || strings.HasPrefix(t, "every press of ") || strings.HasPrefix(t, "each key "):
		return r.each(s, t)
	case strings.HasPrefix(t, "turning "):
		return r.turning(s, t)
	case strings.Contains(t, "one at a time") || strings.Contains(t, "never lit together"):
		return r.oneOf(s, t)
	}
	h, err := r.holds(s, t)
	if err == nil && s.first {
		h.Says = "before anything is touched, " + h.Says
	}
	return h, err
}

// atFirst is what holds before anybody does anything.
var atFirst = regexp.MustCompile(`(?:^|,? )(?:(?:at|in|from) (?:start|beginning|first|power-?up|switching on)|initially|(?:when|while|as long as) (?:nobody (?:presses|touches|does) anything|nothing is (?:pressed|touched))|before (?:anything|any(?: button| key)?) is (?:pressed|touched)|after (?:a )?(?:reset|start|power-?up))(?:$|,| )`)

var (
	within  = regexp.MustCompile(`,? ?within (\d+(?:[.,]\d+)?) ?(ms|milliseconds?|s|sec|seconds?)\b`)
	atHertz = regexp.MustCompile(` at (\d+(?:[.,]\d+)?) ?hz$`)
	limit   = regexp.MustCompile(`^(above|over|below|under) (-?\d+(?:[.,]\d+)?) ?([^ ,]*)$`)
)

func clean(text string) string {
	t := strings.ToLower(strings.Join(strings.Fields(text), " "))
	t = strings.TrimSuffix(t, ".")
	return strings.TrimSpace(regexp.MustCompile(`\bthe `).ReplaceAllString(t, ""))
}
