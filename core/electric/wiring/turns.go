package wiring

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
)

// A choice is what the plan lets some controls be together: one of its options.
// A control in no choice of several is one by itself.
type choice struct {
	controls []int       // indices of controls
	options  [][]float64 // a setting for each of them
	words    []string    // of an option; nil: the words of the control
	partial  bool        // there are more options than are looked at
}

// Turns is a group of parts or signals that are active one at a time.
type Turns struct {
	Name  string
	Parts []string // ids of the parts that take turns
	Loose []string // ids of those that no one output switches, so that they cannot
}

// A turn is an output of a member of a group, and the level that makes it active.
type turn struct {
	control      int
	active, idle float64
	label        string
	group        string // of signals of the part of which one is active at a time
}

// A member is one part that takes turns, with all its outputs: while it has the turn, any of
// them may be active.
type member struct {
	label string
	turns []turn
}

// allSets is how many outputs a member may have to be looked at with every set of them active;
// of one with more each alone, all but one, and all.
const allSets = 6

// sets lists which outputs of a member may be active together while it has the turn: at least
// one, and of a group of signals at most one. It is partial where there are more.
func (m *member) sets() (out [][]bool, partial bool) {
	n := len(m.turns)
	add := func(set []bool) {
		groups := map[string]bool{}
		any := false
		for k, on := range set {
			if g := m.turns[k].group; on && g != "" {
				if groups[g] {
					return
				}
				groups[g] = true
			}
			any = any || on
		}
		if any && !slices.ContainsFunc(out, func(o []bool) bool { return slices.Equal(o, set) }) {
			out = append(out, set)
		}
	}
	if n <= allSets {
		for bits := 1; bits < 1<<n; bits++ {
			set := make([]bool, n)
			for k := range set {
				set[k] = bits>>k&1 != 0
			}
			add(set)
		}
		return out, false
	}
	add(slices.Repeat([]bool{true}, n))
	for k := range n {
		one, rest := make([]bool, n), slices.Repeat([]bool{true}, n)
		one[k], rest[k] = true, false
		add(one)
		add(rest)
	}
	return out, true
}

// words says which outputs are active.
func (m *member) words(set []bool) string {
	if len(m.turns) == 1 {
		return m.label + " has the turn"
	}
	var on []string
	for k, is := range set {
		if is {
			on = append(on, m.turns[k].label)
		}
	}
	if len(on) == len(m.turns) {
		return m.label + " has the turn, all of it on"
	}
	return m.label + " has the turn, with " + strings.Join(on, ", ") + " on"
}

// labels lists the members of a group, of many the first.
func labels(members []member) string {
	const most = 3
	var all []string
	for _, x := range members {
		all = append(all, x.label)
	}
	if n := len(all); n > most {
		return fmt.Sprintf("%s and %d more", strings.Join(all[:most-1], ", "), n-most+1)
	}
	return strings.Join(all[:len(all)-1], ", ") + " and " + all[len(all)-1]
}

// addTurns makes the choices of the network. Groups that are active one at a
// time are one choice each, whether pins drive them or outputs of parts: nobody,
// or one of them, with any of its outputs.
func (n *Network) addTurns() {
	taken := make([]bool, len(n.Controls))
	group := func(t Turns, members []member) {
		// Two signals on one pin are one output.
		var of []turn
		for i := range members {
			members[i].turns = slices.DeleteFunc(members[i].turns, func(x turn) bool {
				was := taken[x.control]
				taken[x.control] = true
				return was
			})
			of = append(of, members[i].turns...)
		}
		members = slices.DeleteFunc(members, func(m member) bool { return len(m.turns) == 0 })
		if len(members) > 1 {
			c := choice{words: []string{"none of " + labels(members) + " has the turn"}}
			idle := make([]float64, len(of))
			for k, x := range of {
				c.controls = append(c.controls, x.control)
				idle[k] = x.idle
			}
			c.options = append(c.options, idle)
			first := 0
			for i := range members {
				m := &members[i]
				sets, partial := m.sets()
				c.partial = c.partial || partial
				for _, set := range sets {
					option := slices.Clone(idle)
					for k, on := range set {
						if on {
							option[first+k] = m.turns[k].active
						}
					}
					c.options = append(c.options, option)
					c.words = append(c.words, m.words(set))
				}
				first += len(m.turns)
			}
			n.choices = append(n.choices, c)
		} else { // it takes turns with nobody
			for _, x := range of {
				taken[x.control] = false
			}
		}
		n.Turns = append(n.Turns, t)
	}
	for i, ids := range n.Doc.Exclusive {
		if len(ids) < 2 {
			continue
		}
		t := Turns{Name: fmt.Sprintf("group %d", i), Parts: ids}
		var members []member
		for _, id := range ids {
			switch x := n.switchedBy(id); len(x) {
			case 0:
				t.Loose = append(t.Loose, id)
			case 1:
				members = append(members, member{x[0].label, x})
			default:
				members = append(members, member{n.Doc.Part(id).Name, x})
			}
		}
		group(t, members)
	}
	for i := range n.Doc.Parts {
		p := &n.Doc.Parts[i]
		done := map[string]bool{}
		for _, s := range p.Signals {
			if s.Group == "" || done[s.Group] {
				continue
			}
			done[s.Group] = true
			var members []member
			for _, other := range p.Signals {
				if c := (Claim{p, other}); other.Group == s.Group && c.drives() {
					if x := n.turnOf(c); x.control >= 0 {
						members = append(members, member{x.label, []turn{x}})
					}
				}
			}
			group(Turns{Name: p.ID + " " + s.Group}, members)
		}
	}
	for i := range n.Controls {
		if !taken[i] {
			c := choice{controls: []int{i}}
			for _, s := range n.Controls[i].Planned {
				c.options = append(c.options, []float64{s})
			}
			n.choices = append(n.choices, c)
		}
	}
	slices.SortStableFunc(n.choices, func(a, b choice) int { return a.controls[0] - b.controls[0] })
}

// controlNamed returns the control of a pin, a part or a leg, or -1.
func (n *Network) controlNamed(of string) int {
	return slices.IndexFunc(n.Controls, func(c Control) bool { return c.Of == of })
}

// turnOf is the turn of a signal that drives a pin.
func (n *Network) turnOf(c Claim) turn {
	d := c.Signal.Drive
	t := turn{control: n.controlNamed(c.Signal.Pin), active: DrivenHigh, idle: DrivenLow, label: fmt.Sprintf("%s (%s)", c.Signal.Pin, c.Part.Name), group: c.Signal.Group}
	if d.Active == part.ActiveLow {
		t.active, t.idle = DrivenLow, DrivenHigh
	}
	if d.Open {
		t.idle = LetGo
	}
	if t.control >= 0 && n.Controls[t.control].Settings[int(t.active)] == "" {
		t.control = -1
	}
	return t
}

// switchedBy finds the outputs that a part is switched by: the pins of its own
// signals, or the one output of another part that its current comes from or goes
// to, straight or through what its hookup brought.
func (n *Network) switchedBy(id string) (turns []turn) {
	p := n.Doc.Part(id)
	for _, s := range p.Signals {
		if c := (Claim{p, s}); c.drives() {
			if t := n.turnOf(c); t.control >= 0 {
				turns = append(turns, t)
			}
		}
	}
	if len(turns) > 0 {
		return turns
	}
	for _, l := range n.Lamps {
		if l.Part.ID != id {
			continue
		}
		e := n.raw[l.Element]
		for _, end := range []struct {
			from   circuit.Node
			active float64
		}{{e.A, High}, {e.B, Low}} {
			if c := n.outputAt(end.from, id); c >= 0 {
				turns = append(turns, turn{control: c, active: end.active, idle: High - end.active, label: fmt.Sprintf("%s (%s)", n.Controls[c].Name, p.Name)})
			}
		}
	}
	if len(turns) != 1 {
		return nil
	}
	return turns
}

// outputAt returns the control of the output of a part that is joined to a place,
// straight or through the helpers of a part, or -1.
func (n *Network) outputAt(place circuit.Node, of string) int {
	if n.places.fed[n.places.node[place]] {
		return -1
	}
	seen := map[circuit.Node]bool{n.places.node[place]: true}
	for queue := []circuit.Node{n.places.node[place]}; len(queue) > 0; queue = queue[1:] {
		for i := range n.Elements {
			e, r := &n.Elements[i], &n.raw[i]
			a, b := n.places.node[r.A], n.places.node[r.B]
			if a != queue[0] && b != queue[0] {
				continue
			}
			if e.Role == PartOut && n.Node(build.Terminal(n.Controls[e.control].Of)) == queue[0] {
				return e.control
			}
			if q := n.Doc.Part(e.Part); q == nil || q.Of != of || r.Kind != circuit.Resistor {
				continue
			}
			for _, next := range []circuit.Node{a, b} {
				if !seen[next] && !n.places.fed[next] {
					seen[next] = true
					queue = append(queue, next)
				}
			}
		}
	}
	return -1
}
