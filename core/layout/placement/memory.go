package placement

import (
	lru "github.com/hashicorp/golang-lru/v2"

	"cablaggio/core/document/build"
)

// A Memory remembers placements, so that what does not move anything, as a step
// that is done, does not wait for a new one. Its answers are those of [Place]. It
// may be used from several goroutines at once.
type Memory struct {
	last *lru.Cache[build.Key, placed]
}

type placed struct {
	placement *Placement
	err       error
}

// maxRemembered is how many placements are remembered.
const maxRemembered = 64

// NewMemory returns a memory that has seen nothing.
func NewMemory() *Memory {
	last, _ := lru.New[build.Key, placed](maxRemembered) // it fails for no room alone
	return &Memory{last}
}

// Place is [Place] with what is remembered. The caller must not change what it
// returns.
func (m *Memory) Place(lib *build.Library, doc *build.Document) (*Placement, error) {
	key := lib.Key(doc, build.Wiring|build.Layout)
	p, ok := m.last.Get(key)
	if !ok {
		p.placement, p.err = Place(lib, doc)
		m.last.Add(key, p)
	}
	return p.placement, p.err
}
