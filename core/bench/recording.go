package bench

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"time"

	"cablaggio/core/light"
	"cablaggio/core/machine"
	"cablaggio/core/program"
	"cablaggio/core/quantity"
	"cablaggio/core/rig"
	"cablaggio/core/wiring"
)

// Format is the name and version of the file format of recordings.
const Format = "cablaggio.recording/1"

// A Recording is what everything did in a run.
type Recording struct {
	Format  string   `json:"format"`
	Seed    uint64   `json:"seed"`
	Lasts   float64  `json:"lasts"` // s that were asked for
	Ended   float64  `json:"ended"` // s after which it ended
	How     string   `json:"how"`   // "over"; "done": the program came to its end; "broke off"; "too much"
	Why     string   `json:"why,omitempty"`
	Line    int      `json:"line,omitempty"` // of the program, where it broke off
	Actions []Action `json:"actions"`
	Rows    []Row    `json:"rows"`
	Serial  []Said   `json:"serial"`
	Stress  []Stress `json:"stress"` // what passed an absolute limit, when first
	Cut     bool     `json:"cut"`    // more happened than is kept
}

// A RowKind says what a row is of.
type RowKind string

// The kinds of rows.
const (
	HandRow  RowKind = "hand"  // a contact, a knob, a keypad, a sensor
	PinRow   RowKind = "pin"   // a pin: level, duty, or let go
	LampRow  RowKind = "lamp"  // how bright it looks, 0 to 100
	SoundRow RowKind = "sound" // in hertz
	LoadRow  RowKind = "load"  // in amperes
	VoltRow  RowKind = "volts" // of a probe, in volts
)

// A Row is one thing over time.
type Row struct {
	Kind    RowKind  `json:"kind"`
	Of      string   `json:"of"` // the part, the pin, or the probe's places
	Name    string   `json:"name"`
	Looks   string   `json:"looks,omitempty"` // of a lamp, what one sees: "blinks at 2 Hz"
	Changes []Change `json:"changes"`
}

// A Change is what a row is from a time on.
type Change struct {
	At    float64 `json:"at"` // s
	Value float64 `json:"value"`
	Text  string  `json:"text"`
	Line  int     `json:"line,omitempty"` // of the program that did it
}

// Said is text that the program printed.
type Said struct {
	At   float64 `json:"at"`
	Text string  `json:"text"`
	Line int     `json:"line"`
}

// Stress is something that passed an absolute limit.
type Stress struct {
	At    float64 `json:"at"`
	Of    string  `json:"of"`
	Words string  `json:"words"`
}

const (
	maxChanges = 5000 // of a row
	maxSaid    = 5000
	maxCalls   = 20_000_000 // that a program may make in a run
)

// Options say how a run goes.
type Options struct {
	Actions []Action
	Lasts   time.Duration
	Seed    uint64 // of bounce and noise
	Probes  []Probe
}

// Run runs a program on a build's wiring; a nil program leaves all pins let go. Its error is an
// [*ActionError], a [*ProbeError], that of the context, or of a machine that does not work.
func Run(ctx context.Context, net *wiring.Network, made *program.Compiled, o Options) (*Recording, error) {
	if err := Check(net, o.Actions); err != nil {
		return nil, err
	}
	noise := rand.New(rand.NewPCG(o.Seed, 0x9e3779b97f4a7c15))
	r := rig.New(net)
	r.Timed()
	r.Noise(rand.New(rand.NewPCG(o.Seed, 1)))
	hands, typed := moves(net, o.Actions, int64(o.Lasts), noise)
	r.Plan(hands)
	for _, a := range o.Actions {
		if pin, ok := net.Board.Pin(a.Of); ok && a.Do == Touch {
			r.Touch(net.Board.Number(pin.Name), int64(a.At*1e9))
		}
	}
	w := &writer{net: net, rig: r, rows: map[string]*Row{}, rec: &Recording{
		Format: Format, Seed: o.Seed, Lasts: o.Lasts.Seconds(), Actions: o.Actions, Rows: []Row{}, Serial: []Said{}, Stress: []Stress{},
	}}
	if w.rec.Actions == nil {
		w.rec.Actions = []Action{}
	}
	if err := watch(r, net, o.Probes); err != nil {
		return nil, &ProbeError{err}
	}
	b := machine.NewBoard(net.Board, r)
	b.Limit, b.Receive, b.Seen, b.Most = int64(o.Lasts), typed, w.see, maxCalls
	r.Settle()
	ending := machine.Ending{How: machine.Over, At: int64(o.Lasts)}
	if made != nil && made.Program != nil {
		var err error
		if ending, err = made.Program.Run(ctx, b); err != nil {
			return nil, err
		}
	} else {
		b.Begin(nil)
		for err := error(nil); err == nil && ctx.Err() == nil; {
			err = b.Pause(int64(time.Second), 0)
		}
		if ctx.Err() != nil {
			return nil, ctx.Err()
		}
	}
	w.probes(o.Probes)
	w.end(ending, hands)
	return w.rec, nil
}

// A writer makes a recording of what it sees.
type writer struct {
	net  *wiring.Network
	rig  *rig.Rig
	rec  *Recording
	rows map[string]*Row
	pins [machine.Pins]*Row
	line int // of the program, that did something last
}

// see takes in what the program does.
func (w *writer) see(e machine.Event) {
	if e.Line > 0 {
		w.line = e.Line
	}
	at := float64(e.At) / 1e9
	switch e.Kind {
	case machine.Printed:
		if len(w.rec.Serial) >= maxSaid {
			w.rec.Cut = true
			return
		}
		w.rec.Serial = append(w.rec.Serial, Said{at, e.Text, e.Line})
	case machine.Moded:
		text := modes[machine.Mode(e.Value)]
		if text == "" {
			text = levels[e.Max > 0]
		}
		w.pin(e, text, e.Max)
	case machine.Wrote:
		w.pin(e, levels[e.Value > 0], e.Value)
	case machine.Read, machine.Sensed:
		if b := w.rig.Drive(e.Pin); b.Mode != machine.Driven {
			w.pin(e, readings[e.Value > 0], e.Value)
		}
	case machine.Dutied:
		w.pin(e, fmt.Sprintf("%.0f %%", 100*e.Value/max(e.Max, 1)), e.Value/max(e.Max, 1))
	case machine.Toned:
		text := "low"
		if e.Value > 0 {
			text = fmt.Sprintf("%g Hz", e.Value)
		}
		w.pin(e, text, e.Value)
	}
}

// What pins do, in words; a driven one is at its level.
var (
	modes    = [...]string{machine.LetGo: "let go", machine.PulledUp: "pulled up", machine.PulledDown: "pulled down", machine.Driven: ""}
	levels   = map[bool]string{false: "low", true: "high"}
	readings = map[bool]string{false: "reads low", true: "reads high"}
)

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
	w.add(row, Change{float64(e.At) / 1e9, value, text, e.Line})
}

// row is the row of something, new if need be.
func (w *writer) row(kind RowKind, of, name string) *Row {
	key := string(kind) + of + name
	row := w.rows[key]
	if row == nil {
		row = &Row{Kind: kind, Of: of, Name: name, Changes: []Change{}}
		w.rows[key] = row
	}
	return row
}

// change adds to the row of something what is another thing than before.
func (w *writer) change(kind RowKind, of, name string, c Change) { w.add(w.row(kind, of, name), c) }

func (w *writer) add(row *Row, c Change) {
	n := len(row.Changes)
	switch {
	case n > 0 && row.Changes[n-1].Text == c.Text && row.Changes[n-1].Value == c.Value:
	case n >= maxChanges:
		w.rec.Cut = true
	default:
		row.Changes = append(row.Changes, c)
	}
}

// end writes what is known when the run is over: hands, and all that acted.
func (w *writer) end(e machine.Ending, hands []rig.Move) {
	w.rec.Ended, w.rec.Line = float64(e.At)/1e9, e.Line
	switch e.How {
	case machine.Over:
		w.rec.How = "over"
	case machine.Done:
		w.rec.How = "done"
	case machine.Slow:
		w.rec.How, w.rec.Why = "too much", "the program does more than is followed"
	case machine.Crashed:
		w.rec.How, w.rec.Why = "broke off", program.Broke(e.What)
	}
	for i := range w.net.Controls {
		c := &w.net.Controls[i]
		if c.Kind == wiring.Mode || c.Kind == wiring.Output {
			continue
		}
		rest := rig.Rest(c)
		w.change(HandRow, c.Of, c.Name, Change{Value: rest, Text: c.Text(rest)})
		for _, m := range hands {
			if m.Control == i && m.At <= e.At {
				w.change(HandRow, c.Of, c.Name, Change{At: float64(m.At) / 1e9, Value: m.To, Text: c.Text(m.To)})
			}
		}
	}
	for i := range w.rig.Actors {
		w.actor(&w.rig.Actors[i], e.At)
	}
	w.stress()
	for _, row := range w.rows {
		w.rec.Rows = append(w.rec.Rows, *row)
	}
	order := []RowKind{VoltRow, HandRow, PinRow, LampRow, SoundRow, LoadRow}
	place := func(r Row) int {
		if r.Kind == PinRow {
			return slices.IndexFunc(w.net.Board.Pins, func(p boardPin) bool { return p.Name == r.Of })
		}
		return slices.IndexFunc(w.net.Doc.Parts, func(p buildPart) bool { return p.ID == r.Of })
	}
	slices.SortFunc(w.rec.Rows, func(a, b Row) int {
		if x := slices.Index(order, a.Kind) - slices.Index(order, b.Kind); x != 0 {
			return x
		}
		if x := place(a) - place(b); x != 0 {
			return x
		}
		return strings.Compare(a.Name, b.Name)
	})
}

// actor writes the row of a lamp, a buzzer or a load.
func (w *writer) actor(a *rig.Actor, end int64) {
	w.rec.Cut = w.rec.Cut || a.Lost
	kind, _ := w.net.Library.Catalogue.Kind(a.Part.Kind)
	for _, x := range a.Acts {
		at := float64(x.At) / 1e9
		if x.Amps < nothing {
			x.Amps = 0
		}
		switch {
		case a.Lamp:
			l := w.lightness(a, x.Amps)
			w.change(LampRow, a.Part.ID, a.Name, Change{At: at, Value: math.Round(l*10) / 10, Text: fmt.Sprintf("%s, %s", light.Word(l), quantity.Format(x.Amps, quantity.Ampere))})
		case kind.Model == "buzzer":
			text := "silent"
			if x.Hertz > 0 {
				text = fmt.Sprintf("%g Hz", x.Hertz)
			}
			w.change(SoundRow, a.Part.ID, a.Name, Change{At: at, Value: x.Hertz, Text: text})
		default:
			w.change(LoadRow, a.Part.ID, a.Name, Change{At: at, Value: x.Amps, Text: quantity.Format(x.Amps, quantity.Ampere)})
		}
	}
	if row := w.rows[string(LampRow)+a.Part.ID+a.Name]; row != nil {
		row.Looks = w.looks(a, end)
	}
}

// nothing is the current in amperes below which there is none to speak of: what inputs leak.
const nothing = 1e-7

// lightness is how bright a lamp looks at a current, beside itself at the current at which its
// light is stated (CIE 15:2004, 8.2.1; light in proportion to current, common practice).
func (w *writer) lightness(a *rig.Actor, amps float64) float64 {
	full := 0.0
	for _, l := range w.net.Lamps {
		if l.Element == a.Element {
			kind, _ := w.net.Library.Catalogue.Kind(l.Part.Kind)
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

// looks says what one sees of a lamp, in its later half: when it has come to what it does.
func (w *writer) looks(a *rig.Actor, end int64) string {
	in := a.Within(end/2, end)
	if len(in) == 0 {
		return "dark"
	}
	var lit, total, light_ float64
	var rises []int64
	for i, x := range in {
		from, to := max(x.At, end/2), end
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
	l := w.lightness(a, mean)
	switch {
	case len(rises) >= 2:
		hertz := float64(len(rises)-1) / (float64(rises[len(rises)-1]-rises[0]) / 1e9)
		if hertz > seen {
			return fmt.Sprintf("looks steady, at %.0f %%", l)
		}
		return fmt.Sprintf("blinks at %.3g Hz", hertz)
	case lit == total && total > 0:
		return fmt.Sprintf("lit, at %.0f %%", w.lightness(a, mean))
	case lit > 0:
		return fmt.Sprintf("lit for %.0f %% of the time", 100*lit/total)
	case mean > 1e-6:
		return "glows faintly"
	}
	return "dark"
}

// stress marks what passed an absolute limit, at its first moment.
func (w *writer) stress() {
	for i := range w.rig.Actors {
		a := &w.rig.Actors[i]
		limit := w.net.Elements[a.Element].Limit.Absolute
		for _, x := range a.Acts {
			if limit > 0 && x.Amps > limit {
				w.rec.Stress = append(w.rec.Stress, Stress{float64(x.At) / 1e9, a.Part.ID,
					fmt.Sprintf("%s takes %s; its limit is %s", a.Name, quantity.Format(x.Amps, quantity.Ampere), quantity.Short(limit, quantity.Ampere))})
				break
			}
		}
	}
	if limit := w.net.Board.Logic.Total.Absolute; limit > 0 && w.rig.Most > limit {
		w.rec.Stress = append(w.rec.Stress, Stress{float64(w.rig.MostAt) / 1e9, "board",
			fmt.Sprintf("all pins together carry %s; the limit is %s", quantity.Format(w.rig.Most, quantity.Ampere), quantity.Short(limit, quantity.Ampere))})
	}
	slices.SortStableFunc(w.rec.Stress, func(a, b Stress) int {
		switch {
		case a.At < b.At:
			return -1
		case a.At > b.At:
			return 1
		}
		return 0
	})
}
