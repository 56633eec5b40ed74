package fault

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// part lists what can be wrong with a part and its legs.
func (l *lister) part(p *build.Part) {
	kind, _ := l.lib.Catalogue.Kind(p.Kind)
	var legs []build.Terminal
	for _, leg := range kind.LegOrder() {
		t := build.Of(p.ID, leg)
		if l.doc.NetOf(t) < 0 {
			continue
		}
		legs = append(legs, t)
		l.add(Fault{
			ID: "open:" + string(t), Kind: Open, Parts: []string{p.ID}, Cure: "seat:" + p.ID, edits: []edit{{op: loose, a: t}}, touches: []build.Terminal{t},
			Words: fmt.Sprintf("The %s of %s makes no contact, or %s is broken.", l.leg(t), p.Name, p.Name),
			Look:  fmt.Sprintf("Push the %s of %s in, then try another one in its place.", l.leg(t), p.Name),
		})
	}
	if len(legs) == 2 && !linked(kind, legs) {
		l.add(Fault{
			ID: "shorted:" + p.ID, Kind: Shorted, Parts: []string{p.ID}, edits: []edit{{op: join, a: legs[0], b: legs[1]}}, touches: legs,
			Words: fmt.Sprintf("The legs of %s are joined: they touch, or it is broken inside.", p.Name),
			Look:  fmt.Sprintf("See that the legs of %s do not touch, and that no wire goes past it; then try another one in its place.", p.Name),
		})
		if !kind.Body.Alike {
			l.add(Fault{
				ID: "turned:" + p.ID, Kind: Turned, Parts: []string{p.ID}, Cure: "turn:" + p.ID, edits: []edit{{op: exchange, a: legs[0], b: legs[1]}}, touches: legs,
				Words: fmt.Sprintf("%s is the other way round.", build.Capital(p.Name)),
				Look:  fmt.Sprintf("Turn %s round.%s", p.Name, l.home(legs)),
			})
		}
	}
	l.reversed(p, kind, legs)
	if kind.Is(part.Resistor) {
		ohms := wiring.ValueOf(kind, p, "resistance").Typ
		for _, by := range []float64{10, 0.1} {
			l.value(p, kind, legs, ohms, ohms*by)
		}
	}
	for i := 1; i < len(legs); i++ {
		if l.doc.NetOf(legs[i]) == l.doc.NetOf(legs[i-1]) || len(legs) == 2 {
			continue
		}
		l.add(Fault{
			ID: "touch:" + string(legs[i-1]) + ":" + string(legs[i]), Kind: Touch, Parts: []string{p.ID},
			edits: []edit{{op: join, a: legs[i-1], b: legs[i]}}, touches: []build.Terminal{legs[i-1], legs[i]},
			Words: fmt.Sprintf("The %s and the %s of %s touch.", l.leg(legs[i-1]), l.leg(legs[i]), p.Name),
			Look:  fmt.Sprintf("See that the legs of %s do not touch, above the breadboard and below.", p.Name),
		})
	}
	l.exchanged(p, kind)
}

// home says where the first of two legs belongs.
func (l *lister) home(legs []build.Terminal) string {
	end := End(l.placed, legs[0])
	if end == "" {
		return ""
	}
	return fmt.Sprintf(" Its %s belongs into %s.", l.leg(legs[0]), end)
}

// reversed lists a part with three or four legs in a line that is the other way round.
func (l *lister) reversed(p *build.Part, kind *part.Kind, legs []build.Terminal) {
	order := kind.LegOrder()
	n := len(order)
	if len(legs) < 3 || n > 4 || len(kind.Links) > 0 || kind.Body.Alike {
		return
	}
	f := Fault{ID: "turned:" + p.ID, Kind: Turned, Parts: []string{p.ID}, Cure: "turn:" + p.ID, touches: legs}
	for i := range n / 2 {
		f.edits = append(f.edits, edit{op: exchange, a: build.Of(p.ID, order[i]), b: build.Of(p.ID, order[n-1-i])})
	}
	f.Words = fmt.Sprintf("%s is the other way round.", build.Capital(p.Name))
	f.Look = fmt.Sprintf("Turn %s round.%s", p.Name, l.home([]build.Terminal{build.Of(p.ID, order[0])}))
	l.add(f)
}

func (l *lister) value(p *build.Part, kind *part.Kind, legs []build.Terminal, ohms, v float64) {
	if build.CheckValue(kind, "resistance", v) != nil {
		return
	}
	l.add(Fault{
		ID: fmt.Sprintf("value:%s:%g", p.ID, v), Kind: Value, Parts: []string{p.ID}, Cure: "value:" + p.ID, edits: []edit{{op: set, part: p.ID, value: "resistance", to: v}}, touches: legs,
		Sight: fmt.Sprintf("%s is another one: it is to be one of %s.", build.Capital(p.Name), shown(ohms)),
		Words: fmt.Sprintf("%s is another one, of %s.", build.Capital(p.Name), shown(v)),
		Look:  fmt.Sprintf("Read the bands of %s again: it is to be one of %s.", p.Name, shown(ohms)),
	})
}

// swapped lists pairs of resistors that have each other's place.
func (l *lister) swapped() {
	type resistor struct {
		p    *build.Part
		ohms float64
	}
	var all []resistor
	for i := range l.doc.Parts {
		p := &l.doc.Parts[i]
		if kind, _ := l.lib.Catalogue.Kind(p.Kind); kind.Is(part.Resistor) {
			all = append(all, resistor{p, wiring.ValueOf(kind, p, "resistance").Typ})
		}
	}
	const most = 40 // pairs; of many resistors, neighbours in the list are taken for each other
	for i, r := range all {
		for k := i + 1; k < len(all) && (len(all)*len(all) < 2*most || k <= i+2); k++ {
			s := all[k]
			if ratio := r.ohms / s.ohms; ratio > 0.7 && ratio < 1.4 {
				continue
			}
			f := Fault{ID: "swapped:" + r.p.ID + ":" + s.p.ID, Kind: Swapped, Parts: []string{r.p.ID, s.p.ID}}
			f.edits = []edit{{op: set, part: r.p.ID, value: "resistance", to: s.ohms}, {op: set, part: s.p.ID, value: "resistance", to: r.ohms}}
			for _, p := range []*build.Part{r.p, s.p} {
				for _, leg := range []string{"1", "2"} {
					if t := build.Of(p.ID, leg); l.doc.NetOf(t) >= 0 {
						f.touches = append(f.touches, t)
					}
				}
			}
			f.Words = fmt.Sprintf("%s and %s have changed places.", build.Capital(r.p.Name), s.p.Name)
			f.Look = fmt.Sprintf("Read the bands: %s is to be one of %s, %s one of %s.", r.p.Name, shown(r.ohms), s.p.Name, shown(s.ohms))
			l.add(f)
		}
	}
}

// exchanged lists what another part of the same looks would be: a lamp of another colour,
// a case with the other common leg.
func (l *lister) exchanged(p *build.Part, kind *part.Kind) {
	with := func(f Fault, change func(q *build.Part)) {
		doc := l.doc.Clone()
		change(doc.Part(p.ID))
		if l.lib.Validate(doc) != nil {
			return
		}
		f.other, f.Parts = doc, []string{p.ID}
		for _, t := range kind.Terminals {
			if t := build.Of(p.ID, t.ID); l.doc.NetOf(t) >= 0 {
				f.touches = append(f.touches, t)
			}
		}
		l.add(f)
	}
	if kind.Is(part.LED) && len(p.Values) == 0 {
		if other := unlike(kind, p.Type); other != nil {
			with(Fault{
				ID: "colour:" + p.ID + ":" + other.ID, Kind: Colour,
				Words: fmt.Sprintf("%s is another one, a %s LED.", build.Capital(p.Name), other.Name),
				Look:  fmt.Sprintf("Look what colour %s lights in, or try another one.", p.Name),
			}, func(q *build.Part) { q.Type = other.ID })
		}
	}
	if len(kind.Emitters) > 1 {
		for _, k := range l.lib.Catalogue.Kinds {
			if k.ID == kind.ID || !k.Like(kind) || len(k.Terminals) != len(kind.Terminals) || k.Body.Package != kind.Body.Package {
				continue
			}
			with(Fault{
				ID: "case:" + p.ID + ":" + k.ID, Kind: Case,
				Words: fmt.Sprintf("%s is the other sort: a %s.", build.Capital(p.Name), k.Name),
				Look:  fmt.Sprintf("Try another one in the place of %s, or wire it as its sort wants it.", p.Name),
			}, func(q *build.Part) { q.Kind, q.Hookup, q.Type = k.ID, "", "" })
		}
	}
}

// unlike is the type whose forward voltage is farthest from that of another.
func unlike(kind *part.Kind, from string) (out *part.Type) {
	volts := func(t *part.Type) float64 { return t.Values["forwardVoltage"].Typ }
	i := slices.IndexFunc(kind.Types, func(t part.Type) bool { return t.ID == from })
	if i < 0 {
		return nil
	}
	most := 0.5 // volts; nearer ones look and read nearly the same
	for k := range kind.Types {
		t := &kind.Types[k]
		if nm, ok := t.Values["dominantWavelength"]; ok && nm.Typ > 780 { // not seen
			continue
		}
		if d := max(volts(t)-volts(&kind.Types[i]), volts(&kind.Types[i])-volts(t)); d > most {
			most, out = d, t
		}
	}
	return out
}

// linked reports whether legs are joined inside the part.
func linked(k *part.Kind, legs []build.Terminal) bool {
	return slices.ContainsFunc(k.Links, func(link []string) bool {
		return !slices.ContainsFunc(legs, func(t build.Terminal) bool {
			_, leg := t.Split()
			return !slices.Contains(link, leg)
		})
	})
}

// supply lists the board's rails that give nothing, and what the supply can lack.
func (l *lister) supply() {
	var rails []build.Terminal
	for _, r := range l.net.Board.Rails {
		t := build.Pin(r.Name)
		if l.doc.NetOf(t) < 0 {
			continue
		}
		rails = append(rails, t)
		l.add(Fault{
			ID: "no-rail:" + r.Name, Kind: NoRail, edits: []edit{{op: loose, a: t}}, touches: []build.Terminal{t},
			Words: fmt.Sprintf("Nothing comes from the board's %s.", r.Name),
			Look:  fmt.Sprintf("See that the board is fed, and that the wire is in its %s.", r.Name),
		})
	}
	if g := build.Pin(l.net.Board.Ground); l.doc.NetOf(g) >= 0 {
		l.add(Fault{
			ID: "no-rail:" + l.net.Board.Ground, Kind: NoRail, edits: []edit{{op: loose, a: g}}, touches: []build.Terminal{g},
			Words: "The wire to the board's ground is missing.",
			Look:  fmt.Sprintf("See that a wire goes from the board's %s to where the grounds meet.", l.net.Board.Ground),
		})
	}
	if l.doc.Also == "" {
		l.add(Fault{
			ID: "unfed", Kind: Unfed, edits: []edit{{op: cut}}, touches: rails, Ends: []breadboard.End{},
			Words: "The board has no power.",
			Look:  "See that its own lamp is lit; try another lead, another socket, and look whether something gets warm.",
		})
	}
	if l.doc.Cells != nil {
		const left = 0.75 // of the voltage: cells that are used up under load (common practice)
		doc := l.doc.Clone()
		if s, ok := l.net.Board.Supply(doc.Supply); ok {
			doc.Volts = doc.Fed(s).Typ * left
			doc.Cells = nil
			if l.lib.Validate(doc) == nil {
				l.add(Fault{
					ID: "sagging", Kind: Sagging, other: doc, touches: rails, Ends: []breadboard.End{},
					Words: fmt.Sprintf("The cells are nearly empty: they give %s.", quantity.Short(doc.Volts, quantity.Volt)),
					Look:  "Put fresh cells in.",
				})
			}
		}
	}
}

func shown(ohms float64) string { return quantity.Short(ohms, quantity.Ohm) }
