package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// tabTo presses Tab until the focus is on an element of that name.
func (b *tab) tabTo(name string) {
	b.t.Helper()
	for range 80 {
		if evaluate[bool](b, `(name) => {
			const e = document.activeElement;
			if (e === document.body || e.role === 'tabpanel') return false;
			const label = e.getAttribute('aria-label') ?? (e.labels?.length ? e.labels[0].firstElementChild?.textContent : e.innerText) ?? '';
			return label.replace(/\s+/g, ' ').includes(name);
		}`, name) {
			return
		}
		b.press(kb.Tab)
	}
	b.t.Fatalf("Tab never comes to %q", name)
}

// The whole path without a mouse.
func TestWithoutAMouse(t *testing.T) {
	b := open(t, "/")
	b.see("button", "New build")
	b.tabTo("What will it be?")
	b.press("by keyboard\r")
	b.see("button", "Add a part")
	b.tabTo("Add a part")
	b.press("\r")
	b.see("textbox", "Find by a word")
	b.press("amb") // what is typed finds the part
	b.gone("button", "blue LED")
	b.press("\r")
	b.see("button", "amber LED 1")
	b.gone("dialog", "")
	b.tabTo("amber LED 1")
	b.press("\r")
	b.see("combobox", "Hookup")
	b.tabTo("Hookup")
	b.press("Pin – LED – g")
	b.says("it survives 30 mA")
	b.tabTo("Put in a resistor")
	b.press("\r")
	b.gone("button", "Put in a resistor")
	b.press("z", chromedp.KeyModifiers(chromedp.ModifierCtrl))
	b.see("button", "Put in a resistor")
	b.press("Z", chromedp.KeyModifiers(chromedp.ModifierCtrl|chromedp.ModifierShift))
	b.gone("button", "Put in a resistor")
	b.tabTo("current of amber LED 1")
	b.press("\r")
	b.see("dialog", "Working of current of amber LED 1")
	b.shut()
	b.until("the focus back on the number", `() => document.activeElement.getAttribute('aria-label')?.startsWith('current of amber LED 1')`)
}

// At 200 % zoom a window of 1280 by 800 is 640 by 400 wide: nothing is lost,
// and nothing has to be scrolled sideways (WCAG 2.2, 1.4.10 asks for 320).
func TestAtTwiceTheSize(t *testing.T) {
	ids := demoBuilds(t)
	assemble := "/builds/" + ids["seedling-shelf"] + "/assemble"
	for _, path := range []string{"/", "/drawer", "/boards", "/builds/" + ids["tram-stop-mistakes"], "/builds/" + ids["seedling-shelf"], assemble} {
		b := open(t, path)
		for _, width := range []int64{640, 800, 1024} {
			b.size(width, 400)
			switch path {
			case "/":
				b.see("button", "New build")
			case "/drawer":
				b.see("button", "Put it in")
			case "/boards":
				b.see("button", "Describe another board")
			case assemble:
				b.see("button", "Done")
				b.see("img", "Hole map")
				b.see("tab", "As built")
				b.see("combobox", "The board")
			default:
				b.see("heading", "Findings")
				b.see("button", "Add a part")
				b.see("heading", "Pins")
				b.see("heading", "Load")
			}
			assert.LessOrEqual(t, evaluate[int](b, `() => document.documentElement.scrollWidth`), int(width), "%s at %d", path, width)
		}
	}
}

// Sensors from the menu to what the program reads.
func TestSensors(t *testing.T) {
	b := begin(t, "sensors")
	b.addPart("Potentiometer")
	b.see("img", "5V, Potentiometer 1, ground; pin A0 in the middle")
	b.see("button", "A0 reads: 1023")
	b.addPart("Light-dependent resistor")
	b.see("img", "sense 2.2 kΩ")
	b.click("button", "Light-dependent resistor 1")
	b.click("button", "Compare")
	b.says("of the scale")
	b.see("button", "Take 2.2 kΩ")
	b.shut()
	b.click("button", "A1 reads: 557")
	b.says("when Light-dependent resistor 1 is in a lit room (200 lx)")
	b.says("÷ 5.00 V × 1023")
	b.shut()
	b.click("button", "Potentiometer 1")
	b.fill("track resistance", "100k")
	b.says("its converter is made for 10 kΩ")
	b.click("button", "Take 33 kΩ for Potentiometer 1")
	b.gone("button", "Take 33 kΩ")
	b.choose("Board", "Slim")
	b.see("button", "GP26 reads: 2047")
}

// A build is assembled, looked at and put right without a mouse.
func TestAssembledWithoutAMouse(t *testing.T) {
	ids := demoBuilds(t)
	_, r := report(t, "tram-stop")
	b := open(t, "/builds/"+ids["tram-stop"]+"/assemble")
	b.says("Step 1 of")
	b.see("button", "Done") // the line above the section says it, too
	b.press("d")
	b.says("Step 2 of")
	b.press(kb.ArrowDown) // look at a step further on, and do that one
	b.says("Step 3 of")
	b.press("d")
	b.until("two steps done", `() => document.querySelector('progress').value === 2`)
	b.says("Step 2 of")
	b.press("b")
	b.until("one step done", `() => document.querySelector('progress').value === 1`)
	b.press("z", chromedp.KeyModifiers(chromedp.ModifierCtrl)) // even that can be undone
	b.until("two steps done again", `() => document.querySelector('progress').value === 2`)

	b.tabTo("Steps")
	b.press(kb.ArrowRight)
	b.tabTo("Look at it as if all were done")
	b.press("\r")
	b.says("As planned")
	b.tabTo("Leg")
	b.press("sign lamp, c") // the cathode, as the select finds it
	b.tabTo("Hole")
	b.press("j29")
	b.press("\r")
	b.says("is joined with nothing, and belongs to ground")
	b.tabTo("I did that")
	b.press("\r")
	b.says("As planned")
	b.says("saved") // nothing is on its way that would move the focus
	b.tabTo("There is no wire from " + r.Placement.Wires[0].From.Words())
	b.press("\r")
	b.see("list", "What is different")
	b.tabTo("I did that")
	b.press("\r")
	b.says("As planned")
}

// A title without a place to break it does not widen the list, at any width.
func TestATitleInOneWord(t *testing.T) {
	word := strings.Repeat("!\"#$%&()*+,-./0123456789", 4)
	b := begin(t, word)
	b.visit("/")
	b.says(word[:20])
	for _, width := range []int64{390, 640, 1280} {
		b.size(width, 400)
		assert.LessOrEqual(t, evaluate[int](b, `() => document.documentElement.scrollWidth`), int(width))
	}
}
