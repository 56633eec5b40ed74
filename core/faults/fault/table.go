package fault

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
)

// onTable lists what can be wrong with what is plugged into the breadboard.
func (l *lister) onTable() {
	b := &bench{lister: l, table: l.placed.Table(l.lib, l.doc), planned: l.placed.Built()}
	b.before = b.nets(placement.Trace(b.table, b.planned))
	b.wires()
	b.crossed()
	b.halved()
	b.legs()
	b.neighbours()
	for i := range l.doc.Parts {
		b.turned(&l.doc.Parts[i])
	}
}

// A bench is the breadboard as planned.
type bench struct {
	*lister
	table   *breadboard.Table
	planned *build.Built
	before  map[build.Terminal]string // the net of each terminal, by what is in it
}

func (b *bench) wires() {
	for i, w := range b.placed.Wires {
		parts := []string{}
		if w.For != "" {
			parts = []string{w.For}
		}
		cure := "wire:" + w.From.String() + ":" + w.To.String()
		sight := fmt.Sprintf("The %s wire from %s to %s is missing, loose, or ends beside its place.", w.Colour, w.From.Words(), w.To.Words())
		f := b.rewired(func(x *build.Built) { x.Wires = slices.Delete(x.Wires, i, i+1) })
		f.ID, f.Kind, f.Parts, f.Cure = "no-wire:"+w.From.String()+":"+w.To.String(), NoWire, parts, cure
		f.Sight = sight
		f.Words = fmt.Sprintf("The %s wire from %s to %s is missing, or makes no contact.", w.Colour, w.From.Words(), w.To.Words())
		f.Look = fmt.Sprintf("Look for the %s wire from %s to %s, and push both of its ends in.", w.Colour, w.From.Words(), w.To.Words())
		f.Ends = []breadboard.End{w.From, w.To}
		b.add(f)
		for _, first := range []bool{true, false} {
			end, other := w.From, w.To
			if !first {
				end, other = other, end
			}
			beside := b.beside(end)
			for _, there := range beside {
				f := b.rewired(func(x *build.Built) { x.Wires[i] = build.Wire{From: there, To: other} })
				f.ways = 2 * len(beside)
				f.ID, f.Kind, f.Parts, f.Cure = fmt.Sprintf("wire-off:%s:%s:%s", other, end, there), WireOff, parts, cure
				f.Sight = sight
				f.Words = fmt.Sprintf("The %s wire from %s ends in %s, and belongs into %s.", w.Colour, other.Words(), there.Words(), end.Words())
				f.Look = fmt.Sprintf("Put the end of the %s wire that comes from %s into %s.", w.Colour, other.Words(), end.Words())
				f.Ends = []breadboard.End{end, other}
				b.add(f)
			}
		}
	}
}

// crossed lists pairs of wires from the board to the two rails of a side that have changed
// places: plus is minus then.
func (b *bench) crossed() {
	rail := func(w placement.Jumper) (board, rail breadboard.End, ok bool) {
		switch {
		case w.From.OnBoard() && !w.To.OnBoard() && w.To.Hole.Column.IsRail():
			return w.From, w.To, true
		case w.To.OnBoard() && !w.From.OnBoard() && w.From.Hole.Column.IsRail():
			return w.To, w.From, true
		}
		return board, rail, false
	}
	for i, v := range b.placed.Wires {
		from, at, ok := rail(v)
		if !ok {
			continue
		}
		for k, w := range b.placed.Wires[:i] {
			other, there, ok := rail(w)
			if !ok || at.Hole.Board != there.Hole.Board || at.Hole.Column.Right() != there.Hole.Column.Right() || at.Hole.Column == there.Hole.Column {
				continue
			}
			f := b.rewired(func(x *build.Built) {
				x.Wires[i], x.Wires[k] = build.Wire{From: from, To: there}, build.Wire{From: other, To: at}
			})
			f.ID, f.Kind, f.Cure = fmt.Sprintf("crossed:%s:%s", from, other), Crossed, fmt.Sprintf("cross:%s:%s", from, other)
			f.Words = fmt.Sprintf("The wires from %s and from %s have changed places at the rails: plus is minus.", from.Words(), other.Words())
			f.Look = fmt.Sprintf("Unplug the board, and put the wire from %s into %s, the one from %s into %s.", from.Words(), at.Words(), other.Words(), there.Words())
			f.Ends = []breadboard.End{from, at, other, there}
			b.add(f)
		}
	}
}

// halved is that the rails of a long breadboard do not go through, where the plan takes them for
// rails that do.
func (b *bench) halved() {
	ids := slices.Clone(b.placed.Breadboards)
	for i, id := range ids {
		if s, ok := breadboard.Broken(id); ok {
			ids[i] = s
		}
	}
	table, err := breadboard.NewTable(ids, b.net.Board, !b.placed.Plugged)
	if err != nil || slices.Equal(ids, b.placed.Breadboards) {
		return
	}
	f := b.traced(table, b.planned)
	f.ID, f.Kind = "halved", Halved
	f.Words = "The rails of the breadboard are broken in the middle, and nothing joins their halves."
	f.Look = "Look whether the lines along the rails have a gap in the middle, and join the halves of each rail that is used with a short wire."
	b.add(f)
}

// beside lists the places next to an end where a hand would put it by mistake.
func (b *bench) beside(end breadboard.End) (out []breadboard.End) {
	if !end.OnBoard() && end.Hole.Column.IsRail() {
		return nil
	}
	at := b.table.At(end)
	near := func(e breadboard.End) bool { d := b.table.At(e).To(at); return d > 0 && d < 1.3 }
	if end.OnBoard() {
		for _, name := range b.net.Board.Terminals() {
			for _, p := range b.table.PlacesOf(name) {
				if e := (breadboard.End{Place: p}); near(e) {
					out = append(out, e)
				}
			}
		}
		return out
	}
	for _, by := range []int{-1, 1} {
		e := end
		e.Hole.Row += by
		if b.table.CheckEnd(e) == nil && b.table.StripOf(e.Hole) != b.table.StripOf(end.Hole) {
			out = append(out, e)
		}
	}
	return out
}

// legs lists what can be wrong with single legs: one row off to either side, or in the row
// across the channel.
func (b *bench) legs() {
	for _, t := range slices.Sorted(maps.Keys(b.planned.Legs)) {
		at := b.planned.Legs[t]
		if at.OnBoard() || at.Hole.Column.IsRail() || b.doc.NetOf(t) < 0 {
			continue
		}
		id, _ := t.Split()
		type place struct {
			end breadboard.End
			how string
		}
		var wrong []place
		off := func(there breadboard.End, how string) {
			if b.table.CheckEnd(there) == nil && b.table.StripOf(there.Hole) != b.table.StripOf(at.Hole) {
				wrong = append(wrong, place{there, how})
			}
		}
		for _, by := range []int{-1, 1} {
			there := at
			there.Hole.Row += by
			off(there, "one row off")
		}
		if b.width(id) <= 2 {
			there := at
			there.Hole.Column = breadboard.J - there.Hole.Column
			off(there, "across the channel")
		}
		b.oneRow(t, at)
		for _, w := range wrong {
			f := b.rewired(func(x *build.Built) { x.Legs[t] = w.end })
			f.ID, f.Kind, f.Parts, f.Cure, f.ways = fmt.Sprintf("row-off:%s:%s", t, w.end), RowOff, []string{id}, "home:"+id, len(wrong)
			f.Sight = b.astray(id)
			f.Words = fmt.Sprintf("The %s of %s is %s: it is in %s, and belongs into %s.", b.leg(t), b.name(id), w.how, w.end.Words(), at.Words())
			f.Look = fmt.Sprintf("Count the rows at the %s of %s: it belongs into %s.", b.leg(t), b.name(id), at.Words())
			f.Ends = []breadboard.End{at}
			b.add(f)
		}
	}
}

// astray is what is seen of a part with a leg in another row.
func (b *bench) astray(id string) string {
	return fmt.Sprintf("A leg of %s is not in the hole of the map.", b.name(id))
}

// oneRow lists a bent leg that is in the row of the part's other leg.
func (b *bench) oneRow(t build.Terminal, at breadboard.End) {
	id, _ := t.Split()
	legs := b.placed.Seat(id).Legs
	if len(legs) != 2 || build.Of(id, legs[1].Leg) != t {
		return
	}
	row := b.table.StripOf(legs[0].Hole)
	if d := legs[1].Hole.Row - legs[0].Hole.Row; d >= -1 && d <= 1 || row == b.table.StripOf(at.Hole) {
		return // one row off says it
	}
	for column := breadboard.A; column <= breadboard.J; column++ {
		there := breadboard.InHole(breadboard.Hole{Board: legs[0].Hole.Board, Column: column, Row: legs[0].Hole.Row})
		if there.Hole == legs[0].Hole || b.table.CheckEnd(there) != nil || b.table.StripOf(there.Hole) != row {
			continue
		}
		f := b.rewired(func(x *build.Built) { x.Legs[t] = there })
		f.ID, f.Kind, f.Parts, f.Cure = "one-row:"+id, OneRow, []string{id}, "home:"+id
		f.Sight = b.astray(id)
		f.Words = fmt.Sprintf("Both legs of %s are in one row, that of %s.", b.name(id), breadboard.InHole(legs[0].Hole).Words())
		f.Look = fmt.Sprintf("Put the %s of %s into %s.", b.leg(t), b.name(id), at.Words())
		f.Ends = []breadboard.End{at}
		b.add(f)
		return
	}
}

// width is how many legs a part has that are plugged in.
func (b *bench) width(id string) int { return len(b.placed.Seat(id).Legs) }

// neighbours lists legs of different parts that stand close enough to touch.
func (b *bench) neighbours() {
	legs := slices.Sorted(maps.Keys(b.planned.Legs))
	for i, t := range legs {
		for _, u := range legs[:i] {
			x, y := b.planned.Legs[t], b.planned.Legs[u]
			id, _ := t.Split()
			other, _ := u.Split()
			if x.OnBoard() || y.OnBoard() || id == other || b.doc.NetOf(t) < 0 || b.doc.NetOf(u) < 0 || b.doc.NetOf(t) == b.doc.NetOf(u) || b.table.At(x).To(b.table.At(y)) > 1.3 {
				continue
			}
			b.add(Fault{
				ID: "touch:" + string(u) + ":" + string(t), Kind: Touch, Parts: []string{other, id},
				edits: []edit{{op: join, a: u, b: t}}, touches: []build.Terminal{u, t},
				Words: fmt.Sprintf("The %s of %s and the %s of %s touch.", b.leg(u), b.name(other), b.leg(t), b.name(id)),
				Look:  fmt.Sprintf("Bend the %s of %s away from the %s of %s.", b.leg(u), b.name(other), b.leg(t), b.name(id)),
			})
		}
	}
}

// turned lists parts with legs on both sides of the channel that are turned: a button by
// ninety degrees, a chip end for end.
func (b *bench) turned(p *build.Part) {
	kind, _ := b.lib.Catalogue.Kind(p.Kind)
	pack, _ := placement.PackageOf(kind.Body.Package)
	seat := b.placed.Seat(p.ID)
	if pack == nil || len(pack.Right) == 0 || len(seat.Legs) == 0 {
		return
	}
	by := 0
	f := Fault{Kind: Turned}
	switch {
	case len(kind.Links) > 0:
		by, f.Kind = 1, Quarter
		f.Words = fmt.Sprintf("%s is turned by ninety degrees: the legs that it joins inside lie across its two wires.", build.Capital(p.Name))
		f.Look = fmt.Sprintf("Pull %s out, turn it by ninety degrees, and put it back across the channel.", p.Name)
	case pack.Notch:
		by = len(seat.Legs) / 2
		f.Words = fmt.Sprintf("%s is upside down: its notch is at the wrong end.", build.Capital(p.Name))
		f.Look = fmt.Sprintf("Unplug the board, pull %s out, and turn it: its first leg belongs into %s.", p.Name, breadboard.InHole(seat.Legs[0].Hole).Words())
	default:
		return
	}
	n := len(seat.Legs)
	made := b.rewired(func(x *build.Built) {
		for i, leg := range seat.Legs {
			x.Legs[build.Of(p.ID, leg.Leg)] = breadboard.InHole(seat.Legs[(i+by)%n].Hole)
		}
	})
	made.ID, made.Kind, made.Parts, made.Words, made.Look, made.Cure = string(f.Kind)+":"+p.ID, f.Kind, []string{p.ID}, f.Words, f.Look, "turn:"+p.ID
	for _, leg := range seat.Legs {
		made.Ends = append(made.Ends, breadboard.InHole(leg.Hole))
	}
	b.add(made)
}

// rewired is the fault that something else on the breadboard makes: what is not joined as
// it was is taken off its wires and joined anew.
func (b *bench) rewired(change func(*build.Built)) (f Fault) {
	x := b.planned.Clone()
	change(x)
	return b.traced(b.table, x)
}

// traced is the fault that the nets are those of what is plugged into a table.
func (b *bench) traced(table *breadboard.Table, x *build.Built) (f Fault) {
	is := b.nets(placement.Trace(table, x))
	var moved []build.Terminal
	for _, net := range b.doc.Nets {
		for _, t := range net {
			if b.before[t] != is[t] {
				moved = append(moved, t)
			}
		}
	}
	// What was free before, and is joined now.
	for _, t := range slices.Sorted(maps.Keys(is)) {
		if b.doc.NetOf(t) < 0 && b.before[t] != is[t] {
			moved = append(moved, t)
		}
	}
	slices.Sort(moved)
	for _, t := range moved {
		f.edits = append(f.edits, edit{op: loose, a: t})
	}
	joined := map[string]build.Terminal{}
	for _, t := range moved {
		with := is[t]
		if first, ok := joined[with]; ok && with != "" {
			f.edits = append(f.edits, edit{op: join, a: first, b: t})
		} else {
			joined[with] = t
		}
	}
	f.touches = moved
	return f
}

// nets says of each terminal what it is joined with, on the breadboard and inside parts.
func (b *bench) nets(nets []build.Net) map[build.Terminal]string {
	sets := map[build.Terminal]*[]string{}
	join := func(list []build.Terminal) {
		var all []string
		for _, t := range list {
			if s := sets[t]; s == nil {
				all = append(all, string(t))
			} else {
				all = append(all, *s...)
			}
		}
		slices.Sort(all)
		all = slices.Compact(all)
		for _, t := range all {
			sets[build.Terminal(t)] = &all
		}
	}
	for _, n := range nets {
		join(n)
	}
	for i := range b.doc.Parts {
		p := &b.doc.Parts[i]
		kind, _ := b.lib.Catalogue.Kind(p.Kind)
		for _, link := range kind.Links {
			var legs []build.Terminal
			for _, id := range link {
				legs = append(legs, build.Of(p.ID, id))
			}
			join(legs)
		}
	}
	m := map[build.Terminal]string{}
	for t, s := range sets {
		m[t] = strings.Join(*s, " ")
	}
	return m
}
