package check_test

import (
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/general/parallel"
	"cablaggio/core/judgement/check"
	"cablaggio/core/testkit"
	"cablaggio/core/values/spec"
)

// An independent judge of random wirings: it writes them as netlists for ngspice by itself,
// with models of its own that take nothing from the circuit of the product but the
// catalogue's and the profiles' numbers, in every state and in the corners of five groups
// of tolerances. A danger of more than a tenth beyond a limit that is not told fails, and
// so does a stop or a care about currents and voltages where everything keeps a tenth
// inside.
func TestBesideAnIndependentJudge(t *testing.T) {
	testkit.Slow(t)
	builds := testkit.Few(25, 5000)
	gen := rapid.Custom(randomWiring)
	docs := make([]*build.Document, builds)
	for i := range docs {
		docs[i] = gen.Example(i)
	}
	m := check.NewMemory()
	judged := make([]map[string]int, builds)
	parallel.Do(builds, func(i int) { judged[i] = judge(t, m, i, docs[i]) })
	counts := map[string]int{}
	for _, j := range judged {
		for what, n := range j {
			counts[what] += n
		}
	}
	t.Logf("%d builds: %v", builds, counts)
	assert.Greater(t, counts["dangers"], builds/4)
	assert.Greater(t, counts["sound"], builds/20)
}

// thermal is the thermal voltage at the 27 °C of ngspice.
const thermal = 0.0258649

// A netlist is one wiring as the judge sees it.
type netlist struct {
	doc   *build.Document
	board *board.Profile
	net   map[build.Terminal]string
	moves []move // what may be set
	reset bool   // before the program runs no pin drives and none pulls
}

// A move is one thing that a program, a hand or the world sets, and how many ways.
type move struct {
	of   string
	ways int
}

func newNetlist(doc *build.Document) *netlist {
	b, _ := lib.Board(doc.Board)
	n := &netlist{doc: doc, board: b, net: map[build.Terminal]string{}}
	for i, net := range doc.Nets {
		name := fmt.Sprintf("n%d", i)
		for _, at := range net {
			if _, leg := at.Split(); at.OnBoard() {
				switch leg {
				case b.Ground:
					name = "0"
				case "5V", "3V3":
					name = "r" + leg
				}
			}
		}
		for _, at := range net {
			n.net[at] = name
		}
	}
	for i := range doc.Parts {
		p := &doc.Parts[i]
		switch p.Kind {
		case "button":
			n.moves = append(n.moves, move{p.ID, 2})
		case "potentiometer", "light-resistor":
			n.moves = append(n.moves, move{p.ID, 3})
		}
		for _, s := range p.Signals {
			if s.Needs == board.DigitalOut {
				n.moves = append(n.moves, move{s.Pin, 2})
			}
		}
	}
	return n
}

// at is the node of a leg in a copy of the wiring; what is not wired has one of its own.
func (n *netlist) at(part, leg, copy string) string {
	name, ok := n.net[build.Of(part, leg)]
	switch {
	case !ok:
		return "x" + part + leg + copy
	case name == "0":
		return name
	}
	return name + copy
}

func (n *netlist) states() int {
	all := 1
	for _, m := range n.moves {
		all *= m.ways
	}
	return all
}

// setting is how a state has a thing set.
func (n *netlist) setting(of string, state int) int {
	for _, m := range n.moves {
		if m.of == of {
			return state % m.ways
		}
		state /= m.ways
	}
	return 0
}

// The groups of tolerances that move together.
const (
	ofLogic = iota // the rail of the logic
	ofOther        // the other rail
	ofPins
	ofLamps
	ofResistors // and sensors, the other way
	groups
)

// typical is the corner in which nothing is off.
const typical = -1

// end is the value at a corner: each bit of it is an end of a group of tolerances.
func end(v spec.Value, corner, group int) float64 {
	switch {
	case corner == typical:
		return v.Typ
	case corner>>group&1 == 1:
		return v.High
	}
	return v.Low
}

func backwards(v spec.Value) spec.Value { return spec.Value{Low: v.High, Typ: v.Typ, High: v.Low} }

// A probe is a quantity of something, of what ngspice prints: voltages of nodes, by their
// names, and currents of sources, as "name#branch".
type probe struct {
	what, of string
	value    func(of map[string]float64) float64
}

// write writes one copy of the wiring and notes what is to be looked at, by the name of
// what ngspice prints.
func (n *netlist) write(w *strings.Builder, copy string, state, corner int, probes *[]probe) {
	l := n.board.Logic
	volts := map[string]float64{}
	var rails []string
	for _, r := range n.board.Rails {
		group := ofOther
		if r.Name == l.Rail {
			group = ofLogic
		}
		volts[r.Name] = end(r.Volts, corner, group)
		fmt.Fprintf(w, "Vr%s%s r%s%s 0 %.9g\n", r.Name, copy, r.Name, copy, volts[r.Name])
		rails = append(rails, r.Name)
	}
	look := func(what, of string, value func(map[string]float64) float64) {
		*probes = append(*probes, probe{what, of, value})
	}
	current := func(source string, by float64) func(map[string]float64) float64 {
		name := strings.ToLower(source) + "#branch"
		return func(of map[string]float64) float64 { return by * of[name] }
	}
	logic := "r" + l.Rail + copy
	for _, name := range rails {
		look("rail", name, current("vr"+name+copy, -1))
	}
	stated := func(p *build.Part, id string) spec.Value {
		k, _ := lib.Catalogue.Kind(p.Kind)
		v := k.Stated(p.Type, id)
		if own, ok := p.Values[id]; ok {
			return spec.Value{Low: v.Low / v.Typ * own, Typ: own, High: v.High / v.Typ * own}
		}
		return v
	}
	resistor := func(name, a, b string, ohms float64) { fmt.Fprintf(w, "R%s%s %s %s %.9g\n", name, copy, a, b, ohms) }
	pins := map[string]bool{}
	for i := range n.doc.Parts {
		p := &n.doc.Parts[i]
		leg := func(id string) string { return n.at(p.ID, id, copy) }
		switch p.Kind {
		case "led":
			vf := end(stated(p, "forwardVoltage"), corner, ofLamps)
			ideal, series, amps := stated(p, "ideality").Typ, stated(p, "seriesResistance").Typ, stated(p, "testCurrent").Typ
			is := amps / math.Expm1((vf-amps*series)/(ideal*thermal))
			fmt.Fprintf(w, "V%s%s %s m%s%s 0\nD%s%s m%s%s %s M%s%s\n.model M%s%s D(IS=%.9g N=%g RS=%g)\n",
				p.ID, copy, leg("anode"), p.ID, copy, p.ID, copy, p.ID, copy, leg("cathode"), p.ID, copy, p.ID, copy, is, ideal, series)
			look("lamp", p.ID, current("v"+p.ID+copy, 1))
		case "resistor":
			ohms := p.Values["resistance"] * end(spec.Value{Low: 0.95, Typ: 1, High: 1.05}, corner, ofResistors)
			resistor(p.ID, leg("1"), leg("2"), ohms)
			a, b := strings.ToLower(leg("1")), strings.ToLower(leg("2"))
			look("heat", p.ID, func(of map[string]float64) float64 { return (of[a] - of[b]) * (of[a] - of[b]) / ohms })
		case "button":
			if n.setting(p.ID, state) == 1 {
				resistor(p.ID, leg("1a"), leg("2a"), stated(p, "contactResistance").Typ)
			}
		case "potentiometer":
			track := end(backwards(stated(p, "track")), corner, ofResistors)
			left := stated(p, "endResistance").Typ / stated(p, "track").Typ
			at := []float64{left, 0.5, 1 - left}[n.setting(p.ID, state)]
			for _, half := range []struct {
				leg  string
				ohms float64
			}{{"1", track * at}, {"2", track * (1 - at)}} {
				a, b := leg(half.leg), leg("wiper")
				resistor(p.ID+half.leg, a, b, half.ohms)
				a, b = strings.ToLower(a), strings.ToLower(b)
				look("heat", p.ID, func(of map[string]float64) float64 { return (of[a] - of[b]) * (of[a] - of[b]) / half.ohms })
				look("track", p.ID, func(of map[string]float64) float64 { return (of[a] - of[b]) / half.ohms })
			}
		case "light-resistor":
			lux := []float64{1, 200, 10000}[n.setting(p.ID, state)]
			ohms := end(backwards(stated(p, "r10")), corner, ofResistors) * math.Pow(lux/10, -stated(p, "gamma").Typ)
			resistor(p.ID, leg("1"), leg("2"), ohms)
			a, b := strings.ToLower(leg("1")), strings.ToLower(leg("2"))
			look("heat", p.ID, func(of map[string]float64) float64 { return (of[a] - of[b]) * (of[a] - of[b]) / ohms })
		}
		for _, s := range p.Signals {
			pins[s.Pin] = true
			at := n.at("board", s.Pin, copy)
			switch {
			case n.reset:
			case s.Needs == board.DigitalOut && n.setting(s.Pin, state) == 1:
				fmt.Fprintf(w, "Vp%s%s %s q%s%s 0\n", s.Pin, copy, logic, s.Pin, copy)
				resistor("p"+s.Pin, "q"+s.Pin+copy, at, end(l.High, corner, ofPins))
				look("pin", s.Pin, current("vp"+s.Pin+copy, 1))
			case s.Needs == board.DigitalOut:
				fmt.Fprintf(w, "Vp%s%s q%s%s 0 0\n", s.Pin, copy, s.Pin, copy)
				resistor("p"+s.Pin, at, "q"+s.Pin+copy, end(l.Low, corner, ofPins))
				look("pin", s.Pin, current("vp"+s.Pin+copy, 1))
			case s.Pull == board.PullUp:
				resistor("p"+s.Pin, logic, at, end(l.PullUp, corner, ofPins))
			}
		}
	}
	for at := range n.net {
		if _, pin := at.Split(); at.OnBoard() {
			if _, ok := n.board.Pin(pin); ok {
				pins[pin] = true
			}
		}
	}
	for _, pin := range slices.Sorted(maps.Keys(pins)) {
		at := n.at("board", pin, copy)
		// Protection diodes: 0.6 V at a milliampere, with 20 ohms (from memory).
		fmt.Fprintf(w, "Vc%s%s %s c%s%s 0\nDc%s%s c%s%s %s CLAMP\nDg%s%s 0 %s CLAMP\nRg%s%s %s 0 1e11\n",
			pin, copy, at, pin, copy, pin, copy, pin, copy, logic, pin, copy, at, pin, copy, at)
		if corner == typical {
			look("clamp", pin, current("vc"+pin+copy, 1))
		}
	}
}

// judge compares what is found with what ngspice says of a wiring.
func judge(t *testing.T, m *check.Memory, i int, doc *build.Document) map[string]int {
	n := newNetlist(doc)
	var deck strings.Builder
	deck.WriteString("* judge\nR1 1 0 1\n.control\nset numdgt=9\n")
	var probes []probe
	copies := 0
	write := func(state, corner int, reset bool) {
		var one strings.Builder
		one.WriteString("* one\n.options reltol=1e-5 gmin=1e-13\n")
		fmt.Fprintf(&one, ".model CLAMP D(IS=%.9g N=1 RS=20)\n", 1e-3/math.Expm1((0.6-0.02)/thermal))
		n.reset = reset
		n.write(&one, fmt.Sprintf("_%d", copies), state, corner, &probes)
		copies++
		for line := range strings.Lines(one.String() + ".end\n") {
			deck.WriteString("circbyline " + line)
		}
		deck.WriteString("op\nprint all\nremcirc\ndestroy all\n")
	}
	for state := range n.states() {
		for corner := typical; corner < 1<<groups; corner++ {
			write(state, corner, false)
		}
		write(state, typical, true)
	}
	deck.WriteString("quit 0\n.endc\n.end\n")
	of := maps.Collect(testkit.Ngspice(t, deck.String()))
	if len(of) < len(probes)/4 {
		return map[string]int{"unanswered": 1}
	}
	worst := map[string]map[string]float64{}
	for _, p := range probes {
		if worst[p.what] == nil {
			worst[p.what] = map[string]float64{}
		}
		v := p.value(of)
		if p.what != "rail" {
			v = math.Abs(v)
		}
		worst[p.what][p.of] = math.Max(worst[p.what][p.of], v)
	}
	a, err := m.Check(lib, doc)
	if !assert.NoError(t, err) {
		return nil
	}
	return n.compare(t, i, a, worst)
}

// A limit is what a quantity must not exceed, what it should not, and what tells of it.
type limit struct {
	what                  string
	absolute, recommended float64
	rules                 []string
}

// compare holds what is found against what ngspice says.
func (n *netlist) compare(t *testing.T, i int, a *check.Analysis, worst map[string]map[string]float64) map[string]int {
	counts := map[string]int{}
	l := n.board.Logic
	limits := []limit{
		{"lamp", 0.03, 0.02, []string{"led-current"}},
		{"track", math.Sqrt(0.1 / 10e3), math.Sqrt(0.1 / 10e3), []string{"resistor-power"}},
		{"heat", 0.25, 0.125, []string{"resistor-power"}},
		{"pin", l.Pin.Absolute, l.Pin.Recommended, []string{"pin-current"}},
		{"clamp", l.Tolerates.Amps, 10e-6, []string{"input-voltage"}},
	}
	for _, r := range n.board.Rails {
		if worst["rail"][r.Name] > 1.1*r.Limit.Absolute {
			counts["dangers"]++
			assert.True(t, slices.ContainsFunc(a.Findings, func(x check.Finding) bool {
				return x.Level == check.Stop && (x.Rule == "rail-load" || x.Rule == "supply-short" || x.Rule == "supply-load")
			}), "build %d: %s gives %.3g A and nothing is told: %v\n%s", i, r.Name, worst["rail"][r.Name], titles(a), text(n.doc))
		}
	}
	sound := true
	for _, x := range limits {
		for of, v := range worst[x.what] {
			x := x
			if x.what == "heat" && n.doc.Part(of).Kind != "resistor" {
				x.absolute, x.recommended = 0.1, 0.05
			}
			sound = sound && v < 0.9*x.recommended
			if v <= 1.1*x.absolute {
				continue
			}
			counts["dangers"]++
			told := slices.ContainsFunc(a.Findings, func(y check.Finding) bool {
				return y.Level != check.Note && (slices.Contains(y.Parts, of) || slices.Contains(y.Pins, of))
			})
			assert.True(t, told, "build %d: %s of %s is %.3g and nothing is told: %v\n%s", i, x.what, of, v, titles(a), text(n.doc))
		}
	}
	if !sound {
		return counts
	}
	counts["sound"]++
	for _, y := range a.Findings {
		for _, x := range limits {
			assert.False(t, y.Level != check.Note && slices.Contains(x.rules, y.Rule), "build %d: all is inside and %q is told: %v\n%s", i, y.Title, worst, text(n.doc))
		}
	}
	return counts
}

func text(doc *build.Document) string {
	data, _ := json.Marshal(doc)
	return string(data)
}

// randomWiring draws a wiring by hand: chains of lamps, resistors and contacts between
// pins, rails, ground and each other.
func randomWiring(t *rapid.T) *build.Document {
	name := rapid.SampledFrom([]string{"classic-5v", "wireless-3v3"}).Draw(t, "board")
	outs, ins := []string{"D4", "D5", "D6"}, []string{"A0", "A1", "A2"}
	if name == "wireless-3v3" {
		outs, ins = []string{"IO4", "IO16", "IO17"}, []string{"IO32", "IO33", "IO34"}
	}
	doc := build.New("judged", name)
	netOf := map[string]int{} // by what a chain ends at
	var nets [][]build.Terminal
	node := func(key string, board bool) int {
		if i, ok := netOf[key]; ok {
			return i
		}
		netOf[key] = len(nets)
		var first []build.Terminal
		if board {
			first = []build.Terminal{build.Pin(key)}
		}
		nets = append(nets, first)
		return netOf[key]
	}
	join := func(i int, part, leg string) { nets[i] = append(nets[i], build.Of(part, leg)) }
	fresh := 0
	inner := func() int {
		if fresh > 0 && rapid.IntRange(0, 5).Draw(t, "shared") == 0 {
			return node(fmt.Sprint("#", rapid.IntRange(1, fresh).Draw(t, "inner")), false)
		}
		fresh++
		return node(fmt.Sprint("#", fresh), false)
	}
	rail := func(what string) int {
		return node(rapid.SampledFrom([]string{"GND", "GND", "GND", "5V", "3V3"}).Draw(t, what), true)
	}
	count := map[string]int{}
	add := func(kind string, signal *build.Signal) string {
		count[kind]++
		id := fmt.Sprintf("%s%d", strings.ReplaceAll(kind, "-", ""), count[kind])
		p := build.Part{ID: id, Kind: kind, Name: id, Values: map[string]float64{}}
		switch kind {
		case "led":
			p.Type = rapid.SampledFrom([]string{"red", "green", "blue", "yellow"}).Draw(t, "type")
		case "resistor":
			p.Values["resistance"] = rapid.SampledFrom([]float64{10, 33, 47, 100, 150, 220, 330, 470, 1000, 4700, 10000}).Draw(t, "ohms")
		}
		if signal != nil {
			p.Signals = []build.Signal{*signal}
		}
		doc.Parts = append(doc.Parts, p)
		return id
	}
	for k := range rapid.IntRange(1, 3).Draw(t, "chains") {
		var signal *build.Signal
		start := 0
		pin := outs[k%len(outs)]
		switch rapid.IntRange(0, 5).Draw(t, "from") {
		case 0:
			start = rail("rail")
		case 1:
			pin = ins[k%len(ins)]
			signal = &build.Signal{Name: "read", Needs: board.DigitalIn, Pin: pin, Pull: rapid.SampledFrom([]board.Pull{"", "up"}).Draw(t, "pull")}
			start = node(pin, true)
		default:
			signal = &build.Signal{Name: "drive", Needs: board.DigitalOut, Pin: pin}
			start = node(pin, true)
		}
		at := start
		links := rapid.IntRange(1, 3).Draw(t, "links")
		for j := range links {
			kind := rapid.SampledFrom([]string{"led", "led", "resistor", "resistor", "resistor", "button", "potentiometer", "light-resistor"}).Draw(t, "kind")
			to := rail("end")
			if j+1 < links {
				to = inner()
			}
			id := add(kind, signal)
			signal = nil
			legs := map[string][2]string{"led": {"anode", "cathode"}, "resistor": {"1", "2"}, "button": {"1a", "2a"}, "potentiometer": {"1", "2"}, "light-resistor": {"1", "2"}}[kind]
			if rapid.IntRange(0, 5).Draw(t, "turned") == 0 {
				legs[0], legs[1] = legs[1], legs[0]
			}
			join(at, id, legs[0])
			join(to, id, legs[1])
			if kind == "potentiometer" {
				join(rapid.SampledFrom([]int{at, to, inner()}).Draw(t, "wiper"), id, "wiper")
			}
			at = to
		}
	}
	for _, net := range nets {
		if len(net) > 1 {
			doc.Nets = append(doc.Nets, build.Net(net))
		}
	}
	data, err := json.Marshal(doc)
	if err != nil {
		t.Fatal(err)
	}
	doc, err = lib.Parse(data)
	if err != nil || newNetlist(doc).states() > 12 {
		t.Skip()
	}
	return doc
}
