package placement

import (
	"encoding/json"
	"sync"

	"cablaggio/core/document/build"
)

// A Memory remembers placements, so that what does not move anything, as a step
// that is done, does not wait for a new one. Its answers are those of [Place]. It
// may be used from several goroutines at once.
type Memory struct {
	mu    sync.Mutex
	known map[string]placed
}

type placed struct {
	placement *Placement
	err       error
}

// maxKnown is how many placements are remembered.
const maxKnown = 64

// NewMemory returns a memory that has seen nothing.
func NewMemory() *Memory { return &Memory{known: map[string]placed{}} }

// Place is [Place] with what is remembered. The caller must not change what it
// returns.
func (m *Memory) Place(lib *build.Library, doc *build.Document) (*Placement, error) {
	key := doc.Clone()
	key.Title = ""
	if key.Assembly == nil {
		key.Assembly = &build.Assembly{}
	}
	key.Assembly.Done, key.Assembly.Built = nil, nil
	b, _ := lib.Board(doc.Board) // a board of the builder's own may have changed
	data, err := json.Marshal([]any{key, b.Headers, b.Plugs})
	if err != nil {
		return Place(lib, doc)
	}
	m.mu.Lock()
	p, ok := m.known[string(data)]
	m.mu.Unlock()
	if ok {
		return p.placement, p.err
	}
	p.placement, p.err = Place(lib, doc)
	m.mu.Lock()
	defer m.mu.Unlock()
	if len(m.known) >= maxKnown {
		clear(m.known)
	}
	m.known[string(data)] = p
	return p.placement, p.err
}
