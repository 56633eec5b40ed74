package should

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/running/bench"
)

// A printed is what a program prints: a text, or a number, or what a sensor measures, or else
// any line.
type printed struct {
	text   string
	number float64
	amount bool        // it is the number
	off    float64     // by how much a number may be off, as a part of it
	of     *bench.Hand // its level is printed
	hertz  float64     // of lines, how many a second; 0: any
}

// words say what is printed.
func (x *printed) words() string {
	switch {
	case x.text != "":
		return strconv.Quote(x.text)
	case x.amount:
		return fmt.Sprintf("%g", x.number)
	case x.of != nil:
		return "what " + x.of.Name + " measures"
	}
	return "a line"
}

// how is how often, and how nearly.
func (x *printed) how() string {
	out := ""
	if (x.amount || x.of != nil) && x.off != usuallyOff {
		out = fmt.Sprintf(" within %g %%", math.Round(x.off*1e5)/1e3)
	}
	if x.hertz > 0 {
		out += fmt.Sprintf(" at %g Hz", math.Round(x.hertz*1e4)/1e4)
	}
	return out
}

// usuallyOff is by how much a number that is printed may be off when nothing is said: a converter
// of ten bits and two edges of a second's count make no more (common practice).
const usuallyOff = 0.03

// prints reads "prints "open"", ""open" is printed", "prints a line each second".
func (p *parser) prints(list []token) (draft, bool) {
	for len(list) > 1 && (list[0].text == "it" || list[0].text == "program" || list[0].text == "board" || list[0].stem == "be") {
		list = list[1:]
	}
	said := func(t token) bool {
		return t.kind == plainWord && (t.stem == "print" || t.stem == "say" || t.stem == "write" || t.stem == "send" || t.stem == "report" || t.stem == "output" || t.stem == "tell")
	}
	if n := len(list); n > 3 && list[n-1].kind == number && list[n-1].unit == "hz" && list[n-2].text == "at" {
		d, ok := p.prints(list[:n-2])
		if ok = ok && d.text.text == "" && !d.text.amount && d.press == nil; ok {
			d.text.hertz = list[n-1].number
		}
		return d, ok
	}
	if len(list) > 0 && said(list[0]) {
		if x, ok := p.printed(list[1:]); ok {
			return draft{text: x}, true
		}
	}
	if n := len(list); n > 2 && list[n-2].stem == "be" && said(list[n-1]) {
		if x, ok := p.printed(list[:n-2]); ok {
			return draft{text: x}, true
		}
	}
	for _, s := range p.subject(list) {
		if rest := list[s.end:]; len(rest) > 0 && said(rest[0]) {
			if x, ok := p.printed(rest[1:]); ok {
				return draft{press: s.press, conds: s.conds, text: x}, true
			}
		}
	}
	return draft{}, false
}

// printed reads what is printed, to the end.
func (p *parser) printed(list []token) (*printed, bool) {
	x := &printed{off: usuallyOff}
	for i, t := range list { // within 2 %
		if t.text == "within" && i+2 == len(list) && list[i+1].kind == number && list[i+1].unit == "%" && list[i+1].number > 0 && list[i+1].number < 100 {
			x.off, list = list[i+1].number/100, list[:i]
			break
		}
	}
	switch {
	case len(list) == 0:
		return x, true
	case len(list) == 1 && list[0].kind == quoted:
		x.text = list[0].text
		return x, x.text != ""
	case list[0].kind == number && list[0].unit != "hz":
		x.amount, x.number = true, list[0].number
		for _, t := range list[1:] { // its unit
			if t.kind != plainWord || p.r.parts[t.stem] {
				return nil, false
			}
		}
		return x, true
	case len(list) == 1 && slices.Contains([]string{"something", "anything", "line", "text", "message", "lines", "messages", "number", "value", "reading", "values", "numbers", "readings"}, list[0].text):
		return x, true
	}
	rest := list
	if len(rest) > 1 && slices.Contains([]string{"what", "value", "reading", "level"}, rest[0].text) {
		rest = rest[1:]
	}
	if len(rest) > 1 && rest[0].text == "of" {
		rest = rest[1:]
	}
	if n := len(rest); n > 1 && (rest[n-1].stem == "measur" || rest[n-1].stem == "read" || rest[n-1].stem == "be" || rest[n-1].stem == "show") {
		rest = rest[:n-1]
	}
	for _, m := range p.r.mentions(rest, 0, isHand) {
		if m.end != len(rest) || len(m.items) != 1 || m.items[0].hand.Kind != bench.Levels && m.items[0].hand.Kind != bench.Spins {
			continue
		}
		if m.items[0].hand.Unit == turns {
			p.wrong("%s has no unit in which a number could be compared; say \"prints a number\"", m.items[0].hand.Name)
			return nil, false
		}
		x.of = m.items[0].hand
		return x, true
	}
	return nil, false
}

// A line is one that was printed, and when it was whole.
type line struct {
	at   float64
	text string
}

func printedLines(rec *bench.Recording) (out []line) {
	var text strings.Builder
	for _, said := range rec.Serial {
		for _, c := range said.Text {
			if c != '\n' {
				text.WriteRune(c)
				continue
			}
			out = append(out, line{said.At, strings.TrimSpace(text.String())})
			text.Reset()
		}
	}
	return out
}

var figures = regexp.MustCompile(`-?\d+(?:\.\d+)?`)

// has reports whether a number between two, ends included, is in the line.
func (l line) has(low, high float64) bool {
	return slices.ContainsFunc(figures.FindAllString(l.text, -1), func(f string) bool {
		v, err := strconv.ParseFloat(f, 64)
		return err == nil && v >= low && v <= high
	})
}

// came says that after something that was done nothing of it was printed.
func (x *printed) came(rec *bench.Recording, from, to float64) bool {
	if x.text != "" {
		return prints(rec, x.text, from, to)
	}
	return slices.ContainsFunc(printedLines(rec), func(l line) bool {
		return l.at > from && l.at <= to && (!x.amount || l.has(x.number-x.slack(), x.number+x.slack()))
	})
}

// slack is by how much a number may be off.
func (x *printed) slack() float64 { return math.Max(math.Abs(x.number)*x.off, 1e-9) }

// printing says where in a span what is to be printed was not.
func (s *Sentence) printing(rec *bench.Recording, x span) *breach {
	what := s.printed
	no := func(at float64, format string, args ...any) *breach {
		return &breach{at, fmt.Sprintf(format, args...), ""}
	}
	if what.text != "" {
		if from := x.from - s.within.Seconds(); !prints(rec, what.text, from, x.to) {
			return no(x.to, "from %.3g s to %.3g s %q was not printed", from, x.to, what.text)
		}
		return nil
	}
	lines := slices.DeleteFunc(printedLines(rec), func(l line) bool { return l.at < x.from || l.at > x.to })
	slow := 2.5 // s in which a line comes when nothing is said
	if what.hertz > 0 {
		slow = 2.6 / what.hertz
	}
	if len(lines) == 0 && x.to-x.from > slow {
		return no(x.to, "from %.3g s to %.3g s nothing was printed", x.from, x.to)
	}
	if what.hertz > 0 {
		at := x.from
		for _, l := range append(lines, line{at: x.to}) {
			if l.at-at > slow {
				return no(l.at, "from %.3g s to %.3g s nothing was printed", at, l.at)
			}
			at = l.at
		}
		if n := len(lines); n > 2 {
			if hertz := float64(n-1) / (lines[n-1].at - lines[0].at); math.Abs(hertz/what.hertz-1) > 0.15 {
				return no(lines[n-1].at, "%.3g lines a second are printed", hertz)
			}
		}
	}
	switch {
	case what.amount:
		const stale = 2 // lines that may tell of the time before
		for i, l := range lines {
			if i >= stale && !l.has(what.number-what.slack(), what.number+what.slack()) {
				return no(l.at, "at %.3g s %q was printed", l.at, l.text)
			}
		}
	case what.of != nil:
		c := cond{hand: *what.of}
		for _, l := range lines {
			low, high := math.Inf(1), math.Inf(-1)
			for _, t := range append(actedBetween(rec, l.at-2*s.within.Seconds(), l.at), l.at-2*s.within.Seconds(), l.at) {
				v := c.level(rec, math.Max(t, 0))
				low, high = math.Min(low, v), math.Max(high, v)
			}
			slack := math.Max(math.Abs(high), (what.of.Most-what.of.Least)/10) * what.off
			if what.of.Log {
				slack = high * what.off
			}
			if !l.has(low-slack, high+slack) {
				return no(l.at, "at %.3g s %q was printed, and %s was at %.4g %s", l.at, l.text, what.of.Name, c.level(rec, l.at), what.of.Unit)
			}
		}
	}
	return nil
}

// actedBetween are the times in a span at which a hand did something.
func actedBetween(rec *bench.Recording, from, to float64) (out []float64) {
	for _, a := range rec.Actions {
		if a.At > from && a.At <= to {
			out = append(out, a.At)
		}
	}
	return out
}
