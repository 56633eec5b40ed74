// Package starts holds ready builds to begin from, one for each usual job, in
// the open format, with a program that does the job.
package starts

import (
	"embed"
	"encoding/json"
	"errors"
	"io/fs"

	"cablaggio/core/document/build"
)

//go:embed *.json programs
var files embed.FS

// A Start is a ready build.
type Start struct {
	ID       string          `json:"id"`
	Job      string          `json:"job"` // "a lamp that blinks"
	Data     []byte          `json:"-"`   // the build, with the first of its programs
	Programs []build.Program `json:"-"`   // in C++, and in Python where its board runs it
}

// endings are the files of a start's programs.
var endings = []struct {
	language build.Language
	ending   string
}{
	{build.CPP, ".cpp"},
	{build.PythonBoard, ".board.py"},
	{build.PythonMachine, ".machine.py"},
}

// All returns the starts, the simplest first.
func All() []Start {
	data, err := files.ReadFile("index.json")
	if err != nil {
		panic(err)
	}
	var out []Start
	if err := json.Unmarshal(data, &out); err != nil {
		panic("starts: index: " + err.Error())
	}
	for i := range out {
		s := &out[i]
		if s.Data, err = files.ReadFile(s.ID + ".json"); err != nil {
			panic(err)
		}
		for _, e := range endings {
			text, err := files.ReadFile("programs/" + s.ID + e.ending)
			if errors.Is(err, fs.ErrNotExist) {
				continue
			}
			if err != nil {
				panic(err)
			}
			s.Programs = append(s.Programs, build.Program{Language: e.language, Text: string(text)})
		}
		if len(s.Programs) > 0 {
			if s.Data, err = build.WithProgram(s.Data, s.Programs[0]); err != nil {
				panic("starts: " + s.ID + ": " + err.Error())
			}
		}
	}
	return out
}
