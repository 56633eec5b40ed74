package assembly

import (
	"fmt"
	"strings"
	"unicode"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/layout/placement"
	"cablaggio/core/values/preferred"
)

// seat puts in one part.
func (s *steps) seat(group string, q *build.Part) {
	k, pack := s.kind(q), s.pack(q)
	seat := s.p.Seat(q.ID)
	at := make([]string, len(seat.Legs))
	for i, l := range seat.Legs {
		at[i] = l.Hole.String()
	}
	x := Step{ID: seat.Step(), Group: group, Parts: []string{q.ID}, Ends: at}
	switch {
	case k.Body.Alike && len(k.Links) > 0:
		x.Do = fmt.Sprintf("%s across the channel: legs in %s.", s.title(q, k), list(at))
		x.Watch = append(x.Watch, fmt.Sprintf("The legs in %s and %s are joined inside, and so are those in %s and %s. If it does not sit flat, turn it by ninety degrees.", s.hole(seat, k.Links[0][0]), s.hole(seat, k.Links[0][1]), s.hole(seat, k.Links[1][0]), s.hole(seat, k.Links[1][1])))
	case k.Shows == part.Digits:
		n := len(at) / 2
		x.Do = fmt.Sprintf("%s across the channel, rows %d to %d: its lower edge with the point in column %s, its first leg in %s; its upper edge in %s to %s.", s.title(q, k), seat.Legs[0].Hole.Row, seat.Legs[n-1].Hole.Row, seat.Legs[0].Hole.Column, at[0], at[len(at)-1], at[n])
		x.Watch = append(x.Watch, fmt.Sprintf("The point lies by %s. The figure lies on its side; the wrong way round its bars make no figures.", at[n-1]))
	case pack.Notch:
		x.Do = fmt.Sprintf("%s across the channel, rows %d to %d: its mark at the top, its first leg in %s.", s.title(q, k), seat.Legs[0].Hole.Row, seat.Legs[len(at)/2-1].Hole.Row, at[0])
		x.Watch = append(x.Watch, "The notch or dot marks the end with the first leg. The wrong way round it gets hot.", "Bend the two rows of legs a little together first, and press evenly.")
	case k.Body.Alike && len(at) == 2:
		x.Do = fmt.Sprintf("%s%s: one leg into %s, the other into %s, either way round.", s.title(q, k), s.value(q, k), at[0], at[1])
	default:
		var legs []string
		for i, l := range seat.Legs {
			legs = append(legs, fmt.Sprintf("%s into %s", placement.LegName(k, l.Leg), at[i]))
		}
		x.Do = fmt.Sprintf("%s%s: %s.", s.title(q, k), s.value(q, k), strings.Join(legs, ", "))
		x.Watch = append(x.Watch, s.polarity(q, k, pack)...)
	}
	if k.Is(part.Resistor) {
		x.Bands = preferred.BandNames(wiring.ValueOf(k, q, "resistance").Typ, wiring.ValueOf(k, q, "tolerance").Typ/100)
	}
	s.add(x)
}

func (s *steps) hole(seat placement.Seat, leg string) breadboard.Hole {
	h, _ := seat.Hole(leg)
	return h
}

// polarity says how the legs are told apart.
func (s *steps) polarity(q *build.Part, k *part.Kind, pack *placement.Package) []string {
	switch {
	case k.ID == "led":
		return []string{"The long leg is the anode. The case is flat at the short one."}
	case k.Is(part.Diode):
		return []string{"The ring is at the cathode."}
	case pack.Loose, k.Is(part.Track), k.Is(part.Keys):
		return nil
	case k.ID == "electrolytic":
		return []string{"The long leg is plus. The stripe is at the minus."}
	case len(k.Terminals) > 2:
		return []string{"Which leg is which differs from maker to maker: look into the data sheet of yours."}
	}
	return []string{"Look at the mark on the case for which leg is which."}
}

// title names a part, and says what it is where its name does not.
func (s *steps) title(q *build.Part, k *part.Kind) string {
	if strings.Contains(strings.ToLower(q.Name), strings.ToLower(k.Name)) {
		return build.Capital(q.Name)
	}
	return build.Capital(q.Name) + " (" + lower(k.Name) + ")"
}

// lower begins a name small, but for an abbreviation.
func lower(name string) string {
	if !unicode.IsLower(rune(name[1])) {
		return name
	}
	return strings.ToLower(name[:1]) + name[1:]
}

// value writes what a builder looks for in the drawer: what is printed on it.
func (s *steps) value(q *build.Part, k *part.Kind) string {
	printed := k.Family == "passives" || k.Is(part.Track) || k.Is(part.Resistance) && k.Inside[0].Law == part.ByB
	if v := build.FirstValue(k, q); v != "" && printed {
		return ", " + v
	}
	if t, ok := k.Type(q.Type); ok && !strings.Contains(strings.ToLower(q.Name), strings.ToLower(t.Name)) {
		return ", " + t.Name
	}
	return ""
}

// wire puts in one wire.
func (s *steps) wire(group string, i int, why string) {
	w := s.p.Wires[i]
	s.done[i] = true
	x := Step{
		ID: w.Step(), Group: group,
		Do:    fmt.Sprintf("%s wire, %d mm, from %s to %s%s.", build.Capital(w.Colour), w.Millimetres, s.place(w.From), s.place(w.To), s.round(w)),
		Wires: []int{i}, Ends: []string{w.From.String(), w.To.String()},
	}
	if why != "" {
		x.Watch = []string{why}
	}
	if w.TooLong {
		x.Watch = append(x.Watch, "It is longer than any wire that you have: move the board nearer, or join two.")
	}
	s.add(x)
}

// round says what a wire goes round.
func (s *steps) round(w placement.Jumper) string {
	var names []string
	for _, id := range w.Round {
		names = append(names, s.doc.Part(id).Name)
	}
	if len(names) == 0 {
		return ""
	}
	return ", laid round " + list(names)
}

// place names an end: pins of the board by their names, rails by theirs too.
func (s *steps) place(e breadboard.End) string {
	if pin, ok := s.onBoard(e); ok {
		if e.OnBoard() {
			return e.Words()
		}
		return fmt.Sprintf("%s, beside pin %s", e, pin)
	}
	if s.isRail(e) {
		for _, r := range s.table.RailStrips() {
			if r.Strip == s.table.StripOf(e.Hole) {
				return fmt.Sprintf("%s in the %s", e, r.Name())
			}
		}
	}
	return e.String()
}
