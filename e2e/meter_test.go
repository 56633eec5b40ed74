package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
)

// What to measure is gone through one by one; a wrong reading says what it may be; a
// measured resistor narrows what is reckoned with it; and the log has all of it.
func TestMeasuring(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"])
	b.click("link", "Test")
	b.says("Before it goes in")
	b.click("button", "resistor of platform lamp left 180 Ω")
	b.says("169 – 180 – 191 Ω")
	b.fill("It reads", "181")
	b.says("As expected")
	b.click("button", "Put it into the drawer as measured")
	b.says("It is in the drawer as 181 Ω.")
	// The drawer is that of all tests: what is in it is chosen from.
	assert.Equal(t, 1, evaluateAsync[int](b, `async () => {
		const { items, tag } = await (await fetch('/api/drawer')).json();
		await fetch('/api/drawer', {method: 'PUT', headers: {'Content-Type': 'application/json', 'If-Match': tag}, body: '{"items":[]}'});
		return items.length;
	}`))
	b.click("button", "Reckon with 181 Ω from now on")
	b.says("178 – 181 – 184 Ω")

	b.click("button", "5V – GND 5.00 V")
	b.says("4.69 – 5.00 – 5.31 V")
	b.fill("It reads", "5 A")
	b.says("not a reading in V")
	b.fill("It reads", "4.86")
	b.says("As expected")
	b.click("button", "over resistor of platform lamp left 1.79 V")
	b.fill("It reads", "1.7")
	b.says("2 readings agree: the supply has 4.86 V")
	b.click("button", "Reckon with 4.86 V")
	b.click("button", "5V – GND 4.86 V")
	b.fill("It reads", "0,01")
	b.says("Not as expected")
	b.see("button", "not as expected")

	b.click("link", "Log")
	b.says("not as expected")
	b.says("Measured resistance of resistor of platform lamp left: 181 Ω")
	b.click("button", "Write a note on 181 Ω")
	b.fill("Write a note on the reading 181 Ω", "Out of the blue box.")
	b.click("button", "Keep it")
	b.says("on the line “181 Ω”")
	b.fill("Write down what you saw or did", "The plug was **loose**. <img src=x onerror=alert(1)> [there](javascript:alert(1))")
	b.click("button", "Keep it")
	b.says("The plug was loose. <img src=x onerror=alert(1)> there")
	assert.Equal(t, []string{"loose"}, evaluate[[]string](b, `() => [...document.querySelectorAll('strong')].map((e) => e.innerText).filter((t) => t === 'loose')`))
	assert.Empty(t, evaluate[[]string](b, `() => [...document.querySelectorAll('a')].map((a) => a.href).filter((h) => h.startsWith('javascript'))`))
	b.click("button", "Remove: The plug was **loose**.")
	b.says("A line was taken out")
	b.click("button", "Put it back")
	b.says("The plug was loose.")
	// A picture is dropped onto the page.
	evaluateAsync[bool](b, `async () => {
		const canvas = document.createElement('canvas');
		canvas.width = 640; canvas.height = 480;
		const blob = await new Promise((done) => canvas.toBlob(done, 'image/png'));
		const files = new DataTransfer();
		files.items.add(new File([blob], 'bench.png', {type: 'image/png'}));
		window.dispatchEvent(new DragEvent('drop', {dataTransfer: files}));
		return true;
	}`)
	b.until("the picture", `() => [...document.querySelectorAll('img')].some((i) => i.alt === 'Picture of the build' && i.naturalWidth === 480)`)
	b.choose("Show", "readings")
	b.until("the note is not shown", `() => !document.body.innerText.includes("The plug was loose.")`)
}

// What the leaflet of one's own meter says is what is reckoned with; nonsense changes nothing.
func TestOnesOwnMeter(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/meter")
	b.click("link", "Yours is another?")
	b.fill("Accuracy", "lots")
	b.says("is not a value for it; write it as 0.8 %")
	b.fill("Accuracy", "0.1 %")
	b.says("is worked out for this one")
	b.visit("/builds/" + ids["tram-stop"] + "/meter")
	b.says("Meter: My meter.")
	b.visit("/drawer")
	b.click("button", "Assume a usual meter again")
	b.says("A usual handheld meter is assumed")
	b.click("button", "Take the last change back")
	b.says("is worked out for this one")
	b.click("button", "Assume a usual meter again")
	b.says("A usual handheld meter is assumed")
}
