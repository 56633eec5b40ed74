// Package demo holds invented builds in the open format, to look around with.
package demo

import (
	"embed"
	"encoding/json"
	"errors"
	"io/fs"
	"strings"

	"cablaggio/core/document/build"
)

//go:embed *.json
var files embed.FS

//go:embed programs
var programs embed.FS

// A Build is one demo file.
type Build struct {
	Name string // without the extension
	Data []byte
}

// Builds returns the demo files, sorted by name.
func Builds() []Build {
	entries, err := files.ReadDir(".")
	if err != nil {
		panic(err)
	}
	var out []Build
	for _, e := range entries {
		data, err := files.ReadFile(e.Name())
		if err != nil {
			panic(err)
		}
		name := strings.TrimSuffix(e.Name(), ".json")
		if data, err = withProgram(name, data); err != nil {
			panic("demo: " + name + ": " + err.Error())
		}
		out = append(out, Build{name, data})
	}
	return out
}

// withProgram puts the program that a demo build comes with into it.
func withProgram(name string, data []byte) ([]byte, error) {
	for _, file := range []string{name + ".cpp", name + ".py"} {
		text, err := programs.ReadFile("programs/" + file)
		if errors.Is(err, fs.ErrNotExist) {
			continue
		}
		if err != nil {
			return nil, err
		}
		return build.WithProgram(data, build.Program{Language: build.Recognise(file, string(text)), Text: string(text)})
	}
	return data, nil
}

//go:embed logs
var logs embed.FS

// An Entry is a line of the log that a demo build comes with.
type Entry struct {
	Kind    string `json:"kind"`              // note, reading or picture
	Text    string `json:"text,omitempty"`    // of a note, or beside a picture
	Part    string `json:"part,omitempty"`    // that it is about
	Check   string `json:"check,omitempty"`   // of a reading: the id of its check
	Reading string `json:"reading,omitempty"` // of a reading, as the meter showed it
	File    string `json:"file,omitempty"`    // of a picture
	Picture []byte `json:"-"`                 // of a picture: the file
}

// Log returns the log that a demo build comes with, as it was made; nil: it has none.
func Log(name string) ([]Entry, error) {
	data, err := logs.ReadFile("logs/" + name + ".json")
	if errors.Is(err, fs.ErrNotExist) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	var out []Entry
	if err := json.Unmarshal(data, &out); err != nil {
		return nil, err
	}
	for i := range out {
		if e := &out[i]; e.File != "" {
			if e.Picture, err = logs.ReadFile("logs/" + e.File); err != nil {
				return nil, err
			}
		}
	}
	return out, nil
}
