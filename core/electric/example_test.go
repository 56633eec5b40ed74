package electric_test

import (
	"fmt"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
)

func Example() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	net := wiring.Build(lib, doc)
	lamp := net.Lamps[0]
	states, _ := net.PieceWith(lamp.Element).Planned(wiring.Current(lamp.Element))
	for _, s := range states {
		fmt.Printf("%s: %.1f mA\n", s.Words(), 1e3*s.TypicalAmps(lamp.Element))
	}
	// Output:
	// D4 (red LED 1) is low: 0.0 mA
	// D4 (red LED 1) is high: 10.4 mA
}
