package check_test

import (
	"testing"

	"cablaggio/core/check"
	"cablaggio/demo"
)

func BenchmarkCheckDemo(b *testing.B) {
	doc, err := lib.Parse(demo.Builds()[0].Data)
	if err != nil {
		b.Fatal(err)
	}
	b.ReportAllocs()
	for b.Loop() {
		if _, err := check.Check(lib, doc); err != nil {
			b.Fatal(err)
		}
	}
}
