package program

import (
	"encoding/binary"
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"cablaggio/core/build"
	"cablaggio/core/circuit"
	"cablaggio/core/machine"
	"cablaggio/core/wiring"
)

// ms is a millisecond in the board's time.
const ms = int64(time.Millisecond)

// A rig is the build with hands at it: the world that a program's board stands in. Levels
// are those of the network, at the typical values, in the modes that the program sets and the
// settings that the hands have reached.
type rig struct {
	net     *wiring.Network
	regions []*region
	knobs   []knobOf // of each control: where it is
	pins    [machine.Pins]wire
	moves   []move // in the order of time
	done    int    // how many of them were made
	chips   []chip
	actors  []actor
	touched []*region
	now     int64
	vil     float64
	vih     float64

	total  float64 // what all pins carry now
	most   float64 // and carried at most
	mostAt int64
}

// A region is a piece of the network in the state that it is in. A program meets the same few
// states thousands of times, so what was solved is kept.
type region struct {
	piece   *wiring.Piece
	state   wiring.State
	key     []byte
	solved  map[string]*wiring.Solved
	now     *wiring.Solved // nil: not asked since a control moved
	age     int            // how often one moved
	touched bool
	ends    []int // the elements that drive its pins
	amps    float64
	actors  []int
	pins    []int
	chips   bool // a chip looks at it
}

// A knobOf says where a control of the network is; the zero one is of a control that nothing
// hangs on.
type knobOf struct {
	region *region
	index  int
}

// A wire is what is at a pin of the board.
type wire struct {
	control  int // in the network; -1: nothing is wired to it
	terminal build.Terminal
	node     circuit.Node
	drive    machine.Drive
	age      int // of its region when its level was worked out
	level    bool
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
	region  *region
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
	r := &rig{net: net, knobs: make([]knobOf, len(net.Controls))}
	rail := net.RailVolts(net.Board.Logic.Rail).Typ
	r.vil, r.vih = net.Board.Logic.VIL.At(rail), net.Board.Logic.VIH.At(rail)
	of := map[*wiring.Piece]*region{}
	for _, p := range net.Pieces {
		g := &region{piece: p, state: make(wiring.State, len(p.Controls)), key: make([]byte, 8*len(p.Controls)), solved: map[string]*wiring.Solved{}}
		r.regions = append(r.regions, g)
		of[p] = g
		for i, c := range p.Controls {
			r.knobs[c] = knobOf{g, i}
		}
	}
	for pin := range r.pins {
		r.pins[pin].control = -1
	}
	for i := range net.Controls {
		c := &net.Controls[i]
		if c.Kind == wiring.Mode {
			if n := net.Board.Number(c.Of); n >= 0 && n < machine.Pins {
				r.pins[n] = wire{control: i, terminal: build.Pin(c.Of), node: net.Node(build.Pin(c.Of)), age: -1}
				if g := r.knobs[i].region; g != nil {
					g.pins = append(g.pins, n)
				}
			}
		}
		r.set(i, rest(c))
	}
	for i, e := range net.Elements {
		if g := of[net.PieceWith(i)]; g != nil && (e.Role == wiring.HighSide || e.Role == wiring.LowSide) {
			g.ends = append(g.ends, i)
		}
	}
	r.findActors(of)
	for i := range net.Doc.Parts {
		r.addChip(&net.Doc.Parts[i], of)
	}
	for _, g := range r.regions {
		r.touch(g)
	}
	return r
}

// rest is the setting of a control when nothing has happened yet.
func rest(c *wiring.Control) float64 {
	switch {
	case c.Kind == wiring.Mode:
		return wiring.LetGo
	case c.Kind == wiring.Output:
		return wiring.Low
	case c.Kind == wiring.Level:
		return middle(c)
	case len(c.Planned) > 0:
		return c.Planned[0]
	}
	return wiring.Open
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
func (r *rig) findActors(of map[*wiring.Piece]*region) {
	add := func(a actor) {
		if a.element >= 0 {
			if a.region = of[r.net.PieceWith(a.element)]; a.region != nil {
				r.actors = append(r.actors, a)
			}
		}
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
	for i := range r.actors {
		g := r.actors[i].region
		g.actors = append(g.actors, i)
	}
}

// set moves a control.
func (r *rig) set(control int, to float64) {
	k := r.knobs[control]
	if k.region == nil || k.region.state[k.index] == to {
		return
	}
	k.region.state[k.index] = to
	k.region.now = nil
	k.region.age++
	r.touch(k.region)
}

// setting is what a control is set to.
func (r *rig) setting(control int) float64 {
	if k := r.knobs[control]; k.region != nil {
		return k.region.state[k.index]
	}
	return 0
}

// touch has what acts in a region looked at.
func (r *rig) touch(g *region) {
	if !g.touched {
		g.touched = true
		r.touched = append(r.touched, g)
	}
}

// solve returns the region in the state that it is in; nil where the circuit has no answer,
// which is the wiring's own finding.
func (g *region) solve() *wiring.Solved {
	if g.now == nil {
		g.now = g.in(g.state)
	}
	return g.now
}

func (g *region) in(state wiring.State) *wiring.Solved {
	for i, v := range state {
		binary.LittleEndian.PutUint64(g.key[8*i:], math.Float64bits(v))
	}
	if s, ok := g.solved[string(g.key)]; ok {
		return s
	}
	s, err := g.piece.At(slices.Clone(state))
	if err != nil {
		s = nil
	}
	g.solved[string(g.key)] = s
	return s
}

// volts is the voltage of a node of a region.
func (g *region) volts(node circuit.Node) float64 {
	if s := g.solve(); s != nil {
		return s.Typical(node)
	}
	return 0
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

var modes = [...]float64{machine.LetGo: wiring.LetGo, machine.PulledUp: wiring.PulledUp, machine.PulledDown: wiring.PulledDown, machine.Driven: wiring.DrivenLow}

// Set implements [machine.World].
func (r *rig) Set(pin int, d machine.Drive, at int64) {
	r.now = at
	w := &r.pins[pin]
	was := w.drive
	w.drive = d
	if w.control < 0 {
		return
	}
	mode := modes[d.Mode]
	if d.Mode == machine.Driven && (d.Level || d.Pulsed() && d.Duty > 0.5) {
		mode = wiring.DrivenHigh
	}
	if r.net.Controls[w.control].Settings[int(mode)] == "" { // the pin has no such mode, and stays as it can be
		mode = wiring.LetGo
	}
	r.set(w.control, mode)
	if g := r.knobs[w.control].region; g != nil && (was.Pulsed() || d.Pulsed()) {
		r.touch(g)
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
	for _, g := range r.touched {
		g.touched = false
		r.sum(g)
		for _, i := range g.actors {
			a := &r.actors[i]
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
	}
	r.touched = r.touched[:0]
	if r.total > r.most+1e-6 {
		r.most, r.mostAt = r.total, r.now
	}
}

// sum adds up what the pins of a region carry, sourced or sunk; with a duty, while it is where
// it is most of the time.
func (r *rig) sum(g *region) {
	if len(g.ends) == 0 {
		return
	}
	s := g.solve()
	if s == nil {
		return
	}
	amps := 0.0
	for _, e := range g.ends {
		amps += math.Abs(s.TypicalAmps(e))
	}
	r.total += amps - g.amps
	g.amps = amps
}

// maxPulsed is how many pins with a duty are averaged over in one region; of more, the rest
// stay where they are most of the time.
const maxPulsed = 4

// through is the current through an actor: of pins with a duty the average over their levels.
func (r *rig) through(a *actor) (amps, hertz float64) {
	var pulsed []int
	for _, pin := range a.region.pins {
		if d := r.pins[pin].drive; d.Pulsed() && len(pulsed) < maxPulsed {
			pulsed = append(pulsed, pin)
			hertz = max(hertz, d.Hertz)
		}
	}
	if len(pulsed) == 0 {
		if s := a.region.solve(); s != nil {
			return math.Abs(s.TypicalAmps(a.element)), 0
		}
		return 0, 0
	}
	state := slices.Clone(a.region.state)
	for set := range 1 << len(pulsed) {
		weight := 1.0
		for i, pin := range pulsed {
			w := &r.pins[pin]
			mode, share := float64(wiring.DrivenLow), 1-w.drive.Duty
			if set>>i&1 == 1 {
				mode, share = wiring.DrivenHigh, w.drive.Duty
			}
			state[r.knobs[w.control].index] = mode
			weight *= share
		}
		if s := a.region.in(state); s != nil {
			amps += weight * math.Abs(s.TypicalAmps(a.element))
		}
	}
	return amps, hertz
}

// region is that of a pin; nil where nothing is wired.
func (r *rig) region(pin int) *region {
	if pin < 0 || pin >= machine.Pins || r.pins[pin].control < 0 {
		return nil
	}
	return r.knobs[r.pins[pin].control].region
}

// Level implements [machine.World]. Between the thresholds an input stays where it was; one
// that floats reads the hum of the mains (50 Hz, common practice).
func (r *rig) Level(pin int) bool {
	w := &r.pins[pin]
	g := r.region(pin)
	if g == nil {
		if w.control >= 0 && r.net.Stiff(w.node) {
			return r.net.FedVolts(w.node).Typ > r.vil
		}
		switch w.drive.Mode {
		case machine.Driven:
			return w.drive.Level
		case machine.PulledUp:
			return true
		case machine.PulledDown:
			return false
		}
		return r.now/(10*ms)%2 == 0
	}
	if w.age != g.age {
		w.age = g.age
		switch v := g.volts(w.node); {
		case v >= r.vih:
			w.level = true
		case v <= r.vil:
			w.level = false
		}
	}
	return w.level
}

// Reading implements [machine.World].
func (r *rig) Reading(pin int) float64 {
	g := r.region(pin)
	full := r.net.RailVolts(r.net.Board.Logic.Analog.Reference).Typ
	switch {
	case pin < 0 || pin >= machine.Pins || full <= 0:
		return 0
	case r.pins[pin].control < 0: // nothing holds it
		return 0.3 + 0.2*math.Sin(float64(r.now)/float64(20*ms)*2*math.Pi)
	case g == nil: // a wire straight to a rail
		return r.net.FedVolts(r.pins[pin].node).Typ / full
	}
	return g.volts(r.pins[pin].node) / full
}

// pinName is the name of the pin with a number, as the board has it; "pin 40" of one that the
// board has not.
func pinName(net *wiring.Network, pin int) string {
	if p, ok := net.Board.Numbered(pin); ok {
		return p.Name
	}
	return fmt.Sprintf("pin %d", pin)
}

// bounceOf is how long the contact of a part bounces, typically, in nanoseconds.
func bounceOf(net *wiring.Network, p *build.Part) int64 {
	return int64(valueOf(net, p, "bounce") * 1e9)
}

// valueOf is a value of a part, typically; 0 of a part that has none.
func valueOf(net *wiring.Network, p *build.Part, id string) float64 {
	if p == nil {
		return 0
	}
	kind, ok := net.Library.Catalogue.Kind(p.Kind)
	if !ok {
		return 0
	}
	if _, ok := kind.Value(id); !ok {
		return 0
	}
	return wiring.ValueOf(kind, p, id).Typ
}
