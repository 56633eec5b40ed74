package diagnose

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/rig"
)

// A PinAsk is something that a board can be asked over its cable, without anybody: what it reads at
// a pin that it lets go or pulls, while all its other pins are let go; or while somebody holds a
// button pressed, a knob at an end, a sensor in the dark.
type PinAsk struct {
	ID      string     `json:"id"`
	Pin     string     `json:"pin"`
	Pull    board.Pull `json:"pull"`              // "": it is let go
	Analog  bool       `json:"analog"`            // the converter is asked, not the input
	Of      string     `json:"of,omitempty"`      // the part that somebody holds meanwhile, by its id
	Setting string     `json:"setting,omitempty"` // how: "pressed", "at one end"
}

// Hand names what somebody does meanwhile; "": nothing.
func (a PinAsk) Hand() string {
	if a.Of == "" {
		return ""
	}
	return a.Of + "=" + a.Setting
}

// The kinds of readings of a converter: whoever turned a knob, or how bright it is, nobody asked.
var shares = []struct {
	name string
	from float64 // a part of the scale
}{{"at the bottom", 0}, {"low", 0.03}, {"in the middle", 0.3}, {"high", 0.7}, {"at the top", 0.97}}

// ShareName says in which kind of reading a part of the scale, 0 to 1, is.
func ShareName(share float64) string {
	name := shares[0].name
	for _, s := range shares {
		if share >= s.from {
			name = s.name
		}
	}
	return name
}

// PinAsks lists what the board can be asked, in the order of its pins; what somebody must do
// something for comes last.
func (c *Case) PinAsks() (out []PinAsk) {
	for i := range c.asks {
		if c.asks[i].Sort == Pin {
			out = append(out, c.asks[i].pin)
		}
	}
	slices.SortStableFunc(out, func(a, b PinAsk) int {
		return cmp.Compare(min(len(a.Of), 1), min(len(b.Of), 1))
	})
	return out
}

// listPins lists what the board can be asked about the pins that are wired.
func (c *Case) listPins() {
	for _, p := range c.net.Board.Pins {
		t := build.Pin(p.Name)
		if c.doc.NetOf(t) < 0 || !p.Has(board.DigitalIn) || c.net.Board.Number(p.Name) < 0 {
			continue
		}
		piece := c.net.PieceOf(c.net.Node(t))
		near := c.nearPiece(piece, t)
		part := ""
		pull := board.Pull("")
		for _, u := range c.net.Uses {
			if u.Pin.Name == p.Name && len(u.Signals) > 0 {
				part, pull = u.Signals[0].Part.ID, u.Signals[0].Signal.Pull
			}
		}
		add := func(ask PinAsk) {
			ask.Pin = p.Name
			ask.ID = "pin:" + p.Name + ":" + map[bool]string{true: "analog", false: string(ask.Pull)}[ask.Analog]
			if ask.Of != "" {
				ask.ID += ":" + ask.Hand()
			}
			c.add(Ask{ID: ask.ID, Sort: Pin, Part: part, pin: ask, near: near, test: true, told: true})
		}
		add(PinAsk{})
		for _, way := range []board.Pull{board.PullUp, board.PullDown} {
			if !c.net.Board.PullAt(p, way).IsZero() {
				add(PinAsk{Pull: way})
			}
		}
		if p.Has(board.AnalogIn) {
			add(PinAsk{Analog: true})
		}
		if piece == nil {
			continue
		}
		for _, k := range piece.Controls {
			x := &c.net.Controls[k]
			ask := PinAsk{Pull: pull, Of: x.Of}
			if x.Kind == wiring.Level && p.Has(board.AnalogIn) {
				ask.Pull, ask.Analog = "", true // the converter is asked at a pin that is not pulled
			}
			for _, ask.Setting = range held(x) {
				add(ask)
			}
		}
	}
}

// held lists how somebody can hold a thing, beside how it rests: a button pressed, a switch either
// way, a knob or a light at its ends.
func held(x *wiring.Control) []string {
	switch {
	case x.Kind == wiring.Contact && goesBack(x):
		return []string{x.Settings[wiring.Closed]}
	case x.Kind == wiring.Contact:
		return []string{x.Settings[wiring.Open], x.Settings[wiring.Closed]}
	case x.Kind == wiring.Level && len(x.Planned) > 1:
		var out []string
		for _, v := range []float64{x.Planned[0], x.Planned[len(x.Planned)-1]} {
			if k := slices.Index(x.Levels, v); k >= 0 {
				out = append(out, x.Settings[k])
			}
		}
		return out
	}
	return nil
}

// goesBack reports whether a contact is let go by itself: how it rests is known.
func goesBack(x *wiring.Control) bool { return x.Settings[wiring.Closed] == "pressed" }

// mostUnknown is in how many ways what nobody knows is looked at.
const mostUnknown = 12

// pinReads is what the board reads at a pin.
func (c *Case) pinReads(n *wiring.Network, a *Ask) prediction {
	if c.unfed(n) {
		return prediction{none: true}
	}
	node := nodeOf(n, a.pin.Pin)
	settings, err := n.Resolve(nil)
	if err != nil {
		return prediction{none: true}
	}
	ways := [][]float64{settings}
	piece := n.PieceOf(node)
	for k := range n.Controls {
		x := &n.Controls[k]
		switch {
		case x.Kind == wiring.Mode && x.Of == a.pin.Pin && a.pin.Pull != "":
			settings[k] = map[board.Pull]float64{board.PullUp: wiring.PulledUp, board.PullDown: wiring.PulledDown}[a.pin.Pull]
		case x.Kind == wiring.Mode:
			settings[k] = wiring.LetGo
		case x.Of == a.pin.Of && a.pin.Setting != "":
			if settings[k], err = x.Parse(a.pin.Setting); err != nil {
				return prediction{none: true}
			}
		default:
			settings[k] = rig.Rest(x)
		}
	}
	if piece == nil {
		if !n.Stiff(node) {
			return prediction{labels: c.afloat(a)}
		}
		return prediction{labels: c.readAs(n, a, n.FedVolts(node).Typ)}
	}
	for _, k := range piece.Controls {
		if n.Controls[k].Of != a.pin.Of {
			ways = unknown(ways, k, &n.Controls[k])
		}
	}
	mix := map[string]float64{}
	for _, way := range ways {
		s, err := piece.At(piece.Restrict(way))
		if err != nil {
			return prediction{none: true}
		}
		labels := c.afloat(a)
		if s.Held(node) {
			labels = c.readAs(n, a, s.Typical(node))
		}
		for l, w := range labels {
			mix[l] += w
		}
	}
	return prediction{labels: normal(mix)}
}

// unknown adds the ways in which something stands that nobody asked about: a knob, a light, a switch.
func unknown(ways [][]float64, k int, x *wiring.Control) (out [][]float64) {
	var values []float64
	switch {
	case x.Kind == wiring.Level && len(x.Planned) > 0:
		values = []float64{x.Planned[0], ways[0][k], x.Planned[len(x.Planned)-1]}
	case x.Kind == wiring.Contact && !goesBack(x):
		values = []float64{wiring.Open, wiring.Closed}
	default:
		return ways
	}
	if len(ways)*len(values) > mostUnknown {
		return ways
	}
	for _, way := range ways {
		for _, v := range values {
			other := slices.Clone(way)
			other[k] = v
			out = append(out, other)
		}
	}
	return out
}

// afloat is what is read at a pin that nothing holds: whatever comes.
func (c *Case) afloat(a *Ask) map[string]float64 {
	if a.pin.Analog {
		out := map[string]float64{}
		for _, s := range shares {
			out[s.name] = 1 / float64(len(shares))
		}
		return out
	}
	return map[string]float64{readsLow: 0.35, readsHigh: 0.35, jumps: 0.3}
}

// readAs is what a voltage at a pin is read as: by the input's thresholds, or by the converter.
func (c *Case) readAs(n *wiring.Network, a *Ask, v float64) map[string]float64 {
	const slip = 0.02
	logic := &c.net.Board.Logic
	if a.pin.Analog {
		full := n.RailVolts(logic.Analog.Reference).Typ
		if full <= 0 {
			return c.afloat(a)
		}
		// What is near the end of a kind may be read as the next.
		out := map[string]float64{}
		for _, off := range []float64{-0.02, 0, 0.02} {
			out[ShareName(math.Max(0, math.Min(1, v/full+off)))]++
		}
		return normal(out)
	}
	rail := n.RailVolts(logic.Rail).Typ
	low, high := logic.VIL.At(rail), logic.VIH.At(rail)
	up := bell((v - (low+high)/2) / math.Max((high-low)/4, 0.05))
	return map[string]float64{readsHigh: up * (1 - slip), readsLow: (1 - up) * (1 - slip), jumps: slip}
}

// readPin understands what a board answered.
func (c *Case) readPin(a *Ask, text string) (label string, err error) {
	may := []string{readsLow, readsHigh, jumps}
	if a.pin.Analog {
		may = nil
		for _, s := range shares {
			may = append(may, s.name)
		}
	}
	if !slices.Contains(may, text) {
		return "", fmt.Errorf("%q is nothing that a board reads there; it is %s", text, strings.Join(may, ", "))
	}
	return text, nil
}

// pinWords says what the board read.
func (c *Case) pinWords(a *Ask, label string) string {
	what := map[board.Pull]string{"": "not pulled", board.PullUp: "pulled up", board.PullDown: "pulled down"}[a.pin.Pull]
	does := map[string]string{readsLow: "reads low", readsHigh: "reads high", jumps: "jumps"}[label]
	if a.pin.Analog {
		what, does = "by the converter", "is "+label
	}
	with := ""
	if p := c.doc.Part(a.pin.Of); p != nil {
		with = ", while " + p.Name + " is " + a.pin.Setting
	}
	return fmt.Sprintf("%s, %s, %s%s", a.pin.Pin, what, does, with)
}
