package program

import (
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/judgement/check"
	"cablaggio/core/running/machine"
	"cablaggio/core/values/quantity"
)

// readings finds readings that are not of what is there: with a pull left on, as a level only,
// or compared with a number of another unit.
var readings = rule{"reading", func(f *facts) []check.Finding {
	var out []check.Finding
	for _, p := range f.used {
		if _, moved := f.moved[p.pin]; moved {
			continue
		}
		if x, ok := f.pulledReading(p); ok {
			out = append(out, x)
		}
		u, ok := f.uses[f.o.words(p.pin)]
		if !ok || len(u.Signals) != 1 || u.Signals[0].Signal.Needs != board.AnalogIn {
			continue
		}
		part := u.Signals[0].Part
		if p.readLine > 0 && p.reading.line == 0 {
			x := f.about(check.Finding{Level: check.Care, Line: p.readLine}, p.pin)
			x.Title = fmt.Sprintf("%s is read as low or high only, and %s gives all that is between.", f.named(p.pin), part.Name)
			x.Why = "It goes over somewhere in the middle of its range, where it may jitter. A reading of how much needs analogRead, or what reads a converter."
			if text := f.line(p.readLine); f.doc.Program.Language == build.CPP && strings.Count(text, "digitalRead(") == 1 {
				x.Fixes = f.rewrite("Read how much", p.readLine, strings.Replace(text, "digitalRead(", "analogRead(", 1))
			}
			out = append(out, x)
		}
		if x, ok := f.rawCompare(p, part); ok {
			out = append(out, x)
		}
	}
	return append(out, append(f.ofAnotherRail(), f.neverCrossed()...)...)
}}

var (
	volts3 = regexp.MustCompile(`\b3[.]3\d*f?\b|\b3300(?:[.]0*)?\b`)
	volts5 = regexp.MustCompile(`\b5[.]0*f?\b|\b5000(?:[.]0*)?\b`)
	scales = regexp.MustCompile(`\b(?:1023|1024|4095|4096|65535|65536)(?:[.]0*)?f?\b`)
)

// ofAnotherRail finds readings that are worked out with the volts of another board's converter.
func (f *facts) ofAnotherRail() []check.Finding {
	full := f.net.RailVolts(f.board.Logic.Rail).Typ
	other, is := volts3, 3.3
	if full < 4 {
		other, is = volts5, 5
	}
	text := f.doc.Program.Text
	measures := slices.ContainsFunc(f.used, func(p *pinFacts) bool { return p.reading.seen })
	if !measures || strings.Contains(text, "analogReference") || strings.Contains(text, "readVcc") {
		return nil
	}
	divided := slices.ContainsFunc(f.doc.Parts, func(p build.Part) bool { return p.Hookup == "divided" })
	if is > full && divided {
		return nil // what comes from higher up is worked back
	}
	for i, line := range f.lines {
		code, _, _ := strings.Cut(line, "//")
		code, _, _ = strings.Cut(code, "#")
		if !other.MatchString(code) || !scales.MatchString(code) && !strings.Contains(code, "analogRead") {
			continue
		}
		return []check.Finding{{
			Level: check.Care, Line: i + 1,
			Title: fmt.Sprintf("%s takes %g V for the full scale of the converter; on this board it is %s.", build.Capital(f.at(i+1)), is, quantity.Format(full, quantity.Volt)),
			Why:   fmt.Sprintf("What comes out is %s times what is there.", quantity.Rough(is/full, 2)),
		}}
	}
	return nil
}

var analogIn = regexp.MustCompile(`\b(\w+)\s*=\s*(?:analogio\.)?AnalogIn\(`)

// directCompare is a reading that is compared where it is taken, or a variable's.
var directCompare = regexp.MustCompile(`(\w+\.read_u16\(\)|analogRead\s*\([^()]*\)|\b\w+\.value\b|\b\w+\b)\s*(<|>|<=|>=)\s*(\d+)\b`)

// neverCrossed finds numbers that a reading is compared with and never comes to, over all that its part
// gives as planned.
func (f *facts) neverCrossed() []check.Finding {
	var only *pinFacts
	for _, p := range f.used {
		if p.reading.seen {
			if only != nil {
				return nil // whose reading it is, is not said here
			}
			only = p
		}
	}
	if only == nil || only.reading.most-only.reading.least < 0.05*only.reading.full {
		return nil
	}
	raw := map[string]bool{}
	if m := analogIn.FindStringSubmatch(f.doc.Program.Text); m != nil {
		raw[m[1]+".value"] = true
	}
	for _, line := range f.lines {
		if m := readInto.FindStringSubmatch(line); m != nil {
			raw[m[1]] = true
		}
	}
	for name := range raw {
		if !strings.Contains(name, ".") && len(regexp.MustCompile(`\b`+name+`\s*[-+*/]?=[^=]`).FindAllString(f.doc.Program.Text, -1)) != 1 {
			delete(raw, name) // it is worked out further, or begins with something
		}
	}
	for i, line := range f.lines {
		for _, m := range directCompare.FindAllStringSubmatch(line, -1) {
			read := strings.Contains(m[1], "read_u16") || strings.Contains(m[1], "analogRead") || raw[m[1]]
			v, err := strconv.ParseFloat(m[3], 64)
			if err != nil || !read {
				continue
			}
			than := "less"
			switch {
			case v < only.reading.least-0.002*only.reading.full:
				than = "more"
			case v <= only.reading.most+0.002*only.reading.full:
				continue
			}
			x := f.about(check.Finding{Level: check.Care, Line: i + 1}, only.pin)
			x.Title = fmt.Sprintf("%s compares what %s gave with %g: it was always %s, from %g to %g.", build.Capital(f.at(i+1)), f.named(only.pin), v, than, only.reading.least, only.reading.most)
			x.Why = fmt.Sprintf("The converter gives 0 to %g, and the part goes over its range as it is planned. A number in between is one that tells something.", only.reading.full)
			return []check.Finding{x}
		}
	}
	return nil
}

// pulledReading finds a pull that falsifies a reading.
func (f *facts) pulledReading(p *pinFacts) (x check.Finding, ok bool) {
	const least = 0.01 // of what the rail has: as little as nobody sees
	line, mode := 0, 0.0
	for m, w := range map[machine.Mode]float64{machine.PulledUp: wiring.PulledUp, machine.PulledDown: wiring.PulledDown} {
		if l, on := p.modes[m]; on {
			line, mode = l, w
		}
	}
	c, piece := f.place(p.pin)
	if line == 0 || piece == nil || p.reading.line == 0 || !f.holds(piece, c) || f.net.Controls[c].Settings[int(mode)] == "" {
		return x, false
	}
	planned, err := piece.Planned(wiring.Subject{})
	if err != nil {
		return x, false
	}
	node := f.net.Node(build.Pin(f.o.words(p.pin)))
	rail := f.net.RailVolts(f.board.Logic.Rail).Typ
	worst := 0.0
	for i, s := range planned {
		if i > 64 {
			break
		}
		volts := [2]float64{}
		for k, m := range []float64{wiring.LetGo, mode} {
			state := append(wiring.State{}, s.State...)
			for n, at := range piece.Controls {
				if at == c {
					state[n] = m
				}
			}
			t, err := piece.At(state)
			if err != nil {
				return x, false
			}
			volts[k] = t.Typical(node)
		}
		worst = math.Max(worst, math.Abs(volts[1]-volts[0]))
	}
	if worst < least*rail {
		return x, false
	}
	x = f.about(check.Finding{Level: check.Care, Line: line}, p.pin)
	x.Title = fmt.Sprintf("The pull that the program switches on falsifies what %s reads, by up to %s.", f.named(p.pin), quantity.Format(worst, quantity.Volt))
	x.Why = "A converter measures what the wiring gives; a pull draws it to one side. The wiring holds this pin without it."
	x.Fixes = f.setMode(p, "Switch the pull of "+f.o.words(p.pin)+" off", "INPUT_PULLUP|INPUT_PULLDOWN", "INPUT")
	return x, true
}

var (
	readInto = regexp.MustCompile(`\b(\w+)\s*=\s*(?:analogRead\s*\([^()]*\)|\w+\.read_u16\(\)|\w+\.read\(\))\s*;?\s*(?://.*|#.*)?$`)
	compares = regexp.MustCompile(`\b(\w+)\s*(?:<|>|<=|>=)\s*(-?\d+(?:\.\d+)?)\b`)
)

// rawCompare finds what a converter gave compared with a number that is as small as the quantity
// that is measured is in its own unit.
func (f *facts) rawCompare(p *pinFacts, part *build.Part) (x check.Finding, ok bool) {
	hand := -1
	for _, s := range part.Signals {
		if s.Pin == f.o.words(p.pin) {
			hand = f.net.HandOf(part.ID, s.Name)
		}
	}
	if !p.reading.seen || hand < 0 || f.net.Controls[hand].Kind != wiring.Level || len(f.used) == 0 {
		return x, false
	}
	c := &f.net.Controls[hand]
	if c.Unit == "" || c.Unit == "turn" || c.Unit == "of its supply" {
		return x, false
	}
	low, high := slices.Min(c.Levels), slices.Max(c.Levels)
	raw := map[string]int{}
	for i, text := range f.lines {
		if m := readInto.FindStringSubmatch(text); m != nil {
			raw[m[1]]++
			if i+1 != p.reading.line && f.o.pins[p.pin].reading.line != 0 && strings.Contains(text, "analogRead") && i+1 != p.reading.leastLine && i+1 != p.reading.mostLine {
				raw[m[1]] += 2 // of another pin
			}
		}
	}
	for name := range raw {
		again := regexp.MustCompile(`\b` + name + `\s*[-+*/]?=[^=]`)
		if len(again.FindAllString(f.doc.Program.Text, -1)) > 1 {
			raw[name] = 2 // it is worked out further
		}
	}
	for i, text := range f.lines {
		for _, m := range compares.FindAllStringSubmatch(text, -1) {
			v, err := strconv.ParseFloat(m[2], 64)
			if err != nil || raw[m[1]] != 1 || v <= 0 || v > 0.04*p.reading.full || v < low || v > high || v < 8 {
				continue
			}
			volts := v / p.reading.full * f.net.RailVolts(f.board.Logic.Rail).Typ
			x = f.about(check.Finding{Level: check.Care, Line: i + 1}, p.pin)
			x.Title = fmt.Sprintf("%q is what the converter gave, 0 to %g, and it is compared with %g: that is %s at %s.", m[1], p.reading.full, v, quantity.Format(volts, quantity.Volt), f.o.words(p.pin))
			x.Why = fmt.Sprintf("If %g %s are meant, what was read is to be worked out in %s first.", v, c.Unit, c.Unit)
			return x, true
		}
	}
	return x, false
}
