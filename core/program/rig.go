package program

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"cablaggio/core/build"
	"cablaggio/core/machine"
	"cablaggio/core/wiring"
)

// ms is a millisecond in the board's time.
const ms = int64(time.Millisecond)

// A rig is the build with hands at it: the world that a program's board stands in. Levels
// are those of the network, at the typical values, in the modes that the program sets and the
// settings that the hands have reached.
type rig struct {
	net      *wiring.Network
	control  [machine.Pins]int // of each pin, in the network; -1: nothing is wired to it
	terminal [machine.Pins]build.Terminal
	drives   [machine.Pins]machine.Drive
	settings []float64
	moves    []move // in the order of time
	done     int    // how many of them were made
	chips    []chip

	pieceOf []*wiring.Piece         // of each control
	age     map[*wiring.Piece]int   // how often a control of it was moved
	seen    [machine.Pins]seenLevel // what was worked out last
	actors  []actor
	touched map[*wiring.Piece]bool
	now     int64

	pinAmps map[*wiring.Piece]float64 // what its pins carry, sourced or sunk
	ends    map[*wiring.Piece][]int   // the elements that drive its pins
	total   float64
	most    float64 // of all pins, at once
	mostAt  int64
}

type seenLevel struct {
	age   int
	known bool
	volts float64
	level bool
}

// A move is one control set by a hand, or by the world.
type move struct {
	at      int64
	control int
	to      float64
}

// An actor is something that a builder sees or hears: a lamp, a buzzer, a motor. Its acts are
// how much current goes through it from when on.
type actor struct {
	part    *build.Part
	name    string
	element int
	piece   *wiring.Piece
	lamp    bool
	on      float64 // amperes from which on it counts as on
	acts    []act
	lost    bool // there were more than are kept
}

type act struct {
	at    int64
	amps  float64 // the average where it is pulsed
	hertz float64 // of what it is pulsed with; 0: steady
}

// maxActs bounds what is kept of an actor in one run.
const maxActs = 4000

// newRig returns a rig of a network with its hands at rest.
func newRig(net *wiring.Network) *rig {
	r := &rig{net: net, settings: make([]float64, len(net.Controls)), age: map[*wiring.Piece]int{}, touched: map[*wiring.Piece]bool{}}
	r.pieceOf = make([]*wiring.Piece, len(net.Controls))
	for _, p := range net.Pieces {
		for _, c := range p.Controls {
			r.pieceOf[c] = p
		}
	}
	for pin := range r.control {
		r.control[pin] = -1
	}
	for i := range net.Controls {
		c := &net.Controls[i]
		switch c.Kind {
		case wiring.Mode:
			r.settings[i] = wiring.LetGo
			if n := net.Board.Number(c.Of); n >= 0 && n < machine.Pins {
				r.control[n], r.terminal[n] = i, build.Pin(c.Of)
			}
		case wiring.Output:
			r.settings[i] = wiring.Low
		default:
			if len(c.Planned) > 0 {
				r.settings[i] = c.Planned[0]
			}
			if c.Kind == wiring.Level {
				r.settings[i] = middle(c)
			}
		}
	}
	r.findActors()
	for i := range net.Doc.Parts {
		r.addChip(&net.Doc.Parts[i])
	}
	r.pinAmps, r.ends = map[*wiring.Piece]float64{}, map[*wiring.Piece][]int{}
	for i, e := range net.Elements {
		if p := net.PieceWith(i); p != nil && (e.Role == wiring.HighSide || e.Role == wiring.LowSide) {
			r.ends[p] = append(r.ends[p], i)
		}
	}
	for _, p := range net.Pieces {
		r.touched[p] = true
	}
	return r
}

// middle is the level of a control that it rests at: the one in the middle of those that
// have names.
func middle(c *wiring.Control) float64 {
	if len(c.Planned) == 0 {
		return (c.Least + c.Most) / 2
	}
	named := slices.Sorted(slices.Values(c.Planned))
	return named[len(named)/2]
}

// onAmps is the current from which on a lamp is seen in a lit room (common practice: a modern
// LED glimmers at a tenth of a milliampere, and is seen well from half of one).
const onAmps = 0.2e-3

// findActors lists what acts.
func (r *rig) findActors() {
	add := func(a actor) {
		if a.element < 0 || r.net.PieceWith(a.element) == nil {
			return
		}
		a.piece = r.net.PieceWith(a.element)
		r.actors = append(r.actors, a)
	}
	for _, l := range r.net.Lamps {
		add(actor{part: l.Part, name: l.Name, element: l.Element, lamp: true, on: onAmps})
	}
	for i := range r.net.Doc.Parts {
		p := &r.net.Doc.Parts[i]
		kind, _ := r.net.Library.Catalogue.Kind(p.Kind)
		if kind != nil && (kind.Model == "coil" || kind.Model == "filament" || kind.Model == "buzzer") {
			add(actor{part: p, name: p.Name, element: r.net.Find(wiring.Body, p.ID, ""), on: 1e-3})
		}
	}
	sort.SliceStable(r.actors, func(i, j int) bool { return r.actors[i].name < r.actors[j].name })
}

// Next implements [machine.World].
func (r *rig) Next() int64 {
	if r.done < len(r.moves) {
		return r.moves[r.done].at
	}
	return machine.Never
}

// Happen implements [machine.World].
func (r *rig) Happen(at int64) {
	r.now = at
	for r.done < len(r.moves) && r.moves[r.done].at <= at {
		m := r.moves[r.done]
		r.done++
		r.set(m.control, m.to)
	}
	r.settle()
}

func (r *rig) set(control int, to float64) {
	if r.settings[control] == to {
		return
	}
	r.settings[control] = to
	if p := r.pieceOf[control]; p != nil {
		r.age[p]++
		r.touched[p] = true
	}
}

// Set implements [machine.World].
func (r *rig) Set(pin int, d machine.Drive, at int64) {
	r.now = at
	was := r.drives[pin]
	r.drives[pin] = d
	c := r.control[pin]
	if c < 0 {
		return
	}
	mode := map[machine.Mode]float64{machine.LetGo: wiring.LetGo, machine.PulledUp: wiring.PulledUp, machine.PulledDown: wiring.PulledDown}[d.Mode]
	if d.Mode == machine.Driven {
		mode = wiring.DrivenLow
		if d.Level || d.Pulsed() && d.Duty > 0.5 {
			mode = wiring.DrivenHigh
		}
	}
	if r.net.Controls[c].Settings[int(mode)] == "" { // the pin has no such mode, and stays as it can be
		mode = wiring.LetGo
	}
	r.set(c, mode)
	if (was.Pulsed() || d.Pulsed()) && r.pieceOf[c] != nil {
		r.touched[r.pieceOf[c]] = true
	}
	r.settle()
}

// settle lets chips answer, and notes what acts differently now.
func (r *rig) settle() {
	for range 4 { // a chip may move another's input
		if !r.clockChips() {
			break
		}
	}
	if len(r.touched) == 0 {
		return
	}
	for i := range r.actors {
		a := &r.actors[i]
		if !r.touched[a.piece] {
			continue
		}
		amps, hertz := r.through(a)
		if n := len(a.acts); n > 0 && math.Abs(a.acts[n-1].amps-amps) < 1e-6 && a.acts[n-1].hertz == hertz {
			continue
		}
		if len(a.acts) >= maxActs {
			a.lost = true
			continue
		}
		a.acts = append(a.acts, act{r.now, amps, hertz})
	}
	for p := range r.touched {
		r.sum(p)
	}
	if r.total > r.most+1e-6 {
		r.most, r.mostAt = r.total, r.now
	}
	clear(r.touched)
}

// sum adds up what the pins of a piece carry, with a duty as if it were high.
func (r *rig) sum(p *wiring.Piece) {
	if len(r.ends[p]) == 0 {
		return
	}
	s, err := p.At(p.Restrict(r.settings))
	if err != nil {
		return
	}
	amps := 0.0
	for _, e := range r.ends[p] {
		amps += math.Abs(s.TypicalAmps(e))
	}
	r.total += amps - r.pinAmps[p]
	r.pinAmps[p] = amps
}

// through is the current through an actor: of pins with a duty the average over their levels.
func (r *rig) through(a *actor) (amps, hertz float64) {
	var pulsed []int
	for pin, c := range r.control {
		if c >= 0 && r.pieceOf[c] == a.piece && r.drives[pin].Pulsed() {
			pulsed = append(pulsed, pin)
			hertz = max(hertz, r.drives[pin].Hertz)
		}
	}
	if len(pulsed) > 4 {
		pulsed = pulsed[:4] // of more, the rest stay where they are most of the time
	}
	settings := r.settings
	if len(pulsed) > 0 {
		settings = slices.Clone(settings)
	}
	for set := range 1 << len(pulsed) {
		weight := 1.0
		for i, pin := range pulsed {
			mode, share := float64(wiring.DrivenLow), 1-r.drives[pin].Duty
			if set>>i&1 == 1 {
				mode, share = wiring.DrivenHigh, r.drives[pin].Duty
			}
			settings[r.control[pin]] = mode
			weight *= share
		}
		s, err := a.piece.At(a.piece.Restrict(settings))
		if err != nil {
			return 0, 0 // a circuit without an answer is the wiring's finding
		}
		amps += weight * math.Abs(s.TypicalAmps(a.element))
	}
	return amps, hertz
}

// Level implements [machine.World]. Between the thresholds an input stays where it was; one
// that floats reads the hum of the mains (50 Hz, common practice).
func (r *rig) Level(pin int) bool {
	d := r.drives[pin]
	c := r.control[pin]
	if c < 0 || r.pieceOf[c] == nil {
		switch d.Mode {
		case machine.Driven:
			return d.Level
		case machine.PulledUp:
			return true
		case machine.PulledDown:
			return false
		}
		return r.now/(10*ms)%2 == 0
	}
	s := &r.seen[pin]
	if age := r.age[r.pieceOf[c]]; !s.known || s.age != age {
		v, err := r.net.Typical(r.settings, r.terminal[pin])
		if err != nil {
			v = 0
		}
		s.known, s.age, s.volts = true, age, v
		rail := r.net.RailVolts(r.net.Board.Logic.Rail).Typ
		switch l := r.net.Board.Logic; {
		case v >= l.VIH.At(rail):
			s.level = true
		case v <= l.VIL.At(rail):
			s.level = false
		}
	}
	return s.level
}

// Reading implements [machine.World].
func (r *rig) Reading(pin int) float64 {
	c := r.control[pin]
	if c < 0 {
		return 0.3 + 0.2*math.Sin(float64(r.now)/float64(20*ms)*2*math.Pi) // nothing holds it
	}
	v, err := r.net.Typical(r.settings, r.terminal[pin])
	full := r.net.RailVolts(r.net.Board.Logic.Analog.Reference).Typ
	if err != nil || full <= 0 {
		return 0
	}
	return v / full
}

// A chip is a shift register: what it has taken in, and what it shows.
type chip struct {
	part         *build.Part
	legs         map[string]build.Terminal
	latched      bool
	outs         [9]int // controls of qa to qh and serial; -1: nothing is wired there
	shift, store [8]bool
	clock, latch bool
	seen         bool
}

func (r *rig) addChip(p *build.Part) {
	kind, ok := r.net.Library.Catalogue.Kind(p.Kind)
	if !ok || kind.Model != "register" {
		return
	}
	c := chip{part: p, legs: map[string]build.Terminal{}, latched: slices.Contains(kind.Inputs, "latch")}
	for _, leg := range kind.Inputs {
		c.legs[leg] = build.Of(p.ID, leg)
	}
	for i, leg := range [...]string{"qa", "qb", "qc", "qd", "qe", "qf", "qg", "qh", "serial"} {
		c.outs[i] = slices.IndexFunc(r.net.Controls, func(x wiring.Control) bool { return x.Of == p.ID+"."+leg })
	}
	r.chips = append(r.chips, c)
}

// at is the level at a leg of a chip, against half of the board's logic.
func (r *rig) at(t build.Terminal) bool {
	v, err := r.net.Typical(r.settings, t)
	return err == nil && v > r.net.RailVolts(r.net.Board.Logic.Rail).Typ/2
}

// clockChips lets the registers see their edges (JEDEC JESD7 class: both the shift and the
// storage register take over on the rising edge of their clock), and reports whether an output
// moved. All look before any moves, so that a chain takes over together.
func (r *rig) clockChips() (moved bool) {
	if len(r.chips) == 0 || len(r.touched) == 0 {
		return false
	}
	type sight struct{ data, clock, latch, clear, off bool }
	sights := make([]sight, len(r.chips))
	for i := range r.chips {
		c := &r.chips[i]
		s := &sights[i]
		s.clock, s.clear = r.at(c.legs["clock"]), !r.at(c.legs["clear"])
		if s.clock != c.clock {
			s.data = r.at(c.legs["data"])
			if !c.latched {
				s.data = s.data && r.at(c.legs["data2"])
			}
		}
		if c.latched {
			s.latch, s.off = r.at(c.legs["latch"]), r.at(c.legs["enable"])
		}
	}
	for i := range r.chips {
		c, s := &r.chips[i], sights[i]
		if c.latched && c.seen && s.latch && !c.latch {
			c.store = c.shift
		}
		if c.seen && s.clock && !c.clock {
			copy(c.shift[1:], c.shift[:7])
			c.shift[0] = s.data
		}
		if s.clear {
			c.shift = [8]bool{}
		}
		c.clock, c.latch, c.seen = s.clock, s.latch, true
		shown := c.shift
		if c.latched {
			shown = c.store
		}
		for k, out := range c.outs {
			if out < 0 {
				continue
			}
			level := k == 8 && c.shift[7] || k < 8 && shown[k] && !s.off
			to := float64(wiring.Low)
			if level {
				to = wiring.High
			}
			if r.settings[out] != to {
				r.set(out, to)
				moved = true
			}
		}
	}
	return moved
}

// pinName is the name of the pin with a number, as the board has it; "pin 40" of one that the
// board has not.
func pinName(net *wiring.Network, pin int) string {
	if p, ok := net.Board.Numbered(pin); ok {
		return p.Name
	}
	return fmt.Sprintf("pin %d", pin)
}

// bounceOf is how long the contact of a part bounces, typically.
func bounceOf(net *wiring.Network, p *build.Part) int64 {
	kind, ok := net.Library.Catalogue.Kind(p.Kind)
	if !ok {
		return 0
	}
	if _, ok := kind.Value("bounce"); !ok {
		return 0
	}
	return int64(wiring.ValueOf(kind, p, "bounce").Typ * 1e9)
}

// valueOf is a value of a part, typically.
func valueOf(net *wiring.Network, p *build.Part, id string) float64 {
	kind, ok := net.Library.Catalogue.Kind(p.Kind)
	if !ok {
		return 0
	}
	if _, ok := kind.Value(id); !ok {
		return 0
	}
	return wiring.ValueOf(kind, p, id).Typ
}
