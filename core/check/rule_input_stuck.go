package check

import (
	"fmt"
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
			Title: fmt.Sprintf("%s reads %s whatever %s does.", pin, reads, part.Name),
			Why:   "The contact is not between the pin and a level: a leg leads nowhere, or the pin is on two legs that are joined inside.",
			Fixes: f.reconnect(in),
		})
	}
	return out
}}

// reconnect wires a part as its hookup says, or the safe way when it did not
// come by one.
func (f *facts) reconnect(in input) []Fix {
	if in.claim.Part.Hookup == "" {
		return f.rewire(in.claim.Part)
	}
	return f.connect(in.claim.Part)
}
