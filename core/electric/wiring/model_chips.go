package wiring

import (
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/values/spec"
)

// register is a chip with outputs that the program sets one by one, and inputs
// that read levels against the chip's own supply. Outputs that nothing is wired
// to are left out.
func register(i instance, _ part.Element) {
	for _, leg := range i.kind.Outputs {
		if i.network.wired(build.Of(i.part.ID, leg)) {
			registerOutput(i, leg)
		}
	}
	for _, leg := range i.kind.Inputs {
		i.network.Inputs = append(i.network.Inputs, PartInput{
			Part: i.part, Leg: leg, Node: i.node(leg), Supply: i.node(i.kind.Feed.Plus),
			VIL: i.value("vil").Typ / 100, VIH: i.value("vih").Typ / 100,
		})
		e := i.element(spec.Value{Low: -1e-6, High: 1e-6, Source: "JEDEC JESD7: inputs leak at most 1 µA"}, "leakage of "+leg)
		e.Role, e.Name = Inner, "leakage of "+leg+" of "+i.part.Name
		i.addFed(circuit.Element{Kind: circuit.CurrentSource}, leg, i.kind.Feed.Minus, e)
		for _, ends := range [2][2]string{{leg, i.kind.Feed.Plus}, {i.kind.Feed.Minus, leg}} {
			e := plain(Element{Part: i.part.ID, Role: Inner, Name: "clamp of " + leg + " of " + i.part.Name + ", " + ends[0] + " to " + ends[1]})
			i.add(circuit.Element{Kind: circuit.Diode, Junction: clamp}, ends[0], ends[1], e)
		}
	}
}

// echo is a module that sends a sound when it is triggered, and holds its output high for as long as
// the echo takes: an input and an output as those of a chip. What it is in front of moves nothing
// in the circuit by itself.
func echo(i instance, in part.Element) {
	register(i, in)
	i.level(in.Hand)
}

// registerOutput is what drives one output of a chip, high from its supply and low
// to its ground.
func registerOutput(i instance, leg string) {
	limit := spec.Limit{Recommended: i.value("outputRecommended").Typ, Absolute: i.value("outputLimit").Typ, Source: i.value("outputLimit").Source}
	control := i.network.control(Control{Kind: Output, Of: i.part.ID + "." + leg, Name: leg + " of " + i.part.Name, Settings: []string{"low", "high"}, Planned: []float64{Low, High}})
	for _, side := range []struct {
		setting int
		a, b    string
	}{{High, i.kind.Feed.Plus, leg}, {Low, leg, i.kind.Feed.Minus}} {
		e := i.element(i.value("outputResistance"), "output resistance of "+leg)
		e.Role, e.Name, e.Limit = PartOut, "output "+leg+" of "+i.part.Name, limit
		e.control, e.on = control, bits(side.setting)
		i.add(circuit.Element{Kind: circuit.Switch}, side.a, side.b, e)
	}
}
