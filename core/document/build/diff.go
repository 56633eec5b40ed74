package build

import (
	"fmt"
	"maps"
	"reflect"
	"slices"
	"strings"
)

// Diff says in words what is different in b from a.
func Diff(a, b *Document) []string {
	out := []string{}
	say := func(format string, args ...any) { out = append(out, fmt.Sprintf(format, args...)) }
	if a.Title != b.Title {
		say("the title is %q, was %q", b.Title, a.Title)
	}
	if a.Board != b.Board {
		say("the board is %s, was %s", b.Board, a.Board)
	}
	if a.Supply != b.Supply || a.Also != b.Also || a.Volts != b.Volts || !reflect.DeepEqual(a.Cells, b.Cells) {
		say("the supply has changed")
	}
	if !reflect.DeepEqual(a.Exclusive, b.Exclusive) && len(a.Exclusive)+len(b.Exclusive) > 0 {
		say("other parts take turns")
	}
	if !reflect.DeepEqual(a.Kinds, b.Kinds) && len(a.Kinds)+len(b.Kinds) > 0 {
		say("other kinds of parts of your own are in it")
	}
	if a.UnusedPulled != b.UnusedPulled {
		say("the pull-ups of unused pins are %s", onOff(b.UnusedPulled))
	}
	for _, p := range a.Parts {
		if b.Part(p.ID) == nil {
			say("%s is gone", p.Name)
		}
	}
	for _, q := range b.Parts {
		p := a.Part(q.ID)
		if p == nil {
			say("%s is new", q.Name)
			continue
		}
		if p.Name != q.Name {
			say("%s is called %s now", p.Name, q.Name)
		}
		if p.Type != q.Type {
			say("%s is %s, was %s", q.Name, q.Type, p.Type)
		}
		if p.Kind != q.Kind {
			say("%s is another kind of part", q.Name)
		}
		if p.Hookup != q.Hookup {
			say("%s is wired another way", q.Name)
		}
		if !maps.Equal(p.Values, q.Values) || !maps.Equal(p.Measured, q.Measured) {
			say("%s has other values", q.Name)
		}
		if p.Of != q.Of || p.Role != q.Role {
			say("%s belongs to another part", q.Name)
		}
		if p.Chosen != q.Chosen {
			say("the value of %s is %s", q.Name, chosen(q.Chosen))
		}
		switch {
		case pinsOf(p) != pinsOf(&q):
			say("%s is on %s", q.Name, pinsOf(&q))
		case !slices.Equal(p.Signals, q.Signals):
			say("%s uses its pins another way", q.Name)
		}
	}
	if len(out) == 0 && !sameNets(a, b) {
		say("wires have moved")
	}
	switch {
	case a.Program == nil && b.Program != nil:
		say("there is a program")
	case a.Program != nil && b.Program == nil:
		say("the program is gone")
	case a.Program != nil && (a.Program.Language != b.Program.Language || a.Program.Text != b.Program.Text || !slices.Equal(a.Program.Files, b.Program.Files)):
		say("the program is another one")
	}
	if !slices.Equal(a.Should, b.Should) {
		say("what it should do is said otherwise")
	}
	return append(out, a.Assembly.diff(b.Assembly)...)
}

func onOff(on bool) string {
	if on {
		return "on"
	}
	return "off"
}

func chosen(follows bool) string {
	if follows {
		return "chosen again when something changes"
	}
	return "the builder's own"
}

func pinsOf(p *Part) string {
	var pins []string
	for _, s := range p.Signals {
		pins = append(pins, s.Pin)
	}
	if len(pins) == 0 {
		return "no pin"
	}
	return strings.Join(pins, ", ")
}

// sameNets reports whether the nets join the same terminals, in any order.
func sameNets(a, b *Document) bool { return slices.Equal(a.netKeys(), b.netKeys()) }

func (d *Document) netKeys() []string {
	var keys []string
	for _, n := range d.Nets {
		sorted := slices.Sorted(slices.Values(n))
		key := ""
		for _, t := range sorted {
			key += string(t) + " "
		}
		keys = append(keys, key)
	}
	slices.Sort(keys)
	return keys
}
