package check

import (
	"fmt"
	"reflect"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

// maxFixes is how many ways out a finding shows: more is a list to read.
const maxFixes = 3

// prove returns the fixes that are good for the whole build. Where none of them is, the
// parts that the finding is about may be wired as their hookups say; and where nothing else
// helps against a stop, something may be taken out.
func (f *facts) prove(all, raw []Finding, x *Finding) []Fix {
	good := func(tries []Fix, most int) []Fix {
		proven := []Fix{}
		for _, fix := range tries {
			same := func(y Fix) bool { return reflect.DeepEqual(y.Edits, fix.Edits) }
			if len(proven) < most && !slices.ContainsFunc(proven, same) && f.improves(all, raw, x, fix) {
				proven = append(proven, fix)
			}
		}
		return proven
	}
	proven := good(x.Fixes, maxFixes)
	if len(proven) == 0 && len(x.Fixes) > 0 && x.Level != Note {
		var tries []Fix
		for _, id := range x.Parts {
			p := f.doc.Part(id)
			tries = slices.Concat(tries, f.connect(p), f.usual(p))
		}
		proven = good(tries, 1)
	}
	if len(proven) == 0 && x.Level == Stop {
		proven = good(f.takeOut(x), 1)
	}
	return proven
}

// takeOut is what helps when nothing else does: which wire to take out, also to wire the part anew,
// or which part, until it is clear what it is for.
func (f *facts) takeOut(x *Finding) (out []Fix) {
	for _, id := range x.Parts {
		p := f.doc.Part(id)
		for _, t := range f.kind(p).Terminals {
			if leg := build.Of(id, t.ID); f.doc.NetOf(leg) >= 0 {
				out = append(out, Fix{"Take the wire off " + f.leg(leg), editsOf(plan.Free{Terminal: leg})})
			}
		}
	}
	for _, pin := range x.Pins {
		if f.doc.NetOf(build.Pin(pin)) >= 0 {
			out = append(out, Fix{"Take the wire off " + pin, editsOf(plan.Free{Terminal: build.Pin(pin)})})
		}
	}
	// What else is joined to the pin may be what does not belong there.
	for _, pin := range x.Pins {
		if k := f.doc.NetOf(build.Pin(pin)); k >= 0 {
			for _, t := range f.doc.Nets[k] {
				if id, _ := t.Split(); t != build.Pin(pin) && !slices.Contains(x.Parts, id) {
					out = append(out, Fix{"Take the wire off " + f.leg(t), editsOf(plan.Free{Terminal: t})})
				}
			}
		}
	}
	for _, id := range x.Parts {
		p := f.doc.Part(id)
		for _, s := range p.Signals {
			if slices.Contains(x.Pins, s.Pin) {
				if h, ok := f.meant(p); ok {
					edits := editsOf(plan.Free{Terminal: build.Pin(s.Pin)}, plan.Hookup{Part: p.ID, Hookup: h.ID})
					out = append(out, Fix{fmt.Sprintf("Take the wire off %s, then wire it as: %s", s.Pin, h.Name), edits})
				}
			}
		}
	}
	for _, id := range x.Parts {
		out = append(out, Fix{"Remove " + f.doc.Part(id).Name, editsOf(plan.Remove{Part: id})})
	}
	return out
}

// improves reports whether after a fix a finding is gone and none that is as bad has
// come, anywhere in the build: none beside all that are found, raw, and none to be told
// beside all that are told. No lamp that was lit may go out for it.
func (f *facts) improves(told, raw []Finding, x *Finding, fix Fix) bool {
	g := f.after(fix.Edits)
	if g == nil {
		return false
	}
	about := *g
	about.only = slices.Concat(x.Parts, x.Pins)
	same := func(y Finding) bool { return y.ID == x.ID }
	if slices.ContainsFunc(about.by(rules[rank[x.Rule]]), same) {
		return false
	}
	bad := func(found, before []Finding) bool {
		return slices.ContainsFunc(found, func(y Finding) bool {
			return same(y) || (!x.Level.Worse(y.Level) || y.Rule == ledDark.id) && y.IsNew(before)
		})
	}
	changed := g.changed(f)
	// What could not be solved or judged may hide something.
	return !bad(changed, raw) && !bad(once(changed), told) && !g.unsolved.Load()
}

// changed is what is found about the parts and pins whose circuit is not as it is in
// other facts, and about the build as a whole; worked out once.
func (f *facts) changed(before *facts) []Finding {
	f.judged.Do(func() {
		g := *f
		g.only = f.touched(before)
		f.found = g.find()
	})
	return f.found
}

// touched lists the parts and pins that are of pieces which other facts have not, and
// the parts that are not as they are there.
func (f *facts) touched(before *facts) []string {
	was := map[string]bool{}
	for _, p := range before.net.Pieces {
		was[before.names(p)] = true
	}
	out := []string{}
	for _, p := range f.net.Pieces {
		if was[f.names(p)] {
			continue
		}
		for _, i := range p.Elements {
			e := &f.net.Elements[i]
			for _, name := range []string{e.Part, e.Pin} {
				if name != "" && !slices.Contains(out, name) {
					out = append(out, name)
				}
			}
		}
	}
	for i := range f.doc.Parts {
		p := &f.doc.Parts[i]
		q := before.doc.Part(p.ID)
		if slices.Contains(out, p.ID) || q != nil && reflect.DeepEqual(p, q) && f.sameNets(before, p) {
			continue
		}
		out = append(out, p.ID)
		for _, s := range p.Signals {
			out = append(out, s.Pin)
		}
	}
	// A pin that is wired to nothing any more is of no piece.
	for _, u := range f.net.Uses {
		if !f.sameNet(before, build.Pin(u.Pin.Name)) {
			out = append(out, u.Pin.Name)
			for _, c := range u.Signals {
				out = append(out, c.Part.ID)
			}
		}
	}
	return out
}

// names says what a piece is and what it is made of.
func (f *facts) names(p *wiring.Piece) string {
	var b strings.Builder
	b.WriteString(p.Alike())
	for _, i := range p.Elements {
		e := &f.net.Elements[i]
		b.WriteString(e.Part)
		b.WriteByte('/')
		b.WriteString(e.Pin)
		b.WriteByte(' ')
	}
	return b.String()
}

// sameNets reports whether the legs of a part are wired to something just where they
// are in other facts.
func (f *facts) sameNets(before *facts, p *build.Part) bool {
	return !slices.ContainsFunc(f.kind(p).Terminals, func(t part.Terminal) bool { return !f.sameNet(before, build.Of(p.ID, t.ID)) })
}

// sameNet reports whether a leg or a pin is wired to just what it is wired to in other facts.
func (f *facts) sameNet(before *facts, t build.Terminal) bool {
	a, b := f.doc.NetOf(t), before.doc.NetOf(t)
	return (a < 0) == (b < 0) && (a < 0 || slices.Equal(f.doc.Nets[a], before.doc.Nets[b]))
}
