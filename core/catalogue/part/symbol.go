package part

import (
	_ "embed"
	"encoding/json"
	"fmt"
	"strconv"
	"sync"
)

// A Symbol is the drawing of IEC 60617 that stands for a kind of part. It lies on the line y = 0 with
// its terminals at x = 0 and x = [SymbolWidth], so that symbols join end to end; y goes down.
type Symbol []Mark

// SymbolWidth is how wide every symbol is, in its own units.
const SymbolWidth = 60

// A Mark is one thing that a symbol is drawn of: a path, a circle or a text.
type Mark struct {
	Path   Path       `json:"path,omitempty"`
	Circle [3]float64 `json:"circle"` // its centre and radius
	Text   string     `json:"text,omitempty"`
	At     [2]float64 `json:"at"`              // of the text: the middle of its foot
	Size   float64    `json:"size,omitempty"`  // of the text
	Width  float64    `json:"width,omitempty"` // of the line; 0: 2
	Fill   string     `json:"fill,omitempty"`  // "solid", "ink": the lamp's own, or the name of one
}

// A Path is a path as SVG writes it, of M, L, H, V, C and Z, or the same in small letters.
type Path string

// A Stroke is a piece of a path, in the whole coordinates of the symbol.
type Stroke struct {
	Do byte           // 'M', 'L', 'C' or 'Z'
	To []([2]float64) // a point, or the two that steer a curve and its end
}

//go:embed symbols.json
var symbolFile []byte

// Symbols returns the symbols by the names that kinds of parts have for them. They are shared: they
// must not be changed.
func Symbols() map[string]Symbol { return symbols() }

var symbols = sync.OnceValue(func() (out map[string]Symbol) {
	if err := json.Unmarshal(symbolFile, &out); err != nil {
		panic("part: symbols: " + err.Error())
	}
	return out
})

// takes is how many numbers a letter of a path takes at once.
var takes = map[byte]int{'M': 2, 'L': 2, 'H': 1, 'V': 1, 'C': 6, 'Z': 0}

// Strokes reads a path. Its error says what is none.
func (p Path) Strokes() (out []Stroke, err error) {
	var at, begun [2]float64
	for i := 0; i < len(p); {
		letter := p[i]
		do, from := letter, [2]float64{}
		if letter >= 'a' {
			do, from = letter-'a'+'A', at
		}
		n, ok := takes[do]
		if !ok {
			return nil, fmt.Errorf("%q at %d of a path", letter, i)
		}
		i++
		v := make([]float64, n)
		for k := range v {
			if v[k], i, err = p.number(i); err != nil {
				return nil, err
			}
		}
		s := Stroke{Do: do}
		switch do {
		case 'H':
			s.Do, s.To = 'L', [][2]float64{{from[0] + v[0], at[1]}}
		case 'V':
			s.Do, s.To = 'L', [][2]float64{{at[0], from[1] + v[0]}}
		default:
			for k := 0; k < n; k += 2 {
				s.To = append(s.To, [2]float64{from[0] + v[k], from[1] + v[k+1]})
			}
		}
		if at = begun; do != 'Z' {
			at = s.To[len(s.To)-1]
		}
		if do == 'M' {
			begun = at
		}
		out = append(out, s)
	}
	return out, nil
}

// number reads a number of a path from a place on, and returns the place behind it.
func (p Path) number(from int) (float64, int, error) {
	for from < len(p) && p[from] == ' ' {
		from++
	}
	end := from
	for end < len(p) && (p[end] >= '0' && p[end] <= '9' || p[end] == '.' || p[end] == '-' && end == from) {
		end++
	}
	v, err := strconv.ParseFloat(string(p[from:end]), 64)
	return v, end, err
}
