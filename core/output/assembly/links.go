package assembly

import (
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
)

// A Link is one connection of a build without a breadboard: a wire from one
// place to the next, or two legs that are soldered to each other.
type Link struct {
	From        string `json:"from"`
	To          string `json:"to"`
	Millimetres int    `json:"millimetres"` // of wire; 0: leg to leg
	Sleeve      int    `json:"sleeve"`      // mm of sleeve over the joints together
	Net         int    `json:"net"`         // counted from 1: links of one net belong together
}

// Lengths of a build that is soldered (common practice): a wire leaves room to
// reach the next part, a sleeve covers a joint and a bit of both sides, and a
// longer one the two legs that are joined to each other.
const (
	usualWire = 100
	oneSleeve = 15
	legSleeve = 25
)

// Links joins the terminals of each net one after another, the board first.
func Links(lib *build.Library, doc *build.Document) []Link {
	out := []Link{}
	wire := usualWire
	if doc.Assembly != nil && doc.Assembly.Reach > 0 {
		wire = doc.Assembly.Reach
	}
	for n, net := range doc.Nets {
		net = slices.Clone(net)
		slices.SortStableFunc(net, func(a, b build.Terminal) int { return rank(a) - rank(b) })
		legs := slices.DeleteFunc(slices.Clone(net), build.Terminal.OnBoard)
		for i := 1; i < len(net); i++ {
			from, to := net[i-1], net[i]
			l := Link{From: name(lib, doc, from), To: name(lib, doc, to), Millimetres: wire, Net: n + 1}
			for _, t := range []build.Terminal{from, to} {
				if !t.OnBoard() {
					l.Sleeve += oneSleeve
				}
			}
			if len(net) == 2 && len(legs) == 2 {
				l.Millimetres, l.Sleeve = 0, legSleeve
			}
			out = append(out, l)
		}
	}
	return out
}

func rank(t build.Terminal) int {
	if t.OnBoard() {
		return 0
	}
	return 1
}

// name names a terminal: "D4", "sign lamp, long leg".
func name(lib *build.Library, doc *build.Document, t build.Terminal) string {
	id, leg := t.Split()
	q := doc.Part(id)
	if q == nil {
		return leg
	}
	k, _ := lib.Catalogue.Kind(q.Kind)
	return q.Name + ", " + placement.LegName(k, leg)
}
