package judgement_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
)

func Example() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led", Hookup: "no-resistor"}})
	a, _ := check.Check(lib, doc)
	fmt.Println(a.Findings[0].Level, a.Findings[0].Fixes[0].Label)
	// Output: stop Put in a resistor of 270 Ω
}
