package check

import "sync"

// A memo remembers answers. Rules and reports are written side by side and often
// ask the same; what one of them asks is worked out once. The zero memo knows
// nothing.
type memo[K comparable, V any] struct {
	mu    sync.Mutex
	by    map[K]*answer[V]
	most  int // how many are remembered, the first forgotten first; 0: all
	order []K // of those that are, when not all
}

type answer[V any] struct {
	once  sync.Once
	value V
}

// get returns the answer to a question.
func (m *memo[K, V]) get(question K, find func() V) V {
	m.mu.Lock()
	if m.by == nil {
		m.by = map[K]*answer[V]{}
	}
	a := m.by[question]
	if a == nil {
		a = &answer[V]{}
		m.by[question] = a
		if m.most > 0 {
			if m.order = append(m.order, question); len(m.order) > m.most {
				delete(m.by, m.order[0])
				m.order = m.order[1:]
			}
		}
	}
	m.mu.Unlock()
	a.once.Do(func() { a.value = find() })
	return a.value
}
