package plan

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

func (p *planner) flip(part *build.Part, kind *part.Kind) (string, error) {
	if len(kind.Terminals) != 2 {
		return "", fmt.Errorf("a %s has not just two legs to swap", kind.Name)
	}
	a, b := build.Of(part.ID, kind.Terminals[0].ID), build.Of(part.ID, kind.Terminals[1].ID)
	for _, net := range p.doc.Nets {
		for i, t := range net {
			switch t {
			case a:
				net[i] = b
			case b:
				net[i] = a
			}
		}
	}
	p.byHand(part.ID)
	return "turned " + part.Name + " around", nil
}

func (p *planner) join(a, b build.Terminal) (string, error) {
	for _, t := range []build.Terminal{a, b} {
		if err := p.lib.CheckTerminal(p.doc, t); err != nil {
			return "", err
		}
	}
	if p.doc.Joined(a, b) {
		return "", fmt.Errorf("%s and %s are joined already", p.Label(a), p.Label(b))
	}
	p.doc.Join(a, b)
	p.byHand(partOf(a))
	p.byHand(partOf(b))
	words := fmt.Sprintf("wired %s to %s", p.Label(a), p.Label(b))
	if part, pin := p.adopt(a); part != "" {
		words += fmt.Sprintf("; %s is the pin of %s now", pin, part)
	}
	return words, nil
}

// adopt moves a signal to where its wire goes now: when one pin that nothing claims and one
// signal whose own pin has no wire any more can be reached from a wire, without going over a
// rail, the two belong together. It returns the names of both.
func (p *planner) adopt(from build.Terminal) (name, pin string) {
	claimed := map[string]bool{}
	for i := range p.doc.Parts {
		for _, s := range p.doc.Parts[i].Signals {
			claimed[s.Pin] = true
		}
	}
	var pins []string
	var stranded []*build.Signal
	seen := map[int]bool{}
	for nets := []int{p.doc.NetOf(from)}; len(nets) > 0; nets = nets[1:] {
		n := nets[0]
		if n < 0 || seen[n] || slices.ContainsFunc(p.doc.Nets[n], p.isRail) {
			continue
		}
		seen[n] = true
		for _, t := range p.doc.Nets[n] {
			id, leg := t.Split()
			if t.OnBoard() {
				if !claimed[leg] {
					pins = append(pins, leg)
				}
				continue
			}
			part := p.doc.Part(id)
			kind, _ := p.lib.Catalogue.Kind(part.Kind)
			if lost := p.stranded(part, leg); lost != nil {
				if !slices.Contains(stranded, lost) {
					stranded, name = append(stranded, lost), part.Name
				}
			} else if len(part.Signals) == 0 && len(kind.Terminals) <= 3 { // on through resistors, transistors
				for _, x := range kind.Terminals {
					nets = append(nets, p.doc.NetOf(build.Of(id, x.ID)))
				}
			}
		}
	}
	if len(pins) != 1 || len(stranded) != 1 {
		return "", ""
	}
	stranded[0].Pin = pins[0]
	return name, pins[0]
}

// stranded is the signal of a part that is wired by hand whose own pin has no wire: the one
// that is named after the leg, or the part's only one.
func (p *planner) stranded(part *build.Part, leg string) *build.Signal {
	if part.Hookup != "" {
		return nil
	}
	for i := range part.Signals {
		s := &part.Signals[i]
		if (s.Name == leg || len(part.Signals) == 1) && s.Bus == "" && p.doc.NetOf(build.Pin(s.Pin)) < 0 {
			return s
		}
	}
	return nil
}

// isRail reports whether a terminal is a place of the board that is no pin.
func (p *planner) isRail(t build.Terminal) bool {
	if !t.OnBoard() {
		return false
	}
	_, leg := t.Split()
	_, pin := p.board().Pin(leg)
	return !pin
}

func (p *planner) free(t build.Terminal) (string, error) {
	if p.doc.NetOf(t) < 0 {
		return "", fmt.Errorf("%s is joined to nothing", p.Label(t))
	}
	p.partedFrom(t)
	p.doc.Free(t)
	return "took the wire off " + p.Label(t), nil
}

func (p *planner) insert(t build.Terminal, text string) (string, error) {
	if p.doc.NetOf(t) < 0 {
		return "", fmt.Errorf("%s is joined to nothing, so a resistor there would do nothing", p.Label(t))
	}
	kind, _ := p.lib.Catalogue.Kind("resistor")
	id := p.freeID("resistor")
	p.doc.Parts = append(p.doc.Parts, build.Part{ID: id, Kind: "resistor", Name: p.freeName("resistor")})
	var other build.Terminal
	for _, u := range slices.Clone(p.doc.Nets[p.doc.NetOf(t)]) {
		if u != t {
			other = u
		}
	}
	p.partedFrom(t)
	p.doc.Free(t)
	p.doc.Join(other, build.Of(id, "1"))
	p.doc.Join(build.Of(id, "2"), t)
	_, err := p.value(p.doc.Part(id), kind, "resistance", text)
	return fmt.Sprintf("put %s into the wire at %s", p.doc.Part(id).Name, p.Label(t)), err
}

// partedFrom notes who is no longer wired as a hookup says when a terminal
// leaves its net: its part, and those that lose what they were joined to.
func (p *planner) partedFrom(t build.Terminal) {
	net := p.doc.Nets[p.doc.NetOf(t)]
	for _, u := range net {
		if u == t || t.OnBoard() || len(net) == 2 {
			p.byHand(partOf(u))
		}
	}
}

func partOf(t build.Terminal) string {
	id, _ := t.Split()
	return id
}

// byHand notes that a part is no longer wired as its hookup says. Its helpers
// become parts of their own.
func (p *planner) byHand(id string) {
	part := p.doc.Part(id)
	if part == nil {
		return
	}
	if part.Of != "" {
		p.byHand(part.Of)
	}
	if part.Hookup == "" {
		return
	}
	part.Hookup = ""
	for _, h := range p.doc.Helpers(id) {
		h.Of, h.Role = "", ""
	}
}

// Label says a terminal in words: "pin D4", "the anode of red LED 1".
func (p *planner) Label(t build.Terminal) string { return Label(p.lib, p.doc, t) }

// Label says a terminal of a build in words: "D4", "anode of red LED 1".
func Label(lib *build.Library, doc *build.Document, t build.Terminal) string {
	id, leg := t.Split()
	part := doc.Part(id)
	if part == nil {
		return leg
	}
	if kind, ok := lib.Catalogue.Kind(part.Kind); ok {
		for _, term := range kind.Terminals {
			if term.ID == leg {
				name, _, _ := strings.Cut(term.Name, ",")
				return name + " of " + part.Name
			}
		}
	}
	return string(t)
}
