package program

import (
	"fmt"
	"regexp"
	"slices"
	"strings"

	"cablaggio/core/document/build"
)

// AbsentLibrary is the Option of a message about a library that is not there.
const AbsentLibrary = "absent-library"

// maxMessages is how many messages of a compiler are told: the first cause first, and what
// follows from it is seldom worth reading.
const maxMessages = 5

// A hint puts what a compiler says into plain words. Its text takes what the pattern caught by
// number.
type hint struct {
	said *regexp.Regexp
	text string
}

func says(pattern, text string) hint { return hint{regexp.MustCompile(pattern), text} }

// hints are what compilers say, and what a builder needs to know. The first that fits counts.
var hints = []hint{
	says(`^expected ';' (?:after|at end of|before)`, "A semicolon is missing at the end of this line, or of the one before."),
	says(`^expected '\)'`, "A closing parenthesis is missing."),
	says(`^expected '\}'`, "A closing brace is missing: count what was opened and not closed."),
	says(`^extraneous closing brace`, "There is one closing brace too many."),
	says(`^expected '\]'`, "A closing bracket is missing."),
	says(`^expected '\('`, "An opening parenthesis is missing."),
	says(`^expected expression`, "Something is missing here: a value, or the operator before is one too many."),
	says(`^expected unqualified-id`, "This line does not belong here: outside of a function only variables and functions are defined. Perhaps a brace closes too early."),
	says(`^function definition is not allowed here`, "A function begins inside of another: a closing brace is missing before it."),
	says(`^use of undeclared identifier '(\w+)'; did you mean '(\w+)'`, "%[1]q is not known. Is %[2]q meant? Capitals count."),
	says(`^use of undeclared identifier 'PORT[A-L]|^use of undeclared identifier 'DDR[A-L]|^use of undeclared identifier 'PIN[A-L]`, "This board has no ports by these names: pins go by pinMode, digitalWrite and digitalRead."),
	says(`^cannot deduce type of initializer list`, "A list in braces to go through, as in \"for (int pin : {2, 4})\", is not there on this board: write it as an array first."),
	says(`^use of undeclared identifier '(LOw|Low|low|HIgh|High|high|input|Input|output|Output)'`, "%[1]q is not known: LOW, HIGH, INPUT and OUTPUT are written in capitals."),
	says(`^use of undeclared identifier '(\w+)'`, "%[1]q is not known. It is written otherwise, or it was not defined before this line, or within other braces."),
	says(`^unknown type name '(\w+)'; did you mean '(\w+)'`, "There is no type %[1]q. Is %[2]q meant? Capitals count."),
	says(`^unknown type name '(\w+)'`, "There is no type %[1]q here. If it comes from a library, that is not there."),
	says(`^no matching function for call to '(\w+)'`, "%[1]q is called with other things than it takes: too many, too few, or of another sort."),
	says(`^too few arguments to function call, expected (\d+)|^too few arguments provided`, "Something is missing between the parentheses."),
	says(`^too many arguments`, "There is more between the parentheses than it takes."),
	says(`^no member named '(\w+)' in '(\w+)'; did you mean '(\w+)'`, "%[1]q is not known there. Is %[3]q meant? Capitals count."),
	says(`^no member named '(\w+)' in '(\w+)'`, "%[1]q is not known there."),
	says(`^cannot initialize a variable of type '([^']+)' with an? [lr]value of type 'const char\[`, "A text in double quotes does not fit a variable of type %[1]q: a single character stands in single quotes, a text is a String."),
	says(`^cannot initialize`, "What stands on the right is of another sort than the variable."),
	says(`^redefinition of '(\w+)'`, "%[1]q is defined twice."),
	says(`^missing terminating ['"]`, "A quotation mark is missing."),
	says(`^expected identifier`, "A name is missing here."),
	says(`^invalid suffix`, "A number is followed by letters that do not belong to it."),
	says(`^invalid digit`, "A number that begins with 0 is taken for an octal one; leave out the 0."),
	says(`^cannot assign to variable '(\w+)' with const-qualified`, "%[1]q is a constant: it cannot be changed. Leave out const, or do not assign to it."),
	says(`^assigning to '([^']+)' from`, "What is assigned is of another sort than the variable."),
	says(`^void function '(\w+)' should not return`, "%[1]q promises no result (void), so return stands alone."),
	says(`^called object type|^expression is not assignable`, "This cannot be assigned to, or called."),
	says(`^'(functional|vector|string|map|set|list|deque|queue|array|algorithm|memory|iostream|sstream|thread|chrono|optional|utility|tuple|numeric|random)' file not found`, "The standard library of C++ (%[1]s) is not on small boards, and not on the bench: arrays and String do without it."),
	says(`^'[^']*' file not found`, "This file is not there."),
	says(`^variable has incomplete type 'void'`, "After the name of a function stand parentheses, also where it takes nothing: void setup()."),
	says(`^the compiler did not come to an end`, "The compiler did not finish with it: something is nested without end, or repeats itself."),
	says(`^undefined symbol: (setup|loop)$`, "There is no %[1]q: every program has a setup, which is done once, and a loop, which is done again and again."),
	says(`^undefined symbol: (.+)$`, "%[1]q is promised, and written nowhere."),
	says(`^overflow in expression; result is (\S+) with type 'int'`, "This does not fit an int: what comes out is %[1]s. Write L behind a number (1000L), so that a long is used."),
	says(`^implicit conversion from '(?:double|float)' to '(?:unsigned )?(?:int|long|short|byte|char)'.* changes value from (\S+) to (\S+)`, "A whole number is wanted here: %[1]s becomes %[2]s. What was meant in seconds is written in milliseconds."),
	says(`^implicit conversion from '([^']+)' to '([^' ]+)'.* changes value from (\S+) to (\S+)`, "%[3]s does not fit the type %[2]q: it becomes %[4]s."),
	says(`^a definition ends with a semicolon: (\w+)`, "The semicolon belongs to what %[1]s stands for, and comes along wherever %[1]s is used. After a #define stands none."),
	says(`^implicit conversion loses integer precision: 'unsigned long' to 'int'`, "An int of this board holds no more than 32767: milliseconds run over after 33 seconds. Use unsigned long."),
	says(`^result of comparison.*is always (true|false)`, "This comparison is always %[1]s: the variable cannot have such a value."),
	says(`^using the result of an assignment as a condition`, "One = assigns. To compare, write ==."),
	says(`^equality comparison result unused`, "Two == compare, and nothing comes of it. To assign, write one =."),
	says(`^(?:if|for|while) (?:statement|loop) has empty body|^(?:if|for|while) .*has empty body`, "A semicolon ends this line, so what follows is done always, or never as often as it should."),
	says(`^unannotated fall-through`, "One case falls through into the next: break is missing before it."),
	says(`^array index (\S+) is past the end`, "The list has no place %[1]s: the first is 0."),
	says(`^(?:division|remainder) by zero`, "This divides by zero."),
	says(`^variable '(\w+)' is (?:used uninitialized|uninitialized)`, "%[1]q is used before anything was put into it."),
	says(`^non-void function does not return a value|^non-void lambda`, "The function promises a result, and does not return one on every way."),
	says(`^all paths through this function will call itself`, "The function calls itself without end."),
	says(`^implicit conversion turns floating-point number into integer`, "What stands behind the point is cut off."),
	says(`^possible misuse of comma`, "A comma does not do what a semicolon or && does."),
	says(`^result of comparison against a string literal`, "Texts in quotes are not compared so: make one of them a String."),
	says(`^'(\w+)' begins anew in each round`, "%[1]q begins anew in each round of loop: what it was is forgotten. Write static in front of it, or define it above setup."),
	says(`^expression result unused`, "Nothing comes of this line: to call a function, parentheses follow its name; to assign, write =."),
	says(`^use of logical '(\|\||&&)' with constant operand`, "What stands behind %[1]s is always true: write each comparison whole, as in a == 1 %[1]s a == 2."),
	says(`^there is '(\w+)', and no '(\w+)'`, "%[1]q is another name than %[2]q, which every program has: capitals count."),
	says(`^integer division gives 0: (\d+)`, "Two whole numbers divided give a whole number: this is 0. Write %[1]s.0, or multiply first."),
	says(`^a reading is compared with volts: (\S+), of (\d+)`, "analogRead gives a number from 0 to %[2]s, no volts: compared with %[1]s it is hardly ever below."),
	says(`^a reading is compared with (\S+), and goes to (\d+)`, "What analogRead gives goes from 0 to %[2]s: it never comes to %[1]s."),
	says(`^digitalWrite of more than two levels`, "digitalWrite knows low and high only: every number but 0 is high. What lies between is given with analogWrite."),
	// Python.
	says(`^invalid syntax\. Perhaps you forgot a comma`, "A comma is missing, or a parenthesis."),
	says(`^expected ':'`, "A colon is missing at the end of this line."),
	says(`^expected an indented block`, "What belongs to the line above has to stand further in."),
	says(`^unexpected indent`, "This line stands further in than the one above, without a reason."),
	says(`^unindent does not match|^inconsistent use of tabs`, "This line stands in by another amount than those it belongs to. Use four blanks for each step."),
	says(`^'(.)' was never closed`, "%[1]s was opened and never closed."),
	says(`^unterminated string literal`, "A quotation mark is missing."),
	says(`^invalid syntax\. Maybe you meant '==' or ':=' instead of '='`, "One = assigns. To compare, write ==."),
	says(`^cannot assign to`, "This cannot be assigned to. To compare, write ==."),
	says(`^Missing parentheses in call to 'print'`, "print takes what it prints in parentheses."),
	says(`^invalid (?:non-printable )?character`, "There is a character that does not belong here, perhaps from a web page or a text program."),
	says(`^always so: (.+)`, "%[1]s without parentheses is not what it gives, and is always so. Write %[1]s()."),
	says(`^never done, behind line (\d+)`, "The loop in line %[1]s never ends, so this is never done. Is it to stand in the loop? Then it stands further in."),
	says(`^'(\w+)' begins anew in the loop`, "%[1]q begins anew in each round of the loop: what it was is forgotten. It belongs above the loop."),
	says(`^a reading of 16 bits is compared with volts: (\S+)`, "read_u16 gives a number from 0 to 65535, no volts: compared with %[1]s it is hardly ever below."),
	says(`^a reading of 16 bits is compared with (\S+)`, "What read_u16 gives goes from 0 to 65535: it never comes to %[1]s."),
	says(`^value of more than two levels`, "value knows 0 and 1 only: every number but 0 is 1. What lies between is given with PWM and duty_u16."),
	says(`^nothing is done: (.+)`, "%[1]s alone does nothing. With parentheses it is done: %[1]s()."),
	says(`^source code string cannot contain null bytes`, "There is a character that does not belong here."),
	says(`^invalid syntax`, "This is not Python: something is missing, or too much, on this line or the one before."),
}

// libraries are those of which the bench can say what to do without them.
var libraries = map[string]string{
	"Wire.h": "Two-wire parts are not on the bench.", "SPI.h": "SPI parts are not on the bench.",
	"LiquidCrystal.h": "Displays are not on the bench: print to the serial link.",
	"Keypad.h":        "A keypad can be scanned by hand; the starter shows how.", "SoftwareSerial.h": "There is one serial link on the bench.",
}

// waits is a loop whose body is meant to be empty: it waits for something that comes from outside.
var waits = regexp.MustCompile(`\bwhile\s*\(.*\b(?:digitalRead|analogRead|millis|micros|Serial)\b.*\)\s*;`)

// Explain puts the compiler's messages into plain words: errors alone where there are any, at
// most five.
func Explain(p *build.Program, said []Message) []Message {
	if slices.ContainsFunc(said, func(m Message) bool { return m.Wrong }) {
		said = definitions(p, slices.DeleteFunc(slices.Clone(said), func(m Message) bool { return !m.Wrong }))
	}
	seen := map[int]bool{}
	var out []Message
	for _, m := range said {
		if !m.tells() || m.Option == "empty-body" && waits.MatchString(p.LineText(m.Line)) {
			continue
		}
		if m.Wrong && m.Line > 0 && seen[m.Line] {
			continue // what follows on one line follows from the first
		}
		if m.Wrong && len(out) >= maxMessages {
			break
		}
		seen[m.Line] = true
		m.Text = m.plain(p)
		if m.Line > 0 {
			m.Where = p.Line(m.Line)
		}
		out = append(out, m)
	}
	return out
}

// defined finds a definition that ends with a semicolon.
var defined = regexp.MustCompile(`^(\s*#\s*define\s+(\w+)\s+[^;/]*[^;/\s])(\s*;)\s*(?://.*)?$`)

// definitions puts in the place of errors on lines that use a definition which ends with a
// semicolon that semicolon.
func definitions(p *build.Program, said []Message) []Message {
	if p.Language.Python() {
		return said
	}
	for i, line := range strings.Split(p.Text, "\n") {
		m := defined.FindStringSubmatchIndex(line)
		if m == nil {
			continue
		}
		name := line[m[4]:m[5]]
		uses := regexp.MustCompile(`\b` + name + `\b`)
		follows := func(x Message) bool {
			return x.Line > 0 && x.Line != i+1 && uses.MatchString(p.LineText(x.Line))
		}
		if !slices.ContainsFunc(said, follows) {
			continue
		}
		first := Message{Line: i + 1, Column: m[6] + 1, Wrong: true, Said: "a definition ends with a semicolon: " + name,
			Replace: &Replace{Line: i + 1, Column: m[6] + 1, ToLine: i + 1, ToColumn: m[7] + 1}}
		said = append([]Message{first}, slices.DeleteFunc(said, follows)...)
	}
	return said
}

// plain is what a message means.
func (m Message) plain(p *build.Program) string {
	if m.Option == AbsentLibrary {
		name := strings.TrimSuffix(strings.TrimPrefix(m.Said, "'"), "' file not found")
		switch {
		case p.Language.Python():
			return fmt.Sprintf("The module %q is not there. What the bench knows is the board's own modules, time, math and random.", name)
		case m.Wrong:
			return strings.TrimSpace(fmt.Sprintf("The library %q is not there, and the program uses something of it. %s", name, libraries[name]))
		}
		return fmt.Sprintf("The library %q is not there; nothing of it is used, so the line is passed over.", name)
	}
	for _, h := range hints {
		c := h.said.FindStringSubmatch(m.Said)
		if c == nil {
			continue
		}
		if !strings.Contains(h.text, "%[") {
			return h.text
		}
		args := make([]any, len(c)-1)
		for i := range args {
			args[i] = c[i+1]
		}
		text := fmt.Sprintf(h.text, args...)
		text, _, _ = strings.Cut(text, "%!(EXTRA") // what the words do not need
		return text
	}
	return strings.ToUpper(m.Said[:min(1, len(m.Said))]) + m.Said[min(1, len(m.Said)):] + "."
}
