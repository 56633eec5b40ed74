package machine

import (
	"math"
	"slices"
	"time"
)

// The calls of a program. Each takes the line that made it, costs its time, and lets happen
// what has become due; its error ends the run.

// SetMode sets what a pin is: an input, with or without a pull, or an output with the level
// that was written last.
func (b *Board) SetMode(pin int, m Mode, line int) error {
	d := Drive{Mode: m}
	if m == Driven && uint(pin) < Pins {
		d.Level = b.written[pin]
	}
	b.emit(Event{Kind: Moded, Pin: pin, Value: float64(m), Max: bit(d.Level), Line: line})
	if uint(pin) < Pins {
		b.drive(pin, d)
	}
	return b.pass(b.program.Costs.Mode)
}

// SetLevel writes a level. On a pin that is not an output it switches the pull-up, on boards
// whose pins do so.
func (b *Board) SetLevel(pin int, level bool, line int) error {
	b.emit(Event{Kind: Wrote, Pin: pin, Value: bit(level), Line: line})
	if uint(pin) < Pins {
		if b.written[pin] != level {
			b.written[pin] = level
			b.deeds++
		}
		b.end(pin, 0)
		switch d := b.drives[pin]; {
		case d.Mode == Driven:
			b.drive(pin, Drive{Mode: Driven, Level: level})
		case b.program.WritePulls && level:
			b.drive(pin, Drive{Mode: PulledUp})
		case b.program.WritePulls:
			b.drive(pin, Drive{Mode: LetGo})
		}
	}
	return b.pass(b.program.Costs.Write)
}

// Level reads a pin.
func (b *Board) Level(pin int, line int) (bool, error) {
	if err := b.pass(b.program.Costs.Read); err != nil {
		return false, err
	}
	level := false
	if uint(pin) < Pins {
		if !b.watched[pin] {
			b.watched[pin] = true
			b.look(pin)
			b.level[pin] = b.read(pin)
		}
		level = b.level[pin]
	}
	b.emit(Event{Kind: Read, Pin: pin, Value: bit(level), Line: line})
	return level, nil
}

// Reading converts the voltage of a pin to a number of as many bits.
func (b *Board) Reading(pin, bits, line int) (int, error) {
	if err := b.pass(b.program.Costs.Convert); err != nil {
		return 0, err
	}
	if bits == 0 {
		bits = b.readBits
	}
	full := float64(int(1)<<bits - 1)
	v := 0.0
	if _, ok := b.pinOf(pin); ok {
		// The converter itself has so many bits; a wider number is stretched.
		own := b.Profile.Logic.Analog.Full()
		v = math.Floor(clamp(b.World.Reading(pin, b.now-b.Start)) * (own + 1))
		v = math.Floor(math.Min(v, own) / own * full)
	}
	b.emit(Event{Kind: Converted, Pin: pin, Value: v, Max: full, Line: line})
	return int(v), nil
}

func clamp(x float64) float64 { return math.Max(0, math.Min(1, x)) }

// SetBits sets the bits of readings and duties; zero leaves them as they are.
func (b *Board) SetBits(read, out int) {
	if read > 0 && read <= 16 {
		b.readBits = read
	}
	if out > 0 && out <= 16 {
		b.outBits = out
	}
}

// SetDuty gives a pin a duty, as a part of full; full is 0: as many bits as duties have. What
// is beyond is cut as boards cut it: the lower bits count.
func (b *Board) SetDuty(pin, duty, full int, hertz float64, line int) error {
	if full == 0 {
		full = 1<<b.outBits - 1
	}
	b.emit(Event{Kind: Dutied, Pin: pin, Value: float64(duty), Max: float64(full), Line: line})
	if uint(pin) < Pins {
		b.end(pin, 0)
		kept := duty & full
		p, ok := b.pinOf(pin)
		d := Drive{Mode: Driven}
		switch {
		case !ok:
		case p.PWM == nil || kept == 0 || kept == full:
			// Without a timer it is on from half on.
			d.Level = 2*kept > full
		default:
			d.Duty, d.Hertz = float64(kept)/float64(full), p.PWM.Hertz
			if hertz > 0 {
				d.Hertz = hertz
			}
		}
		b.drive(pin, d)
	}
	return b.pass(b.program.Costs.Duty)
}

// Tone makes a pin a square wave; zero hertz ends it. A duration of zero is until it is ended.
func (b *Board) Tone(pin int, hertz float64, lasts time.Duration, line int) error {
	b.emit(Event{Kind: Toned, Pin: pin, Value: hertz, Line: line})
	if uint(pin) < Pins {
		b.end(pin, 0)
		d := Drive{Mode: Driven}
		if hertz > 0 {
			d.Duty, d.Hertz = 0.5, hertz
			if lasts > 0 {
				b.end(pin, b.now+int64(lasts))
			}
		}
		b.drive(pin, d)
	}
	return b.pass(b.program.Costs.Duty)
}

// frame is how often a second a servo gets a pulse (common practice).
const frame = 50

// Steer gives a servo pulses of a length in microseconds, fifty a second; none of a length of 0. It
// takes no timer of the pin's: libraries for servos pulse any pin (common practice).
func (b *Board) Steer(pin int, us float64, line int) error {
	b.emit(Event{Kind: Steered, Pin: pin, Value: us, Line: line})
	if uint(pin) < Pins {
		b.end(pin, 0)
		d := Drive{Mode: Driven}
		if us > 0 {
			d.Duty, d.Hertz = us*1e-6*frame, frame
		}
		b.drive(pin, d)
	}
	return b.pass(b.program.Costs.Duty)
}

// Pause lets time go by.
func (b *Board) Pause(ns int64, line int) error {
	b.emit(Event{Kind: Paused, Pin: -1, Value: float64(ns), Line: line})
	return b.pass(ns)
}

// NoInterrupt and more are what [Board.Attach] is asked for instead of a pin where a program
// names an interrupt by a number that the board has none for: the number is what is above it.
const NoInterrupt = 1000

// Attach has a handler answer the edges of a pin; an edge of zero takes it off. Whether the
// pin has an interrupt is for the reader of the events to say; here only one that has gets any.
func (b *Board) Attach(pin, edge, line int) error {
	b.emit(Event{Kind: Attached, Pin: pin, Value: float64(edge), Line: line})
	if p, ok := b.pinOf(pin); ok && p.Has("interrupt") && edge >= 0 && edge <= Rising {
		b.look(pin)
		b.level[pin] = b.read(pin)
		b.edge[pin], b.pending[pin] = edge, false
	}
	return b.pass(b.program.Costs.Mode)
}

// Quiet holds interrupts back, or lets them come again.
func (b *Board) Quiet(on bool) error {
	b.quiet = on
	return b.pass(0)
}

// Open opens the serial link at a rate.
func (b *Board) Open(rate float64, line int) error {
	b.emit(Event{Kind: Began, Pin: -1, Value: rate, Line: line})
	b.rate = rate
	return b.pass(b.program.Costs.Mode)
}

// serialBuffer is how many characters wait to be sent before a program has to (64 on 8-bit
// boards, from memory of their libraries).
const serialBuffer = 64

// Print sends text. When more is waiting than the buffer holds it takes the time that the
// rate asks for: ten bits a character.
func (b *Board) Print(text string, line int) error {
	b.emit(Event{Kind: Printed, Pin: -1, Text: text, Value: b.rate, Line: line})
	if b.rate <= 0 || !b.program.Paced {
		return b.pass(int64(len(text)) * b.program.Costs.Print)
	}
	each := 10 / b.rate * 1e9
	b.sent = max(b.sent, float64(b.now)) + each*float64(len(text))
	wait := b.sent - float64(b.now) - serialBuffer*each
	return b.pass(max(int64(wait), int64(len(text))*b.program.Costs.Print))
}

// Waiting is how many characters have come in and not been taken.
func (b *Board) Waiting() (int, error) {
	if err := b.pass(b.program.Costs.Clock); err != nil {
		return 0, err
	}
	n, _ := slices.BinarySearchFunc(b.Receive, b.now-b.Start+1, func(r Received, at int64) int {
		if r.At < at {
			return -1
		}
		return 1
	})
	return n, nil
}

// Take returns the next character that came in, and takes it away if take says so; -1: none.
func (b *Board) Take(take bool) (int, error) {
	n, err := b.Waiting()
	if err != nil || n == 0 {
		return -1, err
	}
	c := b.Receive[0].C
	if take {
		b.Receive = b.Receive[1:]
	}
	return int(c), nil
}

// Pulse waits for a pulse of a level and measures it, in microseconds; 0: none came in time.
func (b *Board) Pulse(pin int, level bool, timeout time.Duration, line int) (float64, error) {
	at := b.now
	until := b.now + int64(timeout)
	b.emit(Event{Kind: Read, Pin: pin, Line: line})
	wait := func(for_ bool) (bool, error) {
		for b.read(pin) != for_ {
			next := b.World.Next()
			if next == Never || b.Start+next > until {
				return false, b.pass(until - b.now)
			}
			if err := b.pass(b.Start + next - b.now); err != nil {
				return false, err
			}
		}
		return true, nil
	}
	result := 0.0
	for _, want := range []bool{!level, level, !level} {
		ok, err := wait(want)
		if err != nil {
			return 0, err
		}
		if !ok {
			b.emit(Event{Kind: Measured, Pin: pin, Line: line})
			return 0, nil
		}
		result = float64(b.now-at) / 1e3
		at = b.now
	}
	b.emit(Event{Kind: Measured, Pin: pin, Value: result, Line: line})
	return result, nil
}

// Keep keeps a byte at a place of the store.
func (b *Board) Keep(place int, value byte) { b.Store[place] = value }

// Kept is the byte at a place of the store.
func (b *Board) Kept(place int) byte {
	if v, ok := b.Store[place]; ok {
		return v
	}
	return 255
}

// Wrap tells of a number that did not fit its int.
func (b *Board) Wrap(exact, kept, line int) {
	b.emit(Event{Kind: Wrapped, Pin: -1, Value: float64(exact), Max: float64(kept), Line: line})
}

// Wrong tells of arithmetic or memory that went wrong.
func (b *Board) Wrong(what string, a, c float64, line, column int) {
	b.emit(Event{Kind: Wronged, Pin: -1, Text: what, Value: a, Max: c, Line: line, Column: column})
}

func bit(b bool) float64 {
	if b {
		return 1
	}
	return 0
}

// Own takes the program's own time, and lets nothing happen yet.
func (b *Board) Own(now int64) { b.now = max(b.now, now) }

// Latch sets what a pin will drive once it is an output, and tells nobody.
func (b *Board) Latch(pin int, level bool) {
	if uint(pin) < Pins {
		b.written[pin] = level
	}
}

// Latched is the level that the program wrote to a pin last.
func (b *Board) Latched(pin int) bool { return uint(pin) < Pins && b.written[pin] }

// Converts tells that the program has the converter on a pin.
func (b *Board) Converts(pin, line int) error {
	b.emit(Event{Kind: Converted, Pin: pin, Value: NoReading, Line: line})
	return b.pass(b.program.Costs.Mode)
}

// SetHertz changes the frequency of a duty.
func (b *Board) SetHertz(pin int, hertz float64) error {
	if uint(pin) < Pins && b.drives[pin].Pulsed() && hertz > 0 {
		d := b.drives[pin]
		d.Hertz = hertz
		b.drive(pin, d)
	}
	return b.pass(b.program.Costs.Duty)
}

// Levels writes what the pins read that the program looks at, as a number in base 16 in which
// each pin is a bit.
func (b *Board) Levels() string {
	digits := make([]byte, Pins/4)
	for pin, level := range b.level {
		if level {
			digits[pin/4] |= 1 << (pin % 4)
		}
	}
	slices.Reverse(digits)
	for i := range digits {
		digits[i] = "0123456789abcdef"[digits[i]]
	}
	return string(digits)
}
