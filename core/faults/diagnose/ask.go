package diagnose

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
)

// A Sort says what is done to answer.
type Sort string

// The sorts.
const (
	Look    Sort = "look"    // at a place, closely, with the map beside it
	See     Sort = "see"     // what a lamp, or something else that acts, does
	Reads   Sort = "reads"   // what the program reads at a pin
	Measure Sort = "measure" // with the meter
	Pin     Sort = "pin"     // what the board reads at a pin: the board is asked, over its cable
	Feel    Sort = "feel"    // whether a part gets warm, or the board restarts: told, never asked for
	Try     Sort = "try"     // put it right, and see
)

// An Ask is one thing that can be asked about a build.
type Ask struct {
	ID   string `json:"id"`
	Sort Sort   `json:"sort"`
	Part string `json:"part,omitempty"` // that it is about

	question meter.Question // of a measurement
	near     map[build.Terminal]bool
	actor    int
	input    int
	pin      PinAsk
	state    int
	test     bool // with the test program
	told     bool // it is told, and never asked for
	moves    bool // of Feel: whether the reading of the input changes
	look     int
	cure     string // that is tried
	fault    int    // one that it puts right
	trouble  float64
}

// What asking costs, beside others (common practice: looking is cheap, pressing is cheaper
// than measuring, the meter's tips take two hands, loading another program takes a minute).
const (
	lookTrouble    = 1.0
	programTrouble = 1.6
	seeTrouble     = 1.0
	readsTrouble   = 1.2
	testTrouble    = 1.5
	tryTrouble     = 4.0
	setTrouble     = 0.1 // for each thing that must be set on top
)

var wayTrouble = map[meter.Way]float64{meter.Continuity: 1.5, meter.Ohms: 1.6, meter.Diode: 1.6, meter.Volts: 1.4, meter.Amps: 4, meter.Lifted: 2.5, meter.Counts: 2}

// A look is one place at which faults can be seen.
type look struct {
	id     string
	what   string // "the wires of the red lamp"
	faults []int
	ends   []breadboard.End
	part   string
	// program: it is the builder's program that is read
	program bool
}

// taken begins the id of a reading that was taken for the meter's list: with power it was with the
// test program, and what the builder's has wrong does not show in it.
const taken = "taken:"

// listAsks lists all that could be asked.
func (c *Case) listAsks(also []meter.Question) {
	c.listLooks()
	for k, l := range c.looks {
		cost := lookTrouble
		if l.program {
			cost = programTrouble
		}
		c.add(Ask{ID: "look:" + l.id, Sort: Look, Part: l.part, look: k, trouble: cost})
	}
	for i, a := range c.actors {
		near := c.nearActor(i)
		for k, s := range a.states {
			if a.swings && k > 0 {
				break // it is told by both together
			}
			id := a.id()
			c.add(Ask{ID: "see:" + id + keyOf(s.set), Sort: See, Part: a.part.ID, actor: i, state: k, near: near, trouble: seeTrouble})
			if k == 0 {
				c.add(Ask{ID: "test:" + id + keyOf(s.set), Sort: See, Part: a.part.ID, actor: i, state: k, near: near, test: true, trouble: testTrouble})
			}
		}
	}
	c.listCrossed()
	for i, in := range c.inputs {
		t := build.Pin(in.pin)
		near := c.nearPiece(c.net.PieceOf(c.net.Node(t)), t)
		for k, s := range in.states {
			c.add(Ask{ID: "reads:" + in.pin + keyOf(s.set), Sort: Reads, Part: in.parts[0], input: i, state: k, near: near, trouble: readsTrouble})
		}
	}
	c.listPins()
	for _, p := range c.survey.Proposals() {
		// The tips are the way round in which the reading is no negative one, as it is told; the
		// name stays that of the proposal.
		id, q := p.Question.ID(), p.Question
		if q.Way == meter.Volts && c.below(q) {
			q.Red, q.Black = q.Black, q.Red
		}
		c.addReading(id, q, p.Part)
	}
	for _, q := range also {
		c.addReading(q.ID(), q, "")
	}
	c.listFeels()
	c.listMoves()
	for i := range c.faults {
		c.add(Ask{ID: "try:" + c.faults[i].Cure, Sort: Try, cure: c.faults[i].Cure, fault: i, trouble: tryTrouble})
	}
}

func (c *Case) nearActor(i int) map[build.Terminal]bool {
	a := &c.actors[i]
	return c.nearPiece(c.net.PieceWith(a.element), build.Of(a.part.ID, ""))
}

// below reports whether a reading in volts would be a negative one.
func (c *Case) below(q meter.Question) bool {
	v, err := c.meter.Typical(c.net, q)
	return err == nil && v < -1e-3
}

func (c *Case) addReading(id string, q meter.Question, part string) {
	near := map[build.Terminal]bool{}
	for _, t := range []build.Terminal{q.Red, q.Black} {
		for u := range c.nearPiece(c.net.PieceOf(c.net.Node(t)), t) {
			near[u] = true
		}
	}
	a := Ask{ID: id, Sort: Measure, Part: part, question: q, near: near, trouble: wayTrouble[q.Way] + setTrouble*float64(len(q.Set))}
	c.add(a)
	if !q.Way.Powered() {
		c.byID[taken+id] = c.byID[id]
		return
	}
	a.ID, a.test, a.told = taken+id, true, true
	c.add(a)
}

func (c *Case) add(a Ask) {
	if _, ok := c.byID[a.ID]; ok {
		return
	}
	c.byID[a.ID] = len(c.asks)
	c.asks = append(c.asks, a)
}

// nearPiece lists the terminals at which a fault can show at a piece, or at a place: those
// of the parts in it, and what of the board these are wired to.
func (c *Case) nearPiece(p *wiring.Piece, at build.Terminal) map[build.Terminal]bool {
	out := map[build.Terminal]bool{at: true}
	parts := map[string]bool{}
	if p != nil {
		for _, i := range p.Elements {
			e := &c.net.Elements[i]
			if e.Part != "" {
				parts[e.Part] = true
			}
			if e.Pin != "" {
				out[build.Pin(e.Pin)] = true
			}
		}
	}
	if id, _ := at.Split(); !at.OnBoard() {
		parts[id] = true
	} else if k := c.doc.NetOf(at); k >= 0 {
		for _, t := range c.doc.Nets[k] {
			out[t] = true
		}
	}
	// Chips in a chain hear each other.
	if slices.ContainsFunc(c.chips, func(x chip) bool { return parts[x.id] }) {
		for _, x := range c.chips {
			parts[x.id] = true
		}
	}
	for id := range parts {
		p := c.doc.Part(id)
		if p == nil {
			continue
		}
		kind, _ := c.lib.Catalogue.Kind(p.Kind)
		for _, x := range kind.Terminals {
			t := build.Of(id, x.ID)
			out[t] = true
			if k := c.doc.NetOf(t); k >= 0 {
				for _, o := range c.doc.Nets[k] {
					if o.OnBoard() {
						out[o] = true
					}
				}
			}
		}
	}
	return out
}

// listLooks puts faults that are seen at one place together.
func (c *Case) listLooks() {
	at := map[string]int{}
	add := func(l look, fault int) {
		i, ok := at[l.id]
		if !ok {
			i = len(c.looks)
			at[l.id] = i
			c.looks = append(c.looks, l)
		}
		l0 := &c.looks[i]
		l0.faults = append(l0.faults, fault)
		if l.part != "" && !slices.ContainsFunc(c.faults[fault].Parts, func(id string) bool { return c.family(id) == l.part }) {
			return // it reaches in from elsewhere
		}
		for _, e := range c.faults[fault].Ends {
			if !slices.Contains(l0.ends, e) && len(l0.ends) < 12 {
				l0.ends = append(l0.ends, e)
			}
		}
	}
	for i := range c.faults {
		f := &c.faults[i]
		switch {
		case f.InProgram():
			add(look{id: "program", what: "the program: the numbers of the pins, their modes and levels", program: true}, i)
		case !f.Seen():
		case f.Kind == fault.Unfed:
			add(look{id: "power", what: "the board's own lamp: is it lit"}, i)
		case len(f.Parts) == 0:
			add(look{id: "rails", what: "the rails: whether their lines go through, their wires, and those from the board to them"}, i)
		default:
			for _, id := range c.seenBy(f) {
				add(look{id: id, what: c.doc.Part(id).Name + " and the wires that belong to it", part: id}, i)
			}
		}
	}
}

// seenBy lists the parts, without those that belong to others, whose look shows a fault: its
// own, and those into whose rows it reaches.
func (c *Case) seenBy(f *fault.Fault) (out []string) {
	const most = 3 // of more, one would have to look everywhere
	add := func(id string) {
		if id = c.family(id); !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	for _, id := range f.Parts {
		add(id)
	}
	own := len(out)
	for _, t := range f.Touches() {
		if id, _ := t.Split(); !t.OnBoard() {
			add(id)
		}
	}
	if len(out) > own+most {
		return out[:own]
	}
	return out
}

// family is the part whose hookup brought a part, or the part itself.
func (c *Case) family(id string) string {
	if p := c.doc.Part(id); p.Of != "" && c.doc.Part(p.Of) != nil {
		return p.Of
	}
	return id
}

// A Next is what to look at or measure next, in words.
type Next struct {
	Ask     string           `json:"ask"` // its id
	Sort    Sort             `json:"sort"`
	Part    string           `json:"part,omitempty"`
	Words   string           `json:"words"`
	How     []string         `json:"how"` // how to get there, line by line
	Ends    []breadboard.End `json:"ends"`
	Check   *meter.Check     `json:"check,omitempty"` // of a measurement
	Field   bool             `json:"field"`           // the answer is typed: a reading
	Options []Option         `json:"options"`         // the answers; of a reading those that tell apart
	Also    []string         `json:"also"`            // answers that are no readings
	Trouble float64          `json:"trouble"`         // beside others: a look is 1
	Bits    float64          `json:"bits"`            // what its answer is expected to tell
}

// An Option is an answer that may come.
type Option struct {
	Answer string  `json:"answer"`
	Words  string  `json:"words"`
	Weight float64 `json:"weight"` // how likely it is, 0 to 1
	Leaves int     `json:"leaves"` // how many causes would be left
}

// tell says an ask in words.
func (c *Case) tell(a *Ask) Next {
	n := Next{Ask: a.ID, Sort: a.Sort, Part: a.Part, Trouble: a.trouble, How: []string{}, Ends: []breadboard.End{}, Options: []Option{}, Also: []string{}}
	switch a.Sort {
	case Look:
		l := c.looks[a.look]
		n.Ends = append(n.Ends, l.ends...)
		switch {
		case l.program:
			n.Words = "Look at " + l.what + "."
		case l.id == "power":
			n.Words = "Look at " + l.what + "?"
		default:
			n.Words = "Look at " + l.what + ": is everything as on the map?"
			n.How = append(n.How, "Count the rows, look which way round parts are, and push everything in.")
		}
	case See:
		x := c.actors[a.actor]
		s := x.states[a.state]
		n.Words = fmt.Sprintf("What does %s do?", x.name)
		if a.test {
			n.How = append(n.How, "Load the test program, which Program makes.")
			n.Words = fmt.Sprintf("With the test program: what does %s do?", x.name)
		}
		if s.words != "" {
			n.How = append(n.How, build.Capital(s.words)+".")
		}
		n.Ends = c.endsOf(x.part.ID)
	case Reads:
		in := c.inputs[a.input]
		s := in.states[a.state]
		n.Words = fmt.Sprintf("What does the program read at %s (%s)?", in.pin, in.name)
		if s.words != "" {
			n.How = append(n.How, build.Capital(s.words)+".")
		}
		n.Ends = c.endsOf(in.parts[0])
		if n.Field = in.analog; n.Field {
			n.Also = append(n.Also, jumps)
		}
	case Try:
		f := &c.faults[a.fault]
		n.Words = f.Look + " Does it work now?"
		n.Ends = append(n.Ends, f.Ends...)
	case Measure:
		if check, err := c.survey.Tell(a.question); err == nil {
			n.Check, n.Field = &check, true
			n.Words = check.Do
			n.How = append(n.How, check.State...)
			for _, p := range []string{check.Red.End, check.Black.End} {
				if e, err := breadboard.ParseEnd(p); err == nil {
					n.Ends = append(n.Ends, e)
				}
			}
		}
	}
	return n
}

func (c *Case) endsOf(part string) []breadboard.End {
	out := []breadboard.End{}
	if c.placed != nil {
		for _, l := range c.placed.Seat(part).Legs {
			out = append(out, breadboard.InHole(l.Hole))
		}
	}
	return out
}

// nodeOf is the node of a pin.
func nodeOf(n *wiring.Network, pin string) circuit.Node { return n.Node(build.Pin(pin)) }
