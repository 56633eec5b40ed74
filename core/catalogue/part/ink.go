package part

import (
	_ "embed"
	"encoding/json"
	"slices"
	"sync"
)

// An Ink is a colour of lamps: there is one table of them, for screen, paper and wires.
type Ink struct {
	ID     string `json:"id"`     // as types of parts name it
	Fill   string `json:"fill"`   // what a symbol is filled with
	Shines string `json:"shines"` // what is seen of it when it is lit; "": nothing, whatever it does
	Wire   string `json:"wire"`   // the colour of wire that goes with it
}

//go:embed inks.json
var inksFile []byte

var inks = sync.OnceValue(func() (list []Ink) {
	if err := json.Unmarshal(inksFile, &list); err != nil {
		panic("the table of inks: " + err.Error())
	}
	return list
})

// Inks lists the colours of lamps.
func Inks() []Ink { return slices.Clone(inks()) }

// InkOf returns the colour of that id; the zero Ink for none.
func InkOf(id string) Ink {
	if i := slices.IndexFunc(inks(), func(k Ink) bool { return k.ID == id }); i >= 0 {
		return inks()[i]
	}
	return Ink{}
}
