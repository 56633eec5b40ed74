package toolchain

import (
	"fmt"

	"cablaggio/core/running/program"
)

// anews tells of variables of loop that are to count over its rounds, or to be turned round from
// one to another, and cannot: they begin anew in each with a number, are counted up at so many
// places, none of which is repeated within the round, and are compared with a number that lies
// farther away; or they get what they are not.
func (t *tree) anews() (out []program.Message) {
	loop := t.root.function("loop")
	if loop == nil {
		return nil
	}
	for _, v := range loop.locals() {
		begins, counts := 0, true
		if x := first(v); x != nil {
			if begins, counts = x.literal(); !counts && !x.constant() {
				continue
			}
		}
		u := use{of: v.ID}
		u.look(loop, false)
		if counts && u.steps > 0 && !u.otherwise && u.farthest > begins+u.steps || u.flips > 0 && u.steps == 0 && !u.otherwise {
			out = append(out, program.Message{
				Line: t.line(v.Range.Begin), Said: fmt.Sprintf("'%s' begins anew in each round", v.Name), Option: "begins-anew",
			})
		}
	}
	return out
}

// constant reports whether an expression is a plain value: a number, true or false, or one of
// those that have a name, as LOW.
func (n *node) constant() bool {
	n = n.bare()
	return n != nil && (n.Kind == "IntegerLiteral" || n.Kind == "CXXBoolLiteralExpr" || n.Kind == "DeclRefExpr" && n.ReferencedDecl != nil && n.ReferencedDecl.Kind == "EnumConstantDecl")
}

// function finds the body of a function.
func (n *node) function(name string) *node {
	if n == nil {
		return nil
	}
	if n.Kind == "FunctionDecl" && n.Name == name {
		for _, c := range n.Inner {
			if c != nil && c.Kind == "CompoundStmt" {
				return c
			}
		}
	}
	for _, c := range n.Inner {
		if f := c.function(name); f != nil {
			return f
		}
	}
	return nil
}

// locals lists the variables that are not kept from round to round.
func (n *node) locals() (out []*node) {
	if n == nil || n.Kind == "ForStmt" || n.Kind == "LambdaExpr" {
		return nil // what a for counts is its own
	}
	if n.Kind == "VarDecl" && n.StorageClass != "static" {
		out = append(out, n)
	}
	for _, c := range n.Inner {
		out = append(out, c.locals()...)
	}
	return out
}

// A use is what is done with a variable.
type use struct {
	of        string // its id
	steps     int    // places that count it up by one
	flips     int    // places that turn it round
	farthest  int    // the largest number that it is compared with
	otherwise bool   // it gets what it is in another way, too, or is counted in a loop
}

// look goes through a tree; inner is within what is repeated in one round.
func (u *use) look(n *node, inner bool) {
	if n == nil {
		return
	}
	is := func(x *node) bool {
		x = x.bare()
		return x != nil && x.Kind == "DeclRefExpr" && x.ReferencedDecl != nil && x.ReferencedDecl.ID == u.of
	}
	switch n.Kind {
	case "ForStmt", "WhileStmt", "DoStmt", "CXXForRangeStmt", "LambdaExpr":
		inner = true
	case "UnaryOperator":
		switch {
		case n.Opcode == "++" && is(first(n)):
			u.steps++
			u.otherwise = u.otherwise || inner
		case (n.Opcode == "--" || n.Opcode == "&") && is(first(n)):
			u.otherwise = true
		}
	case "CompoundAssignOperator":
		if is(first(n)) {
			by, ok := n.Inner[len(n.Inner)-1].literal()
			u.otherwise = u.otherwise || inner || n.Opcode != "+=" || !ok || by != 1
			u.steps++
		}
	case "CallExpr":
		for _, c := range n.Inner {
			u.otherwise = u.otherwise || is(c) && c.Kind == "DeclRefExpr" // by reference
		}
	case "BinaryOperator":
		if len(n.Inner) != 2 {
			break
		}
		a, b := n.Inner[0], n.Inner[1]
		switch n.Opcode {
		case "=":
			if not := b.bare(); is(a) && not != nil && not.Kind == "UnaryOperator" && not.Opcode == "!" && is(first(not)) {
				u.flips++
				u.otherwise = u.otherwise || inner
				break
			}
			u.otherwise = u.otherwise || is(a)
		case ">=", "==":
			if v, ok := b.literal(); ok && is(a) {
				u.farthest = max(u.farthest, v)
			}
		case ">":
			if v, ok := b.literal(); ok && is(a) {
				u.farthest = max(u.farthest, v+1)
			}
		}
	}
	for _, c := range n.Inner {
		u.look(c, inner)
	}
}

// halves tells of the lines in which a comparison is written once for several values, as in a == 1 || 2:
// a number alone is always true.
func (t *tree) halves() (out []program.Message) {
	t.root.each(func(n *node) {
		if n.Kind != "BinaryOperator" || n.Opcode != "||" && n.Opcode != "&&" || len(n.Inner) != 2 {
			return
		}
		x := n.Inner[1].bare()
		if x != nil && (x.Kind == "CharacterLiteral" || x.Kind == "IntegerLiteral" && string(x.Value) != `"0"` && string(x.Value) != `"1"`) {
			out = append(out, program.Message{
				Line: t.line(n.Range.Begin), Said: fmt.Sprintf("use of logical '%s' with constant operand", n.Opcode), Option: "constant-logical-operand",
			})
		}
	})
	return out
}
