package table

import (
	"fmt"
	"io"

	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
)

// Wires writes the wires of a placement: from, to, colour, and how long each is
// at least.
func Wires(w io.Writer, p *placement.Placement) error {
	out := newSheet(w, "from", "to", "colour", "length in mm")
	for _, x := range p.Wires {
		out.row(x.From.String(), x.To.String(), x.Colour, fmt.Sprint(x.Millimetres))
	}
	return out.end()
}

// Links writes the connections of a build without a breadboard.
func Links(w io.Writer, links []assembly.Link) error {
	out := newSheet(w, "net", "from", "to", "wire in mm", "sleeve in mm")
	for _, x := range links {
		out.row(fmt.Sprint(x.Net), x.From, x.To, fmt.Sprint(x.Millimetres), fmt.Sprint(x.Sleeve))
	}
	return out.end()
}
