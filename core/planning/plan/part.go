package plan

import (
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/values/quantity"
)

func (p *planner) add(e Add) (string, error) {
	kind, ok := p.lib.Catalogue.Kind(e.Kind)
	if !ok {
		return "", fmt.Errorf("there is no kind of part %q", e.Kind)
	}
	if len(p.doc.Parts) >= build.MaxParts {
		return "", fmt.Errorf("a build has at most %d parts", build.MaxParts)
	}
	part := build.Part{Kind: kind.ID, Type: e.Type, Name: strings.TrimSpace(e.Name)}
	if part.Type == "" && len(kind.Types) > 0 {
		part.Type = kind.Types[0].ID
	}
	id := p.freeID(kind.ID)
	part.ID = id
	if part.Name == "" {
		name := kind.Name
		if t, ok := kind.Type(part.Type); ok {
			name = t.Name + " " + name
		}
		part.Name = p.freeName(name)
	}
	p.doc.Parts = append(p.doc.Parts, part)
	if kind.Own() && !slices.ContainsFunc(p.doc.Kinds, func(k ownKind) bool { return k.ID == kind.ID }) {
		p.doc.Kinds = append(p.doc.Kinds, kind.Clone())
	}
	if len(kind.Hookups) > 0 {
		hookup := e.Hookup
		if hookup == "" {
			b, _ := p.lib.Board(p.doc.Board)
			usual, _ := kind.Usual(b)
			hookup = usual.ID
		}
		if err := p.wire(id, hookup, map[string]string{"": p.pinCalled(e.Pin)}); err != nil {
			return "", err
		}
	}
	if e.Value != "" {
		if err := p.valueOf(id, kind, e.Value, e.Text); err != nil {
			return "", err
		}
	}
	return "added " + part.Name, nil
}

type ownKind = part.Kind

// pinCalled is the name of a pin that may be called by its number, as programs do, or by the letters
// of another board: "13" is D13, "GP5" of a board with IO5 is that.
func (p *planner) pinCalled(name string) string {
	b, _ := p.lib.Board(p.doc.Board)
	if _, ok := b.Pin(name); ok || name == "" {
		return name
	}
	digits := strings.TrimLeft(name, "DGPIO")
	if n, err := strconv.Atoi(digits); err == nil {
		if pin, ok := b.Numbered(n); ok {
			return pin.Name
		}
	}
	return name
}

// valueOf sets a value of a new part, or of the helpers that its hookup brought: "an LED with
// 220 Ω" is its resistor's.
func (p *planner) valueOf(id string, kind *part.Kind, value, text string) error {
	if _, ok := kind.Value(value); ok {
		_, err := p.value(p.doc.Part(id), kind, value, text)
		return err
	}
	found := false
	for _, h := range p.doc.Helpers(id) {
		of, _ := p.lib.Catalogue.Kind(h.Kind)
		if _, ok := of.Value(value); !ok {
			continue
		}
		found = true
		if _, err := p.value(h, of, value, text); err != nil {
			return err
		}
	}
	if !found {
		return fmt.Errorf("a %s has no value %q", kind.Name, value)
	}
	return nil
}

func (p *planner) freeID(stem string) string {
	for n := 1; ; n++ {
		if id := stem + strconv.Itoa(n); p.doc.Part(id) == nil {
			return id
		}
	}
}

// freeName numbers a name: "red LED 1", "red LED 2".
func (p *planner) freeName(stem string) string {
	for n := 1; ; n++ {
		name := stem + " " + strconv.Itoa(n)
		if !slices.ContainsFunc(p.doc.Parts, func(q build.Part) bool { return q.Name == name }) {
			return name
		}
	}
}

func helperName(role, of string) string { return role + " of " + of }

func (p *planner) hookup(part *build.Part, kind *part.Kind, id string) (string, error) {
	h, ok := kind.Hookup(id)
	if !ok {
		return "", fmt.Errorf("there is no hookup %q for a %s", id, kind.Name)
	}
	pins := map[string]string{}
	for _, s := range part.Signals {
		pin, _ := p.board().Pin(s.Pin)
		for _, want := range h.Signals {
			if p.board().Suits(pin, want.Needs, want.Pull) && (want.Name == s.Name || len(h.Signals) == 1) {
				pins[want.Name] = s.Pin
			}
		}
	}
	name := part.Name
	return fmt.Sprintf("wired %s as %s", name, h.Name), p.wire(part.ID, id, pins)
}

func (p *planner) movePin(part *build.Part, signal, pin string) (string, error) {
	i := slices.IndexFunc(part.Signals, func(s build.Signal) bool { return s.Name == signal })
	if i < 0 {
		return "", fmt.Errorf("%s has no signal %q", part.Name, signal)
	}
	s := &part.Signals[i]
	s.Locked = pin != ""
	if pin == "" {
		chosen, err := p.choosePin(part, *s)
		if err != nil {
			return "", err
		}
		pin = chosen
	}
	if _, ok := p.board().Pin(pin); !ok {
		return "", fmt.Errorf("the %s has no pin %q", p.board().Name, pin)
	}
	from, to := build.Pin(s.Pin), build.Pin(pin)
	if s.Bus != "" {
		p.moveBus(part.ID, s.Bus, pin)
	}
	s = &part.Signals[i]
	s.Pin = pin
	words := fmt.Sprintf("moved %s to %s", part.Name, pin)
	if part.Hookup != "" {
		return words, p.wire(part.ID, part.Hookup, pinsOf(part))
	}
	// Wired by hand: the wire on the old pin goes to the new one.
	if net := p.doc.NetOf(from); net >= 0 {
		rest := slices.DeleteFunc(slices.Clone(p.doc.Nets[net]), func(t build.Terminal) bool { return t == from })
		p.doc.Free(from)
		p.doc.Join(rest[0], to)
	}
	return words, nil
}

func (p *planner) pull(part *build.Part, signal string, pull board.Pull) (string, error) {
	i := slices.IndexFunc(part.Signals, func(s build.Signal) bool { return s.Name == signal })
	if i < 0 {
		return "", fmt.Errorf("%s has no signal %q", part.Name, signal)
	}
	part.Signals[i].Pull = pull
	p.byHand(part.ID)
	if pull == board.NoPull {
		return "switched the pull of " + part.Signals[i].Pin + " off", nil
	}
	return fmt.Sprintf("switched the pull-%s of %s on", pull, part.Signals[i].Pin), nil
}

// meterOff is what a usual meter may be off in reading a part (common practice: 0.8 % and
// two of the last digit).
const meterOff = 0.01

// measure sets a value to what was measured of the part.
func (p *planner) measure(q *build.Part, kind *part.Kind, id, text string) (string, error) {
	who := q.ID
	if _, err := p.value(q, kind, id, text); err != nil {
		return "", err
	}
	q = p.doc.Part(who)
	def, _ := kind.Value(id)
	if q.Measured == nil {
		q.Measured = map[string]build.Measured{}
	}
	q.Measured[id] = build.Measured{Value: q.Values[id], Within: meterOff}
	return fmt.Sprintf("measured %s of %s: %s", def.Name, q.Name, quantity.Short(q.Values[id], def.Unit)), nil
}

func (p *planner) value(part *build.Part, kind *part.Kind, id, text string) (string, error) {
	def, ok := kind.Value(id)
	if !ok {
		return "", fmt.Errorf("a %s has no value %q", kind.Name, id)
	}
	if strings.TrimSpace(text) == "" {
		delete(part.Values, id)
		delete(part.Measured, id)
		p.follow(part.ID)
		return fmt.Sprintf("set %s of %s back to what the catalogue has", def.Name, part.Name), nil
	}
	v, err := quantity.Parse(text, def.Unit)
	if err != nil {
		return "", fmt.Errorf("%s: %w", def.Name, err)
	}
	if err := build.CheckValue(kind, id, v); err != nil {
		return "", err
	}
	if part.Values == nil {
		part.Values = map[string]float64{}
	}
	part.Values[id] = v
	part.Chosen = false
	delete(part.Measured, id)
	words := fmt.Sprintf("set %s of %s to %s", def.Name, part.Name, quantity.Short(v, def.Unit))
	if id == "resistance" {
		who := part.ID
		p.single(part)
		part = p.doc.Part(who)
	}
	p.follow(part.ID)
	return words, nil
}
