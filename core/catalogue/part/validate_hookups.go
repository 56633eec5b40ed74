package part

import (
	"cablaggio/core/catalogue/board"
	"fmt"
	"slices"
	"strings"
)

func (v *validator) hookups() {
	k := v.kind
	if len(k.Hookups) > MaxHookups {
		v.bad("hookups", "there are more than %d", MaxHookups)
	}
	for i, h := range k.Hookups {
		where := fmt.Sprintf("hookups[%d]", i)
		if !wordForm.MatchString(h.ID) || slices.ContainsFunc(k.Hookups[:i], func(x Hookup) bool { return x.ID == h.ID }) {
			v.bad(where+".id", "%q cannot be its id: each has its own", clip(h.ID))
		}
		v.text(where+".name", h.Name)
		v.text(where+".why", h.Why)
		if h.Host != nil && k.Own() {
			v.bad(where+".host", "only kinds that come with the program hang on others")
		}
		for j, s := range h.Signals {
			at := fmt.Sprintf("%s.signals[%d]", where, j)
			if !wordForm.MatchString(s.Name) || slices.ContainsFunc(h.Signals[:j], func(x Signal) bool { return x.Name == s.Name }) {
				v.bad(at+".name", "each signal has a name of its own")
			}
			if !slices.Contains(board.Functions, s.Needs) {
				v.bad(at+".needs", "%q is nothing that a pin does", clip(string(s.Needs)))
			}
			if !slices.Contains([]board.Pull{board.NoPull, board.PullUp, board.PullDown}, s.Pull) || s.Active != "" && s.Active != ActiveLow {
				v.bad(at, "a pull is up or down, and active is low, or they are left out")
			}
		}
		for j, x := range h.Helpers {
			at := fmt.Sprintf("%s.helpers[%d]", where, j)
			helper, ok := v.catalogue.Kind(x.Kind)
			if !roleForm.MatchString(x.Role) || slices.Contains([]string{"self", "pin", "board", "host"}, x.Role) || slices.ContainsFunc(h.Helpers[:j], func(y Helper) bool { return y.Role == x.Role }) {
				v.bad(at+".role", "each helper has a role of its own: a letter, then small letters, digits and hyphens, at most 15")
			}
			switch {
			case !ok || helper.Own():
				v.bad(at+".kind", "%q is no kind that can help", clip(x.Kind))
			case x.Value != 0 && (len(helper.Values) == 0 || !(x.Value >= helper.Values[0].Min && x.Value <= helper.Values[0].Max)):
				v.bad(at+".value", "a %s of %g is not possible", helper.Name, x.Value)
			}
		}
		v.joins(where, h)
	}
}

// joins checks that a hookup joins what there is, nothing of it twice, and each signal.
func (v *validator) joins(where string, h Hookup) {
	seen := map[string]bool{}
	for j, join := range h.Joins {
		at := fmt.Sprintf("%s.joins[%d]", where, j)
		if len(join) < 2 {
			v.bad(at, "a join has two ends or more")
		}
		for _, t := range join {
			if !v.end(h, t) {
				v.bad(at, "there is no %q to be joined here", clip(t))
			}
			if seen[t] && !strings.HasPrefix(t, "board.") {
				v.bad(at, "%s is joined twice", clip(t))
			}
			seen[t] = true
		}
	}
	for _, s := range h.Signals {
		if !seen["pin."+s.Name] {
			v.bad(where, "the pin of %s is joined with nothing", clip(s.Name))
		}
	}
	for i, name := range h.Row {
		has := func(join []string, name string) bool {
			return slices.ContainsFunc(join, func(t string) bool { return t == name || strings.HasPrefix(t, name+".") })
		}
		if i > 0 && !slices.ContainsFunc(h.Joins, func(join []string) bool { return has(join, h.Row[i-1]) && has(join, name) }) {
			v.bad(where+".row", "%s is drawn beside %s and not joined with it", clip(name), clip(h.Row[i-1]))
		}
	}
	if h.Tap != "" && !seen[h.Tap] {
		v.bad(where+".tap", "%s is joined with nothing", clip(h.Tap))
	}
}

// end reports whether a hookup has such an end of a join.
func (v *validator) end(h Hookup, t string) bool {
	if t == "host" {
		return h.Host != nil
	}
	who, leg, ok := strings.Cut(t, ".")
	if !ok {
		return false
	}
	switch who {
	case "self":
		return v.kind.HasTerminal(leg)
	case "pin":
		return slices.ContainsFunc(h.Signals, func(s Signal) bool { return s.Name == leg })
	case "board":
		return leg == "ground" || leg == "supply" || leg == "power"
	}
	i := slices.IndexFunc(h.Helpers, func(x Helper) bool { return x.Role == who })
	if i < 0 {
		return false
	}
	helper, ok := v.catalogue.Kind(h.Helpers[i].Kind)
	return ok && helper.HasTerminal(leg)
}
