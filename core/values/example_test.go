package values_test

import (
	"fmt"

	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
)

func Example() {
	ohms, _ := quantity.Parse("187", quantity.Ohm)
	fmt.Println(quantity.Short(preferred.E12.Up(ohms), quantity.Ohm))
	// Output: 220 Ω
}
