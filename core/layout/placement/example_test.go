package placement_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
)

func ExamplePlace() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	p, _ := placement.Place(lib, doc)
	for _, seat := range p.Seats {
		fmt.Println(seat.Part, len(seat.Legs), "legs")
	}
	fmt.Println(len(p.Wires), "wires")
	// Output:
	// led1 2 legs
	// led1-resistor 2 legs
	// 3 wires
}
