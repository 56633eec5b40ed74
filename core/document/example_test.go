package document_test

import (
	"fmt"

	"cablaggio/core/document/build"
)

func Example() {
	doc := build.New("a lamp", "classic-5v")
	doc.Join(build.Pin("D4"), build.Of("led1", "anode"))
	fmt.Println(doc.Nets)
	// Output: [[board.D4 led1.anode]]
}
