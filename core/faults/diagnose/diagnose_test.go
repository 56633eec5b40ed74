package diagnose

import (
	"fmt"
	"math"
	"math/rand/v2"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/fault"
	"cablaggio/core/faults/meter"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	_ "cablaggio/core/testkit/drawn"
)

func read(t testing.TB, name string) *Case {
	lib := build.Shipped()
	file, err := os.ReadFile(filepath.Join("..", "..", "..", name+".json"))
	require.NoError(t, err)
	doc, err := lib.Parse(file)
	require.NoError(t, err)
	return New(wiring.NewCache(), meter.Handheld(), lib, doc)
}

// builds are those with which it is measured.
func builds(t testing.TB) []string {
	var out []string
	for _, glob := range []string{"starts/*.json", "demo/*.json"} {
		list, err := filepath.Glob(filepath.Join("..", "..", "..", glob))
		require.NoError(t, err)
		for _, f := range list {
			if base := filepath.Base(f); base != "index.json" && !strings.Contains(base, "mistakes") && !strings.Contains(base, "log") {
				out = append(out, strings.TrimSuffix(filepath.Join(filepath.Dir(glob), base), ".json"))
			}
		}
	}
	return out
}

// A tally is how a series of diagnoses went.
type tally struct {
	tried, unseen, first, asked int
	by                          map[string][2]int
}

func (a *tally) String() string {
	var kinds []string
	for k := range a.by {
		kinds = append(kinds, k)
	}
	slices.Sort(kinds)
	out := fmt.Sprintf("%d tried, first in %d (%.1f %%), %.2f asked; %d show nowhere;", a.tried, a.first, 100*float64(a.first)/float64(a.tried), float64(a.asked)/float64(a.tried), a.unseen)
	for _, k := range kinds {
		out += fmt.Sprintf(" %s %v", k, a.by[k])
	}
	return out
}

// run lets an observer answer at most so many questions, and put right what is found: of
// two faults one may hide the other, so that it begins anew when one is gone.
func (a *tally) run(t testing.TB, o *observer, most int) {
	kind := string(o.c.faults[o.f[0]].Kind)
	was := slices.Clone(o.f)
	asked := 0
	for {
		seen, wrong := o.starts()
		if !wrong {
			break // nothing shows any more
		}
		r, n := o.asks(t, seen, most-asked)
		asked += n
		if !o.cures(r) {
			if testing.Verbose() {
				for _, f := range was {
					t.Log("not", o.c.faults[f].ID)
				}
				t.Log("not", asked, r.Causes[0].Faults, r.Causes[0].Weight)
			}
			break
		}
	}
	if asked == 0 && len(o.f) == len(was) {
		if _, wrong := o.starts(); !wrong {
			a.unseen++
			return
		}
	}
	a.tried++
	a.asked += asked
	x := a.by[kind]
	x[1]++
	if _, wrong := o.starts(); !wrong {
		a.first++
		x[0]++
	}
	a.by[kind] = x
}

// asks answers questions until it is settled or there were enough: those of the diagnosis, or
// where the observer has a list of its own the next of those.
func (o *observer) asks(t testing.TB, seen []Observation, most int) (*Result, int) {
	begin := len(seen)
	for {
		r, err := o.c.Ask(seen)
		require.NoError(t, err)
		if r.Next == nil || len(seen) == begin+most || o.list != nil && len(o.list) <= len(seen)-begin {
			return r, len(seen) - begin
		}
		next := r.Next.Ask
		if o.list != nil {
			next = o.list[len(seen)-begin]
		}
		seen = append(seen, Observation{next, o.answer(o.c.byID[next], false)})
	}
}

// found runs an observer over faults of builds: every nth one.
func found(t *testing.T, names []string, every, most int, wrong float64, two bool) *tally {
	out := &tally{by: map[string][2]int{}}
	for _, name := range names {
		c := read(t, name)
		for f := range c.faults {
			g := (f*31 + 7) % len(c.faults)
			if f%every != 0 || c.faults[f].Sometimes() || two && (c.faults[g].Sometimes() || c.faults[g].Cure == c.faults[f].Cure) {
				continue
			}
			o := &observer{c: c, f: []int{f}, wrong: wrong, rand: rand.New(rand.NewPCG(1, uint64(f)))}
			if two {
				o.f = append(o.f, g)
			}
			out.run(t, o, most)
		}
	}
	t.Log(out)
	return out
}

// What the chosen questions are worth: with as many taken at random, or in the order of the
// meter's list of checks, fewer faults are found.
func TestBesideOtherOrders(t *testing.T) {
	names, every := []string{"starts/dusk"}, 2
	if testkit.Wide() {
		names, every = builds(t), 3
	}
	const most = 3
	chosen := found(t, names, every, most, 0, false)
	random, listed := &tally{by: map[string][2]int{}}, &tally{by: map[string][2]int{}}
	for _, name := range names {
		c := read(t, name)
		checks, err := c.meter.Checks(c.lib, c.doc)
		require.NoError(t, err)
		var inOrder []string
		for _, k := range checks.Checks {
			if _, ok := c.byID[k.ID]; ok {
				inOrder = append(inOrder, k.ID)
			}
		}
		for f := 0; f < len(c.faults); f += every {
			if c.faults[f].Sometimes() {
				continue
			}
			draw := rand.New(rand.NewPCG(7, uint64(f)))
			var any []string
			for _, i := range draw.Perm(len(c.asks)) {
				if a := &c.asks[i]; a.Sort != Try && a.Sort != Feel && !a.told && (a.Sort != Measure || c.holds(i)) {
					any = append(any, a.ID)
				}
			}
			random.run(t, &observer{c: c, f: []int{f}, list: any, rand: draw}, most)
			listed.run(t, &observer{c: c, f: []int{f}, list: inOrder, rand: draw}, most)
		}
	}
	share := func(a *tally) float64 { return float64(a.first) / float64(a.tried) }
	t.Logf("found after %d: %.2f of all; at random %.2f of that, in the order of the list %.2f", most, share(chosen), share(random)/share(chosen), share(listed)/share(chosen))
	assert.Greater(t, share(chosen), 1.2*share(random))
	assert.Greater(t, share(chosen), 1.2*share(listed))
}

// few is a part of the builds, so that it takes seconds; -wide is all of them.
func few(t testing.TB) ([]string, int) {
	if testkit.Wide() {
		return builds(t), 1
	}
	return []string{"starts/four", "starts/dusk", "demo/seedling-shelf"}, 7
}

// What was noticed first is what each lamp and each input does. Then at most three things are
// asked, looked at or measured.
func TestSingleFaults(t *testing.T) {
	names, every := few(t)
	a := found(t, names, every, 3, 0, false)
	assert.GreaterOrEqual(t, float64(a.first)/float64(a.tried), 0.95, "the right fault is first, or what the same puts right")
	assert.LessOrEqual(t, float64(a.asked)/float64(a.tried), 2.2, "asked on average")
}

func TestOneObservationInTenIsWrong(t *testing.T) {
	names, every := few(t)
	a := found(t, names, every, 5, 0.1, false)
	assert.GreaterOrEqual(t, float64(a.first)/float64(a.tried), 0.85)
}

func TestTwoFaults(t *testing.T) {
	names, every := few(t)
	a := found(t, names, testkit.Few(2, 1)*every, 6, 0, true)
	assert.GreaterOrEqual(t, float64(a.first)/float64(a.tried), 0.8)
}

// An observation that a fault predicts never lowers it against one that does not; and the
// order in which things were seen does not matter.
func TestWeights(t *testing.T) {
	c := read(t, "starts/hold")
	rapid.Check(t, func(t *rapid.T) {
		f := rapid.IntRange(0, len(c.faults)-1).Draw(t, "fault")
		o := &observer{c: c, f: []int{f}, rand: rand.New(rand.NewPCG(2, uint64(f)))}
		if c.faults[f].Sometimes() {
			return
		}
		seen, wrong := o.starts()
		if !wrong {
			return
		}
		if r, err := c.Ask(seen); assert.NoError(t, err) && r.Next != nil {
			seen = append(seen, Observation{r.Next.Ask, o.answer(c.byID[r.Next.Ask], true)})
		}
		before, more := weights(t, c, seen[:len(seen)-1]), weights(t, c, seen)
		an, err := c.read(seen[len(seen)-1])
		require.NoError(t, err)
		k := rapid.IntRange(0, len(c.faults)-1).Draw(t, "other")
		if c.likely(f, &an) >= c.likely(k, &an) && before[f] > 0 && before[k] > 0 {
			assert.GreaterOrEqual(t, more[f]/before[f], more[k]/before[k]*(1-1e-9), "%s beside %s", c.faults[f].ID, c.faults[k].ID)
		}
		slices.Reverse(seen)
		assert.Equal(t, more, weights(t, c, seen))
	})
}

// weights are those of the single faults.
func weights(t *rapid.T, c *Case, seen []Observation) []float64 {
	_, all, err := c.weighed(seen)
	require.NoError(t, err)
	out := make([]float64, len(c.faults))
	for _, h := range all {
		if len(h.faults) == 1 {
			out[h.faults[0]] = h.weight
		}
	}
	return out
}

func TestNamesDoNotMatter(t *testing.T) {
	c := read(t, "starts/four")
	doc := c.doc.Clone()
	for i := range doc.Parts {
		doc.Parts[i].Name = fmt.Sprintf("thing %c", 'z'-i)
	}
	d := New(wiring.NewCache(), meter.Handheld(), c.lib, doc)
	seen := []Observation{{c.asks[c.firstSee()].ID, dark}}
	r, err := c.Ask(seen)
	require.NoError(t, err)
	s, err := d.Ask(seen)
	require.NoError(t, err)
	require.Len(t, s.Causes, len(r.Causes))
	for i := range r.Causes {
		assert.Equal(t, r.Causes[i].Faults, s.Causes[i].Faults)
		assert.InDelta(t, r.Causes[i].Weight, s.Causes[i].Weight, 1e-9)
	}
	assert.Equal(t, r.Next.Ask, s.Next.Ask)
}

func (c *Case) firstSee() int {
	return slices.IndexFunc(c.asks, func(a Ask) bool { return a.Sort == See && !a.test })
}

func TestNothingThatIsConsidered(t *testing.T) {
	c := read(t, "demo/tram-stop")
	// All is as it should be, but for a reading that nothing makes.
	var seen []Observation
	for _, x := range c.Things() {
		for _, s := range x.States {
			seen = append(seen, Observation{s.Ask, s.Should})
		}
	}
	i := slices.IndexFunc(c.asks, func(a Ask) bool { return a.Sort == Measure && a.question.Way == meter.Volts })
	seen = append(seen, Observation{c.asks[i].ID, "17.3 V"})
	r, err := c.Ask(seen)
	require.NoError(t, err)
	assert.False(t, r.Sure)
	assert.NotEmpty(t, r.Unexplained)
	assert.Contains(t, r.Assumed, "Nothing that is considered")
}

func TestContradictions(t *testing.T) {
	c := read(t, "demo/tram-stop")
	seen := []Observation{}
	for _, x := range c.Things() {
		for _, s := range x.States {
			if x.Sort == See {
				seen = append(seen, Observation{s.Ask, bright})
			}
		}
	}
	r, err := c.Ask(seen)
	require.NoError(t, err)
	for _, x := range r.Causes {
		assert.False(t, math.IsNaN(x.Weight))
	}
	_, err = c.Ask([]Observation{{"see:gone", dark}})
	assert.ErrorContains(t, err, "no question")
	_, err = c.Ask([]Observation{{seen[0].Ask, "sings"}})
	assert.ErrorContains(t, err, "it is dark, faint, dim, lit")
}

// What is told to be measured is what is reckoned with: the same tips, the same sign.
func TestTipsAreTheWayRoundThatIsTold(t *testing.T) {
	for _, name := range []string{"demo/tram-stop", "starts/dusk"} {
		c := read(t, name)
		for i := range c.asks {
			a := &c.asks[i]
			if a.Sort != Measure || a.question.Way != meter.Volts {
				continue
			}
			n := c.tell(a)
			if n.Check == nil {
				continue
			}
			x, ok := c.expectation(0, i)
			if ok {
				assert.Equal(t, n.Check.Expect.Text, x.Text, a.ID)
				assert.Equal(t, n.Check.Question.Red, a.question.Red, a.ID)
			}
		}
	}
}

func TestSay(t *testing.T) {
	c := read(t, "demo/tram-stop")
	for text, want := range map[string]Observation{
		"platform lamp left is dark":              {"see:led1:D4=high", dark},
		"led1 does not light":                     {"see:led1:D4=high", dark},
		"Platform lamp left is always lit":        {"see:led1", lit},
		"sign lamp is dim":                        {"see:led3:D5=high", dim},
		"request button is always pressed":        {"reads:D2", readsLow},
		"button1 reads high when button1=pressed": {"reads:D2:button1=pressed", readsHigh},
		"dimmer jumps":                            {"reads:A1", jumps},
		// As people say it.
		"platform lamp left is not lit":                    {"see:led1:D4=high", dark},
		"the platform lamp left won't light":               {"see:led1:D4=high", dark},
		"platform lamp left lights when it should be dark": {"see:led1", lit},
		"the request button does nothing":                  {"reads:D2:button1=pressed", readsHigh},
		"Nothing happens when I press the request button":  {"reads:D2:button1=pressed", readsHigh},
		"the request button is stuck":                      {"reads:D2", readsLow},
		"request button reads high when I press it":        {"reads:D2:button1=pressed", readsHigh},
		"the sign lamp doesn't turn on":                    {"see:led3:D5=high", dark},
		"sign lamp won't turn off":                         {"see:led3", lit},
		"stop request lamp is lit all the time":            {"see:led4:D12=high", lit},
		"sign lamp lights only weakly":                     {"see:led3:D5=high", dim},
		"the sign lamp is not bright enough":               {"see:led3:D5=high", dim},
		"the LED on D5 is dark":                            {"see:led3:D5=high", dark},
		"the button doesn't work":                          {"reads:D2:button1=pressed", readsHigh},
		"request button has no effect":                     {"reads:D2:button1=pressed", readsHigh},
		"the light sensor reads 3 in daylight":             {"reads:A0:light-resistor1=in daylight (10 000 lx)", "3"},
		"the knob reads 0":                                 {"reads:A1:potentiometer1=at the other end", "0"},
		"the board keeps rebooting":                        {"feel:board", restarts},
		"the USB disconnects":                              {"feel:board", restarts},
		"the dimmer only goes to 500":                      {"reads:A1", "500"},
		"the dusk sensor reads 1023 in the dark":           {"reads:A0", "1023"}, // it begins in the dark
		"the dusk sensor reads 3 in daylight":              {"reads:A0:light-resistor1=in daylight (10 000 lx)", "3"},
		// By a part of its name, where that is nobody else's.
		"the stop lamp is on all the time": {"see:led4:D12=high", lit},
		"the left lamp is dark":            {"see:led1:D4=high", dark},
		"the sensor always reads 1023":     {"reads:A0", "1023"},
	} {
		o, err := c.Say(text)
		assert.NoError(t, err, text)
		assert.Equal(t, want, o, text)
	}
	for text, right := range map[string]string{
		"": "say a part and what it does", "the moon is dark": "names nothing", "led1 sings": "it is one of: dark, faint", "the potentiometer does nothing": "a number from 0 to 1023", "the lamp is dark": "which one is meant, platform lamp left, platform lamp right, sign lamp or stop request lamp?",
		"led1 is dark when D4=purple": "not a setting", "led1 is dark when A0=let go": "the states that say something there",
	} {
		_, err := c.Say(text)
		assert.ErrorContains(t, err, right, text)
	}
	all, err := c.SayAll("both platform lamps are dark")
	require.NoError(t, err)
	assert.Equal(t, []Observation{{"see:led1:D4=high", dark}, {"see:led2:D7=high", dark}}, all)
	all, err = c.SayAll("all lamps are dark")
	require.NoError(t, err)
	assert.Len(t, all, 4)
	for _, text := range []string{"nothing works", "Everything is dark", "no lamp lights up", "none of the LEDs work"} {
		whole, err := c.SayAll(text)
		require.NoError(t, err, text)
		assert.Equal(t, all, whole, text)
	}
	for text, want := range map[string][]Observation{
		"only the sign lamp works":                     {{"see:led1:D4=high", dark}, {"see:led2:D7=high", dark}, {"see:led3:D5=high", lit}, {"see:led4", dark}},
		"Everything works except the sign lamp.":       {{"see:led1:D4=high", lit}, {"see:led2:D7=high", lit}, {"see:led3:D5=high", dark}, {"see:led4", lit}},
		"all lamps light but the left one":             {{"see:led1:D4=high", dark}, {"see:led2:D7=high", lit}, {"see:led3:D5=high", lit}, {"see:led4", lit}},
		"the button is inverted":                       {{"reads:D2", readsLow}, {"reads:D2:button1=pressed", readsHigh}},
		"the request button works the wrong way round": {{"reads:D2", readsLow}, {"reads:D2:button1=pressed", readsHigh}},
		"the sign lamp is reversed":                    {{"see:led3:D5=high", dark}, {"see:led3", lit}},
	} {
		got, err := c.SayAll(text)
		require.NoError(t, err, text)
		assert.ElementsMatch(t, want, got, text)
	}
	_, err = c.SayAll("all moons are dark")
	assert.ErrorContains(t, err, "names nothing")
	// Pressed is high where the button is at the supply.
	lib := build.Shipped()
	doc, _, err := plan.Apply(lib, build.New("pulled down", "classic-5v"), []plan.Edit{plan.Add{Kind: "button", Hookup: "supply-pull-down"}})
	require.NoError(t, err)
	o, err := New(wiring.NewCache(), meter.Handheld(), lib, doc).Say("button1 is always pressed")
	require.NoError(t, err)
	assert.Equal(t, readsHigh, o.Answer)

	shelf := read(t, "demo/seedling-shelf")
	o, err = shelf.Say("the alarm buzzer makes no sound")
	require.NoError(t, err)
	wire := slices.IndexFunc(shelf.faults, func(f fault.Fault) bool { return f.Kind == fault.NoWire && slices.Contains(f.Parts, "buzzer1") })
	r, err := shelf.Ask([]Observation{o, {"look:buzzer1", shelf.faults[wire].Cure}})
	require.NoError(t, err)
	assert.Contains(t, r.Causes[0].Faults, shelf.faults[wire].ID)
	assert.Equal(t, "Alarm buzzer works when GP3 (alarm buzzer) is high.", r.Causes[0].Proof)
	q, o, err := ParseReading(c.lib, c.doc, "led1.anode,GND when D4=high = 2.13 V")
	require.NoError(t, err)
	assert.Equal(t, meter.Volts, q.Way)
	assert.Equal(t, Observation{"volts:led1.anode:board.GND:D4=high", "2.13 V"}, o)
	q, _, err = ParseReading(c.lib, c.doc, "led1-resistor.1,led1-resistor.2 = 178 Ω")
	require.NoError(t, err)
	assert.Equal(t, meter.Ohms, q.Way)
	for _, text := range []string{"", "2 V", "led1.anode = 2 V", "moon.anode,GND = 2 V", "led1.anode,GND when D4 = 2 V"} {
		_, _, err := ParseReading(c.lib, c.doc, text)
		assert.ErrorContains(t, err, "as in", text)
	}
}

// What is felt and what the board does is understood, and explained by what makes it so: legs of
// a knob that touch, and a flyback diode the wrong way round.
func TestWarmthAndRestarts(t *testing.T) {
	c := read(t, "starts/dimmer")
	o, err := c.Say("the board restarts")
	require.NoError(t, err)
	assert.Equal(t, Observation{"feel:board", restarts}, o)
	r, err := c.Ask([]Observation{o, {"feel:potentiometer1", warm}})
	require.NoError(t, err)
	require.NotEmpty(t, r.Causes)
	assert.Contains(t, r.Causes[0].Words, "moon knob touch")
	assert.Equal(t, "The board keeps running.", r.Causes[0].Proof)
	for text, want := range map[string]Observation{
		"moon knob gets hot": {"feel:potentiometer1", warm}, "led1 stays cool": {"feel:led1", cool}, "it resets when I turn": {"feel:board", restarts},
	} {
		o, err := c.Say(text)
		assert.NoError(t, err, text)
		assert.Equal(t, want, o, text)
	}
	_, err = c.Ask([]Observation{{"feel:board", "purple"}})
	assert.ErrorContains(t, err, `it is "keeps running" or "restarts"`)

	lib := build.Shipped()
	doc, _, err := plan.Apply(lib, build.New("relay", "classic-5v"), []plan.Edit{plan.Add{Kind: "relay"}})
	require.NoError(t, err)
	c = New(wiring.NewCache(), meter.Handheld(), lib, doc)
	names := []string{}
	for _, x := range c.Things() {
		if x.Sort == Feel {
			names = append(names, x.Name)
		}
	}
	assert.Equal(t, []string{"The board", "Relay 1", "Transistor of Relay 1", "Flyback of Relay 1"}, names, "what may get warm is pointed at")
	r, err = c.Ask([]Observation{{"feel:relay1-flyback", warm}, {"feel:board", restarts}})
	require.NoError(t, err)
	at := slices.IndexFunc(c.faults, func(f fault.Fault) bool { return f.Kind == fault.Turned && slices.Contains(f.Parts, "relay1-flyback") })
	require.GreaterOrEqual(t, at, 0)
	assert.Contains(t, slices.Concat(r.Causes[0].Faults, r.Causes[1].Faults, r.Causes[2].Faults), c.faults[at].ID)
	assert.NotEqual(t, Feel, r.Next.Sort, "nobody is sent to touch what may be hot")
}

// What an edit of a document makes, and what a change of the network makes, is the same.
func TestFaultsInDocuments(t *testing.T) {
	c := read(t, "starts/dusk")
	for i := range c.faults {
		f := &c.faults[i]
		doc, ok := f.Apply(c.doc)
		if !ok {
			continue
		}
		net := wiring.Build(c.lib, doc)
		for k := range c.asks {
			a := &c.asks[k]
			if a.Sort != Measure || a.question.Way != meter.Volts {
				continue
			}
			x, err := c.meter.Typical(net, a.question)
			y, err2 := c.meter.Typical(f.In(c.net), a.question)
			assert.Equal(t, err == nil, err2 == nil)
			assert.InDelta(t, x, y, 1e-6, "%s: %s", f.ID, a.ID)
		}
	}
}

func BenchmarkNext(b *testing.B) {
	for _, name := range []string{"demo/quiz-table", "starts/register"} {
		c := read(b, name)
		o := &observer{c: c, f: []int{20}, rand: rand.New(rand.NewPCG(1, 1))}
		seen, _ := o.starts()
		b.Run(filepath.Base(name), func(b *testing.B) {
			for b.Loop() {
				if _, err := c.Ask(seen); err != nil {
					b.Fatal(err)
				}
			}
		})
	}
}

// Rails that do not go through, where the plan takes them for rails that do, put out what is fed
// below the middle; the diagnosis comes to it.
func TestRailsInTwoHalves(t *testing.T) {
	c := read(t, "starts/register")
	f := slices.IndexFunc(c.faults, func(f fault.Fault) bool { return f.Kind == fault.Halved })
	require.GreaterOrEqual(t, f, 0)
	out := &tally{by: map[string][2]int{}}
	out.run(t, &observer{c: c, f: []int{f}, rand: rand.New(rand.NewPCG(1, 1))}, 3)
	assert.Equal(t, 1, out.first, "%s", out)
	small := read(t, "starts/four") // on a half breadboard
	assert.False(t, slices.ContainsFunc(small.faults, func(f fault.Fault) bool { return f.Kind == fault.Halved }))
}
