package check

import (
	"math"
	"slices"
	"sync"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/parallel"
	"cablaggio/core/part"
	"cablaggio/core/quantity"
	"cablaggio/core/spec"
	"cablaggio/core/wiring"
)

// facts is the solved network, as the rules see it.
type facts struct {
	lib        *build.Library
	doc        *build.Document
	board      *board.Profile
	net        *wiring.Network
	planned    visits // every piece in every state of the build as planned
	previous   visits // every piece in every state that an old program could bring about
	solved     int
	exhaustive bool
	listed     sync.Once
	digitals   []input
	analogs    []input
	bounced    sync.Once
	bounce     []bouncer
	known      *known
	other      sync.Once
	alone      *facts // fed by the second supply, if there are two
	judging    bool   // only whether something is found is asked, not what would help
}

// visits lists, by piece, the piece solved in its states.
type visits map[*wiring.Piece][]visit

// A visit is one piece solved in one state.
type visit struct {
	piece *wiring.Piece
	state wiring.State
	*wiring.Solved
}

func (v visit) words() string { return v.piece.Describe(v.state) }

func gather(lib *build.Library, doc *build.Document, before *known) (*facts, error) {
	f := &facts{lib: lib, doc: doc, net: wiring.Build(lib, doc), exhaustive: true, planned: visits{}, previous: visits{}, known: before}
	f.board = f.net.Board
	results := make([]struct {
		solved
		err error
	}, len(f.net.Pieces))
	// Pieces do not influence each other.
	parallel.Do(len(results), func(i int) {
		results[i].solved, results[i].err = f.known.solve(f.net.Pieces[i])
	})
	for i, p := range f.net.Pieces {
		s := results[i]
		if s.err != nil {
			return nil, s.err
		}
		f.exhaustive = f.exhaustive && p.Exhaustive()
		f.planned[p], f.previous[p], f.solved = s.planned, s.previous, f.solved+len(s.planned)+len(s.previous)
	}
	return f, nil
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
			g.judging = f.judging
			f.alone = g
		}
	})
	return f.alone
}

// manyStates is how many states of one piece are all solved in their corners.
const manyStates = 64

// visitPrevious solves a piece at the typical values in the states that an old
// program could bring about, and the corners of those in which a pin that it
// drives carries most.
func visitPrevious(p *wiring.Piece) ([]visit, error) {
	var states []visit
	for s := range p.PreviousStates() {
		solved, err := p.Typical(s)
		if err != nil {
			return nil, err
		}
		states = append(states, visit{p, append(wiring.State(nil), s...), solved})
	}
	for _, element := range p.Drivers() {
		most, at := 0.0, -1
		for i, v := range states {
			if amps := v.Amps(element).Typ; amps > most {
				most, at = amps, i
			}
		}
		if at < 0 {
			continue
		}
		solved, err := p.Solve(states[at].state)
		if err != nil {
			return nil, err
		}
		states[at].Solved = solved
	}
	return states, nil
}

// visitAll solves a piece in its planned states. Of more than a few all are solved at the
// typical values, and the corners of those in which some current or voltage is
// largest or smallest. The rest lie between them, and so do their corners but
// for states that are nearly alike.
func visitAll(p *wiring.Piece) ([]visit, error) {
	var states []visit
	for s := range p.States() {
		states = append(states, visit{piece: p, state: append(wiring.State(nil), s...)})
	}
	corners := make([]bool, len(states))
	if len(states) <= manyStates {
		for i := range corners {
			corners[i] = true
		}
	} else {
		var extremes wiring.Extremes
		for i, v := range states {
			typical, err := p.Typical(v.state)
			if err != nil {
				return nil, err
			}
			states[i].Solved = typical
			extremes.Add(i, typical)
		}
		for _, i := range extremes.Indices() {
			corners[i] = true
		}
	}
	for i, v := range states {
		if corners[i] {
			solved, err := p.Solve(v.state)
			if err != nil {
				return nil, err
			}
			states[i].Solved = solved
		}
	}
	return states, nil
}

// A worst is an element's current in the state in which it is largest.
type worst struct {
	wiring.Range
	element int
	at      visit
}

// worstOf returns the largest current that flows through the element in its
// own direction, over the visits.
func (f *facts) worstOf(in visits, element int) worst {
	w := worst{element: element}
	if element < 0 {
		return w
	}
	for _, v := range in[f.net.PieceWith(element)] {
		if r := v.Amps(element); w.at.piece == nil || r.High > w.High {
			w.Range, w.at = r, v
		}
	}
	return w
}

// quantity makes the current ready to be shown, with its working.
func (f *facts) quantity(name string, w worst, limit spec.Limit) *Quantity {
	q := newQuantity(name, quantity.Ampere, w.Range)
	q.State = w.at.words()
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

// limit sets the limit of a quantity and says what it makes of it.
func (q *Quantity) limit(l spec.Limit) {
	q.Limit = &Limit{
		Recommended: l.Recommended, Absolute: l.Absolute, Source: l.Source,
		RecommendedText: quantity.Short(l.Recommended, q.Unit), AbsoluteText: quantity.Short(l.Absolute, q.Unit),
	}
	switch peak := math.Max(math.Abs(q.Low), math.Abs(q.High)); {
	case peak > l.Absolute:
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

// ofModel lists the parts with an electrical model.
func (f *facts) ofModel(model string) []*build.Part {
	var out []*build.Part
	for i := range f.doc.Parts {
		if f.kind(&f.doc.Parts[i]).Model == model {
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

// limitOf returns the limit of an element's current.
func (f *facts) limitOf(element int) spec.Limit { return f.net.Elements[element].Limit }

// driver returns the elements that drive a pin high and low.
func (f *facts) driver(pin string) (high, low int) {
	return f.net.Find(wiring.HighSide, "", pin), f.net.Find(wiring.LowSide, "", pin)
}

// thresholds returns what an input surely reads as low and as high, whatever
// the rail does.
func (f *facts) thresholds() (vil, vih float64) {
	l := f.board.Logic
	rail, _ := f.board.Rail(l.Rail)
	return l.VIL.At(rail.Volts.Low), l.VIH.At(rail.Volts.High)
}

// reads says what a digital input makes of its node in a visit.
func (f *facts) reads(v visit, node circuit.Node) Reads {
	if !v.Held(node) {
		return Floats
	}
	vil, vih := f.thresholds()
	switch r := v.Volts(node); {
	case r.High <= vil:
		return ReadsLow
	case r.Low >= vih:
		return ReadsHigh
	}
	return ReadsEither
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
	return f.digitals
}

// read returns all inputs, digital ones first. The lists are shared by rules that
// are asked side by side, so this is a list of its own.
func (f *facts) read() []input { return slices.Concat(f.digital(), f.analog()) }

// analog returns the inputs that are read as a number.
func (f *facts) analog() []input {
	f.listed.Do(f.list)
	return f.analogs
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
