package check

import (
	"math"
	"slices"
	"sync"
	"sync/atomic"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/parallel"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// facts is the solved network, as the rules see it.
type facts struct {
	*solved
	judging bool     // only whether something is found is asked, not what would help
	only    []string // the parts and pins that are asked about; nil: all
	left    *int     // how often a rule may still try what would help; nil: as often as it likes
}

// solved is what facts about the same build share, and remember.
type solved struct {
	lib      *build.Library
	doc      *build.Document
	board    *board.Profile
	net      *wiring.Network
	known    *wiring.Cache
	listed   sync.Once
	digitals []input
	analogs  []input
	bounced  sync.Once
	bounce   []bouncer
	other    sync.Once
	alone    *facts      // fed by the second supply, if there are two
	unsolved atomic.Bool // something that was asked has no answer
	breaks   *breaks     // what broke off, also of what was tried
	held     memo[circuit.Node, []visit]
	flows    memo[int, []visit]
	trials   memo[string, *facts]
	weighed  sync.Once
	weight   int // how many trials a trial counts for
	judged   sync.Once
	found    []Finding // what is found in the whole build, once it has been asked
	worsts   memo[int, worst]
	totals   memo[string, total]
}

// A visit is one piece solved in one state.
type visit = *wiring.Solved

// about returns the facts of a build of which nothing is solved yet: what is asked
// of it is solved when it is asked.
func about(lib *build.Library, doc *build.Document, known *wiring.Cache) *facts {
	f := &facts{solved: &solved{lib: lib, doc: doc, net: known.Build(lib, doc), known: known, breaks: &breaks{}}}
	f.board = f.net.Board
	return f
}

// gather solves every piece in its planned states, side by side: pieces do not
// influence each other.
func gather(lib *build.Library, doc *build.Document, known *wiring.Cache) (*facts, error) {
	f := about(lib, doc, known)
	errs := make([]error, len(f.net.Pieces))
	parallel.Do(len(errs), func(i int) {
		_, errs[i] = f.net.Pieces[i].Planned(wiring.Subject{})
	})
	for _, err := range errs {
		if err != nil {
			return nil, err
		}
	}
	return f, nil
}

// concerns reports whether a part or a pin is asked about.
func (f *facts) concerns(id string) bool { return f.only == nil || slices.Contains(f.only, id) }

// states counts what was solved, and reports whether it is all that there is.
func (f *facts) states() (solved int, exhaustive bool) {
	exhaustive = true
	for _, p := range f.net.Pieces {
		solved += p.Solved()
		exhaustive = exhaustive && p.Exhaustive()
	}
	return solved, exhaustive
}

// second returns the facts of the same build fed by its second supply alone, or
// nil when there is one only, or the circuit has no answer then.
func (f *facts) second() *facts {
	f.other.Do(func() {
		if f.doc.Also == "" {
			return
		}
		doc := f.doc.Clone()
		doc.Supply, doc.Also, doc.Volts, doc.Cells = doc.Also, "", 0, nil
		if g, err := gather(f.lib, doc, f.known); err == nil {
			f.alone = g
			f.alone.judging = f.judging
		}
	})
	return f.alone
}

// quantity makes the current ready to be shown, with its working.
func (f *facts) quantity(name string, w worst, limit spec.Limit) *Quantity {
	q := newQuantity(name, quantity.Ampere, w.Range)
	q.in(w.at)
	q.limit(limit)
	q.Working = f.working(w, limit.Source)
	return &q
}

// over is quantity for a current that is over its limit, and nil for one that
// is not: most are not, and their working would be for nobody.
func (f *facts) over(name string, w worst, limit spec.Limit) *Quantity {
	if w.Peak() <= limit.Recommended {
		return nil
	}
	return f.quantity(name, w, limit)
}

// strongest is how many times a strongest setting is survived (common practice: what is
// not stated is not promised, so not much more than twice).
const strongest = 2.5

// limit sets the limit of a quantity and says what it makes of it.
func (q *Quantity) limit(l spec.Limit) {
	q.Limit = &Limit{
		Recommended: l.Recommended, Absolute: l.Absolute, Source: l.Source,
		RecommendedText: quantity.Short(l.Recommended, q.Unit), AbsoluteText: quantity.Short(l.Absolute, q.Unit),
	}
	destroys := l.Absolute
	if l.Beyond != "" {
		destroys *= strongest
	}
	switch peak := math.Max(math.Abs(q.Low), math.Abs(q.High)); {
	case peak > destroys:
		q.Level = Stop
	case peak > l.Recommended:
		q.Level = Care
	}
}

// share is how much of the absolute limit the worst corner takes.
func (q *Quantity) share() float64 {
	return math.Max(math.Abs(q.Low), math.Abs(q.High)) / q.Limit.Absolute
}

func (f *facts) kind(p *build.Part) *part.Kind {
	k, _ := f.lib.Catalogue.Kind(p.Kind)
	return k
}

// body returns the element of a part.
func (f *facts) body(p *build.Part) int { return f.net.Find(wiring.Body, p.ID, "") }

// all lists the parts that are, before anything else, one of some primitives.
func (f *facts) all(of ...part.Primitive) []*build.Part {
	var out []*build.Part
	for i := range f.doc.Parts {
		if slices.ContainsFunc(of, f.kind(&f.doc.Parts[i]).Is) && f.concerns(f.doc.Parts[i].ID) {
			out = append(out, &f.doc.Parts[i])
		}
	}
	return out
}

// lampsOf returns the LEDs of a part.
func (f *facts) lampsOf(p *build.Part) []wiring.Lamp {
	var out []wiring.Lamp
	for _, l := range f.net.Lamps {
		if l.Part.ID == p.ID {
			out = append(out, l)
		}
	}
	return out
}

// lampAt returns the LED that is the element.
func (f *facts) lampAt(element int) (wiring.Lamp, bool) {
	i := slices.IndexFunc(f.net.Lamps, func(l wiring.Lamp) bool { return l.Element == element })
	if i < 0 {
		return wiring.Lamp{}, false
	}
	return f.net.Lamps[i], true
}

// lampValue returns the typical value of an LED.
func (f *facts) lampValue(l wiring.Lamp, id string) float64 { return l.Value(f.kind(l.Part), id).Typ }

// lamps lists the LEDs that are asked about.
func (f *facts) lamps() []wiring.Lamp {
	if f.only == nil {
		return f.net.Lamps
	}
	return slices.DeleteFunc(slices.Clone(f.net.Lamps), func(l wiring.Lamp) bool { return !f.concerns(l.Part.ID) })
}

// limitOf returns the limit of an element's current.
func (f *facts) limitOf(element int) spec.Limit { return f.net.Elements[element].Limit }

// driver returns the elements that drive a pin high and low.
func (f *facts) driver(pin string) (high, low int) {
	return f.net.Find(wiring.HighSide, "", pin), f.net.Find(wiring.LowSide, "", pin)
}

// An input is an input that a signal reads.
type input struct {
	use   wiring.Use
	claim wiring.Claim
	node  circuit.Node
	piece *wiring.Piece // nil when the pin is wired straight to a rail or to nothing
}

// digital returns the inputs that are read as low or high.
func (f *facts) digital() []input {
	f.listed.Do(f.list)
	return f.asked(f.digitals)
}

// read returns all inputs, digital ones first. The lists are shared by rules that
// are asked side by side, so this is a list of its own.
func (f *facts) read() []input { return slices.Concat(f.digital(), f.analog()) }

// analog returns the inputs that are read as a number.
func (f *facts) analog() []input {
	f.listed.Do(f.list)
	return f.asked(f.analogs)
}

// asked leaves out what is not asked about.
func (f *facts) asked(all []input) []input {
	if f.only == nil {
		return all
	}
	return slices.DeleteFunc(slices.Clone(all), func(in input) bool { return !f.concerns(in.claim.Part.ID) })
}

func (f *facts) list() {
	f.digitals, f.analogs = f.inputs(board.DigitalIn, board.Interrupt), f.inputs(board.AnalogIn)
}

func (f *facts) inputs(needs ...board.Function) []input {
	var out []input
	for _, u := range f.net.Uses {
		if u.Drives() {
			continue
		}
		for _, c := range u.Signals {
			if slices.Contains(needs, c.Signal.Needs) {
				node := f.net.Node(build.Pin(u.Pin.Name))
				out = append(out, input{u, c, node, f.net.PieceOf(node)})
			}
		}
	}
	return out
}

// valueOf returns the typical value of a part.
func (f *facts) valueOf(p *build.Part, id string) float64 {
	return wiring.ValueOf(f.kind(p), p, id).Typ
}
