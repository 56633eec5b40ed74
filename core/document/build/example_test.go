package build_test

import (
	"errors"
	"fmt"

	"cablaggio/core/document/build"
)

func ExampleLibrary_Parse() {
	_, err := build.Shipped().Parse([]byte(`{"format": "cablaggio.build/1", "title": "lamp", "board": "toaster", "parts": [], "nets": []}`))
	var wrong build.Problems
	if errors.As(err, &wrong) {
		fmt.Println(wrong[0].Where)
	}
	// Output:
	// board
}
