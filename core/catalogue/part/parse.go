package part

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
)

// Format is the name and version of the open format of a kind of part.
const Format = "cablaggio.part/1"

const maxFile = 256 << 10

// A File is a kind of part in the open format.
type File struct {
	Format string `json:"format"`
	Kind
}

// Parse reads a kind of part that a builder describes, and checks it beside a catalogue. Its error
// is a [Problems].
func Parse(r io.Reader, c *Catalogue) (*Kind, error) {
	data, err := io.ReadAll(io.LimitReader(r, maxFile+1))
	if err != nil {
		return nil, Problems{{Right: err.Error()}}
	}
	if len(data) > maxFile {
		return nil, Problems{{Right: "a part's file is smaller than 256 kB"}}
	}
	d := json.NewDecoder(bytes.NewReader(data))
	d.DisallowUnknownFields()
	var f File
	if err := d.Decode(&f); err != nil {
		return nil, Problems{{Right: fmt.Sprintf("not a part's file: %v", err)}}
	}
	if f.Format != Format {
		return nil, Problems{{Where: "format", Right: fmt.Sprintf("its format is %q; this program reads %q", clip(f.Format), Format)}}
	}
	k := f.Kind
	k.Own = true
	k.Fill()
	if known, ok := c.Kind(k.ID); ok && !known.Own {
		return nil, Problems{{Where: "id", Right: fmt.Sprintf("%q came with the program; give yours another id", k.ID)}}
	}
	if err := k.Validate(c); err != nil {
		return nil, err
	}
	return &k, nil
}

// Fill replaces the lists that a file left out.
func (k *Kind) Fill() {
	if k.Types == nil {
		k.Types = []Type{}
	}
	if k.Hookups == nil {
		k.Hookups = []Hookup{}
	}
	if k.Values == nil {
		k.Values = []Value{}
	}
	for i := range k.Hookups {
		h := &k.Hookups[i]
		if h.Signals == nil {
			h.Signals = []Signal{}
		}
		if h.Helpers == nil {
			h.Helpers = []Helper{}
		}
	}
}

// Write writes a kind of part in the open format.
func (k *Kind) Write() []byte {
	text, err := json.MarshalIndent(File{Format, *k}, "", "  ")
	if err != nil {
		panic("part: a kind can be written: " + err.Error())
	}
	return append(text, '\n')
}

// Clone returns a copy that shares nothing.
func (k *Kind) Clone() (out Kind) {
	text, err := json.Marshal(k)
	if err == nil {
		err = json.Unmarshal(text, &out)
	}
	if err != nil {
		panic("part: a kind can be written and read: " + err.Error())
	}
	return out
}

// With returns the catalogue with kinds of the builder's own in it, each instead of one of its id.
func (c *Catalogue) With(own []Kind) *Catalogue {
	if len(own) == 0 {
		return c
	}
	out := &Catalogue{Kinds: make([]Kind, 0, len(c.Kinds)+len(own))}
	for _, k := range c.Kinds {
		if !k.Own || !has(own, k.ID) {
			out.Kinds = append(out.Kinds, k)
		}
	}
	for _, k := range own {
		if known, ok := c.Kind(k.ID); !ok || known.Own { // what came with the program stays
			k.Own = true
			out.Kinds = append(out.Kinds, k)
		}
	}
	return out
}

func has(kinds []Kind, id string) bool {
	for i := range kinds {
		if kinds[i].ID == id {
			return true
		}
	}
	return false
}
