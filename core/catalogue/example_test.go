package catalogue_test

import (
	"fmt"

	"cablaggio/core/catalogue/board"
)

func Example() {
	for _, b := range board.Shipped() {
		if b.ID == "classic-5v" {
			fmt.Println(b.Name, len(b.Pins), "pins")
		}
	}
	// Output: Classic 5 V board 20 pins
}
