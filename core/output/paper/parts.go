package paper

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
)

// mostValues is how many values are told of a part: those that come first say most.
const mostValues = 2

// partTall is what a part with its diagram takes, in millimetres, for the most part.
const partTall = 28.0

// parts draws each part with its hookup as a row of boxes on a wire; parts that are alike but for
// their pins are drawn once.
func (p *page) parts(a *check.Analysis) {
	p.section("Parts and how they are wired")
	for _, like := range p.alike() {
		q := &p.doc.Parts[like[0]]
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		p.room(partTall)
		p.SetFont(font, "B", 11)
		var names []string
		for _, i := range like {
			names = append(names, p.doc.Parts[i].Name)
		}
		p.MultiCell(0, 5.2, p.text(strings.Join(names, ", ")), "", "L", false)
		p.SetFont(font, "", 10)
		h, ok := kind.Hookup(q.Hookup)
		if ok {
			p.diagram(q, kind, h, len(like) > 1)
		} else {
			p.wires(q)
		}
		for _, i := range like {
			if len(like) > 1 {
				p.where(&p.doc.Parts[i], h)
			}
		}
		if values := p.values(a, like); values != "" {
			p.line(values)
		}
		p.Ln(1.5)
	}
}

// alike puts parts together that are wired in the same way, with values that read the same.
func (p *page) alike() (out [][]int) {
	var keys []string
	for i := range p.doc.Parts {
		q := &p.doc.Parts[i]
		if q.Of != "" {
			continue
		}
		key := fmt.Sprint(q.Kind, q.Type, q.Hookup)
		for _, h := range p.doc.Helpers(q.ID) {
			key += fmt.Sprint(" ", h.Role, p.valueOf(h))
		}
		for _, s := range q.Signals {
			key += fmt.Sprint(" ", s.Name, s.Pull)
		}
		if k := slices.Index(keys, key); k >= 0 && q.Hookup != "" {
			out[k] = append(out[k], i)
			continue
		}
		keys, out = append(keys, key), append(out, []int{i})
	}
	return out
}

// where says which pins, or which leg of another part, one of several parts that are alike is at.
func (p *page) where(q *build.Part, h part.Hookup) {
	var at []string
	for _, s := range q.Signals {
		words := s.Pin
		if len(q.Signals) > 1 {
			words = s.Name + " " + words
		}
		at = append(at, words)
	}
	if leg := p.host(q, h); leg != "" {
		at = append(at, leg)
	}
	if len(at) > 0 {
		p.line(q.Name + ": " + strings.Join(at, ", "))
	}
}

// host is the leg of another part that a part hangs on, in words.
func (p *page) host(q *build.Part, h part.Hookup) string {
	if !slices.Contains(h.Row, "host") {
		return ""
	}
	own := []string{q.ID}
	for _, x := range p.doc.Helpers(q.ID) {
		own = append(own, x.ID)
	}
	for _, net := range p.doc.Nets {
		if !slices.ContainsFunc(net, func(t build.Terminal) bool { id, _ := t.Split(); return slices.Contains(own, id) }) {
			continue
		}
		for _, t := range net {
			id, leg := t.Split()
			x := p.doc.Part(id)
			if x == nil || slices.Contains(own, id) {
				continue
			}
			switch {
			case !slices.Contains(h.Host.Kinds, x.Kind) || !slices.Contains(h.Host.Legs, leg):
			case x.Of != "":
				return x.Name
			default:
				return leg + " of " + x.Name
			}
		}
	}
	return ""
}

// values says the first values of parts that are alike: of the one that has least, and of the one
// that has most.
func (p *page) values(a *check.Analysis, like []int) string {
	all := a.Parts[like[0]].Quantities
	var out []string
	for k, x := range all[:min(len(all), mostValues)] {
		least, most := x, x
		for _, i := range like[1:] {
			if list := a.Parts[i].Quantities; k < len(list) && list[k].Name == x.Name {
				if list[k].Typ < least.Typ {
					least = list[k]
				}
				if list[k].Typ > most.Typ {
					most = list[k]
				}
			}
		}
		words := x.Name + " " + least.Text
		if most.Text != least.Text {
			words += " to " + most.Text
		}
		out = append(out, words)
	}
	return strings.Join(out, "; ")
}

// diagram draws the row of a hookup: ends as text, what lies between as symbols. Of many parts it
// does not say which pins.
func (p *page) diagram(q *build.Part, kind *part.Kind, h part.Hookup, many bool) {
	const tall, gap, drop = 8.0, 3.0, 5.0
	width, _ := p.GetPageSize()
	left, _, right, _ := p.GetMargins()
	room := width - left - right
	wide := min(27, (room-gap*float64(len(h.Row)-1))/float64(len(h.Row)))
	x, y := left, p.GetY()+3.5
	begin := x
	for i, name := range h.Row {
		label, box := p.named(q, h, name, many)
		p.SetXY(x, y)
		label = p.fitted(label, wide+gap/2)
		if box {
			p.glyph(q, kind, name, x, y, wide, tall)
		} else {
			p.CellFormat(wide, tall, p.text(label), "", 0, "C", false, 0, "")
		}
		if box && name != "self" { // whose name stands above
			p.SetXY(x, y-3.9)
			p.CellFormat(wide, 3, p.text(label), "", 0, "C", false, 0, "")
		}
		if i < len(h.Row)-1 {
			p.Line(x+wide, y+tall/2, x+wide+gap, y+tall/2)
		}
		x += wide + gap
	}
	p.SetFont(font, "", 10)
	if at, ok := h.TapAt(); ok {
		// Between two places, or at the middle of one.
		k, half := math.Modf(at)
		x, top := begin+k*(wide+gap)-gap/2, y+tall/2
		if half > 0 {
			x, top = begin+k*(wide+gap)+wide/2, y+tall // the symbol has a leg of its own there
		}
		label, _ := p.named(q, h, h.Tap, many)
		p.Line(x, top, x, y+tall+1)
		p.SetXY(x-wide/2, y+tall+1)
		p.CellFormat(wide, drop-1, p.text(label), "", 0, "C", false, 0, "")
		y += drop
	}
	p.SetXY(left, y+tall+1)
	var more []string
	for _, s := range q.Signals {
		if many {
			break // each is told with its part
		}
		drawn := h.Tap == "pin."+s.Name || slices.Contains(h.Row, "pin."+s.Name)
		switch {
		case s.Pull != "":
			more = append(more, s.Name+" on "+s.Pin+" with the internal pull-"+string(s.Pull))
		case !drawn:
			more = append(more, s.Name+" on "+s.Pin)
		}
	}
	for _, helper := range p.doc.Helpers(q.ID) {
		if !slices.Contains(h.Row, helper.Role) {
			more = append(more, helper.Role+" "+p.valueOf(helper))
		}
	}
	if len(more) > 0 {
		p.line(strings.Join(more, "; "))
	}
}

// fitted sets a font in which a label is so wide at most, and cuts the label where none is small
// enough to read.
func (p *page) fitted(label string, wide float64) string {
	for size := 10.0; size >= 6.5; size -= 0.5 {
		if p.SetFont(font, "", size); p.GetStringWidth(p.text(label)) < wide-1 {
			return label
		}
	}
	letters := []rune(label)
	for len(letters) > 1 && p.GetStringWidth(p.text(string(letters)+"…")) >= wide-1 {
		letters = letters[:len(letters)-1]
	}
	return string(letters) + "…"
}

// named says what stands at a place of a row, and whether it is a part.
func (p *page) named(q *build.Part, h part.Hookup, name string, many bool) (label string, box bool) {
	b, _ := p.lib.Board(p.doc.Board)
	switch name {
	case "self":
		return q.Name, true
	case "board.ground":
		return b.Ground, false
	case "board.supply":
		return b.Logic.Rail, false
	case "board.power":
		return b.Power, false
	case "host":
		if leg := p.host(q, h); leg != "" && !many {
			return leg, false
		}
		return "its leg", false
	}
	if signal, ok := strings.CutPrefix(name, "pin."); ok {
		for _, s := range q.Signals {
			if s.Name == signal && many {
				return "its pin", false
			}
			if s.Name == signal {
				return "pin " + s.Pin, false
			}
		}
	}
	for _, h := range p.doc.Helpers(q.ID) {
		if h.Role == name {
			return p.valueOf(h), true
		}
	}
	return name, true
}

func (p *page) valueOf(q *build.Part) string {
	kind, _ := p.lib.Catalogue.Kind(q.Kind)
	if s := build.FirstValue(kind, q); s != "" {
		return s
	}
	return kind.Name
}

// wires lists what a part that was wired by hand is joined to.
func (p *page) wires(q *build.Part) {
	kind, _ := p.lib.Catalogue.Kind(q.Kind)
	for _, t := range kind.Terminals {
		net := p.doc.NetOf(build.Of(q.ID, t.ID))
		if net < 0 {
			continue
		}
		var others []string
		for _, u := range p.doc.Nets[net] {
			if u != build.Of(q.ID, t.ID) {
				others = append(others, strings.TrimPrefix(string(u), "board."))
			}
		}
		p.line(t.Name + " to " + strings.Join(others, ", "))
	}
}
