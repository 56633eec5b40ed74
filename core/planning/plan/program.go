package plan

import (
	"errors"
	"fmt"
	"slices"
	"strings"

	"cablaggio/core/document/build"
)

// program sets what the builder wrote for the board.
func (p *planner) program(q *build.Program) (string, error) {
	if q != nil && q.Language == "" {
		q = q.Clone()
		q.Language = build.Recognise("", q.Text)
	}
	switch {
	case q == nil && p.doc.Program == nil:
		return "", errors.New("there is no program")
	case q == nil:
		p.doc.Program = nil
		return "took the program out", nil
	case p.doc.Program == nil:
		p.doc.Program = q.Clone()
		return "wrote a program", nil
	}
	p.doc.Program = q.Clone()
	return "changed the program", nil
}

// rewrite changes one line of the main file. The line must read as whoever asks for it saw
// it: otherwise the program has moved on.
func (p *planner) rewrite(line int, was, becomes string) (string, error) {
	if p.doc.Program == nil {
		return "", errors.New("there is no program")
	}
	lines := strings.Split(p.doc.Program.Text, "\n")
	if line < 1 || line > len(lines) || strings.TrimSpace(lines[line-1]) != strings.TrimSpace(was) {
		return "", fmt.Errorf("line %d of the program is another one by now", line)
	}
	if becomes == "" {
		lines = append(lines[:line-1], lines[line:]...)
	} else {
		lines[line-1] = becomes
	}
	p.doc.Program.Text = strings.Join(lines, "\n")
	return fmt.Sprintf("changed line %d of the program", line), nil
}

// should sets what the build should do, a sentence a line.
func (p *planner) should(text string) (string, error) {
	var list []string
	for line := range strings.Lines(text) {
		if line = strings.Join(strings.Fields(line), " "); line != "" {
			list = append(list, line)
		}
	}
	if slices.Equal(list, p.doc.Should) {
		return "", errors.New("that is what it should do already")
	}
	p.doc.Should = list
	return "changed what it should do", nil
}
