package check

import (
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

// inputCrossed finds inputs that read what another part does, which has an input of
// its own: whoever moves the one, both read it.
var inputCrossed = rule{"input-crossed", func(f *facts) []Finding {
	var out []Finding
	all := f.read()
	for i, in := range all {
		for _, other := range all[i+1:] {
			a, b := in.claim.Part, other.claim.Part
			if in.piece == nil || a.ID == b.ID || in.use.Pin.Name == other.use.Pin.Name || !f.concerns(a.ID) {
				continue
			}
			pins := []string{in.use.Pin.Name, other.use.Pin.Name}
			x := Finding{Level: Stop, Parts: []string{a.ID, b.ID}, Pins: pins}
			switch {
			case in.node == other.node:
				x.title = say("%s and %s are joined: what %s does and what %s does, both read.", pinName(pins[0]), pinName(pins[1]), called(a.Name), called(b.Name))
				x.why = say("Two legs or two wires meet in one row, so the program cannot tell the two apart.")
				x.Fixes = append(f.apart(other), f.apart(in)...)
			case f.hears(in, other.claim):
				x.title = say("%s reads %s too, though %s is left alone.", pinName(pins[0]), called(b.Name), called(a.Name))
				x.why = say("Something joins it to the row of %s, so the program cannot tell the two apart.", called(b.Name))
				x.Fixes = append(f.connect(a), f.connect(b)...)
			default:
				continue
			}
			out = append(out, x)
		}
	}
	return out
}}

// hears reports whether a contact of another part alone changes what a digital input
// reads, while the input's own part is as the plan begins.
func (f *facts) hears(in input, other wiring.Claim) bool {
	if !slices.ContainsFunc(f.digital(), func(d input) bool { return d.node == in.node }) {
		return false
	}
	control := f.net.HandOf(other.Part.ID, other.Signal.Name)
	if control < 0 || f.net.Controls[control].Kind != wiring.Contact || !slices.Contains(in.piece.Controls, control) {
		return false
	}
	var seen [2]Reads
	for _, v := range f.planned(in.piece, wiring.Voltage(in.node)) {
		alone := true
		for i, c := range in.piece.Controls {
			alone = alone && (c == control || v.State[i] == f.net.Controls[c].Planned[0])
		}
		if setting, _ := in.piece.SettingOf(v.State, control); alone {
			seen[int(setting)] = f.reads(v, in.node)
		}
	}
	return seen[0] == ReadsLow && seen[1] == ReadsHigh || seen[0] == ReadsHigh && seen[1] == ReadsLow
}

// apart gives a pin and the legs of its part, which are in a net with others, a net of
// their own.
func (f *facts) apart(in input) []Fix {
	part := in.claim.Part
	if part.Hookup != "" {
		return f.connect(part)
	}
	pin := build.Pin(in.use.Pin.Name)
	net := f.doc.NetOf(pin)
	if net < 0 {
		return nil
	}
	var edits, joins []plan.Edit
	for _, t := range f.doc.Nets[net] {
		id, _ := t.Split()
		if owner := f.doc.Part(id); t == pin || owner != nil && owner.ID == part.ID {
			edits = append(edits, plan.Free{Terminal: t})
			if t != pin {
				joins = append(joins, plan.Join{Terminal: t, To: pin})
			}
		}
	}
	if len(joins) == 0 {
		return nil
	}
	return []Fix{{fmt.Sprintf("Put %s and %s into a row of their own", in.use.Pin.Name, part.Name), append(edits, joins...)}}
}
