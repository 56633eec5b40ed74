package e2e

import (
	"fmt"
	"slices"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
	"cablaggio/core/layout/placement"
	"cablaggio/core/output/assembly"
	"cablaggio/core/testkit"
	"cablaggio/demo"
)

// report is what the server computes of a demo build on the breadboard.
func report(t *testing.T, name string) (*build.Document, *assembly.Report) {
	t.Helper()
	lib := build.Shipped()
	i := slices.IndexFunc(demo.Builds(), func(d demo.Build) bool { return d.Name == name })
	doc, err := lib.Parse(demo.Builds()[i].Data)
	require.NoError(t, err)
	return doc, assembly.Make(lib, doc)
}

// Each scenario is assembled step by step; then a mistake is noted, found and
// put right.
func TestTheScenariosAreAssembled(t *testing.T) {
	ids := demoBuilds(t)
	for name, lamp := range map[string]string{"tram-stop": "sign lamp", "seedling-shelf": "alarm lamp", "quiz-table": "score 1"} {
		t.Run(name, func(t *testing.T) {
			if name == "quiz-table" && !testkit.Wide() {
				t.Skip("the longest of the three; make test-wide goes through it too")
			}
			doc, r := report(t, name)
			b := open(t, "/builds/"+ids[name])
			b.click("link", "Assemble")
			for n := range r.Steps {
				b.says(fmt.Sprintf("Step %d of %d", n+1, len(r.Steps)))
				b.press("d")
			}
			b.says("All steps are done")
			b.press("b") // the last one is taken back, and noted
			b.says(fmt.Sprintf("Step %d of %d", len(r.Steps), len(r.Steps)))
			b.visit("/builds/" + ids[name] + "/assemble")
			b.says(fmt.Sprintf("Step %d of %d", len(r.Steps), len(r.Steps)))
			b.click("button", "Done")
			b.says("All steps are done")

			b.click("tab", "As built")
			b.click("button", "Look at what is really there")
			b.says("As planned")
			id := doc.Parts[slices.IndexFunc(doc.Parts, func(p build.Part) bool { return p.Name == lamp })].ID
			anode, _ := r.Placement.Seat(id).Hole("anode")
			row := breadboard.Hole{Column: breadboard.A, Row: anode.Row}
			if anode.Column.Right() {
				row.Column = breadboard.J
			}
			b.fill("or type: part, leg, hole", lamp+" short leg "+row.String())
			b.says("it is bridged and will stay dark")
			b.click("button", lamp+", short leg is in")
			b.says("As planned")
		})
	}
}

// A plan that does damage is not led through without a word.
func TestAPlanWithStopsIsNotBuiltYet(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop-mistakes"]+"/assemble")
	b.see("alert", "5 findings say that this plan does damage")
	b.click("link", "Mend the plan first")
	b.see("heading", "Findings")
	b = begin(t, "nothing yet")
	b.click("link", "Assemble")
	b.says("nothing to assemble yet")
	b.click("link", "Choose parts")
	b.addPart("red LED")
	b.click("link", "Assemble")
	b.says("Step 1 of")
}

// tap taps what a selector names on the hole map.
func (b *tab) tap(selector string) {
	b.t.Helper()
	b.until(selector, `(s) => document.querySelector('.holemap ' + s) !== null`, selector)
	evaluate[bool](b, `(s) => {
		const at = document.querySelector('.holemap ' + s).getBoundingClientRect();
		document.querySelector('.holemap').dispatchEvent(new MouseEvent('click', {bubbles: true, clientX: at.x + at.width / 2, clientY: at.y + at.height / 2}));
		return true;
	}`, selector)
}

// The map is for thumbs too; what is tapped is filled in.
func TestAPartIsPutElsewhere(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/assemble")
	b.says("Step 1 of")
	b.click("button", "Show it all")
	tap := b.tap
	b.press("\t")
	evaluate[bool](b, `() => { document.querySelector('details').open = true; return true; }`)
	tap(`[data-leg="led3.anode"]`)
	tap(`[data-hole="h25"]`)
	b.until("the leg and the hole", `() => [...document.querySelectorAll('input')].some((i) => i.value === 'h25')`)
	b.click("button", "Put it there")
	b.see("list", "Put by you")
	b.says("sign lamp, anode, long leg: h25")
	b.says("into h25")

	// What is not there is said, and what was typed stays.
	b.fill("Hole", "e99")
	b.see("alert", "has rows 1 to")
	b.fill("Hole", "z")
	b.see("alert", "is not a hole; e12 is one")
	b.click("button", "Let it go where it goes best")
	b.gone("button", "Let it go where it goes best")

	// Other breadboards: one that is too small says so, and what would help.
	b.visit("/builds/" + ids["quiz-table"] + "/assemble")
	b.choose("Breadboard", "mini breadboard")
	b.see("alert", "take a bigger breadboard")
	b.see("button", "Connections (CSV)")
	b.choose("Breadboard", "63 rows, rails broken")
	b.see("img", "Hole map")
}

// Wires are noted by hand: one that is missing, one that goes to the wrong pin.
func TestWiresAsBuilt(t *testing.T) {
	ids := demoBuilds(t)
	_, r := report(t, "tram-stop")
	b := open(t, "/builds/"+ids["tram-stop"]+"/assemble")
	b.click("tab", "As built")
	b.click("button", "Look at what is really there")
	b.says("As planned")
	i := slices.IndexFunc(r.Placement.Wires, func(w placement.Jumper) bool { return w.From.OnBoard() && w.From.Place.Name == "D5" })
	w := r.Placement.Wires[i]
	// A wire is tapped, and where its end really is.
	b.tap(fmt.Sprintf(`[data-wire="%d"] circle`, i))
	b.see("button", "It is as planned")
	b.tap(`[data-hole="board.D6"]`)
	b.click("button", "It goes there")
	b.says("goes to D6; it belongs to D5")
	b.gone("button", "It is as planned")
	b.click("button", "I did that")
	b.says("As planned")
	// What is wrong is said in plain words, and what was typed stays.
	b.fill("or type: part, leg, hole", "sign lamp long leg e99")
	b.see("alert", "E99: the half breadboard has rows 1 to 30")
	b.until("what was typed", `() => [...document.querySelectorAll('input')].some((i) => i.value === 'sign lamp long leg e99')`)
	b.click("button", "Close")
	b.click("button", fmt.Sprintf("There is no wire from %s to %s", w.From.Words(), w.To))
	b.says("The wire from " + w.From.Words() + " to " + w.To.String() + " is missing")
	b.fill("A wire from", "board.D6")
	b.fill("to", w.To.String())
	b.click("button", "It is there")
	b.says("goes to D6; it belongs to D5")
	b.click("button", fmt.Sprintf("There is no wire from the board's D6 to %s", w.To))
	b.says("The wire from " + w.From.Words() + " to " + w.To.String() + " is missing")
	b.click("button", fmt.Sprintf("The wire from %s to %s is in", w.From.Words(), w.To))
	b.says("As planned")
	// A part as a whole: its legs follow.
	b.choose("Leg", "sign lamp, anode, long leg")
	b.click("button", "sign lamp is turned round")
	b.says("sign lamp is the wrong way round")
	b.click("button", "sign lamp is turned round")
	b.says("As planned")
	b.click("button", "sign lamp is not plugged in")
	b.click("button", "I did that")
	b.says("As planned")
	b.click("button", "Put away what was noted")
	b.see("button", "Look at what is really there")
}

// Only the wires that the builder has are taken; the same nets stand as a list for
// who solders; and both go out as files.
func TestWiresAtHandAndSoldered(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/assemble")
	b.says("Step 1 of")
	b.click("button", "Wires: any")
	b.fill("Colours", "black red mauve")
	b.says("is not a colour of wires; they are black, brown")
	b.fill("Colours", "black red green")
	b.fill("Lengths in millimetres", "50 100")
	b.see("button", "Wires: mine")
	b.press("\x1b")
	b.says("Green wire, 100 mm")
	b.until("no other wires", `() => !/(White|Blue|Orange|Violet) wire/.test(document.body.innerText)`)
	b.click("tab", "Soldered")
	b.see("row", "D4 resistor of platform lamp left, one end 100 mm 15 mm")
	b.see("row", "leg to leg 25 mm")
	b.fill("Wire from place to place, in millimetres", "far")
	b.says("say millimetres, 1 to 2000")
	b.fill("Wire from place to place, in millimetres", "150")
	b.see("row", "D4 resistor of platform lamp left, one end 150 mm 15 mm")
	b.says("m of sleeve in all")
	b.see("button", "Save as CSV")
	b.click("button", "Files and history of this build")
	b.click("menuitem", "save as a file")
	for _, file := range []string{"Hole map SVG", "Wires on the breadboard CSV", "Connections without a breadboard CSV"} {
		b.see("button", file)
	}
}

// Two at one bench: the later one is told what the other has done, and loses
// nothing.
func TestTwoAtOneBench(t *testing.T) {
	ids := demoBuilds(t)
	one := open(t, "/builds/"+ids["seedling-shelf"]+"/assemble")
	other := open(t, "/builds/"+ids["seedling-shelf"]+"/assemble")
	other.says("Step 1 of")
	one.says("Step 1 of")
	one.press("d")
	one.says("Step 2 of")
	one.says("saved")
	other.press("d")
	other.see("alert", "There: one step is done")
	other.click("button", "Make mine on top")
	other.says("Step 2 of")
	other.gone("alert", "There:")
}

// Half way the builder looks at what is done so far: what is to come is not
// missing, each further step is noted, and with an empty breadboard it begins
// again.
func TestLookingHalfWay(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["seedling-shelf"]+"/assemble")
	b.says("Step 1 of")
	for i := range 6 {
		b.press("d")
		b.says(fmt.Sprintf("Step %d of", i+2))
	}
	b.click("tab", "As built")
	b.says("It begins with the 6 steps that are done")
	b.click("button", "Look at what is done so far")
	b.says("As planned: every leg that is in is joined")
	before := evaluate[string](b, `() => document.body.innerText.match(/of legs and wires: (\d+)/)[1]`)
	b.click("tab", "Steps")
	b.press("d")
	b.says("Step 8 of")
	b.press("d")
	b.says("Step 9 of")
	b.click("tab", "As built")
	b.until("fewer legs to come", `(before) => Number(document.body.innerText.match(/of legs and wires: (\d+)/)?.[1]) < before`, before)
	b.click("tab", "Steps")
	b.click("button", "What is in each row") // the map in words
	b.says("long leg of alarm lamp")
	b.press(kb.ArrowDown) // it looks ahead, and begins again at the first one all the same
	b.says("Step 10 of")
	b.click("button", "Begin again with an empty breadboard")
	b.says("Step 1 of")
	b.press("z", chromedp.KeyModifiers(chromedp.ModifierCtrl))
	b.says("Step 9 of")
}
