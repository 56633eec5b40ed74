package toolchain

import (
	"fmt"
	"strconv"
	"strings"

	"cablaggio/core/running/program"
)

// sources are, by variable, the expressions that are put into it; nil once where it is changed in
// another way, too.
func (t *tree) sources() map[string][]*node {
	from := map[string][]*node{}
	put := func(x, what *node) {
		if x = x.bare(); x != nil && x.ReferencedDecl != nil {
			from[x.ReferencedDecl.ID] = append(from[x.ReferencedDecl.ID], what)
		}
	}
	t.root.each(func(n *node) {
		switch {
		case n.Kind == "VarDecl":
			if x := first(n); x != nil {
				from[n.ID] = append(from[n.ID], x)
			}
		case n.Kind == "BinaryOperator" && n.Opcode == "=" && len(n.Inner) == 2:
			put(n.Inner[0], n.Inner[1])
		case n.Kind == "CompoundAssignOperator", n.Kind == "UnaryOperator" && (n.Opcode == "++" || n.Opcode == "--" || n.Opcode == "&"):
			put(n.Inner[0], nil)
		}
	})
	return from
}

// levels tells of the lines that write to a pin that is low or high what is neither: a number such
// as 255, or what was measured, or was worked out of it without a comparison.
func (t *tree) levels() (out []program.Message) {
	from := t.sources()
	var measured func(n *node, deep int) bool
	measured = func(n *node, deep int) bool {
		is, compares := false, false
		n.each(func(x *node) {
			switch x.Kind {
			case "BinaryOperator":
				switch x.Opcode {
				case "<", ">", "<=", ">=", "==", "!=", "&&", "||", "&", "%", ">>":
					compares = true
				}
			case "UnaryOperator":
				compares = compares || x.Opcode == "!"
			case "ConditionalOperator":
				compares = true
			case "CallExpr":
				is = is || callee(x) == "analogRead"
			case "DeclRefExpr":
				if r := x.ReferencedDecl; r != nil && deep < 3 && len(from[r.ID]) == 1 && from[r.ID][0] != nil {
					is = is || measured(from[r.ID][0], deep+1)
				}
			}
		})
		return is && !compares
	}
	t.root.each(func(n *node) {
		if n.Kind != "CallExpr" || callee(n) != "digitalWrite" || len(n.Inner) < 3 {
			return
		}
		v, ok := n.Inner[2].literal()
		if ok && v > 1 || measured(n.Inner[2], 0) {
			out = append(out, program.Message{Line: t.line(n.Range.Begin), Said: "digitalWrite of more than two levels", Option: "more-than-a-level"})
		}
	})
	return out
}

// compared tells of the lines that compare what was measured, as it is, with what it cannot be: a
// number of volts, or one beyond the last that the converter gives.
func (t *tree) compared(full float64) (out []program.Message) {
	from := t.sources()
	only := func(n *node) *node { // what a variable always is
		if r := n.ReferencedDecl; n.Kind == "DeclRefExpr" && r != nil && len(from[r.ID]) == 1 {
			return from[r.ID][0]
		}
		return nil
	}
	// What a variable that begins with a number gets later is what it is, but for the beginning.
	var measured func(n *node, deep int) bool
	measured = func(n *node, deep int) bool {
		if n = n.bare(); n == nil || deep > 3 {
			return false
		}
		if n.Kind == "CallExpr" {
			return callee(n) == "analogRead"
		}
		r := n.ReferencedDecl
		if n.Kind != "DeclRefExpr" || r == nil || len(from[r.ID]) == 0 {
			return false
		}
		is := 0
		for _, x := range from[r.ID] {
			if x == nil {
				return false
			}
			switch _, plain := x.literal(); {
			case measured(x, deep+1):
				is++
			case !plain:
				return false
			}
		}
		return is > 0
	}
	var number func(n *node, deep int) (float64, bool, bool)
	number = func(n *node, deep int) (v float64, point, ok bool) {
		if n = n.bare(); n == nil || deep > 3 {
			return 0, false, false
		}
		if n.Kind == "FloatingLiteral" {
			v, err := strconv.ParseFloat(strings.Trim(string(n.Value), `"`), 64)
			return v, true, err == nil
		}
		if v, ok := n.literal(); ok {
			return float64(v), false, true
		}
		if x := only(n); x != nil {
			return number(x, deep+1)
		}
		return 0, false, false
	}
	changed := false // the converter's own scale
	t.root.each(func(n *node) { changed = changed || n.Kind == "CallExpr" && callee(n) == "analogReadResolution" })
	if changed {
		return nil
	}
	t.root.each(func(n *node) {
		if n.Kind != "BinaryOperator" || len(n.Inner) != 2 {
			return
		}
		switch n.Opcode {
		case "<", ">", "<=", ">=", "==":
		default:
			return
		}
		for i, x := range n.Inner {
			v, point, ok := number(n.Inner[1-i], 0)
			if !ok || !measured(x, 0) {
				continue
			}
			switch {
			case point && v > 0 && v <= 5.5:
				out = append(out, program.Message{Line: t.line(n.Range.Begin), Said: fmt.Sprintf("a reading is compared with volts: %g, of %g", v, full), Option: "compared-with-volts"})
			case v > full:
				out = append(out, program.Message{Line: t.line(n.Range.Begin), Said: fmt.Sprintf("a reading is compared with %g, and goes to %g", v, full), Option: "beyond-the-scale"})
			}
		}
	})
	return out
}
