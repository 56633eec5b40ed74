// Package ready gives tests the builds that ship with the product.
package ready

import (
	"testing"

	"cablaggio/core/build"
	"cablaggio/demo"
	"cablaggio/starts"
)

// Builds returns the demo builds and the starts, by name.
func Builds(t testing.TB, lib *build.Library) map[string]*build.Document {
	t.Helper()
	out := map[string]*build.Document{}
	take := func(name string, data []byte) {
		doc, err := lib.Parse(data)
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		out[name] = doc
	}
	for _, d := range demo.Builds() {
		take("demo "+d.Name, d.Data)
	}
	for _, s := range starts.All() {
		take("start "+s.ID, s.Data)
	}
	return out
}
