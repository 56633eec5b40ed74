package bench

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
	"cablaggio/core/running/rig"
	"cablaggio/core/values/light"
	"cablaggio/core/values/quantity"
)

// A writer makes a recording of what it sees.
type writer struct {
	said  int // bytes that were printed
	net   *wiring.Network
	rig   *rig.Rig
	power *power
	rec   *Recording
	rows  map[string]*line
	shown []*line // in their order, worked out when there is another
	pins  [machine.Pins]*line

	probes  []Probe
	acts    []int // of each actor, how many of its acts are written
	samples []int // and of each probe
	angles  []int // and of each servo, of its angles
	stress  []bool
	kicks   int     // that are marked
	most    float64 // that all pins carried
}

// A line is a row as it grows.
type line struct {
	Row
	last    Change
	written int // changes, those that were taken away since among them
	place   int // among those of its kind
}

// newWriter has hands as they rest.
func newWriter(net *wiring.Network, r *rig.Rig, p *power, o Options) *writer {
	w := &writer{net: net, rig: r, power: p, probes: o.Probes, rows: map[string]*line{}, rec: NewRecording(o),
		acts: make([]int, len(r.Actors)), samples: make([]int, len(o.Probes)), angles: make([]int, len(r.Servos)), stress: make([]bool, len(r.Actors))}
	w.rec.Actions = append(w.rec.Actions, o.Actions...)
	for i := range net.Controls {
		if c := &net.Controls[i]; c.Kind != wiring.Mode && c.Kind != wiring.Output {
			w.moved(rig.Move{Control: i, To: rig.Rest(c)})
		}
	}
	return w
}

// moved writes what a hand has done.
func (w *writer) moved(m rig.Move) {
	c := &w.net.Controls[m.Control]
	w.change(HandRow, c.Of, c.Name, Change{At: seconds(m.At), Value: m.To, Text: c.Text(m.To)})
}

// powered writes what the board does from a time on, and how the cells stand.
func (w *writer) powered(at int64) {
	row := w.row(HandRow, Board, "Board")
	for _, s := range []state{w.power.past[0], w.power.at(at)} {
		if s.at > 0 || row.written == 0 {
			w.add(row, Change{At: seconds(s.at), Value: value(s.runs), Text: s.text})
		}
	}
	if w.net.Doc.Cells != nil {
		w.change(HandRow, Cells, "Cells", Change{At: seconds(at), Value: math.Round(10*w.power.feed.Charge) / 10, Text: w.power.cells()})
	}
}

func value(runs bool) float64 {
	if runs {
		return 1
	}
	return 0
}

// see takes in what the program does.
func (w *writer) see(e machine.Event) {
	switch e.Kind {
	case machine.Printed:
		if len(w.rec.Serial) >= maxSaid || w.said+len(e.Text) > machine.MaxPrinted {
			w.rec.Cut = true
			return
		}
		w.said += len(e.Text)
		w.rec.Serial = append(w.rec.Serial, Said{seconds(e.At), e.Text, e.Line})
	case machine.Moded:
		text := modes[machine.Mode(e.Value)]
		if text == "" {
			text = levels[bit(e.Max)]
		}
		w.pin(e, text, e.Max)
	case machine.Wrote:
		w.pin(e, levels[bit(e.Value)], e.Value)
	case machine.Read, machine.Sensed:
		if b := w.rig.Drive(e.Pin); b.Mode != machine.Driven {
			w.pin(e, readings[bit(e.Value)], e.Value)
		}
	case machine.Steered:
		text := "low"
		if e.Value > 0 {
			text = fmt.Sprintf("pulses of %g µs", math.Round(e.Value))
		}
		w.pin(e, text, e.Value)
	case machine.Dutied:
		part := e.Value / max(e.Max, 1)
		w.pin(e, percent(part), part)
	case machine.Toned:
		text := "low"
		if e.Value > 0 {
			text = fmt.Sprintf("%g Hz", e.Value)
		}
		w.pin(e, text, e.Value)
	}
}

// percents are the whole ones, in words: a program may write one at each round of its loop.
var percents = func() (out [101]string) {
	for i := range out {
		out[i] = fmt.Sprintf("%d %%", i)
	}
	return out
}()

func percent(part float64) string {
	if n := math.RoundToEven(100 * part); n >= 0 && n <= 100 {
		return percents[int(n)]
	}
	return fmt.Sprintf("%.0f %%", 100*part)
}

// What pins do, in words; a driven one is at its level.
var (
	modes    = [...]string{machine.LetGo: "input", machine.PulledUp: "pulled up", machine.PulledDown: "pulled down", machine.Driven: ""}
	levels   = [2]string{"low", "high"}
	readings = [2]string{"reads low", "reads high"}
)

func bit(level float64) int {
	if level > 0 {
		return 1
	}
	return 0
}

func (w *writer) pin(e machine.Event, text string, value float64) {
	if uint(e.Pin) >= machine.Pins {
		return
	}
	row := w.pins[e.Pin]
	if row == nil {
		name := rig.PinName(w.net, e.Pin)
		row = w.row(PinRow, name, name)
		w.pins[e.Pin] = row
	}
	open := e.Kind == machine.Moded && machine.Mode(e.Value) == machine.LetGo
	w.add(row, Change{At: seconds(e.At), Value: value, Text: text, Line: e.Line, Open: open})
}

// letGo writes that the board lets go of all pins, as it stops or begins anew.
func (w *writer) letGo(at int64) {
	for _, row := range w.pins {
		if row != nil {
			w.add(row, Change{At: seconds(at), Text: modes[machine.LetGo], Open: true})
		}
	}
}

// row is the row of something, new if need be.
func (w *writer) row(kind RowKind, of, name string) *line {
	key := string(kind) + of + name
	row := w.rows[key]
	if row == nil {
		row = &line{Row: Row{Kind: kind, Of: of, Name: name, Changes: []Change{}}, place: w.place(kind, of)}
		if kind == LampRow {
			row.Lamp, row.Ink = w.lamp(of, name)
		}
		w.rows[key] = row
	}
	return row
}

// lamp says which lamp of a part's case it is, and its colour.
func (w *writer) lamp(of, name string) (id, ink string) {
	i := slices.IndexFunc(w.net.Lamps, func(l wiring.Lamp) bool { return l.Part.ID == of && l.Name == name })
	if i < 0 {
		return "", ""
	}
	l := w.net.Lamps[i]
	kind, _ := w.net.Library.Catalogue.Kind(l.Part.Kind)
	return l.Emitter.ID, l.Ink(kind).ID
}

// change adds to the row of something what is another thing than before.
func (w *writer) change(kind RowKind, of, name string, c Change) { w.add(w.row(kind, of, name), c) }

func (w *writer) add(row *line, c Change) {
	switch {
	case row.written > 0 && row.last.Text == c.Text && row.last.Value == c.Value:
	case len(row.Changes) >= maxChanges:
		w.rec.Cut = true
	default:
		row.Changes = append(row.Changes, c)
		row.last = c
		row.written++
	}
}

// catchUp writes what lamps, loads and probes have done up to now.
func (w *writer) catchUp() {
	for i := range w.rig.Actors {
		a := &w.rig.Actors[i]
		w.rec.Cut = w.rec.Cut || a.Lost
		for _, x := range a.Acts[w.acts[i]:] {
			w.act(a, x)
			w.stressed(i, x)
		}
		w.acts[i] = len(a.Acts)
	}
	for i := range w.probes {
		p := w.rig.Probes[i]
		w.rec.Cut = w.rec.Cut || p.Lost
		for _, s := range p.Samples[w.samples[i]:] {
			w.sample(w.probes[i], s)
		}
		w.samples[i] = len(p.Samples)
	}
	for i := range w.rig.Servos {
		s := &w.rig.Servos[i]
		for _, x := range s.Angles[w.angles[i]:] {
			w.change(TurnRow, s.Part.ID, s.Part.Name, Change{At: seconds(x.At), Value: x.Degrees, Text: fmt.Sprintf("%.0f°", x.Degrees)})
		}
		w.angles[i] = len(s.Angles)
	}
	for ; w.kicks < len(w.rig.Kicks); w.kicks++ {
		k := w.rig.Kicks[w.kicks]
		w.mark(Stress{seconds(k.At), k.Part.ID, fmt.Sprintf("%s is driven to %s as its coil is switched off; it stands %s", k.Part.Name, wiring.KickWords(k.Volts), quantity.Short(k.Most, quantity.Volt))})
	}
	w.stressedBoard()
}

// forget drops what was written of what acted before a time, but what holds at it.
func (w *writer) forget(before int64) {
	for i := range w.rig.Actors {
		a := &w.rig.Actors[i]
		k := 0
		for k+1 < w.acts[i] && a.Acts[k+1].At <= before {
			k++
		}
		a.Acts, a.Lost = a.Acts[k:], false
		w.acts[i] -= k
	}
	for i, p := range w.rig.Probes {
		if k := w.samples[i] - 1; k > 0 {
			p.Samples, p.Lost = p.Samples[k:], false
			w.samples[i] -= k
		}
	}
}

// end closes the recording.
func (w *writer) end(e machine.Ending) *Recording {
	w.catchUp()
	for i := range w.rig.Actors {
		a := &w.rig.Actors[i]
		if row := w.rows[string(LampRow)+a.Part.ID+a.Name]; row != nil {
			row.Looks = w.looks(a, e.At/2, e.At)
		}
	}
	w.rec.ended(e)
	w.rec.Rows = w.ordered()
	return w.rec
}

// ended notes how a run came to its end.
func (r *Recording) ended(e machine.Ending) {
	r.Ended, r.Line = seconds(e.At), e.Line
	switch e.How {
	case machine.Over:
		r.How = "over"
	case machine.Done:
		r.How = "done"
	case machine.Slow:
		r.How, r.Why = "too much", "the program does more than is followed"
	case machine.Crashed:
		r.How, r.Why = "broke off", program.Broke(e.What)
	}
}

// The order in which kinds of rows are shown.
var kinds = []RowKind{VoltRow, HandRow, PinRow, LampRow, SoundRow, LoadRow, TurnRow}

// place is where among those of its kind a row is shown.
func (w *writer) place(kind RowKind, of string) int {
	if kind == PinRow {
		return slices.IndexFunc(w.net.Board.Pins, func(p boardPin) bool { return p.Name == of })
	}
	return slices.IndexFunc(w.net.Doc.Parts, func(p buildPart) bool { return p.ID == of })
}

// ordered are the rows in the order in which they are shown.
func (w *writer) ordered() []Row {
	if len(w.shown) != len(w.rows) {
		w.shown = slices.SortedFunc(maps.Values(w.rows), func(a, b *line) int {
			return cmp.Or(slices.Index(kinds, a.Kind)-slices.Index(kinds, b.Kind), a.place-b.place, strings.Compare(a.Name, b.Name))
		})
	}
	rows := make([]Row, len(w.shown))
	for i, row := range w.shown {
		rows[i] = row.Row
	}
	return rows
}

// act writes what a lamp, a buzzer or a load does from a time on.
func (w *writer) act(a *rig.Actor, x rig.Act) {
	kind, _ := w.net.Library.Catalogue.Kind(a.Part.Kind)
	at := seconds(x.At)
	if x.Amps < nothing {
		x.Amps = 0
	}
	switch {
	case a.Lamp:
		l := Lightness(w.net, a.Element, x.Amps)
		w.change(LampRow, a.Part.ID, a.Name, Change{At: at, Value: math.Round(l*10) / 10, Text: fmt.Sprintf("%s, %s", light.Word(l), quantity.Format(x.Amps, quantity.Ampere))})
	case kind.Acts == part.Tone || kind.Acts == part.Sounds:
		text := "silent"
		if kind.Acts == part.Sounds {
			if x.Hertz = 0; x.Amps >= a.On { // whatever switches it: the tone is its own
				x.Hertz = wiring.ValueOf(kind, a.Part, "tone").Typ
			}
		}
		if x.Hertz > 0 {
			text = fmt.Sprintf("%g Hz", x.Hertz)
		}
		w.change(SoundRow, a.Part.ID, a.Name, Change{At: at, Value: x.Hertz, Text: text})
	default:
		w.change(LoadRow, a.Part.ID, a.Name, Change{At: at, Value: x.Amps, Text: quantity.Format(x.Amps, quantity.Ampere)})
	}
}

// nothing is the current in amperes below which there is none to speak of: what inputs leak.
const nothing = 1e-7

// Lightness is how bright a lamp, by its element, looks at a current in amperes, 0 to 100, beside
// itself at the current at which its light is stated (CIE 15:2004, 8.2.1; light in proportion to
// current, common practice).
func Lightness(net *wiring.Network, lamp int, amps float64) float64 {
	full := 0.0
	for _, l := range net.Lamps {
		if l.Element == lamp {
			kind, _ := net.Library.Catalogue.Kind(l.Part.Kind)
			full = l.Value(kind, "testCurrent").Typ
		}
	}
	if full <= 0 {
		return 0
	}
	return math.Min(100, light.Lightness(amps/full))
}

// seen is from how many changes a second on the eye sees no blinking any more (common practice).
const seen = 60

// hardly is the part of the time that is not worth a word.
const hardly = 0.005

// looks says what one sees of a lamp from one time to another.
func (w *writer) looks(a *rig.Actor, begin, end int64) string {
	in := a.Within(begin, end)
	if len(in) == 0 {
		return "dark"
	}
	var lit, total, light_ float64
	var rises []int64
	for i, x := range in {
		from, to := max(x.At, begin), end
		if i+1 < len(in) {
			to = in[i+1].At
		}
		span := float64(to - from)
		total += span
		light_ += span * x.Amps
		if x.Amps >= a.On {
			lit += span
		}
		if i > 0 && x.Amps >= a.On && in[i-1].Amps < a.On {
			rises = append(rises, x.At)
		}
	}
	mean := light_ / math.Max(total, 1)
	l := Lightness(w.net, a.Element, mean)
	switch {
	case len(rises) >= 2:
		hertz := float64(len(rises)-1) / (float64(rises[len(rises)-1]-rises[0]) / 1e9)
		if hertz > seen {
			return fmt.Sprintf("looks steady, at %.0f %%", l)
		}
		return fmt.Sprintf("blinks at %.3g Hz", hertz)
	case total > 0 && lit > (1-hardly)*total:
		return fmt.Sprintf("lit, at %.0f %%", l)
	case lit > hardly*total:
		return fmt.Sprintf("lit for %.0f %% of the time", 100*lit/total)
	case lit > 0:
		return "dark, but for a moment"
	case mean > 1e-6:
		return "glows faintly"
	}
	return "dark"
}

// stressed marks a part that passes an absolute limit, at its first moment.
func (w *writer) stressed(actor int, x rig.Act) {
	a := &w.rig.Actors[actor]
	limit := w.net.Elements[a.Element].Limit.Absolute
	if limit <= 0 || x.Amps <= limit || w.stress[actor] {
		return
	}
	w.stress[actor] = true
	w.mark(Stress{seconds(x.At), a.Part.ID,
		fmt.Sprintf("%s takes %s; its limit is %s", a.Name, quantity.Format(x.Amps, quantity.Ampere), quantity.Short(limit, quantity.Ampere))})
}

// stressedBoard marks the moment at which all pins together carried most, if that is too much.
func (w *writer) stressedBoard() {
	limit := w.net.Board.Logic.Total.Absolute
	if limit <= 0 || w.rig.Most <= max(limit, w.most) {
		return
	}
	w.most = w.rig.Most
	w.rec.Stress = slices.DeleteFunc(w.rec.Stress, func(s Stress) bool { return s.Of == Board })
	w.mark(Stress{seconds(w.rig.MostAt), Board,
		fmt.Sprintf("all pins together carry %s; the limit is %s", quantity.Format(w.rig.Most, quantity.Ampere), quantity.Short(limit, quantity.Ampere))})
}

func (w *writer) mark(s Stress) {
	w.rec.Stress = append(w.rec.Stress, s)
	slices.SortStableFunc(w.rec.Stress, func(a, b Stress) int { return cmp.Compare(a.At, b.At) })
}
