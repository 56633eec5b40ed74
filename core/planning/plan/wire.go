package plan

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
	"cablaggio/core/values/preferred"
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
	for _, need := range h.Helpers {
		if first := p.doc.Part(roles[need.Role]); first != nil {
			if second := p.secondOf(first); second != nil {
				p.attach(first, second)
			}
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
	p.doc.Parts = slices.DeleteFunc(p.doc.Parts, func(q build.Part) bool {
		first, _, _ := strings.Cut(q.Role, secondRole)
		return q.Of == id && roles[q.Role] != q.ID && (first == q.Role || roles[first] == "")
	})
	for _, need := range h.Helpers {
		if roles[need.Role] != "" {
			continue
		}
		kind, ok := p.lib.Catalogue.Kind(need.Kind)
		if !ok {
			return nil, fmt.Errorf("there is no kind of part %q", need.Kind)
		}
		q := build.Part{ID: id + "-" + need.Role, Kind: kind.ID, Name: helperName(need.Role, name), Of: id, Role: need.Role, Chosen: need.Value == 0 && kind.Is(resistor)}
		if len(kind.Types) > 0 {
			q.Type = kind.Types[0].ID
		}
		if need.Value != 0 {
			q.Values = map[string]float64{kind.Values[0].ID: p.atHand(need)}
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

const resistor = part.Resistor

// pulls is how many times as large or as small as the usual one a pull may be and still
// serves (common practice: 4.7 kΩ to 22 kΩ are all taken where 10 kΩ is drawn).
const pulls = 2.5

// atHand is the value of a helper with a value of its own: of a pull the nearest that is
// in the drawer, if one serves.
func (p *planner) atHand(need helper) float64 {
	best := need.Value
	if need.Kind != "resistor" || !strings.HasPrefix(need.Role, "pull") || slices.Contains(p.lib.Resistors, best) {
		return best
	}
	off := func(ohms float64) float64 { return math.Abs(math.Log(ohms / need.Value)) }
	least := math.Log(pulls)
	for _, ohms := range p.lib.Resistors {
		if off(ohms) <= least {
			best, least = ohms, off(ohms)
		}
	}
	return best
}

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

// SenseRole is the role of a resistor that divides a voltage with a sensor.
const SenseRole = "sense"

// size chooses the resistor for the lamp or the sensor it belongs to.
func (p *planner) size(resistor *build.Part) error {
	resistor.Values = nil
	if resistor.Role == SenseRole {
		ohms, err := choose.Divider(p.known, p.lib, p.doc, resistor.ID, resistor.Of)
		if err != nil {
			return err
		}
		resistor.Values = map[string]float64{"resistance": ohms}
		return nil
	}
	candidates, err := p.candidates(p.doc, resistor.ID, resistor.Of, true)
	if err != nil {
		return err
	}
	resistor.Values = map[string]float64{"resistance": choose.Best(candidates).Ohms}
	return nil
}

// comfort is how far below the recommended current of a pin a lamp is planned:
// the corners of lamp, resistor and supply need the rest.
const comfort = 0.75

// Candidates returns the values for a resistor before a lamp in the build, with
// what each would do there: those of the E12 series, and those in the library.
func Candidates(lib *build.Library, doc *build.Document, resistor, lamp string) ([]choose.Candidate, error) {
	return Planner{lib, wiring.NewCache()}.Candidates(doc, resistor, lamp)
}

// Candidates is [Candidates] with what the planner knows.
func (p Planner) Candidates(doc *build.Document, resistor, lamp string) ([]choose.Candidate, error) {
	return p.candidates(doc, resistor, lamp, false)
}

func (p Planner) candidates(doc *build.Document, resistor, lamp string, alone bool) ([]choose.Candidate, error) {
	site, err := choose.InBuild(p.known, p.lib, doc, resistor, lamp)
	if err != nil {
		return nil, err
	}
	wanted := math.Min(site.Wanted, comfort*site.Limit)
	return choose.Beside(site, choose.Wish{Amps: wanted, Limit: site.Limit, Series: preferred.E12, Alone: alone}, p.lib.Resistors)
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
	p.doc.Board, p.doc.Supply, p.doc.Also, p.doc.Volts, p.doc.Cells = to.ID, "", "", 0, nil
	if a := p.doc.Assembly; a != nil { // its holes and places are those of the other board
		p.doc.Assembly = &build.Assembly{Stock: a.Stock, Reach: a.Reach}
	}
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
			if pin, ok := to.Pin(q.Signals[j].Pin); !ok || !to.Suits(pin, q.Signals[j].Needs, q.Signals[j].Pull) {
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
			pin, err := p.choosePin(&p.doc.Parts[i], *s)
			if err != nil {
				return "", err
			}
			s.Pin = pin
		}
	}
	return "moved the build to the " + to.Name, nil
}
