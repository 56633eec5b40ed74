package plan

import (
	"fmt"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/values/quantity"
)

// How two resistors make one value; the role of the second says it behind the
// role of the first.
const (
	InSeries   = "series"
	InParallel = "parallel"
	secondRole = "-in-"
)

// pair makes a resistor that a hookup brought two: the first with one value, and
// a second with another, in series or in parallel with it.
func (p *planner) pair(r *build.Part, e Pair) (string, error) {
	if r.Of == "" || strings.Contains(r.Role, secondRole) || e.Value != InSeries && e.Value != InParallel {
		return "", fmt.Errorf("%s cannot be made two resistors in series or in parallel", r.Name)
	}
	kind, _ := p.lib.Catalogue.Kind(r.Kind)
	id := r.ID
	if _, err := p.value(r, kind, "resistance", e.Text); err != nil {
		return "", err
	}
	r = p.doc.Part(id) // an earlier second one may have gone
	two := build.Part{ID: p.freeID(id + "-second"), Kind: r.Kind, Name: "second " + r.Name, Of: r.Of, Role: r.Role + secondRole + e.Value}
	p.doc.Parts = append(p.doc.Parts, two)
	second := p.doc.Part(two.ID)
	if _, err := p.value(second, kind, "resistance", e.With); err != nil {
		return "", err
	}
	p.attach(p.doc.Part(id), second)
	return fmt.Sprintf("made %s of %s and %s in %s", p.doc.Part(id).Name, short(p.doc.Part(id)), short(second), e.Value), nil
}

func short(r *build.Part) string { return quantity.Short(r.Values["resistance"], quantity.Ohm) }

// secondOf returns the second resistor of a pair, or nil.
func (p *planner) secondOf(r *build.Part) *build.Part {
	if r.Of == "" {
		return nil
	}
	for _, h := range p.doc.Helpers(r.Of) {
		if base, _, ok := strings.Cut(h.Role, secondRole); ok && base == r.Role && h.ID != r.ID {
			return h
		}
	}
	return nil
}

// attach wires the second resistor of a pair beside or behind the first.
func (p *planner) attach(first, second *build.Part) {
	one, other := build.Of(first.ID, "1"), build.Of(first.ID, "2")
	if strings.HasSuffix(second.Role, InParallel) {
		p.doc.Join(build.Of(second.ID, "1"), one)
		p.doc.Join(build.Of(second.ID, "2"), other)
		return
	}
	net := p.doc.NetOf(other)
	if net < 0 {
		p.doc.Join(other, build.Of(second.ID, "1"))
		return
	}
	for _, t := range p.doc.Nets[net] {
		if t != other {
			p.doc.Free(other)
			p.doc.Join(other, build.Of(second.ID, "1"))
			p.doc.Join(build.Of(second.ID, "2"), t)
			return
		}
	}
}

// single takes the second resistor of a pair away: the first then does it alone.
func (p *planner) single(r *build.Part) {
	second := p.secondOf(r)
	if second == nil {
		return
	}
	if strings.HasSuffix(second.Role, InSeries) {
		if net := p.doc.NetOf(build.Of(second.ID, "2")); net >= 0 {
			p.doc.Join(build.Of(r.ID, "2"), build.Of(second.ID, "2"))
		}
	}
	p.doc.RemovePart(second.ID)
}
