package diagnose

import (
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
)

// What is felt of a part, and seen of the board, beside what it should do.
const (
	warm     = "gets warm"
	cool     = "stays cool"
	restarts = "restarts"
	runs     = "keeps running"
)

// felt is the heat in watts that half of all people feel at a part with a finger, and spread
// how unsure that is, as a ratio (common practice: a small resistor is hand-warm at a tenth of a
// watt).
const (
	felt   = 0.1
	spread = 1.7
)

// feels are the answers to an ask of the sort [Feel], the one that should be there first.
func (a *Ask) feels() [2]string {
	if a.moves {
		return [2]string{moves, stays}
	}
	if a.Part == "" {
		return [2]string{runs, restarts}
	}
	return [2]string{cool, warm}
}

// listFeels lists what can be felt: each part's heat, and whether the board keeps running.
func (c *Case) listFeels() {
	c.add(Ask{ID: "feel:board", Sort: Feel, trouble: seeTrouble})
	for i := range c.doc.Parts {
		p := &c.doc.Parts[i]
		near := map[build.Terminal]bool{}
		kind, _ := c.lib.Catalogue.Kind(p.Kind)
		for _, t := range kind.Terminals {
			leg := build.Of(p.ID, t.ID)
			for u := range c.nearPiece(c.net.PieceOf(c.net.Node(leg)), leg) {
				near[u] = true
			}
		}
		c.add(Ask{ID: "feel:" + p.ID, Sort: Feel, Part: p.ID, near: near, trouble: readsTrouble})
	}
}

// feeling is what is felt with a network.
func (c *Case) feeling(n *wiring.Network, a *Ask) map[string]float64 {
	says := a.feels()
	up := 0.0
	if a.Part == "" {
		amps, most := 0.0, math.Inf(1)
		if s, ok := c.net.Board.Supply(c.doc.Supply); ok {
			most = s.Limit.Absolute
		}
		for _, p := range n.Pieces {
			if slices.Contains(c.net.Pieces, p) {
				continue // as planned: the check says what is wrong with that
			}
			amps = max(amps, c.most(p, func(s *wiring.Solved) (sum float64) {
				for _, i := range p.Elements {
					if x, y := n.Ends(i); n.Stiff(x) && x != circuit.Ground || n.Stiff(y) && y != circuit.Ground {
						sum += math.Abs(s.TypicalAmps(i))
					}
				}
				return sum
			}))
		}
		up = bell(math.Log(amps/most) / math.Log(spread))
		for _, r := range c.net.Board.Rails {
			if n.RailNode(r.Name) == circuit.Ground { // it is joined to ground
				up = 1
			}
		}
	} else {
		watts := 0.0
		for _, p := range n.Pieces {
			if slices.ContainsFunc(p.Elements, func(i int) bool { return n.Elements[i].Part == a.Part }) {
				watts = max(watts, c.most(p, func(s *wiring.Solved) (sum float64) {
					for _, i := range p.Elements {
						if n.Elements[i].Part == a.Part {
							x, y := n.Ends(i)
							sum += math.Abs((s.Typical(x) - s.Typical(y)) * s.TypicalAmps(i))
						}
					}
					return sum
				}))
			}
		}
		up = bell(math.Log(watts/felt) / math.Log(spread))
	}
	return map[string]float64{says[0]: 1 - up, says[1]: up}
}

// most is the largest of something over the states of a piece.
func (c *Case) most(p *wiring.Piece, of func(*wiring.Solved) float64) (most float64) {
	list, err := p.Planned(wiring.Subject{})
	if err != nil {
		return 0
	}
	for _, s := range list {
		most = max(most, of(s))
	}
	return most
}

// feltName is what is felt, in words.
func (c *Case) feltName(a *Ask) string {
	if a.moves {
		return "the reading of " + c.inputs[a.input].name
	}
	if a.Part == "" {
		return "the board"
	}
	return c.doc.Part(a.Part).Name
}

// heats are, beside loads, what parts are that can be pointed at as warm: those that a fault makes carry
// much. The others are told in words.
var heats = []part.Primitive{part.Coil, part.NPN, part.MOSFET, part.Diode, part.Register, part.PushPull, part.Regulated, part.OpenCollector, part.Voltage}

// feelable lists what a builder can point at as restarting, or warm.
func (c *Case) feelable() (out []Thing) {
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort != Feel {
			continue
		}
		if a.Part != "" && !a.moves {
			if kind, _ := c.lib.Catalogue.Kind(c.doc.Part(a.Part).Kind); !slices.ContainsFunc(heats, kind.Is) && !kind.IsLoad() {
				continue
			}
		}
		says := a.feels()
		out = append(out, Thing{
			Part: a.Part, Name: build.Capital(c.feltName(a)), Sort: Feel, Words: []string{says[1]},
			States: []Doing{{Ask: a.ID, Should: says[0], Says: map[string]string{runs: "should keep running", cool: "should stay cool", moves: "should change"}[says[0]]}},
		})
	}
	return out
}

// feltWords are words for what is felt.
var feltWords = []struct{ say, means string }{
	{"restarts", restarts}, {"resets", restarts}, {"reboots", restarts}, {"goes off", restarts}, {"keeps running", runs},
	{"restarting", restarts}, {"resetting", restarts}, {"rebooting", restarts}, {"disconnects", restarts}, {"is disconnected", restarts}, {"too much power", restarts}, {"too much current", restarts}, {"shuts off", restarts}, {"switches off", restarts}, {"does not find", restarts}, {"doesn't find", restarts}, {"not recognised", restarts}, {"not recognized", restarts}, {"gets hot", warm}, {"smokes", warm}, {"smells", warm}, {"burning", warm},
	{"warm", warm}, {"hot", warm}, {"heats up", warm}, {"stays cool", cool}, {"cold", cool},
}

// sayFelt understands what is said of warmth, or of a board that restarts.
func (c *Case) sayFelt(say string) (Observation, bool) {
	_, _, _, rest := c.subject(say)
	for _, w := range feltWords {
		if !within(rest, w.say) {
			continue
		}
		best, found := 0, Observation{}
		for i := range c.asks {
			a := &c.asks[i]
			means := w.means
			if a.Part == "" && means == warm {
				means = restarts // both come of more current than the supply gives
			}
			if says := a.feels(); a.Sort != Feel || !slices.Contains(says[:], means) {
				continue
			}
			names := []string{"board", "it", "usb", "computer", "pc", "device", "laptop", "whole thing", "everything", "program"}
			if a.Part != "" {
				names = []string{a.Part, strings.ToLower(c.doc.Part(a.Part).Name)}
			}
			for _, n := range names {
				if within(say, n) && len(n) > best {
					best, found = len(n), Observation{a.ID, means}
				}
			}
		}
		if best > 0 {
			return found, true
		}
	}
	return Observation{}, false
}
