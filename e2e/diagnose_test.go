package e2e

import "testing"

// A lamp that stays dark is found to be the wrong way round by looking at it, put right, and
// stands in the log.
func TestDiagnoseByLooking(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"])
	b.click("link", "Test")
	b.click("link", "It does not work")
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

// A lamp that lights in another's place is said, as it cannot be pointed at.
func TestDiagnoseTheWrongLamp(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/diagnose")
	b.fill("Or say it, or paste what the console prints", "it ignores the dusk sensor")
	b.click("button", "Mark it")
	b.until("it is marked", `() => [...document.querySelectorAll('[aria-pressed=true]')].some((e) => e.innerText.includes('stays the same'))`)
	b.click("button", "stays the same: The reading of dusk sensor")
	b.fill("Or say it, or paste what the console prints", "the wrong lamp lights")
	b.click("button", "Mark it")
	b.says("which one lights, and for which?")
	b.fill("Or say it, or paste what the console prints", "platform lamp left lights instead of platform lamp right")
	b.click("button", "Mark it")
	b.says("Platform lamp left is lit when D7 (platform lamp right) is high.")
	b.click("button", "The rest is right: find it")
	b.says("The program has D4 (platform lamp left) and D7 (platform lamp right) exchanged.")
	b.see("button", "Take back: Platform lamp left is lit when D7 (platform lamp right) is high.")
	b.click("button", "Correct what it does")
	b.click("button", "Not so: Platform lamp left is lit when D7 (platform lamp right) is high.")
	b.click("button", "The rest is right: find it")
	b.gone("button", "Take back: Platform lamp left is lit")
}

// Where nothing is seen, the meter tells; a wrong answer can be taken back.
func TestDiagnoseByMeasuring(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/diagnose")
	b.fill("Or say it, or paste what the console prints", "the moon is out; platform lamp left stays dark")
	b.click("button", "Mark it")
	b.says("1 marked. What is still in the field was not understood.")
	b.click("button", "The rest is right: find it")
	b.click("button", "Everything is as on the map")
	b.says("when that is well it reads")
	b.fill("It reads", "soup")
	b.says("is not a reading in V")
	b.fill("It reads", "4.9")
	b.gone("textbox", "soup")
	b.click("button", "Begin anew")
	b.says("What does it do that it should not?")
	// What makes no sense is told, and what was pointed at stays.
	b.click("button", "dark: sign lamp, switched on")
	b.fill("dimmer at A1, when dimmer is at one end, reads", "soup")
	b.click("button", "The rest is right: find it")
	b.says("is not what an analog input reads")
	b.until("the lamp is still pointed at", `() => [...document.querySelectorAll('[aria-pressed="true"]')].some((e) => e.ariaLabel.startsWith('dark: sign lamp, switched on'))`)
	b.fill("dimmer at A1, when dimmer is at one end, reads", "0")
	b.click("button", "The rest is right: find it")
	b.says("Look at sign lamp")
}

// The first lesson: the bench is asked, the fault named, and the sentence that it teaches told.
func TestDrill(t *testing.T) {
	b := open(t, "/")
	b.click("link", "Drill")
	b.click("button", "A firefly that stays dark")
	b.says("It does")
	b.click("button", "Look at firefly and the wires that belong to it")
	b.says("Firefly is the other way round.")
	b.choose("It is about", "firefly")
	b.choose("What is wrong", "Firefly is another one")
	b.click("button", "It is this")
	b.says("It is not that.")
	b.choose("What is wrong", "Firefly is the other way round.")
	b.click("button", "It is this")
	b.says("An LED lights one way round only")
	b.click("link", "Go on")
	b.says("Your record")
}
