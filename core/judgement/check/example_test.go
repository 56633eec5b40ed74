package check_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
)

func ExampleCheck() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp without a resistor", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Hookup: "no-resistor"}})
	a, _ := check.Check(lib, doc)
	f := a.Findings[0]
	fmt.Println(f.Level, f.Title)
	fmt.Println("in state", f.At)
	fmt.Println("fix:", f.Fixes[0].Label)
	// Output:
	// stop red LED 1 gets up to 189 mA; it survives 30 mA.
	// in state map[D4:high]
	// fix: Put in a resistor of 270 Ω
}
