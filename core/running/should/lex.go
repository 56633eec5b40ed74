package should

import (
	_ "embed"
	"encoding/json"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/kljensen/snowball/english"
)

//go:embed words.json
var wordsFile []byte

// words are those of sentences about a build.
var words = func() (w struct {
	Numbers    map[string]float64
	Ordinals   []string
	Units      map[string]string
	Same       map[string]string // ways of writing
	Fillers    []string
	Articles   []string
	Be         []string
	Not        []string
	People     []string
	Objects    []string
	Nobody     []string
	When       map[string][]string // what begins a clause that says when, by what it means
	Press      []string
	Hold       []string
	Release    []string
	Pressed    []string
	Up         []string
	Open       []string
	Closed     []string
	Spins      []string
	Still      []string
	Above      []string
	Below      []string
	ToLevel    []string
	Sees       []string // of a sensor with two states
	Most       []string
	Least      []string
	Darkness   []string
	Daylight   []string
	Cover      []string
	Lighten    []string
	Opposite   []string                       // of two things
	LevelNames map[string]map[string][]string // of a kind of part: how its levels are also called
	Ways       map[string][2][]string         // of a kind of contact: how its two ways are also called
	First      []string
	Limits     []string
	One        []string
	Together   []string
	Unchanged  []string
	InTurn     []string
	NoEffect   []string                       // of a hand, on all there is
	Claims     map[string]map[string][]string // by kind of thing, by its claim
	Does       map[string][]string            // what a hand does to a thing
	Changes    []string
	Controls   []string
	Brighter   []string
	Darker     []string
	Nouns      map[string][]string // what a kind of thing, or of hand, is called
}) {
	if err := json.Unmarshal(wordsFile, &w); err != nil {
		panic(err)
	}
	return w
}()

// A token is a word, a number with its unit or without, a text in quotes, or a comma.
type token struct {
	text   string
	stem   string
	number float64
	unit   string // of a number: "" where none is said
	kind   tokenKind
}

type tokenKind uint8

const (
	plainWord tokenKind = iota
	number
	quoted
	comma
)

var pieces = regexp.MustCompile(`"[^"]*"|-?\d+(?:[.,]\d+)?|°\s?[cC]\b|°|%|[\p{L}_][\p{L}\p{N}_'’-]*|[*#]|[,;:]|\.\s|'[sS]\b`)

var ways = strings.NewReplacer("’", "'", "“", `"`, "”", `"`, "−", "-", "->", ",", " – ", ", ", " — ", ", ", " - ", ", ", "= on", " is on", "= off", " is off", "=", " means ")

// spans are words behind which "a second" is a time, and not a press.
var spans = []string{"at_least", "at_most", "than", "within", "for", "after", "under", "once"}

// listed are several things that are said with colons or dashes, "push: light, let go: dark".
var listed = regexp.MustCompile(`^([^,:]+)(?::| [-–—]) ([^,:]+), ([^,:]+)(?::| [-–—]) ([^,:]+)$`)

// dashed are figures with dashes between, 2-5-8-0.
var dashed = regexp.MustCompile(`(\d)-(\d)`)

// lex takes a text apart, and puts ways of writing as one.
func lex(text string) []token {
	var list []string
	text = listed.ReplaceAllString(text, "$1, $2; $3, $4")
	text = dashed.ReplaceAllString(dashed.ReplaceAllString(text, "$1 $2"), "$1 $2")
	for _, p := range pieces.FindAllString(ways.Replace(text), -1) {
		if strings.HasPrefix(p, `"`) {
			list = append(list, p)
			continue
		}
		p = strings.ToLower(p)
		if base, ok := strings.CutSuffix(p, "'s"); ok && base != "" && words.Same[p] == "" {
			list = append(list, base, "'s")
			continue
		}
		list = append(list, strings.ReplaceAll(p, "° c", "°c"))
	}
	list = same(upTo(list))
	var out []token
	for i := 0; i < len(list); i++ {
		w := list[i]
		if w = strings.TrimSpace(w); w == "." {
			w = ";"
		}
		if w == "," || w == ";" || w == ":" {
			out = append(out, token{text: strings.Replace(w, ":", ",", 1), stem: ",", kind: comma})
			continue
		}
		if t, ok := strings.CutPrefix(w, `"`); ok {
			out = append(out, token{text: strings.TrimSuffix(t, `"`), kind: quoted})
			continue
		}
		v, err := strconv.ParseFloat(strings.Replace(w, ",", ".", 1), 64)
		if n, ok := words.Numbers[w]; ok {
			v, err = n, nil
		}
		if slices.Contains(words.Articles, w) && i > 0 && i+1 < len(list) && (list[i+1] == "second" || list[i+1] == "minute") && slices.Contains(spans, list[i-1]) {
			v, err = 1, nil // longer than a second
		}
		if err == nil {
			t := token{text: w, stem: w, number: v, kind: number}
			k := i + 1
			for k < len(list) && slices.Contains(words.Articles, list[k]) { // half a second
				k++
			}
			if k < len(list) && isUnit(list[k]) {
				t.unit = or(words.Units[list[k]], list[k])
				for i = k; i+1 < len(list) && t.unit == "°c" && words.Units[list[i+1]] == "°c"; i++ {
				}
			}
			out = append(out, t)
			continue
		}
		out = append(out, token{text: w, stem: stem(w)})
	}
	return out
}

// upTo counts out "1 to 6".
func upTo(list []string) (out []string) {
	for i, w := range list {
		if w == "to" && i > 0 && i+1 < len(list) {
			from, err := strconv.Atoi(list[i-1])
			to, also := strconv.Atoi(list[i+1])
			if err == nil && also == nil && to > from && to < from+40 && (i+2 >= len(list) || !isUnit(list[i+2])) {
				for n := from + 1; n < to; n++ {
					out = append(out, ",", strconv.Itoa(n))
				}
				out = append(out, ",")
				continue
			}
		}
		if n := len(list); w == "to" && i > 1 && i+2 < n && list[i-2] == list[i+1] { // lamp 1 to lamp 6
			from, err := strconv.Atoi(list[i-1])
			to, also := strconv.Atoi(list[i+2])
			if err == nil && also == nil && to > from && to < from+40 {
				for k := from + 1; k < to; k++ {
					out = append(out, ",", list[i-2], strconv.Itoa(k))
				}
				out = append(out, ",")
				continue
			}
		}
		out = append(out, w)
	}
	return out
}

// same replaces ways of writing, the longest first.
func same(list []string) (out []string) {
	for i := 0; i < len(list); {
		n := 0
		for k := min(5, len(list)-i); k > 0 && n == 0; k-- {
			if is, ok := words.Same[strings.Join(list[i:i+k], " ")]; ok {
				out = append(out, strings.Fields(is)...)
				n = k
			}
		}
		if n == 0 {
			out = append(out, list[i])
			n = 1
		}
		i += n
	}
	return out
}

// irregular are forms that no rule finds.
var irregular = map[string]string{
	"lit": "lit", "goes": "go", "went": "go", "going": "go", "came": "come", "held": "hold", "rang": "ring", "shone": "shine", "spun": "spin",
	"kept": "be", "brighter": "brighter", "darker": "darker", "dimmer": "dimmer", "stood": "stand", "fell": "fall", "rose": "rise", "let": "let", "opened": "open", "closed": "close",
}

func stem(w string) string {
	if s, ok := irregular[w]; ok {
		return s
	}
	return english.Stem(w, false)
}

// unit is the time that a unit stands for; 0: none.
func unitOf(t token) time.Duration {
	switch t.unit {
	case "ms":
		return time.Duration(t.number * float64(time.Millisecond))
	case "s":
		return time.Duration(t.number * float64(time.Second))
	case "min":
		return time.Duration(t.number * float64(time.Minute))
	}
	return 0
}

// phrases are sequences of words, as stems.
type phrases [][]string

func stems(list []string) (out phrases) {
	for _, p := range list {
		var one []string
		for _, t := range strip(lex(p), nil) {
			one = append(one, t.stem)
		}
		if len(one) > 0 {
			out = append(out, one)
		}
	}
	return out
}

// ends lists where the phrases end that tokens begin with, the longest first.
func (p phrases) ends(list []token) (out []int) {
	for _, one := range p {
		if len(one) > len(list) {
			continue
		}
		is := true
		for i, s := range one {
			is = is && list[i].stem == s && list[i].kind != quoted
		}
		if is {
			out = append(out, len(one))
		}
	}
	slices.Sort(out)
	slices.Reverse(out)
	return slices.Compact(out)
}

// is reports whether tokens are one of the phrases.
func (p phrases) is(list []token) bool {
	ends := p.ends(list)
	return len(ends) > 0 && ends[0] == len(list)
}

// strip leaves out what says nothing; kept are words that are part of a name here.
func strip(list []token, kept map[string]bool) (out []token) {
	for _, t := range list {
		if t.kind == plainWord && !kept[t.text] && (slices.Contains(words.Fillers, t.text) || slices.Contains(words.Articles, t.text)) {
			continue
		}
		switch {
		case t.kind != plainWord:
		case slices.Contains(words.Be, t.text) && !kept[t.text]:
			t.stem = "be"
		case slices.Contains(words.Not, t.text):
			t.stem = "not"
		case slices.Contains(words.People, t.text) && !kept[t.text]:
			t.stem = "somebody"
		}
		out = append(out, t)
	}
	return out
}

func text(list []token) string {
	var out []string
	for _, t := range list {
		switch {
		case t.kind == comma && len(out) > 0:
			out[len(out)-1] += ","
		case t.kind == quoted:
			out = append(out, strconv.Quote(t.text))
		default:
			out = append(out, t.text)
		}
	}
	return strings.Join(out, " ")
}
