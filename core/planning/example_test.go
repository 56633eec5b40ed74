package planning_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/phrase"
	"cablaggio/core/planning/plan"
)

func Example() {
	lib := build.Shipped()
	said := phrase.Parse(lib.Catalogue, "a red led and a button")
	doc, _, _ := plan.Apply(lib, build.New("a bell", "classic-5v"), said.Edits)
	for _, p := range doc.Parts {
		fmt.Println(p.Name)
	}
	// Output:
	// red LED 1
	// resistor of red LED 1
	// Button 1
}
