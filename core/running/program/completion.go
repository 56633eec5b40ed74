package program

import "cablaggio/core/document/build"

// A Name is what a starter calls something of a build, and an editor completes.
type Name struct {
	Pin   string `json:"pin"`
	Name  string `json:"name"`
	Words string `json:"words"` // whose it is: "stop request lamp", "red of sky"
}

// names lists the names of an outline, in the order in which a starter gives them.
func (o *outline) names(l build.Language) []Name {
	out := []Name{}
	add := func(pin, words string) { out = append(out, Name{pin, o.identifier(words, l), words}) }
	for _, x := range o.outs {
		add(x.pin, x.words)
	}
	for _, x := range o.ins {
		add(x.pin, x.words)
	}
	for _, x := range o.knobs {
		add(x.pin, x.words)
	}
	for _, x := range o.pulses {
		add(x.pin, x.words)
	}
	return out
}
