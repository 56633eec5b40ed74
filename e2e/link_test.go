package e2e

import "testing"

// The board of the simulated bench is asked; a leg that was noted in another row is found by it, and
// the questions go on from there.
func TestTheBoardIsAsked(t *testing.T) {
	tram := "/builds/" + demoBuilds(t)["tram-stop"]
	b := open(t, tram+"/meter")
	b.click("link", "Ask the board")
	b.click("button", "Ask the board")
	b.says("The board reads at its pins what it should.")
	b.says("single faults of the wiring that are considered")
	b.click("button", "request button pressed")
	b.see("button", "✓ request button pressed")
	b.says("17 things were asked")
	b.visit(tram + "/assemble")
	b.click("tab", "As built")
	b.click("button", "Look at what is really there")
	b.says("As planned")
	b.fill("or type: part, leg, hole", "led3.cathode j29")
	b.says("is joined with nothing")
	b.visit(tram + "/board")
	b.choose("The board is at", "a port that I name")
	b.fill("Its port", "/dev/null")
	b.click("button", "Ask the board")
	b.see("alert", "is no serial port")
	b.choose("The board is at", "the bench")
	b.click("button", "Ask the board")
	b.says("D5, pulled up, reads high; it would be low as planned.")
	b.see("list", "What is not as planned")
	b.click("button", "Go on with questions")
	b.says("D5, pulled up, reads high")
}
