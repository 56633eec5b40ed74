package program

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/judgement/check"
)

// shownFigures are the bars of 0 to 9 with and without their tails, and of A to F (common practice).
var shownFigures = strings.Fields("abcdef bc ef abdeg abcdg bcfg acdfg acdefg cdefg abc abcf abcdefg abcdfg abcfg " +
	"abcefg adef deg bcdeg adefg aefg")

// figuresOut finds digits whose bars are lit the other way round.
var figuresOut = rule{"figures", func(f *facts) []check.Finding {
	const enough = 4 // figures that are shown: fewer may be anything
	if len(f.moved) > 0 {
		return nil
	}
	var out []check.Finding
	for i := range f.net.Doc.Parts {
		p := &f.net.Doc.Parts[i]
		kind, ok := f.lib.Catalogue.Kind(p.Kind)
		if !ok || kind.Shows != part.Digits {
			continue
		}
		shown := f.shown(p.ID)
		if len(shown) < enough {
			continue
		}
		known, inside := 0, 0
		for bars := range shown {
			if slices.Contains(shownFigures, bars) {
				known++
			}
			if slices.Contains(shownFigures, without(bars)) {
				inside++
			}
		}
		if known > len(shown)/2 || inside < len(shown)-1 {
			continue
		}
		pin := f.board.Number(p.Signals[0].Pin)
		x := f.about(check.Finding{Level: check.Care, Parts: []string{p.ID}}, pin)
		if q := f.o.pins[pin]; q != nil {
			x.Line = max(q.highLine, q.lowLine)
		}
		x.Title = fmt.Sprintf("%s is lit inside out: what is to be dark shines, and the figure is dark.", p.Name)
		x.Why = fmt.Sprintf("It shows %s. Its bars are lit by the other level than the program takes: a table of figures is made for a common cathode, or for a common anode.", list(slices.Sorted(maps.Keys(shown)), 4))
		out = append(out, x)
	}
	return out
}}

// without are the bars that are dark while some are lit.
func without(bars string) string {
	return strings.Map(func(r rune) rune {
		if strings.ContainsRune(bars, r) {
			return -1
		}
		return r
	}, "abcdefg")
}

// shown are the bars of a digit that are lit together for as long as one needs to read them.
func (f *facts) shown(id string) map[string]bool {
	const reads = 100 * ms
	out := map[string]bool{}
	for _, r := range f.o.all() {
		var times []int64
		for i := range r.rig.Actors {
			if a := &r.rig.Actors[i]; a.Part.ID == id {
				for _, x := range a.Acts {
					times = append(times, x.At)
				}
			}
		}
		times = append(times, r.limit)
		slices.Sort(times)
		for k := 1; k < len(times); k++ {
			if times[k]-times[k-1] < reads {
				continue
			}
			bars := ""
			for _, bar := range "abcdefg" {
				for i := range r.rig.Actors {
					if a := &r.rig.Actors[i]; a.Part.ID == id && switches(string(bar), a) && a.At(times[k-1]+reads/2).Amps >= a.On {
						bars += string(bar)
					}
				}
			}
			if bars != "" {
				out[bars] = true
			}
		}
	}
	return out
}
