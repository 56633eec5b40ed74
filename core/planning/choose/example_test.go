package choose_test

import (
	"fmt"

	"cablaggio/core/planning/choose"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/spec"
)

func ExampleResistor() {
	red := choose.Loop{
		Volts: spec.Value{Low: 4.75, Typ: 5, High: 5.25}, Forward: spec.Value{Low: 1.8, Typ: 2, High: 2.2},
		Amps: 0.02, N: 2, Rs: 3, Tolerance: 0.05,
	}
	candidates, _ := choose.Resistor(red, choose.Wish{Amps: 0.010, Limit: 0.020, Series: preferred.E12})
	best := choose.Best(candidates)
	fmt.Printf("%g ohm: %.1f mA, at most %.1f mA\n", best.Ohms, 1000*best.Amps.Typ, 1000*best.Amps.High)
	// Output:
	// 330 ohm: 9.3 mA, at most 11.2 mA
}
