package faults_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/faults/fault"
	"cablaggio/core/planning/plan"
)

func Example() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	for _, f := range fault.List(lib, doc, nil) {
		if f.Kind == fault.Turned {
			fmt.Println(f.Words)
		}
	}
	// Output:
	// Red LED 1 is the other way round.
}
