// Package ready gives tests the builds that ship with the product.
package ready

import (
	"testing"

	"cablaggio/core/document/build"
	"cablaggio/demo"
	"cablaggio/starts"
)

// Builds returns the demo builds and the starts, by name.
func Builds(t testing.TB, lib *build.Library) map[string]*build.Document {
	t.Helper()
	out := map[string]*build.Document{}
	for _, d := range demo.Builds() {
		out["demo "+d.Name] = parsed(t, lib, d.Name, d.Data)
	}
	for _, s := range starts.All() {
		out["start "+s.ID] = parsed(t, lib, s.ID, s.Data)
	}
	return out
}

// Build returns one of them: a start by its id, or a demo build by its name.
func Build(t testing.TB, lib *build.Library, name string) *build.Document {
	t.Helper()
	for _, s := range starts.All() {
		if s.ID == name {
			return parsed(t, lib, name, s.Data)
		}
	}
	for _, d := range demo.Builds() {
		if d.Name == name {
			return parsed(t, lib, name, d.Data)
		}
	}
	t.Fatalf("there is no ready build %q", name)
	return nil
}

func parsed(t testing.TB, lib *build.Library, name string, data []byte) *build.Document {
	t.Helper()
	doc, err := lib.Parse(data)
	if err != nil {
		t.Fatalf("%s: %v", name, err)
	}
	return doc
}
