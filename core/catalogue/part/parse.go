package part

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"slices"
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
		return nil, Problems{{Right: fmt.Sprintf("this is no file of a part (%v); save one of yours, or any at /api/kinds/button/file, to see the form", err)}}
	}
	if f.Format != Format {
		return nil, Problems{{Where: "format", Right: fmt.Sprintf("its format is %q; this program reads %q", clip(f.Format), Format)}}
	}
	k := f.Kind
	k.Fill()
	if err := k.ValidateOwn(c); err != nil {
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
		if !slices.ContainsFunc(own, func(x Kind) bool { return x.ID == k.ID }) {
			out.Kinds = append(out.Kinds, k)
		}
	}
	out.Kinds = append(out.Kinds, own...)
	return out
}
