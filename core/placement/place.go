package placement

import (
	"cmp"
	"fmt"
	"maps"
	"slices"

	"cablaggio/core/breadboard"
	"cablaggio/core/build"
	"cablaggio/core/parallel"
)

// A Placement is where everything goes.
type Placement struct {
	Breadboards []string `json:"breadboards"` // ids of sizes, side by side
	Plugged     bool     `json:"plugged"`     // the board stands in the first of them
	Seats       []Seat   `json:"seats"`       // in the order of the document's parts
	Wires       []Jumper `json:"wires"`
}

// A Seat is where the legs of a part go, in the order of its package.
type Seat struct {
	Part string `json:"part"`
	Legs []Leg  `json:"legs"`
}

// A Leg is one leg and its hole.
type Leg struct {
	Leg  string          `json:"leg"`
	Hole breadboard.Hole `json:"hole"`
}

// A Jumper is a wire of the placement.
type Jumper struct {
	build.Wire
	Colour      string `json:"colour"`
	Millimetres int    `json:"millimetres"`       // at least, with what goes into the holes; of the wires at hand, the one to take
	TooLong     bool   `json:"tooLong,omitempty"` // longer than any wire at hand
	For         string `json:"for"`               // the part that it serves; empty for rails and what several share
	net         int
	line        line
}

// Seat returns the seat of a part.
func (p *Placement) Seat(part string) Seat {
	i := slices.IndexFunc(p.Seats, func(s Seat) bool { return s.Part == part })
	if i < 0 {
		return Seat{}
	}
	return p.Seats[i]
}

// Hole returns the hole of a leg.
func (s Seat) Hole(leg string) (breadboard.Hole, bool) {
	i := slices.IndexFunc(s.Legs, func(l Leg) bool { return l.Leg == leg })
	if i < 0 {
		return breadboard.Hole{}, false
	}
	return s.Legs[i].Hole, true
}

// A NoRoomError says what does not fit, and what would help.
type NoRoomError struct {
	Part string // the name of the part
	Why  string
}

func (e *NoRoomError) Error() string {
	return fmt.Sprintf("there is no room for %s: %s", e.Part, e.Why)
}

// tries is the breadboards that are tried one after another when the builder
// has not chosen any. The mini has no rails and is taken only when it is asked for.
var tries = [][]string{{"half"}, {"full"}, {"full", "full"}, {"full", "full", "full"}, {"full", "full", "full", "full"}}

// Place lays a valid document out. It is deterministic: parts with legs that the
// builder has fixed first, then the rest by the pins that they hang on; in
// several orders, of which the one with the fewest and shortest wires is taken.
// The error is a [*NoRoomError], or says what is wrong with the breadboards.
func Place(lib *build.Library, doc *build.Document) (*Placement, error) {
	s, empty, err := begun(lib, doc)
	if err != nil {
		return nil, err
	}
	return s.better(empty).placement(), nil
}

// Fits returns the breadboards that [Place] takes, or its error, in less time.
func Fits(lib *build.Library, doc *build.Document) (ids []string, err error) {
	s, _, err := begun(lib, doc)
	if err != nil {
		return nil, err
	}
	return s.placement().Breadboards, nil
}

// begun lays a document out part by part. It returns the state, and the empty
// one that it began with.
func begun(lib *build.Library, doc *build.Document) (s, empty *state, err error) {
	a := doc.Assembly
	if a == nil {
		a = &build.Assembly{}
	}
	sizes := tries
	if len(a.Breadboards) > 0 {
		sizes = [][]string{a.Breadboards}
	}
	b, _ := lib.Board(doc.Board)
	for _, ids := range sizes {
		var table *breadboard.Table
		if table, err = breadboard.NewTable(ids, b, a.Beside); err != nil {
			continue
		}
		if s, empty, err = placeOn(lib, doc, table, a); err == nil {
			return s, empty, nil
		}
	}
	return nil, nil, err
}

// placeOn tries several orders on one table.
func placeOn(lib *build.Library, doc *build.Document, table *breadboard.Table, a *build.Assembly) (s, empty *state, err error) {
	for _, t := range slices.Sorted(maps.Keys(a.Fixed)) {
		if err := table.CheckEnd(breadboard.InHole(a.Fixed[t])); err != nil {
			return nil, nil, err
		}
	}
	start := begin(lib, doc, table, a)
	orders := start.orders()
	tried := make([]struct {
		state *state
		cost  float64
		err   error
	}, len(orders))
	parallel.Do(len(orders), func(i int) {
		x := &tried[i]
		x.state = start.clone()
		if x.err = x.state.seatAll(orders[i]); x.err == nil {
			x.err = x.state.route()
		}
		if x.err == nil {
			x.cost = x.state.cost()
		}
	})
	best := -1
	for i := range tried {
		if x := &tried[i]; x.err == nil && (best < 0 || x.cost < tried[best].cost) {
			best = i
		}
	}
	if best < 0 {
		return nil, nil, tried[0].err
	}
	return tried[best].state, start, nil
}

// orders lists the orders in which parts are seated: by the place of their pins
// on the headers, the same backwards, and what lies across the channel first.
func (s *state) orders() [][]*build.Part {
	at := map[string]float64{}
	for _, h := range s.board.Headers {
		for i, place := range h.Places {
			if _, seen := at[place]; !seen {
				at[place] = float64(i)
			}
		}
	}
	place := func(p *build.Part) float64 {
		var sum, n float64
		for _, q := range s.group(p) {
			for _, leg := range s.kind(q).LegOrder() {
				for _, t := range s.nets.members[s.nets.of[build.Of(q.ID, leg)]] {
					if _, pin := t.Split(); t.OnBoard() && s.isPin(pin) {
						sum, n = sum+at[pin], n+1
					}
				}
			}
		}
		if n == 0 {
			return 1e3 // what hangs on other parts comes after them
		}
		return sum / n
	}
	var heads []*build.Part
	for i := range s.doc.Parts {
		if p := &s.doc.Parts[i]; p.Of == "" || s.doc.Part(p.Of) == nil {
			heads = append(heads, p)
		}
	}
	byPin := func(a, b *build.Part) int { return cmp.Compare(place(a), place(b)) }
	across := func(p *build.Part) int {
		if len(s.pack(p).Right) > 2 {
			return 0
		}
		return 1
	}
	orders := make([][]*build.Part, 3)
	for i, less := range []func(a, b *build.Part) int{
		byPin,
		func(a, b *build.Part) int { return byPin(b, a) },
		func(a, b *build.Part) int { return cmp.Or(cmp.Compare(across(a), across(b)), byPin(a, b)) },
	} {
		sorted := slices.Clone(heads)
		slices.SortStableFunc(sorted, less)
		for _, p := range sorted {
			orders[i] = append(orders[i], s.group(p)...)
		}
		slices.SortStableFunc(orders[i], func(a, b *build.Part) int { return cmp.Compare(s.free(a), s.free(b)) })
	}
	return orders
}

// free is 0 for a part with a leg that the builder has fixed, 1 for one that is
// plugged in already, and 2 for others.
func (s *state) free(p *build.Part) int {
	legs := s.kind(p).LegOrder()
	for _, leg := range legs {
		if _, ok := s.fixed[build.Of(p.ID, leg)]; ok {
			return 0
		}
	}
	if _, ok := s.kept.Legs[build.Of(p.ID, legs[0])]; ok {
		return 1
	}
	return 2
}

// group is a part with its helpers.
func (s *state) group(p *build.Part) []*build.Part {
	return append([]*build.Part{p}, s.doc.Helpers(p.ID)...)
}

func (s *state) seatAll(order []*build.Part) error {
	for _, p := range order {
		if err := s.seat(p); err != nil {
			return err
		}
	}
	return nil
}
