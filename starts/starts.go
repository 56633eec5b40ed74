// Package starts holds ready builds to begin from, one for each usual job, in
// the open format.
package starts

import (
	"embed"
	"encoding/json"
)

//go:embed *.json
var files embed.FS

// A Start is a ready build.
type Start struct {
	ID   string `json:"id"`
	Job  string `json:"job"` // "a lamp that blinks"
	Data []byte `json:"-"`   // the build
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
		if out[i].Data, err = files.ReadFile(out[i].ID + ".json"); err != nil {
			panic(err)
		}
	}
	return out
}
