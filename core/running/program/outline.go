package program

import (
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/rig"
)

// An outline is a build as a program sees it: what it can switch, dim, sound, read and count.
type outline struct {
	doc     *build.Document
	board   *board.Profile
	outs    []out
	groups  [][]int // of outs that are on one at a time
	ins     []in
	knobs   []knob
	pulses  []pulse
	pads    []pad
	chains  []chain
	sonars  []sonar
	dials   []dial
	digits  [][]int // of outs that are the bars of a digit
	talks   bool    // the serial link is free to print by
	ownName map[string]bool
}

// An out is a pin that drives something.
type out struct {
	part   *build.Part
	words  string // "stop request lamp", "red of sky"
	pin    string
	low    bool // the low level switches it on
	open   bool // off is to let it go
	dims   bool
	tone   bool // it sounds by a tone
	pwm    bool // its pin has PWM
	steers bool // it is a servo's signal
	group  int  // of those that take turns; -1: none
	bar    bool // of a digit
}

// An in is a pin that reads a contact or a level.
type in struct {
	part   *build.Part
	words  string
	pin    string
	pull   board.Pull
	closed bool    // what it reads when it is closed or triggered
	when   string  // what that is called: "pressed"
	wait   float64 // seconds that it must stay so to count
}

// A knob is a pin that measures.
type knob struct {
	part   *build.Part
	words  string
	pin    string
	middle float64 // of its readings over the part's range, as a share of the full scale
}

// A pulse is a pin whose pulses are counted.
type pulse struct {
	in             // what it must be quiet for in front of a pulse is its wait
	each   float64 // closings of a turn
	factor float64 // what a turn stands for
	polled bool    // no interrupt tells of them
}

// A pad is a keypad of which some legs are driven and the others read.
type pad struct {
	part         *build.Part
	words        string
	driven, read []string // pins
	rows         bool     // the driven are the rows
	open         bool     // the driven are let go between
	keys         string   // what is printed on them, row by row
	ladder       *ladder  // nil: rows and columns
	pull         board.Pull
	active       bool // the level that selects
}

// A chain is registers one behind the other.
type chain struct {
	words              string
	data, clock, latch string   // pins; no latch where there is none
	lamps              []string // by output, the first one of the first register first; empty: nothing there
	highLights         bool
}

func newOutline(lib *build.Library, doc *build.Document) *outline {
	b, _ := lib.Board(doc.Board)
	bare := doc.Clone()
	bare.Assembly, bare.Program = nil, nil
	net := wiring.Build(lib, bare)
	o := &outline{doc: doc, board: b, talks: true, ownName: map[string]bool{}}
	registers := []*build.Part{}
	for i := range doc.Parts {
		p := &doc.Parts[i]
		kind, ok := lib.Catalogue.Kind(p.Kind)
		if !ok {
			continue
		}
		if kind.Is(part.Register) {
			registers = append(registers, p)
			continue
		}
		if kind.Is(part.Keys) && len(p.Signals) == 1 && p.Signals[0].Needs == board.AnalogIn {
			o.addLadder(net, p, p.Signals[0])
			continue
		}
		if kind.Is(part.Keys) && slices.ContainsFunc(p.Signals, func(s build.Signal) bool { return s.Needs == board.DigitalOut }) {
			o.addPad(net, p)
			continue
		}
		if kind.Is(part.Echo) && len(p.Signals) == 2 {
			o.sonars = append(o.sonars, sonar{p, p.Name, p.Signals[0].Pin, p.Signals[1].Pin})
			continue
		}
		if kind.Is(part.Encoder) && len(p.Signals) > 1 {
			a, b := p.Signals[0], p.Signals[1]
			o.dials = append(o.dials, dial{p, p.Name, a.Pin, b.Pin, [2]in{{pull: a.Pull}, {pull: b.Pull}}})
			for _, s := range p.Signals[2:] {
				o.add(net, p, kind, s)
			}
			continue
		}
		first := len(o.outs)
		for _, s := range p.Signals {
			o.add(net, p, kind, s)
		}
		if kind.Shows == part.Digits && len(o.outs)-first == len(p.Signals) && len(p.Signals) > 0 {
			var bars []int
			for k := first; k < len(o.outs); k++ {
				o.outs[k].bar = true
				bars = append(bars, k)
			}
			o.digits = append(o.digits, bars)
		}
	}
	o.addChains(net, registers)
	o.signalGroups()
	for _, g := range doc.Exclusive {
		var members []int
		for i := range o.outs {
			if slices.Contains(g, o.outs[i].part.ID) && !o.outs[i].dims && o.outs[i].group < 0 {
				o.outs[i].group = len(o.groups)
				members = append(members, i)
			}
		}
		if len(members) > 0 {
			o.groups = append(o.groups, members)
		}
	}
	for _, pin := range b.Pins {
		if pin.Own != nil && strings.HasPrefix(pin.Own.For, "serial link") && slices.ContainsFunc(net.Uses, func(u wiring.Use) bool { return u.Pin.Name == pin.Name }) {
			o.talks = false
		}
	}
	return o
}

// signalGroups makes groups of the signals of a part of which one is active at a time, as the
// segments of a bar that share a resistor.
func (o *outline) signalGroups() {
	of := map[string]int{}
	for i := range o.outs {
		x := &o.outs[i]
		name := ""
		for _, s := range x.part.Signals {
			if s.Pin == x.pin {
				name = s.Group
			}
		}
		if name == "" || x.dims {
			continue
		}
		key := x.part.ID + " " + name
		k, ok := of[key]
		if !ok {
			k = len(o.groups)
			of[key] = k
			o.groups = append(o.groups, nil)
		}
		x.group = k
		o.groups[k] = append(o.groups[k], i)
	}
}

// add takes in one signal of a part.
func (o *outline) add(net *wiring.Network, p *build.Part, kind *part.Kind, s build.Signal) {
	words := p.Name
	if len(p.Signals) > 1 {
		words = strings.ReplaceAll(s.Name, "-", " ") + " of " + p.Name
		if c := net.HandOf(p.ID, s.Name); c >= 0 && net.Controls[c].Of != p.ID {
			words = net.Controls[c].Name
		}
	}
	switch s.Needs {
	case board.DigitalOut, board.PWMOut:
		x := out{part: p, words: words, pin: s.Pin, low: s.Active == part.ActiveLow, open: s.Open, dims: s.Needs == board.PWMOut, group: -1}
		x.tone = kind.Acts == part.Tone
		if kind.Is(part.Servo) {
			x.steers, x.dims = true, false
		}
		if pin, ok := net.Board.Pin(s.Pin); ok {
			x.pwm = pin.Has(board.PWMOut)
		}
		o.outs = append(o.outs, x)
	case board.AnalogIn:
		o.knobs = append(o.knobs, knob{p, words, s.Pin, middleOf(net, p, s)})
	default:
		x := in{part: p, words: words, pin: s.Pin, pull: s.Pull, when: "closed", wait: 0.02}
		if w := rig.ValueOf(net, p, "debounce"); w > 0 {
			x.wait = w
		}
		x.closed = closedReads(net, p, s)
		if c := net.HandOf(p.ID, s.Name); c >= 0 && len(net.Controls[c].Settings) == 2 {
			x.when = net.Controls[c].Settings[wiring.Closed]
		}
		if closures := rig.ValueOf(net, p, "closures"); closures > 0 {
			// A contact that bounces is quiet before it closes, and for longer than it bounces.
			x.wait = max(0.001, wiring.ValueOf(kind, p, "bounce").High)
			if rate := rig.ValueOf(net, p, "rate"); rate > 0 {
				x.wait = min(x.wait, 1/(4*rate))
			}
			o.pulses = append(o.pulses, pulse{in: x, each: closures, factor: rig.ValueOf(net, p, "factor"), polled: s.Needs != board.Interrupt})
			return
		}
		o.ins = append(o.ins, x)
	}
}

// measure is what is counted in a second, as an expression in the part's own unit.
func (x *pulse) measure(counted string) string {
	if x.each != 1 {
		counted += " / " + decimal(x.each)
	}
	if x.factor != 1 {
		counted += " * " + decimal(x.factor)
	}
	return counted
}

// decimal writes a number so that what is reckoned with it has decimals.
func decimal(v float64) string {
	text := strconv.FormatFloat(v, 'f', -1, 64)
	if !strings.Contains(text, ".") {
		text += ".0"
	}
	return text
}

// middleOf is the middle of what a pin reads while its part goes over its range, as a share of
// the full scale.
func middleOf(net *wiring.Network, p *build.Part, s build.Signal) float64 {
	r := rig.New(net)
	i := net.HandOf(p.ID, s.Name)
	if i < 0 || len(net.Controls[i].Planned) == 0 {
		return 0.5
	}
	c := &net.Controls[i]
	sum := 0.0
	for _, level := range []float64{slices.Min(c.Planned), slices.Max(c.Planned)} {
		r.Turn(i, level)
		sum += r.Reading(net.Board.Number(s.Pin), 0)
	}
	return sum / 2
}

// closedReads is what an input reads while its contact is closed, or its sensor is triggered:
// the circuit says so.
func closedReads(net *wiring.Network, p *build.Part, s build.Signal) bool {
	r := rig.New(net)
	c := net.HandOf(p.ID, s.Name)
	pin := slices.IndexFunc(net.Controls, func(c wiring.Control) bool { return c.Kind == wiring.Mode && c.Of == s.Pin })
	if c < 0 || pin < 0 {
		return s.Pull != board.PullUp
	}
	if len(net.Controls[pin].Planned) > 0 {
		r.Turn(pin, net.Controls[pin].Planned[0])
	}
	r.Turn(c, wiring.Closed)
	return r.Level(net.Board.Number(s.Pin), 0)
}

func (o *outline) addPad(net *wiring.Network, p *build.Part) {
	x := pad{part: p, words: p.Name}
	for _, s := range p.Signals {
		if s.Needs == board.DigitalOut {
			x.driven = append(x.driven, s.Pin)
			x.rows = strings.HasPrefix(s.Name, "r")
			x.open, x.active = s.Open, s.Active != part.ActiveLow
		} else {
			x.read = append(x.read, s.Pin)
			x.pull = s.Pull
		}
	}
	kind, _ := net.Library.Catalogue.Kind(p.Kind)
	x.keys = kind.Legends
	rows, columns := len(x.driven), len(x.read)
	if !x.rows {
		rows, columns = columns, rows
	}
	if len(x.keys) != rows*columns || len(x.driven) == 0 {
		return // it is wired otherwise than a keypad
	}
	o.pads = append(o.pads, x)
}

// addChains follows what falls out of each register into the next.
func (o *outline) addChains(net *wiring.Network, registers []*build.Part) {
	follows := func(a *build.Part) *build.Part {
		for _, b := range registers {
			for _, leg := range []string{"serial", "qh"} {
				if b != a && o.doc.Joined(build.Of(a.ID, leg), build.Of(b.ID, "data")) {
					return b
				}
			}
		}
		return nil
	}
	pin := func(p *build.Part, leg string) string {
		i := o.doc.NetOf(build.Of(p.ID, leg))
		if i < 0 {
			return ""
		}
		for _, t := range o.doc.Nets[i] {
			if _, name := t.Split(); t.OnBoard() {
				if _, ok := o.board.Pin(name); ok {
					return name
				}
			}
		}
		return ""
	}
	for _, first := range registers {
		data := pin(first, "data")
		if data == "" || pin(first, "clock") == "" {
			continue
		}
		c := chain{words: first.Name, data: data, clock: pin(first, "clock"), latch: pin(first, "latch"), highLights: true}
		for p := first; p != nil && len(c.lamps) < 64; p = follows(p) {
			for _, leg := range []string{"qa", "qb", "qc", "qd", "qe", "qf", "qg", "qh"} {
				name, high := lampOn(net, build.Of(p.ID, leg))
				c.lamps = append(c.lamps, name)
				if name != "" {
					c.highLights = high
				}
			}
		}
		o.chains = append(o.chains, c)
	}
}

// lampOn is the lamp that an output of a chip switches, and whether a high one lights it.
func lampOn(net *wiring.Network, leg build.Terminal) (name string, high bool) {
	i := slices.IndexFunc(net.Controls, func(c wiring.Control) bool { return c.Of == string(leg) })
	if i < 0 {
		return "", true
	}
	r := rig.New(net)
	r.Settle()
	before := make([]float64, len(r.Actors))
	for k := range r.Actors {
		before[k], _ = r.Through(&r.Actors[k])
	}
	r.Turn(i, wiring.High)
	for k := range r.Actors {
		if after, _ := r.Through(&r.Actors[k]); after > before[k]+rig.OnAmps {
			return r.Actors[k].Part.Name, true
		} else if after < before[k]-rig.OnAmps {
			return r.Actors[k].Part.Name, false
		}
	}
	return "", true
}

// identifier makes a name for a program of a part's name, in the manner of a language, and
// one that nothing else has.
func (o *outline) identifier(words string, l build.Language) string {
	var parts []string
	for _, w := range strings.FieldsFunc(strings.ToLower(words), func(r rune) bool {
		return (r < 'a' || r > 'z') && (r < '0' || r > '9')
	}) {
		if w != "of" && w != "the" {
			parts = append(parts, w)
		}
	}
	if len(parts) == 0 || parts[0][0] >= '0' && parts[0][0] <= '9' {
		parts = append([]string{"part"}, parts...)
	}
	name := strings.Join(parts, "_")
	if l == build.CPP {
		for i := 1; i < len(parts); i++ {
			parts[i] = strings.ToUpper(parts[i][:1]) + parts[i][1:]
		}
		name = strings.Join(parts, "")
	}
	if reserved[name] || numbered.MatchString(name) {
		name += "Pin"
	}
	for base, n := name, 2; o.ownName[name]; n++ {
		name = fmt.Sprintf("%s%d", base, n)
	}
	o.ownName[name] = true
	return name
}

// numbered are names that starters and test programs give themselves.
var numbered = regexp.MustCompile(`^(data|clock|latch|driven|read|keys?|was|now|near|at|down|scan|show|counted|count|pulses|edge|closed|held|since|bars|figure)\d+$`)

// reserved are the words that a program cannot give to a part.
var reserved = func() map[string]bool {
	out := map[string]bool{}
	for _, w := range strings.Fields(`auto bool break case catch char class const continue default delete do double else enum false float for friend goto if
		inline int long new not operator or and private public return short signed sizeof static struct switch template this throw true try union unsigned using
		virtual void volatile while byte word boolean setup loop delay map min max abs random round tone bit sq time board machine pin led key keys beat now pass
		def del elif except from global import in is lambda none nonlocal raise with yield print range len sum open input contact update scan show duty step index log exp sin cos tan sqrt pow floor ceil free
		figures bars beep held link was look wait say sys select supervisor ms at near digitalio analogio pwmio countio`) {
		out[w] = true
	}
	return out
}()
