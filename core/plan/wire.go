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
	guests := p.guests(id)
	p.release(id)
	before := part.Signals
	part.Hookup = h.ID
	part.Signals = nil
	roles, err := p.helpers(part, h)
	if err != nil {
		return err
	}
	part = p.doc.Part(id) // helpers may have moved the list
	chosen, err := p.choosePins(part, h, pins)
	if err != nil {
		return err
	}
	for i, s := range h.Signals {
		locked := slices.ContainsFunc(before, func(was build.Signal) bool { return was.Name == s.Name && was.Pin == chosen[i] && was.Locked })
		part.Signals = append(part.Signals, build.Signal{Name: s.Name, Needs: s.Needs, Pin: chosen[i], Pull: s.Pull, Drive: s.Drive, Locked: locked})
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
	for _, guest := range guests {
		// Without its host a guest stays as it is, and the check says so.
		if q := p.doc.Part(guest); q != nil && q.Hookup != "" {
			_ = p.wire(guest, q.Hookup, pinsOf(q))
		}
	}
	p.follow(id)
	return nil
}

// pinsOf returns the pins of a part by signal.
func pinsOf(q *build.Part) map[string]string {
	pins := map[string]string{}
	for _, s := range q.Signals {
		pins[s.Name] = s.Pin
	}
	return pins
}

// release takes a part and what its hookup brought out of their nets. Outputs
// that other parts hang on stay where they are.
func (p *planner) release(id string) {
	kind, _ := p.lib.Catalogue.Kind(p.doc.Part(id).Kind)
	for _, t := range kind.Terminals {
		if !slices.Contains(kind.Outputs, t.ID) {
			p.doc.Free(build.Of(id, t.ID))
		}
	}
	for _, h := range p.doc.Helpers(id) {
		p.doc.FreePart(h.ID)
	}
}

// guests lists the parts that hang on what the hookup of a part brought.
func (p *planner) guests(id string) []string {
	var out []string
	for _, q := range p.doc.Parts {
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		h, _ := kind.Hookup(q.Hookup)
		if h.Host == nil || h.Host.Hookup == "" || q.ID == id {
			continue
		}
		for _, helper := range p.doc.Helpers(id) {
			for _, leg := range h.Host.Legs {
				net := p.doc.NetOf(build.Of(helper.ID, leg))
				if net >= 0 && slices.ContainsFunc(p.doc.Nets[net], func(t build.Terminal) bool { return partOf(t) == q.ID }) {
					out = append(out, q.ID)
				}
			}
		}
	}
	return out
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
			grouped := slices.ContainsFunc(p.doc.Exclusive, func(g []string) bool { return slices.Contains(g, q.ID) && slices.Contains(g, h.Of) })
			if mine || leg == "" && (net < 0 || want.Shared) || grouped && want.Shared {
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

// choosePins returns the pins for the signals of a hookup: the given ones, those
// of a bus that is there, and the best together for the rest.
func (p *planner) choosePins(q *build.Part, h part.Hookup, pins map[string]string) ([]string, error) {
	out := make([]string, len(h.Signals))
	var open []int
	var wants []choose.Want
	used := taken(p.doc)
	for i, s := range h.Signals {
		out[i] = pins[s.Name]
		if out[i] == "" && len(h.Signals) == 1 {
			out[i] = pins[""]
		}
		if out[i] == "" {
			out[i] = p.busPin(q.ID, s.Bus)
		}
		if out[i] == "" {
			open, wants = append(open, i), append(wants, choose.Want{Name: q.Name, Needs: s.Needs})
			continue
		}
		if _, ok := p.board().Pin(out[i]); !ok {
			return nil, fmt.Errorf("the %s has no pin %q", p.board().Name, out[i])
		}
		used = append(used, out[i])
	}
	chosen, err := choose.Assign(p.board(), wants, used)
	for k, i := range open {
		if err == nil {
			out[i] = chosen[k]
		}
	}
	return out, err
}

func (p *planner) choosePin(needs board.Function) (string, error) {
	pins := FreePins(p.lib, p.doc, needs)
	if len(pins) == 0 {
		return "", &choose.NoPinError{Board: p.board().Name, Want: choose.Want{Needs: needs}}
	}
	return pins[0].Pin, nil
}

// assign chooses the pins of all signals again that nobody has locked, for the
// least cost together. What is wired by hand keeps its pins.
func (p *planner) assign() (string, error) {
	type place struct {
		part, signal int
	}
	var places []place
	var wants []choose.Want
	var kept []string
	buses := map[string]int{} // a bus is one signal
	moving := map[string]bool{}
	for i, q := range p.doc.Parts {
		for j, s := range q.Signals {
			if s.Locked || q.Hookup == "" {
				kept = append(kept, s.Pin)
				continue
			}
			moving[q.ID] = true
			if s.Bus != "" {
				if _, ok := buses[s.Bus]; ok {
					continue
				}
				buses[s.Bus] = len(places)
			}
			places, wants = append(places, place{i, j}), append(wants, choose.Want{Name: q.Name, Needs: s.Needs})
		}
	}
	for id := range moving {
		p.release(id)
	}
	for _, n := range p.doc.Nets { // what is still wired is wired by hand
		for _, t := range n {
			if _, leg := t.Split(); t.OnBoard() {
				kept = append(kept, leg)
			}
		}
	}
	pins, err := choose.Assign(p.board(), wants, kept)
	if err != nil {
		return "", err
	}
	moved := 0
	for k, at := range places {
		s := &p.doc.Parts[at.part].Signals[at.signal]
		if s.Pin != pins[k] {
			moved++
		}
		s.Pin = pins[k]
	}
	for i := range p.doc.Parts {
		for j := range p.doc.Parts[i].Signals {
			if s := &p.doc.Parts[i].Signals[j]; s.Bus != "" && moving[p.doc.Parts[i].ID] && !s.Locked {
				s.Pin = pins[buses[s.Bus]]
			}
		}
	}
	for _, q := range slices.Clone(p.doc.Parts) {
		if !moving[q.ID] {
			continue
		}
		if err := p.wire(q.ID, q.Hookup, pinsOf(p.doc.Part(q.ID))); err != nil {
			return "", err
		}
	}
	return fmt.Sprintf("chose all pins again: %d moved", moved), nil
}

// RefusedPins returns the pins that a function cannot have in the build, with
// the reason.
func RefusedPins(lib *build.Library, doc *build.Document, needs board.Function) []choose.PinRefusal {
	b, _ := lib.Board(doc.Board)
	return choose.Refused(b, needs, taken(doc), func(pin string) string {
		for _, q := range doc.Parts {
			for _, s := range q.Signals {
				if s.Pin == pin {
					return q.Name
				}
			}
		}
		return "a wire"
	})
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
	return CandidatesWith(lib, doc, resistor, lamp, nil)
}

// CandidatesWith is Candidates with the resistances in the drawer beside the
// rest.
func CandidatesWith(lib *build.Library, doc *build.Document, resistor, lamp string, have []float64) ([]choose.Candidate, error) {
	site, err := choose.InBuild(lib, doc, resistor, lamp)
	if err != nil {
		return nil, err
	}
	wanted := math.Min(site.Wanted, comfort*site.Limit)
	return choose.Beside(site, choose.Wish{Amps: wanted, Limit: site.Limit, Series: preferred.E12}, have)
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
			p.release(q.ID)
			rewire = append(rewire, q.ID)
		}
	}
	for _, id := range rewire {
		q := p.doc.Part(id)
		if err := p.wire(id, q.Hookup, pinsOf(q)); err != nil {
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
