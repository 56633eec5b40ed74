package part

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/values/quantity"
	"cablaggio/core/values/spec"
)

// Bounds of a kind of part.
const (
	MaxTerminals = 40
	MaxInside    = 100
	MaxHands     = 16
	MaxValues    = 80
	MaxHookups   = 12
	maxText      = 300
)

// Families are what kinds are listed with.
var Families = []string{"lamps", "contacts", "sensors", "chips", "loads", "passives"}

// Packages is, by the id of each package in package placement, how many legs it has; 0 for wires of
// its own, of which there may be any number.
var Packages = map[string]int{
	"axial": 2, "radial-1": 2, "radial-2": 2, "radial-3": 2, "inline-3": 3, "inline-4": 4, "inline-5": 5, "inline-6": 6, "inline-7": 7,
	"inline-8": 8, "knob": 3, "button": 4, "dip-8": 8, "dip-10-wide": 10, "dip-14": 14, "dip-16": 16, "dip-20": 20, "leads": 0,
}

// A need is what a primitive asks of the kind that it is in.
type need struct {
	legs   int // how many; below 0: at least so many
	values []string
	hand   handNeed
	fed    bool // the kind says what it is fed through
	ours   bool // only kinds that come with the program have it
}

type handNeed uint8

const (
	noHand   handNeed = iota
	choices           // a hand with two settings or more
	levels            // a hand whose settings are levels
	anyKeys           // a hand without settings
	byTheLaw          // levels, where the element has a law
)

var needs = map[Primitive]need{
	Resistor:        {legs: 2, values: []string{"resistance", "tolerance"}},
	Resistance:      {legs: 2, values: []string{"resistance"}, hand: byTheLaw},
	Track:           {legs: 3, values: []string{"track", "endResistance"}, hand: levels},
	Capacitor:       {legs: 2, values: []string{"capacitance", "tolerance"}},
	Piezo:           {legs: 2, values: []string{"capacitance", "resistance"}},
	Coil:            {legs: 2, values: []string{"resistance", "inductance"}},
	LED:             {legs: 2, values: []string{"forwardVoltage", "testCurrent", "ideality", "seriesResistance", "maximumCurrent", "comfortableCurrent", "targetCurrent"}},
	LEDs:            {ours: true},
	Diode:           {legs: 2, values: []string{"forwardVoltage", "testCurrent", "ideality", "seriesResistance", "maximumCurrent"}},
	NPN:             {legs: 3, values: []string{"gain", "maximumCurrent"}},
	MOSFET:          {legs: 3, values: []string{"threshold", "transconductance", "maximumCurrent"}},
	Phototransistor: {legs: 2, values: []string{"photocurrent", "maximumCurrent"}, hand: levels},
	Contact:         {legs: 2, values: []string{"contactResistance"}, hand: choices},
	Encoder:         {legs: 3, values: []string{"contactResistance"}, hand: levels},
	Keys:            {legs: -2, values: []string{"contactResistance"}, hand: anyKeys},
	Supply:          {legs: 2, values: []string{"supplyMinimum", "supplyMaximum", "supplyCurrent"}, fed: true},
	Voltage:         {legs: 1, values: []string{"offset", "slope", "outputResistance"}, hand: levels, fed: true},
	PushPull:        {legs: 1, values: []string{"outputResistance", "outputLimit"}, hand: choices, fed: true},
	Regulated:       {legs: 1, values: []string{"outputHigh", "outputResistance"}, hand: choices, fed: true},
	OpenCollector:   {legs: 1, values: []string{"contactResistance", "outputLimit"}, hand: choices, fed: true},
	Register:        {ours: true},
	Servo:           {legs: 1, values: []string{"vil", "vih", "pulseLeast", "pulseMost", "sweep"}, fed: true, ours: true},
	Echo:            {legs: 2, values: []string{"vil", "vih", "outputResistance", "outputRecommended", "outputLimit", "reach"}, hand: levels, fed: true, ours: true},
}

var lawValues = map[Law][]string{Steady: nil, Share: nil, Power: {"gamma"}, ByB: {"b"}}

var (
	idForm = regexp.MustCompile(`^[a-z][a-z0-9-]{0,39}$`)
	// Of these two a part's id is made with its number, and one of its helper's: at most 40 letters.
	ownForm  = regexp.MustCompile(`^own-[a-z0-9-]{1,16}$`)
	roleForm = regexp.MustCompile(`^[a-z][a-z0-9-]{0,14}$`)
	wordForm = regexp.MustCompile(`^[A-Za-z0-9][A-Za-z0-9-]{0,39}$`)  // of what is inside a kind
	unitForm = regexp.MustCompile(`^([^\pC\pZ"“”][^\pC"“”]{0,15})?$`) // of what a hand moves
)

// Problems is all that is wrong with a kind of part, in order; where it is stands as
// "inside[2].legs", "hookups[0].joins[1]", and empty for the whole file.
type (
	Problems = board.Problems
	Problem  = board.Problem
)

// Validate checks that a kind holds together, with the kinds of a catalogue as helpers. Its error is
// a [Problems].
func (k *Kind) Validate(c *Catalogue) error {
	v := validator{kind: k, catalogue: c}
	v.heading()
	v.ours()
	v.body()
	v.values()
	v.hands()
	v.inside()
	if len(v.problems) == 0 {
		v.hookups()
	}
	if len(v.problems) > 0 {
		return v.problems
	}
	return nil
}

// ValidateOwn is Validate for a kind that a builder describes, which has an id of its own.
func (k *Kind) ValidateOwn(c *Catalogue) error {
	if !ownForm.MatchString(k.ID) {
		return Problems{{Where: "id", Right: fmt.Sprintf("%q cannot be the id of a part of your own: it begins with %s, as none that comes with the program, and goes on with 1 to 16 small letters, digits and hyphens", clip(k.ID), OwnPrefix)}}
	}
	return k.Validate(c)
}

type validator struct {
	kind      *Kind
	catalogue *Catalogue
	problems  Problems
}

func (v *validator) bad(where, format string, args ...any) {
	if len(v.problems) < 20 {
		v.problems = append(v.problems, Problem{Where: where, Right: fmt.Sprintf(format, args...)})
	}
}

func (v *validator) text(where, s string) {
	switch {
	case strings.TrimSpace(s) == "":
		v.bad(where, "it is empty")
	case len(s) > maxText:
		v.bad(where, "it is longer than %d letters", maxText)
	case strings.ContainsFunc(s, func(r rune) bool { return r < ' ' || r == 0x7f }):
		v.bad(where, "it has a line break or another sign that cannot be seen")
	}
}

func (v *validator) heading() {
	k := v.kind
	if !idForm.MatchString(k.ID) {
		v.bad("id", "%q cannot be an id: a letter, then small letters, digits and hyphens, at most 40", clip(k.ID))
	}
	v.text("name", k.Name)
	v.text("summary", k.Summary)
	if !slices.Contains(Families, k.Family) {
		v.bad("family", "%q is none; the families are %s", clip(k.Family), strings.Join(Families, ", "))
	}
	if _, ok := Symbols()[k.Symbol]; !ok {
		v.bad("symbol", "there is no symbol %q", clip(k.Symbol))
	}
	if !slices.Contains([]string{"", Tone, Sounds, Turns, Pulls, Glows}, k.Acts) {
		v.bad("acts", "%q is none; it is tone, sound, turn, pull or glow, or left out", clip(k.Acts))
	}
	if len(k.Words) == 0 || len(k.Words) > 30 {
		v.bad("words", "it has 1 to 30 words that people call it by")
	}
	for i, w := range k.Words {
		v.text(fmt.Sprintf("words[%d]", i), w)
		if w != strings.ToLower(w) {
			v.bad(fmt.Sprintf("words[%d]", i), "words are in small letters")
		}
	}
}

// ours refuses what only kinds that come with the program have.
func (v *validator) ours() {
	k := v.kind
	for where, there := range map[string]bool{
		"inputs": len(k.Inputs) > 0, "outputs": len(k.Outputs) > 0, "emitters": len(k.Emitters) > 0,
		"shows": k.Shows != "", "set": k.Set != "", "legs": len(k.Legs) > 0,
	} {
		if there && k.Own() {
			v.bad(where, "only kinds that come with the program have it; leave it out")
		}
	}
}

func (v *validator) body() {
	k := v.kind
	legs, ok := Packages[k.Body.Package]
	if !ok {
		v.bad("body.package", "there is no package %q", clip(k.Body.Package))
	}
	if n := len(k.Terminals); n < 2 || n > MaxTerminals || ok && legs > 0 && n != legs {
		v.bad("terminals", "there are %d legs; this package has %d", n, legs)
	}
	seen := map[string]bool{}
	for i, t := range k.Terminals {
		where := fmt.Sprintf("terminals[%d]", i)
		if !wordForm.MatchString(t.ID) || seen[t.ID] {
			v.bad(where+".id", "%q cannot be the id of a leg: letters and digits, and each leg has its own", clip(t.ID))
		}
		seen[t.ID] = true
		v.text(where+".name", t.Name)
	}
	if order := k.LegOrder(); len(order) != len(k.Terminals) || !v.legsAre(order) {
		v.bad("body.legs", "it lists each leg once")
	}
	for i, link := range k.Links {
		if len(link) < 2 || !v.legsAre(link) {
			v.bad(fmt.Sprintf("links[%d]", i), "it names two or more legs of the part, each once")
		}
	}
	if f := k.Feed; f != nil && (f.Plus == f.Minus || !v.legsAre([]string{f.Plus, f.Minus})) {
		v.bad("feed", "plus and minus are two legs of the part")
	}
	for _, leg := range slices.Concat(k.Inputs, k.Outputs) {
		if !k.HasTerminal(leg) {
			v.bad("inputs", "there is no leg %q", clip(leg))
		}
	}
	for i, e := range k.Emitters {
		if !v.legsAre([]string{e.Anode, e.Cathode}) {
			v.bad(fmt.Sprintf("emitters[%d]", i), "anode and cathode are two legs of the part")
		}
	}
}

// legsAre reports whether all are legs, none of them twice.
func (v *validator) legsAre(legs []string) bool {
	for i, l := range legs {
		if !v.kind.HasTerminal(l) || slices.Contains(legs[:i], l) {
			return false
		}
	}
	return true
}

func (v *validator) values() {
	k := v.kind
	if len(k.Values) > MaxValues {
		v.bad("values", "there are more than %d", MaxValues)
	}
	for i, x := range k.Values {
		where := fmt.Sprintf("values[%d]", i)
		if x.ID == "" || len(x.ID) > 60 || slices.ContainsFunc(k.Values[:i], func(y Value) bool { return y.ID == x.ID }) {
			v.bad(where+".id", "%q cannot be the id of a value: each has its own", clip(x.ID))
		}
		v.text(where+".name", x.Name)
		if !slices.Contains(quantity.Units, x.Unit) {
			v.bad(where+".unit", "%q is no unit that is known here", clip(string(x.Unit)))
		}
		if math.IsNaN(x.Min) || math.IsNaN(x.Max) || x.Min > x.Max || math.IsInf(x.Max, 0) || math.IsInf(x.Min, 0) {
			v.bad(where, "min is not above max, and both are numbers")
		}
		stated := func(where string, d spec.Value) {
			switch {
			case !(d.Low <= d.Typ && d.Typ <= d.High):
				v.bad(where, "low is at most typ, and typ at most high")
			case d.Typ < x.Min || d.Typ > x.Max:
				v.bad(where, "%g is not between min and max", d.Typ)
			case d.Source == "":
				v.bad(where+".source", "say where it comes from: a leaflet, measured, memory")
			}
		}
		if len(k.Types) == 0 || !x.Default.IsZero() {
			stated(where+".default", x.Default)
		}
		for j, t := range k.Types {
			if own, ok := t.Values[x.ID]; ok {
				stated(fmt.Sprintf("types[%d].values.%s", j, x.ID), own)
			}
		}
	}
}

func (v *validator) hands() {
	k := v.kind
	if len(k.Hands) > MaxHands {
		v.bad("hands", "there are more than %d", MaxHands)
	}
	for i, h := range k.Hands {
		where := fmt.Sprintf("hands[%d]", i)
		if len(k.Hands) > 1 && (!wordForm.MatchString(h.ID) || h.Name == "") {
			v.bad(where, "of several hands each has an id and a name")
		}
		if slices.ContainsFunc(k.Hands[:i], func(g Hand) bool { return g.ID == h.ID }) {
			v.bad(where+".id", "another hand is called %q", clip(h.ID))
		}
		for j, s := range h.Settings {
			v.text(fmt.Sprintf("%s.settings[%d].name", where, j), s.Name)
			if slices.ContainsFunc(h.Settings[:j], func(x Setting) bool { return x.Name == s.Name || x.Level == s.Level }) || math.IsNaN(s.Level) {
				v.bad(fmt.Sprintf("%s.settings[%d]", where, j), "each setting has a name and a level of its own")
			}
		}
		if len(h.Settings) > 16 {
			v.bad(where+".settings", "there are more than 16")
		}
		if q := h.Quantity; q != nil {
			v.text(where+".quantity.name", q.Name)
			if !unitForm.MatchString(q.Unit) {
				v.bad(where+".quantity.unit", "%q is no unit: up to 16 signs without quotation marks, as in ppm", clip(q.Unit))
			}
			if math.IsNaN(q.Least) || math.IsNaN(q.Most) || q.Least > q.Most || slices.ContainsFunc(h.Settings, func(s Setting) bool { return q.Most > q.Least && (s.Level < q.Least || s.Level > q.Most) }) {
				v.bad(where+".quantity", "its settings are between least and most")
			}
		}
	}
}

func (v *validator) inside() {
	k := v.kind
	if n := len(k.Inside); n == 0 || n > MaxInside {
		v.bad("inside", "it is made of 1 to %d things", MaxInside)
	}
	moved := map[string]handNeed{}
	for i, e := range k.Inside {
		where := fmt.Sprintf("inside[%d]", i)
		want, ok := needs[e.Is]
		if !ok || want.ours && k.Own() {
			v.bad(where+".is", "%q is nothing that a part can be made of here", clip(string(e.Is)))
			continue
		}
		if want.legs >= 0 && len(e.Legs) != want.legs || want.legs < 0 && len(e.Legs) < -want.legs {
			v.bad(where+".legs", "a %s has %d", e.Is, max(want.legs, -want.legs))
		}
		if e.Is == Keys && k.Legends != "" && len(k.Legends) != e.Rows*(len(e.Legs)-e.Rows) {
			v.bad("legends", "it has a letter for each key, row by row")
		}
		if e.Is == Keys && (e.Rows < 1 || e.Rows >= len(e.Legs) || e.Rows*(len(e.Legs)-e.Rows) > 32) {
			v.bad(where+".rows", "so many of the legs are rows, and at least one is a column; together they have at most 32 keys")
		}
		for j, leg := range e.Legs {
			if inner, ok := strings.CutPrefix(leg, "."); !(ok && wordForm.MatchString(inner)) && !k.HasTerminal(leg) {
				v.bad(where+".legs", "there is no leg %q; a point inside begins with a point, as in .a", clip(leg))
			}
			if slices.Contains(e.Legs[:j], leg) {
				v.bad(where+".legs", "%q is there twice", clip(leg))
			}
		}
		if want.fed && k.Feed == nil {
			v.bad("feed", "a %s is fed: say through which legs", e.Is)
		}
		asked := slices.Concat(want.values, lawValues[e.Law])
		if _, ok := lawValues[e.Law]; !ok || e.Law != Steady && e.Is != Resistance {
			v.bad(where+".law", "%q is no law of a %s", clip(string(e.Law)), e.Is)
		}
		for _, name := range asked {
			if x, ok := k.Value(e.Value(name)); !ok {
				v.bad("values", "a %s has a value %q", e.Is, e.Value(name))
			} else if x.Min < 0 && name != "offset" && name != "slope" || x.Min == 0 && strings.HasSuffix(strings.ToLower(name), "resistance") && name != "endResistance" && x.Default.Low <= 0 {
				v.bad("values", "%q is above zero", x.ID)
			}
		}
		if want.hand == byTheLaw {
			want.hand = noHand
			if e.Law != Steady {
				want.hand = levels
			}
		}
		if want.hand == choices && e.Trips != "" {
			want.hand = levels
		}
		v.hand(where, e, want.hand)
		if was, ok := moved[e.Hand]; ok && was != want.hand && was != noHand && want.hand != noHand {
			v.bad(where+".hand", "one hand is either put to a setting, or moved to a level")
		}
		if want.hand != noHand {
			moved[e.Hand] = want.hand
		}
	}
}

// hand checks the hand that moves an element.
func (v *validator) hand(where string, e Element, want handNeed) {
	h, ok := v.kind.Hand(e.Hand)
	switch {
	case want == noHand:
		return
	case !ok:
		v.bad(where+".hand", "there is no hand %q that moves it", clip(e.Hand))
	case want == choices && len(h.Settings) < 2:
		v.bad(where+".hand", "it has two settings or more: open and closed, quiet and triggered")
	case want == levels && len(h.Settings) < 2:
		v.bad(where+".hand", "it has two named levels or more")
	}
	if e.Trips != "" {
		if x, ok := v.kind.Value(e.Trips); !ok || e.Is != PushPull && e.Is != OpenCollector && e.Is != Regulated || len(e.When) > 0 || x.Default.IsZero() {
			v.bad(where+".trips", "an output trips at a value of the part")
		}
	}
	for _, s := range e.When {
		if !slices.ContainsFunc(h.Settings, func(x Setting) bool { return x.Name == s }) {
			v.bad(where+".when", "%q is no setting of its hand", clip(s))
		}
	}
}

// clip keeps what a file says short in a message.
func clip(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}
