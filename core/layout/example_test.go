package layout_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/planning/plan"
)

func Example() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	p, _ := placement.Place(lib, doc)
	fmt.Println(len(p.Seats), "parts,", len(p.Wires), "wires")
	// Output: 2 parts, 3 wires
}
