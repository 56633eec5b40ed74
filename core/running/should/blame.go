package should

import (
	"fmt"
	"math"
	"slices"

	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
)

// blame says which line of the program last did something where a sentence broke, and whether
// it is the wiring: the pins are as the lamp needs them, and it does not do what it should.
func (t *trial) blame(s *Sentence, rec *bench.Recording, b *breach) (line int, words string) {
	element := t.elementOf(s, b.of)
	if element < 0 {
		return 0, ""
	}
	p := t.net.PieceWith(element)
	if p == nil {
		return 0, ""
	}
	pins := map[string]string{} // what each pin of the piece is
	for _, i := range p.Controls {
		c := &t.net.Controls[i]
		if c.Kind != wiring.Mode {
			continue
		}
		k := slices.IndexFunc(rec.Rows, func(r bench.Row) bool { return r.Kind == bench.PinRow && r.Of == c.Of })
		if k < 0 {
			continue
		}
		at := -1.0
		for _, x := range rec.Rows[k].Changes {
			if x.At > b.at {
				break
			}
			if pins[c.Of] = x.Text; x.Line > 0 && x.At >= at {
				line, at = x.Line, x.At
			}
		}
	}
	if s.form != holds && s.form != each || s.claim != lit && s.claim != full {
		return line, ""
	}
	list, err := p.Planned(wiring.Current(element))
	if err != nil || len(list) == 0 {
		return line, ""
	}
	most := list[0]
	for _, x := range list {
		if math.Abs(x.TypicalAmps(element)) > math.Abs(most.TypicalAmps(element)) {
			most = x
		}
	}
	for of, to := range most.Address() {
		i := slices.IndexFunc(t.net.Controls, func(c wiring.Control) bool { return c.Of == of })
		if t.net.Controls[i].Kind == wiring.Output || t.net.Controls[i].Kind == wiring.Mode && pins[of] != to {
			return line, ""
		}
	}
	return line, fmt.Sprintf("The program has the pins as %s needs them: look at the wiring.", s.things[0].name)
}

// elementOf is the element of the thing that a sentence is about, at a part.
func (t *trial) elementOf(s *Sentence, of string) int {
	for _, x := range s.things {
		if x.of != of {
			continue
		}
		for _, l := range t.net.Lamps {
			if l.Part.ID == x.of && l.Name == x.name {
				return l.Element
			}
		}
		return t.net.Find(wiring.Body, x.of, "")
	}
	return -1
}
