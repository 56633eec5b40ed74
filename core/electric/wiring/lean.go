package wiring

import (
	"cmp"
	"math"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
)

// A Lean is what one tolerance alone does to a voltage, by its slope at the typical values.
type Lean struct {
	Of   string  `json:"of"`   // "resistance of R1"
	Low  float64 `json:"low"`  // what its low end adds
	High float64 `json:"high"` // and its high end
	Rail string  `json:"rail"` // the rail whose voltage it is; empty: it is of something else
}

// Leans says what the tolerances do to the voltage of one place above another in a state, the one
// that does most first. Tolerances that do nothing are left out.
func (n *Network) Leans(settings []float64, of, over build.Terminal) ([]Lean, error) {
	a, b := n.Node(of), n.Node(over)
	out := map[string]Lean{}
	told := [2]bool{a == circuit.Ground, b == circuit.Ground}
	for _, p := range slices.Compact([]*Piece{n.PieceOf(a), n.PieceOf(b)}) {
		if p == nil {
			continue
		}
		s, err := p.At(p.Restrict(settings))
		if err != nil {
			return nil, err
		}
		for _, l := range s.leans(a, b) {
			sum := out[l.Of]
			out[l.Of] = Lean{l.Of, sum.Low + l.Low, sum.High + l.High, l.Rail}
		}
		told[0], told[1] = told[0] || s.has(a), told[1] || s.has(b)
	}
	// A rail that no piece here touches moves by itself.
	for i, node := range []circuit.Node{a, b} {
		if !told[i] && n.stiff[node] {
			n.leanOfRail(node, 1-2*float64(i), out)
		}
	}
	return largest(out), nil
}

// TestLeans says the same of what is left between the tips of a tester; see [Network.Test].
func (n *Network) TestLeans(settings []float64, t Tester, red, black build.Terminal) ([]Lean, error) {
	s, err := n.tested(settings, t, red, black)
	if err != nil {
		return nil, err
	}
	out := map[string]Lean{}
	for _, l := range s.leans(s.Piece.network.Node(red), s.Piece.network.Node(black)) {
		out[l.Of] = l
	}
	return largest(out), nil
}

// leanOfRail adds what the tolerance of a rail does to its own voltage.
func (n *Network) leanOfRail(node circuit.Node, sign float64, into map[string]Lean) {
	for i := range n.Elements {
		if e := &n.Elements[i]; e.Role == Rail && n.circuit.Elements[i].A == node && e.param >= 0 && !n.isGone(i) {
			v := n.Params[e.param]
			was := into[v.Name]
			into[v.Name] = Lean{v.Name, was.Low + sign*(v.Value.Low-v.Value.Typ), was.High + sign*(v.Value.High-v.Value.Typ), e.Pin}
		}
	}
}

func largest(by map[string]Lean) []Lean {
	out := make([]Lean, 0, len(by))
	for _, l := range by {
		if l.most() > 0 {
			out = append(out, l)
		}
	}
	slices.SortFunc(out, func(a, b Lean) int {
		return cmp.Or(cmp.Compare(b.most(), a.most()), cmp.Compare(a.Of, b.Of))
	})
	return out
}

func (l Lean) most() float64 { return math.Max(math.Abs(l.Low), math.Abs(l.High)) }

// leans are those of the voltage of a above b as far as it is the piece's: a node that is not in
// it stands still.
func (s *Solved) leans(a, b circuit.Node) []Lean {
	p := s.Piece.pattern
	q := &quantityForm{}
	for i, node := range []circuit.Node{a, b} {
		if l, ok := s.Piece.local(node); ok && l != circuit.Ground {
			q.form.Volts = append(q.form.Volts, circuit.Weight{At: s.node(l), By: 1 - 2*float64(i)})
		}
	}
	p.enter(s.Piece.network)
	defer p.leave()
	typical := p.typical(s.point)
	if !p.linearize(s.point, typical) {
		return nil
	}
	slope := make([]float64, len(p.params))
	p.slopes(typical, q, slope)
	n := s.Piece.network
	var out []Lean
	done := make([]bool, len(p.params))
	for k, i := range s.Piece.elements {
		e := p.parts[s.element(k)]
		if e.param < 0 || done[e.param] {
			continue
		}
		done[e.param] = true
		t := p.params[e.param]
		// A nudge is a part of the way to the high end, or where there is none to the low end.
		whole := t.high - t.typ
		if whole == 0 {
			whole = t.typ - t.low
		}
		if whole == 0 {
			continue
		}
		each := slope[e.param] / (nudged * whole)
		of := &n.Elements[i]
		lean := Lean{Of: n.Params[of.param].Name, Low: each * (t.low - t.typ), High: each * (t.high - t.typ)}
		if of.Role == Rail {
			lean.Rail = of.Pin
		}
		out = append(out, lean)
	}
	return out
}
