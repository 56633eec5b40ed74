package build

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"strings"
)

// A Problem is one thing that is wrong with a document.
type Problem struct {
	Where string `json:"where"` // "parts[2].values.resistance"
	What  string `json:"what"`  // what is wrong
	Right string `json:"right"` // what would be right
}

func (p Problem) String() string {
	s := p.What
	if p.Where != "" {
		s = p.Where + ": " + s
	}
	if p.Right != "" {
		s += "; " + p.Right
	}
	return s
}

// Problems is the error of [Parse] and [Library.Validate]: everything that is
// wrong, in the order of the document.
type Problems []Problem

func (ps Problems) Error() string {
	lines := make([]string, len(ps))
	for i, p := range ps {
		lines[i] = p.String()
	}
	return strings.Join(lines, "\n")
}

// Parse reads a document and validates it against the library. Its error is a
// [Problems].
func (l *Library) Parse(data []byte) (*Document, error) {
	if len(data) > MaxBytes {
		return nil, Problems{{What: fmt.Sprintf("the file has %d kB", len(data)/1024), Right: "a build has at most 1024 kB"}}
	}
	var doc Document
	if err := Decode(data, &doc); err != nil {
		return nil, err
	}
	doc.fill()
	if err := l.Validate(&doc); err != nil {
		return nil, err
	}
	return &doc, nil
}

// Decode reads JSON strictly: no unknown fields, no nesting that nothing of
// ours has, nothing behind the end. Its error is a [Problems].
func Decode(data []byte, into any) error {
	if err := shallow(data); err != nil {
		return err
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	if err := d.Decode(into); err != nil {
		return Problems{explain(err, data)}
	}
	if d.More() {
		return Problems{{What: "there is something after the end", Right: "a file holds one build"}}
	}
	return nil
}

// fill replaces the lists that a file left out.
func (d *Document) fill() {
	if d.Parts == nil {
		d.Parts = []Part{}
	}
	if d.Nets == nil {
		d.Nets = []Net{}
	}
	for i := range d.Kinds {
		d.Kinds[i].Fill()
	}
}

// shallow refuses nesting that no build has, before anything recursive sees it.
func shallow(data []byte) error {
	depth, inText := 0, false
	for i := 0; i < len(data); i++ {
		switch c := data[i]; {
		case inText && c == '\\':
			i++
		case c == '"':
			inText = !inText
		case inText:
		case c == '{' || c == '[':
			if depth++; depth > maxDepth {
				return Problems{{What: fmt.Sprintf("the file is nested more than %d deep", maxDepth), Right: "a build has lists of parts and nets, and little below them"}}
			}
		case c == '}' || c == ']':
			depth--
		}
	}
	return nil
}

// explain puts an error of the JSON decoder into the words of a bench.
func explain(err error, data []byte) Problem {
	var syntax *json.SyntaxError
	var typ *json.UnmarshalTypeError
	switch {
	case errors.As(err, &syntax):
		line := 1 + bytes.Count(data[:min(int(syntax.Offset), len(data))], []byte("\n"))
		return Problem{What: fmt.Sprintf("this is not JSON: line %d: %v", line, syntax), Right: "export a build to see the form"}
	case errors.As(err, &typ):
		return Problem{Where: typ.Field, What: fmt.Sprintf("a %s stands where a %s belongs", typ.Value, kindName(typ.Type.Kind().String()))}
	case strings.HasPrefix(err.Error(), "json: unknown field "):
		return Problem{What: "there is no field " + strings.TrimPrefix(err.Error(), "json: unknown field "), Right: "see schema/build.schema.json"}
	}
	return Problem{What: "this is not a build: " + err.Error(), Right: "export a build to see the form"}
}

func kindName(kind string) string {
	switch kind {
	case "float64":
		return "number"
	case "struct", "map":
		return "group {…}"
	case "slice":
		return "list […]"
	}
	return kind
}
