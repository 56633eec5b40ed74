package should

import (
	_ "embed"
	"encoding/json"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/running/bench"
)

//go:embed forms.json
var formsFile []byte

// A turn of speech is a way in which people say what another sentence says plainly.
type turnOfSpeech struct {
	said  *regexp.Regexp
	is    string // with $x for what was said, and {press}, {lamp} and the like for the only one of its kind
	first bool   // it is looked for before anything else: its words by themselves would say something else
}

// turnsOfSpeech are those of forms.json.
var turnsOfSpeech = func() (out []turnOfSpeech) {
	var list []struct {
		Said, Is string
		First    bool
	}
	if err := json.Unmarshal(formsFile, &list); err != nil {
		panic(err)
	}
	for _, x := range list {
		out = append(out, turnOfSpeech{regexp.MustCompile(`(?i)` + x.Said), x.Is, x.First})
	}
	return out
}()

// deepestTurn is how often what is said in another way may be said in another way again.
const deepestTurn = 3

// readTurned reads what is said in a turn of speech as the sentence that it stands for: all of that
// sentence is to be understood.
func (r *Reader) readTurned(text string, first bool, deep int) (*Sentence, bool) {
	flat := strings.TrimRight(strings.Join(strings.Fields(text), " "), " .!")
	if len(flat) > 200 || deep > deepestTurn {
		return nil, false
	}
	for _, x := range turnsOfSpeech {
		m := x.said.FindStringSubmatchIndex(flat)
		if m == nil || first && !x.first {
			continue
		}
		plain, ok := r.filled(x, flat, m)
		if !ok || plain == flat {
			continue
		}
		if s, ok := r.plainly(plain); ok {
			s.Text = text
			return s, true
		}
		if s, ok := r.readPaired(plain); ok {
			s.Text = text
			return s, true
		}
		if s, ok := r.readTurned(plain, false, deep+1); ok {
			s.Text = text
			return s, true
		}
	}
	if first {
		return nil, false
	}
	if metres.MatchString(flat) && slices.ContainsFunc(r.hands, func(h bench.Hand) bool { return h.Unit == "cm" }) {
		with := metres.ReplaceAllStringFunc(flat, func(m string) string {
			v, _ := strconv.ParseFloat(metres.FindStringSubmatch(m)[1], 64)
			return strconv.FormatFloat(100*v, 'g', -1, 64) + " cm"
		})
		if s, ok := r.plainly(with); ok {
			s.Text = text
			return s, true
		}
		return r.readTurned(with, false, deep+1)
	}
	if with, ok := r.inTheOnlyUnit(flat); ok {
		if s, ok := r.plainly(with); ok {
			s.Text = text
			return s, true
		}
		return r.readTurned(with, false, deep+1)
	}
	return nil, false
}

// plainly reads a sentence as it stands, and does not look for what else may be meant.
func (r *Reader) plainly(text string) (*Sentence, bool) {
	list, all := r.tokens(text)
	if len(list) == 0 || len(list) > mostWords {
		return nil, false
	}
	list, unknown := r.spelled(list)
	if len(unknown) > 0 {
		return nil, false
	}
	left := 20_000
	s, _, err := r.sentence(list, says(all, "by_itself") && says(all, "not"), &left)
	return s, err == nil && s != nil
}

var (
	slotted = regexp.MustCompile(`\$(?:(\w)|\{(\w)\})`)
	onlyOne = regexp.MustCompile(`\{(\w+)(?::([^}]*))?\}`)
)

// filled is what a turn of speech stands for, with what was said and the names of this build in it.
func (r *Reader) filled(x turnOfSpeech, flat string, m []int) (plain string, ok bool) {
	ok = true
	plain = slotted.ReplaceAllStringFunc(x.is, func(slot string) string {
		k := 2 * x.said.SubexpIndex(strings.Trim(slot, "${}"))
		if k < 0 || m[k] < 0 {
			return ""
		}
		return flat[m[k]:m[k+1]]
	})
	plain = onlyOne.ReplaceAllStringFunc(plain, func(slot string) string {
		p := onlyOne.FindStringSubmatch(slot)
		name, found := r.theOnly(p[1], p[2])
		ok = ok && found
		return name
	})
	return plain, ok
}

// theOnly is what the only one of its kind is called.
func (r *Reader) theOnly(what, more string) (string, bool) {
	if what == "its" { // what is seen or heard of something
		kind := bench.SoundRow
		if strings.EqualFold(more, "light") {
			kind = bench.LampRow
		}
		var names []string
		for _, x := range r.things {
			if x.kind == kind {
				names = append(names, x.name+" is on")
			}
		}
		return strings.Join(names, ""), len(names) == 1
	}
	if what == "colour" {
		return map[string]string{"red": "red", "green": "green", "blu": "blue"}[strings.ToLower(more)], true
	}
	var names []string
	for _, all := range r.cases() {
		if what == "case" && !all[0].digit {
			names = append(names, all[0].cased)
		}
	}
	for _, h := range r.hands {
		if what == "press" && h.Kind == bench.Presses || what == "spin" && h.Kind == bench.Spins ||
			what == "knob" && h.Kind == bench.Levels && h.Unit == turns || what == "light" && h.Unit == "lx" {
			names = append(names, h.Name)
		}
	}
	for _, x := range r.things {
		if what == "thing" || what == "lamp" && x.kind == bench.LampRow {
			names = append(names, x.name)
		}
	}
	if len(names) != 1 {
		return "", false
	}
	return names[0], true
}

// metres are said of what is measured in centimetres.
var metres = regexp.MustCompile(`(?i)\b([0-9]+(?:[.][0-9]+)?) ?(?:metres?|meters?|m)\b`)

// measuredIn are the units of what words of comparison say by themselves.
var measuredIn = map[string]string{"warmer": "°C", "hotter": "°C", "colder": "°C", "cooler": "°C", "brighter": "lx", "darker": "lx", "closer": "cm", "nearer": "cm", "farther": "cm", "further": "cm"}

var compared = regexp.MustCompile(`(?i)\b(warmer|hotter|colder|cooler|brighter|darker|closer|nearer|farther|further) than (-?[0-9]+(?:[.][0-9]+)?)(,| it| the| and| an?\b|$)`)

// bareNumber is a number behind a word of comparison, with no unit behind it.
var bareNumber = regexp.MustCompile(`(?i)\b(above|below|over|under|than|beyond|least|most|reaches|exceeds) (-?[0-9]+(?:[.][0-9]+)?)(,| it| the| and|$)`)

// inTheOnlyUnit puts the unit behind a number where only one thing here is measured, and has one.
func (r *Reader) inTheOnlyUnit(flat string) (string, bool) {
	if m := compared.FindStringSubmatch(flat); m != nil {
		unit := measuredIn[strings.ToLower(m[1])]
		if slices.ContainsFunc(r.hands, func(h bench.Hand) bool { return h.Kind == bench.Levels && h.Unit == unit }) {
			return compared.ReplaceAllString(flat, "${1} than ${2} "+unit+"${3}"), true
		}
	}
	units := map[string]bool{}
	for _, h := range r.hands {
		if h.Kind == bench.Levels {
			units[h.Unit] = true
		}
	}
	if len(units) != 1 || units[turns] || units[ofSupply] || units[""] || !bareNumber.MatchString(flat) {
		return "", false
	}
	unit := ""
	for u := range units {
		unit = u
	}
	return bareNumber.ReplaceAllString(flat, "${1} ${2} "+strings.ReplaceAll(unit, "$", "$$")+"${3}"), true
}

// counting reads "counts up by one", of a digit.
func (p *parser) counting(list []token) (d draft, ok bool) {
	if len(list) == 0 || list[0].stem != "count" {
		return d, false
	}
	up := slices.IndexFunc(list, func(t token) bool { return t.text == "up" || t.text == "on" })
	if up < 1 {
		return d, false
	}
	if rest := text(list[up+1:]); rest != "" && rest != "by 1" && rest != "1" && rest != "by one" {
		return d, false
	}
	var of [][]thing
	for _, all := range p.r.cases() {
		name := list[1:up]
		named := len(name) == 0 || slices.Equal(stemsOf(name), stemsOf(lex(all[0].cased))) || len(name) == 1 && slices.Contains([]string{"it", "digit", "display", "number"}, name[0].stem)
		if all[0].digit && named {
			of = append(of, slices.DeleteFunc(slices.Clone(all), func(x thing) bool { return len(x.lamp) > 1 }))
		}
	}
	if len(of) != 1 {
		return d, false
	}
	return draft{things: of[0], claim: counts}, true
}

// figureAt is the figure that bars show at a time; -1: none.
func (s *Sentence) figureAt(rec *bench.Recording, at float64) int {
	bars := ""
	for _, y := range s.things {
		if isOn(row(rec, y), y, at) {
			bars += y.lamp
		}
	}
	b := []byte(bars)
	slices.Sort(b)
	return part.FigureOf(string(b))
}

// counted says where a digit does not go up by one when something was done; from 9 it goes to 0.
func (s *Sentence) counted(rec *bench.Recording, x done) *breach {
	before := s.figureAt(rec, x.at)
	if before < 0 {
		return nil
	}
	at := x.at + s.needs()
	if is := s.figureAt(rec, at); is != (before+1)%10 {
		words := "shows no figure"
		if is >= 0 {
			words = "shows " + strconv.Itoa(is)
		}
		return &breach{at, s.did() + " at " + strconv.FormatFloat(x.at, 'g', 3, 64) + " s, and " + s.things[0].cased + " " + words + " after " + strconv.Itoa(before), s.things[0].of}
	}
	return nil
}
