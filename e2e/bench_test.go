package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
)

// The build runs: a press does what it does on a real bench, and the strip shows it.
func TestBench(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"])
	evaluate[bool](b, `() => { const Line = window.WebSocket; window.WebSocket = class extends Line { constructor(url) { super(url); window.line = this; } }; return true; }`)
	b.click("link", "Bench")
	b.see("button", "request button")
	b.click("button", "Run")
	b.until("time goes by", `() => parseFloat(document.querySelector('output[aria-label="Time"]').textContent) > 0.5`)
	b.press("1")
	b.says("a tram is asked to stop")
	b.until("the lamp is lit", `() => [...document.querySelectorAll('ul[aria-label="Lamps"] li')].some((l) => l.innerText.includes('stop request lamp') && parseInt(l.innerText.match(/(\d+) %/)?.[1] ?? '0') > 50)`)
	b.choose("Probe a voltage", "D12 · cathode of stop request lamp")
	b.see("button", "Take the probe off Voltage at D12")
	b.until("the voltage is shown", `() => [...document.querySelectorAll('section[aria-label="Rows"] tr')].some((r) => r.innerText.includes('Voltage at D12') && / m?V$/.test(r.innerText.trim()))`)
	b.click("button", "Take the probe off Voltage at D12")
	b.gone("button", "Take the probe off Voltage at D12")
	// A connection that is lost comes back to the run where it was.
	seconds := `() => parseFloat(document.querySelector('output[aria-label="Time"]').textContent)`
	before := evaluate[float64](b, seconds)
	evaluate[bool](b, `() => { window.lost = window.line; window.line.close(); return true; }`)
	b.until("another line", `() => window.line !== window.lost`)
	b.until("it goes on where it was", `(before) => { const at = (`+seconds+`)(); return at > before + 0.3 && at < before + 8; }`, before)
	b.says("a tram is asked to stop")
	b.click("button", "Hold")
	b.see("button", "Run")
	b.click("button", "Step")
	b.says("Held at line")
	b.click("button", "−10 s")
	b.until("it is back", `(before) => (`+seconds+`)() < before`, before)
	b.click("button", "Start over")
	b.until("all begins anew", `() => !document.body.innerText.includes('a tram is asked to stop')`)
}

// A generator in place of a sensor, and what comes of it; taken away again; and a rate that is none.
func TestGeneratorInPlaceOfASensor(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/bench")
	b.click("button", "Run")
	b.click("button", "Test generator")
	b.click("button", "Feed it")
	b.says("Fed by a generator at 6 Hz")
	b.says("blinks at 6 Hz")
	b.click("button", "Take it away")
	b.gone("button", "Fed by a generator")
	b.fill("Rate, Hz", "often")
	b.says("The rate is above 0")
}

// The plug is pulled and put in again, and the board is reset: all is dark, and the program begins
// anew.
func TestThePlugIsPulled(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/bench")
	board := `(text) => [...document.querySelectorAll('section[aria-label="Rows"] tr')].some((r) => r.innerText.includes('Board') && r.innerText.includes(text))`
	dark := `() => [...document.querySelectorAll('ul[aria-label="Lamps"] li')].every((l) => /\s0 %/.test(l.innerText))`
	b.click("button", "Run")
	b.press("1")
	b.says("a tram is asked to stop")
	b.click("button", "Unplug")
	b.until("it has no power", board, "unplugged")
	b.until("all lamps are dark", dark)
	b.click("button", "Plug in")
	b.until("it runs again", board, "runs")
	b.press("1")
	b.until("the program has forgotten", `() => document.body.innerText.split('a tram is asked to stop').length === 3`)
	b.click("button", "Reset")
	b.until("it runs again", board, "runs")
}

// Cells run down while one watches, until the board stands still.
func TestCellsRunDown(t *testing.T) {
	b := begin(t, "on cells")
	b.addPart("red LED")
	b.click("button", "fed by USB")
	b.choose("Where it goes in", "VIN")
	b.choose("or cells", "alkaline AA")
	b.choose("how many in series", "3")
	b.press(kb.Escape)
	b.click("link", "Bench")
	b.click("button", "Run")
	b.says("50 %, 4.")
	b.click("button", "10 h")
	b.until("it stands still", `() => [...document.querySelectorAll('section[aria-label="Rows"] tr')].some((r) => r.innerText.includes('Board') && r.innerText.includes('too few volts'))`)
	assert.Less(t, evaluate[float64](b, `() => Number(document.querySelector('input[type="range"]').value)`), 450.0, "the slider goes with what is left")
}

// The strip goes back and on by keys, and is stretched about the fingers (a wheel with Ctrl is two of
// them to the browser); it goes on with the run again when it is told to.
func TestTheStripIsMoved(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/bench")
	b.click("button", "Run")
	b.until("time goes by", `() => parseFloat(document.querySelector('output[aria-label="Time"]').textContent) > 2`)
	b.click("button", "Hold")
	b.see("button", "Run")
	// What was on its way when it was held still arrives.
	b.until("time stands", `() => {
		const now = document.querySelector('output[aria-label="Time"]').textContent;
		if (window.stood?.time !== now) window.stood = { time: now, since: performance.now() };
		return performance.now() - window.stood.since > 1000;
	}`)
	shown := `() => document.querySelector('section[aria-label="Strip"] span').textContent`
	b.says("0.00 to 5.00 s")
	b.press("+")
	b.press("+")
	before := evaluate[string](b, shown)
	assert.NotEqual(t, "0.00 to 5.00 s", before)
	b.press(kb.ArrowLeft)
	b.see("button", "Go on with it")
	assert.NotEqual(t, before, evaluate[string](b, shown))
	b.click("button", "Go on with it")
	b.gone("button", "Go on with it")
	assert.Equal(t, before, evaluate[string](b, shown))
	evaluate[bool](b, `() => {
		const line = document.querySelector('section[aria-label="Rows"] canvas');
		const box = line.getBoundingClientRect();
		for (let i = 0; i < 8; i++) line.dispatchEvent(new WheelEvent('wheel', {ctrlKey: true, deltaY: -40, clientX: box.left + box.width / 2, clientY: box.top + 5, bubbles: true, cancelable: true}));
		return true;
	}`)
	b.until("it is stretched", `(before) => {
		const [from, to] = before.split(' to ').map(parseFloat);
		const [now, end] = document.querySelector('section[aria-label="Strip"] span').textContent.split(' to ').map(parseFloat);
		return end - now < (to - from) / 2 && now > from && end < to;
	}`, before)
}
