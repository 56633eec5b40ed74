// Package placement lays a build out on breadboards: where each leg goes and
// which wires join the rows. And it goes the other way: it traces legs and
// wires, as they really are, back to nets, and says what is different from the
// plan.
package placement

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"fmt"
	"slices"

	"cablaggio/core/catalogue/breadboard"
)

// A Package says where the legs of a part are that is plugged into a
// breadboard. It is one of four sorts: legs in one half (Left alone), legs
// across the channel (Left and Right), two bent legs (Span), and wires of its
// own (Loose).
type Package struct {
	ID    string `json:"id"`
	Name  string `json:"name"`
	Left  []int  `json:"left,omitempty"`  // the row of each leg, counted from the first
	Right []int  `json:"right,omitempty"` // of the legs on the other side of the channel
	// The columns of the legs on both sides of the channel; none: the two beside it.
	Columns [2]string  `json:"columns,omitzero"`
	Span    [2]float64 `json:"span,omitzero"` // how far apart two bent legs are, at least and at most
	Loose   bool       `json:"loose,omitempty"`
	Wide    int        `json:"wide,omitempty"`  // columns that the body covers on each side of its legs
	Notch   bool       `json:"notch,omitempty"` // a mark says which end is the first
	Height  int        `json:"height"`          // flat ones come first: 1 lies on the board, 4 hangs on wires
	Source  string     `json:"source"`
}

// sides are the columns of the legs on both sides of the channel.
func (p *Package) sides() (left, right breadboard.Column) {
	left, right = breadboard.E, breadboard.F
	if p.Columns != [2]string{} {
		left, right = breadboard.Column(p.Columns[0][0]-'a'), breadboard.Column(p.Columns[1][0]-'a')
	}
	return left, right
}

// rows is how many rows the legs take.
func (p *Package) rows() int { return slices.Max(slices.Concat(p.Left, p.Right)) + 1 }

//go:embed data/packages.json
var packagesFile []byte

var packages = func() []Package {
	var out []Package
	d := json.NewDecoder(bytes.NewReader(packagesFile))
	d.DisallowUnknownFields()
	if err := d.Decode(&out); err != nil {
		panic(fmt.Sprintf("placement: %v", err))
	}
	return out
}()

// PackageOf returns the package of that id.
func PackageOf(id string) (*Package, bool) {
	i := slices.IndexFunc(packages, func(p Package) bool { return p.ID == id })
	if i < 0 {
		return nil, false
	}
	return &packages[i], true
}
