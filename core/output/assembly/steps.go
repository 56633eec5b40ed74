package assembly

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"time"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/values/quantity"
)

// A Step is one thing to do, and what to watch for while doing it.
type Step struct {
	ID    string    `json:"id"` // says what goes where: with other holes it is another step
	Group string    `json:"group"`
	Do    string    `json:"do"`
	Watch []string  `json:"watch"`
	Bands []string  `json:"bands,omitempty"` // of a resistor, written out
	Parts []string  `json:"parts"`           // what is put in
	Wires []int     `json:"wires"`           // by their place in the placement
	Ends  []string  `json:"ends"`            // the holes and places that it is about
	Look  bool      `json:"look,omitempty"`  // something to look over before going on
	Done  bool      `json:"done"`
	At    time.Time `json:"at,omitzero"`
}

// LoadStep is the id of the step in which the program is loaded into the board.
const LoadStep = "program"

// Groups of steps, in the order of good practice (common practice).
const (
	before  = "Before you begin"
	rails   = "Rails"
	signals = "Signal wires"
	program = "Program"
	supply  = "Supply"
)

// Steps returns the steps of a placement. Together they put in everything, each
// leg and each wire once.
func Steps(lib *build.Library, doc *build.Document, p *placement.Placement) []Step {
	b, _ := lib.Board(doc.Board)
	s := &steps{lib: lib, doc: doc, p: p, table: p.Table(lib, doc), done: make([]bool, len(p.Wires)), ground: b.Ground, boardName: b.Name}
	s.begin()
	s.takeOut()
	s.links()
	for _, q := range s.heads() {
		s.part(q)
	}
	s.program()
	s.signals()
	s.feed()
	for i := range s.out {
		x := &s.out[i]
		x.At, x.Done = doneAt(doc, x.ID)
	}
	return s.out
}

type steps struct {
	lib       *build.Library
	doc       *build.Document
	p         *placement.Placement
	table     *breadboard.Table
	done      []bool // by wire
	out       []Step
	ground    string
	boardName string
}

func (s *steps) add(x Step) {
	for _, list := range []*[]string{&x.Watch, &x.Parts, &x.Ends} {
		if *list == nil {
			*list = []string{}
		}
	}
	if x.Wires == nil {
		x.Wires = []int{}
	}
	s.out = append(s.out, x)
}

func (s *steps) begin() {
	s.add(Step{ID: "unplug", Group: before, Do: "Unplug the board: no USB cable, no battery, no supply.", Watch: []string{"Never put in or move a wire while the board has power."}})
	if !s.p.Plugged {
		return
	}
	var first, second string
	names := s.table.Board.Headers
	for h, place := range s.table.Pins() {
		if h.Row == 1 && place.Name == names[0].Places[0] && !h.Column.Right() {
			first = h.String()
		}
		if h.Row == 1 && place.Name == names[1].Places[0] && h.Column.Right() {
			second = h.String()
		}
	}
	s.add(Step{
		ID: "board " + s.doc.Board, Group: before,
		Do:    fmt.Sprintf("Press the %s into the top of the breadboard: pin %s in %s, pin %s in %s, the USB socket over the upper edge.", s.boardName, names[0].Places[0], first, names[1].Places[0], second),
		Watch: []string{"Press on both sides at once, so that no pin bends."},
		Ends:  []string{first, second},
	})
}

// takeOut takes out what steps have put in that belongs there no more, since the
// plan has changed.
func (s *steps) takeOut() {
	if s.doc.Assembly == nil {
		return
	}
	belongs := map[string]bool{}
	for _, x := range s.p.Seats {
		belongs[x.Step()] = true
	}
	for _, w := range s.p.Wires {
		belongs[w.Step()] = true
	}
	for _, d := range s.doc.Assembly.Done {
		what, ends := placement.Puts(d.Step)
		if ends == nil || belongs[d.Step] {
			continue
		}
		if q := s.doc.Part(what); q != nil {
			what = q.Name
		} else {
			what = s.gone(what)
		}
		x := Step{ID: placement.Out + d.Step, Group: before, Watch: []string{"The plan has changed since it was put in."}}
		for i, e := range ends {
			end, err := breadboard.ParseEnd(e)
			if err != nil {
				continue
			}
			ends[i] = end.Words()
			if s.table.CheckEnd(end) == nil {
				x.Ends = append(x.Ends, e)
			}
		}
		x.Do = fmt.Sprintf("Take out %s: it is in %s.", what, list(ends))
		s.add(x)
	}
}

// gone names a part that the plan has no more by what it was: ids are a kind and
// a number, and those of helpers end with the kind.
func (s *steps) gone(id string) string {
	for _, stem := range []string{strings.TrimRight(id, "0123456789"), id[strings.LastIndexByte(id, '-')+1:]} {
		if k, ok := s.lib.Catalogue.Kind(stem); ok {
			return "the " + lower(k.Name)
		}
	}
	return id
}

// links joins the − rails with the board's ground, so that all is at one level from then on, and rails
// with rails, ground first. What supplies them comes last, see feed.
func (s *steps) links() {
	grounds := 0
	for i, w := range s.p.Wires {
		if (s.isRail(w.From) || s.isRail(w.To)) && s.isGround(w) {
			s.wire(rails, i, "Ground goes in first of all, and comes out last.")
			grounds++
		}
	}
	var of []int
	for i, w := range s.p.Wires {
		if s.isRail(w.From) && s.isRail(w.To) {
			of = append(of, i)
		}
	}
	slices.SortStableFunc(of, func(a, b int) int { return cmp.Compare(s.order(a), s.order(b)) })
	for _, i := range of {
		s.wire(rails, i, "It links two rails.")
	}
	var look []string
	if grounds > 0 {
		look = append(look, "ground goes to a − rail")
	}
	if len(of) > 0 {
		look = append(look, "+ is linked with + only", "− with − only")
	}
	if len(look) > 0 {
		s.add(Step{ID: "look rails", Group: rails, Look: true, Do: "Look it over: " + list(look) + "."})
	}
}

// order puts ground before supplies.
func (s *steps) order(wire int) int {
	for _, e := range []breadboard.End{s.p.Wires[wire].From, s.p.Wires[wire].To} {
		if !e.OnBoard() && (e.Hole.Column == breadboard.LeftMinus || e.Hole.Column == breadboard.RightMinus) {
			return 0
		}
	}
	return 1
}

func (s *steps) isRail(e breadboard.End) bool { return !e.OnBoard() && e.Hole.Column.IsRail() }

// onBoard reports whether an end is a place of the board, or a hole beside a pin
// of the one that is plugged in.
func (s *steps) onBoard(e breadboard.End) (pin string, ok bool) {
	if e.OnBoard() {
		return e.Place.Name, true
	}
	if e.Hole.Column.IsRail() {
		return "", false
	}
	for h, place := range s.table.Pins() {
		if s.table.StripOf(h) == s.table.StripOf(e.Hole) {
			return place.Name, true
		}
	}
	return "", false
}

// heads lists the parts that are not helpers: what lies flat by itself, lamps,
// contacts, sensors, chips, and what hangs on wires.
func (s *steps) heads() []*build.Part {
	families := []string{"passives", "lamps", "contacts", "sensors", "chips", "loads"}
	var out []*build.Part
	for i := range s.doc.Parts {
		if q := &s.doc.Parts[i]; s.doc.Part(q.Of) == nil {
			out = append(out, q)
		}
	}
	slices.SortStableFunc(out, func(a, b *build.Part) int {
		return cmp.Compare(slices.Index(families, s.kind(a).Family), slices.Index(families, s.kind(b).Family))
	})
	return out
}

func (s *steps) kind(q *build.Part) *part.Kind {
	k, _ := s.lib.Catalogue.Kind(q.Kind)
	return k
}

func (s *steps) pack(q *build.Part) *placement.Package {
	p, _ := placement.PackageOf(s.kind(q).Body.Package)
	return p
}

// part puts in a part with its helpers, flat ones first, and then the wires that
// are theirs alone.
func (s *steps) part(head *build.Part) {
	all := append([]*build.Part{head}, s.doc.Helpers(head.ID)...)
	slices.SortStableFunc(all, func(a, b *build.Part) int { return cmp.Compare(s.pack(a).Height, s.pack(b).Height) })
	began := len(s.out)
	for _, q := range all {
		s.seat(head.Name, q)
	}
	for i, w := range s.p.Wires {
		_, from := s.onBoard(w.From)
		_, to := s.onBoard(w.To)
		if w.For == head.ID && !from && !to && !s.done[i] {
			s.wire(head.Name, i, "")
		}
	}
	if len(s.out)-began > 1 {
		s.look(head, all)
	}
}

// look says what to look over: which of the part's rows hold what.
func (s *steps) look(head *build.Part, all []*build.Part) {
	type held struct {
		name  string
		what  []string
		wires int
	}
	var rows []*held
	index := map[breadboard.Strip]*held{}
	for _, q := range all {
		for _, l := range s.p.Seat(q.ID).Legs {
			if l.Hole.Column.IsRail() {
				continue
			}
			what := placement.LegName(s.kind(q), l.Leg)
			if q != head {
				what = q.Role
			}
			strip := s.table.StripOf(l.Hole)
			if index[strip] == nil {
				index[strip] = &held{name: rowName(l.Hole)}
				rows = append(rows, index[strip])
			}
			index[strip].what = append(index[strip].what, what)
		}
	}
	for i, w := range s.p.Wires {
		for _, e := range []breadboard.End{w.From, w.To} {
			if s.done[i] && !e.OnBoard() && index[s.table.StripOf(e.Hole)] != nil {
				index[s.table.StripOf(e.Hole)].wires++
			}
		}
	}
	for _, r := range rows {
		switch {
		case r.wires == 1:
			r.what = append(r.what, "a wire")
		case r.wires > 1:
			r.what = append(r.what, fmt.Sprintf("%d wires", r.wires))
		}
	}
	var words []string
	for _, r := range rows {
		if len(r.what) > 1 {
			words = append(words, fmt.Sprintf("%s holds %s", r.name, list(r.what)))
		}
	}
	if len(words) == 0 {
		return
	}
	var ids, ends []string
	for _, q := range all {
		ids = append(ids, q.ID)
		for _, l := range s.p.Seat(q.ID).Legs {
			ends = append(ends, l.Hole.String())
		}
	}
	if len(words) > 6 {
		words = append(words[:6], "and so on")
	}
	s.add(Step{ID: "look " + head.ID + " " + strings.Join(words, ", "), Group: head.Name, Look: true, Do: "Look it over: " + strings.Join(words, "; ") + ".", Parts: ids, Ends: ends})
}

func rowName(h breadboard.Hole) string {
	half := "left"
	if h.Column.Right() {
		half = "right"
	}
	name := fmt.Sprintf("row %d %s", h.Row, half)
	if h.Board > 0 {
		name += fmt.Sprintf(" of breadboard %d", h.Board+1)
	}
	return name
}

func ohms(v float64) string { return quantity.Short(v, quantity.Ohm) }

func list(names []string) string {
	if n := len(names); n > 1 {
		return strings.Join(names[:n-1], ", ") + " and " + names[n-1]
	}
	return strings.Join(names, "")
}
