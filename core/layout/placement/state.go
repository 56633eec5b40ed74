package placement

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// state is a placement that is being made.
type state struct {
	lib   *build.Library
	doc   *build.Document
	board *board.Profile
	table *breadboard.Table
	fixed map[build.Terminal]breadboard.Hole
	kept  *build.Built // what is plugged in already, and stays where it can
	nets  *nets
	rails map[int][]breadboard.RailStrip // by net: the rails that carry it

	headers [][]breadboard.Point // by net: its places on a board that lies beside

	standingWires []build.Wire // those of kept that are on this table

	railStrips []breadboard.RailStrip
	pins       []string // by strip: the pin of the plugged-in board in it, or nothing

	owner   []int                // by strip: the net in it, or -1
	sitting []int                // by strip: how many legs are in it
	taken   holeSet              // by a leg, a wire, a pin, or what lies over it
	legs    holeSet              // by a leg
	bodies  holeSet              // what the body of a part covers beside its legs
	strips  [][]breadboard.Strip // by net: its strips, rails not counted
	waiting []int                // by net: legs that have no place yet
	seats   map[string][]Leg
	bottom  int // the lowest row in use
	wires   []Jumper
	used    map[breadboard.Place]bool
	lie     []line // where those wires lay that are likely to stay

	covered, body []breadboard.Hole // room for the lists of a try
	links         map[int][]float64 // by net and strip: what is known of link while a part is seated

	alike    []*class // never written to
	covering []box    // of the bodies, when all are seated
	fewest   int      // wires, where what is alike need not lie alike
}

const nobody = -1

// begin is a state in which nothing is seated yet: the pins of the board, what it
// covers, and the wires that are there already have their holes.
func begin(lib *build.Library, doc *build.Document, table *breadboard.Table, a *build.Assembly) *state {
	s := &state{
		lib: lib, doc: doc, board: table.Board, table: table, fixed: a.Fixed, kept: &build.Built{},
		nets:       netsOf(lib, doc, doc.Nets, table.Plugged),
		rails:      map[int][]breadboard.RailStrip{},
		railStrips: table.RailStrips(), pins: make([]string, table.Strips()),
		owner: slices.Repeat([]int{nobody}, table.Strips()), sitting: make([]int, table.Strips()),
		seats: map[string][]Leg{},
		used:  map[breadboard.Place]bool{},
	}
	s.strips = make([][]breadboard.Strip, len(s.nets.members))
	s.waiting = make([]int, len(s.nets.members))
	s.headers = make([][]breadboard.Point, len(s.nets.members))
	for n, members := range s.nets.members {
		for _, t := range members {
			_, name := t.Split()
			if !t.OnBoard() {
				s.waiting[n]++
				continue
			}
			for _, place := range table.PlacesOf(name) {
				s.headers[n] = append(s.headers[n], table.At(breadboard.End{Place: place}))
			}
		}
	}
	if a.Kept != nil {
		s.kept = a.Kept
	}
	for _, w := range s.kept.Wires {
		if table.CheckEnd(w.From) == nil && table.CheckEnd(w.To) == nil && s.freeEnd(w.From) && s.freeEnd(w.To) {
			s.occupy(w)
			s.standingWires = append(s.standingWires, w)
		}
	}
	for h, place := range table.Pins() {
		strip := table.StripOf(h)
		s.own(strip, s.nets.of[build.Pin(place.Name)])
		s.pins[strip] = place.Name
	}
	for _, list := range s.strips {
		slices.Sort(list) // the pins came in no order
	}
	for b, size := range table.Sizes {
		for c := breadboard.A; c <= breadboard.J; c++ {
			for row := 1; row <= size.Rows; row++ {
				if h := (breadboard.Hole{Board: b, Column: c, Row: row}); table.Covers(h) {
					s.taken.add(h)
				}
			}
		}
	}
	if table.Plugged {
		s.bottom = len(s.board.Headers[0].Places)
	}
	s.chooseRails()
	s.links = map[int][]float64{}
	s.alike = s.classes()
	return s
}

// chooseRails gives the − rails to ground and the + rails to the supply that
// most legs hang on; a second supply takes the right + rail.
func (s *state) chooseRails() {
	ground, ok := s.nets.of[build.Pin(s.board.Ground)]
	if !ok || len(s.nets.members[ground]) < 2 {
		ground = nobody
	}
	var plus []int
	for _, r := range s.board.Rails {
		if n, ok := s.nets.of[build.Pin(r.Name)]; ok && n != ground && !slices.Contains(plus, n) && len(s.nets.members[n]) > 1 {
			plus = append(plus, n)
		}
	}
	slices.SortStableFunc(plus, func(a, b int) int { return cmp.Compare(len(s.nets.members[b]), len(s.nets.members[a])) })
	for _, r := range s.railStrips {
		net := ground
		if !r.Minus() {
			switch {
			case len(plus) == 0:
				continue
			case len(plus) > 1 && r.Column.Right():
				net = plus[1]
			default:
				net = plus[0]
			}
		}
		if net != nobody {
			s.rails[net] = append(s.rails[net], r)
			s.owner[r.Strip] = net
		}
	}
}

func (s *state) clone() *state {
	c := *s
	c.owner, c.sitting, c.waiting = slices.Clone(s.owner), slices.Clone(s.sitting), slices.Clone(s.waiting)
	c.strips = make([][]breadboard.Strip, len(s.strips))
	for i := range s.strips {
		c.strips[i] = slices.Clone(s.strips[i])
	}
	c.seats, c.wires, c.used = map[string][]Leg{}, nil, maps.Clone(s.used)
	c.covering = nil
	c.covered, c.body, c.links = nil, nil, map[int][]float64{}
	return &c
}

func (s *state) own(strip breadboard.Strip, net int) {
	if s.owner[strip] != net {
		s.owner[strip] = net
		s.strips[net] = append(s.strips[net], strip)
	}
}

// cost is what a placement is judged by: wires count most, then what is alike and does not lie
// alike, then crossings of wires and of bodies, then length.
func (s *state) cost() float64 {
	cost := 0.3*float64(s.bottom) + s.irregular()
	for i, w := range s.wires {
		cost += 10 + 0.5*w.line.length() + 4*float64(s.crossings(w.line, i)) + 4*float64(s.covers(w.line))
	}
	return cost
}

func (s *state) placement() *Placement {
	p := &Placement{Plugged: s.table.Plugged, Seats: []Seat{}, Wires: []Jumper{}}
	for _, size := range s.table.Sizes {
		p.Breadboards = append(p.Breadboards, size.ID)
	}
	for _, q := range s.doc.Parts {
		p.Seats = append(p.Seats, Seat{q.ID, s.seats[q.ID]})
	}
	p.Wires = append(p.Wires, s.wires...)
	if more := len(s.wires) - s.fewest; 10*more > s.fewest {
		p.ForOrder = more
	}
	return p
}

// holds says what a net joins, for an error.
func (s *state) holds(net int) string {
	var names []string
	for _, t := range s.nets.members[net] {
		id, leg := t.Split()
		if p := s.doc.Part(id); p != nil {
			leg = p.Name
		}
		if !slices.Contains(names, leg) {
			names = append(names, leg)
		}
	}
	return strings.Join(names, ", ")
}

func (s *state) isPin(name string) bool {
	_, ok := s.board.Pin(name)
	return ok
}

func (s *state) kind(p *build.Part) *part.Kind {
	k, _ := s.lib.Catalogue.Kind(p.Kind)
	return k
}

func (s *state) pack(p *build.Part) *Package {
	pack, _ := PackageOf(s.kind(p).Body.Package)
	return pack
}
