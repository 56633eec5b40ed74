package output_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/output/assembly"
	"cablaggio/core/planning/plan"
)

func Example() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	for _, link := range assembly.Links(lib, doc) {
		fmt.Println(link.From, link.To)
	}
	// Output:
	// D4 resistor of red LED 1, one end
	// resistor of red LED 1, other end red LED 1, long leg
	// GND red LED 1, short leg
}
