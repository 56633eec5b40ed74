package check

import (
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// keypadSays says what a keypad without a diode at each key does when several keys are
// down: which key seems pressed beside those that are.
func (f *facts) keypadSays(p *build.Part) []string {
	control := slices.IndexFunc(f.net.Controls, func(c wiring.Control) bool { return c.Of == p.ID && c.Kind == wiring.Keys })
	if control < 0 {
		return nil
	}
	c := &f.net.Controls[control]
	for _, in := range f.digital() {
		if in.claim.Part.ID != p.ID || in.piece == nil {
			continue
		}
		for _, v := range f.planned(in.piece, wiring.Voltage(in.node)) {
			keys, ok := v.Piece.SettingOf(v.State, control)
			if !ok || strings.Count(c.Text(keys), "+") != 2 || f.reads(v, in.node) != ReadsLow {
				continue
			}
			for _, s := range p.Signals {
				if !f.isActive(v, s) {
					continue
				}
				ghost := keyAt(s.Name, in.claim.Signal.Name)
				if down := strings.Split(c.Text(keys), " + "); !slices.Contains(down, ghost) {
					return []string{fmt.Sprintf("With %s, %s and %s down together, %s seems down too: the current goes back through the three. A diode at each key would stop it; a program can ask for two keys at most.", down[0], down[1], down[2], ghost)}
				}
			}
		}
	}
	return nil
}

// isActive reports whether a signal's pin drives its active level in a visit.
func (f *facts) isActive(v visit, s build.Signal) bool {
	control := slices.IndexFunc(f.net.Controls, func(c wiring.Control) bool { return c.Kind == wiring.Mode && c.Of == s.Pin })
	if control < 0 {
		return false
	}
	mode, ok := v.Piece.SettingOf(v.State, control)
	active := float64(wiring.DrivenHigh)
	if s.Active == part.ActiveLow {
		active = wiring.DrivenLow
	}
	return ok && mode == active
}

// keyAt names the key between two lines: "r2" and "c3" give "row 2 column 3".
func keyAt(a, b string) string {
	if strings.HasPrefix(a, "c") {
		a, b = b, a
	}
	return "row " + strings.TrimPrefix(a, "r") + " column " + strings.TrimPrefix(b, "c")
}
