package placement

import (
	"fmt"
	"maps"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// pins says which wires go to another pin of the board than planned: the pin of
// the plan is joined with nothing, and one that should be free is in its place.
func (c *comparison) pins() {
	for n, members := range c.plan.members {
		for _, t := range members {
			_, pin := t.Split()
			if !t.OnBoard() || c.single(t) || len(c.real.members[c.real.of[t]]) > 1 {
				continue
			}
			// Where the rest of the net is.
			rest := nobody
			for _, o := range members {
				if k := c.at(o); o != t && !c.explained[o] && k != nobody {
					rest = k
				}
			}
			if rest == nobody {
				continue
			}
			for _, o := range c.real.members[rest] {
				_, wrong := o.Split()
				if !o.OnBoard() || c.plan.of[o] == n || !c.single(o) {
					continue
				}
				c.say(WrongPin, []string{}, c.endsAt(o), fmt.Sprintf("The wire of %s goes to %s; it belongs to %s.", c.restWords(n), wrong, pin), fmt.Sprintf("Move it from %s to %s.", wrong, pin), c.wired(n))
				c.explain(t, o)
				c.mains[n] = rest
				break
			}
		}
	}
}

// endsAt lists the ends of wires at a place of the board.
func (c *comparison) endsAt(t build.Terminal) []breadboard.End {
	out := []breadboard.End{}
	_, name := t.Split()
	for _, w := range c.built.Wires {
		for _, e := range []breadboard.End{w.From, w.To} {
			if e.Place.Name == name {
				out = append(out, e)
			} else if !e.OnBoard() {
				for h, p := range c.table.Pins() {
					if p.Name == name && c.table.StripOf(h) == c.table.StripOf(e.Hole) {
						out = append(out, e)
					}
				}
			}
		}
	}
	return out
}

// legs says which legs are in a row where they do not belong.
func (c *comparison) legs() {
	for i := range c.doc.Parts {
		p := &c.doc.Parts[i]
		k := c.kind(p)
		for _, t := range terminals(p, k) {
			e := c.built.Legs[t]
			role := t
			if r, ok := c.plays[t]; ok {
				role = r // the leg that this one plays
			}
			here := c.real.of[t]
			if c.explained[t] || c.explained[role] || c.atHome(t) || here == c.want(role) && !c.single(role) {
				continue
			}
			alone := len(c.traced.nets[c.traced.of[t]]) == 1
			if alone && c.single(role) {
				continue
			}
			with := "is joined with nothing"
			if !alone {
				with = "is joined with " + c.others(t)
			}
			do := fmt.Sprintf("Put it into %s.", c.home.Legs[role])
			belongs := ""
			if !c.single(role) {
				belongs = ", and belongs to " + c.netWords(c.plan.of[role])
			}
			c.say(WrongRow, []string{p.ID}, []breadboard.End{e}, fmt.Sprintf("The %s of %s, in %s, %s%s.", leg(k, t), p.Name, e.Words(), with, belongs), do, Right{Legs: []Leg{{string(t), c.home.Legs[role].Hole}}})
			c.explain(role)
		}
	}
}

// splits says what should be joined and is not.
func (c *comparison) splits() {
	for n, members := range c.plan.members {
		groups := map[int][]build.Terminal{}
		for _, t := range members {
			if k := c.at(t); k != nobody && !c.explained[t] {
				groups[k] = append(groups[k], t)
			}
		}
		if len(groups) < 2 {
			continue
		}
		main := c.mains[n]
		if len(groups[main]) == 0 {
			main = slices.Sorted(maps.Keys(groups))[0]
		}
		for _, k := range slices.Sorted(maps.Keys(groups)) {
			if k != main {
				c.split(n, k, groups[k], groups[main])
			}
		}
	}
}

// split says why a part of a net is not joined with the rest: a rail that hangs
// free, a wire that is missing, or an end of one that is elsewhere.
func (c *comparison) split(n, k int, lost, rest []build.Terminal) {
	if onlyBoard(lost) {
		lost, rest, k = rest, lost, c.mains[n] // the board is where the parts want to get to
	}
	apart := fmt.Sprintf("%s %s no way to %s", c.words(lost), have(lost), c.netWords(n))
	for _, r := range c.table.RailStrips() {
		if c.traced.strip[r.Strip] == nobody || c.real.of[c.traced.nets[c.traced.strip[r.Strip]][0]] != k {
			continue
		}
		where := breadboard.InHole(breadboard.Hole{Board: r.Board, Column: r.Column, Row: r.Rows[0]})
		do, right := "Join it with a wire.", Right{}
		if w, ok := c.lostWire(k, n); ok {
			right.In = []build.Wire{w}
			do = fmt.Sprintf("Put in the wire from %s to %s.", w.From.Words(), w.To.Words())
		}
		c.say(FreeRail, c.partsOf(lost), []breadboard.End{where}, fmt.Sprintf("The %s hangs free: %s.", r.Name(), apart), do, right)
		return
	}
	if w, ok := c.lostWire(k, n); ok {
		what, right := fmt.Sprintf("The wire from %s to %s is missing: %s.", w.From.Words(), w.To.Words(), apart), Right{In: []build.Wire{w}}
		if o, ok := c.moved(w); ok {
			right.Out = []build.Wire{o}
			what = fmt.Sprintf("The wire from %s to %s is from %s to %s: %s.", w.From.Words(), w.To.Words(), o.From.Words(), o.To.Words(), apart)
		}
		c.say(NoWire, c.partsOf(lost), []breadboard.End{w.From, w.To}, what, fmt.Sprintf("Put it from %s to %s.", w.From.Words(), w.To.Words()), right)
		return
	}
	var ends []breadboard.End
	for _, t := range lost {
		if e, ok := c.built.Legs[t]; ok {
			ends = append(ends, e)
		}
	}
	c.say(Apart, c.partsOf(lost), ends, capital(apart)+".", fmt.Sprintf("Join it with %s by a wire.", c.words(rest)), Right{})
}

// wired is what is right when the wires of a net are those of the plan: those
// that are missing are in, and those that share an end with them and are not of
// the plan are out.
func (c *comparison) wired(n int) Right {
	var r Right
	for _, w := range c.placement.Wires {
		if w.net != n || c.there(w.Wire) {
			continue
		}
		r.In = append(r.In, w.Wire)
		if o, ok := c.moved(w.Wire); ok {
			r.Out = append(r.Out, o)
		}
	}
	return r
}

// lostWire finds a wire of the plan, in the net, that is not there and that
// would join what is cut off with something else.
func (c *comparison) lostWire(k, n int) (build.Wire, bool) {
	for _, w := range c.placement.Wires {
		if c.there(w.Wire) {
			continue
		}
		a, b := c.netAt(w.From), c.netAt(w.To)
		if a != b && (a == k || b == k) {
			return w.Wire, true
		}
	}
	return build.Wire{}, false
}

// there reports whether the strips of a wire's ends are joined by one.
func (c *comparison) there(w build.Wire) bool {
	return slices.ContainsFunc(c.built.Wires, func(o build.Wire) bool { return c.alike(o, w) })
}

// alike reports whether two wires join the same, whichever way round.
func (c *comparison) alike(o, w build.Wire) bool {
	return c.level(o.From, w.From) && c.level(o.To, w.To) || c.level(o.From, w.To) && c.level(o.To, w.From)
}

// level reports whether two ends are joined without any wire.
func (c *comparison) level(a, b breadboard.End) bool {
	if a.OnBoard() || b.OnBoard() {
		return a.Place.Name == b.Place.Name
	}
	return c.table.StripOf(a.Hole) == c.table.StripOf(b.Hole)
}

// moved finds a wire that is not of the plan and has one end where this one has
// one.
func (c *comparison) moved(w build.Wire) (build.Wire, bool) {
	for _, o := range c.built.Wires {
		planned := slices.ContainsFunc(c.placement.Wires, func(x Jumper) bool { return c.alike(o, x.Wire) })
		if !planned && (c.level(o.From, w.From) || c.level(o.To, w.To) || c.level(o.From, w.To) || c.level(o.To, w.From)) {
			return o, true
		}
	}
	return build.Wire{}, false
}

// netAt returns the real net at an end, or nobody where nothing is.
func (c *comparison) netAt(e breadboard.End) int {
	if e.OnBoard() {
		return c.real.of[build.Pin(e.Place.Name)]
	}
	k := c.traced.strip[c.table.StripOf(e.Hole)]
	if k == nobody {
		return nobody
	}
	return c.real.of[c.traced.nets[k][0]]
}

// joins says what is joined and must stay apart.
func (c *comparison) joins() {
	for _, members := range c.real.members {
		var first build.Terminal
		for _, t := range members {
			role := t
			for a, b := range c.plays {
				if b == t {
					role = a
				}
			}
			if c.explained[role] || c.explained[t] {
				continue
			}
			if first == "" {
				first = role
				continue
			}
			a, b := c.plan.of[first], c.plan.of[role]
			if c.same.Are(a, b) {
				continue
			}
			what := fmt.Sprintf("%s and %s are joined and must stay apart.", capital(c.netWords(a)), c.netWords(b))
			do := "Find what joins them: two legs in one row, or a wire too many."
			ends, right := []breadboard.End{}, Right{}
			if w, ok := c.extra(a, b); ok {
				right.Out = []build.Wire{w}
				what = fmt.Sprintf("The wire from %s to %s joins %s with %s, which must stay apart.", w.From.Words(), w.To.Words(), c.netWords(a), c.netWords(b))
				do, ends = "Take it out.", []breadboard.End{w.From, w.To}
			}
			c.say(Together, c.partsOf([]build.Terminal{first, role}), ends, what, do, right)
			c.same.Join(a, b)
		}
	}
}

// extra finds a wire that is not of the plan between two nets that are joined.
func (c *comparison) extra(a, b int) (build.Wire, bool) {
	for i, w := range c.built.Wires {
		if slices.ContainsFunc(c.placement.Wires, func(x Jumper) bool { return x.Wire == w }) {
			continue
		}
		without := &build.Built{Legs: c.built.Legs, Wires: slices.Delete(slices.Clone(c.built.Wires), i, i+1)}
		t := netsOf(c.lib, c.doc, trace(c.table, without).nets, true)
		if t.of[c.plan.members[a][0]] != t.of[c.plan.members[b][0]] {
			return w, true
		}
	}
	return build.Wire{}, false
}
