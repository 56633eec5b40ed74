package check_test

import (
	"cablaggio/core/check"
	"os"
	"testing"
)

func BenchmarkHeavy(b *testing.B) {
	data, err := os.ReadFile("/work/shared/cases/heavy/" + os.Getenv("HEAVY") + ".json")
	if err != nil {
		b.Skip()
	}
	doc, err := lib.Parse(data)
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		if _, err := check.Check(lib, doc); err != nil {
			b.Fatal(err)
		}
	}
}
