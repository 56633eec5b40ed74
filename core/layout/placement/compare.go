package placement

import (
	"fmt"
	"maps"
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/general/union"
	"cablaggio/core/values/quantity"
)

// A Fault says in a word what is not as planned.
type Fault string

// The faults.
const (
	Missing    Fault = "missing"     // a part is not plugged in
	Bridged    Fault = "bridged"     // legs of a part are joined
	Turned     Fault = "turned"      // a button's joined legs lie across its two nets
	Reversed   Fault = "reversed"    // a part is the wrong way round
	UpsideDown Fault = "upside-down" // a chip's notch is at the wrong end
	Swapped    Fault = "swapped"     // a knob's outer legs have changed places
	Bypassed   Fault = "bypassed"    // the current goes past a part
	WrongRow   Fault = "wrong-row"   // a leg is in another row
	WrongPin   Fault = "wrong-pin"   // a wire goes to another pin of the board
	NoWire     Fault = "no-wire"     // a wire is missing, or an end of it is elsewhere
	FreeRail   Fault = "free-rail"   // a rail is joined to nothing
	Apart      Fault = "apart"       // two that belong together are not joined
	Together   Fault = "together"    // two that must stay apart are joined
	WrongValue Fault = "wrong-value" // a resistor is another one, by its bands
)

// A Difference is one thing that is not as planned, in the builder's words.
type Difference struct {
	Fault Fault            `json:"fault"`
	Parts []string         `json:"parts"`
	Ends  []breadboard.End `json:"ends"` // where to look
	What  string           `json:"what"` // what is wrong and what comes of it
	Do    string           `json:"do"`   // what to do next
	Right Right            `json:"right"`
}

// A Right is what is there when what [Difference.Do] says is done. The zero Right
// says nothing: the builder has to look.
type Right struct {
	Legs   []Leg        `json:"legs,omitempty"` // by their terminals
	In     []build.Wire `json:"in,omitempty"`
	Out    []build.Wire `json:"out,omitempty"`
	Values []string     `json:"values,omitempty"` // resistors that are those of the plan again
}

// Compare says how what is built differs from the plan. It compares nets, not
// holes: what is put elsewhere and comes to the same is no difference, nor are
// legs that may change places. The build must be valid and the placement its
// own. What goes away by itself when something else is put right is not told.
func Compare(lib *build.Library, doc *build.Document, p *Placement, b *build.Built) []Difference {
	out := compare(lib, doc, p, b)
	for i := 0; i < len(out) && len(out) > 1; i++ {
		if out[i].Right.empty() {
			continue
		}
		left := compare(lib, doc, p, out[i].Right.On(b))
		cause := out[i]
		out = slices.DeleteFunc(out, func(d Difference) bool {
			return d.What != cause.What && !slices.ContainsFunc(left, func(o Difference) bool { return o.What == d.What })
		})
		i = slices.IndexFunc(out, func(d Difference) bool { return d.What == cause.What })
	}
	return out
}

func (r Right) empty() bool { return len(r.Legs)+len(r.In)+len(r.Out)+len(r.Values) == 0 }

// On returns what is there when it has been put right.
func (r Right) On(b *build.Built) *build.Built {
	out := b.Clone()
	for _, l := range r.Legs {
		out.Legs[build.Terminal(l.Leg)] = breadboard.InHole(l.Hole)
	}
	for _, w := range r.Out {
		if i := slices.Index(out.Wires, w); i >= 0 {
			out.Wires = slices.Delete(out.Wires, i, i+1)
		}
	}
	out.Wires = append(out.Wires, r.In...)
	for _, id := range r.Values {
		delete(out.Values, id)
	}
	return out
}

func compare(lib *build.Library, doc *build.Document, p *Placement, b *build.Built) []Difference {
	table := p.Table(lib, doc)
	t := trace(table, b)
	c := &comparison{
		lib: lib, doc: doc, table: table, placement: p, built: b, home: p.Built(),
		plan:      netsOf(lib, doc, doc.Nets, true),
		real:      netsOf(lib, doc, t.nets, true),
		traced:    t,
		plays:     map[build.Terminal]build.Terminal{},
		explained: map[build.Terminal]bool{},
		out:       []Difference{},
	}
	c.same = union.Apart(len(c.plan.members))
	c.missing()
	c.match()
	c.chooseMains()
	for i := range doc.Parts {
		c.part(&doc.Parts[i])
	}
	c.pins()
	c.legs()
	c.splits()
	c.joins()
	c.values()
	return c.out
}

// comparison is a comparison that is being made.
type comparison struct {
	lib       *build.Library
	doc       *build.Document
	table     *breadboard.Table
	placement *Placement
	built     *build.Built
	home      *build.Built                      // everything as planned
	plan      *nets                             // the nets of the plan
	real      *nets                             // those that are there, with what parts join inside
	traced    *traced                           // without
	plays     map[build.Terminal]build.Terminal // of legs that may change places: whose part a leg plays
	mains     []int                             // by net of the plan: the net that is there and has most of it
	explained map[build.Terminal]bool           // what has been said already
	same      union.Sets                        // of the nets of the plan: those that are said to be joined
	out       []Difference
}

func (c *comparison) say(f Fault, parts []string, ends []breadboard.End, what, do string, right Right) {
	if ends == nil {
		ends = []breadboard.End{}
	}
	c.out = append(c.out, Difference{f, parts, ends, what, do, right})
}

// seated is what is right when legs are in the holes of the plan.
func (c *comparison) seated(ts ...build.Terminal) Right {
	var r Right
	for _, t := range ts {
		r.Legs = append(r.Legs, Leg{string(t), c.home.Legs[t].Hole})
	}
	return r
}

// at returns the net that is there at a terminal, or at the leg that plays its
// part; nobody for what is not there.
func (c *comparison) at(t build.Terminal) int {
	if role, ok := c.plays[t]; ok {
		t = role
	}
	if id, _ := t.Split(); id != build.BoardPart {
		if _, there := c.built.Legs[t]; !there {
			return nobody
		}
	}
	return c.real.of[t]
}

// want is the net that is there and where a terminal belongs.
func (c *comparison) want(t build.Terminal) int { return c.mains[c.plan.of[t]] }

func (c *comparison) kind(p *build.Part) *part.Kind {
	k, _ := c.lib.Catalogue.Kind(p.Kind)
	return k
}

func terminals(p *build.Part, k *part.Kind) []build.Terminal {
	legs := k.LegOrder()
	out := make([]build.Terminal, len(legs))
	for i, leg := range legs {
		out[i] = build.Of(p.ID, leg)
	}
	return out
}

// missing says which parts are not there, and takes them out of the comparison.
func (c *comparison) missing() {
	var names, ids []string
	var gone []build.Terminal
	for i := range c.doc.Parts {
		p := &c.doc.Parts[i]
		for _, t := range terminals(p, c.kind(p)) {
			if _, there := c.built.Legs[t]; there {
				continue
			}
			c.explained[t] = true
			gone = append(gone, t)
			if !slices.Contains(ids, p.ID) {
				names, ids = append(names, p.Name), append(ids, p.ID)
			}
		}
	}
	if len(names) > 0 {
		c.say(Missing, ids, nil, "Not plugged in: "+list(names)+".", "Put in what is missing.", c.seated(gone...))
	}
}

// match finds out, for parts whose legs may change places, which leg plays which.
func (c *comparison) match() {
	for range 3 { // a change may make another one clear
		for i := range c.doc.Parts {
			p := &c.doc.Parts[i]
			k := c.kind(p)
			if !k.Body.Alike {
				continue
			}
			swap := swapped(p, k)
			if legs := terminals(p, k); c.agreement(legs, swap) > c.agreement(legs, nil) {
				for a, b := range swap {
					if c.plays[a] == "" || c.plays[a] == a {
						c.plays[a] = b
					} else {
						c.plays[a] = a
					}
				}
			}
		}
	}
}

// swapped maps the legs of a part to those that they change places with: of two
// legs the other one, of two joined pairs the other pair.
func swapped(p *build.Part, k *part.Kind) map[build.Terminal]build.Terminal {
	out := map[build.Terminal]build.Terminal{}
	change := func(a, b string) {
		out[build.Of(p.ID, a)], out[build.Of(p.ID, b)] = build.Of(p.ID, b), build.Of(p.ID, a)
	}
	if len(k.Links) == 2 {
		change(k.Links[0][0], k.Links[1][0])
		change(k.Links[0][1], k.Links[1][1])
		return out
	}
	change(k.Terminals[0].ID, k.Terminals[1].ID)
	return out
}

// agreement counts with how many of those that they belong to the legs of a part
// are joined, as they are or with a swap.
func (c *comparison) agreement(legs []build.Terminal, swap map[build.Terminal]build.Terminal) (n int) {
	at := func(t build.Terminal) int {
		if o, ok := swap[t]; ok {
			t = o
		}
		return c.at(t)
	}
	for _, t := range legs {
		for _, o := range c.plan.members[c.plan.of[t]] {
			if o != t && at(t) != nobody && at(t) == at(o) {
				n++
			}
		}
	}
	return n
}

// chooseMains finds, for each net of the plan, the net that is there and has
// most of it. Places of the board and legs that are at home weigh most.
func (c *comparison) chooseMains() {
	c.mains = make([]int, len(c.plan.members))
	for n, members := range c.plan.members {
		weight := map[int]float64{}
		for _, t := range members {
			k := c.at(t)
			if k == nobody {
				continue
			}
			weight[k]++
			if c.atHome(t) {
				weight[k]++
			}
			if t.OnBoard() {
				weight[k] += 0.5
			}
		}
		c.mains[n] = nobody
		most := math.Inf(-1)
		for _, k := range slices.Sorted(maps.Keys(weight)) {
			if weight[k] > most {
				c.mains[n], most = k, weight[k]
			}
		}
	}
}

// atHome reports whether a terminal is in the strip of the plan; places of the
// board always are.
func (c *comparison) atHome(t build.Terminal) bool {
	if t.OnBoard() {
		return true
	}
	is, there := c.built.Legs[t]
	was := c.home.Legs[t]
	if !there || is.OnBoard() != was.OnBoard() {
		return false
	}
	if is.OnBoard() {
		return is.Place.Name == was.Place.Name
	}
	return c.table.StripOf(is.Hole) == c.table.StripOf(was.Hole)
}

// single reports whether the plan joins a terminal with nothing.
func (c *comparison) single(t build.Terminal) bool {
	for _, o := range c.plan.members[c.plan.of[t]] {
		a, _ := t.Split()
		if b, _ := o.Split(); a != b {
			return false
		}
	}
	return true
}

// explain takes terminals out of what is still to be said.
func (c *comparison) explain(ts ...build.Terminal) {
	for _, t := range ts {
		c.explained[t] = true
	}
}

// values says which resistors are others than planned.
func (c *comparison) values() {
	for _, id := range slices.Sorted(maps.Keys(c.built.Values)) {
		p := c.doc.Part(id)
		want := wiring.ValueOf(c.kind(p), p, "resistance").Typ
		if got := c.built.Values[id]; math.Abs(got-want) > 0.01*want {
			c.say(WrongValue, []string{id}, []breadboard.End{c.built.Legs[build.Of(id, "1")]},
				fmt.Sprintf("%s is %s; the plan has %s.", p.Name, quantity.Short(got, quantity.Ohm), quantity.Short(want, quantity.Ohm)),
				"Take it out and put the right one in, or set this value in the plan.", Right{Values: []string{id}})
		}
	}
}
