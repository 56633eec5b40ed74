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
}

// Turns is a group of parts or signals that are active one at a time.
type Turns struct {
	Name  string
	Parts []string // ids of the parts that take turns
	Loose []string // ids of those that no one output switches, so that they cannot
}

// A turn is one member of a group: an output, and the level that makes the
// member active.
type turn struct {
	control      int
	active, idle float64
	label        string
}

// labels lists the members of a group, of many the first.
func labels(turns []turn) string {
	const most = 3
	var all []string
	for _, x := range turns {
		all = append(all, x.label)
	}
	if n := len(all); n > most {
		return fmt.Sprintf("%s and %d more", strings.Join(all[:most-1], ", "), n-most+1)
	}
	return strings.Join(all[:len(all)-1], ", ") + " and " + all[len(all)-1]
}

// addTurns makes the choices of the network. Groups that are active one at a
// time are one choice each, whether pins drive them or outputs of parts: nobody,
// or one of them.
func (n *Network) addTurns() {
	taken := make([]bool, len(n.Controls))
	group := func(t Turns, turns []turn) {
		// Two signals on one pin are one output.
		turns = slices.DeleteFunc(turns, func(x turn) bool {
			was := taken[x.control]
			taken[x.control] = true
			return was
		})
		if len(turns) > 1 {
			c := choice{words: []string{"none of " + labels(turns) + " has the turn"}}
			idle := make([]float64, len(turns))
			for k, x := range turns {
				c.controls = append(c.controls, x.control)
				c.words = append(c.words, x.label+" has the turn")
				idle[k] = x.idle
			}
			c.options = append(c.options, idle)
			for k, x := range turns {
				option := slices.Clone(idle)
				option[k] = x.active
				c.options = append(c.options, option)
			}
			n.choices = append(n.choices, c)
		} else if len(turns) == 1 { // it takes turns with nobody
			taken[turns[0].control] = false
		}
		n.Turns = append(n.Turns, t)
	}
	for i, ids := range n.Doc.Exclusive {
		if len(ids) < 2 {
			continue
		}
		t := Turns{Name: fmt.Sprintf("group %d", i), Parts: ids}
		var turns []turn
		for _, id := range ids {
			if x := n.switchedBy(id); len(x) > 0 {
				turns = append(turns, x...)
			} else {
				t.Loose = append(t.Loose, id)
			}
		}
		group(t, turns)
	}
	for i := range n.Doc.Parts {
		p := &n.Doc.Parts[i]
		done := map[string]bool{}
		for _, s := range p.Signals {
			if s.Group == "" || done[s.Group] {
				continue
			}
			done[s.Group] = true
			var turns []turn
			for _, other := range p.Signals {
				if c := (Claim{p, other}); other.Group == s.Group && c.drives() {
					turns = append(turns, n.turnOf(c))
				}
			}
			group(Turns{Name: p.ID + " " + s.Group}, slices.DeleteFunc(turns, func(x turn) bool { return x.control < 0 }))
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
	t := turn{control: n.controlNamed(c.Signal.Pin), active: DrivenHigh, idle: DrivenLow, label: fmt.Sprintf("%s (%s)", c.Signal.Pin, c.Part.Name)}
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
				turns = append(turns, turn{c, end.active, High - end.active, fmt.Sprintf("%s (%s)", n.Controls[c].Name, p.Name)})
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
