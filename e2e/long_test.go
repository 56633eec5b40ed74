package e2e

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// Any field takes 10,000 letters without harm: it is cut, says how many it takes, and the page is
// never wider than the window.
func TestTenThousandLetters(t *testing.T) {
	ids := demoBuilds(t)
	tram := "/builds/" + ids["tram-stop"]
	b := open(t, "/")
	fields := 0
	for _, screen := range []struct{ path, role, name, open string }{
		{"/", "button", "New build", ""},
		{"/drawer", "button", "Put it in", ""},
		{"/boards", "button", "Describe another board", "Describe another board"},
		{"/drill", "textbox", "", ""},
		{tram, "button", "Add a part", ""},
		{tram, "button", "Add a part", "Add a part"},
		{tram, "button", "sign lamp", "sign lamp"},
		{tram + "/assemble", "button", "Done", ""},
		{tram + "/meter", "textbox", "It reads", ""},
		{tram + "/program", "textbox", "", ""},
		{tram + "/bench", "button", "Run", ""},
		{tram + "/diagnose", "textbox", "", ""},
		{tram + "/log", "textbox", "", ""},
	} {
		b.visit(screen.path)
		b.see(screen.role, screen.name)
		if screen.open != "" {
			b.click("button", screen.open)
		}
		for _, f := range evaluateAsync[[]struct {
			Name         string
			Most, Long   int
			Said         string
			Page, Window int
		}](b, `async (text) => {
			const out = [];
			const all = [...(document.querySelector('[role=dialog]') ?? document).querySelectorAll('input, textarea')].filter((e) => e.checkVisibility() && !e.disabled && !e.readOnly
				&& ['text', 'search', 'textarea'].includes(e.type));
			for (const e of all) {
				e.focus();
				e.select();
				document.execCommand('insertText', false, text);
				await new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done)));
				out.push({Name: e.getAttribute('aria-label') ?? e.labels?.[0]?.textContent ?? e.name, Most: e.maxLength, Long: e.value.length,
					Said: [...document.querySelectorAll('[role=status]')].map((s) => s.textContent).join(' '),
					Page: document.documentElement.scrollWidth, Window: innerWidth});
				document.execCommand('undo');
			}
			return out;
		}`, strings.Repeat("W", 10_000)) {
			fields++
			at := screen.path + " " + screen.open + ": " + f.Name
			assert.Positive(t, f.Most, "%s has no bound", at)
			assert.Equal(t, min(f.Most, 10_000), f.Long, at)
			assert.LessOrEqual(t, f.Page, f.Window, at)
			if f.Most <= 10_000 {
				assert.Contains(t, f.Said, "letters at most", at)
			}
		}
	}
	assert.Greater(t, fields, 20)
}
