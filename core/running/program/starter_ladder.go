package program

import (
	"cmp"
	"fmt"
	"slices"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/rig"
)

// A ladder is a pad whose keys one analog pin tells apart, by what it reads.
type ladder struct {
	pin  string
	keys []rung
}

// A rung is what a pin reads below while a key is down, or while none is, as a share of the full
// scale; the last one reaches to its end.
type rung struct {
	key   string // as it is printed on it; empty: none is down
	below float64
}

// addLadder takes in a pad that one analog pin reads: the circuit says what it reads with each key.
func (o *outline) addLadder(net *wiring.Network, p *build.Part, s build.Signal) {
	control := net.HandOf(p.ID, s.Name)
	if control < 0 {
		return
	}
	kind, _ := net.Library.Catalogue.Kind(p.Kind)
	c := &net.Controls[control]
	type reading struct {
		key string
		at  float64
	}
	var all []reading
	for k := -1; k < len(c.Keys); k++ {
		r := rig.New(net)
		key := ""
		if k >= 0 {
			r.Turn(control, float64(uint64(1)<<k))
			if key = fmt.Sprint(k + 1); k < len(kind.Legends) {
				key = kind.Legends[k : k+1]
			}
		}
		all = append(all, reading{key, r.Reading(net.Board.Number(s.Pin), 0)})
	}
	slices.SortFunc(all, func(a, b reading) int { return cmp.Compare(a.at, b.at) })
	l := &ladder{pin: s.Pin}
	for i, x := range all {
		below := 1.0
		if i+1 < len(all) {
			below = (x.at + all[i+1].at) / 2
		}
		l.keys = append(l.keys, rung{x.key, below})
	}
	o.pads = append(o.pads, pad{part: p, words: p.Name, ladder: l})
}

// cpp writes the function that tells which key is down.
func (l *ladder) cpp(t *text, i, full int) {
	t.say("\n// The key that is down; 0: none. Each gives another reading.\nchar scan%d() {\n  int reading = analogRead(ladder%d);", i, i)
	t.in(func() {
		for k, x := range l.keys {
			key := "0"
			if x.key != "" {
				key = "'" + x.key + "'"
			}
			if k+1 < len(l.keys) {
				t.say("if (reading < %d) return %s;", int(x.below*float64(full)), key)
			} else {
				t.say("return %s;", key)
			}
		}
	})
	t.say("}")
}

// python writes the same in Python.
func (l *ladder) python(t *text, d *dialect, i int) {
	t.say("\n\ndef scan%d():\n    \"\"\"The key that is down, or nothing: each gives another reading.\"\"\"\n    reading = %s", i, fmt.Sprintf(d.measure, fmt.Sprintf("ladder%d", i)))
	t.in(func() {
		for k, x := range l.keys {
			if k+1 < len(l.keys) {
				t.say("if reading < %d:\n    return %q", int(x.below*65535), x.key)
			} else {
				t.say("return %q", x.key)
			}
		}
	})
}
