package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/choose"
	"cablaggio/core/part"
	"cablaggio/core/preferred"
)

// wire wires a part by one of its hookups, on the given pins by signal name
// ("" for a signal that is not named; an empty pin is chosen). What an earlier
// hookup brought is used again where it fits and removed otherwise.
func (p *planner) wire(id, hookupID string, pins map[string]string) error {
	part := p.doc.Part(id)
	kind, _ := p.lib.Catalogue.Kind(part.Kind)
	h, ok := kind.Hookup(hookupID)
	if !ok {
		return fmt.Errorf("there is no hookup %q for a %s", hookupID, kind.Name)
	}
	host, owner, err := p.host(part, h.Host)
	if err != nil {
		return err
	}
	p.doc.FreePart(id)
	for _, old := range p.doc.Helpers(id) {
		p.doc.FreePart(old.ID)
	}
	part.Hookup = h.ID
	part.Signals = nil
	roles, err := p.helpers(part, h)
	if err != nil {
		return err
	}
	part = p.doc.Part(id) // helpers may have moved the list
	for _, s := range h.Signals {
		pin := pins[s.Name]
		if pin == "" && len(h.Signals) == 1 {
			pin = pins[""]
		}
		if pin == "" {
			pin = p.busPin(id, s.Bus)
		}
		if pin == "" {
			if pin, err = p.choosePin(s.Needs); err != nil {
				return err
			}
		}
		if _, ok := p.board().Pin(pin); !ok {
			return fmt.Errorf("the %s has no pin %q", p.board().Name, pin)
		}
		part.Signals = append(part.Signals, build.Signal{Name: s.Name, Needs: s.Needs, Pin: pin, Pull: s.Pull, Drive: s.Drive})
	}
	for _, net := range h.Joins {
		first := p.terminal(part, roles, host, net[0])
		for _, t := range net[1:] {
			p.doc.Join(first, p.terminal(part, roles, host, t))
		}
	}
	if h.Exclusive {
		p.doc.Group(owner, id)
	}
	p.follow(id)
	return nil
}

// helpers makes the parts that a hookup needs, by role, keeping those that an
// earlier hookup brought as the same thing.
func (p *planner) helpers(part *build.Part, h part.Hookup) (map[string]string, error) {
	id, name := part.ID, part.Name
	roles := map[string]string{}
	for _, old := range p.doc.Helpers(id) {
		if slices.ContainsFunc(h.Helpers, func(n helper) bool { return n.Role == old.Role && n.Kind == old.Kind }) {
			roles[old.Role] = old.ID
		}
	}
	p.doc.Parts = slices.DeleteFunc(p.doc.Parts, func(q build.Part) bool { return q.Of == id && roles[q.Role] != q.ID })
	for _, need := range h.Helpers {
		if roles[need.Role] != "" {
			continue
		}
		kind, ok := p.lib.Catalogue.Kind(need.Kind)
		if !ok {
			return nil, fmt.Errorf("there is no kind of part %q", need.Kind)
		}
		q := build.Part{ID: id + "-" + need.Role, Kind: kind.ID, Name: helperName(need.Role, name), Of: id, Role: need.Role, Chosen: need.Value == 0 && kind.Model == "resistor"}
		if len(kind.Types) > 0 {
			q.Type = kind.Types[0].ID
		}
		if need.Value != 0 {
			q.Values = map[string]float64{kind.Values[0].ID: need.Value}
		}
		if p.doc.Part(q.ID) != nil {
			q.ID = p.freeID(q.ID)
		}
		roles[need.Role] = q.ID
		p.doc.Parts = append(p.doc.Parts, q)
	}
	return roles, nil
}

type helper = part.Helper

// terminal resolves a terminal of a hookup's joins.
func (p *planner) terminal(q *build.Part, roles map[string]string, host build.Terminal, t string) build.Terminal {
	who, leg, _ := strings.Cut(t, ".")
	switch who {
	case "self":
		return build.Of(q.ID, leg)
	case "pin":
		i := slices.IndexFunc(q.Signals, func(s build.Signal) bool { return s.Name == leg })
		return build.Pin(q.Signals[i].Pin)
	case "host":
		return host
	case "board":
		switch leg {
		case "supply":
			return build.Pin(p.board().Logic.Rail)
		case "power":
			return build.Pin(p.board().Power)
		}
		return build.Pin(p.board().Ground)
	}
	return build.Of(roles[who], leg)
}

// host finds the leg of another part that a part hangs on: the one that it
// hangs on already, or else the first that will do. Owner is the part that the
// leg, as a helper's, belongs to.
func (p *planner) host(q *build.Part, want *part.Host) (leg build.Terminal, owner string, err error) {
	if want == nil {
		return "", "", nil
	}
	self := slices.IndexFunc(p.doc.Parts, func(x build.Part) bool { return x.ID == q.ID })
	for i, h := range p.doc.Parts {
		// A chain of parts of one kind runs in the order of the list.
		if i == self || !slices.Contains(want.Kinds, h.Kind) || h.Kind == q.Kind && i > self {
			continue
		}
		o := p.doc.Part(h.Of)
		if want.Hookup != "" && (o == nil || o.Hookup != want.Hookup || o.ID == q.ID) {
			continue
		}
		for _, l := range want.Legs {
			t := build.Of(h.ID, l)
			net := p.doc.NetOf(t)
			mine := net >= 0 && slices.ContainsFunc(p.doc.Nets[net], func(u build.Terminal) bool {
				x := p.doc.Part(partOf(u))
				return x != nil && (x.ID == q.ID || x.Of == q.ID)
			})
			if mine || leg == "" && (net < 0 || want.Shared) {
				leg, owner = t, h.Of
			}
			if mine {
				return leg, owner, nil
			}
		}
	}
	if leg == "" {
		names := make([]string, len(want.Kinds))
		for i, id := range want.Kinds {
			kind, _ := p.lib.Catalogue.Kind(id)
			names[i] = kind.Name
		}
		what := strings.Join(names, " or ")
		if want.Hookup != "" {
			what = "lamp with its resistor at ground"
		}
		return "", "", fmt.Errorf("%s needs a %s with a free place to hang on; add one first", q.Name, what)
	}
	return leg, owner, nil
}

// busPin returns the pin that other parts use for the bus, or nothing.
func (p *planner) busPin(id, bus string) string {
	for _, q := range p.doc.Parts {
		for _, s := range q.Signals {
			if q.ID != id && bus != "" && s.Bus == bus {
				return s.Pin
			}
		}
	}
	return ""
}

// taken lists the pins that signals or wires use.
func taken(doc *build.Document) []string {
	var out []string
	for _, q := range doc.Parts {
		for _, s := range q.Signals {
			out = append(out, s.Pin)
		}
	}
	for _, n := range doc.Nets {
		for _, t := range n {
			if t.OnBoard() {
				_, leg := t.Split()
				out = append(out, leg)
			}
		}
	}
	return out
}

func (p *planner) choosePin(needs board.Function) (string, error) {
	pins := FreePins(p.lib, p.doc, needs)
	if len(pins) == 0 {
		return "", fmt.Errorf("no pin of the %s that can do %s is free; remove a part or take a larger board", p.board().Name, needs.Name())
	}
	return pins[0].Pin, nil
}

// FreePins returns the pins of the build's board that are free for a function,
// the best first, with the reasons.
func FreePins(lib *build.Library, doc *build.Document, needs board.Function) []choose.PinChoice {
	b, _ := lib.Board(doc.Board)
	return choose.Pins(b, needs, taken(doc))
}

// follow chooses again the values that are Cablaggio's to choose after a part
// has changed. Where the wiring leaves nothing to choose by, the catalogue's
// value stands: a change is not refused for that, and the check says what is
// wrong with the wiring.
func (p *planner) follow(id string) {
	for _, h := range p.doc.Helpers(id) {
		if h.Chosen && p.size(h) != nil {
			h.Values = nil
		}
	}
}

// senseRole is the role of a resistor that divides a voltage with a sensor.
const senseRole = "sense"

// size chooses the resistor for the lamp or the sensor it belongs to.
func (p *planner) size(resistor *build.Part) error {
	resistor.Values = nil
	if resistor.Role == senseRole {
		ohms, err := choose.Divider(p.lib, p.doc, resistor.ID, resistor.Of)
		if err != nil {
			return err
		}
		resistor.Values = map[string]float64{"resistance": ohms}
		return nil
	}
	candidates, err := Candidates(p.lib, p.doc, resistor.ID, resistor.Of)
	if err != nil {
		return err
	}
	resistor.Values = map[string]float64{"resistance": choose.Best(candidates)}
	return nil
}

// comfort is how far below the recommended current of a pin a lamp is planned:
// the corners of lamp, resistor and supply need the rest.
const comfort = 0.75

// Candidates returns the values for a resistor before a lamp in the build, with
// what each would do there.
func Candidates(lib *build.Library, doc *build.Document, resistor, lamp string) ([]choose.Candidate, error) {
	site, err := choose.InBuild(lib, doc, resistor, lamp)
	if err != nil {
		return nil, err
	}
	wanted := math.Min(site.Wanted, comfort*site.Limit)
	return choose.Resistor(site, choose.Wish{Amps: wanted, Limit: site.Limit, Series: preferred.E12})
}

// move takes the build to another board. Parts keep their pins where the new
// board has a pin of that name that can do the same; other pins are chosen.
// What was wired by hand keeps its wires to ground, to the logic's rail and to
// pins of the same name.
func (p *planner) move(id string) (string, error) {
	to, ok := p.lib.Board(id)
	if !ok {
		return "", fmt.Errorf("there is no board %q", id)
	}
	from := p.board()
	p.doc.Board, p.doc.Supply, p.doc.Volts, p.doc.Cells = to.ID, "", 0, nil
	same := map[string]string{from.Power: to.Power, from.Ground: to.Ground, from.Logic.Rail: to.Logic.Rail}
	for i, n := range p.doc.Nets {
		kept := n[:0]
		for _, t := range n {
			_, leg := t.Split()
			_, isPin := to.Pin(leg)
			switch {
			case !t.OnBoard():
				kept = append(kept, t)
			case same[leg] != "":
				kept = append(kept, build.Pin(same[leg]))
			case isPin:
				kept = append(kept, t)
			}
		}
		p.doc.Nets[i] = kept
	}
	p.doc.Nets = slices.DeleteFunc(p.doc.Nets, func(n build.Net) bool { return len(n) < 2 })
	// First every pin that cannot stay is given up, so that no chosen pin is
	// one that another part could have kept.
	var rewire []string
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		for j := range q.Signals {
			if pin, ok := to.Pin(q.Signals[j].Pin); !ok || !pin.Has(q.Signals[j].Needs) {
				q.Signals[j].Pin = ""
			}
		}
		if q.Hookup != "" {
			p.doc.FreePart(q.ID)
			rewire = append(rewire, q.ID)
		}
	}
	for _, id := range rewire {
		q := p.doc.Part(id)
		pins := map[string]string{}
		for _, s := range q.Signals {
			pins[s.Name] = s.Pin
		}
		if err := p.wire(id, q.Hookup, pins); err != nil {
			return "", err
		}
	}
	for i := range p.doc.Parts {
		for j := range p.doc.Parts[i].Signals {
			s := &p.doc.Parts[i].Signals[j]
			if s.Pin != "" {
				continue
			}
			pin, err := p.choosePin(s.Needs)
			if err != nil {
				return "", err
			}
			s.Pin = pin
		}
	}
	return "moved the build to the " + to.Name, nil
}
