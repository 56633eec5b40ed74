// Package machine runs a builder's program against a [Board] in virtual time. A program is
// whatever implements [Program]: one compiled to WebAssembly runs here, an interpreter
// that is a process of its own stands outside the core, and calls the same board.
//
// Nothing takes longer than it must: a pause of an hour is over at once, and only what the
// program does costs time, by the board's own prices. The same program in the same world
// gives the same events.
package machine

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"
	"time"

	"cablaggio/core/catalogue/board"
)

// Pins is how many pins a board can have, by the numbers that programs know them by.
const Pins = 80

// A Mode is what a pin of the board is set to.
type Mode uint8

// The modes. The zero Mode is that of every pin when the program begins.
const (
	LetGo Mode = iota
	Driven
	PulledUp
	PulledDown
)

// A Drive is all that the program has made of a pin.
type Drive struct {
	Mode  Mode
	Level bool    // of a driven pin
	Duty  float64 // of a driven pin with a duty: 0 to 1
	Hertz float64 // of a duty or a tone; zero: the pin has a level
}

// Pulsed reports whether the pin has a duty or a tone instead of a level.
func (d Drive) Pulsed() bool { return d.Mode == Driven && d.Hertz > 0 }

// A World is what the board stands in: the wiring, hands, light. Times are nanoseconds since
// the board came up.
type World interface {
	// Next is when something happens in it by itself; [Never] where nothing will.
	Next() int64
	// Happen lets happen what is due at a time. It reports whether a pin may read otherwise now:
	// where it does not, time was only looked at.
	Happen(at int64) bool
	// Set tells what the program has made of a pin.
	Set(pin int, d Drive, at int64)
	// Level is what a pin reads.
	Level(pin int, at int64) bool
	// Reading is the voltage of a pin as a part of the converter's full scale.
	Reading(pin int, at int64) float64
}

// Never is a time that does not come.
const Never = math.MaxInt64

// A Kind says what an [Event] is.
type Kind uint8

// The kinds of events, and what their values are.
const (
	Moded       Kind = iota // the pin's mode was set; Value is the [Mode], Max the level that it drives
	Wrote                   // Value is the level; told when it changes, and once for each line that writes
	Dutied                  // Value is what was asked for, Max what is full
	Steered                 // a servo's pulse; Value is its length in microseconds, 0: none any more
	Toned                   // Value is in hertz; 0: the tone ended
	Read                    // Value is the level; told once for each line that reads
	Sensed                  // what a pin reads that the program looks at has changed; Value is the level
	Converted               // Value is the reading, Max the largest there is; or NoReading
	Attached                // an interrupt; Value is its edge, as programs number them; 0: taken off
	Interrupted             // its handler ran
	Lost                    // an edge came while one of the same pin was waiting
	Paused                  // Value is in nanoseconds
	Began                   // the serial link; Value is its rate
	Printed                 // Text
	Measured                // a pulse was waited for; Value is its length in microseconds, 0: none came
	Wrapped                 // a number did not fit its int; Value is what it should be, Max what it is
	Wronged                 // arithmetic or memory went wrong; Text says how, by a word
)

// NoReading is the Value of [Converted] when the converter is only set to the pin.
const NoReading = -1

// Edges of an interrupt, as programs number them.
const (
	Change  = 1
	Falling = 2
	Rising  = 3
)

// MaxPrinted is how many bytes of what a program prints in a run are worth keeping: what
// prints without an end would fill the memory of who listens.
const MaxPrinted = 1 << 20

// An Event is something that the program did.
type Event struct {
	At        int64 // ns
	Kind      Kind
	Pin       int // -1: none
	Value     float64
	Max       float64
	Line      int
	Column    int
	Text      string
	InHandler bool // an interrupt's handler did it
}

// A Board is one board with a program on it. Make one with [NewBoard], run one program.
type Board struct {
	Profile *board.Profile
	World   World
	Start   int64       // the time when it comes up, for clocks that run over
	Limit   int64       // when the run ends
	Until   time.Time   // and by the processor's clock; zero: whenever
	Most    int         // and after how many calls; zero: however many. It is the same on every computer
	Steps   bool        // every round of loop is run, also those that do as the one before
	Seen    func(Event) // everything that the program does
	Receive []Received  // what comes in by the serial link, in order
	Store   Store       // what is kept without power; a run that is to find it again is given it again

	program           board.Code
	now               int64
	index             [Pins]int // of the profile's pin with a number, and 1 more; 0: there is none
	channel           [Pins]int // of each number, the pin that a converter takes it for
	deeds             int       // grows when the program changes a pin, or does what is told each time
	drives            [Pins]Drive
	written           [Pins]bool // the level that the program last wrote, whatever the mode
	level             [Pins]bool
	watched           [Pins]bool // what it reads is published
	edge              [Pins]int
	pending           [Pins]bool
	quiet, inHandler  bool
	readBits, outBits int
	rate, sent        float64
	ends              [Pins]int64 // of tones
	ending            int         // how many tones have an end
	looked            []int       // the pins that are watched, or have an interrupt
	changed           []int       // the pins of which the program knows something old
	syncs             int
	dirty             bool // the world may have changed what pins read
	answer            func(number int) error
}

// A Store is what a board keeps without power, by its places. One that was never written is 255.
type Store map[int]byte

// Received is a character that comes in by the serial link at a time.
type Received struct {
	At int64
	C  byte
}

// errOver ends a run.
var errOver = errors.New("the run is over")

// An Ending is how a run came to its end.
type Ending struct {
	How  How
	At   int64  // when, by the board's time
	Line int    // where it crashed; 0: nobody knows
	What string // of a crash: a word, or what the interpreter says
}

// How a run ended.
type How uint8

const (
	Over    How = iota // its time was up
	Slow               // it did more than it may, or the processor's time was up first
	Done               // the program came to an end by itself
	Crashed            // the program broke off
)

// A Program can be run on a board. It may be run again, on another.
type Program interface {
	// Run runs the program until its end, that of the board's time, or of the context. Its
	// error is that of the context, or of a machine that does not work; a program that
	// crashes is no error.
	Run(ctx context.Context, b *Board) (Ending, error)
}

// NewBoard returns a board that stands in a world.
func NewBoard(p *board.Profile, w World) *Board {
	b := &Board{Profile: p, World: w, Limit: 10 * int64(time.Second), Seen: func(Event) {}, Store: Store{}}
	b.program = p.Programs()
	b.readBits, b.outBits = b.program.ReadBits, 8
	for i, pin := range p.Pins {
		if n := p.Number(pin.Name); n >= 0 && n < Pins {
			b.index[n] = i + 1
		}
	}
	for n := range b.channel {
		b.channel[n] = n
		if pin, ok := b.pinOf(n); ok && !pin.Has("analog-in") {
			if analog, ok := p.Pin(fmt.Sprintf("A%d", n)); ok {
				b.channel[n] = p.Number(analog.Name)
			}
		}
	}
	return b
}

// Channel returns the pin that a program means whose reading it asks for by a number: that of a
// converter's channel is taken for its pin, as boards do.
func (b *Board) Channel(number int) int {
	if uint(number) >= Pins {
		return number
	}
	return b.channel[number]
}

// Now is the board's time.
func (b *Board) Now() int64 { return b.now }

// Begin starts a run: now interrupts are answered by answer, which runs the handler with a
// number. It returns the time at which the program must ask again.
func (b *Board) Begin(answer func(number int) error) {
	b.now, b.answer, b.dirty = b.Start, answer, true
}

// Calls is how often the program has asked the board for something, as Most counts it.
func (b *Board) Calls() int { return b.syncs }

// Drive is what the program has made of a pin.
func (b *Board) Drive(pin int) Drive {
	if uint(pin) >= Pins {
		return Drive{}
	}
	return b.drives[pin]
}

// pinOf returns the profile's pin with a number.
func (b *Board) pinOf(number int) (*board.Pin, bool) {
	if uint(number) >= Pins || b.index[number] == 0 {
		return nil, false
	}
	return &b.Profile.Pins[b.index[number]-1], true
}

func (b *Board) emit(e Event) {
	e.At, e.InHandler = b.now, b.inHandler
	if e.Kind > Toned { // before are those that set something, again and again to what it is
		b.deeds++
	}
	b.Seen(e)
}

// Next is the time until which the program may go on without asking: nothing that it can see
// changes before.
func (b *Board) Next() int64 {
	const stride = int64(20 * time.Millisecond) // so that a run can be ended
	return min(b.Coming(), b.now+stride)
}

// Coming is when something happens next that the program did not do.
func (b *Board) Coming() int64 {
	n := b.Start + b.Limit
	if w := b.World.Next(); w != Never {
		n = min(n, b.Start+w)
	}
	if !b.quiet && !b.inHandler && b.waiting() {
		n = b.now
	}
	if b.ending > 0 {
		for _, at := range b.ends {
			if at != 0 {
				n = min(n, at)
			}
		}
	}
	return max(n, b.now)
}

func (b *Board) waiting() bool {
	for _, pin := range b.looked {
		if b.pending[pin] && b.edge[pin] != 0 {
			return true
		}
	}
	return false
}

// look has the world asked for what a pin reads from now on.
func (b *Board) look(pin int) {
	if !slices.Contains(b.looked, pin) {
		b.looked = append(b.looked, pin)
		b.changed = append(b.changed, pin)
	}
}

// end sets when a tone ends; 0: it does not.
func (b *Board) end(pin int, at int64) {
	if (b.ends[pin] != 0) != (at != 0) {
		if at != 0 {
			b.ending++
		} else {
			b.ending--
		}
	}
	if b.ends[pin] != at {
		b.ends[pin] = at
		b.deeds++
	}
}

// Sync takes the program's own time, and lets happen what has become due. Its error ends
// the run.
func (b *Board) Sync(now int64) error {
	b.now = max(b.now, now)
	return b.pass(0)
}

// Reach lets happen what is due before a time to which the program has gone on by itself. Its error
// ends the run.
func (b *Board) Reach(now int64) error {
	if b.Coming() >= now {
		return nil
	}
	return b.pass(now - b.now)
}

// pass lets time go by, and what is due in it happen, interrupts with it.
func (b *Board) pass(ns int64) error {
	end := b.now + max(0, ns)
	for {
		if err := b.serve(); err != nil {
			return err
		}
		at, what := end, -1
		if w := b.World.Next(); w != Never && b.Start+w <= at {
			at, what = b.Start+w, Pins
		}
		if b.ending > 0 {
			for pin, t := range b.ends {
				if t != 0 && t <= at {
					at, what = t, pin
				}
			}
		}
		if at >= b.Start+b.Limit {
			b.now = b.Start + b.Limit
			return errOver
		}
		b.now = max(b.now, at)
		switch {
		case what < 0:
			return b.overdue()
		case what == Pins:
			changed := b.World.Happen(at - b.Start)
			if b.now >= b.Start+b.Limit { // the world has ended it
				return errOver
			}
			if !changed {
				continue
			}
			b.dirty = true
		default:
			b.end(what, 0)
			b.drive(what, Drive{Mode: Driven})
			b.emit(Event{Kind: Toned, Pin: what})
		}
		b.refresh()
		if err := b.overdue(); err != nil {
			return err
		}
	}
}

// overdue looks at the processor's clock now and then.
func (b *Board) overdue() error {
	b.syncs++
	if b.Most > 0 && b.syncs > b.Most || b.syncs%64 == 0 && !b.Until.IsZero() && time.Now().After(b.Until) {
		return errSlow
	}
	return nil
}

var errSlow = errors.New("the processor's time is up")

// serve runs the handlers of interrupts that wait.
func (b *Board) serve() error {
	b.refresh()
	if b.quiet || b.inHandler || b.answer == nil {
		return nil
	}
	for _, pin := range b.looked {
		if !b.pending[pin] || b.edge[pin] == 0 {
			continue
		}
		b.pending[pin] = false
		b.inHandler = true
		b.emit(Event{Kind: Interrupted, Pin: pin})
		err := b.answer(pin)
		b.inHandler = false
		if err != nil {
			return err
		}
	}
	return nil
}

// refresh asks the world what the pins read that the program looks at.
func (b *Board) refresh() {
	if !b.dirty {
		return
	}
	b.dirty = false
	for _, pin := range b.looked {
		was := b.level[pin]
		b.level[pin] = b.read(pin)
		if was == b.level[pin] {
			continue
		}
		b.changed = append(b.changed, pin)
		b.emit(Event{Kind: Sensed, Pin: pin, Value: bit(b.level[pin])})
		if b.edge[pin] == 0 {
			continue
		}
		if e := b.edge[pin]; e == Change || (e == Rising) == b.level[pin] {
			if b.pending[pin] {
				b.emit(Event{Kind: Lost, Pin: pin})
			}
			b.pending[pin] = true
		}
	}
}

// read is what a pin reads now: of one that the board drives, what is there on the wire.
func (b *Board) read(pin int) bool {
	if _, ok := b.pinOf(pin); !ok {
		return false
	}
	return b.World.Level(pin, b.now-b.Start)
}

// drive sets what the program makes of a pin.
func (b *Board) drive(pin int, d Drive) {
	if b.drives[pin] == d {
		return
	}
	b.drives[pin] = d
	b.deeds++
	b.changed = append(b.changed, pin)
	if _, ok := b.pinOf(pin); ok {
		b.World.Set(pin, d, b.now-b.Start)
	}
	b.dirty = true
}

// Ended says how a run ended whose program returned an error; of one that is neither the
// board's nor nil, crashed is true.
func (b *Board) Ended(err error) (e Ending, crashed bool) {
	e.At = b.now - b.Start
	switch {
	case err == nil:
		e.How = Done
	case errors.Is(err, errOver):
		e.How = Over
	case errors.Is(err, errSlow):
		e.How = Slow
	default:
		e.How = Crashed
		return e, true
	}
	return e, false
}
