package bench

import (
	"slices"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/rig"
)

// A HandKind says how a hand moves something.
type HandKind string

// The kinds.
const (
	Presses  HandKind = "press"  // it goes back by itself
	Switches HandKind = "switch" // it stays
	Levels   HandKind = "level"
	PadOf    HandKind = "keys"
	Spins    HandKind = "spin"
	Powers   HandKind = "board" // it is reset, unplugged and plugged in
)

// A Hand is something of a build that a hand, or the world, moves.
type Hand struct {
	Kind    HandKind  `json:"kind"`
	Of      string    `json:"of"`
	Name    string    `json:"name"`
	Off     string    `json:"off,omitempty"` // of a contact: what it is called open
	On      string    `json:"on,omitempty"`  // and closed
	Least   float64   `json:"least"`
	Most    float64   `json:"most"`
	Rest    float64   `json:"rest"`              // where it begins
	Unit    string    `json:"unit,omitempty"`    // of a level
	Log     bool      `json:"log,omitempty"`     // its range is one of ratios
	Step    float64   `json:"step,omitempty"`    // it rests only at every so much; 0: anywhere
	Keys    []string  `json:"keys,omitempty"`    // row by row
	Legends string    `json:"legends,omitempty"` // what is usually printed on them, in the same order
	Names   []string  `json:"names,omitempty"`
	At      []float64 `json:"at,omitempty"` // the levels that the names stand for
}

// Hands lists what hands move, in the order of the parts.
func Hands(net *wiring.Network) []Hand {
	out := []Hand{}
	for i := range net.Controls {
		c := &net.Controls[i]
		p := net.Whose(c)
		h := Hand{Of: c.Of, Name: c.Name, Rest: rig.Rest(c)}
		switch c.Kind {
		case wiring.Contact:
			h.Kind, h.Most, h.Off, h.On = Switches, 1, c.Settings[wiring.Open], c.Settings[wiring.Closed]
			if h.On == "pressed" {
				h.Kind = Presses
			}
			if rig.ValueOf(net, p, "closures") > 0 {
				h.Kind, h.Rest, h.Most, h.Unit = Spins, 0, 2*rig.ValueOf(net, p, "rate"), "Hz"
			}
		case wiring.Level:
			h.Kind, h.Least, h.Most, h.Unit = Levels, c.Least, c.Most, c.Unit
			h.Log = c.Unit == "lx" && c.Least > 0
			if c.Unit == part.Clicks {
				// What lies between two clicks is passed, and nothing rests there.
				h.Step = 1
				break
			}
			for _, v := range c.Planned {
				if k := slices.Index(c.Levels, v); k >= 0 {
					h.Names, h.At = append(h.Names, c.Settings[k]), append(h.At, v)
				}
			}
		case wiring.Keys:
			kind, _ := net.Library.Catalogue.Kind(p.Kind)
			h.Kind, h.Keys, h.Legends = PadOf, c.Keys, kind.Legends
		default:
			continue
		}
		out = append(out, h)
	}
	place := func(h Hand) int {
		for i := range net.Doc.Parts {
			if id, _ := build.Terminal(h.Of).Split(); net.Doc.Parts[i].ID == id {
				return i
			}
		}
		return -1
	}
	slices.SortStableFunc(out, func(a, b Hand) int { return place(a) - place(b) })
	return out
}

// SupplyHands lists what hands do to what feeds a build: the board's plug and reset, and the charge
// of cells.
func SupplyHands(net *wiring.Network) []Hand {
	out := []Hand{{Kind: Powers, Of: Board, Name: "Board"}}
	if net.Doc.Cells != nil {
		out = append(out, Hand{Kind: Levels, Of: Cells, Name: "Charge of the cells", Most: 100, Rest: rig.Half, Unit: "%"})
	}
	return out
}
