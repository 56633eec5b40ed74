package plan

import (
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/light"
	"cablaggio/core/values/quantity"
)

// feed changes what the board is fed with.
func (p *planner) feed(e Supply) (string, error) {
	s, ok := p.board().Supply(e.Supply)
	if !ok {
		return "", fmt.Errorf("the %s has no supply %q", p.board().Name, e.Supply)
	}
	if _, ok := p.board().Supply(e.With); e.With != "" && (!ok || e.With == s.ID) {
		return "", fmt.Errorf("the %s has no second supply %q", p.board().Name, e.With)
	}
	p.doc.Supply, p.doc.Also, p.doc.Volts, p.doc.Cells = e.Supply, e.With, 0, nil
	if e.Cells != "" {
		cell, ok := supply.CellOf(e.Cells)
		if !ok {
			return "", fmt.Errorf("there is no sort of cell %q", e.Cells)
		}
		p.doc.Cells = &build.Cells{Type: e.Cells, Count: e.Count}
		return fmt.Sprintf("fed the board from %d × %s at %s", e.Count, cell.Name, s.Name), nil
	}
	if strings.TrimSpace(e.Text) == "" {
		return "fed the board from " + s.Name, nil
	}
	v, err := quantity.Parse(e.Text, quantity.Volt)
	if err != nil {
		return "", fmt.Errorf("the supply: %w", err)
	}
	p.doc.Volts = v
	return fmt.Sprintf("fed the board from %s with %s", s.Name, quantity.Short(v, quantity.Volt)), nil
}

// turns lets two parts be on only one at a time, or a part on whenever it likes.
func (p *planner) turns(q *build.Part, with string) (string, error) {
	if with == "" {
		p.doc.Ungroup(q.ID)
		return q.Name + " can be on at any time", nil
	}
	other := p.doc.Part(with)
	if other == nil || other == q {
		return "", fmt.Errorf("%s can take turns with another part only", q.Name)
	}
	together := p.doc.Clone()
	together.Group(other.ID, q.ID)
	for _, t := range p.known.Build(p.lib, together).Turns {
		for _, id := range t.Loose {
			if id == q.ID || id == other.ID {
				return "", fmt.Errorf("no output of its own switches %s, so it cannot take turns", p.doc.Part(id).Name)
			}
		}
	}
	p.doc.Group(other.ID, q.ID)
	return fmt.Sprintf("%s and %s are on one at a time", q.Name, other.Name), nil
}

// moveBus takes the other parts on a bus to the same pin.
func (p *planner) moveBus(id, bus, pin string) {
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		for j := range q.Signals {
			s := &q.Signals[j]
			if q.ID == id || s.Bus != bus || s.Pin == pin {
				continue
			}
			for _, t := range p.onPin(q, s.Pin) {
				p.doc.Free(t)
				p.doc.Join(build.Pin(pin), t)
			}
			s.Pin = pin
		}
	}
}

// onPin lists the legs of a part that are wired to a pin.
func (p *planner) onPin(q *build.Part, pin string) []build.Terminal {
	var out []build.Terminal
	if net := p.doc.NetOf(build.Pin(pin)); net >= 0 {
		for _, t := range p.doc.Nets[net] {
			if partOf(t) == q.ID {
				out = append(out, t)
			}
		}
	}
	return out
}

// white sets the wanted currents of the colours in a case so that together, at
// equal duty, they give white: the brightest colour that the limits allow.
func (p *planner) white(q *build.Part, kind *part.Kind) (string, error) {
	var primaries []light.Primary
	for _, e := range kind.Emitters {
		l := wiring.Lamp{Part: q, Emitter: e}
		at := l.Value(kind, "testCurrent").Typ
		primaries = append(primaries, light.Primary{
			Nanometres: l.Value(kind, "dominantWavelength").Typ,
			Candela:    l.Value(kind, "luminousIntensity").Typ / at,
		})
	}
	if len(primaries) != 3 {
		return "", fmt.Errorf("%s has not three colours to mix white from", q.Name)
	}
	limit := min(wiring.ValueOf(kind, q, "comfortableCurrent").Typ, p.board().Logic.Pin.Recommended) * comfort
	amps, ok := light.White(primaries, limit)
	if !ok {
		return "", errors.New("the colours of this LED cannot be mixed to white; look at their wavelengths")
	}
	if q.Values == nil {
		q.Values = map[string]float64{}
	}
	for i, e := range kind.Emitters {
		id := e.ID + "." + targetCurrent
		if err := build.CheckValue(kind, id, amps[i]); err != nil {
			return "", err
		}
		q.Values[id] = amps[i]
	}
	p.follow(q.ID)
	return "chose currents that give white for " + q.Name, nil
}

// lock keeps a signal on its pin, or lets it be moved.
func (p *planner) lock(q *build.Part, signal string, locked bool) (string, error) {
	i := slices.IndexFunc(q.Signals, func(s build.Signal) bool { return s.Name == signal })
	if i < 0 {
		return "", fmt.Errorf("%s has no signal %q", q.Name, signal)
	}
	q.Signals[i].Locked = locked
	if locked {
		return fmt.Sprintf("locked %s to %s", q.Name, q.Signals[i].Pin), nil
	}
	return fmt.Sprintf("unlocked %s from %s", q.Name, q.Signals[i].Pin), nil
}

// swap exchanges the pin of a signal with that of the signal on another pin.
func (p *planner) swap(q *build.Part, signal, pin string) (string, error) {
	i := slices.IndexFunc(q.Signals, func(s build.Signal) bool { return s.Name == signal })
	if i < 0 {
		return "", fmt.Errorf("%s has no signal %q", q.Name, signal)
	}
	from, id := q.Signals[i].Pin, q.ID
	for _, other := range p.doc.Parts {
		for _, s := range other.Signals {
			if s.Pin != pin || other.ID == id && s.Name == signal {
				continue
			}
			// By way of no pin at all, so that the two nets do not become one.
			if other.Hookup == "" || q.Hookup == "" {
				return "", fmt.Errorf("%s and %s cannot be exchanged: one of them is wired by hand", q.Name, other.Name)
			}
			p.release(id)
			if _, err := p.movePin(p.doc.Part(other.ID), s.Name, from); err != nil {
				return "", err
			}
			if _, err := p.movePin(p.doc.Part(id), signal, pin); err != nil {
				return "", err
			}
			return fmt.Sprintf("exchanged %s and %s", from, pin), nil
		}
	}
	return "", fmt.Errorf("nothing is on %s to exchange with", pin)
}

// match sets the wanted current of a lamp so that it gives as much light as
// another one does where it is brightest: light is in proportion to current.
func (p *planner) match(q *build.Part, kind *part.Kind, with string) (string, error) {
	other := p.doc.Part(with)
	if other == nil || other.ID == q.ID {
		return "", fmt.Errorf("%s can be as bright as another lamp only", q.Name)
	}
	otherKind, _ := p.lib.Catalogue.Kind(other.Kind)
	target, ok := kind.Value(targetCurrent)
	perAmp := func(k *part.Kind, x *build.Part) float64 {
		return wiring.ValueOf(k, x, "luminousIntensity").Typ / wiring.ValueOf(k, x, "testCurrent").Typ
	}
	if _, lamp := otherKind.Value(targetCurrent); !ok || !lamp || !(perAmp(kind, q) > 0) || !(perAmp(otherKind, other) > 0) {
		return "", fmt.Errorf("%s and %s are not both lamps of one colour that the eye sees", q.Name, other.Name)
	}
	n := p.known.Build(p.lib, p.doc)
	most := 0.0
	for _, l := range n.Lamps {
		piece := n.PieceWith(l.Element)
		if l.Part.ID != with || piece == nil {
			continue
		}
		states, err := piece.Planned(wiring.Current(l.Element))
		if err != nil {
			return "", err
		}
		for _, s := range states {
			most = max(most, s.TypicalAmps(l.Element))
		}
	}
	amps := most * perAmp(otherKind, other) / perAmp(kind, q)
	if amps < target.Min || amps > target.Max {
		return "", fmt.Errorf("%s would need %s to be as bright as %s", q.Name, quantity.Format(amps, quantity.Ampere), other.Name)
	}
	p.want(q, amps)
	return fmt.Sprintf("made %s as bright as %s", q.Name, other.Name), nil
}

// want sets the wanted current of a lamp and lets its resistor follow.
func (p *planner) want(q *build.Part, amps float64) {
	if q.Values == nil {
		q.Values = map[string]float64{}
	}
	q.Values[targetCurrent] = amps
	for _, h := range p.doc.Helpers(q.ID) {
		h.Chosen = h.Chosen || h.Role == "resistor"
	}
	p.follow(q.ID)
}

// bright sets the wanted current of a lamp to that with which it looks as bright
// as is said: light is in proportion to current, and the eye follows lightness.
func (p *planner) bright(q *build.Part, kind *part.Kind, text string) (string, error) {
	if _, ok := kind.Value(targetCurrent); !ok {
		return "", fmt.Errorf("%s is not a lamp of one colour", q.Name)
	}
	percent, err := strconv.ParseFloat(strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(text), "%")), 64)
	if err != nil || !(percent >= 1 && percent <= 100) {
		return "", fmt.Errorf("%q is not a brightness; 1 %% to 100 %% is one", text)
	}
	amps := wiring.ValueOf(kind, q, "testCurrent").Typ * light.Share(percent)
	if err := build.CheckValue(kind, "targetCurrent", amps); err != nil {
		return "", fmt.Errorf("%s at %g %% of its brightness: %w", q.Name, percent, err)
	}
	p.want(q, amps)
	return fmt.Sprintf("made %s %g %% bright", q.Name, percent), nil
}
