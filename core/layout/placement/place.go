package placement

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/general/parallel"
)

// A Placement is where everything goes.
type Placement struct {
	Breadboards []string `json:"breadboards"` // ids of sizes, side by side
	Plugged     bool     `json:"plugged"`     // the board stands in the first of them
	Seats       []Seat   `json:"seats"`       // in the order of the document's parts
	Wires       []Jumper `json:"wires"`
	// ForOrder is how many wires there are beyond the fewest that were found, so that what is
	// alike lies alike; 0 where it is not one in ten.
	ForOrder int `json:"forOrder,omitempty"`
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
	// Way is where it bends on its way, in holes on the table, so that it goes round parts and not
	// over them; empty when it goes straight.
	Way         []breadboard.Point `json:"way,omitempty"`
	Round       []string           `json:"round,omitempty"` // the parts that it goes round
	Colour      string             `json:"colour"`
	Millimetres int                `json:"millimetres"`       // at least, with what goes into the holes; of the wires at hand, the one to take
	TooLong     bool               `json:"tooLong,omitempty"` // longer than any wire at hand
	For         string             `json:"for"`               // the part that it serves; empty for rails and what several share
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
	s = s.better(empty)
	s.goRound()
	s.paint()
	return s.placement(), nil
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
		table, wrong := breadboard.NewTable(ids, b, a.Beside)
		if wrong != nil {
			err = wrong
			continue
		}
		t, none, wrong := placeOn(lib, doc, table, a)
		switch {
		case s == nil && wrong != nil:
			err = wrong
			continue
		case s == nil:
			s, empty, err = t, none, nil
		case wrong == nil && t.irregular()+aBoard < s.irregular():
			return t, none, nil
		default:
			return s, empty, nil
		}
		if s.irregular() < aBoard {
			break
		}
	}
	return s, empty, err
}

// aBoard is how irregular a layout must be before a larger breadboard is taken, or one more, on
// which it is not: there, parts that are alike find room to lie alike.
const aBoard = 40.0

// placeOn tries several orders on one table.
func placeOn(lib *build.Library, doc *build.Document, table *breadboard.Table, a *build.Assembly) (s, empty *state, err error) {
	for _, t := range slices.Sorted(maps.Keys(a.Fixed)) {
		if err := table.CheckEnd(breadboard.InHole(a.Fixed[t])); err != nil {
			return nil, nil, err
		}
	}
	start := begin(lib, doc, table, a)
	shapes := 0
	for _, c := range start.alike {
		shapes = max(shapes, 2*len(c.shapes))
	}
	shapes = min(shapes, max(leastShapes, mostTries/max(1, len(doc.Parts))))
	type try struct {
		order   []*build.Part
		variant int
		state   *state
		cost    float64
		err     error
	}
	var tried []try
	for _, order := range start.orders() {
		tried = append(tried, try{order: order, variant: individually})
		for v := 1; v <= shapes; v++ { // a line of what is alike lies either way round
			tried = append(tried, try{order: order, variant: v})
		}
	}
	parallel.Do(len(tried), func(i int) {
		x := &tried[i]
		x.state = start.clone()
		if x.err = x.state.seatAll(x.order, x.variant); x.err == nil {
			x.err = x.state.route()
		}
		if x.err == nil {
			x.cost = x.state.cost()
		}
	})
	best, fewest := -1, math.MaxInt
	for i := range tried {
		if x := &tried[i]; x.err == nil && x.variant == individually {
			fewest = min(fewest, len(x.state.wires))
		}
		if x := &tried[i]; x.err == nil && (best < 0 || x.cost < tried[best].cost) {
			best = i
		}
	}
	if best < 0 {
		return nil, nil, tried[0].err
	}
	start.fewest, tried[best].state.fewest = fewest, fewest
	return tried[best].state, start, nil
}

// How many shapes of what is alike are tried: many of a small build, and few of a large one, where
// each takes longer.
const (
	leastShapes = 6
	mostTries   = 600
)

// orders lists the orders in which parts are seated: by the place of their pins
// on the headers, the same backwards, and what lies across the channel first.
func (s *state) orders() [][]*build.Part {
	var heads []*build.Part
	for i := range s.doc.Parts {
		if p := &s.doc.Parts[i]; p.Of == "" || s.doc.Part(p.Of) == nil {
			heads = append(heads, p)
		}
	}
	byPin := func(a, b *build.Part) int { return cmp.Compare(s.place(a), s.place(b)) }
	across := func(p *build.Part) int {
		if len(s.pack(p).Right) > 2 {
			return 0
		}
		return 1
	}
	var orders [][]*build.Part
	for _, less := range []func(a, b *build.Part) int{
		byPin,
		func(a, b *build.Part) int { return byPin(b, a) },
		func(a, b *build.Part) int { return cmp.Or(cmp.Compare(across(a), across(b)), byPin(a, b)) },
	} {
		sorted := slices.Clone(heads)
		slices.SortStableFunc(sorted, less)
		var order []*build.Part
		for _, p := range sorted {
			order = append(order, s.group(p)...)
		}
		slices.SortStableFunc(order, func(a, b *build.Part) int { return cmp.Compare(s.free(a), s.free(b)) })
		if !slices.ContainsFunc(orders, func(o []*build.Part) bool { return slices.Equal(o, order) }) {
			orders = append(orders, order)
		}
	}
	return orders
}

// place is where the pins of a part and its helpers are on the headers, on average.
func (s *state) place(p *build.Part) float64 {
	var sum, n float64
	for _, q := range s.group(p) {
		for _, net := range s.netsOfPart(q) {
			for _, t := range s.nets.members[net] {
				if _, pin := t.Split(); t.OnBoard() && s.isPin(pin) {
					sum, n = sum+s.rank(pin), n+1
				}
			}
		}
	}
	if n == 0 {
		return 1e3 // what hangs on other parts comes after them
	}
	return sum / n
}

// rank is the place of a pin on its header.
func (s *state) rank(pin string) float64 {
	for _, h := range s.board.Headers {
		if i := slices.Index(h.Places, pin); i >= 0 {
			return float64(i)
		}
	}
	return 0
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

// fewUnits is how many are seated one by one where there is no room for their line. More take so
// long that another variant is better looked for.
const fewUnits = 6

// individually is the variant in which no class is seated by a shape.
const individually = 0

// seatAll seats parts in an order. Those of a class whose parts are all in it are seated together,
// by a shape that the variant says.
func (s *state) seatAll(order []*build.Part, variant int) error {
	for _, p := range order {
		if s.seats[p.ID] != nil {
			continue
		}
		i := slices.IndexFunc(s.alike, func(c *class) bool { return variant != individually && c.has(p) && c.within(order) })
		if i >= 0 && s.seatRun(s.alike[i], variant-1) {
			continue
		}
		if i >= 0 && len(s.alike[i].units) > fewUnits {
			return &NoRoomError{Part: p.Name, Why: "not where all that is like it lies alike"}
		}
		if err := s.seat(p); err != nil {
			return err
		}
	}
	return nil
}
