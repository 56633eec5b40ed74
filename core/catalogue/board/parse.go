package board

import (
	"bytes"
	"embed"
	"encoding/json"
	"fmt"
	"io"
	"slices"
	"sort"
	"strings"

	"cablaggio/core/values/spec"
)

const maxFile = 1 << 20

// A Problem is one thing that is wrong in a profile.
type Problem struct {
	Where string // "pin D4", "rail 5V volts"; empty: the whole file
	Right string // what is wrong, or what would be right
}

func (p Problem) Error() string {
	if p.Where == "" {
		return p.Right
	}
	return p.Where + ": " + p.Right
}

// Problems is all that is wrong in a profile, in order.
type Problems []Problem

func (p Problems) Error() string {
	lines := make([]string, len(p))
	for i, x := range p {
		lines[i] = x.Error()
	}
	return strings.Join(lines, "\n")
}

// Parse reads and validates a profile. Its error is of type [Problems].
func Parse(r io.Reader) (*Profile, error) {
	data, err := io.ReadAll(io.LimitReader(r, maxFile+1))
	if err != nil {
		return nil, Problems{{Right: err.Error()}}
	}
	if len(data) > maxFile {
		return nil, Problems{{Right: "a board file is smaller than 1 MB"}}
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	var p Profile
	if err := d.Decode(&p); err != nil {
		return nil, Problems{{Right: fmt.Sprintf("this is no file of a board (%v); save one as a file to see the form", err)}}
	}
	if p.Format != Format {
		return nil, Problems{{Where: "format", Right: fmt.Sprintf("its format is %q; this program reads %q", p.Format, Format)}}
	}
	if wrong := p.validate(); len(wrong) > 0 {
		return nil, wrong
	}
	return &p, nil
}

func (p *Profile) validate() Problems {
	var errs Problems
	fail := func(where string, err error) {
		if err != nil {
			errs = append(errs, Problem{where, err.Error()})
		}
	}
	need := func(ok bool, where, right string) {
		if !ok {
			errs = append(errs, Problem{where, right})
		}
	}
	need(p.ID != "" && p.Name != "" && p.Ground != "", "board", "it needs an id, a name and the name of its ground")
	need(len(p.Supplies) > 0, "supplies", "it needs at least one")
	if p.Program != nil {
		fail("program", p.Program.validate())
	}
	seen := map[string]bool{}
	for _, t := range p.Terminals() {
		need(t != "" && !seen[t], "name "+t, "pins, rails and ground need names of their own")
		seen[t] = true
	}
	for _, r := range p.Rails {
		fail("rail "+r.Name+" volts", r.Volts.Check())
		fail("rail "+r.Name+" limit", r.Limit.Check())
	}
	for _, s := range p.Supplies {
		fail("supply "+s.ID+" limit", s.Limit.Check())
		fail("supply "+s.ID+" input", s.Input.Check())
		_, ok := p.Rail(s.Rail)
		need(ok, "supply "+s.ID, fmt.Sprintf("%q is not one of the rails", s.Rail))
		for name, v := range s.Rails {
			_, ok := p.Rail(name)
			need(ok, "supply "+s.ID, fmt.Sprintf("%q is not one of the rails", name))
			fail("supply "+s.ID+" rail "+name, v.Check())
		}
		if r := s.Regulator; r != nil {
			_, ok := p.Rail(r.Rail)
			need(ok, "supply "+s.ID+" regulator", fmt.Sprintf("%q is not one of the rails", r.Rail))
			need(r.Drop.IsZero() != r.Efficiency.IsZero(), "supply "+s.ID+" regulator", "it has either a drop or an efficiency")
			fail("supply "+s.ID+" regulator heat", r.Heat.Check())
		}
	}
	_, ok := p.Rail(p.Power)
	need(ok, "power", fmt.Sprintf("%q is not one of the rails", p.Power))
	l := p.Logic
	_, ok = p.Rail(l.Rail)
	need(ok, "logic rail", fmt.Sprintf("%q is not one of the rails", l.Rail))
	for name, v := range map[string]spec.Value{"high": l.High, "low": l.Low, "leakage": l.Leakage} {
		fail("logic "+name, v.Check())
	}
	for name, v := range map[string]spec.Value{"pullUp": l.PullUp, "pullDown": l.PullDown} {
		if !v.IsZero() {
			fail("logic "+name, v.Check())
			need(v.Low > 0, "logic "+name, "it must be above zero ohms")
		}
	}
	need(l.High.Low > 0 && l.Low.Low > 0, "logic", "output resistances must be above zero ohms")
	fail("logic pin", l.Pin.Check())
	_, ok = p.Rail(l.Analog.Reference)
	need(ok, "logic analog", fmt.Sprintf("%q is not one of the rails", l.Analog.Reference))
	need(l.Analog.Bits >= 1 && l.Analog.Bits <= 24, "logic analog", "it has 1 to 24 bits")
	need(l.Analog.SourceOhms > 0 && l.Analog.Source != "", "logic analog", "it needs a source resistance above zero, and its source")
	fail("logic total", l.Total.Check())
	need(l.Tolerates.Volts >= 0 && l.Tolerates.Source != "", "logic tolerates", "it needs volts, zero or more, and their source")
	for _, g := range l.Groups {
		fail("group "+g.Name, g.Limit.Check())
		need(g.Way == Source || g.Way == Sink, "group "+g.Name, fmt.Sprintf("its way is %q or %q", Source, Sink))
		for _, name := range g.Pins {
			_, ok := p.Pin(name)
			need(ok, "group "+g.Name, fmt.Sprintf("there is no pin %q", name))
		}
	}
	fail("appetite", p.Appetite.Check())
	for _, q := range p.Pins {
		need(len(q.Functions) > 0, "pin "+q.Name, "it needs at least one function")
		for _, f := range q.Functions {
			need(slices.Contains(Functions, f), "pin "+q.Name, fmt.Sprintf("%q is not a function; they are %v", f, Functions))
		}
		need(q.Has(PWMOut) == (q.PWM != nil), "pin "+q.Name, "a pin that can do PWM says how, and no other")
		if w := q.PWM; w != nil {
			need(w.Hertz > 0 && w.Bits >= 1 && w.Bits <= 24 && w.Source != "", "pin "+q.Name+" pwm", "it needs a frequency above zero, 1 to 24 bits, and their source")
		}
		if q.Own != nil && q.Own.LED != nil {
			need(q.Own.LED.Ohms > 0 && q.Own.LED.Volts > 0 && q.Own.LED.Source != "", "pin "+q.Name+" led", "it needs ohms and volts above zero, and their source")
		}
	}
	places := map[string]bool{}
	for _, h := range p.Headers {
		for _, place := range h.Places {
			places[place] = true
		}
	}
	for _, q := range p.Pins {
		need(places[q.Name], "pin "+q.Name, "it has no place on a header")
	}
	for _, q := range p.Places {
		where := "place " + q.Name
		need(places[q.Name], where, "it is not on a header")
		need(q.Is != "", where, "say what it is")
		_, pin := p.Pin(q.Of)
		_, rail := p.Rail(q.Of)
		need(q.Of == "" || pin || rail || q.Of == p.Ground, where, fmt.Sprintf("%q is no pin, rail or ground", q.Of))
		need(q.Supply == "" || slices.ContainsFunc(p.Supplies, func(s Supply) bool { return s.ID == q.Supply }), where, fmt.Sprintf("there is no supply %q", q.Supply))
		if q.Pulled != nil {
			_, ok := p.Rail(q.Pulled.To)
			need(ok && q.Of == "" && q.Supply == "", where, "what the board pulls up is pulled to a rail, and is nothing else")
			fail(where+" ohms", q.Pulled.Ohms.Check())
			need(q.Pulled.Ohms.Low > 0, where, "its pull must be above zero ohms")
		}
	}
	if p.Plugs != nil {
		need(p.Plugs.Across >= 3 && p.Plugs.Across <= 11 && p.Plugs.Source != "", "plugs", "a board that plugs in has 3 to 11 steps of 2.54 mm between its rows of pins, and their source")
		need(len(p.Headers) >= 2 && len(p.Headers[0].Places) == len(p.Headers[1].Places), "plugs", "a board that plugs in has two headers of the same length")
	}
	sort.Slice(errs, func(i, j int) bool { return errs[i].Error() < errs[j].Error() })
	return errs
}

//go:embed data/*.json
var files embed.FS

// Shipped returns the boards that come with Cablaggio, sorted by name.
func Shipped() []*Profile {
	entries, err := files.ReadDir("data")
	if err != nil {
		panic(err)
	}
	var out []*Profile
	for _, e := range entries {
		f, err := files.Open("data/" + e.Name())
		if err != nil {
			panic(err)
		}
		p, err := Parse(f)
		if err != nil {
			panic(fmt.Sprintf("board: %s: %v", e.Name(), err))
		}
		out = append(out, p)
	}
	sort.Slice(out, func(i, j int) bool { return out[i].Name < out[j].Name })
	return out
}
