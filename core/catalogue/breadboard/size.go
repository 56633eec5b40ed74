// Package breadboard knows breadboards: their sizes, how their holes are named,
// and which holes are joined inside. It knows nothing of what is plugged in, but
// for a development board that takes its holes and leaves what it leaves.
//
// Lengths are in steps of 2.54 mm, the distance between two holes.
package breadboard

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
)

// Pitch is the distance between two holes in millimetres.
const Pitch = 2.54

// A Size is one sort of breadboard.
type Size struct {
	ID     string `json:"id"`
	Name   string `json:"name"`
	Rows   int    `json:"rows"`
	Rails  *Rails `json:"rails,omitempty"` // nil: it has none
	Source string `json:"source"`
}

// short is the name without what is said of it.
func (s *Size) short() string {
	name, _, _ := strings.Cut(s.Name, ",")
	return name
}

// Rails are the two pairs of rails along the edges: groups of five holes with
// a gap after each.
type Rails struct {
	First  int  `json:"first"`  // the row level with the first hole
	Groups int  `json:"groups"` // of five holes
	Broken bool `json:"broken,omitempty"`
}

// groupRows is how many rows a group of five rail holes takes with its gap.
const groupRows = 6

// Has reports whether a rail has a hole level with a row.
func (r *Rails) Has(row int) bool {
	k := row - r.First
	return k >= 0 && k/groupRows < r.Groups && k%groupRows < groupRows-1
}

// segment returns the part of a rail that is level with a row: 0, or 1 below
// the break.
func (r *Rails) segment(row int) int {
	if r.Broken && (row-r.First)/groupRows >= (r.Groups+1)/2 {
		return 1
	}
	return 0
}

// segments returns how many parts each rail has.
func (r *Rails) segments() int {
	switch {
	case r == nil:
		return 0
	case r.Broken:
		return 2
	}
	return 1
}

//go:embed data/sizes.json
var sizesFile []byte

var sizes = func() []Size {
	var out []Size
	d := json.NewDecoder(bytes.NewReader(sizesFile))
	d.DisallowUnknownFields()
	if err := d.Decode(&out); err != nil {
		panic(fmt.Sprintf("breadboard: %v", err))
	}
	return out
}()

// Sizes returns the sorts of breadboard, the smallest first.
func Sizes() []Size { return slices.Clone(sizes) }

// Broken returns the size that is like the one of an id, but that its rails do not go through in
// the middle; false where there is none, or it is one itself.
func Broken(id string) (other string, ok bool) {
	s, known := SizeOf(id)
	if !known || s.Rails == nil || s.Rails.Broken {
		return "", false
	}
	i := slices.IndexFunc(sizes, func(o Size) bool {
		return o.Rows == s.Rows && o.Rails != nil && *o.Rails == Rails{s.Rails.First, s.Rails.Groups, true}
	})
	if i < 0 {
		return "", false
	}
	return sizes[i].ID, true
}

// SizeOf returns the size of that id.
func SizeOf(id string) (*Size, bool) {
	i := slices.IndexFunc(sizes, func(s Size) bool { return s.ID == id })
	if i < 0 {
		return nil, false
	}
	return &sizes[i], true
}
