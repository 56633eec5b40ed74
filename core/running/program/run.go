package program

import (
	"context"
	"maps"
	"slices"
	"time"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/rig"
)

// ms is a millisecond in the board's time.
const ms = int64(time.Millisecond)

// A run is the program run once, with what the hands did meanwhile.
type run struct {
	name    string
	control int // that the hands moved; -1: none, -2: any, -3: none, but the world does something to the board
	moves   []rig.Move
	presses []press
	typed   []machine.Received
	limit   int64
	second  int // of two contacts, one after the other: the control of the second
	start   int64

	rig     *rig.Rig
	calls   int // of the board
	ending  machine.Ending
	pins    map[int]*pinFacts
	notes   []machine.Event // what is told once: began, wrapped, wronged
	prints  []printed
	printed int   // bytes of them
	paused  int64 // how long it paused altogether, and at most at once
	longest,
	longestLine int64
	lines   map[int]bool    // of calls that were made
	sensed  map[[2]int]bool // by press and pin: what is read there changed meanwhile
	pressed int             // the press that it is, or that comes next
	turns   []turnsTaken    // of signals of which one is active at a time
}

// A turnsTaken follows signals of a part of which one is active at a time, as the rows of a
// keypad, and keeps the first time that two were for longer than it takes to go from one to the
// next.
type turnsTaken struct {
	part   string
	pins   map[int]bool // of each the level that selects
	active map[int]bool
	since  int64 // since when two are active; 0: they are not
	line   int
	broken bool
	both   [2]int
}

// overlapLeast is how long two may be active together: some calls of the slowest board.
const overlapLeast = int64(50 * time.Microsecond)

// turnsOf lists the groups of a build.
func turnsOf(net *wiring.Network) (out []turnsTaken) {
	for i := range net.Doc.Parts {
		p := &net.Doc.Parts[i]
		groups := map[string]map[int]bool{}
		for _, s := range p.Signals {
			if s.Group != "" && s.Needs == board.DigitalOut {
				if groups[s.Group] == nil {
					groups[s.Group] = map[int]bool{}
				}
				groups[s.Group][net.Board.Number(s.Pin)] = s.Active != part.ActiveLow
			}
		}
		for _, name := range slices.Sorted(maps.Keys(groups)) {
			if len(groups[name]) > 1 {
				out = append(out, turnsTaken{part: p.ID, pins: groups[name], active: map[int]bool{}})
			}
		}
	}
	return out
}

// see takes in what was made of a pin.
func (t *turnsTaken) see(pin int, active bool, at int64, line int) {
	if t.since != 0 && at-t.since > overlapLeast {
		t.broken = true
	}
	if t.broken {
		return
	}
	t.active[pin] = active
	var on []int
	for _, p := range slices.Sorted(maps.Keys(t.active)) {
		if t.active[p] {
			on = append(on, p)
		}
	}
	switch {
	case len(on) < 2:
		t.since = 0
	case t.since == 0:
		t.since, t.line, t.both = at, line, [2]int{on[0], on[1]}
	}
}

// A press is a contact that a hand closes, and opens again.
type press struct {
	from, to int64
	bounces  bool
	holds    bool
}

type printed struct {
	at      int64
	line    int
	text    string
	rate    float64
	handler bool
}

const maxPrints = 2000

// sense keeps that what a pin reads has changed while a contact or a key was down.
func (r *run) sense(pin int, at int64) {
	for r.pressed < len(r.presses) && at > r.presses[r.pressed].to {
		r.pressed++
	}
	if r.pressed < len(r.presses) && at >= r.presses[r.pressed].from {
		r.sensed[[2]int{r.pressed, pin}] = true
	}
}

// A pinFacts is what the program did with one pin, over all runs.
type pinFacts struct {
	pin               int
	modes             map[machine.Mode]int // with the line
	lowLine, highLine int                  // that wrote the level; 0: none
	duty              extent
	hertz             float64
	toneLine          int
	readLine          int
	reading           extent
	measured          int64 // when it was last, in ns after the start
	attachLine, edge  int
	interrupts, lost  int
	timed             int // pulses whose length it measured, or waited for
	firstLine         int
	wroteBefore       bool // a level was written while it was no output
	wroteBeforeLine   int
	high              bool // it drives high at some time
}

// extent is the least and the most of what was seen, and what is full.
type extent struct {
	line, leastLine, mostLine int
	least, most, full         float64
	between                   bool // something was neither nothing nor full
	seen                      bool // there was something: otherwise only the line is known
}

func (e *extent) add(v, full float64, line int) {
	e.between = e.between || v > 0 && v < full
	if e.line == 0 {
		e.line = line
	}
	if !e.seen {
		e.seen, e.leastLine, e.mostLine, e.least, e.most, e.full = true, line, line, v, v, full
		return
	}
	if v < e.least {
		e.least, e.leastLine = v, line
	}
	if v > e.most {
		e.most, e.mostLine = v, line
	}
	e.full = full
}

// output reports whether the program drives the pin, or means to: a level that is written to
// a pin that is only read switches its pull.
func (p *pinFacts) output() bool {
	_, driven := p.modes[machine.Driven]
	return driven || p.duty.line+p.toneLine > 0 || p.lowLine+p.highLine > 0 && !p.input()
}

func (p *pinFacts) input() bool { return p.readLine+p.reading.line+p.attachLine > 0 }

// pin returns the facts of a pin, new if need be.
func (r *run) pin(n, line int) *pinFacts {
	p := r.pins[n]
	if p == nil {
		p = &pinFacts{pin: n, modes: map[machine.Mode]int{}, firstLine: line}
		r.pins[n] = p
	}
	return p
}

// see takes in an event.
func (r *run) see(e machine.Event) {
	if e.Line != 0 {
		r.lines[e.Line] = true
	}
	if e.Kind == machine.Moded || e.Kind == machine.Wrote {
		for i := range r.turns {
			t := &r.turns[i]
			if level, ok := t.pins[e.Pin]; ok {
				d := r.rig.Drive(e.Pin)
				active := d.Mode == machine.Driven && (e.Value > 0) == level
				if e.Kind == machine.Moded {
					active = machine.Mode(e.Value) == machine.Driven && (e.Max > 0) == level
				}
				t.see(e.Pin, active, e.At, e.Line)
			}
		}
	}
	switch e.Kind {
	case machine.Moded:
		p := r.pin(e.Pin, e.Line)
		if _, ok := p.modes[machine.Mode(e.Value)]; !ok {
			p.modes[machine.Mode(e.Value)] = e.Line
		}
		p.high = p.high || machine.Mode(e.Value) == machine.Driven && e.Max > 0
	case machine.Wrote:
		p := r.pin(e.Pin, e.Line)
		if e.Value == 0 && p.lowLine == 0 {
			p.lowLine = e.Line
		} else if e.Value != 0 && p.highLine == 0 {
			p.highLine = e.Line
		}
		_, driven := p.modes[machine.Driven]
		p.high = p.high || driven && e.Value != 0
		if !driven && !p.wroteBefore {
			p.wroteBefore, p.wroteBeforeLine = true, e.Line
		}
	case machine.Steered: // a level that goes over all the time
		p := r.pin(e.Pin, e.Line)
		if e.Value > 0 && p.highLine == 0 {
			p.highLine, p.lowLine = e.Line, e.Line
		}
		p.high = p.high || e.Value > 0
	case machine.Dutied:
		p := r.pin(e.Pin, e.Line)
		p.duty.add(e.Value, e.Max, e.Line)
	case machine.Toned:
		p := r.pin(e.Pin, e.Line)
		if e.Value > 0 {
			p.toneLine, p.hertz = max(p.toneLine, e.Line), e.Value
		}
	case machine.Read:
		if p := r.pin(e.Pin, e.Line); p.readLine == 0 {
			p.readLine = e.Line
		}
	case machine.Converted:
		p := r.pin(e.Pin, e.Line)
		p.measured = e.At - r.start
		if e.Value != machine.NoReading {
			p.reading.add(e.Value, e.Max, e.Line)
		} else if p.reading.line == 0 {
			p.reading.line = e.Line
		}
	case machine.Measured:
		r.pin(e.Pin, e.Line).timed++
	case machine.Attached:
		p := r.pin(e.Pin, e.Line)
		if e.Value > 0 {
			p.attachLine, p.edge = e.Line, int(e.Value)
		}
	case machine.Sensed:
		r.sense(e.Pin, e.At-r.start)
	case machine.Interrupted:
		r.pin(e.Pin, 0).interrupts++
	case machine.Lost:
		r.pin(e.Pin, 0).lost++
	case machine.Paused:
		if e.InHandler {
			r.note(e)
		}
		r.paused += int64(e.Value)
		if int64(e.Value) > r.longest {
			r.longest, r.longestLine = int64(e.Value), int64(e.Line)
		}
	case machine.Printed:
		if len(r.prints) >= maxPrints || r.printed+len(e.Text) > machine.MaxPrinted {
			return
		}
		r.printed += len(e.Text)
		r.prints = append(r.prints, printed{e.At - r.start, e.Line, e.Text, e.Value, e.InHandler})
	default:
		r.note(e)
	}
}

// about is what was done in a run, for a finding; empty where nothing was.
func (r *run) about() string {
	if r.control == -1 {
		return ""
	}
	return r.name
}

// note keeps an event, once for each line and kind.
func (r *run) note(e machine.Event) {
	if len(r.notes) < 200 && !slices.ContainsFunc(r.notes, func(o machine.Event) bool {
		return o.Kind == e.Kind && o.Line == e.Line && o.Text == e.Text
	}) {
		r.notes = append(r.notes, e)
	}
}

// patience is how long one run may take by the processor's clock. What it may do is bounded
// by the calls that it makes, which is the same on every computer; this is for a computer that
// is far too slow.
const patience = 15 * time.Second

// do runs the program with the hands' moves.
func (r *run) do(ctx context.Context, net *wiring.Network, made *Compiled) error {
	r.rig = rig.New(net)
	r.rig.Timed()
	r.rig.Plan(r.moves)
	r.pins, r.lines, r.turns = map[int]*pinFacts{}, map[int]bool{}, turnsOf(net)
	r.sensed, r.pressed = map[[2]int]bool{}, 0
	b := machine.NewBoard(net.Board, r.rig)
	b.Limit, b.Start, b.Seen, b.Until, b.Most = r.limit, r.start, r.see, time.Now().Add(patience), made.Calls
	b.Receive = slices.Clone(r.typed)
	r.rig.Settle()
	var err error
	r.ending, err = made.Program.Run(ctx, b)
	r.calls = b.Calls()
	return err
}

// press adds the moves of a contact that is pressed.
func (r *run) press(net *wiring.Network, control int, at, lasts int64, bounces bool) {
	c := &net.Controls[control]
	rest := rig.Rest(c)
	held := wiring.Closed - rest
	if bounces {
		r.edge(net, control, at, held, rest)
		r.edge(net, control, at+lasts, rest, held)
	} else {
		r.moves = append(r.moves, moved(at, control, held), moved(at+lasts, control, rest))
	}
	r.presses = append(r.presses, press{from: at, to: at + lasts, bounces: bounces})
}

// edge moves a contact that bounces: one that closes opens again a few times within its bounce
// time, and so does one that opens (common practice: three to ten times; here three, ever longer).
func (r *run) edge(net *wiring.Network, control int, at int64, to, from float64) {
	r.moves = append(r.moves, moved(at, control, to))
	if b := rig.BounceOf(net, net.Whose(&net.Controls[control])); b > 0 {
		for i, part := range []float64{0.08, 0.2, 0.35, 0.6, 0.8, 1} {
			r.moves = append(r.moves, moved(at+int64(part*float64(b)), control, []float64{from, to}[i%2]))
		}
	}
}

// take adds what another run showed.
func (q *pinFacts) take(p *pinFacts) {
	for m, line := range p.modes {
		if _, ok := q.modes[m]; !ok {
			q.modes[m] = line
		}
	}
	first := func(to *int, from int) {
		if *to == 0 {
			*to = from
		}
	}
	first(&q.lowLine, p.lowLine)
	first(&q.highLine, p.highLine)
	first(&q.toneLine, p.toneLine)
	first(&q.readLine, p.readLine)
	first(&q.attachLine, p.attachLine)
	first(&q.firstLine, p.firstLine)
	q.edge, q.hertz = max(q.edge, p.edge), max(q.hertz, p.hertz)
	q.high = q.high || p.high
	q.interrupts, q.lost = q.interrupts+p.interrupts, q.lost+p.lost
	if p.wroteBefore && !q.wroteBefore {
		q.wroteBefore, q.wroteBeforeLine = true, p.wroteBeforeLine
	}
	for _, e := range []struct{ to, from *extent }{{&q.duty, &p.duty}, {&q.reading, &p.reading}} {
		if e.from.seen {
			e.to.add(e.from.least, e.from.full, e.from.leastLine)
			e.to.add(e.from.most, e.from.full, e.from.mostLine)
			e.to.between = e.to.between || e.from.between
		} else if e.to.line == 0 {
			e.to.line = e.from.line
		}
	}
}
