package program

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/judgement/check"
)

// letters are the bars of A to F (common practice); b is as a 6 without its tail.
var letters = strings.Fields("abcefg adef deg bcdeg adefg aefg")

// legible reports whether bars make a figure, or one of the letters that stand for 10 to 15.
func legible(bars string) bool { return part.FigureOf(bars) >= 0 || slices.Contains(letters, bars) }

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
			if legible(bars) {
				known++
			}
			if legible(without(bars)) {
				inside++
			}
		}
		pin := f.board.Number(p.Signals[0].Pin)
		if a, b := exchangedBars(shown); a != "" && known < len(shown) {
			i, j := strings.Index("abcdefg", a), strings.Index("abcdefg", b)
			x := f.about(check.Finding{Level: check.Care, Parts: []string{p.ID}}, f.board.Number(p.Signals[i].Pin), f.board.Number(p.Signals[j].Pin))
			if q := f.o.pins[f.board.Number(p.Signals[i].Pin)]; q != nil {
				x.Line = q.firstLine
			}
			x.Title = fmt.Sprintf("What %s shows are no figures: with its bars %s and %s exchanged they would be.", p.Name, a, b)
			x.Why = fmt.Sprintf("It shows %s. Bar %s is on %s, and bar %s on %s.", list(slices.Sorted(maps.Keys(shown)), 4), a, p.Signals[i].Pin, b, p.Signals[j].Pin)
			out = append(out, x)
			continue
		}
		if known > len(shown)/2 || inside < len(shown)-1 {
			continue
		}
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

// exchangedBars are the only two bars with which exchanged all that is shown are figures; empty where there
// are none, or several.
func exchangedBars(shown map[string]bool) (a, b string) {
	const bars = "abcdefg"
	for i := range bars {
		for j := i + 1; j < len(bars); j++ {
			swap := strings.NewReplacer(bars[i:i+1], bars[j:j+1], bars[j:j+1], bars[i:i+1])
			all := true
			for lit := range shown {
				turned := strings.Split(swap.Replace(lit), "")
				slices.Sort(turned)
				all = all && legible(strings.Join(turned, ""))
			}
			if all && a != "" {
				return "", ""
			}
			if all {
				a, b = bars[i:i+1], bars[j:j+1]
			}
		}
	}
	return a, b
}

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
