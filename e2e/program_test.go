package e2e

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The program of a build is run on its wiring while it is typed; what does not fit has its
// line and its fix, on either side; and a starter fits from the beginning.
func TestProgram(t *testing.T) {
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop-mistakes"])
	b.click("link", "Program")
	b.says("The program drives D6, but sign lamp is on D7.")
	b.click("button", "Change line 3 to: const int signLamp = 7;")
	b.until("the line is put right", `() => document.querySelector('.cm-content').innerText.includes('signLamp = 7')`)
	b.until("it is not found any more", `() => !document.body.innerText.includes('The program drives D6')`)

	b.click("button", "Remove")
	b.click("button", "Write a starter from the wiring")
	b.until("a starter", `() => document.querySelector('.cm-content')?.innerText.includes('written from the wiring')`)
	b.click("button", "Undo")
	b.see("button", "Write a test program")

	b.visit("/builds/" + ids["tram-stop"] + "/program")
	b.says("It fits the wiring.")
	b.click("button", "line 21")
	b.press("digitalwrite(9, HIGH);")
	b.says("It does not compile.")
	b.click("button", "Write digitalWrite")
	b.says("It runs.")
	b.says("The program drives D9, where nothing is wired.")
	// A header beside it is a file of its own, and is kept with it.
	b.click("button", "+ file")
	b.fill("Name of the file", "Lamp Show.h")
	b.see("button", "Remove lamp-show.h")
	evaluate[bool](b, `() => { document.querySelector('.cm-content').focus(); return true; }`)
	b.press("const int spare = 9;")
	b.until("it is in the build", `() => fetch(location.pathname.replace('/builds', '/api/builds').replace('/program', '')).then((r) => r.json()).then((v) => v.document.program.files?.[0]?.text === 'const int spare = 9;')`)
	b.click("button", "program.cpp")
	b.until("the main file", `() => document.querySelector('.cm-content').innerText.includes('setup')`)
	// What was typed is kept without being told, and one step takes it back.
	b.until("it is kept", `() => !document.querySelector('button[aria-label="Undo"]')?.disabled`)
}

// Another language and a starter at once: what comes is the starter in that language, and stays.
func TestLanguageThenStarter(t *testing.T) {
	b := begin(t, "languages")
	b.choose("Board", "Slim 3.3 V board")
	b.addPart("LED")
	b.see("button", "red LED 1")
	b.click("link", "Program")
	b.click("button", "Write a starter from the wiring")
	b.until("a starter in C++", `() => document.querySelector('.cm-content')?.innerText.includes('void setup')`)
	b.choose("Language", "Python (machine)")
	b.click("button", "Starter")
	b.until("a starter in Python", `() => document.querySelector('.cm-content')?.innerText.includes('from machine import')`)
	kept := `() => fetch(location.pathname.replace('/builds', '/api/builds').replace('/program', '')).then((r) => r.json()).then((v) => v.document.program)`
	b.until("it is kept", kept+`.then((p) => p.language === 'python-machine' && p.text.includes('from machine import'))`)
	b.click("button", "Undo")
	b.until("what was before it is there, whole", kept+`.then((p) => !p.text.includes('from machine import'))`)
}

// Every character that can be typed gets into every place where text is written: the keys of
// the sheet are letters there.
func TestEveryCharacterCanBeTyped(t *testing.T) {
	printable := ""
	for c := '!'; c <= '~'; c++ {
		printable += string(c)
	}
	ids := demoBuilds(t)
	b := open(t, "/builds/"+ids["tram-stop"]+"/program")
	b.says("It fits the wiring.")
	for _, stage := range []string{"program", "bench", "", "log", "diagnose", "meter"} {
		b.visit("/builds/" + ids["tram-stop"] + "/" + stage)
		b.see("link", "Plan")
		fields := evaluate[int](b, `() => (window.writable = () => [...document.querySelectorAll('input[type=text], input:not([type]), input[type=search], textarea, .cm-content')].filter((f) => f.offsetParent && !f.readOnly && !f.disabled))().length`)
		if stage == "program" || stage == "" || stage == "log" {
			require.Positive(t, fields, stage)
		}
		for i := range fields {
			longest := evaluate[int](b, fmt.Sprintf(`() => window.writable()[%d].maxLength ?? -1`, i))
			want := printable
			if longest > 0 {
				want = want[:min(longest, len(want))]
			}
			got := ""
			for range 2 { // a page that is still coming may put another field in its place
				evaluate[bool](b, fmt.Sprintf(`() => { const f = window.writable()[%d]; f.focus(); if (f.select) f.select(); return true; }`, i))
				b.press(printable)
				got = evaluate[string](b, fmt.Sprintf(`() => { const f = window.writable()[%d]; return f.value ?? f.innerText; }`, i))
				if strings.Contains(got, want[len(want)-1:]) {
					break
				}
			}
			for _, c := range want {
				assert.Contains(t, got, string(c), "field %d of %q", i, stage)
			}
			assert.False(t, evaluate[bool](b, `() => document.querySelector('[role=dialog]') !== null`), "no dialog opens: field %d of %q", i, stage)
		}
	}
}
