// Package diagnose says which single fault explains what was seen and read of a build that
// does not work, and what to look at or measure next.
//
// Every fault of package fault is put into the network. What would be seen and read with it
// is weighed against what was seen and read: a fault is as likely as it is common times how
// well it explains everything. The next question is the one whose answer is expected to tell
// most for its trouble. All of it is deterministic.
package diagnose

import (
	"slices"
	"sync"
	"sync/atomic"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
	"cablaggio/core/layout/placement"
	"cablaggio/core/running/should"
)

// A Case is a build that misbehaves, with all that could be wrong with it and all that could
// be asked about it. It does not change, and may be asked from several goroutines at once.
type Case struct {
	known   *wiring.Cache
	lib     *build.Library
	doc     *build.Document
	meter   *meter.Instrument
	placed  *placement.Placement
	survey  *meter.Survey
	net     *wiring.Network
	faults  []fault.Fault
	large   bool
	priors  []float64 // by fault
	strange []strange
	asks    []Ask
	byID    map[string]int

	classes []class // what cannot be told apart but by looking
	classOf []int   // by fault
	looks   []look
	only    map[string][]string // by part: what it is called as the only one of its kind
	names   *should.Reader      // knows what words name here
	actors  []actor
	inputs  []input
	chips   []chip

	predicted []atomic.Pointer[prediction] // by class and ask: weighing comes here a hundred thousand times

	mu       sync.Mutex
	expected map[where]meter.Expectation
	held     map[int]bool
	healthyN *networks
}

// A class is faults that make the same circuit.
type class struct {
	fault *fault.Fault // one of them; nil: of what is as planned
	near  map[build.Terminal]bool
	nets  *networks
}

// networks are the build with a fault in it, with power and without.
type networks struct {
	on, off func() *wiring.Network
	dead    func() map[string]bool // chips that do not answer
}

// mostParts is of how many parts a build is looked at with all that can be wrong on the
// breadboard; of larger ones at the legs and in the parts alone.
const mostParts = 60

// New begins a diagnosis of a build that is valid in the library. The network's pieces are
// kept in known; once the context of that is done, what asks have for an answer is its error,
// and the diagnosis is to be thrown away. It can be told of readings at any place that are asked for beside those that
// it thinks of.
func New(known *wiring.Cache, m *meter.Instrument, lib *build.Library, doc *build.Document, also ...meter.Question) *Case {
	c := &Case{known: known, lib: lib, doc: doc, meter: m, byID: map[string]int{}, expected: map[where]meter.Expectation{}, held: map[int]bool{}}
	if c.large = len(doc.Parts) > mostParts; !c.large {
		if p, err := placement.Place(lib, doc); err == nil {
			c.placed = p
		}
	}
	c.survey = m.Survey(known, lib, doc, c.placed)
	c.net = c.survey.Network(meter.Volts)
	c.faults = fault.List(lib, doc, c.placed)
	for _, f := range slices.Clone(c.faults) {
		if g, ok := f.NowAndThen(); ok {
			c.faults = append(c.faults, g)
		}
	}
	c.only = build.OnlyOnes(lib, doc)
	c.names = should.NewReader(c.net)
	c.findActors()
	c.findInputs()
	c.findChips()
	c.classify()
	c.weighBefore()
	c.listStrange()
	c.listAsks(also)
	c.predicted = make([]atomic.Pointer[prediction], len(c.classes)*len(c.asks))
	return c
}

// Faults lists what is considered, the most common first.
func (c *Case) Faults() []fault.Fault { return c.faults }

// classify puts faults together that make the same circuit, and begins with what is as
// planned.
func (c *Case) classify() {
	whole := c.networksOf(nil)
	c.classes = []class{{nets: whole}}
	c.healthyN = whole
	at := map[string]int{}
	c.classOf = make([]int, len(c.faults))
	for i := range c.faults {
		f := &c.faults[i]
		same := f.Same()
		k, ok := at[same]
		if !ok {
			k = len(c.classes)
			at[same] = k
			c.classes = append(c.classes, class{fault: f, nets: c.networksOf(f), near: c.reach(f)})
		}
		c.classOf[i] = k
	}
}

func (c *Case) networksOf(f *fault.Fault) *networks {
	n := &networks{}
	n.on = sync.OnceValue(func() *wiring.Network {
		if f == nil {
			return c.net
		}
		return f.In(c.net)
	})
	n.off = sync.OnceValue(func() *wiring.Network {
		switch {
		case f == nil:
			return c.survey.Network(meter.Ohms)
		case f.Kind == fault.Unfed:
			return c.survey.Network(meter.Ohms)
		}
		return f.In(c.net, wiring.Unpowered())
	})
	n.dead = sync.OnceValue(func() map[string]bool { return c.deadChips(f, n) })
	return n
}

// reach lists the terminals at which a fault may show: those that it touches, and the legs
// of the parts they are of.
func (c *Case) reach(f *fault.Fault) map[build.Terminal]bool {
	out := map[build.Terminal]bool{}
	for _, t := range f.Touches() {
		out[t] = true
	}
	return out
}

// weighBefore says how likely each fault is before anything was seen: how common it is, and
// what has just been plugged in, or should not be there yet, more so.
func (c *Case) weighBefore() {
	c.priors = make([]float64, len(c.faults))
	recent := c.recent()
	for i := range c.faults {
		f := &c.faults[i]
		c.priors[i] = f.Common()
		for _, id := range f.Parts {
			if by := recent[id]; by > 1 {
				c.priors[i] *= by
				break
			}
		}
	}
}

// What is weighed more because it was done last (common practice: it worked until then),
// or is not done yet.
const (
	last    = 2.0
	notDone = 4.0
)

// recent says by how much more the faults of parts are likely for the steps that were done
// last, or are still to do.
func (c *Case) recent() map[string]float64 {
	out := map[string]float64{}
	a := c.doc.Assembly
	if a == nil || c.placed == nil || len(a.Done) == 0 {
		return out
	}
	when := map[string]int{}
	for i, d := range a.Done {
		when[d.Step] = i + 1
	}
	by := func(part, step string) {
		at, done := when[step]
		w := 1.0
		switch {
		case !done:
			w = notDone
		case at > len(a.Done)-max(2, len(a.Done)/10):
			w = last
		}
		out[part] = max(out[part], w)
	}
	for _, s := range c.placed.Seats {
		by(s.Part, s.Step())
	}
	for _, w := range c.placed.Wires {
		if w.For != "" {
			by(w.For, w.Step())
		}
	}
	return out
}
