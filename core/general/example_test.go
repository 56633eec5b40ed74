package general_test

import (
	"fmt"

	"cablaggio/core/general/union"
)

func Example() {
	nets := union.Apart(4) // places
	nets.Join(0, 2)        // a wire
	fmt.Println(nets.Are(0, 2), nets.Are(0, 1))
	// Output: true false
}
