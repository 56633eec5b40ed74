// Package spice writes the circuit of a build as a netlist that circuit
// simulators of the SPICE family run as it is.
package spice

import (
	"fmt"
	"io"
	"strings"

	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/version"
)

// Write writes the circuit of a network with its controls at the settings and
// its tolerances at the corner, as a deck that solves the operating point and
// prints the voltage of every node. Node n of the circuit is called Prefix + n.
//
// The deck asks for tighter tolerances than a simulator's own, and for a lower
// bound of saturation currents: LEDs have smaller ones than silicon.
func Write(w io.Writer, n *wiring.Network, settings []float64, corner wiring.Corner) error {
	var b strings.Builder
	fmt.Fprintf(&b, "* %s\n* %s\n", oneLine(n.Doc.Title), version.Name)
	for i, c := range n.Controls {
		fmt.Fprintf(&b, "* %s\n", oneLine(c.Words(settings[i])))
	}
	b.WriteString(Options)
	c, origin, _ := n.Circuit(settings, corner)
	Body(&b, c, "", func(i int) string { return n.Elements[origin[i]].Name })
	b.WriteString(".op\n.print op all\n.end\n")
	_, err := io.WriteString(w, b.String())
	return err
}

// Options is the line with which a simulator gives our numbers: temperature as
// in [circuit.ThermalVoltage], and tolerances.
const Options = ".options temp=27 tnom=27 reltol=1e-5 abstol=1e-13 vntol=1e-8 itl1=500 gmin=1e-12 epsmin=1e-60\n"

// Prefix is what the names of nodes begin with.
const Prefix = "n"

// Body writes the elements of a circuit, with what name says of each as a
// comment. The names of nodes and elements begin with a label, so that several
// circuits can stand in one deck.
func Body(b *strings.Builder, c *circuit.Circuit, label string, name func(element int) string) {
	node := func(n circuit.Node) string {
		if n == circuit.Ground {
			return "0"
		}
		return fmt.Sprintf("%s%s%d", label, Prefix, n)
	}
	for i, e := range c.Elements {
		id := fmt.Sprintf("%s_%d", label, i)
		ends := node(e.A) + " " + node(e.B)
		comment := ""
		if name != nil {
			comment = " ; " + oneLine(name(i))
		}
		switch e.Kind {
		case circuit.Resistor:
			fmt.Fprintf(b, "R%s %s %.17g%s\n", id, ends, e.Value, comment)
		case circuit.Switch:
			if !e.Open {
				fmt.Fprintf(b, "R%s %s %.17g%s\n", id, ends, e.Value, comment)
			}
		case circuit.VoltageSource:
			fmt.Fprintf(b, "V%s %s %.17g%s\n", id, ends, e.Value, comment)
		case circuit.CurrentSource:
			fmt.Fprintf(b, "I%s %s %.17g%s\n", id, ends, e.Value, comment)
		case circuit.Capacitor:
			fmt.Fprintf(b, "C%s %s %.17g%s\n", id, ends, e.Value, comment)
		case circuit.Inductor:
			fmt.Fprintf(b, "L%s %s %sl%s %.17g%s\nR%s %sl%s %s %.17g\n", id, node(e.A), label, id, e.Value, comment, id, label, id, node(e.B), e.Ohms)
		case circuit.Transport:
			// The base's currents are diodes of their own, so the gains are as good as infinite.
			fmt.Fprintf(b, "Q%s %s %s %s M%s%s\n.model M%s NPN(IS=%.17g BF=1e15 BR=1e15)\n", id, node(e.A), node(e.Control), node(e.B), id, comment, id, e.Value)
		case circuit.Channel:
			fmt.Fprintf(b, "M%s %s %s %s %s M%s W=1 L=1%s\n.model M%s NMOS(LEVEL=1 KP=%.17g VTO=%.17g IS=1e-30)\n", id, node(e.A), node(e.Control), node(e.B), node(e.B), id, comment, id, e.Value, e.Threshold)
		case circuit.Diode:
			fmt.Fprintf(b, "D%s %s M%s%s\n.model M%s D(IS=%.17g N=%.17g RS=%.17g)\n", id, ends, id, comment, id, e.Junction.Is, e.Junction.N, e.Junction.Rs)
		}
	}
	// Every node has a way to ground, as in our own solution.
	for n := 1; n < c.Nodes(); n++ {
		fmt.Fprintf(b, "R%s_gmin%d %s 0 1e12\n", label, n, node(circuit.Node(n)))
	}
}

// oneLine keeps a name from ending the line that it stands in.
func oneLine(s string) string {
	return strings.Map(func(r rune) rune {
		if r < ' ' || r > '~' {
			return '_'
		}
		return r
	}, s)
}
