// Package probe is the program on a board that answers questions about its pins over the cable, and
// who asks it. All that is known about the circuit stays with who asks: the program is small and
// general, and does single things when it is told. docs/link.md has what goes over the cable.
package probe

import (
	"embed"
	"fmt"
	"strings"
	"text/template"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
)

// Version is of what goes over the cable: a board that answers with another one is not asked.
const Version = 1

//go:embed programs
var files embed.FS

var texts = template.Must(template.ParseFS(files, "programs/*"))

var named = map[build.Language]string{build.CPP: "probe.cpp", build.PythonMachine: "probe_machine.py"}

// A pin as a program knows it.
type pin struct {
	Code   string // in C++
	Number int
}

// Pins lists the pins that are asked for, in the order of the board: all but those of the serial
// link itself, and those that only the board uses.
func Pins(b *board.Profile) (out []board.Pin) {
	for _, p := range b.Pins {
		if p.Has(board.DigitalIn) && b.Number(p.Name) >= 0 && (p.Own == nil || p.Own.LED != nil) {
			out = append(out, p)
		}
	}
	return out
}

// Program writes the program for a board in a language. Its error says which languages there are.
func Program(b *board.Profile, language build.Language) (*build.Program, error) {
	name, ok := named[language]
	if !ok || language != build.CPP && !b.Programs().Python {
		return nil, fmt.Errorf("there is no probing program in %s for the %s; there is one in C++", language, b.Name)
	}
	about := struct {
		Board        string
		Pins, Analog []pin
		PullsDown    bool
		Full         int // the largest reading
		Shift        int // from 16 bits to those of the converter
	}{Board: b.ID, Full: 1<<b.Programs().ReadBits - 1, Shift: 16 - b.Logic.Analog.Bits}
	if language != build.CPP {
		about.Full = int(b.Logic.Analog.Full())
	}
	about.PullsDown = !b.Logic.PullDown.IsZero()
	for _, p := range Pins(b) {
		x := pin{b.InCode(p.Name), b.Number(p.Name)}
		about.Pins = append(about.Pins, x)
		if p.Has(board.AnalogIn) {
			about.Analog = append(about.Analog, x)
		}
	}
	var out strings.Builder
	if err := texts.ExecuteTemplate(&out, name, about); err != nil {
		return nil, err
	}
	return &build.Program{Language: language, Text: out.String()}, nil
}
