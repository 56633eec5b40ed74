package should

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"cablaggio/core/running/bench"
)

// holds reads "while B is pressed, X is lit".
func (r *Reader) holds(s *Sentence, t string) (*Sentence, error) {
	s.form = holds
	says := ""
	for _, begin := range []string{"while ", "when ", "as long as ", "whenever "} {
		if rest, ok := strings.CutPrefix(t, begin); ok {
			cond, claim, ok := strings.Cut(rest, ", ")
			if !ok {
				return nil, r.noThing(s)
			}
			var parts []string
			for one := range strings.SplitSeq(cond, " and ") {
				c, words, err := r.cond(s, one)
				if err != nil {
					return nil, err
				}
				s.conds, parts = append(s.conds, c), append(parts, words)
			}
			says, t = "while "+strings.Join(parts, " and ")+", ", claim
			break
		}
	}
	if m := aboveFirst.FindStringSubmatch(t); len(s.conds) == 0 && m != nil {
		c, words, err := r.level(s, nil, m[1])
		if err != nil {
			return nil, err
		}
		s.conds = append(s.conds, c)
		says, t = "while "+words+", ", m[2]
	}
	things, rest, ok := r.some(t)
	if !ok {
		return nil, r.noThing(s)
	}
	s.things = things
	x, name := things[0], things[0].name
	if len(things) > 1 {
		name = names(things)
	}
	if m := atHertz.FindStringSubmatch(rest); m != nil {
		s.hertz, _ = strconv.ParseFloat(strings.Replace(m[1], ",", ".", 1), 64)
		rest = strings.TrimSuffix(rest, m[0])
	}
	for _, c := range claims {
		if strings.TrimSpace(rest) == c.say && slices.Contains(c.of, x.kind) {
			s.claim = c.claim
			does := word(c.claim, x.kind)
			if len(things) > 1 {
				does = strings.Replace(strings.Replace(does, "is ", "are ", 1), "blinks", "blink", 1)
			}
			s.Says = says + name + " " + does
			if s.hertz > 0 && (c.claim == blinks || c.claim == sounds) {
				s.Says += fmt.Sprintf(" at %g Hz", s.hertz)
			}
			s.Says += r.soon(s)
			return s, nil
		}
	}
	return nil, &Error{s.Text, fmt.Sprintf("what does %s do? It %s", name, strings.Join(may(x.kind), ", or "))}
}

// aboveFirst is "above 30 °C alarm lamp is lit", with or without a comma.
var aboveFirst = regexp.MustCompile(`^((?:above|over|below|under) -?\d+(?:[.,]\d+)? ?(?:[^ ,\d][^ ,]*)?),? (.+)$`)

// noThing is the error of a sentence in which nothing acts.
func (r *Reader) noThing(s *Sentence) error {
	return &Error{s.Text, "it names nothing that lights, sounds or runs here; there is " + r.named()}
}

func (r *Reader) soon(s *Sentence) string {
	if s.within == usual {
		return ""
	}
	if s.within < time.Second {
		return fmt.Sprintf(", within %d ms", s.within.Milliseconds())
	}
	return fmt.Sprintf(", within %g s", s.within.Seconds())
}

// word is the first word for a claim.
func word(c claim, kind bench.RowKind) string {
	for _, x := range claims {
		if x.claim == c && slices.Contains(x.of, kind) {
			return x.say
		}
	}
	return ""
}

func may(kind bench.RowKind) (out []string) {
	seen := map[claim]bool{}
	for _, x := range claims {
		if slices.Contains(x.of, kind) && !seen[x.claim] {
			seen[x.claim] = true
			out = append(out, x.say)
		}
	}
	return out
}

// cond reads "button 1 is pressed", "dimmer is above 50 %", "wheel spins above 2 Hz".
func (r *Reader) cond(s *Sentence, t string) (c cond, words string, err error) {
	key, t := cutKey(t)
	h, rest, ok := r.handIn(t)
	if !ok {
		return c, "", &Error{s.Text, fmt.Sprintf("%q names nothing that a hand moves; there is %s", t, r.handNames())}
	}
	rest = strings.TrimSpace(rest)
	switch h.Kind {
	case bench.PadOf:
		if key == "" || rest != "is pressed" && rest != "is down" {
			return c, "", &Error{s.Text, fmt.Sprintf("which key? As in \"while key %s of %s is pressed, …\"", h.Keys[0], h.Name)}
		}
		if key, err = r.keyOf(s, h, key); err != nil {
			return c, "", err
		}
		return cond{hand: h, key: key, on: true}, "key " + key + " of " + h.Name + " is pressed", nil
	case bench.Presses, bench.Switches:
		for _, x := range []struct {
			is string
			on bool
		}{{h.On, true}, {h.Off, false}, {"held", true}, {"not " + h.On, false}, {"closed", true}, {"open", false}} {
			if rest == "is "+clean(x.is) {
				name := h.Off
				if x.on {
					name = h.On
				}
				return cond{hand: h, on: x.on}, h.Name + " is " + name, nil
			}
		}
		return c, "", &Error{s.Text, fmt.Sprintf("%s is %s or %s", h.Name, h.Off, h.On)}
	case bench.Spins:
		if rest == "spins" || rest == "turns" {
			return cond{hand: h, ranged: true, least: h.Most / 100}, h.Name + " spins", nil
		}
		if rest == "stands still" || rest == "is still" {
			return cond{hand: h, ranged: true, most: h.Most / 100}, h.Name + " stands still", nil
		}
		rest = strings.TrimPrefix(rest, "spins ")
	}
	return r.level(s, &h, strings.TrimPrefix(rest, "is "))
}

// level reads "above 30 °C"; without a hand it is that of the only sensor with the unit.
func (r *Reader) level(s *Sentence, h *bench.Hand, t string) (c cond, words string, err error) {
	m := limit.FindStringSubmatch(t)
	if m == nil {
		return c, "", &Error{s.Text, fmt.Sprintf("%q is no range; say above or below which number, as in \"above 30 °C\"", t)}
	}
	v, _ := strconv.ParseFloat(strings.Replace(m[2], ",", ".", 1), 64)
	unit := m[3]
	if h == nil {
		var of []bench.Hand
		for _, x := range r.hands {
			if (x.Kind == bench.Levels || x.Kind == bench.Spins) && strings.EqualFold(x.Unit, unit) {
				of = append(of, x)
			}
		}
		if len(of) != 1 {
			return c, "", &Error{s.Text, fmt.Sprintf("%d things here are measured in %q; name the one, as in \"while dusk sensor is below 20 lx, …\"", len(of), unit)}
		}
		h = &of[0]
	}
	shown := h.Unit
	if unit == "%" && h.Unit == turns {
		v, shown = v/100, "%"
	} else if unit != "" && !strings.EqualFold(unit, h.Unit) {
		return c, "", &Error{s.Text, fmt.Sprintf("%s is not in %s; it is in %s", h.Name, unit, or(strings.Replace(h.Unit, turns, "% of its way", 1), "no unit"))}
	}
	if v < h.Least || v > h.Most {
		return c, "", &Error{s.Text, fmt.Sprintf("%s goes from %g to %g %s", h.Name, h.Least, h.Most, h.Unit)}
	}
	c = cond{hand: *h, ranged: true}
	way := "below"
	if c.most = v; m[1] == "above" || m[1] == "over" {
		c.least, c.most, way = v, 0, "above"
	}
	if shown == "%" {
		v *= 100
	}
	return c, strings.TrimSpace(fmt.Sprintf("%s is %s %g %s", h.Name, way, math.Round(v*1e6)/1e6, shown)), nil
}

func or(a, b string) string {
	if a != "" {
		return a
	}
	return b
}

// each reads "each press of B changes X", "each press of key 5 of pad lights X".
func (r *Reader) each(s *Sentence, t string) (*Sentence, error) {
	s.form = each
	_, rest, _ := strings.Cut(t, " of ")
	if strings.HasPrefix(t, "each key ") {
		rest = strings.TrimPrefix(t, "each ")
	}
	key, rest := cutKey(rest)
	h, rest, ok := r.handIn(rest)
	if !ok || h.Kind != bench.Presses && h.Kind != bench.PadOf && h.Kind != bench.Switches {
		return nil, &Error{s.Text, "it names nothing that is pressed; there is " + r.handNames()}
	}
	s.hand = h
	of := h.Name
	if h.Kind == bench.PadOf {
		if key == "" {
			return nil, &Error{s.Text, fmt.Sprintf("which key? As in \"each press of key %s of %s …\"", h.Keys[0], h.Name)}
		}
		var err error
		if s.key, err = r.keyOf(s, h, key); err != nil {
			return nil, err
		}
		of = "key " + s.key + " of " + h.Name
	}
	rest = strings.TrimSpace(rest)
	for _, x := range []struct {
		say   string
		claim claim
		says  string
	}{
		{"changes ", changes, "changes"}, {"toggles ", changes, "changes"}, {"lights ", lit, "lights"}, {"turns on ", lit, "lights"}, {"switches on ", lit, "lights"},
		{"darkens ", dark, "darkens"}, {"turns off ", dark, "darkens"}, {"switches off ", dark, "darkens"}, {"puts out ", dark, "darkens"},
		{"sounds ", sounds, "sounds"}, {"silences ", silent, "silences"},
	} {
		name, ok := strings.CutPrefix(rest, x.say)
		if !ok {
			continue
		}
		y, left, ok := r.thing(name)
		if !ok || strings.TrimSpace(left) != "" {
			return nil, &Error{s.Text, fmt.Sprintf("%q is nothing that lights or sounds here; there is %s", name, r.named())}
		}
		s.things, s.claim = []thing{y}, x.claim
		s.Says = "each press of " + of + " " + x.says + " " + y.name + r.soon(s)
		return s, nil
	}
	return nil, &Error{s.Text, fmt.Sprintf("what does a press of %s do? It changes, lights or darkens a lamp, or sounds or silences a buzzer", of)}
}

// turning reads "turning K takes X from dark to full".
func (r *Reader) turning(s *Sentence, t string) (*Sentence, error) {
	s.form = turning
	h, rest, ok := r.handIn(strings.TrimPrefix(t, "turning "))
	if !ok || h.Kind != bench.Levels {
		return nil, &Error{s.Text, "it names nothing that is turned; there is " + r.handNames()}
	}
	name, ok := strings.CutPrefix(strings.TrimSpace(rest), "takes ")
	x, rest, found := r.thing(name)
	if !ok || !found || x.kind != bench.LampRow {
		return nil, &Error{s.Text, fmt.Sprintf("say which lamp it takes from dark to full, as in \"turning %s takes lamp 1 from dark to full\"", h.Name)}
	}
	s.hand, s.things = h, []thing{x}
	switch strings.TrimSpace(rest) {
	case "from dark to full", "from dark to bright":
	case "from full to dark", "from bright to dark":
		s.back = true
	default:
		return nil, &Error{s.Text, "it is \"from dark to full\", or \"from full to dark\""}
	}
	way := "from dark to full"
	if s.back {
		way = "from full to dark"
	}
	s.Says = "turning " + h.Name + " takes " + x.name + " " + way
	return s, nil
}

// names lists things in words.
func names(things []thing) string {
	var list []string
	for _, x := range things {
		list = append(list, x.name)
	}
	return strings.Join(list[:len(list)-1], ", ") + " and " + list[len(list)-1]
}

// oneOf reads "X, Y and Z light one at a time", "the lamps light one at a time".
func (r *Reader) oneOf(s *Sentence, t string) (*Sentence, error) {
	s.form = oneOf
	for _, end := range []string{" light one at a time", " are lit one at a time", " is lit one at a time", " are never lit together"} {
		list, ok := strings.CutSuffix(t, end)
		if !ok {
			continue
		}
		if list == "lamps" {
			for _, x := range r.things {
				if x.kind == bench.LampRow {
					s.things = append(s.things, x)
				}
			}
		} else if group, rest, ok := r.some(list + " is "); ok && rest == " is " && !slices.ContainsFunc(group, func(x thing) bool { return x.kind != bench.LampRow }) {
			s.things = group
		} else {
			for one := range strings.SplitSeq(strings.ReplaceAll(list, " and ", ", "), ", ") {
				x, left, ok := r.thing(strings.TrimSpace(one))
				if !ok || strings.TrimSpace(left) != "" || x.kind != bench.LampRow {
					return nil, &Error{s.Text, fmt.Sprintf("%q is no lamp here; there is %s", one, r.named())}
				}
				s.things = append(s.things, x)
			}
		}
		if len(s.things) < 2 {
			return nil, &Error{s.Text, "there are not two lamps in it"}
		}
		s.Says = names(s.things) + " light one at a time"
		return s, nil
	}
	return nil, &Error{s.Text, "it is \"lamp 1, lamp 2 and lamp 3 light one at a time\""}
}
