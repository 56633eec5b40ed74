package check

import (
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// Network is the network of a build with what was solved of it.
func (m *Memory) Network(lib *build.Library, doc *build.Document) *wiring.Network {
	return m.known.Build(lib, doc)
}
