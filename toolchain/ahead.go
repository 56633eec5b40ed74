package toolchain

import (
	"regexp"
	"strings"
)

// bare is C++ with its comments, texts and preprocessor lines as blanks, of the same length.
func bare(text string) string {
	out := []byte(text)
	blank := func(from, to int) {
		for k := from; k < min(to, len(out)); k++ {
			if out[k] != '\n' {
				out[k] = ' '
			}
		}
	}
	lineStart := true
	for i := 0; i < len(text); {
		end := i + 1
		switch c := text[i]; {
		case strings.HasPrefix(text[i:], "//"):
			end = until(text, i, "\n")
			blank(i, end)
		case strings.HasPrefix(text[i:], "/*"):
			end = until(text, i+2, "*/") + 2
			blank(i, end)
		case lineStart && c == '#':
			end = until(text, i, "\n")
			for end < len(text) && text[end-1] == '\\' {
				end = until(text, end+1, "\n")
			}
			blank(i, end)
		case c == 'R' && rawText.MatchString(text[i:]) && !follows(text, i):
			mark := rawText.FindStringSubmatch(text[i:])[1]
			end = min(until(text, i, ")"+mark+"\"")+len(mark)+2, len(text))
			blank(i, end)
		case c == '\'' && inNumber(text, i): // 60'000
		case c == '"' || c == '\'':
			for end < len(text) && text[end] != c && text[end] != '\n' {
				if text[end] == '\\' {
					end++
				}
				end++
			}
			end++
			blank(i, end)
		}
		for k := i; k < min(end, len(text)); k++ {
			if text[k] == '\n' {
				lineStart = true
			} else if text[k] != ' ' && text[k] != '\t' {
				lineStart = false
			}
		}
		i = end
	}
	return string(out)
}

// rawText begins a text that says itself how it ends.
var rawText = regexp.MustCompile(`^R"([^()\\\s"]{0,16})\(`)

// follows reports whether a place is within a word, or a number.
func follows(text string, at int) bool { return at > 0 && wordByte(text[at-1]) }

func wordByte(c byte) bool {
	return c == '_' || c >= '0' && c <= '9' || c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z'
}

// inNumber reports whether what stands before a place is a number: u'x' is none.
func inNumber(text string, at int) bool {
	from := at
	for from > 0 && (wordByte(text[from-1]) || text[from-1] == '\'') {
		from--
	}
	return from < at && text[from] >= '0' && text[from] <= '9'
}

// until is where a mark begins, from a place on; the end where there is none.
func until(text string, from int, mark string) int {
	if from >= len(text) {
		return len(text)
	}
	if i := strings.Index(text[from:], mark); i >= 0 {
		return from + i
	}
	return len(text)
}

var (
	head    = regexp.MustCompile(`(?s)^\s*((?:[A-Za-z_][\w:<>,]*[\s*&]+)+)([A-Za-z_]\w*)\s*\(((?:[^()]|\([^()]*\))*)\)\s*(?:const\s*)?$`)
	notHead = regexp.MustCompile(`^\s*(struct|class|enum|union|namespace|template|typedef|using|extern|else|return)\b|=`)
)

// functions calls found for each function that is defined at the top of a program, with where
// its definition begins, until found says that it is enough.
func functions(text string, found func(at int, result, name, takes string) bool) {
	b := bare(text)
	depth, from := 0, 0
	for i := range len(b) {
		switch b[i] {
		case '{':
			if depth == 0 {
				segment := b[from:i]
				if m := head.FindStringSubmatchIndex(segment); m != nil && !notHead.MatchString(segment[:m[5]]) {
					start := from + m[2]
					if found(start, segment[m[2]:m[3]], segment[m[4]:m[5]], text[from+m[6]:from+m[7]]) {
						return
					}
				}
			}
			depth++
		case '}':
			if depth = max(0, depth-1); depth == 0 {
				from = i + 1
			}
		case ';':
			if depth == 0 {
				from = i + 1
			}
		}
	}
}

// firstFunction is where the first function is defined; the end where there is none.
func firstFunction(text string) int {
	first := len(text)
	functions(text, func(at int, _, _, _ string) bool { first = at; return true })
	return first
}

// declaration declares a function that the program defines; empty where it defines none.
func declaration(text, name string) (d string) {
	functions(text, func(_ int, result, called, takes string) bool {
		if called != name {
			return false
		}
		// What is given where nothing is said stays with the definition: it may be said once.
		d = strings.Join(strings.Fields(result+called+"("+withoutGiven(takes)+");"), " ")
		return true
	})
	return d
}

// withoutGiven is what a function takes, without what is given where nothing is said.
func withoutGiven(takes string) string {
	b := bare(takes)
	var out strings.Builder
	depth, skip := 0, false
	for i := range len(takes) {
		switch c := b[i]; {
		case c == '(' || c == '[' || c == '{':
			depth++
		case c == ')' || c == ']' || c == '}':
			depth--
		case c == '=' && depth == 0:
			skip = true
		case c == ',' && depth == 0:
			skip = false
		}
		if !skip {
			out.WriteByte(takes[i])
		}
	}
	return strings.NewReplacer(" ,", ",").Replace(strings.TrimSpace(out.String()))
}
