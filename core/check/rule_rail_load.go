package check

import ()

// railLoad holds what parts draw from each rail against what it can give them.
var railLoad = rule{"rail-load", func(f *facts) []Finding {
	var out []Finding
	for _, r := range f.board.Rails {
		for _, x := range f.total(func(f *facts) total { return f.fromRail(r.Name) }, r.Limit, 0,
			"Parts draw up to %s from the "+r.Name+" rail; %s is recommended.",
			"Parts draw up to %s from the "+r.Name+" rail; it gives %s.",
			"Its voltage sags, and with it everything that is fed from it.") {
			x.which = r.Name
			out = append(out, x)
		}
	}
	return out
}}
