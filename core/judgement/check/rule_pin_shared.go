package check

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
)

// pinShared finds pins that more than one signal claims, and that tell their parts apart in no
// state: lamps in rows and columns, or buttons with a resistor each, may share them.
var pinShared = rule{"pin-shared", func(f *facts) []Finding {
	var out []Finding
	for _, u := range f.net.Uses {
		for i, c := range u.Signals[1:] {
			first := u.Signals[0]
			if c.Signal.Bus != "" && c.Signal.Bus == first.Signal.Bus {
				continue // meant to be one line
			}
			if c.Signal.Needs == first.Signal.Needs && first.Part != c.Part && !slices.ContainsFunc(u.Signals[:i+1], func(d wiring.Claim) bool { return !f.toldApart(c, d) }) {
				continue
			}
			x := Finding{
				Level: Stop, Parts: []string{first.Part.ID, c.Part.ID}, Pins: []string{u.Pin.Name},
				title: say("%s and %s are both on %s.", called(first.Part.Name), called(c.Part.Name), pinName(u.Pin.Name)),
				why:   say("A pin cannot drive the one and read the other."),
				Fixes: f.moveTo(c),
			}
			if first.Part == c.Part {
				x.Parts = x.Parts[:1]
				x.title = say("%s has two of its signals on %s.", called(c.Part.Name), pinName(u.Pin.Name))
			}
			if first.Signal.Needs == c.Signal.Needs {
				x.Level = Care
				x.why = say("The program cannot tell them apart: what it does to one it does to the other.")
				if c.Signal.Needs == board.AnalogIn {
					x.Fixes = append(f.spread(c.Part), x.Fixes...)
					x.why = say("The program cannot tell them apart: what one gives the other may give, too.")
				}
			}
			out = append(out, x)
		}
	}
	return out
}}

// spread gives the resistor beside a contact another value, so that its reading is another.
func (f *facts) spread(contact *build.Part) (out []Fix) {
	for i := range f.doc.Parts {
		r := &f.doc.Parts[i]
		if !f.kind(r).Is(part.Resistor) {
			continue
		}
		for _, t := range f.kind(contact).Terminals {
			leg := f.nodeOf(contact.ID, t.ID)
			if f.net.Stiff(leg) || f.nodeOf(r.ID, "1") != leg && f.nodeOf(r.ID, "2") != leg {
				continue
			}
			for _, k := range []float64{0.1, 0.3, 3} {
				ohms := preferred.E12.Nearest(k * f.valueOf(r, "resistance"))
				out = append(out, Fix{fmt.Sprintf("Take %s for %s", quantity.Short(ohms, quantity.Ohm), r.Name), editsOf(value(r.ID, "resistance", ohms, quantity.Ohm))})
			}
			break
		}
	}
	return out
}

// toldApart reports whether a program can tell two parts on one pin from each other.
func (f *facts) toldApart(a, b wiring.Claim) bool {
	if a.Signal.Needs == board.AnalogIn {
		return f.readApart(a, b)
	}
	x, y := f.lampsOf(a.Part), f.lampsOf(b.Part)
	return len(x) > 0 && len(y) > 0 && f.litApart(x, y) && f.litApart(y, x)
}

// litApart reports whether for each of some lamps there is a state in which it is lit and none of
// the others is.
func (f *facts) litApart(lamps, others []wiring.Lamp) bool {
	for _, l := range lamps {
		p := f.net.PieceWith(l.Element)
		if p == nil {
			return false
		}
		a, k := f.net.Ends(l.Element)
		ends := []circuit.Node{a, k}
		for _, o := range others {
			if f.net.PieceWith(o.Element) == p {
				a, k := f.net.Ends(o.Element)
				ends = append(ends, a, k)
			}
		}
		if !slices.ContainsFunc(f.planned(p, wiring.Voltage(ends...)), func(v visit) bool {
			return v.TypicalAmps(l.Element) >= faintBelow && !slices.ContainsFunc(others, func(o wiring.Lamp) bool {
				return f.net.PieceWith(o.Element) == p && v.TypicalAmps(o.Element) >= darkBelow
			})
		}) {
			return false
		}
	}
	return true
}

// readApart reports whether each of two contacts alone gives a reading that neither the other
// gives, nor none of them, tolerances included.
func (f *facts) readApart(a, b wiring.Claim) bool {
	i := slices.IndexFunc(f.net.Uses, func(u wiring.Use) bool { return u.Pin.Name == a.Signal.Pin })
	control := func(c wiring.Claim) int {
		if i := f.net.HandOf(c.Part.ID, c.Signal.Name); i >= 0 && f.net.Controls[i].Kind == wiring.Contact {
			return i
		}
		return -1
	}
	x, y := control(a), control(b)
	if i < 0 || x < 0 || y < 0 {
		return false
	}
	piece := f.net.PieceWith(f.net.Find(wiring.Body, a.Part.ID, ""))
	if piece == nil || !slices.Contains(piece.Controls, x) || !slices.Contains(piece.Controls, y) {
		return false
	}
	rest := make(wiring.State, len(piece.Controls))
	for k, c := range piece.Controls {
		rest[k] = f.net.Controls[c].Planned[0]
		if f.net.Controls[c].Kind == wiring.Contact {
			rest[k] = wiring.Open
		}
	}
	var bands []wiring.Range
	for _, down := range []int{-1, x, y} {
		s := slices.Clone(rest)
		if down >= 0 {
			s[slices.Index(piece.Controls, down)] = wiring.Closed
		}
		v, err := piece.At(s)
		if err != nil {
			return false
		}
		bands = append(bands, f.counts(v, a.Signal.Pin))
	}
	const between = 4 // counts that noise takes (common practice)
	for i, p := range bands {
		for _, q := range bands[i+1:] {
			if math.Max(p.Low, q.Low) <= math.Min(p.High, q.High)+between {
				return false
			}
		}
	}
	return true
}
