package build

import (
	"errors"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/values/quantity"
)

// Validate checks everything that can be checked without solving the circuit.
// Its error is a [Problems].
func (l *Library) Validate(d *Document) error {
	v := validator{lib: l.For(d), doc: d}
	v.document()
	if len(v.problems) > 0 {
		return v.problems
	}
	return nil
}

type validator struct {
	lib      *Library // with the document's own kinds
	doc      *Document
	board    *board.Profile
	problems Problems
}

func (v *validator) bad(where, what, right string) {
	if len(v.problems) < 20 {
		v.problems = append(v.problems, Problem{where, what, right})
	}
}

func (v *validator) document() {
	d := v.doc
	if d.Format != Format {
		v.bad("format", fmt.Sprintf("%q is not a format that this program reads", clip(d.Format)), fmt.Sprintf("it reads %q", Format))
		return
	}
	v.text("title", d.Title)
	b, ok := v.lib.Board(d.Board)
	if !ok {
		v.bad("board", fmt.Sprintf("there is no board %q", clip(d.Board)), "the boards are "+boardIDs(v.lib))
		return
	}
	v.board = b
	if _, ok := b.Supply(d.Supply); !ok {
		v.bad("supply", fmt.Sprintf("the %s has no supply %q", b.Name, clip(d.Supply)), "leave it out for the first one")
	}
	v.feed()
	if len(d.Parts) > MaxParts {
		v.bad("parts", fmt.Sprintf("there are %d parts", len(d.Parts)), fmt.Sprintf("a build has at most %d", MaxParts))
		return
	}
	if len(d.Nets) > MaxNets {
		v.bad("nets", fmt.Sprintf("there are %d nets", len(d.Nets)), fmt.Sprintf("a build has at most %d", MaxNets))
		return
	}
	if !v.kinds() {
		return
	}
	ids := map[string]bool{BoardPart: true}
	for i := range d.Parts {
		p := &d.Parts[i]
		where := "parts[" + strconv.Itoa(i) + "]"
		if ids[p.ID] {
			v.bad(where+".id", fmt.Sprintf("the id %q is used twice", clip(p.ID)), "every part has an id of its own, and none is called board")
		}
		ids[p.ID] = true
		v.part(where, p)
	}
	v.nets()
	v.exclusive()
	v.should()
	v.assembly()
	v.program()
}

// feed checks what the supply is.
func (v *validator) feed() {
	d := v.doc
	if _, ok := v.board.Supply(d.Also); d.Also != "" && !ok {
		v.bad("also", fmt.Sprintf("the %s has no supply %q", v.board.Name, clip(d.Also)), "leave it out when there is only one")
	}
	if d.Volts != 0 && !(d.Volts >= 0.5 && d.Volts <= MaxVolts) {
		v.bad("volts", fmt.Sprintf("%g V is not a supply for a board", d.Volts), fmt.Sprintf("0.5 to %d V; never mains", MaxVolts))
	}
	if c := d.Cells; c != nil {
		if _, ok := supply.CellOf(c.Type); !ok {
			var ids []string
			for _, cell := range supply.Cells() {
				ids = append(ids, cell.ID)
			}
			v.bad("cells.type", fmt.Sprintf("there is no sort of cell %q", clip(c.Type)), "the sorts are "+strings.Join(ids, ", "))
		}
		if c.Count < 1 || c.Count > supply.MaxCells {
			v.bad("cells.count", fmt.Sprintf("%d cells", c.Count), fmt.Sprintf("1 to %d in series", supply.MaxCells))
		}
	}
}

// kinds checks the kinds of parts that the document brings along.
func (v *validator) kinds() bool {
	if n := len(v.doc.Kinds); n > MaxKinds {
		v.bad("kinds", fmt.Sprintf("there are %d kinds of your own", n), fmt.Sprintf("a build has at most %d", MaxKinds))
		return false
	}
	before := len(v.problems)
	for i := range v.doc.Kinds {
		k := &v.doc.Kinds[i]
		where := "kinds[" + strconv.Itoa(i) + "]"
		if slices.ContainsFunc(v.doc.Kinds[:i], func(x part.Kind) bool { return x.ID == k.ID }) {
			v.bad(where+".id", fmt.Sprintf("%q is there twice", clip(k.ID)), "each kind has an id of its own")
		}
		var wrong part.Problems
		if errors.As(k.ValidateOwn(v.lib.Catalogue), &wrong) {
			for _, x := range wrong {
				v.bad(where+"."+x.Where, x.Right, "see schema/part.schema.json")
			}
		}
	}
	return len(v.problems) == before
}

// exclusive checks the groups of parts that are on one at a time.
func (v *validator) exclusive() {
	seen := map[string]bool{}
	for i, group := range v.doc.Exclusive {
		for j, id := range group {
			at := "exclusive[" + strconv.Itoa(i) + "][" + strconv.Itoa(j) + "]"
			if v.doc.Part(id) == nil {
				v.bad(at, fmt.Sprintf("there is no part %q", clip(id)), "it lists ids of parts")
			}
			if seen[id] {
				v.bad(at, fmt.Sprintf("%q is in a group already", clip(id)), "a part is in one group")
			}
			seen[id] = true
		}
	}
}

// should checks what is kept of what the build should do; what the sentences mean is the
// business of package should.
func (v *validator) should() {
	if n := len(v.doc.Should); n > MaxShould {
		v.bad("should", fmt.Sprintf("%d sentences", n), fmt.Sprintf("at most %d", MaxShould))
	}
	for i, text := range v.doc.Should {
		v.text("should["+strconv.Itoa(i)+"]", text)
	}
}

func boardIDs(l *Library) string {
	ids := make([]string, len(l.Boards))
	for i, b := range l.Boards {
		ids[i] = b.ID
	}
	return strings.Join(ids, ", ")
}

func (v *validator) text(where, s string) {
	if strings.TrimSpace(s) == "" {
		v.bad(where, "it is empty", "give it a name to find it by")
	} else if what, right := NameProblem(s); what != "" {
		v.bad(where, what, right)
	}
}

// ValidID reports whether s can be the id of a part: it begins with a letter
// and has only lower-case letters, digits and hyphens, at most 40.
func ValidID(s string) bool {
	if s == "" || len(s) > 40 || s[0] < 'a' || s[0] > 'z' {
		return false
	}
	return !strings.ContainsFunc(s, func(r rune) bool {
		return (r < 'a' || r > 'z') && (r < '0' || r > '9') && r != '-'
	})
}

func (v *validator) part(where string, p *Part) {
	if !ValidID(p.ID) {
		v.bad(where+".id", fmt.Sprintf("%q cannot be an id", clip(p.ID)), "a letter, then lower-case letters, digits and hyphens, at most 40")
	}
	v.text(where+".name", p.Name)
	kind, ok := v.lib.Catalogue.Kind(p.Kind)
	if !ok {
		v.bad(where+".kind", fmt.Sprintf("there is no kind of part %q", clip(p.Kind)), "the kinds are "+kindIDs(v.lib.Catalogue))
		return
	}
	if _, ok := kind.Type(p.Type); !ok && (p.Type != "" || len(kind.Types) > 0) {
		v.bad(where+".type", fmt.Sprintf("there is no %s of type %q", kind.Name, clip(p.Type)), typeIDs(kind))
	}
	for _, id := range slices.Sorted(maps.Keys(p.Measured)) {
		m := p.Measured[id]
		if err := CheckValue(kind, id, m.Value); err != nil {
			v.bad(where+".measured."+clip(id), err.Error(), "")
		}
		if math.IsNaN(m.Within) || m.Within < 0 || m.Within > MaxOff {
			v.bad(where+".measured."+clip(id), fmt.Sprintf("within is %g", m.Within), fmt.Sprintf("0 to %g, a part of the value", MaxOff))
		}
	}
	for _, id := range sortedKeys(p.Values) {
		if err := CheckValue(kind, id, p.Values[id]); err != nil {
			v.bad(where+".values."+clip(id), err.Error(), "")
		}
	}
	if _, ok := kind.Hookup(p.Hookup); !ok && p.Hookup != "" {
		v.bad(where+".hookup", fmt.Sprintf("there is no hookup %q for a %s", clip(p.Hookup), kind.Name), "leave it out when it is wired by hand")
	}
	switch owner := v.doc.Part(p.Of); {
	case p.Of == "":
	case owner == nil:
		v.bad(where+".of", fmt.Sprintf("there is no part %q", clip(p.Of)), "it names the part whose hookup brought this one")
	case owner.Of != "":
		// Whoever looks for a part's helpers looks one step far: chains and circles have no meaning.
		v.bad(where+".of", fmt.Sprintf("%q belongs to a part itself", clip(p.Of)), "it may name only a part that no hookup brought")
	}
	names := map[string]bool{}
	for j, s := range p.Signals {
		at := where + ".signals[" + strconv.Itoa(j) + "]"
		if names[s.Name] || s.Name == "" {
			v.bad(at+".name", "it needs a name of its own", "")
		}
		if what, right := NameProblem(s.Name); what != "" {
			v.bad(at+".name", what, right)
		}
		names[s.Name] = true
		if !slices.Contains(board.Functions, s.Needs) {
			v.bad(at+".needs", fmt.Sprintf("%q is not something a pin can do", clip(string(s.Needs))), fmt.Sprintf("one of %v", board.Functions))
		}
		if _, ok := v.board.Pin(s.Pin); !ok {
			v.bad(at+".pin", fmt.Sprintf("the %s has no pin %q", v.board.Name, clip(s.Pin)), "its pins are "+pinNames(v.board))
		}
		if s.Active != "" && s.Active != part.ActiveLow {
			v.bad(at+".active", fmt.Sprintf("%q is not a level", clip(s.Active)), "low, or left out for high")
		}
		if s.Pull != board.NoPull && s.Pull != board.PullUp && s.Pull != board.PullDown {
			v.bad(at+".pull", fmt.Sprintf("%q is not a pull", clip(string(s.Pull))), "up, down, or left out")
		}
	}
}

// MaxOff is the largest part of a value that a meter may be off.
const MaxOff = 0.2

// CheckValue reports why a part of the kind cannot have the value.
func CheckValue(kind *part.Kind, id string, value float64) error {
	def, ok := kind.Value(id)
	if !ok {
		return fmt.Errorf("a %s has no value %q; it has %s", kind.Name, clip(id), valueIDs(kind))
	}
	if math.IsNaN(value) || value < def.Min || value > def.Max {
		return fmt.Errorf("%s: %s is not possible here; it is between %s and %s",
			def.Name, quantity.Short(value, def.Unit), quantity.Short(def.Min, def.Unit), quantity.Short(def.Max, def.Unit))
	}
	return nil
}

func (v *validator) nets() {
	where := map[Terminal]int{}
	for i, n := range v.doc.Nets {
		at := "nets[" + strconv.Itoa(i) + "]"
		if len(n) < 2 {
			v.bad(at, "it joins nothing", "a net has two terminals or more")
		}
		for j, t := range n {
			at := at + "[" + strconv.Itoa(j) + "]"
			if k, seen := where[t]; seen {
				v.bad(at, fmt.Sprintf("%q is in nets[%d] already", clip(string(t)), k), "a terminal is in one net")
			}
			where[t] = i
			if err := v.lib.CheckTerminal(v.doc, t); err != nil {
				v.bad(at, err.Error(), "")
			}
		}
	}
}

// CheckTerminal reports why t is not a terminal of the build.
func (l *Library) CheckTerminal(d *Document, t Terminal) error {
	id, leg := t.Split()
	if id == BoardPart {
		b, ok := l.Board(d.Board)
		if !ok || !b.HasTerminal(leg) {
			return fmt.Errorf("the board has no place %q for a wire; it has %s", clip(leg), strings.Join(b.Terminals(), ", "))
		}
		return nil
	}
	p := d.Part(id)
	if p == nil {
		return fmt.Errorf("%q: there is no part %q", clip(string(t)), clip(id))
	}
	kind, ok := l.Catalogue.Kind(p.Kind)
	if !ok || !kind.HasTerminal(leg) {
		return fmt.Errorf("%q: %s has no terminal %q", clip(string(t)), p.Name, clip(leg))
	}
	return nil
}

func kindIDs(c *part.Catalogue) string {
	ids := make([]string, len(c.Kinds))
	for i, k := range c.Kinds {
		ids[i] = k.ID
	}
	return strings.Join(ids, ", ")
}

func typeIDs(k *part.Kind) string {
	if len(k.Types) == 0 {
		return "leave the type out"
	}
	ids := make([]string, len(k.Types))
	for i, t := range k.Types {
		ids[i] = t.ID
	}
	return "the types are " + strings.Join(ids, ", ")
}

func valueIDs(k *part.Kind) string {
	ids := make([]string, len(k.Values))
	for i, v := range k.Values {
		ids[i] = v.ID
	}
	return strings.Join(ids, ", ")
}

func pinNames(b *board.Profile) string {
	names := make([]string, len(b.Pins))
	for i, p := range b.Pins {
		names[i] = p.Name
	}
	return strings.Join(names, ", ")
}

func sortedKeys(m map[string]float64) []string {
	keys := make([]string, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// clip keeps what a file says short enough for a message.
func clip(s string) string {
	if r := []rune(s); len(r) > 40 {
		return string(r[:40]) + "…"
	}
	return s
}
