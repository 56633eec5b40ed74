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
	b.says("it names nothing that lights, sounds or runs here")
	b.fill("Say what else it should do", "while the request button is pressed, the stop request lamp is lit")
	b.says("6 of 7 hold")
	b.says("request button is pressed, stop request lamp is lit")
	b.click("button", "Watch it")
	b.until("it runs", `() => [...document.querySelectorAll('button')].some((e) => e.innerText.includes('Hold'))`)
	b.click("button", "Remove: while the request button is pressed")
	b.says("6 of 6 hold")
}
