package placement_test

import (
	"testing"

	"cablaggio/core/testkit/ready"

	"cablaggio/core/layout/placement"
)

// What a builder waits for: the issue of a plan is a layout of it.
func BenchmarkPlace(b *testing.B) {
	for _, name := range []string{"demo tram-stop", "demo quiz-table", "demo seedling-shelf", "start register"} {
		b.Run(name, func(b *testing.B) {
			doc := ready.Builds(b, lib)[name]
			b.ReportAllocs()
			for b.Loop() {
				if _, err := placement.Place(lib, doc); err != nil {
					b.Fatal(err)
				}
			}
			b.ReportMetric(float64(len(doc.Parts)), "parts")
		})
	}
}
