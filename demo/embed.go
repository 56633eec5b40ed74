// Package demo holds invented builds in the open format, to look around with.
package demo

import (
	"embed"
	"strings"
)

//go:embed *.json
var files embed.FS

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
		out = append(out, Build{strings.TrimSuffix(e.Name(), ".json"), data})
	}
	return out
}
