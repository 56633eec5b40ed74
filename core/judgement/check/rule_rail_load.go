package check

// railLoad holds what parts draw from each rail against what it can give them.
var railLoad = rule{"rail-load", func(f *facts) []Finding {
	var out []Finding
	for _, r := range f.board.Rails {
		for _, x := range f.total(func(f *facts) total { return f.fromRail(r.Name) }, r.Limit, 0, called(r.Name),
			"Parts draw up to %[1]s from the %[3]s rail; %[2]s is recommended.",
			"Parts draw up to %[1]s from the %[3]s rail; it gives %[2]s.",
			"Its voltage sags, and with it everything that is fed from it.") {
			x.which = r.Name
			out = append(out, x)
		}
	}
	return out
}}
