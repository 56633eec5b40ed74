package e2e

import (
	"flag"
	"fmt"
	"path/filepath"
	"slices"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/demo"
	"cablaggio/server"
)

var (
	shots = flag.String("shots", "", "folder to put pictures of the main views in")
	bench = flag.Bool("bench", false, "measure instead of testing")
)

// TestScreenshots takes the pictures of the README; make shots runs it.
func TestScreenshots(t *testing.T) {
	if *shots == "" {
		t.Skip("make shots")
	}
	ids := demoBuilds(t)
	shot := func(b *tab, name string) { b.shot(filepath.Join(*shots, name+".png")) }

	b := open(t, "/")
	b.see("link", "Model tram stop")
	b.until("the ready builds", `() => document.getElementById('starts-heading') !== null`)
	shot(b, "builds")

	b.visit("/builds/" + ids["quiz-table-mistakes"])
	b.see("button", "host keypad")
	shot(b, "plan-findings")
	b.click("button", "Add a part")
	b.see("dialog", "Add a part")
	shot(b, "picker")
	b.shut()
	b.click("button", "Files and history")
	b.click("menuitem", "compare boards")
	b.see("button", "Move to the Slim 3.3 V board")
	shot(b, "compare-boards")
	b.shut()

	var tram demo.Build
	for _, d := range demo.Builds() {
		if d.Name == "tram-stop" {
			tram = d
		}
	}
	doc, err := build.Shipped().Parse(tram.Data)
	require.NoError(t, err)
	require.NoError(t, server.LoadLog(t.Context(), build.Shipped(), shared.store, tram.Name, ids[tram.Name], doc))
	b.visit("/builds/" + ids["tram-stop"] + "/meter")
	b.click("button", "over resistor of sign lamp")
	b.fill("It reads", "0.02")
	b.says("Not as expected")
	shot(b, "meter")
	b.click("link", "Log")
	b.says("How it is to look")
	shot(b, "log")
	b.visit("/builds/" + ids["tram-stop-mistakes"] + "/program")
	b.says("It compiles, but does not fit.")
	shot(b, "program")
	b.visit("/builds/" + ids["tram-stop"] + "/bench")
	b.click("button", "Run")
	b.until("time goes by", `() => parseFloat(document.querySelector('output[aria-label="Time"]').textContent) > 1`)
	b.press("1")
	b.says("a tram is asked to stop")
	b.until("time goes by", `() => parseFloat(document.querySelector('output[aria-label="Time"]').textContent) > 3`)
	b.choose("Probe a voltage", "D12 · cathode of stop request lamp")
	b.see("button", "Take the probe off Voltage at D12")
	b.click("button", "Hold")
	b.says("6 of 6 hold")
	shot(b, "bench")
	b.visit("/builds/" + ids["tram-stop"] + "/diagnose")
	b.click("button", "dark: sign lamp, switched on")
	b.click("button", "The rest is right: find it")
	b.until("the map", `() => document.querySelector('svg.stepping') !== null`)
	shot(b, "diagnose")
	b.click("button", "Begin anew")
	b.visit("/drill")
	b.click("button", "One dark lamp of six")
	b.click("button", "lamp 3")
	b.click("button", "Look at lamp 3")
	b.says("Everything is as on the map.")
	shot(b, "drill")
	b.visit("/drawer")
	b.click("button", "Add a kit")
	b.see("button", "Take Resistor 220 Ω out")
	shot(b, "drawer")
	b.visit("/boards")
	b.see("heading", "Ratings")
	shot(b, "boards")

	b.visit("/builds/" + ids["tram-stop"])
	b.click("button", "platform lamp left")
	b.see("combobox", "Hookup")
	b.click("button", "Compare")
	b.says("keep choosing")
	shot(b, "plan-resistors")
	b.press("\x1b")

	b.visit("/builds/" + ids["seedling-shelf"])
	b.see("button", "alarm lamp")
	b.click("button", "GP26 reads")
	b.says("Uref")
	shot(b, "plan-sensors")
	b.press("\x1b")
	b.visit("/builds/" + ids["tram-stop"] + "/assemble")
	_, r := report(t, "tram-stop")
	for n := range 11 {
		b.says(fmt.Sprintf("Step %d of %d", n+1, len(r.Steps)))
		b.press("d")
	}
	b.says(fmt.Sprintf("Step 12 of %d", len(r.Steps)))
	b.says("saved")
	shot(b, "assemble")
	b.click("button", "Show it all")
	b.click("tab", "As built")
	b.click("button", "Look at it as if all were done")
	b.says("As planned")
	anode, _ := r.Placement.Seat("led3").Hole("anode")
	column := "b"
	if anode.Column.Right() {
		column = "i"
	}
	b.fill("or type: part, leg, hole", fmt.Sprintf("sign lamp short leg %s%d", column, anode.Row))
	b.says("it is bridged")
	b.choose("Leg", "sign lamp, anode, long leg")
	b.see("button", "sign lamp is turned round")
	shot(b, "assemble-as-built")
	b.visit("/builds/" + ids["tram-stop"] + "/board")
	b.click("button", "Ask the board")
	b.see("button", "Go on with questions")
	shot(b, "ask-board")

	b.visit("/parts")
	b.click("button", "Describe a part")
	b.fill("What do you call it?", "Rain module")
	b.choose("How many legs in its row?", "4")
	for i, printed := range []string{"VCC", "AO", "GND", "DO"} {
		b.fill(fmt.Sprintf("Printed beside it, leg %d", i+1), printed)
	}
	b.choose("It is, leg 4", "an output")
	b.choose("It gives, leg 2", "a voltage that follows")
	b.see("region", "What comes of it")
	evaluate[bool](b, `() => { document.querySelector('[role=dialog] .overflow-auto').scrollTop = 0; return true; }`)
	shot(b, "leaflet")
	b.click("button", "Begin anew")

	b.visit("/builds/" + ids["tram-stop"])
	b.see("button", "sign lamp")
	b.size(800, 1280)
	shot(b, "plan-tablet")
}

// TestEditToPainted measures the time from a click that edits to the frame that
// shows the result; make bench runs it.
func TestEditToPainted(t *testing.T) {
	if !*bench {
		t.Skip("make bench")
	}
	ids := demoBuilds(t)
	b := open(t, "/")
	b.see("link", "Model tram stop")
	script := evaluate[float64](b, `() => performance.getEntriesByType('resource').filter((r) => r.name.endsWith('.js')).reduce((sum, r) => sum + r.encodedBodySize, 0)`)
	fmt.Printf("first route: %.0f kB of script, compressed\n", script/1000)
	for _, name := range []string{"tram-stop", "quiz-table"} {
		editToPainted(t, name, ids[name])
	}
}

func editToPainted(t *testing.T, name, id string) {
	b := open(t, "/builds/"+id)
	lamp := map[string]string{"tram-stop": "sign lamp", "quiz-table": "score 8"}[name]
	b.click("button", lamp)
	b.see("combobox", "Type")
	var times []time.Duration
	for i := range 50 {
		typ := []string{"blue", "amber"}[i%2]
		ms := evaluateAsync[float64](b, `(type) => new Promise((done) => {
			const select = [...document.querySelectorAll('select')].find((s) => [...s.options].some((o) => o.value === type));
			const card = select.closest('li');
			const text = card.querySelector('button[aria-haspopup]').innerText;
			const began = performance.now();
			const look = () => {
				if (card.querySelector('button[aria-haspopup]').innerText !== text) done(performance.now() - began);
				else requestAnimationFrame(look);
			};
			Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, type);
			select.dispatchEvent(new Event('change', {bubbles: true}));
			requestAnimationFrame(look);
		})`, typ)
		times = append(times, time.Duration(ms*float64(time.Millisecond)))
		b.says("saved")
	}
	slices.Sort(times)
	require.Len(t, times, 50)
	fmt.Printf("edit to painted, %s, 50 edits: median %v, 95th percentile %v\n", name, times[25].Round(time.Millisecond), times[47].Round(time.Millisecond))
}
