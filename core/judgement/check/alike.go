package check

import (
	"fmt"
	"slices"

	"cablaggio/core/planning/plan"
)

// fewAlike is from how many findings on that say the same of parts of one kind they are
// told as one.
const fewAlike = 3

// mostNamed is how many of the others are named.
const mostNamed = 24

// together makes one finding of those that say the same of parts of one kind, with the
// list of them inside. They are told as one when one fix mends them all, or none has any.
func (f *facts) together(all, raw []Finding) []Finding {
	shapes := map[string][]int{}
	var order []string
	for i := range all {
		s := f.shape(&all[i])
		if s == "" {
			continue
		}
		if shapes[s] == nil {
			order = append(order, s)
		}
		shapes[s] = append(shapes[s], i)
	}
	gone := map[int]bool{}
	for _, s := range order {
		members := shapes[s]
		if len(members) < fewAlike {
			continue
		}
		one, ok := f.merged(all, raw, members)
		if !ok {
			continue
		}
		all[members[0]] = one
		for _, i := range members[1:] {
			gone[i] = true
		}
	}
	var out []Finding
	for i, x := range all {
		if !gone[i] {
			out = append(out, x)
		}
	}
	return out
}

// shape is what a finding says without the names of what it says it of, or nothing when
// it is about no part.
func (f *facts) shape(x *Finding) string {
	if len(x.Parts) == 0 {
		return ""
	}
	var own []string
	for _, id := range x.Parts {
		own = append(own, f.doc.Part(id).Name)
	}
	if x.which != "" {
		own = append(own, x.which)
	}
	own = append(own, x.Pins...)
	first := f.doc.Part(x.Parts[0])
	return fmt.Sprintf("%s|%s|%s|%s|%d|%s|%s", x.Rule, x.Level, first.Kind, first.Type, len(x.Fixes), x.title.shape(own, x.At), x.why.shape(own, x.At))
}

// merged is one finding for several that say the same.
func (f *facts) merged(all, raw []Finding, members []int) (Finding, bool) {
	one := all[members[0]]
	one.Parts, one.Pins = slices.Clone(one.Parts), slices.Clone(one.Pins)
	var names []string
	var fix Fix
	for k, i := range members {
		x := &all[i]
		one.Also = append(one.Also, x.ID)
		if k > 0 {
			name := f.doc.Part(x.Parts[0]).Name
			if x.Parts[0] == all[members[0]].Parts[0] && x.which != "" {
				name = x.which
			}
			if len(x.Pins) > 0 && x.title.names(x.Pins[0]) {
				name = x.Pins[0]
			}
			if !slices.Contains(names, name) {
				names = append(names, name)
			}
			for _, id := range x.Parts {
				if !slices.Contains(one.Parts, id) {
					one.Parts = append(one.Parts, id)
				}
			}
			for _, pin := range x.Pins {
				if !slices.Contains(one.Pins, pin) {
					one.Pins = append(one.Pins, pin)
				}
			}
		}
		if len(x.Fixes) > 0 {
			for _, e := range x.Fixes[0].Edits {
				if !slices.ContainsFunc(fix.Edits, func(have plan.Edit) bool { return have == e }) {
					fix.Edits = append(fix.Edits, e)
				}
			}
		}
	}
	one.title = say("%s So it is with %d more.", one.title, len(members)-1)
	one.why = say("%s The others: %s.", one.why, shorten(names, mostNamed))
	if len(one.Fixes) == 0 {
		return one, true
	}
	fix.Label = one.Fixes[0].Label
	if len(fix.Edits) > len(one.Fixes[0].Edits) {
		fix.Label += ", and so with the others"
	}
	if len(fix.Edits) > plan.MaxEdits {
		return one, false
	}
	for _, i := range members {
		if !f.improves(all, raw, &all[i], fix) {
			return one, false
		}
	}
	one.Fixes = []Fix{fix}
	return one, true
}
