package diagnose

import (
	"maps"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
)

// An actor is something whose doing is seen or heard.
type actor struct {
	part    *build.Part
	name    string
	element int
	lamp    bool
	oneWay  bool // what flows backwards through it does nothing
	swings  bool // what it does is the swing between its two states: it passes no steady current
	states  []state
	full    float64 // amperes, or volts of the swing, when it does most
}

// id names it: by its part, and where it is one of several in a case by its own name too.
func (a *actor) id() string {
	if a.part.Name == a.name {
		return a.part.ID
	}
	return a.part.ID + "/" + strings.ReplaceAll(a.name, " ", "-")
}

// A state is how the controls at something are set, and what goes without saying.
type state struct {
	set   wiring.Settings
	words string
	most  bool // of an actor: it is on in it
}

// An input is a pin that the program reads.
type input struct {
	pin    string
	name   string
	parts  []string
	analog bool
	states []state
}

// A chip does what the program says only while its inputs reach it.
type chip struct {
	id   string
	legs []leg
}

// A leg is an input of a chip: the pin that drives it, or the level that it is wired to.
type leg struct {
	in  wiring.PartInput
	t   build.Terminal
	pin string
}

// mostStates is in how many states one thing is asked about.
const mostStates = 6

func (c *Case) findActors() {
	add := func(a actor) {
		p := c.net.PieceWith(a.element)
		if a.element < 0 || p == nil {
			return
		}
		list, err := p.Planned(wiring.Current(a.element))
		if err != nil || len(list) == 0 {
			return
		}
		amps := func(s *wiring.Solved) float64 { return math.Abs(s.TypicalAmps(a.element)) }
		on, off := list[0], list[0]
		for _, s := range list[1:] {
			if amps(s) > amps(on)*1.001 {
				on = s
			}
			if amps(s) < amps(off)*0.999 {
				off = s
			}
		}
		if a.full = amps(on); a.full < 1e-6 {
			return // it does nothing as planned; the check says why
		}
		a.states = append(a.states, c.stateOf(on, true))
		if amps(off) < a.full/2 {
			a.states = append(a.states, c.stateOf(off, false))
		}
		c.actors = append(c.actors, a)
	}
	for _, l := range c.net.Lamps {
		add(actor{part: l.Part, name: l.Name, element: l.Element, lamp: true})
	}
	for i := range c.doc.Parts {
		p := &c.doc.Parts[i]
		a := actor{part: p, name: p.Name, element: c.net.Find(wiring.Body, p.ID, "")}
		switch kind, _ := c.lib.Catalogue.Kind(p.Kind); kind.Acts {
		case part.Turns, part.Pulls, part.Glows, part.Sounds:
			a.oneWay = kind.Acts == part.Sounds
			add(a)
		case part.Tone:
			c.addSwinging(a)
		}
	}
}

// addSwinging adds a buzzer: it sounds by what its voltage swings between the levels of its
// pin.
func (c *Case) addSwinging(a actor) {
	p := c.net.PieceWith(a.element)
	if a.element < 0 || p == nil {
		return
	}
	x, y := c.net.Ends(a.element)
	list, err := p.Planned(wiring.Voltage(x, y))
	if err != nil || len(list) == 0 {
		return
	}
	volts := func(s *wiring.Solved) float64 { return s.Typical(x) - s.Typical(y) }
	most, least := list[0], list[0]
	for _, s := range list[1:] {
		if volts(s) > volts(most) {
			most = s
		}
		if volts(s) < volts(least) {
			least = s
		}
	}
	if a.full = volts(most) - volts(least); a.full < 0.1 {
		return
	}
	a.swings = true
	a.states = []state{c.stateOf(most, true), c.stateOf(least, false)}
	c.actors = append(c.actors, a)
}

// stateOf is a state of a piece, without what is as the plan begins.
func (c *Case) stateOf(s *wiring.Solved, most bool) state {
	set := wiring.Settings{}
	begin, err := c.net.Resolve(nil)
	if err != nil {
		return state{set: s.Address(), words: s.Words(), most: most}
	}
	for of, to := range s.Address() {
		i := slices.IndexFunc(c.net.Controls, func(x wiring.Control) bool { return x.Of == of })
		if i < 0 || c.net.Controls[i].Text(begin[i]) != to {
			set[of] = to
		}
	}
	return state{set: set, words: s.Piece.Describe(s.State), most: most}
}

// findInputs lists the pins that the program reads, each in states that differ there.
func (c *Case) findInputs() {
	for _, u := range c.net.Uses {
		t := build.Pin(u.Pin.Name)
		if u.Drives() || c.doc.NetOf(t) < 0 || len(u.Signals) == 0 {
			continue
		}
		p := c.net.PieceOf(c.net.Node(t))
		if p == nil {
			continue
		}
		in := input{pin: u.Pin.Name, name: u.Signals[0].Part.Name}
		for _, s := range u.Signals {
			in.parts = append(in.parts, s.Part.ID)
			in.analog = in.analog || s.Signal.Needs == board.AnalogIn
		}
		in.states = c.inputStates(p, c.net.Node(t))
		c.inputs = append(c.inputs, in)
	}
}

func (c *Case) inputStates(p *wiring.Piece, node circuit.Node) (out []state) {
	list, err := p.Planned(wiring.Voltage(node))
	if err != nil || len(list) == 0 {
		return nil
	}
	low, high := list[0], list[0]
	for _, s := range list[1:] {
		if s.Typical(node) < low.Typical(node)-1e-3 {
			low = s
		}
		if s.Typical(node) > high.Typical(node)+1e-3 {
			high = s
		}
	}
	seen := map[string]bool{}
	add := func(s *wiring.Solved) {
		st := c.stateOf(s, false)
		if key := keyOf(st.set); !seen[key] && len(out) < mostStates {
			seen[key] = true
			out = append(out, st)
		}
	}
	begin, err := c.net.Resolve(nil)
	if err != nil {
		return nil
	}
	at := func(settings []float64) {
		if s, err := p.At(p.Restrict(settings)); err == nil {
			add(s)
		}
	}
	at(begin)
	add(low)
	add(high)
	for _, i := range p.Controls {
		k := &c.net.Controls[i]
		if k.Kind != wiring.Contact && k.Kind != wiring.Level {
			continue
		}
		for _, v := range []float64{k.Planned[0], k.Planned[len(k.Planned)-1]} {
			settings := slices.Clone(begin)
			settings[i] = v
			at(settings)
		}
	}
	return out
}

func keyOf(set wiring.Settings) string {
	out := ""
	for _, of := range slices.Sorted(maps.Keys(set)) {
		out += ":" + of + "=" + set[of]
	}
	return out
}

// findChips lists the chips whose outputs the program sets by way of their inputs.
func (c *Case) findChips() {
	for _, in := range c.net.Inputs {
		kind, _ := c.lib.Catalogue.Kind(in.Part.Kind)
		if len(kind.Outputs) == 0 {
			continue
		}
		i := slices.IndexFunc(c.chips, func(x chip) bool { return x.id == in.Part.ID })
		if i < 0 {
			i = len(c.chips)
			c.chips = append(c.chips, chip{id: in.Part.ID})
		}
		l := leg{in: in, t: build.Of(in.Part.ID, in.Leg)}
		if k := c.doc.NetOf(l.t); k >= 0 {
			for _, t := range c.doc.Nets[k] {
				if _, name := t.Split(); t.OnBoard() && slices.ContainsFunc(c.net.Uses, func(u wiring.Use) bool { return u.Pin.Name == name && u.Drives() }) {
					l.pin = name
				}
			}
		}
		c.chips[i].legs = append(c.chips[i].legs, l)
	}
}

// deadChips lists the chips that do not follow the program any more: an input of theirs does
// not get the level that it gets as planned.
func (c *Case) deadChips(f *fault.Fault, n *networks) map[string]bool {
	if f == nil || len(c.chips) == 0 {
		return nil
	}
	out := map[string]bool{}
	net := n.on()
	touched := map[string]bool{}
	for _, t := range f.Touches() {
		id, _ := t.Split()
		touched[id] = true
		if k := c.doc.NetOf(t); k >= 0 {
			for _, o := range c.doc.Nets[k] {
				id, _ := o.Split()
				touched[id] = true
			}
		}
	}
	for _, ch := range c.chips {
		if !touched[ch.id] && !f.Everywhere() {
			continue
		}
		for _, l := range ch.legs {
			sets := []wiring.Settings{nil}
			if l.pin != "" {
				sets = []wiring.Settings{{l.pin: "low"}, {l.pin: "high"}}
			}
			for _, meant := range sets {
				want, ok := levelAt(c.net, l, meant)
				is, held := levelAt(net, l, f.Under(c.net, meant))
				if ok && (!held || want != is) {
					out[ch.id] = true
				}
			}
		}
		// What comes out of one chip's serial output goes into the next: a chain is as dead as
		// its first.
	}
	for again := true; again; {
		again = false
		for _, ch := range c.chips {
			for _, l := range ch.legs {
				if !out[ch.id] && c.fedByDead(l.t, out) {
					out[ch.id], again = true, true
				}
			}
		}
	}
	return out
}

// fedByDead reports whether an output of a chip that is dead is joined to a leg.
func (c *Case) fedByDead(t build.Terminal, dead map[string]bool) bool {
	k := c.doc.NetOf(t)
	return k >= 0 && slices.ContainsFunc(c.doc.Nets[k], func(o build.Terminal) bool {
		id, leg := o.Split()
		if !dead[id] {
			return false
		}
		kind, _ := c.lib.Catalogue.Kind(c.doc.Part(id).Kind)
		return slices.Contains(kind.Outputs, leg)
	})
}

// levelAt is the level that a leg reads, and whether anything says so.
func levelAt(n *wiring.Network, l leg, set wiring.Settings) (high, sure bool) {
	settings, err := n.Resolve(set)
	if err != nil {
		return false, false
	}
	node := n.Node(l.t)
	v := n.FedVolts(node).Typ
	if p := n.PieceOf(node); p != nil {
		s, err := p.At(p.Restrict(settings))
		if err != nil || !s.Held(node) {
			return false, false
		}
		v = s.Typical(node)
	} else if !n.Stiff(node) {
		return false, false
	}
	supply := n.FedVolts(l.in.Supply).Typ
	if supply <= 0 {
		return false, false
	}
	switch {
	case v >= l.in.VIH*supply:
		return true, true
	case v <= l.in.VIL*supply:
		return false, true
	}
	return false, false
}
