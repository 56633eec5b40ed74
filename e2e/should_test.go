package e2e

import "testing"

// What the build should do stands on the bench, with whether it holds; a sentence that is broken
// can be watched, and one that is not understood is told what would be right.
func TestShould(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"])
	b.click("button", "Try its 5 sentences")
	b.says("6 of 6 sentences hold") // with the one that always stands
	b.click("link", "6 of 6 sentences hold")
	b.see("button", "Start over")
	b.click("link", "Program")
	b.click("link", "6 of 6 sentences hold")
	b.see("button", "Start over")
	b.click("link", "Program")
	b.says("It fits the wiring.")
	b.click("link", "Bench")
	b.says("6 of 6 hold")
	b.fill("Say what else it should do", "the moon is lit")
	b.says(`"moon" is not understood here`)
	b.click("button", "while dusk sensor is")
	b.says("Understood as: while dusk sensor is")
	b.mark("textbox", "Say what else it should do")
	b.until("its text marked", `() => { const e = document.querySelector('[data-e2e]'); e.focus(); e.select(); return document.activeElement === e; }`)
	b.press("the sign follows the knob")
	b.says("Understood as: turning dimmer takes sign lamp from dark to full")
	b.fill("Say what else it should do", "while the request button is pressed, the stop request lamp is lit")
	b.says("6 of 7 hold")
	b.says("request button is pressed, stop request lamp is lit")
	b.click("button", "Watch it")
	b.until("it runs", `() => [...document.querySelectorAll('button')].some((e) => e.innerText.includes('Hold'))`)
	b.says("How: wait")
	b.click("button", "Remove: while the request button is pressed")
	b.says("6 of 6 hold")
	// Without typing: put together by choosing.
	b.click("button", "Choose its words instead")
	b.choose("When", "each press of request button")
	b.choose("What", "stop request lamp")
	b.choose("Does what", "changes it")
	b.click("button", "Take this sentence")
	b.says("Understood as: each press of request button changes stop request lamp")
	b.click("button", "Add and try")
	b.says("7 of 7 hold")
}
