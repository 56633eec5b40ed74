package plan

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/choose"
)

// targetCurrent is the value of a lamp that says which current is wanted, or the
// last part of it where a case has several lamps.
const targetCurrent = "targetCurrent"

// used lists the pins that signals or wires use, with what they carry.
func used(lib *build.Library, doc *build.Document) []choose.Used {
	var out []choose.Used
	for i := range doc.Parts {
		q := &doc.Parts[i]
		for _, s := range q.Signals {
			out = append(out, choose.Used{Pin: s.Pin, Load: load(lib, doc, q, s.Needs, s.Drive)})
		}
	}
	for _, n := range doc.Nets {
		for _, t := range n {
			if t.OnBoard() {
				_, leg := t.Split()
				out = append(out, choose.Used{Pin: leg})
			}
		}
	}
	return out
}

// load is what a signal's pin carries: the wanted current of a lamp that is on
// whenever it likes. Others carry little.
func load(lib *build.Library, doc *build.Document, q *build.Part, needs board.Function, drive part.Drive) choose.Load {
	if needs != board.DigitalOut && needs != board.PWMOut {
		return choose.Load{}
	}
	for _, turns := range doc.Exclusive {
		if i := slices.Index(turns, q.ID); i > 0 {
			return choose.Load{} // the first of them stands for all
		}
	}
	kind, _ := lib.Catalogue.Kind(q.Kind)
	amps := 0.0
	for _, v := range kind.Values {
		if v.ID == targetCurrent || strings.HasSuffix(v.ID, "."+targetCurrent) {
			amps = max(amps, wiring.ValueOf(kind, q, v.ID).Typ)
		}
	}
	way := board.Source
	if drive.Active == part.ActiveLow {
		way = board.Sink
	}
	return choose.Load{Amps: amps, Way: way}
}

// choosePins returns the pins for the signals of a hookup: the given ones, those
// of a bus that is there, and the best together for the rest.
func (p *planner) choosePins(q *build.Part, h part.Hookup, pins map[string]string) ([]string, error) {
	out := make([]string, len(h.Signals))
	var open []int
	var wants []choose.Want
	inUse := used(p.lib, p.doc)
	for i, s := range h.Signals {
		out[i] = pins[s.Name]
		if out[i] == "" && len(h.Signals) == 1 {
			out[i] = pins[""]
		}
		if out[i] == "" {
			out[i] = p.busPin(q.ID, s.Bus)
		}
		if out[i] == "" {
			open, wants = append(open, i), append(wants, choose.Want{Name: q.Name, Needs: s.Needs, Pull: s.Pull, Load: load(p.lib, p.doc, q, s.Needs, s.Drive)})
			continue
		}
		if _, ok := p.board().Pin(out[i]); !ok {
			return nil, fmt.Errorf("the %s has no pin %q", p.board().Name, out[i])
		}
		inUse = append(inUse, choose.Used{Pin: out[i], Load: load(p.lib, p.doc, q, s.Needs, s.Drive)})
	}
	chosen, err := choose.Assign(p.board(), wants, inUse)
	for k, i := range open {
		if err == nil {
			out[i] = chosen[k]
		}
	}
	return out, err
}

func (p *planner) choosePin(q *build.Part, s build.Signal) (string, error) {
	pins := PinsFor(p.lib, p.doc, q, s)
	if len(pins) == 0 {
		return "", &choose.NoPinError{Board: p.board().Name, Want: choose.Want{Name: q.Name, Needs: s.Needs, Pull: s.Pull}}
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
	var kept []choose.Used
	buses := map[string]int{} // a bus is one signal
	moving := map[string]bool{}
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		for j, s := range q.Signals {
			carries := load(p.lib, p.doc, q, s.Needs, s.Drive)
			if s.Locked || q.Hookup == "" {
				kept = append(kept, choose.Used{Pin: s.Pin, Load: carries})
				continue
			}
			moving[q.ID] = true
			if s.Bus != "" {
				if _, ok := buses[s.Bus]; ok {
					continue
				}
				buses[s.Bus] = len(places)
			}
			places, wants = append(places, place{i, j}), append(wants, choose.Want{Name: q.Name, Needs: s.Needs, Pull: s.Pull, Load: carries})
		}
	}
	for id := range moving {
		p.release(id)
	}
	for _, n := range p.doc.Nets { // what is still wired is wired by hand
		for _, t := range n {
			if _, leg := t.Split(); t.OnBoard() {
				kept = append(kept, choose.Used{Pin: leg})
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

// refusedPins returns the pins that a signal cannot have in the build, with
// the reason.
func refusedPins(lib *build.Library, doc *build.Document, want choose.Want) []choose.PinRefusal {
	b, _ := lib.Board(doc.Board)
	return choose.Refused(b, want, used(lib, doc), func(pin string) string {
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
	return choose.Pins(b, choose.Want{Needs: needs}, used(lib, doc))
}

// PinsFor returns the free pins for a signal of the build, the best first, with
// the reasons. What it carries leaves the pin that it has.
func PinsFor(lib *build.Library, doc *build.Document, q *build.Part, s build.Signal) []choose.PinChoice {
	b, _ := lib.Board(doc.Board)
	carries := load(lib, doc, q, s.Needs, s.Drive)
	inUse := used(lib, doc)
	if i := slices.Index(inUse, choose.Used{Pin: s.Pin, Load: carries}); i >= 0 {
		inUse[i].Load = choose.Load{}
	}
	return choose.Pins(b, choose.Want{Name: q.Name, Needs: s.Needs, Pull: s.Pull, Load: carries}, inUse)
}
