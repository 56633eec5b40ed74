package running_test

import (
	"fmt"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/program"
)

func Example() {
	lib := build.Shipped()
	doc, _, _ := plan.Apply(lib, build.New("a lamp", "classic-5v"), []plan.Edit{plan.Add{Kind: "led"}})
	p, _ := program.Starter(lib, doc, build.CPP)
	fmt.Println(strings.Contains(p.Text, "pinMode(redLed1, OUTPUT);"))
	// Output: true
}
