package build_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

func TestDiffSaysWhatIsDifferent(t *testing.T) {
	original, err := lib.Parse([]byte(small))
	require.NoError(t, err)
	for says, change := range map[string]func(*build.Document){
		`the title is "new", was "t"`:           func(d *build.Document) { d.Title = "new" },
		"the board is slim-3v3, was classic-5v": func(d *build.Document) { d.Board = "slim-3v3" },
		"the supply has changed":                func(d *build.Document) { d.Supply = "usb" },
		"lamp is gone":                          func(d *build.Document) { d.RemovePart("led1") },
		"bell is new":                           func(d *build.Document) { d.Parts = append(d.Parts, build.Part{ID: "b1", Kind: "button", Name: "bell"}) },
		"lamp is called beacon now":             func(d *build.Document) { d.Part("led1").Name = "beacon" },
		"lamp is blue, was red":                 func(d *build.Document) { d.Part("led1").Type = "blue" },
		"lamp is wired another way":             func(d *build.Document) { d.Part("led1").Hookup = "low-side" },
		"lamp has other values":                 func(d *build.Document) { d.Part("led1").Values = map[string]float64{"forwardVoltage": 2.2} },
		"lamp is on D5":                         func(d *build.Document) { d.Part("led1").Signals[0].Pin = "D5" },
		"lamp is on no pin":                     func(d *build.Document) { d.Part("led1").Signals = nil },
		"wires have moved":                      func(d *build.Document) { d.Free("led1.cathode") },
	} {
		changed := original.Clone()
		change(changed)
		assert.Equal(t, []string{says}, build.Diff(original, changed))
	}
}

// What is decided and done on the breadboard is told as well.
func TestDiffOfTheBreadboard(t *testing.T) {
	original, err := lib.Parse([]byte(small))
	require.NoError(t, err)
	for says, change := range map[string]func(*build.Assembly){
		"other breadboards are taken":                         func(a *build.Assembly) { a.Breadboards = []string{"full"} },
		"parts are put elsewhere":                             func(a *build.Assembly) { a.Fixed = map[build.Terminal]breadboard.Hole{"led1.anode": {Row: 3}} },
		"other wires are at hand":                             func(a *build.Assembly) { a.Stock = &build.WireStock{Colours: []string{"red"}} },
		"soldered wires have another length":                  func(a *build.Assembly) { a.Reach = 250 },
		"one step is done":                                    func(a *build.Assembly) { a.Done = []build.Done{{Step: "unplug"}} },
		"2 steps are done":                                    func(a *build.Assembly) { a.Done = []build.Done{{Step: "unplug"}, {Step: "power"}} },
		"what is really on the breadboard is noted otherwise": func(a *build.Assembly) { a.Built = &build.Built{} },
	} {
		changed := original.Clone()
		changed.Assembly = &build.Assembly{}
		assert.Empty(t, build.Diff(original, changed))
		change(changed.Assembly)
		assert.Equal(t, []string{says}, build.Diff(original, changed))
		assert.Len(t, build.Diff(changed, original), 1, "and back")
		copied := changed.Clone()
		assert.Empty(t, build.Diff(changed, copied))
	}
	done := original.Clone()
	done.Assembly = &build.Assembly{Done: []build.Done{{Step: "unplug"}}}
	assert.Equal(t, []string{"one step is taken back"}, build.Diff(done, original))
}

// The order of nets and of the terminals in them means nothing.
func TestTheOrderOfNetsMeansNothing(t *testing.T) {
	a, err := lib.Parse([]byte(small))
	require.NoError(t, err)
	b := a.Clone()
	b.Nets[0], b.Nets[1] = b.Nets[1], b.Nets[0]
	b.Nets[0][0], b.Nets[0][1] = b.Nets[0][1], b.Nets[0][0]
	assert.Empty(t, build.Diff(a, b))
}
