package e2e

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"github.com/chromedp/cdproto/dom"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
)

// upload gives a file to the input of that name.
func (b *tab) upload(label, name string, data []byte) {
	b.t.Helper()
	file := filepath.Join(b.t.TempDir(), name)
	require.NoError(b.t, os.WriteFile(file, data, 0o600))
	selector := `input[type=file][aria-label="` + label + `"]`
	b.until("the input "+label, `(s) => document.querySelector(s) !== null`, selector)
	_, err := chromedp.Run(b.ctx, chromedp.QueryAfter(chromedp.CSS(selector), func(_ context.Context, _ *chromedp.Target, nodes []*chromedp.Node) (chromedp.Void, error) {
		_, err := chromedp.Call(b.ctx, dom.SetFileInputFiles, dom.SetFileInputFilesParams{Files: []string{file}, NodeID: nodes[0].NodeID})
		return chromedp.Void{}, err
	}, chromedp.NodeReady))
	require.NoError(b.t, err)
}

// A ready build is a copy that can be changed at once.
func TestBeginFromOneThatWorks(t *testing.T) {
	b := open(t, "/")
	b.click("button", "a knob for each colour")
	b.see("button", "sky")
	b.see("img", "pin D5, resistor-red 270 Ω, sky, ground")
	b.click("button", "sky")
	b.click("button", "Currents that give white")
	b.says("saved")
	b.see("button", "Undo")
	b.click("button", "Undo")
	b.says("saved")
}

// What feeds the board: too much is a stop, and its fix is one click.
func TestWhatFeedsTheBoard(t *testing.T) {
	b := begin(t, "fed")
	b.addPart("Small motor")
	b.click("button", "fed by USB")
	b.choose("Where it goes in", "VIN")
	b.fill("Volts of an adapter", "15")
	b.see("button", "heat in the regulator")
	b.choose("or cells", "alkaline AA")
	b.see("button", "run time")
	b.choose("how many in series", "12")
	b.press(kb.Escape)
	b.says("its package sheds 1.5 W")
	// Seven would do, but for the heat of the motor's current in the regulator.
	b.click("button", "Feed it from USB")
	b.gone("button", "Feed it from USB")
	b.see("button", "fed by USB")
}

// Every state is kept in words, and any of them comes back.
func TestHistory(t *testing.T) {
	b := begin(t, "history")
	b.addPart("red LED")
	b.see("button", "red LED 1")
	b.addPart("Button")
	b.see("button", "Button 1")
	b.press("h")
	b.see("dialog", "History")
	b.click("button", "added red LED 1")
	b.says("Button 1 is gone")
	b.click("button", "Bring this state back")
	b.gone("button", "Button 1")
	b.see("button", "red LED 1")
	b.says("saved")
	b.click("button", "Undo")
	b.see("button", "Button 1")
}

func TestPinsAreChosenLockedAndExchanged(t *testing.T) {
	b := begin(t, "pins")
	b.addPart("red LED")
	b.addPart("Button")
	b.see("img", "pin D7, Button 1")
	b.click("button", "red LED 1")
	b.choose("Pin (digital out)", "D7 – exchange with Button 1")
	b.see("img", "pin D4, Button 1")
	b.choose("Pin (digital out)", "A3")
	b.see("img", "pin A3")
	b.click("button", "Choose pins")
	b.says("saved")
	b.see("img", "pin A3") // what the builder chose is locked
	b.click("button", "Keep red LED 1 on A3")
	b.says("saved")
	b.click("button", "Choose pins")
	b.gone("img", "pin A3")
	// With the mouse: dragged onto another pin, whose price is seen on the way.
	b.says("saved")
	assert.Equal(t, "free, costs nothing", evaluateAsync[string](b, `async () => {
		const row = (pin) => [...document.querySelectorAll('li[draggable]')].find((li) => li.firstElementChild.textContent === pin);
		const from = [...document.querySelectorAll('li[draggable=true]')].find((li) => li.innerText.includes('red LED 1'));
		const data = new DataTransfer();
		from.dispatchEvent(new DragEvent('dragstart', {bubbles: true, dataTransfer: data}));
		const price = await new Promise((done) => {
			const look = () => (row('D12').lastElementChild.textContent.includes('free') ? done(row('D12').lastElementChild.textContent) : requestAnimationFrame(look));
			look();
		});
		row('D12').dispatchEvent(new DragEvent('dragover', {bubbles: true, cancelable: true, dataTransfer: data}));
		row('D12').dispatchEvent(new DragEvent('drop', {bubbles: true, dataTransfer: data}));
		from.dispatchEvent(new DragEvent('dragend', {bubbles: true, dataTransfer: data}));
		return price;
	}`))
	b.see("img", "pin D12, resistor")
	b.click("button", "Why this pin")
	b.says("it is here")
	b.says("exchange with Button 1")
}

// A pin table is shown before it is taken; a broken one costs nothing.
func TestAPinTableComesIn(t *testing.T) {
	b := begin(t, "table")
	b.addPart("red LED")
	b.see("img", "pin D4")
	b.upload("A pin table as a file", "broken.csv", []byte("pin,part\nD99,red LED 1\n"))
	b.see("alert", `no pin "D99"`)
	b.shut()
	b.upload("A pin table as a file", "pins.csv", []byte("pin,part,signal\nD9,red LED 1,drive\n"))
	b.says("red LED 1 goes from D4 to D9")
	b.see("img", "pin D4")
	b.click("button", "Move this one")
	b.see("img", "pin D9")
}

func TestTheDrawer(t *testing.T) {
	b := open(t, "/drawer")
	b.says("The drawer is empty")
	b.click("button", "Add a kit of 30 resistor values")
	b.see("button", "Take Resistor 220 Ω out")
	b.fill("resistance", "4kk7")
	b.see("alert", "4kk7")
	b.fill("resistance", "270")
	b.see("button", "Take Resistor 270 Ω out")
	b.upload("A table of parts as a file", "broken.csv", []byte("kind\nwarp coil\n"))
	b.see("alert", "no kind of part")
	b.upload("A table of parts as a file", "more.csv", []byte("kind,value,pieces\nresistor,301,5\n"))
	b.see("button", "Take Resistor 301 Ω out")
	b.click("button", "Take the last change back")
	b.gone("button", "Take Resistor 301 Ω out")
	b.visit("/")
	b.fill("What will it be?", "from the drawer")
	b.addPart("red LED")
	b.click("button", "red LED 1")
	b.click("button", "Compare")
	b.says("the drawer")
	b.click("button", "Take 330 Ω")
	b.see("img", "resistor 330 Ω")
	b.says("The last change moved")
	fillDrawer(t, []store.Item{{Kind: "led", Type: "red", Values: map[string]float64{"forwardVoltage": 1.93}, Pieces: 5, Measured: true}})
	b.visit(evaluate[string](b, `() => location.pathname`))
	b.click("button", "red LED 1")
	b.click("button", "forward voltage 1.93 V, measured")
	b.until("the measured value in its field", `() => [...document.querySelectorAll('input')].some((e) => e.value === '1.93 V')`)
	b.click("button", "Files and history")
	b.click("menuitem", "shopping list")
	b.says("to be bought")
	b.press(kb.Escape)
	// The drawer is one for all builds: leave it as it was found.
	fillDrawer(t, nil)
}

func TestOtherBoards(t *testing.T) {
	b := open(t, "/boards")
	b.see("heading", "Ratings")
	b.choose("Board", "Slim")
	b.says("26 pins, 3 of them analog")
	b.visit("/builds/" + demoBuilds(t)["quiz-table"])
	b.click("button", "Files and history")
	b.click("menuitem", "compare boards")
	b.see("button", "Move to the Slim 3.3 V board")
}

func TestTheKeys(t *testing.T) {
	b := begin(t, "keys")
	b.press(kb.Escape)
	b.press("?")
	b.see("dialog", "Keys and cautions")
	b.says("Unplug the board before you wire")
	b.shut()
	b.press("/")
	b.until("the line in focus", `() => document.activeElement.placeholder?.startsWith('2 red leds')`)
	evaluate[bool](b, `() => { document.activeElement.select(); return true; }`) // the protocol sends a key's character even where its press was taken
	b.press("8 green leds on a shift register")
	b.says("8 green LEDs on it")
	b.press("\r")
	b.see("img", "QH, resistor")
	assert.Equal(t, 0, evaluate[int](b, `() => document.querySelectorAll('[aria-label^="1 stop"]').length`))
}

// A board is described from its data sheet, used, and kept as a file.
func TestABoardOfOnesOwn(t *testing.T) {
	b := open(t, "/boards")
	b.click("button", "Describe another board")
	b.see("dialog", "Describe a board")
	b.fill("What do you call it?", "Market board")
	b.says("Like the Classic 5 V board.")
	b.upload("A board as a file", "broken.json", []byte(`{"format":"cablaggio.board/1","id":"x"}`))
	b.see("alert", "it needs an id, a name and the name of its ground")
	b.visit("/")
	b.choose("Board", "Market board")
	b.fill("What will it be?", "on my own board")
	b.addPart("red LED")
	b.see("img", "pin D4, resistor 270 Ω")
	b.visit("/boards")
	b.choose("Board", "Market board")
	b.click("button", "Forget this board")
	b.see("alert", "Builds are on this board")
}

// What one fix removes stands together, and all of it goes with it.
func TestFindingsOfOneCauseStandTogether(t *testing.T) {
	b := open(t, "/builds/"+demoBuilds(t)["quiz-table-mistakes"])
	b.see("status", "3 stop, 12 care, 4 note")
	b.says("6 more go with it")
	b.click("button", "Wire it as: Rows driven low one at a time, columns read")
	b.see("status", "2 stop, 6 care, 4 note")
}

// The circuit goes out in the state that is asked for.
func TestTheCircuitGoesOut(t *testing.T) {
	b := open(t, "/builds/"+demoBuilds(t)["tram-stop"])
	b.click("button", "Files and history")
	b.click("menuitem", "save as a file")
	b.click("button", "The circuit in one state")
	b.choose("D4 (platform lamp left)", "high")
	b.choose("What has a tolerance", "at its low end")
	evaluate[bool](b, `() => {
		const make = URL.createObjectURL;
		URL.createObjectURL = (file) => { file.text().then((text) => { window.saved = text; }); return make.call(URL, file); };
		return true;
	}`)
	b.click("button", "Save the netlist")
	b.until("it is saved", `() => window.saved !== undefined`)
	deck := evaluate[string](b, `() => window.saved`)
	assert.Contains(t, deck, "* D4 (platform lamp left) is high\n")
	assert.Contains(t, deck, " 15 ; pin D4, driving high\n")
}

// The range that a sensor is to tell may be pointed at, and its resistor follows.
func TestARangeByPointing(t *testing.T) {
	b := begin(t, "range")
	b.addPart("Light-dependent resistor")
	b.click("button", "Light-dependent resistor 1")
	b.choose("brightest that it is to tell, in lx: as in", "a living room in the evening")
	b.says("10 kΩ")
	// What is not understood stays as it was typed, the second time too.
	const darkest = "darkest that it is to tell, in lx"
	for _, wrong := range []string{"very dark", "-5"} {
		b.fill(darkest, wrong)
		b.says("set " + darkest + " of Light-dependent resistor 1 to " + wrong)
		b.mark("textbox", darkest)
		assert.Equal(t, wrong, evaluate[string](b, `() => document.querySelector('[data-e2e]').value`))
	}
	b.fill(darkest, "2")
	b.gone("button", "Close")
}

// fillDrawer puts things into the drawer in place of what is in it.
func fillDrawer(t *testing.T, items []store.Item) {
	t.Helper()
	tags, err := shared.store.Tags(t.Context())
	require.NoError(t, err)
	require.NoError(t, shared.store.FillDrawer(t.Context(), tags.Drawer, items))
}
