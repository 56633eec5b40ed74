package bench

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/rig"
	"cablaggio/core/values/quantity"
)

// A Probe is a place whose voltage is recorded: against another one, or against ground.
type Probe struct {
	At      build.Terminal `json:"at"`
	Against build.Terminal `json:"against,omitempty"` // empty: ground
}

// A ProbeError says which place there is not, and what would be one.
type ProbeError struct{ error }

// Unwrap returns the error.
func (e *ProbeError) Unwrap() error { return e.error }

// MaxProbes is how many probes a run takes.
const MaxProbes = 16

// ParseProbe reads a probe as "D4", "led1.anode" or "led1.anode,led1.cathode". Its error says
// what would be right.
func ParseProbe(net *wiring.Network, text string) (Probe, error) {
	at, against, _ := strings.Cut(text, ",")
	p := Probe{terminal(at), terminal(against)}
	return p, p.check(net)
}

// terminal is a leg, or a place of the board.
func terminal(text string) build.Terminal {
	text = strings.TrimSpace(text)
	if text == "" || strings.Contains(text, ".") {
		return build.Terminal(text)
	}
	return build.Pin(text)
}

func (p Probe) check(net *wiring.Network) error {
	for _, t := range []build.Terminal{p.At, p.Against} {
		if t == "" && p.At != "" {
			continue // against ground
		}
		if err := net.Library.CheckTerminal(net.Doc, t); err != nil {
			return fmt.Errorf("a probe at %.40q: %w; a place is a pin of the board, as D4, or a leg, as led1.anode", t, err)
		}
	}
	return nil
}

// name says a probe in words.
func (p Probe) name(net *wiring.Network) string {
	name := "Voltage at " + plan.Label(net.Library, net.Doc, p.At)
	if p.Against != "" {
		name += " above " + plan.Label(net.Library, net.Doc, p.Against)
	}
	return name
}

// A Place is where a probe may be put.
type Place struct {
	At   build.Terminal `json:"at"`
	Name string         `json:"name"`
}

// named is how many of the things that meet at a place are named.
const named = 3

// Places lists where a probe tells something: once for each net that is no rail, with what
// meets there, pins first.
func Places(net *wiring.Network) []Place {
	out := []Place{}
	for _, n := range net.Doc.Nets {
		if net.Stiff(net.Node(n[0])) {
			continue
		}
		members := slices.Clone(n)
		slices.SortStableFunc(members, func(a, b build.Terminal) int {
			switch {
			case a.OnBoard() == b.OnBoard():
				return 0
			case a.OnBoard():
				return -1
			}
			return 1
		})
		var names []string
		for _, t := range members[:min(len(members), named)] {
			names = append(names, plan.Label(net.Library, net.Doc, t))
		}
		out = append(out, Place{members[0], strings.Join(names, " · ")})
	}
	return out
}

// watch puts the probes at the rig.
func watch(r *rig.Rig, net *wiring.Network, probes []Probe) error {
	if len(probes) > MaxProbes {
		return fmt.Errorf("a run takes at most %d probes", MaxProbes)
	}
	for _, p := range probes {
		if err := p.check(net); err != nil {
			return err
		}
		against := build.Pin(net.Board.Ground)
		if p.Against != "" {
			against = p.Against
		}
		r.Watch(net.Node(p.At), net.Node(against))
	}
	return nil
}

// sample writes what a probe shows from a time on.
func (w *writer) sample(p Probe, s rig.Sample) {
	of := string(p.At)
	if p.Against != "" {
		of += "," + string(p.Against)
	}
	const least = 0.5e-3 // volts; a smaller voltage is what inputs leak, or of the arithmetic
	if math.Abs(s.Volts) < least {
		s.Volts = 0
	}
	text := quantity.Format(s.Volts, quantity.Volt)
	switch {
	case s.Loose:
		text = "floats"
	case s.Hertz > 0:
		text += fmt.Sprintf(" on average, at %g Hz", s.Hertz)
	}
	w.change(VoltRow, of, p.name(w.net), Change{At: seconds(s.At), Value: s.Volts, Text: text, Open: s.Loose})
}
