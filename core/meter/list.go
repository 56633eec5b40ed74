package meter

import (
	"cmp"
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/build"
	"cablaggio/core/fault"
	"cablaggio/core/parallel"
	"cablaggio/core/part"
	"cablaggio/core/placement"
	"cablaggio/core/quantity"
	"cablaggio/core/wiring"
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
	State    []string    `json:"state,omitempty"` // how everything is set meanwhile, and how to get it so
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
var trouble = map[Way]float64{Continuity: 2, Lifted: 2, Ohms: 2.2, Diode: 2.3, Volts: 3, Amps: 6}

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
	return m.ChecksWith(wiring.NewKnown(), lib, doc)
}

// ChecksWith is [Instrument.Checks] with what is known of the build's pieces, and for who
// may halt it; see [wiring.Known.Until].
func (m *Instrument) ChecksWith(known *wiring.Known, lib *build.Library, doc *build.Document) (*List, error) {
	p, err := placement.Place(lib, doc)
	if err != nil {
		p = nil // it is measured at the legs
	}
	s := &surveyor{meter: m, lib: lib, doc: doc, placed: p, on: known.Build(lib, doc)}
	s.off = s.on.With(wiring.Unpowered())
	s.faults = fault.List(lib, doc, p)
	s.propose()
	s.expect()
	s.look()
	return s.list(), nil
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

// propose lists what could be measured.
func (s *surveyor) propose() {
	ground := build.Pin(s.on.Board.Ground)
	for _, r := range s.on.Board.Rails {
		if rail := build.Pin(r.Name); s.wired(rail) {
			s.add(Question{Way: Ohms, Red: rail, Black: ground}, true, "", "")
			s.add(Question{Way: Volts, Red: rail, Black: ground}, true, "", "")
		}
	}
	for i := range s.doc.Parts {
		s.part(&s.doc.Parts[i], ground)
	}
	for _, u := range s.on.Uses {
		s.pin(u, ground)
	}
}

func (s *surveyor) wired(t build.Terminal) bool { return s.doc.NetOf(t) >= 0 }

// part proposes what can be measured at the legs of a part.
func (s *surveyor) part(p *build.Part, ground build.Terminal) {
	kind, _ := s.lib.Catalogue.Kind(p.Kind)
	var legs []build.Terminal
	for _, leg := range kind.LegOrder() {
		if t := build.Of(p.ID, leg); s.wired(t) {
			legs = append(legs, t)
		}
	}
	if kind.Model == "resistor" && len(kind.Terminals) == 2 {
		s.add(Question{Way: Lifted, Red: build.Of(p.ID, kind.Terminals[0].ID), Black: build.Of(p.ID, kind.Terminals[1].ID)}, false, p.ID, "resistance")
	}
	for _, l := range s.on.Lamps {
		if l.Part.ID == p.ID {
			if a, c, ok := s.ends(l.Element, legs); ok {
				s.add(Question{Way: Diode, Red: a, Black: c}, false, p.ID, "")
				for _, set := range s.settings(a, c) {
					s.add(Question{Way: Volts, Red: a, Black: c, Set: set}, false, p.ID, "")
				}
			}
		}
	}
	if kind.Feed != nil {
		s.add(Question{Way: Volts, Red: build.Of(p.ID, kind.Feed.Plus), Black: build.Of(p.ID, kind.Feed.Minus)}, false, p.ID, "")
	}
	for i, red := range legs {
		for _, black := range legs[:i] {
			if len(legs) == 2 && kind.Model == "resistor" {
				for _, set := range s.settings(red, black) {
					s.add(Question{Way: Volts, Red: red, Black: black, Set: set}, false, p.ID, "")
				}
			}
			if control := s.controlOf(p.ID); control >= 0 {
				for _, set := range s.levels(control) {
					s.add(Question{Way: Ohms, Red: red, Black: black, Set: set}, false, p.ID, "")
				}
			}
		}
		s.add(Question{Way: Volts, Red: red, Black: ground}, false, p.ID, "")
		for _, set := range s.settings(red, ground) {
			s.add(Question{Way: Volts, Red: red, Black: ground, Set: set}, false, p.ID, "")
		}
		// From where it is wired to on the board.
		if to, ok := s.onBoard(red); ok {
			s.add(Question{Way: Continuity, Red: red, Black: to}, false, p.ID, "")
		} else {
			for _, other := range s.doc.Nets[s.doc.NetOf(red)] {
				if other < red {
					s.add(Question{Way: Continuity, Red: red, Black: other}, false, p.ID, "")
					break
				}
			}
		}
	}
}

// pin proposes what can be measured at a pin.
func (s *surveyor) pin(u wiring.Use, ground build.Terminal) {
	pin := build.Pin(u.Pin.Name)
	if !s.wired(pin) {
		return
	}
	s.add(Question{Way: Diode, Red: pin, Black: ground}, false, "", "")
	s.add(Question{Way: Ohms, Red: pin, Black: ground}, false, "", "")
	for _, r := range s.on.Board.Rails {
		if rail := build.Pin(r.Name); s.wired(rail) {
			s.add(Question{Way: Diode, Red: rail, Black: pin}, false, "", "")
		}
	}
	for _, set := range s.settings(pin, ground) {
		s.add(Question{Way: Volts, Red: pin, Black: ground, Set: set}, false, "", "")
	}
}

// ends returns the wired legs of a part at the two ends of an element.
func (s *surveyor) ends(element int, legs []build.Terminal) (a, b build.Terminal, ok bool) {
	na, nb := s.on.Ends(element)
	for _, t := range legs {
		switch s.on.Node(t) {
		case na:
			if a == "" {
				a = t
			}
		case nb:
			if b == "" {
				b = t
			}
		}
	}
	return a, b, a != "" && b != ""
}

// onBoard returns a place of the board that a leg is wired to.
func (s *surveyor) onBoard(t build.Terminal) (build.Terminal, bool) {
	net := s.doc.Nets[s.doc.NetOf(t)]
	i := slices.IndexFunc(net, build.Terminal.OnBoard)
	if i < 0 {
		return "", false
	}
	return net[i], true
}

func (s *surveyor) controlOf(part string) int {
	return slices.IndexFunc(s.on.Controls, func(c wiring.Control) bool { return c.Of == part })
}

// mostLevels is in how many settings of one control is measured.
const mostLevels = 3

// levels lists settings of a control, others as the plan begins.
func (s *surveyor) levels(control int) (out []wiring.Settings) {
	c := &s.on.Controls[control]
	planned := c.Planned
	if len(planned) > mostLevels {
		planned = []float64{planned[0], planned[len(planned)/2], planned[len(planned)-1]}
	}
	for _, v := range planned {
		out = append(out, wiring.Settings{c.Of: c.Text(v)})
	}
	return out
}

// settings lists states that make a difference at two places: one control of theirs in
// each of its settings, the others as the plan begins.
func (s *surveyor) settings(red, black build.Terminal) (out []wiring.Settings) {
	var controls []int
	for _, t := range []build.Terminal{red, black} {
		if p := s.on.PieceOf(s.on.Node(t)); p != nil {
			for _, c := range p.Controls {
				if !slices.Contains(controls, c) {
					controls = append(controls, c)
				}
			}
		}
	}
	const most = 6 // of many, those that come first say enough of the wires
	for _, c := range controls[:min(len(controls), most)] {
		out = append(out, s.levels(c)...)
	}
	return out
}

func (s *surveyor) add(q Question, must bool, part, value string) {
	if q.Red == q.Black || s.on.Node(q.Red) == s.on.Node(q.Black) && q.Way != Continuity && q.Way != Lifted {
		return
	}
	id := idOf(q)
	if slices.ContainsFunc(s.candidates, func(c candidate) bool { return c.ID == id }) {
		return
	}
	s.candidates = append(s.candidates, candidate{Check: Check{ID: id, Question: q, Part: part, Value: value}, must: must, sees: map[int]*Expectation{}})
}

// idOf names a question: the same one in the same build has the same name.
func idOf(q Question) string {
	id := fmt.Sprintf("%s:%s:%s", q.Way, q.Red, q.Black)
	var set []string
	for of, to := range q.Set {
		set = append(set, of+"="+to)
	}
	slices.Sort(set)
	return strings.Join(append([]string{id}, set...), ":")
}

// expect works out what each candidate reads when all is well, and leaves out what says
// nothing: what floats, and what has no answer.
func (s *surveyor) expect() {
	keep := make([]bool, len(s.candidates))
	parallel.Do(len(s.candidates), func(i int) {
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
	if q.Way == Lifted {
		return s.lifted(s.on, *q)
	}
	x, err := s.meter.Ask(s.network(q.Way), *q)
	if err == nil && q.Way == Volts && x.Typ < -1e-3 {
		q.Red, q.Black = q.Black, q.Red
		x, err = s.meter.Ask(s.on, *q)
	}
	return x, err
}

// lifted is what a resistor reads by itself.
func (s *surveyor) lifted(n *wiring.Network, q Question) (Expectation, error) {
	id, _ := q.Red.Split()
	v := n.ValueAt(n.Find(wiring.Body, id, ""))
	return s.meter.expect(quantity.Ohm, wiring.Range{Low: v.Low, Typ: v.Typ, High: v.High}, s.meter.full(Ohms)), nil
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
			if v, err := s.meter.typical(n, q); err == nil && !c.Expect.Allows(v, v > s.meter.full(q.Way)) {
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
	switch {
	case q.Way == Lifted:
		return s.lifted(f.In(s.on), q)
	case q.Way.Powered():
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
	for len(left) > 0 {
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

// told says a check in words.
func (s *surveyor) told(c *candidate) Check {
	out := c.Check
	q := out.Question
	out.Red, out.Black = s.place(q.Red), s.place(q.Black)
	out.Shows = []Sign{}
	var faults []int
	for k := range c.sees {
		faults = append(faults, k)
	}
	slices.Sort(faults) // the most common come first
	for _, k := range faults {
		f := &s.faults[k]
		out.Shows = append(out.Shows, Sign{Fault: f.ID, Reads: *c.sees[k], Words: f.Words, Look: f.Look})
	}
	switch q.Way {
	case Lifted:
		id, _ := q.Red.Split()
		out.Group = before
		out.Do = fmt.Sprintf("Hold the tips to the two legs of %s.", s.doc.Part(id).Name)
		out.Red.End, out.Black.End = "", ""
	case Volts:
		out.Group = powered
		out.Do = fmt.Sprintf("Red to the %s, black to the %s.", out.Red.Words, out.Black.Words)
	default:
		out.Group = unpowered
		out.Do = fmt.Sprintf("Red to the %s, black to the %s.", out.Red.Words, out.Black.Words)
		out.State = append(out.State, "The board is unplugged.")
	}
	out.State = append(out.State, s.state(q)...)
	return out
}

// state says how everything at the tips is set, and how to get it so.
func (s *surveyor) state(q Question) (out []string) {
	if q.Way == Lifted {
		return nil
	}
	settings, err := s.on.Resolve(q.Set)
	if err != nil {
		return nil
	}
	var controls []int
	for _, t := range []build.Terminal{q.Red, q.Black} {
		if p := s.on.PieceOf(s.on.Node(t)); p != nil {
			for _, c := range p.Controls {
				if !slices.Contains(controls, c) {
					controls = append(controls, c)
				}
			}
		}
	}
	slices.Sort(controls)
	for _, i := range controls {
		c := &s.on.Controls[i]
		is := c.Text(settings[i])
		switch {
		case c.Kind == wiring.Contact || c.Kind == wiring.Level || c.Kind == wiring.Keys:
			out = append(out, fmt.Sprintf("%s is %s.", build.Capital(c.Name), is))
		case !q.Way.Powered():
		case c.Kind == wiring.Mode && settings[i] == wiring.LetGo:
		case c.Kind == wiring.Mode && (settings[i] == wiring.PulledUp || settings[i] == wiring.PulledDown):
			out = append(out, fmt.Sprintf("The program has %s %s.", c.Name, is))
		default:
			out = append(out, fmt.Sprintf("The program sets %s %s.", c.Name, is))
		}
	}
	return out
}

func (s *surveyor) place(t build.Terminal) Place {
	id, leg := t.Split()
	if t.OnBoard() {
		return Place{Terminal: t, Words: "board's " + leg, End: string(t)}
	}
	p := s.doc.Part(id)
	var kind *part.Kind
	kind, _ = s.lib.Catalogue.Kind(p.Kind)
	out := Place{Terminal: t, Words: placement.LegName(kind, leg) + " of " + p.Name, End: fault.End(s.placed, t)}
	if out.End != "" {
		out.Words += " (" + out.End + ")"
	}
	return out
}
