package check_test

import (
	"testing"

	"cablaggio/core/check"
	"cablaggio/demo"
)

func BenchmarkCheckDemo(b *testing.B) {
	for _, d := range demo.Builds() {
		b.Run(d.Name, func(b *testing.B) {
			doc, err := lib.Parse(d.Data)
			if err != nil {
				b.Fatal(err)
			}
			b.ReportAllocs()
			for b.Loop() {
				if _, err := check.Check(lib, doc); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}
