package toolchain

import (
	"cmp"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/running/program"
)

// treeRoot is the namespace that a program is put in, so that its tree can be told from that
// of what it includes.
const treeRoot = "program_"

// A tree is the compiler's tree of a program, of which only some is read.
type tree struct {
	text string
	root node
	rows []int // by line of the text, the line that the builder knows
	ends []int // where the lines of the text begin
}

type node struct {
	ID             string
	Kind           string
	Name           string
	Opcode         string
	StorageClass   string
	CastKind       string
	Value          json.RawMessage
	Range          struct{ Begin, End place }
	Loc            place
	Type           struct{ QualType, DesugaredQualType string }
	ReferencedDecl *node
	Inner          []*node
}

type place struct {
	Offset       int
	TokLen       int
	IncludedFrom *struct{ File string }
	SpellingLoc  *place
	ExpansionLoc *place
}

// here is the place in the text itself, for what a macro stands for where the macro stands.
func (p place) here() place {
	if p.ExpansionLoc != nil {
		return *p.ExpansionLoc
	}
	return p
}

func (p place) plain() bool { return p.SpellingLoc == nil && p.IncludedFrom == nil && p.TokLen > 0 }

func (n *node) typed() string { return cmp.Or(n.Type.DesugaredQualType, n.Type.QualType) }

// parseTree reads the compiler's tree of a text.
func parseTree(text string, dump []byte) (*tree, error) {
	t := &tree{text: text}
	i := slices.Index(dump, '{')
	if i < 0 {
		return nil, errNotCompiled
	}
	if err := json.NewDecoder(strings.NewReader(string(dump[i:]))).Decode(&t.root); err != nil {
		return nil, fmt.Errorf("%w: its tree: %w", errNotCompiled, err)
	}
	row := 0
	for at := 0; at <= len(text); {
		end := until(text, at, "\n")
		line := text[at:end]
		row++
		t.ends = append(t.ends, at)
		t.rows = append(t.rows, row)
		if m := marker.FindStringSubmatch(line); m != nil {
			row = atoi(m[1]) - 1
		}
		at = end + 1
	}
	return t, nil
}

var marker = regexp.MustCompile(`^#(?:line)? (\d+) `)

// line is the line of a place that the builder knows.
func (t *tree) line(p place) int {
	at := p.here().Offset
	i, found := slices.BinarySearch(t.ends, at)
	if !found {
		i--
	}
	return t.rows[max(0, i)]
}

// bare is an expression without parentheses and conversions around it.
func (n *node) bare() *node {
	for n != nil && (n.Kind == "ParenExpr" || n.Kind == "ImplicitCastExpr") {
		n = first(n)
	}
	return n
}

// each does it with a node and all in it, from the outside in.
func (n *node) each(do func(*node)) {
	if n == nil {
		return
	}
	do(n)
	for _, c := range n.Inner {
		c.each(do)
	}
}

// literal is the number that an expression is written as; false where it is no plain one.
func (n *node) literal() (int, bool) {
	if n = n.bare(); n == nil || n.Kind != "IntegerLiteral" {
		return 0, false
	}
	return atoi(strings.Trim(string(n.Value), `"`)), true
}

// zeros tells of the lines in which two whole numbers are divided, and nothing is left.
func (t *tree) zeros() (out []program.Message) {
	t.root.each(func(n *node) {
		if n.Kind != "BinaryOperator" || n.Opcode != "/" || len(n.Inner) != 2 || strings.Contains(n.typed(), "float") || strings.Contains(n.typed(), "double") {
			return
		}
		a, ok := n.Inner[0].literal()
		b, also := n.Inner[1].literal()
		if ok && also && a > 0 && a < b {
			out = append(out, program.Message{Line: t.line(n.Range.Begin), Said: fmt.Sprintf("integer division gives 0: %d", a), Option: "integer-division-zero"})
		}
	})
	return out
}

// boardCalls are the calls that are listed.
var boardCalls = map[string]bool{
	"pinMode": true, "digitalWrite": true, "digitalRead": true, "analogRead": true, "analogWrite": true, "tone": true, "noTone": true,
	"pulseIn": true, "pulseInLong": true, "shiftOut": true, "shiftIn": true, "attachInterrupt": true, "delay": true, "delayMicroseconds": true,
	"print": true, "println": true, "begin": true,
}

var (
	receives = regexp.MustCompile(`\bSerial\s*\.\s*(?:available|read|peek|parse)`)
	clocks   = regexp.MustCompile(`\bmillis\s*\(`)
)

// A function is what is known of one of the program's.
type function struct {
	calls []string        // ids of those that it calls
	names []program.Call  // of the board
	vars  map[string]bool // ids of the variables that it uses
}

// facts reads what the check wants to know.
func (t *tree) facts() program.Tree {
	functions := map[string]*function{}
	variables := map[string]program.Variable{}
	handlers := map[string]bool{}
	var order []string
	var walk func(n *node, in *function)
	walk = func(n *node, in *function) {
		if n == nil {
			return
		}
		switch n.Kind {
		case "FunctionDecl", "CXXMethodDecl", "LambdaExpr":
			in = &function{vars: map[string]bool{}}
			functions[n.ID] = in
			order = append(order, n.ID)
		case "VarDecl":
			if q := n.typed(); len(functions) >= 0 && in == nil && !strings.Contains(q, "volatile") && !strings.HasPrefix(q, "const ") {
				variables[n.ID] = program.Variable{Name: n.Name, Line: t.line(n.Loc)}
			}
		case "DeclRefExpr", "MemberExpr":
			if r := n.ReferencedDecl; r != nil && in != nil {
				if r.Kind == "VarDecl" {
					in.vars[r.ID] = true
				} else {
					in.calls = append(in.calls, r.ID)
				}
			}
		case "CallExpr", "CXXMemberCallExpr":
			name := callee(n)
			if boardCalls[name] && in != nil {
				in.names = append(in.names, program.Call{Name: name, Line: t.line(n.Range.Begin)})
			}
			if name == "attachInterrupt" {
				for _, id := range handedOver(n) {
					handlers[id] = true
				}
			}
		}
		for _, c := range n.Inner {
			walk(c, in)
		}
	}
	walk(&t.root, nil)
	// Whatever a handler calls belongs to it.
	for grown := true; grown; {
		grown = false
		for id := range handlers {
			if f := functions[id]; f != nil {
				for _, called := range f.calls {
					if !handlers[called] && functions[called] != nil {
						handlers[called], grown = true, true
					}
				}
			}
		}
	}
	out := program.Tree{Receives: receives.MatchString(t.text)}
	if clocks.MatchString(t.text) {
		out.Clock = 1 << 32
	}
	within, beside := map[string]bool{}, map[string]bool{}
	for _, id := range order {
		f := functions[id]
		for v := range f.vars {
			if handlers[id] {
				within[v] = true
			} else {
				beside[v] = true
			}
		}
		for _, c := range f.names {
			c.Handler = handlers[id]
			out.Calls = append(out.Calls, c)
		}
	}
	for id, v := range variables {
		if within[id] && beside[id] {
			out.Shared = append(out.Shared, v)
		}
	}
	slices.SortFunc(out.Shared, func(a, b program.Variable) int {
		return cmp.Or(cmp.Compare(a.Line, b.Line), cmp.Compare(a.Name, b.Name))
	})
	slices.SortStableFunc(out.Calls, func(a, b program.Call) int { return cmp.Compare(a.Line, b.Line) })
	return out
}

// callee is the name of what a call calls.
func callee(n *node) string {
	for n = first(n); n != nil; n = first(n) {
		switch {
		case n.Kind == "DeclRefExpr" && n.ReferencedDecl != nil:
			return n.ReferencedDecl.Name
		case n.Kind == "MemberExpr":
			return n.Name
		}
	}
	return ""
}

func first(n *node) *node {
	if len(n.Inner) == 0 {
		return nil
	}
	return n.Inner[0]
}

// handedOver are the functions among the arguments of a call.
func handedOver(n *node) (ids []string) {
	var walk func(n *node)
	walk = func(n *node) {
		switch {
		case n == nil:
			return
		case n.Kind == "LambdaExpr":
			ids = append(ids, n.ID)
			return
		case n.Kind == "DeclRefExpr" && n.ReferencedDecl != nil && n.ReferencedDecl.Kind == "FunctionDecl":
			ids = append(ids, n.ReferencedDecl.ID)
		}
		for _, c := range n.Inner {
			walk(c)
		}
	}
	for _, c := range n.Inner[min(1, len(n.Inner)):] {
		walk(c)
	}
	return ids
}

// narrowed is the program with an int of 16 bits: what can grow beyond it is cut as the board
// cuts it, and the words for the type are those of a type of 16 bits. C++17, 8.2 [expr.arith.conv]
// says which operations are done in an int.
func (t *tree) narrowed() string {
	type put struct {
		at    int
		text  string
		order int
	}
	var puts []put
	wrap := func(n *node, call string) {
		b, e := n.Range.Begin, n.Range.End
		if !b.plain() || !e.plain() {
			return
		}
		puts = append(puts, put{b.Offset, call + "(", len(puts)}, put{e.Offset + e.TokLen, ")", -len(puts) - 1})
	}
	var walk func(n *node, in string)
	walk = func(n *node, in string) {
		if n == nil {
			return
		}
		ty := n.typed()
		switch {
		case n.Kind == "BinaryOperator" && slices.Contains([]string{"+", "-", "*", "<<"}, n.Opcode), n.Kind == "UnaryOperator" && (n.Opcode == "-" || n.Opcode == "~"):
			switch ty {
			case "int":
				wrap(n, "fits_")
			case "unsigned int":
				wrap(n, "cut_")
			}
		case n.Kind == "ImplicitCastExpr" && n.CastKind == "IntegralCast" && ty == "unsigned int" && in == "BinaryOperator":
			if inner := first(n); inner != nil && inner.Kind != "IntegerLiteral" {
				wrap(n, "cut_")
			}
		}
		for _, c := range n.Inner {
			walk(c, n.Kind)
		}
	}
	walk(&t.root, "")
	slices.SortStableFunc(puts, func(a, b put) int { return cmp.Or(cmp.Compare(a.at, b.at), cmp.Compare(a.order, b.order)) })
	var out strings.Builder
	at := 0
	for _, p := range puts {
		out.WriteString(t.text[at:p.at])
		out.WriteString(p.text)
		at = p.at
	}
	out.WriteString(t.text[at:])
	s := strings.TrimSuffix(strings.TrimPrefix(out.String(), "namespace "+treeRoot+" {\n"), "\n}\n") + "\n"
	return short(s)
}

var words = regexp.MustCompile(`\b(?:unsigned\s+int|long\s+int|short\s+int|unsigned|int|double)\b(\s+\w+)?`)

// short writes the types of 16 bits for int and unsigned, outside of texts and comments.
func short(text string) string {
	blanked := bare(text)
	var out strings.Builder
	at := 0
	for _, m := range words.FindAllStringIndex(blanked, -1) {
		word := blanked[m[0]:m[1]]
		fields := strings.Fields(word)
		var with string
		keep := len(fields[0])
		switch {
		case fields[0] == "double":
			with = "float"
		case fields[0] == "int":
			with = "short"
		case fields[0] == "unsigned" && len(fields) > 1 && fields[1] == "int":
			with, keep = "unsigned short", strings.Index(word, "int")+3
		case fields[0] == "unsigned" && len(fields) > 1 && slices.Contains([]string{"long", "short", "char"}, fields[1]):
			continue
		case fields[0] == "unsigned":
			with = "unsigned short"
		default: // long int, short int
			with, keep = fields[0], strings.Index(word, "int")+3
		}
		out.WriteString(text[at:m[0]])
		out.WriteString(with)
		at = m[0] + keep
	}
	out.WriteString(text[at:])
	return out.String()
}
