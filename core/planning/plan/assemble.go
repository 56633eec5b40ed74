package plan

import (
	"errors"
	"fmt"
	"maps"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/values/preferred"
	"cablaggio/core/values/quantity"
)

func (p *planner) stepDone(a *build.Assembly, e StepDone) (string, error) {
	done := "did a step: " + e.Name
	if put, out := strings.CutPrefix(e.Text, placement.Out); out {
		p.undone(a, put)
		return done, nil
	}
	p.undone(a, e.Text)
	d := build.Done{Step: e.Text, At: e.At}
	a.Done = append(a.Done, d)
	if a.Built != nil {
		b := placement.Standing(p.lib, p.doc, []build.Done{d})
		maps.Copy(a.Built.Legs, b.Legs)
		a.Built.Wires = append(a.Built.Wires, b.Wires...)
	}
	return done, nil
}

// undone takes a step back: what it put in is not there any more.
func (p *planner) undone(a *build.Assembly, step string) {
	a.Done = slices.DeleteFunc(a.Done, func(d build.Done) bool { return d.Step == step })
	if a.Built == nil {
		return
	}
	b := placement.Standing(p.lib, p.doc, []build.Done{{Step: step}})
	maps.DeleteFunc(a.Built.Legs, func(t build.Terminal, e breadboard.End) bool { return b.Legs[t] == e })
	a.Built.Wires = slices.DeleteFunc(a.Built.Wires, func(w build.Wire) bool { return slices.Contains(b.Wires, w) })
}

// breadboards chooses the breadboards. What was decided and done on others is
// given up: its holes are elsewhere. Naming those that were chosen already, or
// leaving them to be chosen again, moves nothing.
func (p *planner) breadboards(a *build.Assembly, e Breadboards) (string, error) {
	ids := strings.Fields(strings.ReplaceAll(e.Text, ",", " "))
	was, wasErr := placement.Fits(p.lib, p.doc)
	beside := a.Beside
	a.Breadboards, a.Beside = ids, e.With == Beside
	is, isErr := placement.Fits(p.lib, p.doc)
	if wasErr != nil || isErr != nil || !slices.Equal(was, is) || a.Beside != beside {
		a.Fixed, a.Done, a.Kept, a.Built = nil, nil, nil, nil
	}
	if len(ids) == 0 {
		return "let the breadboard be chosen", nil
	}
	var names []string
	for _, id := range ids {
		s, ok := breadboard.SizeOf(id)
		if !ok {
			return "", fmt.Errorf("there is no breadboard %q", id)
		}
		names = append(names, s.Name)
	}
	return "took the " + strings.Join(names, " and the "), nil
}

// fix keeps a leg in a hole, or lets the whole part go where it goes best. The
// whole build must still find room.
func (p *planner) fix(a *build.Assembly, e Fix) (string, error) {
	t := e.Terminal
	if err := p.lib.CheckTerminal(p.doc, t); err != nil {
		return "", err
	}
	id, _ := t.Split()
	q := p.doc.Part(id)
	if q == nil {
		return "", fmt.Errorf("%q is not a leg of a part", t)
	}
	maps.DeleteFunc(a.Fixed, func(o build.Terminal, _ breadboard.Hole) bool { of, _ := o.Split(); return of == id })
	if strings.TrimSpace(e.Text) == "" {
		p.keep(id)
		return "let " + q.Name + " go where it goes best", nil
	}
	h, err := breadboard.ParseHole(e.Text)
	if err != nil {
		return "", err
	}
	if a.Fixed == nil {
		a.Fixed = map[build.Terminal]breadboard.Hole{}
	}
	a.Fixed[t] = h
	p.keep(id)
	if _, err := placement.Fits(p.lib, p.doc); err != nil {
		return "", err
	}
	return fmt.Sprintf("put %s at %s", q.Name, h), nil
}

// keep notes what is plugged in already when the plan changes, so that it stays
// where it is; but for a part that is to go elsewhere.
func (p *planner) keep(but string) {
	a := p.doc.Assembly
	if a == nil || len(a.Done) == 0 {
		return
	}
	tables, err := a.Tables(p.board())
	if err != nil {
		return // the document's own check says what is wrong
	}
	b := placement.Standing(p.lib, p.doc, a.Done)
	maps.DeleteFunc(b.Legs, func(t build.Terminal, _ breadboard.End) bool { id, _ := t.Split(); return id == but })
	drop(b, tables)
	a.Kept = nil
	if len(b.Legs)+len(b.Wires) > 0 {
		a.Kept = b
	}
}

// drop forgets what is on none of the tables: the build has come to need a bigger
// breadboard.
func drop(b *build.Built, tables build.Tables) {
	maps.DeleteFunc(b.Legs, func(_ build.Terminal, e breadboard.End) bool { return tables.CheckEnd(e) != nil })
	b.Wires = slices.DeleteFunc(b.Wires, func(w build.Wire) bool { return tables.CheckEnd(w.From) != nil || tables.CheckEnd(w.To) != nil })
}

// stock notes the wires that the builder has.
func (p *planner) stock(a *build.Assembly, e Stock) (string, error) {
	words := func(s string) []string {
		return strings.FieldsFunc(strings.ToLower(s), func(r rune) bool { return r == ',' || r == ';' || unicode.IsSpace(r) })
	}
	s := &build.WireStock{}
	for _, c := range words(e.Text) {
		if !slices.Contains(build.WireColours, c) {
			return "", fmt.Errorf("%q is not a colour of wires; they are %s", c, strings.Join(build.WireColours, ", "))
		}
		if !slices.Contains(s.Colours, c) {
			s.Colours = append(s.Colours, c)
		}
	}
	for _, text := range words(e.With) {
		mm, err := millimetres(text)
		if err != nil {
			return "", err
		}
		s.Lengths = append(s.Lengths, mm)
	}
	slices.Sort(s.Lengths)
	s.Lengths = slices.Compact(s.Lengths)
	a.Stock = s
	if len(s.Colours)+len(s.Lengths) == 0 {
		a.Stock = nil
		return "took wires of any colour and length", nil
	}
	return "noted the wires at hand", nil
}

func millimetres(text string) (int, error) {
	mm, err := strconv.Atoi(strings.TrimSpace(strings.TrimSuffix(text, "mm")))
	if err != nil || mm < 1 || mm > build.MaxLength {
		return 0, fmt.Errorf("%q is not a length; say millimetres, 1 to %d, as in: 150", text, build.MaxLength)
	}
	return mm, nil
}

// reach notes how long wires from place to place are where the build is soldered.
func (p *planner) reach(a *build.Assembly, text string) (done string, err error) {
	a.Reach = 0
	if strings.TrimSpace(text) == "" {
		return "took soldered wires of the usual length", nil
	}
	if a.Reach, err = millimetres(text); err != nil {
		return "", err
	}
	return fmt.Sprintf("took soldered wires of %d mm", a.Reach), nil
}

// asBuilt begins to look at what is really there, from the plan or from the steps
// that are done, or stops it.
func (p *planner) asBuilt(a *build.Assembly, text string) (string, error) {
	if text == Forget {
		a.Built = nil
		return "put away what was noted of the breadboard", nil
	}
	laid, err := placement.Place(p.lib, p.doc)
	if err != nil {
		return "", err
	}
	a.Built, a.Breadboards = laid.Built(), laid.Breadboards
	if a.Kept != nil {
		drop(a.Kept, build.Tables{laid.Table(p.lib, p.doc)})
	}
	if text == FromSteps {
		a.Built = laid.Done(a.Done)
		a.Built.Partial = true
	}
	return "began to look at what is really there", nil
}

var errNotLooked = errors.New("nothing is noted of the breadboard yet; begin to look at what is there")

func (p *planner) builtLeg(a *build.Assembly, t build.Terminal, text string) (string, error) {
	if a.Built == nil {
		return "", errNotLooked
	}
	if t == "" {
		var err error
		if t, text, err = p.saidLeg(text); err != nil {
			return "", err
		}
	}
	if err := p.lib.CheckTerminal(p.doc, t); err != nil {
		return "", err
	}
	if strings.TrimSpace(text) == "" {
		delete(a.Built.Legs, t)
		return fmt.Sprintf("noted that %s is not plugged in", p.Label(t)), nil
	}
	e, err := p.end(text)
	if err != nil {
		return "", err
	}
	a.Built.Legs[t] = e
	return fmt.Sprintf("noted that %s is in %s", p.Label(t), e.Words()), nil
}

// saidLeg reads "led1.anode e14", "sign lamp long leg e14" or "led 1 long e14": a leg, by words
// that its part and itself are known by, and a hole.
func (p *planner) saidLeg(text string) (build.Terminal, string, error) {
	words := strings.Fields(text)
	if len(words) < 2 {
		return "", "", errors.New("say which leg and which hole, as in: led1.anode e14")
	}
	who, hole := strings.ToLower(strings.Join(words[:len(words)-1], " ")), words[len(words)-1]
	said := slices.DeleteFunc(wordsOf(who), func(w string) bool { return w == "of" || w == "the" || w == "in" })
	var exact, found []build.Terminal
	for _, q := range p.doc.Parts {
		kind, _ := p.lib.Catalogue.Kind(q.Kind)
		for _, t := range kind.Terminals {
			term := build.Of(q.ID, t.ID)
			names := []string{string(term), q.Name + " " + t.ID, q.Name + " " + placement.LegName(kind, t.ID)}
			if slices.ContainsFunc(names, func(n string) bool { return strings.ToLower(n) == who }) {
				exact = append(exact, term)
			}
			known := wordsOf(strings.Join(append(names, kind.Name, t.Name), " "))
			if len(said) > 1 && !slices.ContainsFunc(said, func(w string) bool { return !slices.Contains(known, w) }) {
				found = append(found, term)
			}
		}
	}
	if len(exact) == 1 {
		found = exact
	}
	switch {
	case len(found) == 0:
		return "", "", fmt.Errorf("there is no leg %q; led1.anode is one, and so is a part's name with its leg", who)
	case len(found) > 1:
		var list []string
		for _, t := range found[:min(len(found), 4)] {
			list = append(list, p.Label(t))
		}
		return "", "", fmt.Errorf("%q may be %s; say which", who, strings.Join(list, " or "))
	}
	return found[0], hole, nil
}

// wordsOf are the words of a text in small letters, with numbers apart from letters.
func wordsOf(text string) (out []string) {
	digit := func(r rune) bool { return r >= '0' && r <= '9' }
	var word []rune
	end := func() {
		if len(word) > 0 {
			out = append(out, string(word))
		}
		word = nil
	}
	for _, r := range strings.ToLower(text) {
		switch {
		case !digit(r) && !unicode.IsLetter(r):
			end()
			continue
		case len(word) > 0 && digit(word[len(word)-1]) != digit(r):
			end()
		}
		word = append(word, r)
	}
	end()
	return out
}

// end reads an end that is on the table.
func (p *planner) end(text string) (breadboard.End, error) {
	e, err := breadboard.ParseEnd(text)
	if err != nil {
		return e, err
	}
	tables, err := p.doc.Assembly.Tables(p.board())
	if err != nil {
		return e, err
	}
	return e, tables.CheckEnd(e)
}

// wireOf reads a wire by its ends.
func (p *planner) wireOf(a *build.Assembly, from, to string) (w build.Wire, err error) {
	if a.Built == nil {
		return w, errNotLooked
	}
	if w.From, err = p.end(from); err != nil {
		return w, err
	}
	if w.To, err = p.end(to); err != nil {
		return w, err
	}
	if w.From == w.To {
		return w, fmt.Errorf("a wire has two ends; both are %s", w.From.Words())
	}
	return w, nil
}

func (p *planner) wireIn(a *build.Assembly, from, to string) (string, error) {
	w, err := p.wireOf(a, from, to)
	if err != nil {
		return "", err
	}
	a.Built.Wires = append(a.Built.Wires, w)
	return fmt.Sprintf("noted a wire from %s to %s", w.From.Words(), w.To.Words()), nil
}

func (p *planner) wireOut(a *build.Assembly, from, to string) (string, error) {
	w, err := p.wireOf(a, from, to)
	if err != nil {
		return "", err
	}
	i := slices.IndexFunc(a.Built.Wires, func(o build.Wire) bool { return o == w || o.From == w.To && o.To == w.From })
	if i < 0 {
		return "", fmt.Errorf("no wire from %s to %s is noted", w.From.Words(), w.To.Words())
	}
	a.Built.Wires = slices.Delete(a.Built.Wires, i, i+1)
	return fmt.Sprintf("noted that there is no wire from %s to %s", w.From.Words(), w.To.Words()), nil
}

func (p *planner) builtValue(a *build.Assembly, e BuiltValue) (string, error) {
	if a.Built == nil {
		return "", errNotLooked
	}
	q := p.doc.Part(e.Part)
	if q == nil {
		return "", fmt.Errorf("there is no part %q any more", e.Part)
	}
	kind, _ := p.lib.Catalogue.Kind(q.Kind)
	if _, ok := kind.Value("resistance"); !ok || !kind.Is(part.Resistor) {
		return "", fmt.Errorf("%s is not a resistor", q.Name)
	}
	if strings.TrimSpace(e.Text) == "" {
		delete(a.Built.Values, q.ID)
		return fmt.Sprintf("noted that %s is the right one", q.Name), nil
	}
	v, err := quantity.Parse(e.Text, quantity.Ohm)
	if err != nil {
		m, bandsErr := preferred.ReadBands(bands(e.Text))
		if bandsErr != nil {
			return "", fmt.Errorf("%w; its bands will do too, as in: red violet brown gold", err)
		}
		v = m.Ohms
	}
	if a.Built.Values == nil {
		a.Built.Values = map[string]float64{}
	}
	a.Built.Values[q.ID] = v
	return fmt.Sprintf("noted that %s is %s", q.Name, quantity.Short(v, quantity.Ohm)), nil
}

// bands are the colours that a text names.
func bands(text string) (out []preferred.Color) {
	for _, w := range strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) }) {
		out = append(out, preferred.Color(w))
	}
	return out
}

// Words of edits on the breadboard.
const (
	Beside    = "beside" // With of [Breadboards]: the board lies beside
	FromSteps = "steps"  // Text of [AsBuilt]: only what is done so far is there
	Forget    = "forget" // Text of [AsBuilt]: what was noted is put away
)
