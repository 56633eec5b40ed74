package diagnose

import (
	"fmt"
	"strings"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/meter"
)

// ParseReading understands a reading as it is typed: "led1.anode,GND when D4=high = 2.13 V".
// Without a unit that says so it is volts; "ohms", "diode" or "continuity" before the equals
// sign ask for another way, without power. The question is to be given to [New].
func ParseReading(lib *build.Library, doc *build.Document, text string) (q meter.Question, o Observation, err error) {
	wrong := func(why string) (meter.Question, Observation, error) {
		return q, o, fmt.Errorf("%q: %s; write two places and what the meter shows, as in \"led1.anode,GND when D4=high = 2.13 V\"", text, why)
	}
	i := strings.LastIndex(text, " = ")
	if i < 0 {
		return wrong("there is no \" = \" before the reading")
	}
	where, reading := strings.TrimSpace(text[:i]), strings.TrimSpace(text[i+3:])
	q.Way = meter.Volts
	for _, suffix := range []string{"Ω", "ohm", "ohms"} {
		if strings.HasSuffix(strings.ToLower(reading), strings.ToLower(suffix)) {
			q.Way = meter.Ohms
		}
	}
	where, after, when := strings.Cut(where, " when ")
	words := strings.Fields(where)
	if len(words) > 1 {
		for _, w := range []meter.Way{meter.Ohms, meter.Diode, meter.Continuity, meter.Volts} {
			if words[len(words)-1] == string(w) {
				q.Way = w
				where = strings.TrimSpace(strings.TrimSuffix(where, string(w)))
			}
		}
	}
	red, black, ok := strings.Cut(where, ",")
	if !ok {
		return wrong("there are not two places")
	}
	for _, x := range []struct {
		text string
		into *build.Terminal
	}{{red, &q.Red}, {black, &q.Black}} {
		t := build.Terminal(strings.TrimSpace(x.text))
		if !strings.Contains(string(t), ".") {
			t = build.Pin(string(t))
		}
		if err := lib.CheckTerminal(doc, t); err != nil {
			return wrong(err.Error())
		}
		*x.into = t
	}
	if when {
		var named []string
		for part := range strings.SplitSeq(after, ",") {
			named = append(named, strings.TrimSpace(part))
		}
		if q.Set, err = wiring.ParseSettings(named); err != nil {
			return wrong(err.Error())
		}
	}
	return q, Observation{Ask: q.ID(), Answer: reading}, nil
}
