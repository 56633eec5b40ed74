package placement

import (
	"maps"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/general/union"
)

// Built returns what is there when everything is as planned.
func (p *Placement) Built() *build.Built {
	b := &build.Built{Legs: map[build.Terminal]breadboard.End{}, Wires: []build.Wire{}}
	for _, s := range p.Seats {
		for _, l := range s.Legs {
			b.Legs[build.Of(s.Part, l.Leg)] = breadboard.InHole(l.Hole)
		}
	}
	for _, w := range p.Wires {
		b.Wires = append(b.Wires, w.Wire)
	}
	return b
}

// Table returns the table on which the placement was made.
func (p *Placement) Table(lib *build.Library, doc *build.Document) *breadboard.Table {
	b, _ := lib.Board(doc.Board)
	t, err := breadboard.NewTable(p.Breadboards, b, !p.Plugged)
	if err != nil {
		panic("placement: made on a table that there is not: " + err.Error())
	}
	return t
}

// Trace follows strips, rails, jumpers and the board's own pins, and returns the
// nets that legs and wires make: of more than one terminal, in the order of
// their terminals. Ends must be on the table.
func Trace(t *breadboard.Table, b *build.Built) []build.Net {
	traced := trace(t, b)
	out := []build.Net{}
	for _, net := range traced.nets {
		if len(net) > 1 {
			out = append(out, net)
		}
	}
	return out
}

// Carried returns for each wire the place of the board that it is joined to; "" where there is none,
// or several.
func Carried(t *breadboard.Table, b *build.Built) []string {
	traced := trace(t, b)
	out := make([]string, len(b.Wires))
	for i, w := range b.Wires {
		k := nobody
		if w.From.OnBoard() {
			k = traced.of[build.Pin(w.From.Place.Name)]
		} else {
			k = traced.strip[t.StripOf(w.From.Hole)]
		}
		if k == nobody {
			continue
		}
		places := slices.DeleteFunc(slices.Clone(traced.nets[k]), func(t build.Terminal) bool { return !t.OnBoard() })
		if len(places) == 1 {
			_, out[i] = places[0].Split()
		}
	}
	return out
}

// traced is what is joined on a table.
type traced struct {
	nets  []build.Net
	of    map[build.Terminal]int
	strip []int // by strip: the net it belongs to, or nobody
}

func trace(t *breadboard.Table, b *build.Built) *traced {
	// A spot is a strip, or a place of the board by its name.
	spots := union.Plant[int](t.Strips())
	names := map[string]int{}
	place := func(name string) int {
		k, ok := names[name]
		if !ok {
			k = spots.Add()
			names[name] = k
		}
		return k
	}
	spot := func(e breadboard.End) int {
		if e.OnBoard() {
			return place(e.Place.Name)
		}
		return int(t.StripOf(e.Hole))
	}
	for h, p := range t.Pins() {
		spots.Graft(place(p.Name), int(t.StripOf(h)))
	}
	for _, w := range b.Wires {
		spots.Graft(spot(w.From), spot(w.To))
	}
	at := map[build.Terminal]int{}
	for leg, e := range b.Legs {
		at[leg] = spot(e)
	}
	for name, k := range names {
		at[build.Pin(name)] = k
	}
	out := &traced{of: map[build.Terminal]int{}, strip: slices.Repeat([]int{nobody}, t.Strips())}
	byRoot := map[int]int{}
	for _, term := range slices.Sorted(maps.Keys(at)) {
		root := spots.Root(at[term])
		k, ok := byRoot[root]
		if !ok {
			k = len(out.nets)
			byRoot[root] = k
			out.nets = append(out.nets, nil)
		}
		out.nets[k] = append(out.nets[k], term)
		out.of[term] = k
	}
	for i := range out.strip {
		if k, ok := byRoot[spots.Root(i)]; ok {
			out.strip[i] = k
		}
	}
	return out
}
