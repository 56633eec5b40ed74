package check

import (
	"sync"

	"cablaggio/core/wiring"
)

// known is pieces that were solved before: parts that are alike, and what an
// edit leaves as it was, are solved once.
type known struct {
	sync.Mutex
	pieces map[string]solved
	states int // in all of them
}

// maxKnown is how many states are remembered; a state takes a few kilobytes.
const maxKnown = 10_000

// solved is what was solved of one piece.
type solved struct{ planned, previous []visit }

// on returns the same for another piece with the same key.
func (s solved) on(p *wiring.Piece) solved {
	move := func(from []visit) []visit {
		to := make([]visit, len(from))
		for i, v := range from {
			to[i] = visit{p, v.state, v.On(p)}
		}
		return to
	}
	return solved{move(s.planned), move(s.previous)}
}

// solve solves a piece in its planned states, and in those that an old program
// could bring about, unless one like it was solved before.
func (k *known) solve(p *wiring.Piece) (solved, error) {
	key := p.Key()
	k.Lock()
	s, ok := k.pieces[key]
	k.Unlock()
	if ok {
		return s.on(p), nil
	}
	var err error
	if s.planned, err = visitAll(p); err == nil {
		s.previous, err = visitPrevious(p)
	}
	if err != nil {
		return solved{}, err
	}
	k.Lock()
	if k.states > maxKnown {
		clear(k.pieces)
		k.states = 0
	}
	k.pieces[key] = s.on(nil) // without the piece, which would keep its whole network
	k.states += len(s.planned) + len(s.previous)
	k.Unlock()
	return s, nil
}
