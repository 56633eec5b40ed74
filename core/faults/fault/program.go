package fault

import (
	"fmt"
	"slices"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// The settings of a pin, as they are addressed.
const (
	low      = "low"
	high     = "high"
	letGo    = "let go"
	pulledUp = "pulled up"
)

// program lists what can be wrong with the pins: in the program, and in the board itself.
func (l *lister) program() {
	var driven []*wiring.Use
	var all Fault
	for i := range l.net.Uses {
		u := &l.net.Uses[i]
		if l.doc.NetOf(build.Pin(u.Pin.Name)) < 0 {
			continue
		}
		l.pin(u)
		if u.Drives() {
			driven = append(driven, u)
			all.pins = append(all.pins, pin{of: u.Pin.Name, to: map[string]string{"": letGo}})
		} else if u.Pull() != board.NoPull {
			all.pins = append(all.pins, pin{of: u.Pin.Name, to: map[string]string{"": letGo}})
		}
		all.touches = append(all.touches, build.Pin(u.Pin.Name))
	}
	for i := range driven {
		for k := range i {
			switch {
			case k == i-1:
				l.mixed(driven[k], driven[i], 1)
			case len(driven) <= mostDriven:
				l.mixed(driven[k], driven[i], len(driven))
			}
		}
	}
	all.ID, all.Kind = "unloaded", Unloaded
	all.Words = "The board runs no program, or one that was for something else."
	all.Look = "Load the program again, and look whether that ends without a message."
	l.add(all)
}

// pin lists what can be wrong with one pin.
func (l *lister) pin(u *wiring.Use) {
	name := u.Pin.Name
	var parts []string
	for _, s := range u.Signals {
		parts = append(parts, s.Part.ID)
	}
	one := func(f Fault, to map[string]string) {
		f.ID, f.Parts, f.touches = string(f.Kind)+":"+name, parts, []build.Terminal{build.Pin(name)}
		f.pins = []pin{{of: name, to: to}}
		l.add(f)
	}
	in := fmt.Sprintf("%s (%s)", name, l.signals(u))
	if !u.Drives() {
		if u.Pull() == board.PullUp {
			one(Fault{
				Kind:  NoPull,
				Words: fmt.Sprintf("The program does not switch the pull-up of %s on.", in),
				Look:  fmt.Sprintf("Look in the program for the mode of %s: it is an input with pull-up.", name),
			}, map[string]string{"": letGo})
		}
		l.misread(u, in, parts)
		return
	}
	one(Fault{
		Kind: Unset, Cure: "number:" + name,
		Words: fmt.Sprintf("The program does not drive %s: it has another number, or sets no mode.", in),
		Look:  fmt.Sprintf("Look in the program for the number and the mode of %s.", name),
	}, map[string]string{high: l.weakly(u), "": letGo})
	one(Fault{
		Kind:  Inverted,
		Words: fmt.Sprintf("The program sets %s low where it is to be high, and the other way round.", in),
		Look:  fmt.Sprintf("Exchange high and low of %s in the program.", name),
	}, map[string]string{low: high, high: low})
	one(Fault{
		Kind:  Dead,
		Words: fmt.Sprintf("Pin %s of the board is broken.", name),
		Look:  fmt.Sprintf("Take another pin than %s, in the wiring and in the program.", name),
	}, map[string]string{"": letGo})
}

// misread adds that the program takes the level of a digital input for the other one: most often
// that of a button with a pull-up, which is low while it is pressed.
func (l *lister) misread(u *wiring.Use, in string, parts []string) {
	if slices.ContainsFunc(u.Signals, func(s wiring.Claim) bool { return s.Signal.Needs == board.AnalogIn }) {
		return
	}
	ways := 1
	for _, s := range u.Signals {
		ways = max(ways, l.inputs(s.Part.ID))
	}
	l.add(Fault{
		ID: string(Inverted) + ":" + u.Pin.Name, Kind: Inverted, Parts: parts, ways: ways,
		Words:   fmt.Sprintf("The program takes low for high at %s, and the other way round.", in),
		Look:    fmt.Sprintf("Exchange high and low in the program where it asks for %s.", u.Pin.Name),
		touches: []build.Terminal{build.Pin(u.Pin.Name)},
		pins:    []pin{{of: u.Pin.Name, misread: true}},
	})
}

// inputs counts the wired pins at which the program reads a part.
func (l *lister) inputs(id string) int {
	n := 0
	for i := range l.net.Uses {
		u := &l.net.Uses[i]
		if !u.Drives() && l.doc.NetOf(build.Pin(u.Pin.Name)) >= 0 && slices.ContainsFunc(u.Signals, func(s wiring.Claim) bool { return s.Part.ID == id }) {
			n++
		}
	}
	return n
}

// mostDriven is of how many driven pins any two are thought to be exchanged; of more, neighbours
// only. Neighbours are so most often (common practice).
const mostDriven = 8

// mixed adds that the program has two pins exchanged, one of so many ways.
func (l *lister) mixed(a, b *wiring.Use, ways int) {
	one, other := a.Pin.Name, b.Pin.Name
	f := Fault{ID: string(PinsMixed) + ":" + one + ":" + other, Kind: PinsMixed, ways: ways, touches: []build.Terminal{build.Pin(one), build.Pin(other)}}
	for _, u := range []*wiring.Use{b, a} {
		for _, s := range u.Signals {
			f.Parts = append(f.Parts, s.Part.ID)
		}
	}
	f.pins = []pin{{of: other, as: one}, {of: one, as: other}}
	f.Words = fmt.Sprintf("The program has %s (%s) and %s (%s) exchanged.", one, l.signals(a), other, l.signals(b))
	f.Look = fmt.Sprintf("Look in the program for the numbers of %s and %s.", one, other)
	l.add(f)
}

// signals names what hangs on a pin.
func (l *lister) signals(u *wiring.Use) string {
	out := ""
	for i, s := range u.Signals {
		if i > 0 {
			out += ", "
		}
		out += s.Part.Name
	}
	return out
}

// weakly is what a pin is that a program sets high which has not made it an output: it
// switches the pull-up on, where the pin has one.
func (l *lister) weakly(u *wiring.Use) string {
	if l.net.Board.PullAt(u.Pin, board.PullUp).IsZero() {
		return letGo
	}
	return pulledUp
}
