package assembly

import (
	"cmp"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
)

// A Row is what is plugged into one row or rail, in words: the hole map for who
// cannot see it, and for a look along the rows.
type Row struct {
	Name  string   `json:"name"`
	Holds []string `json:"holds"` // "e3: long leg of sign lamp"
}

// Rows lists the rows and rails of a table in which something is, from the top:
// rails first, then the left and the right half of each row.
func Rows(lib *build.Library, doc *build.Document, table *breadboard.Table, b *build.Built, wires []placement.Jumper) []Row {
	type held struct {
		hole breadboard.Hole
		what string
	}
	in := map[breadboard.Strip][]held{}
	hold := func(e breadboard.End, what string) {
		if !e.OnBoard() {
			in[table.StripOf(e.Hole)] = append(in[table.StripOf(e.Hole)], held{e.Hole, what})
		}
	}
	for h, place := range table.Pins() {
		hold(breadboard.InHole(h), "pin "+place.Name+" of the board")
	}
	for _, q := range doc.Parts {
		kind, _ := lib.Catalogue.Kind(q.Kind)
		for _, leg := range kind.LegOrder() {
			if e, ok := b.Legs[build.Of(q.ID, leg)]; ok {
				hold(e, placement.LegName(kind, leg)+" of "+q.Name)
			}
		}
	}
	for _, w := range wires {
		colour := w.Colour
		if colour == "" {
			colour = "a"
		}
		hold(w.From, colour+" wire to "+w.To.Words())
		hold(w.To, colour+" wire from "+w.From.Words())
	}
	names := map[breadboard.Strip]string{}
	for _, r := range table.RailStrips() {
		names[r.Strip] = r.Name()
	}
	var strips []breadboard.Strip
	for strip, list := range in {
		// A pin of the board alone is nothing to look for.
		if _, pin := table.Pins()[list[0].hole]; pin && len(list) == 1 {
			continue
		}
		strips = append(strips, strip)
	}
	slices.SortFunc(strips, func(x, y breadboard.Strip) int {
		a, b := in[x][0].hole, in[y][0].hole
		rail := func(h breadboard.Hole) int {
			if h.Column.IsRail() {
				return 0
			}
			return 1
		}
		if c := cmp.Or(cmp.Compare(a.Board, b.Board), cmp.Compare(rail(a), rail(b))); c != 0 {
			return c
		}
		if a.Column.IsRail() {
			return cmp.Compare(x, y)
		}
		return cmp.Or(cmp.Compare(a.Row, b.Row), cmp.Compare(x, y))
	})
	out := []Row{}
	for _, strip := range strips {
		list := in[strip]
		slices.SortStableFunc(list, func(a, b held) int {
			return cmp.Or(cmp.Compare(a.hole.Row, b.hole.Row), cmp.Compare(a.hole.Column, b.hole.Column))
		})
		r := Row{Name: names[strip]}
		if r.Name == "" {
			r.Name = rowName(list[0].hole)
		}
		for _, h := range list {
			r.Holds = append(r.Holds, h.hole.String()+": "+h.what)
		}
		out = append(out, r)
	}
	return out
}
