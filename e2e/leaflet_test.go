package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"strconv"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/testkit"
)

// describe types a leaflet in, as a person does who has it before him.
func (b *tab) describe(l part.Leaflet) {
	b.t.Helper()
	b.see("heading", "A part from its leaflet")
	b.fill("What do you call it?", l.Name)
	b.choose("What sort of part is it?", map[part.LeafletSort]string{part.Module: "a module that is fed, and tells something", part.Closer: "a contact: open or closed", part.Consume: "something that a current moves"}[l.Sort])
	b.choose("How many legs in its row?", strconv.Itoa(len(l.Legs)))
	number := func(label string, v float64) {
		if v != 0 {
			b.fill(label, strconv.FormatFloat(v, 'g', -1, 64))
		}
	}
	text := func(label, v string) {
		if v != "" {
			b.fill(label, v)
		}
	}
	for i, leg := range l.Legs {
		at := fmt.Sprintf(", leg %d", i+1)
		text("Printed beside it"+at, leg.Name)
		b.choose("It is"+at, map[part.LegRole]string{part.PlusLeg: "supply (+)", part.GroundLeg: "ground (−)", part.OutputLeg: "an output", part.FreeLeg: "left free", part.EndLeg: "one of the two ends"}[leg.Is])
		if leg.Is != part.OutputLeg {
			continue
		}
		b.choose("It gives"+at, map[part.Giving]string{part.GivesLevel: "high or low", part.GivesVolts: "a voltage that follows", part.GivesPull: "ground, or nothing (open collector)"}[leg.Gives])
		if leg.Gives == part.GivesVolts {
			text("It follows"+at, leg.About)
			text("Unit"+at, leg.Unit)
			number("Its least"+at, leg.Least)
			number("Gives at its least"+at, leg.LeastGive)
			number("Its most"+at, leg.Most)
			number("Gives at its most"+at, leg.MostGive)
			continue
		}
		text("At rest it is"+at, leg.Quiet)
		text("Otherwise it is"+at, leg.Told)
		if leg.Low {
			b.choose("Then it is"+at, map[bool]string{false: "low", true: "tied to ground"}[leg.Gives == part.GivesPull])
		}
		number("Its high level"+at, leg.High)
	}
	switch l.Sort {
	case part.Module:
		number("It runs from", l.From)
		number("up to", l.To)
		number("It takes", l.Amps*1000)
	case part.Closer:
		text("Open, it is", l.Ways[0])
		text("Closed, it is", l.Ways[1])
	case part.Consume:
		b.choose("With current it", map[string]string{part.Turns: "turns", part.Sounds: "makes a tone of its own", part.Pulls: "pulls", part.Glows: "glows"}[l.Acts])
		number("It is made for", l.Volt)
		number("There it takes", l.Amps*1000)
	}
	b.see("region", "What comes of it")
	b.click("button", "Keep this part")
	b.gone("heading", "A part from its leaflet")
}

// A part that is not in the list is described where one misses it, goes into the build at once, and
// is there for the next build, on the page of one's own parts, and as a file. The twenty leaflets are
// typed in where tests are wide; otherwise few of them.
func TestAPartFromItsLeaflet(t *testing.T) {
	data, err := os.ReadFile("../core/output/testdata/leaflets.json")
	require.NoError(t, err)
	var list []part.Leaflet
	require.NoError(t, json.Unmarshal(data, &list))
	b := open(t, "/")
	for i, l := range list[:testkit.Few(2, len(list))] {
		if i%4 == 0 { // a board has so many pins
			b.visit("/")
			b.fill("What will it be?", "leaflets")
			b.see("region", "What to do next")
		}
		b.click("button", "Add a part")
		b.click("button", "A part that is not here")
		b.describe(l)
		b.says(l.Name + " 1")
	}
	b.visit("/parts")
	b.says(list[0].Name)
	b.click("button", "Forget "+list[0].Name)
	b.gone("button", "Forget "+list[0].Name)
}

// What is still missing is said, and an answer that is no number is marked where it stands; what was
// typed is there again after a reload.
func TestALeafletThatSaysTooLittle(t *testing.T) {
	b := open(t, "/parts")
	b.click("button", "Describe a part")
	b.fill("It runs from", "lots")
	b.says("a number, such as 3.3")
	b.fill("It runs from", "3,3")
	b.choose("It is, leg 1", "left free")
	b.click("button", "Keep this part")
	b.says("say which leg is its supply")
	b.visit("/parts")
	b.click("button", "Describe a part")
	kept := evaluate[string](b, `() => [...document.querySelectorAll('input')].map((e) => e.value).join('|')`)
	assert.Contains(t, kept, "3,3")
	b.click("button", "Begin anew")
}
