// Package rig is a build with hands at it: the network of its wiring, with the pins as a board
// drives them and everything else as hands and the world have set it. It is the world that a
// program's board stands in, for whoever asks: the check of a program, the bench.
package rig

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"time"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
)

const ms = int64(time.Millisecond)

// A rig is the build with hands at it: the world that a program's board stands in. Levels
// are those of the network, at the typical values, in the modes that the program sets and the
// settings that the hands have reached.
type Rig struct {
	plan    *wiring.Network
	net     *wiring.Network             // the plan, as it is with the supply's voltage
	fed     map[float64]*wiring.Network // by that
	regions []*region
	knobs   []knobOf // of each control: where it is
	pins    [machine.Pins]wire
	moves   []Move     // in the order of time
	done    int        // how many of them were made
	Moved   func(Move) // if not nil, is told of each that is made
	chips   []chip
	echoes  []echoer
	Servos  []Servo
	aims    map[int]float64 // of encoders: where they are turned to
	loose   map[int]float64 // what controls are set to that nothing in the circuit hangs on
	noise   *noise          // of floating pins; nil: none
	Actors  []Actor
	Probes  []*Probe
	touched []*region
	timed   bool
	moving  []*region // in which something happens by itself
	now     int64
	vil     float64
	vih     float64

	total  float64 // what all pins carry now
	Most   float64 // and carried at most, at the typical values
	MostAt int64
	Kicks  []Kick // once for each transistor
	source source
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
	pulse    pulse
}

// A Move is one control set by a hand, or by the world.
type Move struct {
	At      int64 // ns
	Control int   // in the network; below 0: [Plug], [Charge], [Age] or [Held]
	To      float64
	goesOn  bool // of an encoder that is on its way
}

// New returns a rig of a network with its hands at rest.
func New(net *wiring.Network) *Rig {
	r := &Rig{plan: net, net: net, fed: map[float64]*wiring.Network{}, loose: map[int]float64{}, knobs: make([]knobOf, len(net.Controls))}
	r.levels()
	of := map[*wiring.Piece]*region{}
	for _, p := range net.Pieces {
		g := &region{piece: p, state: make(wiring.State, len(p.Controls)), key: make([]byte, 8*len(p.Controls)), solved: map[string]*stand{}, kept: map[*wiring.Piece]map[string]*stand{}}
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
		r.Turn(i, Rest(c))
	}
	for i, e := range net.Elements {
		if g := of[net.PieceWith(i)]; g != nil && (e.Role == wiring.HighSide || e.Role == wiring.LowSide) {
			g.ends = append(g.ends, i)
		}
	}
	r.findActors(of)
	for i := range net.Doc.Parts {
		r.addChip(&net.Doc.Parts[i], of)
		r.addEcho(&net.Doc.Parts[i], of)
		r.addServo(&net.Doc.Parts[i], of)
	}
	for _, g := range r.regions {
		r.touch(g)
	}
	return r
}

// Board is the board that its pins are of.
func (r *Rig) Board() *board.Profile { return r.plan.Board }

// Rest is the setting of a control when nothing has happened yet.
func Rest(c *wiring.Control) float64 {
	switch {
	case c.Kind == wiring.Mode:
		return wiring.LetGo
	case c.Kind == wiring.Output:
		return wiring.Low
	case c.Unit == part.Clicks:
		return 0
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

// Turn moves a control at once.
func (r *Rig) Turn(control int, to float64) {
	k := r.knobs[control]
	if k.region == nil {
		r.loose[control] = to
		return
	}
	if k.region.state[k.index] == to {
		return
	}
	r.before(k.region)
	k.region.state[k.index] = to
	k.region.now = nil
	k.region.age++
	k.region.after()
	r.kicks(k.region)
	r.touch(k.region)
}

// An encoder that is turned goes through all that lies between, a quarter of a click after the
// other, each so long (from memory: a quick hand makes some sixty clicks a second).
const quarter = 4 * ms

// dial turns an encoder a quarter of a click, and has it go on to where it is to be.
func (r *Rig) dial(m Move) {
	now := r.Setting(m.Control)
	if r.aims == nil {
		r.aims = map[int]float64{}
	}
	if m.goesOn && r.aims[m.Control] != m.To {
		return // a hand has turned it elsewhere since
	}
	r.aims[m.Control] = m.To
	if left := m.To - now; math.Abs(left) > 0.25 {
		r.Turn(m.Control, now+math.Copysign(0.25, left))
		r.Plan([]Move{{m.At + quarter, m.Control, m.To, true}})
		return
	}
	r.Turn(m.Control, m.To)
}

// Setting is what a control is set to.
func (r *Rig) Setting(control int) float64 {
	if k := r.knobs[control]; k.region != nil {
		return k.region.state[k.index]
	}
	return r.loose[control]
}

// touch has what acts in a region looked at.
func (r *Rig) touch(g *region) {
	if !g.touched {
		g.touched = true
		r.touched = append(r.touched, g)
	}
}

// Next implements [machine.World].
func (r *Rig) Next() int64 {
	next := int64(machine.Never)
	if r.done < len(r.moves) {
		next = r.moves[r.done].At
	}
	if r.noise != nil {
		next = min(next, r.noise.next)
	}
	if r.source.cells != nil {
		next = min(next, r.source.cells.next)
	}
	for i := range r.echoes {
		next = min(next, r.echoes[i].next())
	}
	for _, g := range r.moving {
		next = min(next, r.coming(g))
	}
	return min(next, r.silences())
}

// Happen implements [machine.World].
func (r *Rig) Happen(at int64) bool {
	r.now = at
	if r.noise != nil && r.noise.next <= at {
		r.noise.next = machine.Never // until somebody looks again
	}
	for r.done < len(r.moves) && r.moves[r.done].At <= at {
		m := r.moves[r.done]
		r.done++
		switch {
		case m.Control >= 0 && r.net.Controls[m.Control].Unit == part.Clicks:
			r.dial(m)
		case m.Control >= 0:
			r.Turn(m.Control, m.To)
		default:
			r.supplied(m)
		}
		if r.Moved != nil && !m.goesOn {
			r.Moved(m)
		}
	}
	r.goOn()
	r.silence()
	r.answer()
	if c := r.source.cells; c != nil && c.next <= at {
		r.reckon()
	}
	r.Settle()
	return true
}

var modes = [...]float64{machine.LetGo: wiring.LetGo, machine.PulledUp: wiring.PulledUp, machine.PulledDown: wiring.PulledDown, machine.Driven: wiring.DrivenLow}

// Set implements [machine.World].
func (r *Rig) Set(pin int, d machine.Drive, at int64) {
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
	g := r.knobs[w.control].region
	if g != nil && (was.Pulsed() || d.Pulsed()) {
		g.pulsed = slices.DeleteFunc(g.pulsed, func(p int) bool { return p == pin })
		if d.Pulsed() {
			g.pulsed = append(g.pulsed, pin)
		}
		r.touch(g)
		g.known = false
	}
	if g != nil && d.Pulsed() && r.isEdged(g) {
		smoothed := r.smooths(g)
		r.begin(pin)
		r.list(g)
		if !smoothed {
			r.measure(g)
		}
	} else {
		r.Turn(w.control, mode)
	}
	r.Settle()
}

// Settle lets chips answer, and notes what acts differently now.
func (r *Rig) Settle() {
	r.hear()
	r.steer()
	for range 4 { // a chip may move another's input
		if !r.clockChips() {
			break
		}
	}
	for _, g := range r.touched {
		g.touched = false
		r.sum(g)
		r.draw(g)
		for _, p := range g.probes {
			r.sample(p)
		}
		for _, i := range g.actors {
			if !r.smooths(g) {
				amps, hertz := r.Through(&r.Actors[i])
				r.act(&r.Actors[i], amps, hertz)
			}
		}
	}
	r.touched = r.touched[:0]
	if r.total > r.Most+1e-6 {
		r.Most, r.MostAt = r.total, r.now
	}
}

// act notes what an actor does from now on.
func (r *Rig) act(a *Actor, amps, hertz float64) {
	if a.ear != nil {
		switch m := a.region.motion; {
		case hertz > 0:
			*a.ear = ear{}
		case m != nil:
			hertz = a.ear.hear(r.now, m.Across(a.Element))
		default:
			hertz = a.ear.hertz
		}
		if a.ear.hertz > 0 && len(a.Acts) > 0 && a.Acts[len(a.Acts)-1].Hertz == hertz {
			return
		}
	}
	n := len(a.Acts)
	switch {
	case n > 0 && math.Abs(a.Acts[n-1].Amps-amps) < 1e-6+amps/200 && a.Acts[n-1].Hertz == hertz:
	case n >= maxActs:
		a.Lost = true
	default:
		a.Acts = append(a.Acts, Act{r.now, amps, hertz})
	}
}

// region is that of a pin; nil where nothing is wired.
func (r *Rig) region(pin int) *region {
	if pin < 0 || pin >= machine.Pins || r.pins[pin].control < 0 {
		return nil
	}
	return r.knobs[r.pins[pin].control].region
}

// Level implements [machine.World]. Between the thresholds an input stays where it was; one
// that floats reads the hum of the mains (50 Hz, common practice).
func (r *Rig) Level(pin int, at int64) bool {
	r.now = max(r.now, at)
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
		if r.noise != nil {
			r.noise.heard(r.now)
			return r.noise.level(pin, r.now)
		}
		return r.now/(10*ms)%2 == 0
	}
	if !w.drive.Pulsed() {
		r.look(g)
	}
	if r.noise != nil && r.floats(w, g) {
		return r.noise.level(pin, r.now)
	}
	r.carry(g)
	return r.sense(w, g)
}

// sense works out what a pin of a region reads.
func (r *Rig) sense(w *wire, g *region) bool {
	if w.age != g.age || g.motion != nil {
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
func (r *Rig) Reading(pin int, at int64) float64 {
	r.now = max(r.now, at)
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
	r.look(g)
	r.carry(g)
	return g.volts(r.pins[pin].node) / full
}

// Volts is the voltage of a node at a time, against ground, at the typical values.
func (r *Rig) Volts(node circuit.Node, at int64) float64 {
	r.now = max(r.now, at)
	if g := r.regionOf(node); g != nil {
		r.carry(g)
	}
	volts, _, _ := r.at(node)
	return volts
}

// Plan adds to what hands will do, in whatever order. None may be before the present.
func (r *Rig) Plan(moves []Move) {
	if len(moves) == 0 {
		return
	}
	r.moves = append(slices.Delete(r.moves, 0, r.done), moves...)
	sort.SliceStable(r.moves, func(i, j int) bool { return r.moves[i].At < r.moves[j].At })
	r.done = 0
}

// ControlOf is the control of a pin's mode; -1 where nothing is wired.
func (r *Rig) ControlOf(pin int) int {
	if pin < 0 || pin >= machine.Pins {
		return -1
	}
	return r.pins[pin].control
}

// Piece is the piece of the network that a pin is in; nil where it is in none.
func (r *Rig) Piece(pin int) *wiring.Piece {
	if g := r.region(pin); g != nil {
		return g.piece
	}
	return nil
}

// Drive is what the program has made of a pin.
func (r *Rig) Drive(pin int) machine.Drive { return r.pins[pin].drive }

// Network returns the network.
func (r *Rig) Network() *wiring.Network { return r.net }

// PinName is the name of the pin with a number, as the board has it; "pin 40" of one that the
// board has not.
func PinName(net *wiring.Network, pin int) string {
	if p, ok := net.Board.Numbered(pin); ok {
		return p.Name
	}
	return fmt.Sprintf("pin %d", pin)
}

// BounceOf is how long the contact of a part bounces, typically, in nanoseconds.
func BounceOf(net *wiring.Network, p *build.Part) int64 {
	return int64(ValueOf(net, p, "bounce") * 1e9)
}

// ValueOf is a value of a part, typically; 0 of a part that has none.
func ValueOf(net *wiring.Network, p *build.Part, id string) float64 {
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
