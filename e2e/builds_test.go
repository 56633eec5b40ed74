package e2e

import "testing"

// What was deleted stands in the bin, and comes back from there.
func TestTheBin(t *testing.T) {
	demoBuilds(t)
	b := open(t, "/")
	b.click("button", "More for Quiz table, with mistakes")
	b.click("menuitem", "Delete")
	b.says("is deleted")
	b.click("button", "Deleted ones")
	b.fill("Find", "with mistakes")
	b.click("button", "Put Quiz table, with mistakes back")
	b.until("nothing is said of it any more", `() => !document.body.innerText.includes('is deleted')`)
	b.click("button", "Back to the builds")
	b.see("link", "Quiz table, with mistakes")
}
