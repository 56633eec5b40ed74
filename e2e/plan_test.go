package e2e

import (
	"os"
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/testkit"
	"cablaggio/demo"
	"cablaggio/server"
	"cablaggio/store"
)

// begin makes a new build through the list of builds.
func begin(t *testing.T, title string) *tab {
	t.Helper()
	b := open(t, "/")
	b.fill("What will it be?", title)
	b.see("button", "Add a part")
	return b
}

// holds gives what is marked the focus, and says when it kept it for three looks: a popover
// that closes gives the focus back to what opened it a little later.
const holds = `() => {
  const e = document.querySelector('[data-e2e]');
  if (document.activeElement !== e) { e.focus(); e.kept = 0; }
  return (e.kept = (e.kept ?? 0) + 1) > 3;
}`

// addPart takes a part from the list.
func (b *tab) addPart(name string) {
	b.t.Helper()
	b.gone("dialog", "")
	b.mark("button", "Add a part")
	b.until("the focus on Add a part, where it stays", holds)
	b.press("\r")
	b.see("dialog", "Add a part")
	b.click("button", name)
	b.gone("dialog", "")
}

func TestTheWholePath(t *testing.T) {
	b := begin(t, "whole path")
	b.says("Nothing hangs on the board yet")

	// An LED without a resistor is a stop, and its fix is one click.
	b.addPart("red LED")
	b.see("img", "pin D4, resistor 270 Ω, red LED 1, ground")
	b.click("button", "red LED 1")
	b.choose("Hookup", "no resistor")
	b.says("it survives 30 mA")
	b.see("button", "Put in a resistor of 270 Ω")
	b.click("button", "Put in a resistor of 270 Ω")
	b.gone("button", "Put in a resistor")
	b.see("img", "pin D4, resistor 270 Ω, red LED 1, ground")

	// A number opens its working.
	b.click("button", "current of red LED 1")
	b.says("What each part of the way takes")
	b.says("(5.00 V − 1.94 V) ÷ (25 Ω + 270 Ω)")
	b.shut()

	// A button that floats, and its fix.
	b.addPart("Button")
	b.click("button", "Button 1")
	b.choose("Hookup", "no pull")
	b.says("floats: nothing holds it while Button 1 is up")
	b.click("button", "Wire it as: Pin – button – ground, internal pull-up")
	b.gone("button", "Wire it as")

	// It is there tomorrow, and undo still works.
	b.visit(evaluate[string](b, `() => location.pathname`))
	b.see("img", "internal pull-up")
	b.says("saved")
	b.click("button", "Undo")
	b.says("floats: nothing holds it")
	b.press("z", chromedp.KeyModifiers(chromedp.ModifierCtrl))
	b.says("Or guard with resistors")
	b.press("y", chromedp.KeyModifiers(chromedp.ModifierCtrl))
	b.says("floats: nothing holds it")
}

func TestPartsAsPeopleSayThem(t *testing.T) {
	b := begin(t, "said")
	b.until("the line in focus: a build begins with it", `() => document.activeElement.placeholder?.startsWith('2 red leds')`)
	b.press("2 green leds, a 22k potent")
	b.click("button", "Complete: 2 green leds, a 22k potentiometer")
	b.until("the line completed", `() => document.activeElement.value?.endsWith('22k potentiometer')`)
	b.press(" and a jet engine")
	b.says("Enter adds 2 green LEDs, 1 Potentiometer of 22 kΩ.")
	b.says("Not added: “a jet engine”: this is no part that is known here")
	b.press("\r")
	b.see("button", "green LED 2")
	b.see("button", "Potentiometer 1")
	assert.Equal(t, "a jet engine", evaluate[string](b, `() => document.activeElement.value`), "what was not understood stays")
	b.press("\x1b")
	b.click("button", "Undo")
	b.gone("button", "Potentiometer 1")
	b.gone("button", "green LED")
}

func TestValuesAsTheyAreTyped(t *testing.T) {
	b := begin(t, "values")
	b.addPart("green LED")
	b.click("button", "green LED 1")
	b.fill("resistor of green LED 1", "4k7")
	b.see("img", "resistor 4.7 kΩ")
	for _, wrong := range []string{"lots", "-220", "0", "1e99"} {
		b.fill("resistor of green LED 1", wrong)
		b.see("alert", "Not done")
		assert.Equal(t, wrong, evaluate[string](b, `() => document.querySelector('input[aria-invalid=true]')?.value ?? ''`), "what was typed is still there")
		b.click("button", "Close")
	}
	b.see("img", "resistor 4.7 kΩ")

	// A mistake is still marked when another one follows, and given up when closed.
	const invalid = `() => [...document.querySelectorAll('input[aria-invalid=true]')].map((e) => e.value).join(' and ')`
	b.fill("resistor of green LED 1", "plenty")
	b.see("alert", "plenty")
	b.fill("forward voltage", "900")
	b.see("alert", "900 V is not possible here")
	assert.Equal(t, "plenty and 900", evaluate[string](b, invalid))
	b.fill("wanted current", "5 mA")
	b.says("saved")
	assert.Equal(t, "plenty and 900", evaluate[string](b, invalid))
	b.click("button", "Close")
	b.gone("alert", "plenty")
	b.see("alert", "900 V")
	b.click("button", "Close")
	b.gone("alert", "")
	b.until("the saved values back", `() => [...document.querySelectorAll('input')].some((e) => e.value === '4.7 kΩ') && ![...document.querySelectorAll('input')].some((e) => e.value === '900')`)
	b.click("button", "Compare")
	b.click("button", "Take 330 Ω")
	b.see("img", "resistor 330 Ω")
	b.choose("Type", "blue")
	b.see("img", "resistor 330 Ω")
	b.choose("Pin (digital out)", "D9")
	b.see("img", "pin D9")
	b.choose("Board", "Slim")
	b.see("img", "pin GP0")
}

func TestWiresByHand(t *testing.T) {
	b := begin(t, "by hand")
	b.addPart("red LED")
	b.click("button", "red LED 1")
	b.click("button", "Wires by hand")
	b.click("button", "Take the wire off cathode, short leg")
	b.says("is not wired to anything")
	b.says("wired by hand")
	b.choose("Wire cathode, short leg to", "GND")
	b.gone("button", "Wire it as")
	b.says("Nothing speaks against it")
}

func TestAnotherTabWasFirst(t *testing.T) {
	b := begin(t, "two tabs")
	b.addPart("red LED")
	b.see("img", "red LED 1")
	id := strings.TrimPrefix(evaluate[string](b, `() => location.pathname`), "/builds/")
	elsewhere(t, id, plan.Add{Kind: "button", Name: "their button"})
	b.click("button", "red LED 1")
	b.choose("Type", "blue")
	b.see("alert", "changed elsewhere first")
	b.see("alert", "their button is new")
	b.see("alert", "make red LED 1 blue")
	b.click("button", "Make mine on top")
	b.gone("alert", "elsewhere")
	b.see("button", "their button")
	b.says("saved")

	elsewhere(t, id, plan.Title{Name: "their title"})
	b.choose("Type", "white")
	b.see("alert", "their title")
	b.click("button", "Discard mine")
	b.gone("alert", "elsewhere")
	assert.Equal(t, "blue", evaluate[string](b, `() => [...document.querySelectorAll('select')].find((s) => [...s.options].some((o) => o.text === 'amber')).value`))
}

// elsewhere edits a build as another tab would.
func elsewhere(t *testing.T, id string, edits ...plan.Edit) {
	t.Helper()
	b, err := shared.store.Get(t.Context(), id)
	require.NoError(t, err)
	lib := build.Shipped()
	doc, err := lib.Parse(b.Document)
	require.NoError(t, err)
	doc, words, err := plan.Apply(lib, doc, edits)
	require.NoError(t, err)
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	d, err := server.Draft(doc, a, words)
	require.NoError(t, err)
	_, err = shared.store.Save(t.Context(), id, b.Tag, d)
	require.NoError(t, err)
}

func TestTheDatabaseAwayAndBack(t *testing.T) {
	b := begin(t, "away")
	b.addPart("red LED")
	b.see("img", "red LED 1")
	b.click("button", "red LED 1")
	require.NoError(t, shared.db.Kill())
	b.choose("Type", "yellow")
	b.see("alert", "Kept here until it does: make red LED 1 yellow")
	b.says("not saved yet")
	b.fill("Name", "kept lamp")
	b.see("alert", "rename red LED 1 to kept lamp")
	// Not even a reload loses it.
	b.visit(evaluate[string](b, `() => location.pathname`))
	b.says("does not answer. Trying again")
	require.NoError(t, shared.db.Restart(t.Context()))
	b.see("button", "kept lamp")
	b.says("saved")
	b.gone("alert", "")
}

func TestTheListOfBuilds(t *testing.T) {
	b := begin(t, "list of builds")
	b.visit("/")
	b.click("button", "More for list of builds")
	b.click("menuitem", "Rename")
	b.fill("New name of list of builds", "<script>alert(1)</script>")
	b.see("link", "<script>alert(1)</script>")
	b.click("button", "More for <script>")
	b.click("menuitem", "Duplicate")
	b.see("link", "Copy of <script>")
	b.click("button", "More for Copy of <script>")
	b.click("menuitem", "Delete")
	b.gone("link", "Copy of <script>")
	b.click("button", "Put it back")
	b.see("link", "Copy of <script>")
	b.visit("/nowhere")
	b.says("There is no such page")
	b.visit("/builds/nobody")
	b.says("There is no such build")
}

func TestADeletedBuildCanBePutBack(t *testing.T) {
	b := begin(t, "deleted")
	b.addPart("red LED")
	b.see("img", "red LED 1")
	id := strings.TrimPrefix(evaluate[string](b, `() => location.pathname`), "/builds/")
	require.NoError(t, shared.store.Delete(t.Context(), id))
	b.addPart("blue LED")
	b.says("This build was deleted")
	b.click("button", "Put it back")
	b.see("img", "blue LED 1")
}

func TestFilesComeIn(t *testing.T) {
	b := open(t, "/")
	take := func(name string, data []byte) { b.upload("A build as a file", name, data) }
	take("broken.json", []byte("not a build"))
	b.see("alert", "not JSON")
	take("wrong.json", []byte(`{"format":"cablaggio.build/1","title":"x","board":"toaster"}`))
	b.see("alert", "the boards are classic-5v")
	take("large.json", make([]byte, 2<<20))
	b.see("alert", "a build has at most 1")
	i := slices.IndexFunc(demo.Builds(), func(d demo.Build) bool { return d.Name == "seedling-shelf" })
	good := []byte(strings.Replace(string(demo.Builds()[i].Data), "Seedling shelf", "Shelf from a file", 1))
	take("good.json", good)
	b.see("dialog", "good.json")
	b.see("listitem", "shelf thermometer")
	b.shut()
	b.visit("/")
	b.see("list", "Builds")
	b.gone("link", "Shelf from a file") // what was only looked at is not kept
	take("good.json", good)
	b.click("button", "Take it in as a new build")
	b.see("heading", "Findings")
	b.see("button", "shelf thermometer")
	b.click("button", "Files and history of this build")
	b.click("menuitem", "save as a file")
	b.see("button", "Parts list CSV")
}

// Every screen, light and dark, is put before axe-core.
func TestAccessibility(t *testing.T) {
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(t, err)
	ids := demoBuilds(t)
	b := open(t, "/")
	// Every page in full as it is, and the colours on the other sheet, too, of some, or in a wide run of all.
	audit := func(where string) {
		t.Helper()
		if !evaluate[bool](b, `() => window.axe !== undefined`) {
			evaluate[bool](b, `() => {`+string(axe)+`; return true; }`)
		}
		evaluate[bool](b, `(other) => {
			window.axeDone = undefined;
			const page = document.documentElement;
			const told = (r) => r.violations.map((v) => page.dataset.sheet + ' sheet, ' + v.id + ': ' + v.nodes.map((n) => n.html.slice(0, 160)).join(' | '));
			axe.run().then((first) => {
				const all = told(first);
				if (!other) { window.axeDone = all; return; }
				page.dataset.sheet = page.dataset.sheet === 'dark' ? 'light' : 'dark';
				return axe.run({runOnly: ['color-contrast']}).then((second) => {
					all.push(...told(second));
					page.dataset.sheet = page.dataset.sheet === 'dark' ? 'light' : 'dark';
					window.axeDone = all;
				});
			});
			return true;
		}`, testkit.Wide() || where == "builds" || where == "quiz table" || where == "picker")
		b.until("axe", `() => window.axeDone !== undefined`)
		assert.Empty(t, evaluate[[]string](b, `() => window.axeDone`), where)
	}
	b.visit("/")
	b.click("button", "Use the dark sheet")
	b.see("list", "Builds")
	audit("builds")
	for _, page := range []string{"/drawer", "/boards"} {
		b.visit(page)
		b.see("combobox", map[string]string{"/drawer": "Part", "/boards": "Board"}[page])
		audit(page)
	}
	b.visit("/builds/" + ids["quiz-table"])
	b.see("button", "host keypad")
	audit("quiz table")
	b.click("button", "Add a part")
	b.see("dialog", "Add a part")
	audit("picker")
	b.shut()
	for name, key := range map[string]string{"History": "h", "Keys and cautions": "?"} {
		b.press(key)
		b.see("dialog", name)
		audit(name)
		b.shut()
	}
	b.click("button", "fed by USB")
	b.see("dialog", "What feeds the board")
	audit("supply")
	b.visit("/builds/" + ids["seedling-shelf"] + "/assemble")
	b.says("Step 1 of")
	audit("assemble")
	b.click("tab", "As built")
	audit("as built")
	b.click("link", "Test")
	b.says("It should read")
	audit("meter")
	b.click("link", "Log")
	b.says("Write down")
	audit("log")
	b.visit("/builds/" + ids["tram-stop-mistakes"] + "/program")
	b.says("It compiles, but does not fit.")
	audit("program")
	b.visit("/builds/" + ids["quiz-table"] + "/bench")
	b.see("button", "team 1 button")
	b.says("Nothing was printed yet.")
	audit("bench")
	b.visit("/builds/" + ids["seedling-shelf"] + "/diagnose")
	b.says("What does it do that it should not?")
	audit("what it does")
	b.click("button", "dark: alarm lamp, switched on")
	b.click("button", "The rest is right: find it")
	b.says("What it may be")
	audit("diagnose")
	b.click("button", "Begin anew")
	b.visit("/drill")
	b.click("button", "A firefly that stays dark")
	b.says("It does")
	audit("drill")
	b.visit("/builds/" + ids["tram-stop-mistakes"])
	b.click("button", "sign lamp")
	b.see("combobox", "Hookup")
	audit("plan")
	b.click("button", "current of sign lamp")
	b.says("What each part of the way takes")
	audit("working")
}

// demoBuilds keeps the demo builds and returns their ids by name.
func demoBuilds(t *testing.T) map[string]string {
	t.Helper()
	drafts, err := demoDrafts()
	require.NoError(t, err)
	ids := map[string]string{}
	for name, draft := range drafts {
		b, err := shared.store.Create(t.Context(), draft)
		require.NoError(t, err)
		ids[name] = b.ID
	}
	return ids
}

// demoDrafts are the demo builds with their analyses, which are worked out once.
var demoDrafts = sync.OnceValues(func() (map[string]store.Draft, error) {
	lib := build.Shipped()
	drafts := map[string]store.Draft{}
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		if err != nil {
			return nil, err
		}
		a, err := check.Check(lib, doc)
		if err != nil {
			return nil, err
		}
		if drafts[d.Name], err = server.Draft(doc, a, "demo build"); err != nil {
			return nil, err
		}
	}
	return drafts, nil
})
