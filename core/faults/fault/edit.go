package fault

import (
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// An edit is one change that a fault makes, of the network or of the document.
type edit struct {
	op          op
	a, b        build.Terminal
	part, value string
	to          float64
}

type op uint8

const (
	loose op = iota
	join
	exchange
	set
	cut // the supply
)

func (e edit) change() wiring.Change {
	switch e.op {
	case loose:
		return wiring.Loose(e.a)
	case join:
		return wiring.Join(e.a, e.b)
	case exchange:
		return wiring.Exchange(e.a, e.b)
	case cut:
		return wiring.Unpowered()
	}
	return wiring.Set(e.part, e.value, e.to)
}

func (e edit) on(d *build.Document) {
	switch e.op {
	case loose:
		d.Free(e.a)
	case join:
		d.Join(e.a, e.b)
	case exchange:
		for _, net := range d.Nets {
			for i, t := range net {
				switch t {
				case e.a:
					net[i] = e.b
				case e.b:
					net[i] = e.a
				}
			}
		}
	case set:
		p := d.Part(e.part)
		if p.Values == nil {
			p.Values = map[string]float64{}
		}
		p.Values[e.value] = e.to
		p.Chosen = false
	}
}

// Apply returns the build with the fault in it, and whether a build can have it: what is
// wrong in the program, or only now and then, is not a build's. What was noted of the
// breadboard is left out, for the wiring is another.
func (f *Fault) Apply(doc *build.Document) (*build.Document, bool) {
	if len(f.pins) > 0 || f.half || f.Kind == Unfed {
		return nil, false
	}
	out := doc.Clone()
	if f.other != nil {
		out = f.other.Clone()
	}
	for _, e := range f.edits {
		e.on(out)
	}
	out.Assembly = nil
	return out, true
}

// A pin is what the program, or a dead pin, makes of what a control should be.
type pin struct {
	of string            // the control
	to map[string]string // by the setting that it should have; "" is any other
	as string            // it gets what this control should have
	// misread: the program takes its level for the other one.
	misread bool
}

// Misreads reports whether the program takes the level of a digital input for the other one.
func (f *Fault) Misreads(name string) bool {
	return slices.ContainsFunc(f.pins, func(p pin) bool { return p.misread && p.of == name })
}

// Under returns the settings that there are when the program means to make others: with a
// fault of the program, or a dead pin, they are not the same.
func (f *Fault) Under(n *wiring.Network, meant wiring.Settings) wiring.Settings {
	if len(f.pins) == 0 {
		return meant
	}
	full, err := n.Resolve(meant)
	if err != nil {
		return meant
	}
	is := map[string]string{}
	for i := range n.Controls {
		is[n.Controls[i].Of] = n.Controls[i].Text(full[i])
	}
	out := wiring.Settings{}
	for of, to := range meant {
		out[of] = to
	}
	for _, p := range f.pins {
		should, ok := is[p.of]
		if !ok {
			continue
		}
		switch {
		case p.as != "":
			out[p.of] = is[p.as]
		case p.to[should] != "":
			out[p.of] = p.to[should]
		case p.to[""] != "":
			out[p.of] = p.to[""]
		}
	}
	return out
}

func lower(s string) string { return strings.ToLower(s[:1]) + s[1:] }
