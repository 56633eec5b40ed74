package check

import (
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// turnAround swaps the legs of a part that has two, or wires it as its hookup
// says.
func (f *facts) turnAround(p *build.Part) []Fix {
	if len(f.kind(p).Terminals) != 2 {
		return f.connect(p)
	}
	return []Fix{{"Turn it around", []plan.Edit{plan.Flip{Part: p.ID}}}}
}

// connect wires a part by its hookup again, or by the usual one.
func (f *facts) connect(p *build.Part) []Fix {
	if h, ok := f.meant(p); ok {
		return f.hookup(p, h)
	}
	return nil
}

// meant is how a part is to be wired: as it says, or as is usual for its kind.
func (f *facts) meant(p *build.Part) (h part.Hookup, ok bool) {
	if h, ok = f.kind(p).Hookup(p.Hookup); !ok {
		return f.kind(p).Usual(f.net.Board)
	}
	return h, ok
}

// leg names a leg with its article: "the cathode of lamp 1", "one end of knob 1".
func (f *facts) leg(t build.Terminal) string {
	label := plan.Label(f.lib, f.doc, t)
	for _, bare := range []string{"one ", "leg ", "row ", "column ", "output ", "anode ", "cathode "} {
		if rest, ok := strings.CutPrefix(label, bare); ok && (bare == "one " || rest[0] >= '0' && rest[0] <= '9' || bare == "output ") {
			return label
		}
	}
	if t.OnBoard() {
		return label
	}
	return "the " + label
}

// usual wires a part as is usual for its kind.
func (f *facts) usual(p *build.Part) []Fix {
	h, ok := f.kind(p).Usual(f.net.Board)
	if !ok {
		return nil
	}
	return f.hookup(p, h)
}

// hookup wires a part by a hookup.
func (f *facts) hookup(p *build.Part, h part.Hookup) []Fix {
	return []Fix{{"Wire it as: " + h.Name, editsOf(plan.Hookup{Part: p.ID, Hookup: h.ID})}}
}

func editsOf(edits ...plan.Edit) []plan.Edit { return edits }
