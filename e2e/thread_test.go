package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// next waits until the line says what is next.
func (b *tab) next(words string) {
	b.t.Helper()
	b.until("the next thing to do: "+words, `(words) => document.querySelector('section[aria-label="What to do next"]')?.innerText.includes(words)`, words)
}

// attended waits until what is to be done has the keyboard.
func (b *tab) attended() {
	b.t.Helper()
	b.until("the keyboard at what is to be done", `() => document.activeElement?.matches('[data-next]')`)
}

// lit waits until a lamp shines on the drawing.
const lit = `(part) => Number(document.querySelector('[data-lamp="' + part + '"]')?.dataset.lightness) > 40`

// From nothing to a lamp that shines on the picture of the breadboard, by the keyboard alone, along
// what is said to be next, in at most twelve actions: what is typed with its Enter is one, and so is
// each key by itself.
func TestTheThreadLeadsToALamp(t *testing.T) {
	actions := 0
	b := open(t, "/")
	key := func(keys string) {
		actions++
		b.press(keys)
	}
	b.mark("textbox", "What will it be?")
	evaluate[bool](b, `() => { document.querySelector('[data-e2e]').focus(); return true; }`)
	key("door lamp\r")
	b.next("Say what it should have")
	b.attended()
	key("a red led, a button\r")
	b.next("Write its program")
	key("\x1b")
	key("n")
	b.attended()
	key("\r")
	b.next("Run it, and say what it should do")
	key("\x1b")
	key("n")
	b.attended()
	key("\r")
	b.see("button", "Hold")
	require.NoError(t, chromedp.Do(b.ctx, chromedp.KeyEvent("1")))
	actions++
	b.until("the lamp shines on the picture", lit, "led1")
	assert.LessOrEqual(t, actions, 12)
}

// A finger does on the drawing what hands do: a button is held, a knob is turned; lamps shine there
// as bright as the list beside it says.
func TestTheBenchOnThePicture(t *testing.T) {
	b := open(t, "/builds/"+demoBuilds(t)["tram-stop"]+"/bench")
	b.until("the drawing is there", `() => document.querySelectorAll('[data-touch]').length > 5`)
	b.click("button", "Run")
	at := func(part string) (x, y float64) {
		b.until(part+" on the drawing", `(part) => document.querySelector('[data-touch="' + part + '"] .touch') !== null`, part)
		p := evaluate[[]float64](b, `(part) => { const e = document.querySelector('[data-touch="' + part + '"] .touch'); e.scrollIntoView({block: 'center'}); const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2]; }`, part)
		return p[0], p[1]
	}
	mouse := func(kind input.DispatchMouseEventType, x, y float64) {
		_, err := chromedp.Call(b.ctx, input.DispatchMouseEvent, input.DispatchMouseEventParams{Type: kind, X: x, Y: y, Button: input.MouseButtonLeft, ClickCount: 1, Buttons: map[bool]int64{true: 0, false: 1}[kind == input.DispatchMouseEventTypeMouseReleased]})
		require.NoError(t, err)
	}
	x, y := at("button1")
	mouse(input.DispatchMouseEventTypeMousePressed, x, y)
	b.until("it is held", `() => document.querySelector('[data-touch="button1"] [data-pressed="true"]') !== null`)
	b.says("pressed")
	mouse(input.DispatchMouseEventTypeMouseReleased, x, y)
	b.until("it is let go", `() => document.querySelector('[data-touch="button1"] [data-pressed="false"]') !== null`)
	b.until("the lamp shines on the picture", lit, "led4")
	// What is drawn is what is said beside it, in one look.
	b.click("button", "Hold")
	b.see("button", "Run")
	b.until("both say the same", `() => {
		const said = [...document.querySelectorAll('ul[aria-label="Lamps"] li')].map((l) => Number(l.innerText.match(/(\d+) %/)[1]));
		const drawn = [...document.querySelectorAll('[data-lamp]')].map((l) => Number(l.dataset.lightness));
		return said.length === drawn.length && said.every((s, i) => Math.abs(s - drawn[i]) <= 1) && said.some((s) => s > 40) && said.some((s) => s === 0);
	}`)
	// The knob is drawn aside.
	x, y = at("potentiometer1")
	mouse(input.DispatchMouseEventTypeMousePressed, x, y)
	mouse(input.DispatchMouseEventTypeMouseMoved, x+40, y)
	mouse(input.DispatchMouseEventTypeMouseMoved, x+160, y)
	mouse(input.DispatchMouseEventTypeMouseReleased, x+160, y)
	b.until("the knob is turned", `() => { const row = [...document.querySelectorAll('aside li')].find((l) => l.innerText.includes('dimmer')); return parseFloat(row.innerText.match(/([\d.]+) turn/)[1]) > 0.9; }`)
	// What is tapped is watched alone, and all again.
	x, y = at("led4")
	mouse(input.DispatchMouseEventTypeMousePressed, x, y)
	mouse(input.DispatchMouseEventTypeMouseReleased, x, y)
	b.until("one row", `() => document.querySelectorAll('section[aria-label="Rows"] tr').length === 1`)
	b.click("button", "All rows")
	b.until("all rows", `() => document.querySelectorAll('section[aria-label="Rows"] tr').length > 8`)
}

// What is being written is there again when the page was loaded anew in the middle of it, in every
// field.
func TestNothingWrittenIsLost(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/")
	build := "/builds/" + ids["tram-stop"]
	for _, place := range []struct{ path, field string }{
		{"/", "What will it be?"},
		{build, "Type parts"},
		{build + "/bench", "Say what else it should do"},
		{build + "/bench", "Send to the program"},
		{build + "/meter", "It reads"},
		{build + "/diagnose", "Or say it, or paste what the console prints"},
		{build + "/log", "Write down what you saw or did"},
		{"/drawer", "resistance"},
	} {
		b.visit(place.path)
		b.mark("textbox", place.field)
		b.until("the focus, where it stays", holds)
		evaluate[bool](b, `() => { const e = document.querySelector('[data-e2e]'); e.select(); return true; }`)
		b.press("half a word")
		b.visit(place.path)
		b.mark("textbox", place.field)
		value := evaluate[string](b, `() => document.querySelector('[data-e2e]').value`)
		assert.True(t, strings.HasPrefix(value, "half a word"), "%s at %s: %q", place.field, place.path, value)
		evaluate[bool](b, `() => { localStorage.clear(); return true; }`)
	}
	// A field of a build goes in when the page goes away.
	b.visit(build)
	b.mark("textbox", "Build")
	b.until("the focus, where it stays", holds)
	evaluate[bool](b, `() => { document.querySelector('[data-e2e]').select(); return true; }`)
	b.press("Tram stop, half named")
	b.visit(build)
	b.until("its name is kept", `() => [...document.querySelectorAll('input')].some((e) => e.value === 'Tram stop, half named')`)
}

// No screen pans aside at the width of a phone.
func TestNoScreenPansOnAPhone(t *testing.T) {
	tram := "/builds/" + demoBuilds(t)["tram-stop"]
	b := open(t, "/")
	b.size(390, 844)
	for _, path := range []string{"/", "/drawer", "/boards", "/drill", tram, tram + "/assemble", tram + "/program", tram + "/bench", tram + "/meter", tram + "/diagnose", tram + "/log"} {
		b.visit(path)
		b.until("something is there at "+path, `() => document.querySelector('main') !== null && document.body.innerText.length > 100`)
		assert.LessOrEqual(t, evaluate[int](b, `() => document.documentElement.scrollWidth`), 390, path)
	}
}
