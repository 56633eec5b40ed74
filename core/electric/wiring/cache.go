package wiring

import (
	"context"
	"encoding/binary"
	"math"
	"sync"
	"sync/atomic"

	"github.com/hashicorp/golang-lru/v2/simplelru"
)

// A Cache keeps what was solved of pieces, by what they are: parts that are
// alike, and what a change leaves as it was, are solved once. The answers do not
// depend on it. It is bounded, and may be used from several goroutines at once.
type Cache struct {
	*store
	ctx     context.Context // within which networks that are built with it solve
	hurried bool
}

// A store is what all that share a Cache keep.
type store struct {
	mu   sync.Mutex
	last *simplelru.LRU[string, *pattern]
	size atomic.Int64 // numbers kept in them
}

// NewCache returns a Cache that has seen nothing.
func NewCache() *Cache {
	k := &store{}
	// It is bounded by what is kept in them, not by how many they are.
	k.last, _ = simplelru.NewLRU(math.MaxInt, func(_ string, p *pattern) {
		p.dropped.Store(true)
		k.size.Add(-p.numbers.Swap(0))
	})
	return &Cache{store: k, ctx: context.Background()}
}

// Within returns a Cache that shares what is kept with k, and whose networks solve within a
// context. Once that is done nothing more is solved: what returns an error returns the
// context's, and all else a value that means nothing. So whoever asks looks at [Cache.Err]
// when he is done, and with an error throws away the network and all that he was told.
// What is kept for others is whole at any moment: only what was come to before is kept.
func (k *Cache) Within(ctx context.Context) *Cache { return &Cache{k.store, ctx, k.hurried} }

// Err says why nothing more is solved: the error of the context; nil while it goes on.
func (k *Cache) Err() error { return k.ctx.Err() }

// Hurried returns a Cache that shares the bounds of what is kept with k, and whose networks
// look at the extremes alone where pieces have many states, and go by tangents where they
// have many tolerances.
func (k *Cache) Hurried() *Cache { return &Cache{k.store, k.ctx, true} }

// Forget lets go of all that is kept. Networks that were built keep what they have.
func (k *Cache) Forget() {
	k.mu.Lock()
	defer k.mu.Unlock()
	k.last.Purge()
}

// maxNumbers is how many numbers of 8 bytes are kept.
const maxNumbers = 16 << 20

// pattern returns the pattern of a shape. Where more is kept than there is room for, what
// was not asked for longest goes.
func (k *store) pattern(m *shape) *pattern {
	key := m.key()
	k.mu.Lock()
	defer k.mu.Unlock()
	if p, ok := k.last.Get(key); ok {
		return p
	}
	for k.size.Load() > maxNumbers && k.last.Len() > 0 {
		k.last.RemoveOldest()
	}
	p := &pattern{shape: *m, known: k}
	k.last.Add(key, p)
	return p
}

// key says all that the voltages and currents of a piece depend on: pieces with
// the same key have the same solutions, node by node and element by element, in
// the same states.
func (m *shape) key() string {
	b := make([]byte, 0, 96*len(m.parts)+64)
	whole := func(vs ...int) {
		for _, v := range vs {
			b = binary.AppendVarint(b, int64(v))
		}
	}
	number := func(vs ...float64) {
		for _, v := range vs {
			b = binary.LittleEndian.AppendUint64(b, math.Float64bits(v))
		}
	}
	whole(len(m.parts), len(m.params), len(m.choices), len(m.previous))
	if m.hurried {
		whole(-1)
	}
	for k := range m.parts {
		c, x := &m.circuit.Elements[k], &m.parts[k]
		whole(int(c.Kind), int(c.A), int(c.B), int(c.Control), x.param, x.control, int(x.on), int(x.law.kind), int(x.scale.kind))
		number(c.Value)
		switch {
		case c.Junction.N != 0:
			number(c.Junction.Is, c.Junction.N, c.Junction.Rs)
		case c.Threshold != 0 || c.Ohms != 0:
			number(c.Threshold, c.Ohms)
		}
		if x.law.kind != asValue {
			number(x.law.a, x.law.b, x.law.c)
		}
		if x.scale.kind != steady {
			number(x.scale.a, x.scale.b, x.scale.most)
		}
		if x.key {
			whole(1)
		}
	}
	for _, p := range m.params {
		number(p.low, p.typ, p.high)
	}
	for _, c := range m.choices {
		whole(c.controls...)
		if c.partial {
			whole(-1)
		}
		whole(len(c.options))
		for _, o := range c.options {
			number(o...)
		}
	}
	for _, p := range m.previous {
		whole(p.control)
		number(p.setting)
	}
	number(m.middle)
	return string(b)
}
