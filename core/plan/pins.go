package plan

import (
	"fmt"
	"slices"

	"cablaggio/core/board"
	"cablaggio/core/build"
	"cablaggio/core/choose"
	"cablaggio/core/part"
)

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
