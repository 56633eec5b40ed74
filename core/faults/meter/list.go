package meter

import (
	"cmp"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/general/parallel"
	"cablaggio/core/layout/placement"
)

// A Place is where a tip goes, as a builder finds it.
type Place struct {
	Terminal build.Terminal `json:"terminal"`
	Words    string         `json:"words"`         // "long leg of red LED 1", "the board's D4"
	End      string         `json:"end,omitempty"` // its hole, or place of the board, on the hole map
}

// A Check is one thing to measure: where, how, in which state, what to expect, and what
// else it could show.
type Check struct {
	ID       string      `json:"id"`
	Group    string      `json:"group"` // when in the work
	Question Question    `json:"question"`
	Red      Place       `json:"red"`
	Black    Place       `json:"black,omitzero"`
	Do       string      `json:"do"`              // one sentence
	State    []string    `json:"state,omitempty"` // how everything is set meanwhile
	How      string      `json:"how,omitempty"`   // how the pins get so
	Expect   Expectation `json:"expect"`
	Shows    []Sign      `json:"shows"` // what is seen of faults, the most common first
	Part     string      `json:"part,omitempty"`
	Value    string      `json:"value,omitempty"` // the value of the part that the reading is
}

// A Sign is what a fault makes of a reading.
type Sign struct {
	Fault string      `json:"fault"`
	Reads Expectation `json:"reads"`
	Words string      `json:"words"` // what is wrong then
	Look  string      `json:"look"`  // the next look
}

// Groups of checks, in the order of the work.
const (
	before    = "Before it goes in"
	unpowered = "Before the supply goes on"
	powered   = "With the supply on"
)

var order = map[string]int{before: 0, unpowered: 1, powered: 2}

// trouble is what a way costs, beside others (common practice: the board is unplugged
// anyway at first; a leg is not lifted out if it can be helped).
var trouble = map[Way]float64{Continuity: 2, Lifted: 2, Ohms: 2.2, Diode: 2.3, Volts: 3, Counts: 3.5, Amps: 6}

// A List is the checks of a build.
type List struct {
	Meter   string  `json:"meter"`
	Checks  []Check `json:"checks"`
	Faults  int     `json:"faults"`  // how many single faults are looked for
	Unshown []Sign  `json:"unshown"` // those that no reading shows
}

// Checks returns what to measure in a build, in the order of the work: as few checks as
// show every single fault that a reading can show, the less troublesome first.
func (m *Instrument) Checks(lib *build.Library, doc *build.Document) (*List, error) {
	return m.ChecksWith(wiring.NewCache(), lib, doc)
}

// ChecksWith is [Instrument.Checks] with what is known of the build's pieces, within its
// context, whose error it returns when that is done before.
func (m *Instrument) ChecksWith(known *wiring.Cache, lib *build.Library, doc *build.Document) (*List, error) {
	p, err := placement.Place(lib, doc)
	if err != nil {
		p = nil // it is measured at the legs
	}
	s := m.survey(known, lib, doc, p)
	s.faults = fault.Distinct(fault.List(lib, doc, p))
	s.expect()
	s.look()
	list := s.list()
	if err := known.Err(); err != nil {
		return nil, err
	}
	return list, nil
}

// Expected returns one expectation of a build.
func (m *Instrument) Expected(lib *build.Library, doc *build.Document, q Question) (Expectation, error) {
	n := wiring.Build(lib, doc)
	if !q.Way.Powered() {
		n = n.With(wiring.Unpowered())
	}
	return m.Ask(n, q)
}

// A surveyor finds the checks of one build.
type surveyor struct {
	meter      *Instrument
	known      *wiring.Cache
	lib        *build.Library
	doc        *build.Document
	placed     *placement.Placement
	on, off    *wiring.Network
	faults     []fault.Fault
	candidates []candidate
}

type candidate struct {
	Check
	must bool
	sees map[int]*Expectation // by fault: what it reads then, where that is surely another reading; nil: not yet known

	verified bool
}

func (s *surveyor) network(w Way) *wiring.Network {
	if w.Powered() {
		return s.on
	}
	return s.off
}

// expect works out what each candidate reads when all is well, and leaves out what says
// nothing: what floats, and what has no answer.
func (s *surveyor) expect() {
	keep := make([]bool, len(s.candidates))
	parallel.Do(len(s.candidates), func(i int) {
		if s.known.Err() != nil {
			return
		}
		c := &s.candidates[i]
		x, err := s.ask(&c.Question)
		if err != nil {
			return
		}
		c.Expect = x
		keep[i] = c.Question.Way != Volts || s.held(c.Question)
	})
	var left []candidate
	for i, c := range s.candidates {
		if keep[i] {
			left = append(left, c)
		}
	}
	s.candidates = left
}

// ask turns the tips so that the reading is no negative one.
func (s *surveyor) ask(q *Question) (Expectation, error) {
	x, err := s.meter.Ask(s.network(q.Way), *q)
	if err == nil && q.Way == Volts && x.Typ < -1e-3 {
		q.Red, q.Black = q.Black, q.Red
		x, err = s.meter.Ask(s.on, *q)
	}
	return x, err
}

// held reports whether both places are held by something else than leakage.
func (s *surveyor) held(q Question) bool {
	settings, err := s.on.Resolve(q.Set)
	if err != nil {
		return false
	}
	p, err := s.on.Volts(settings, q.Red, q.Black)
	return err == nil && p.Of != wiring.Afloat && p.Over != wiring.Afloat
}

// look puts every fault into the build and asks which candidates near it read otherwise at
// the typical values. Whether they do so surely is asked of those that are chosen.
func (s *surveyor) look() {
	near := make([]map[string]bool, len(s.candidates))
	for i := range s.candidates {
		near[i] = s.near(s.candidates[i].Question)
	}
	found := make([][]int, len(s.faults))
	parallel.Do(len(s.faults), func(k int) {
		if s.known.Err() != nil {
			return
		}
		f := &s.faults[k]
		on, off := f.In(s.on), f.In(s.on, wiring.Unpowered())
		for i := range s.candidates {
			c := &s.candidates[i]
			if !slices.ContainsFunc(f.Touches(), func(t build.Terminal) bool { return near[i][string(t)] }) {
				continue
			}
			q := c.Question
			if q.Way == Lifted {
				if id, _ := q.Red.Split(); f.Kind == fault.Value && f.Parts[0] == id {
					found[k] = append(found[k], i)
				}
				continue
			}
			n := on
			if !q.Way.Powered() {
				n = off
			}
			if v, err := s.meter.Typical(n, q); err == nil && !c.Expect.Allows(v, v > s.meter.full(q.Way)) {
				found[k] = append(found[k], i)
			}
		}
	})
	for k, list := range found {
		for _, i := range list {
			s.candidates[i].sees[k] = nil
		}
	}
}

// verify asks what a candidate reads with each fault that it may see, and forgets those
// with which it may also read what is expected.
func (s *surveyor) verify(c *candidate) {
	if c.verified {
		return
	}
	c.verified = true
	var faults []int
	for k := range c.sees {
		faults = append(faults, k)
	}
	reads := make([]*Expectation, len(faults))
	parallel.Do(len(faults), func(j int) {
		if x, err := s.with(&s.faults[faults[j]], c.Question); err == nil && x.Apart(&c.Expect) {
			reads[j] = &x
		}
	})
	for j, k := range faults {
		if c.sees[k] = reads[j]; reads[j] == nil {
			delete(c.sees, k)
		}
	}
}

// with asks a question of the build with a fault in it.
func (s *surveyor) with(f *fault.Fault, q Question) (Expectation, error) {
	if q.Way.Powered() {
		return s.meter.Ask(f.In(s.on), q)
	}
	return s.meter.Ask(f.In(s.on, wiring.Unpowered()), q)
}

// near lists the terminals whose faults a question can see: those of the pieces that its
// tips are in, and those that share a net with a tip.
func (s *surveyor) near(q Question) map[string]bool {
	out := map[string]bool{}
	parts := map[string]bool{}
	for _, t := range []build.Terminal{q.Red, q.Black} {
		if p := s.on.PieceOf(s.on.Node(t)); p != nil {
			for _, i := range p.Elements {
				e := &s.on.Elements[i]
				if e.Part != "" {
					parts[e.Part] = true
				}
				if e.Pin != "" {
					out[string(build.Pin(e.Pin))] = true
				}
			}
		}
		if id, _ := t.Split(); !t.OnBoard() {
			parts[id] = true
		}
		out[string(t)] = true
		if k := s.doc.NetOf(t); k >= 0 {
			for _, other := range s.doc.Nets[k] {
				out[string(other)] = true
			}
		}
	}
	for id := range parts {
		kind, _ := s.lib.Catalogue.Kind(s.doc.Part(id).Kind)
		for _, t := range kind.Terminals {
			out[string(build.Of(id, t.ID))] = true
		}
	}
	return out
}

// list chooses the checks: first those that must be, then again and again the one that
// shows most of what is left for its trouble.
func (s *surveyor) list() *List {
	left := map[int]bool{}
	for k := range s.faults {
		left[k] = true
	}
	out := &List{Meter: s.meter.Name, Checks: []Check{}, Faults: len(s.faults), Unshown: []Sign{}}
	var chosen []int
	take := func(i int) {
		chosen = append(chosen, i)
		s.verify(&s.candidates[i])
		for k := range s.candidates[i].sees {
			delete(left, k)
		}
	}
	for i := range s.candidates {
		if s.candidates[i].must {
			take(i)
		}
	}
	for len(left) > 0 && s.known.Err() == nil {
		best, most := -1, 0.0
		for i := range s.candidates {
			n := 0
			for k := range s.candidates[i].sees {
				if left[k] {
					n++
				}
			}
			if worth := float64(n) / trouble[s.candidates[i].Question.Way]; worth > most {
				best, most = i, worth
			}
		}
		if best < 0 {
			break
		}
		if c := &s.candidates[best]; !c.verified {
			s.verify(c) // and see whether it is still the best
			continue
		}
		take(best)
	}
	for k, f := range s.faults {
		if left[k] {
			out.Unshown = append(out.Unshown, Sign{Fault: f.ID, Words: f.Words, Look: f.Look})
		}
	}
	// What others show as well is not asked for.
	for k := len(chosen) - 1; k >= 0; k-- {
		c := &s.candidates[chosen[k]]
		if c.must {
			continue
		}
		needed := false
		for f := range c.sees {
			alone := !slices.ContainsFunc(chosen, func(i int) bool {
				_, ok := s.candidates[i].sees[f]
				return ok && i != chosen[k]
			})
			needed = needed || alone
		}
		if !needed {
			chosen = slices.Delete(chosen, k, k+1)
		}
	}
	for _, i := range chosen {
		out.Checks = append(out.Checks, s.told(&s.candidates[i]))
	}
	slices.SortStableFunc(out.Checks, func(a, b Check) int {
		return cmp.Or(cmp.Compare(order[a.Group], order[b.Group]), cmp.Compare(len(a.Question.Set), len(b.Question.Set)), s.inOrder(a, b))
	})
	return out
}

// inOrder puts checks into the order of the parts.
func (s *surveyor) inOrder(a, b Check) int {
	at := func(c Check) int {
		return slices.IndexFunc(s.doc.Parts, func(p build.Part) bool { return p.ID == c.Part })
	}
	return cmp.Or(cmp.Compare(at(a), at(b)), cmp.Compare(a.ID, b.ID))
}
