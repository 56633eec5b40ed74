package e2e

import "testing"

// A lamp that stays dark is found to be the wrong way round by looking at it, put right, and
// stands in the log.
func TestDiagnoseByLooking(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"])
	b.click("link", "Diagnose")
	b.says("What does it do that it should not?")
	b.click("button", "dark: sign lamp, switched on")
	b.click("button", "The rest is right: find it")
	b.says("Look at sign lamp and the wires that belong to it")
	b.click("button", "Sign lamp is the other way round.")
	b.says("Turn sign lamp round.")
	b.says("It was this if then: Sign lamp is lit when D5 (sign lamp) is high.")
	b.click("button", "It works now")
	b.says("Found, and in the log: Sign lamp is the other way round.")
	b.click("link", "Log")
	b.says("Found: Sign lamp is the other way round.")
}

// Where nothing is seen, the meter tells; a wrong answer can be taken back.
func TestDiagnoseByMeasuring(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/diagnose")
	b.click("button", "dark: platform lamp left, switched on")
	b.click("button", "The rest is right: find it")
	b.click("button", "Everything is as on the map")
	b.says("Red to the one end of resistor of platform lamp left")
	b.fill("It reads", "soup")
	b.says("is not a reading in V")
	b.fill("It reads", "4.9")
	b.gone("textbox", "soup")
	b.click("button", "Begin anew")
	b.says("What does it do that it should not?")
}
