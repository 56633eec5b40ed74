package machine

import (
	"bytes"
	"encoding/binary"

	"github.com/tetratelabs/wazero/api"
)

// A round looks at a program between two rounds of its loop. When one has left everything as it
// was, asked the board for nothing but to be as it is, and nothing happens outside, then the next will
// do the same in the same time: they are passed over all at once, until something happens. A program that
// waits for a button costs hardly anything so, and does what it would have done.
type round struct {
	data     []byte // the program's variables; nil: they cannot be compared
	fixed    int    // how many of them there are always; behind them lies what it takes as it runs
	used     int    // how much of all of it may be in use
	at, size int    // where the page lies among them
	asked    int    // how often the board was called for something that counts

	was            []byte // the variables after the round before
	taken          bool   // was is of the round before
	when           int64
	wasAsked       int
	wasQuiet       bool
	millis, micros uint32
	wait           uint32 // rounds until it is tried again
}

// mostRounds is how many rounds go by at most before it is looked again whether they are alike.
const mostRounds = 1024

// own finds the variables of a module, and the memory that it may take as it runs.
func (r *round) own(m api.Module, page int, steps bool) {
	from, to := m.ExportedGlobal("__global_base"), m.ExportedGlobal("__heap_base")
	if steps || from == nil || to == nil {
		return
	}
	low, high := uint32(from.Get()), uint32(to.Get())
	if data, ok := m.Memory().Read(low, m.Memory().Size()-low); ok && page >= int(low) && page+pageSize <= int(high) {
		r.data, r.at, r.size, r.fixed = data, page-int(low), pageSize, int(high-low)
		r.used = r.fixed
	}
}

// ahead is how much memory that is all zero lies behind what is in use: no piece that a program
// of such a board takes is larger.
const ahead = 64 << 10

var untouched [ahead]byte

// extent finds how much of the memory may be in use: what manages it takes from the bottom, and
// writes before and behind each piece. Its own notes are among the fixed variables: where those are as
// they were after the round before, no more is in use.
func (r *round) extent() int {
	if len(r.was) >= r.fixed && r.alike(r.fixed) {
		return r.used
	}
	for r.used < len(r.data) {
		rest := r.data[r.used:min(len(r.data), r.used+ahead)]
		if bytes.Equal(rest, untouched[:len(rest)]) {
			break
		}
		r.used = min(len(r.data), r.used+1024)
	}
	return r.used
}

// same reports whether the variables are as they were, but for the page.
func (r *round) same() bool { return len(r.was) == r.extent() && r.alike(r.used) }

// alike reports whether so many bytes of them are as they were, but for the page.
func (r *round) alike(n int) bool {
	return bytes.Equal(r.was[:r.at], r.data[:r.at]) && bytes.Equal(r.was[r.at+r.size:n], r.data[r.at+r.size:n])
}

// look is called after a round, and passes over those that would do the same.
func (r *round) look(b *Board, p page) {
	millis, micros := binary.LittleEndian.Uint32(p.memory[pageMillis:]), binary.LittleEndian.Uint32(p.memory[pageMicros:])
	rounds := uint32(0)
	switch {
	case r.data == nil:
		rounds = ^uint32(0)
	case !r.taken:
	case r.asked == r.wasAsked && micros == r.micros && b.quiet == r.wasQuiet && r.same():
		r.wait = 0
		until := b.Coming()
		if millis != r.millis { // what it read of the time stays until the next millisecond
			tick := b.now / 1e6
			if until = min(until, (tick+1)*1e6); r.when/1e6 != tick {
				until = b.now
			}
		}
		if takes := b.now - r.when; takes > 0 && until > b.now {
			b.now += (until - b.now - 1) / takes * takes
		}
	default:
		r.wait = min(mostRounds, 2*r.wait+1)
		rounds = r.wait
	}
	if r.taken = rounds == 0; r.taken {
		r.was = append(r.was[:0], r.data[:r.extent()]...)
		r.when, r.wasAsked, r.wasQuiet, r.millis, r.micros = b.now, r.asked, b.quiet, millis, micros
	}
	binary.LittleEndian.PutUint32(p.memory[pageRounds:], rounds)
}
