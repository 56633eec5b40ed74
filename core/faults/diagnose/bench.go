package diagnose

import (
	"fmt"
	"hash/fnv"
	"math"
	"slices"

	"cablaggio/core/faults/meter"
	"cablaggio/core/values/quantity"
)

// A Bench is the build of a case with a fault in it, for somebody who does not know which: it
// answers what is asked as a real one would.
type Bench struct {
	c     *Case
	fault int
}

// Bench puts a fault into the build of the case, by its id.
func (c *Case) Bench(id string) (*Bench, bool) {
	for i := range c.faults {
		if c.faults[i].ID == id && !c.faults[i].Sometimes() {
			return &Bench{c, i}, true
		}
	}
	return nil, false
}

// A Choice is something that can be asked of a bench, in words.
type Choice struct {
	Ask     string   `json:"ask"`
	Sort    Sort     `json:"sort"`
	Part    string   `json:"part,omitempty"`
	Words   string   `json:"words"`
	How     []string `json:"how"`
	Ends    []string `json:"ends"`
	Trouble float64  `json:"trouble"`
}

// ways says what the meter is set to.
var ways = map[meter.Way]string{
	meter.Volts: "Volts", meter.Amps: "Amperes", meter.Ohms: "Ohms", meter.Diode: "Diode test", meter.Continuity: "Continuity", meter.Lifted: "Ohms", meter.Counts: "The console",
}

// Choices lists what can be asked about a part, or with "" about the board: a look, what it
// does, what the meter reads at it.
func (c *Case) Choices(part string) []Choice {
	out := []Choice{}
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort == Try || a.Sort == Feel || a.told || a.Part != part && (a.Part == "" || c.family(a.Part) != part) {
			continue
		}
		if a.Sort == Measure && !c.holds(i) {
			continue
		}
		n := c.tell(a)
		if n.Words == "" {
			continue
		}
		x := Choice{Ask: a.ID, Sort: a.Sort, Part: a.Part, Words: n.Words, How: n.How, Ends: []string{}, Trouble: a.trouble}
		if n.Check != nil {
			x.Words = ways[a.question.Way] + ": " + n.Words
		}
		if slices.ContainsFunc(out, func(y Choice) bool { return y.Words == x.Words && slices.Equal(y.How, x.How) }) {
			continue
		}
		for _, e := range n.Ends {
			x.Ends = append(x.Ends, e.String())
		}
		out = append(out, x)
	}
	return out
}

// Answer is what the bench answers to an ask, as an observation and in words. Its error says
// that there is no such ask.
func (b *Bench) Answer(ask string) (o Observation, words string, err error) {
	i, ok := b.c.byID[ask]
	if !ok || b.c.asks[i].Sort == Try || b.c.asks[i].Sort == Feel {
		return o, "", fmt.Errorf("there is no question %q about this build", ask)
	}
	a := &b.c.asks[i]
	o.Ask = ask
	k := 0
	if f := &b.c.faults[b.fault]; f.Everywhere() || b.c.near(b.c.classOf[b.fault], a) {
		k = b.c.classOf[b.fault]
	}
	switch a.Sort {
	case Look:
		if slices.Contains(b.c.looks[a.look].faults, b.fault) {
			f := &b.c.faults[b.fault]
			o.Answer = f.Cure
			return o, f.Sight, nil
		}
		o.Answer = asDrawn
		return o, "Everything is as on the map.", nil
	case See, Reads:
		p := b.c.predict(k, i)
		switch {
		case p.number:
			o.Answer = fmt.Sprintf("%.0f", p.value*b.c.net.Board.Logic.Analog.Full())
		case p.none:
			o.Answer = map[Sort]string{See: dark, Reads: jumps}[a.Sort]
		default:
			o.Answer = b.c.word(a, likeliest(p.labels))
		}
		return o, o.Answer, nil
	}
	x, ok := b.c.expectation(k, i)
	switch {
	case !ok:
		o.Answer = "0"
	case x.Surely || x.Over && x.Typ == 0:
		o.Answer = "OL"
	default:
		o.Answer = quantity.Short(round3(b.drawn(ask, x.Low, x.Typ, x.High)), x.Unit)
	}
	return o, o.Answer, nil
}

// drawn is a reading near the typical one, always the same at the same bench: real parts are
// not typical.
func (b *Bench) drawn(ask string, low, typ, high float64) float64 {
	h := fnv.New32a()
	h.Write([]byte(ask + b.c.faults[b.fault].ID))
	part := float64(h.Sum32()%1000)/1000 - 0.5 // of half the way to an end
	switch {
	case part < 0:
		return typ + part*(typ-low)
	case high > typ:
		return typ + part*(high-typ)
	}
	return typ
}

func round3(v float64) float64 {
	if math.Abs(v) < 1e-3 {
		return 0
	}
	d := math.Pow(10, math.Floor(math.Log10(math.Abs(v)))-2)
	return math.Round(v/d) * d
}

// Start is what everything does that is not as it should be; nothing when the fault does not
// show.
func (b *Bench) Start() (wrong, all []Observation) {
	for i := range b.c.asks {
		a := &b.c.asks[i]
		if a.Sort != See && a.Sort != Reads || a.test || a.told {
			continue
		}
		o, _, err := b.Answer(a.ID)
		if err != nil {
			continue
		}
		all = append(all, o)
		an, err := b.c.read(o)
		if err == nil && b.c.likely(-1, &an) < 0.2 {
			wrong = append(wrong, o)
		}
	}
	return wrong, all
}

// Right reports whether a fault, by its id, is the one, or is put right by the same, or cannot
// be told from it.
func (b *Bench) Right(id string) bool {
	for i := range b.c.faults {
		if f := &b.c.faults[i]; f.ID == id || f.Cure == id {
			return f.Cure == b.c.faults[b.fault].Cure || b.c.classOf[i] == b.c.classOf[b.fault]
		}
	}
	return false
}

// Par is what the diagnosis spends from the same start, and how many questions it asks.
func (b *Bench) Par() (trouble float64, asked int, err error) {
	_, seen := b.Start()
	const most = 12
	for range most {
		r, err := b.c.Ask(seen)
		if err != nil {
			return 0, 0, err
		}
		if r.Sure || r.Next == nil || r.Next.Sort == Try {
			return trouble, asked, nil
		}
		o, _, err := b.Answer(r.Next.Ask)
		if err != nil {
			return 0, 0, err
		}
		seen = append(seen, o)
		trouble += r.Next.Trouble
		asked++
	}
	return trouble, asked, nil
}
