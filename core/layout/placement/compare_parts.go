package placement

import (
	"fmt"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// part looks at a part as a whole: bridged, turned, the wrong way round, or with
// the current going past it.
func (c *comparison) part(p *build.Part) {
	k := c.kind(p)
	legs := terminals(p, k)
	for _, t := range legs {
		if c.explained[t] {
			return
		}
	}
	ends := make([]breadboard.End, len(legs))
	for i, t := range legs {
		ends[i] = c.built.Legs[t]
	}
	if c.shifted(p, k, legs, ends) || c.turned(p, k, legs, ends) || c.bridged(p, k, legs, ends) {
		return
	}
	n := len(legs)
	pack, _ := PackageOf(k.Body.Package)
	switch {
	case k.Is(part.Track) && c.exchanged(legs, func(i int) int { return n - 1 - i }):
		c.say(Swapped, []string{p.ID}, ends, fmt.Sprintf("The outer legs of %s have changed places: it works, but turns the other way.", p.Name), "Leave it, or change the two outer wires over.", c.seated(legs...))
	case pack.Notch && c.exchanged(legs, func(i int) int { return (i + n/2) % n }):
		c.say(UpsideDown, []string{p.ID}, ends, fmt.Sprintf("%s is upside down: its first leg is where leg %d belongs, and its supply and ground have changed places.", p.Name, n/2+1), fmt.Sprintf("Pull it out and turn it, so that its first leg is in %s.", c.home.Legs[legs[0]]), c.seated(legs...))
	case len(pack.Right) == 0 && !k.Body.Alike && c.exchanged(legs, func(i int) int { return n - 1 - i }):
		c.say(Reversed, []string{p.ID}, ends, fmt.Sprintf("%s is the wrong way round: the %s is in %s, where the %s belongs.%s", p.Name, leg(k, legs[0]), ends[0].Words(), leg(k, legs[n-1]), dark(k)), fmt.Sprintf("Turn it: the %s into %s.", leg(k, legs[0]), ends[n-1].Words()), c.seated(legs...))
	case n == 2 && (c.past(p, k, legs[0], legs[1]) || c.past(p, k, legs[1], legs[0])):
		return
	default:
		return
	}
	c.explain(legs...)
}

// exchanged reports whether the legs of a part, of which some are not where they
// belong, are all where others of them belong.
func (c *comparison) exchanged(legs []build.Terminal, of func(int) int) bool {
	wrong := 0
	for i, t := range legs {
		other := legs[of(i)]
		if c.single(other) && c.single(t) {
			continue
		}
		if !c.single(t) && c.at(t) != c.want(t) {
			wrong++
		}
		if !c.single(other) && c.at(t) != c.want(other) {
			return false
		}
	}
	return wrong > 0
}

// shifted says that a part with several legs sits some rows too high or too low.
func (c *comparison) shifted(p *build.Part, k *part.Kind, legs []build.Terminal, ends []breadboard.End) bool {
	rows, wrong := 0, false
	for i, t := range legs {
		is, was := c.built.Legs[t], c.home.Legs[t]
		if is.OnBoard() || was.OnBoard() || is.Hole.Board != was.Hole.Board || is.Hole.Column.Right() != was.Hole.Column.Right() || is.Hole.Column.IsRail() {
			return false
		}
		by := is.Hole.Row - was.Hole.Row
		if i > 0 && by != rows {
			return false
		}
		rows = by
		wrong = wrong || !c.single(t) && c.at(t) != c.want(t)
	}
	if rows == 0 || !wrong || len(legs) < 3 {
		return false
	}
	way := "low"
	if rows < 0 {
		way, rows = "high", -rows
	}
	many := "one row"
	if rows > 1 {
		many = fmt.Sprintf("%d rows", rows)
	}
	c.say(WrongRow, []string{p.ID}, ends, fmt.Sprintf("%s sits %s too %s: its %s is in %s.", p.Name, many, way, leg(k, legs[0]), ends[0].Words()),
		fmt.Sprintf("Move it, so that its %s is in %s.", leg(k, legs[0]), c.home.Legs[legs[0]]), c.seated(legs...))
	c.explain(legs...)
	return true
}

// turned says that two legs which a part joins inside lie in one half of the
// breadboard and so join two rows that the plan keeps apart.
func (c *comparison) turned(p *build.Part, k *part.Kind, legs []build.Terminal, ends []breadboard.End) bool {
	for _, link := range k.Links {
		x, y := build.Of(p.ID, link[0]), build.Of(p.ID, link[1])
		a, b := c.neighbour(p, x), c.neighbour(p, y)
		if c.built.Legs[x].Hole.Column.Right() != c.built.Legs[y].Hole.Column.Right() || a == nobody || b == nobody || a == b {
			continue
		}
		c.say(Turned, []string{p.ID}, ends, fmt.Sprintf("%s is turned: its two joined legs are across the two wires, so it reads as pressed all the time.", p.Name), "Pull it out, turn it by ninety degrees, and put it back across the channel.", c.seated(legs...))
		c.explain(legs...)
		c.same.Join(a, b)
		return true
	}
	return false
}

// neighbour returns the net of the plan of what a leg is joined with, other
// than its own part.
func (c *comparison) neighbour(p *build.Part, t build.Terminal) int {
	for _, o := range c.traced.nets[c.traced.of[t]] {
		if id, _ := o.Split(); id != p.ID && !c.single(o) {
			return c.plan.of[o]
		}
	}
	return nobody
}

// bridged says that legs of a part are joined that the plan keeps apart.
func (c *comparison) bridged(p *build.Part, k *part.Kind, legs []build.Terminal, ends []breadboard.End) bool {
	for i, a := range legs {
		for _, b := range legs[i+1:] {
			if c.plan.of[a] == c.plan.of[b] || c.at(a) != c.at(b) {
				continue
			}
			if !c.level(c.built.Legs[a], c.built.Legs[b]) {
				continue // a wire or another part joins them
			}
			both := "Both legs"
			if len(legs) > 2 {
				both = fmt.Sprintf("Both the %s and the %s", leg(k, a), leg(k, b))
			}
			c.say(Bridged, []string{p.ID}, ends, fmt.Sprintf("%s of %s are in %s: it is bridged%s", both, p.Name, row(c.built.Legs[a]), stays(k)), fmt.Sprintf("Put the %s into %s and the %s into %s.", leg(k, a), c.home.Legs[a], leg(k, b), c.home.Legs[b]), c.seated(a, b))
			c.explain(legs...)
			c.same.Join(c.plan.of[a], c.plan.of[b])
			return true
		}
	}
	return false
}

// past says that what belongs to one leg of a part is joined at its other leg,
// so that the current goes past it.
func (c *comparison) past(p *build.Part, k *part.Kind, x, y build.Terminal) bool {
	if c.single(x) || c.single(y) || c.at(x) == c.want(x) || c.want(x) != c.want(y) || c.at(y) != c.want(y) || len(c.real.members[c.at(x)]) > 1 {
		return false
	}
	c.say(Bypassed, []string{p.ID}, []breadboard.End{c.built.Legs[x], c.built.Legs[y]},
		fmt.Sprintf("What belongs to one side of %s is on its other side: the current goes past it, and one end of it is joined with nothing.", p.Name),
		fmt.Sprintf("Move the wire of %s from the row of %s to the row of %s.", c.netWords(c.plan.of[x]), c.built.Legs[y].Words(), c.built.Legs[x].Words()), c.wired(c.plan.of[x]))
	c.explain(x)
	c.same.Join(c.plan.of[x], c.plan.of[y])
	return true
}
