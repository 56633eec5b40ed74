package check

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
)

// inputStuck finds inputs that read the same whatever their contact does.
var inputStuck = rule{"input-stuck", func(f *facts) []Finding {
	var out []Finding
	for _, in := range f.digital() {
		reads := Reads("")
		same := true
		for _, v := range f.visits(in.node) {
			r := f.reads(v, in.node)
			same = same && (reads == "" || r == reads)
			reads = r
		}
		if in.piece == nil {
			reads = "the same"
		}
		if !same || reads == Floats {
			continue
		}
		pin, part := in.use.Pin.Name, in.claim.Part
		out = append(out, Finding{
			Level: Stop, Parts: []string{part.ID}, Pins: []string{pin},
			title: say("%s reads %s whatever %s does.", pinName(pin), reads, called(part.Name)),
			why:   words(f.stuckBecause(in)),
			Fixes: f.reconnect(in),
		})
	}
	return out
}}

// stuckBecause says why what a part does makes no difference to its input.
func (f *facts) stuckBecause(in input) string {
	p := in.claim.Part
	var wired []build.Terminal
	nodes := map[circuit.Node]bool{}
	for _, t := range f.kind(p).Terminals {
		if leg := build.Of(p.ID, t.ID); f.doc.NetOf(leg) >= 0 {
			wired = append(wired, leg)
			nodes[f.net.Node(leg)] = true
		}
	}
	switch {
	case len(nodes) == 1 && len(wired) > 1 && len(f.kind(p).Links) > 0:
		return "Its wires are on two legs that are joined inside, so pressing changes nothing: turn it by ninety degrees."
	case f.net.Stiff(in.node):
		return "A wire ties the pin straight to a rail or to ground, and that is stronger than anything."
	case len(wired) == 0:
		return fmt.Sprintf("No leg of %s is wired.", p.Name)
	case len(nodes) == 1 && len(wired) == 1:
		return fmt.Sprintf("Only %s is wired; its other side leads nowhere.", f.leg(wired[0]))
	case len(nodes) == 1:
		return "Both its sides are in one row."
	}
	return fmt.Sprintf("%s is not between the pin and a level that it could switch it to.", build.Capital(p.Name))
}

// reconnect wires a part as its hookup says, or the safe way when it did not
// come by one.
func (f *facts) reconnect(in input) []Fix {
	if in.claim.Part.Hookup == "" {
		return f.rewire(in.claim.Part)
	}
	return f.connect(in.claim.Part)
}
