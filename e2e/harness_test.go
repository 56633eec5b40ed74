// Package e2e drives the real interface in headless Chromium: the server as it
// ships, on a MariaDB of its own, found by roles and names as a screen reader
// finds it.
package e2e

import (
	"context"
	"encoding/json"
	"fmt"
	"log/slog"
	"net"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/server"
	"cablaggio/store"
	"cablaggio/store/mariadb"
	"cablaggio/web"
)

// Everything that the tests share; made once, because a browser and a database
// take a second each.
var shared struct {
	db      *mariadb.Server
	store   *store.Store
	url     string
	browser context.Context
}

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "cablaggio-e2e-")
	fatal(err)
	defer os.RemoveAll(dir)
	shared.db, err = mariadb.Start(ctx, dir, func(string) {})
	fatal(err)
	defer func() { _ = shared.db.Stop() }()
	fatal(store.Migrate(ctx, shared.db.AdminDSN()))
	shared.store, err = store.Open(shared.db.DSN(), shared.db.Dial)
	fatal(err)
	defer shared.store.Close()
	app, url := serve(shared.store)
	defer func() { _ = app.ShutdownWithTimeout(time.Second) }()
	shared.url = url

	options := append(chromedp.DefaultExecAllocatorOptions[:], chromedp.NoSandbox, chromedp.DisableGPU, chromedp.WindowSize(1280, 800),
		chromedp.Flag("disable-background-networking", true), chromedp.Flag("disable-component-update", true), chromedp.Flag("disable-sync", true),
		chromedp.Flag("lang", "en-GB"))
	alloc, cancel := chromedp.NewExecAllocator(ctx, options...)
	defer cancel()
	browser, cancel := chromedp.NewContext(alloc)
	defer cancel()
	fatal(chromedp.Do(browser))
	shared.browser = browser
	return m.Run()
}

func fatal(err error) {
	if err != nil {
		fmt.Fprintln(os.Stderr, "e2e:", err)
		os.Exit(1)
	}
}

func serve(st *store.Store) (*fiber.App, string) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	fatal(err)
	host := l.Addr().String()
	app := server.New(server.Config{Store: st, Library: build.Shipped(), Web: web.Dist(), Hosts: []string{host}, Log: slog.New(slog.DiscardHandler)})
	go func() { _ = app.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	return app, "http://" + host
}

// A tab is one page of the browser, with storage of its own.
type tab struct {
	t   *testing.T
	ctx context.Context
}

const (
	patience = time.Minute
	glance   = 30 * time.Millisecond // from one look at the page to the next: finding by names at each frame takes the page's own time
)

// open opens a path in a tab of its own, 1280 by 800.
func open(t *testing.T, path string) *tab {
	t.Helper()
	ctx, cancel := chromedp.NewContext(shared.browser, chromedp.WithNewBrowserContext())
	t.Cleanup(cancel)
	b := &tab{t, ctx}
	require.NoError(t, chromedp.Do(ctx))
	b.size(1280, 800)
	b.visit(path)
	return b
}

func (b *tab) size(width, height int64) {
	b.t.Helper()
	_, err := chromedp.Call(b.ctx, emulation.SetDeviceMetricsOverride, emulation.SetDeviceMetricsOverrideParams{Width: width, Height: height, DeviceScaleFactor: 1})
	require.NoError(b.t, err)
}

func (b *tab) visit(path string) {
	b.t.Helper()
	require.NoError(b.t, chromedp.Do(b.ctx, chromedp.Navigate(shared.url+path)))
}

// find is JavaScript that finds the visible elements of a role whose
// accessible name, as the browser's own rules give it, contains a text.
const find = `(role, name, exact) => {
  const native = {button: 'button,summary', link: 'a[href]', textbox: 'input:not([type=file]):not([type=checkbox]),textarea', combobox: 'select', heading: 'h1,h2,h3', list: 'ul', listitem: 'li', alert: null, img: 'svg[role=img]', row: 'tr', region: 'section'};
  const selector = ['[role="' + role + '"]', native[role]].filter(Boolean).join(',');
  const label = (e) => {
    if (e.getAttribute('aria-label')) return e.getAttribute('aria-label');
    const by = e.getAttribute('aria-labelledby');
    if (by) return by.split(' ').map((id) => document.getElementById(id)?.textContent ?? '').join(' ');
    if (e.labels?.length) return [...e.labels].map((l) => l.firstElementChild?.textContent ?? l.textContent).join(' ');
    return e.innerText ?? e.textContent;
  };
  return [...document.querySelectorAll(selector)].filter((e) => {
    if (e.checkVisibility && !e.checkVisibility()) return false;
    const said = label(e).replace(/\s+/g, ' ').trim();
    return exact ? said === name : said.includes(name);
  });
}`

// evaluate runs JavaScript in the page.
func evaluate[T any](b *tab, script string, args ...any) T {
	b.t.Helper()
	v, err := chromedp.Run(b.ctx, chromedp.Evaluate[T](b.call(script, args)))
	require.NoError(b.t, err)
	return v
}

// evaluateAsync runs JavaScript that returns a promise, and waits for it.
func evaluateAsync[T any](b *tab, script string, args ...any) T {
	b.t.Helper()
	v, err := chromedp.Run(b.ctx, chromedp.Evaluate[T](b.call(script, args), chromedp.EvalAwaitPromise))
	require.NoError(b.t, err)
	return v
}

// call writes a call of a function with its arguments.
func (b *tab) call(script string, args []any) string {
	b.t.Helper()
	quoted := make([]string, len(args))
	for i, a := range args {
		data, err := json.Marshal(a)
		require.NoError(b.t, err)
		quoted[i] = string(data)
	}
	return fmt.Sprintf("(%s)(%s)", script, strings.Join(quoted, ","))
}

// until waits for a JavaScript condition.
func (b *tab) until(what, script string, args ...any) {
	b.t.Helper()
	poll := chromedp.Poll[bool](b.call(script, args), chromedp.WithPollingInterval(glance), chromedp.WithPollingTimeout(patience))
	_, err := chromedp.Run(b.ctx, poll)
	if err != nil && strings.Contains(err.Error(), "Cannot find context") { // the page was just left
		_, err = chromedp.Run(b.ctx, poll)
	}
	if err != nil {
		b.t.Fatalf("waited in vain for %s: %v\n%s", what, err, evaluate[string](b, `() => document.body.innerText`))
	}
}

// see waits until an element of the role and name is there.
func (b *tab) see(role, name string) {
	b.t.Helper()
	b.until(role+" "+name, `(role, name) => (`+find+`)(role, name, false).length > 0`, role, name)
}

// gone waits until no element of the role and name is there.
func (b *tab) gone(role, name string) {
	b.t.Helper()
	b.until("no "+role+" "+name, `(role, name) => (`+find+`)(role, name, false).length === 0`, role, name)
}

// says waits until the page's text contains the words.
func (b *tab) says(words string) {
	b.t.Helper()
	b.until("the words "+words, `(words) => document.body.innerText.replace(/\s+/g, ' ').includes(words)`, words)
}

// mark finds the element and gives it a mark that chromedp can select.
func (b *tab) mark(role, name string) string {
	b.t.Helper()
	b.see(role, name)
	evaluate[bool](b, `(role, name) => {
		document.querySelectorAll('[data-e2e]').forEach((e) => e.removeAttribute('data-e2e'));
		const all = (`+find+`)(role, name, true);
		const e = (all.length ? all : (`+find+`)(role, name, false))[0];
		e.setAttribute('data-e2e', '');
		e.scrollIntoView({block: 'nearest'});
		return true;
	}`, role, name)
	return "[data-e2e]"
}

// click presses the first element of the role and name with the mouse.
func (b *tab) click(role, name string) {
	b.t.Helper()
	for range 2 {
		b.bounded(func(ctx context.Context) error {
			at := chromedp.CSS(b.mark(role, name))
			evaluate[bool](b, `() => {
				const e = document.querySelector('[data-e2e]');
				window.hit = 'no';
				if (e) e.addEventListener('click', () => { window.hit = 'yes'; }, {once: true, capture: true});
				return true;
			}`)
			return chromedp.Do(ctx, chromedp.Click(at))
		}, role+" "+name)
		// What moves away under the mouse, or is drawn anew, as an answer comes in, is clicked again.
		if !evaluate[bool](b, `() => window.hit === 'no'`) {
			return
		}
	}
}

// bounded does what waits for an element: one that is drawn anew between being
// found and being clicked would be waited for without end.
func (b *tab) bounded(do func(ctx context.Context) error, what string) {
	b.t.Helper()
	var err error
	for range 2 {
		ctx, cancel := context.WithTimeout(b.ctx, patience)
		err = do(ctx)
		cancel()
		if err == nil {
			return
		}
	}
	require.NoError(b.t, err, what)
}

// fill replaces what is in a field and presses Enter.
func (b *tab) fill(name, text string) {
	b.t.Helper()
	b.bounded(func(ctx context.Context) error {
		return chromedp.Do(ctx, chromedp.Focus(chromedp.CSS(b.mark("textbox", name))))
	}, name)
	evaluate[bool](b, `() => { document.querySelector('[data-e2e]').select(); return true; }`)
	require.NoError(b.t, chromedp.Do(b.ctx, chromedp.KeyEvent(text+"\r")))
}

// choose picks the option of a select whose text contains the words.
func (b *tab) choose(name, option string) {
	b.t.Helper()
	b.mark("combobox", name)
	evaluate[bool](b, `(option) => {
		const select = document.querySelector('[data-e2e]');
		const found = [...select.options].find((o) => o.text.includes(option));
		if (!found) throw new Error('no option ' + option + ' among ' + [...select.options].map((o) => o.text).join(' | '));
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, 'value').set.call(select, found.value);
		select.dispatchEvent(new Event('change', {bubbles: true}));
		return true;
	}`, option)
}

// press sends keys to whatever has the focus.
func (b *tab) press(keys string, options ...chromedp.KeyOption) {
	b.t.Helper()
	require.NoError(b.t, chromedp.Do(b.ctx, chromedp.KeyEvent(keys, options...)))
}

// shut closes the dialog that is open with Escape: again where it did not listen yet.
func (b *tab) shut() {
	b.t.Helper()
	for range 3 {
		b.press("\x1b")
		closed := b.call(`() => (`+find+`)('dialog', '', false).length === 0`, nil)
		if _, err := chromedp.Run(b.ctx, chromedp.Poll[bool](closed, chromedp.WithPollingTimeout(time.Second))); err == nil {
			return
		}
	}
	b.gone("dialog", "")
}

// shot takes a picture of what is in view, with nothing on its way: a bar in motion would
// contradict the number beside it.
func (b *tab) shot(file string) {
	b.t.Helper()
	b.until("nothing moves", `() => document.getAnimations().every(a => a.playState !== 'running')`)
	data, err := chromedp.Call(b.ctx, page.CaptureScreenshot, page.CaptureScreenshotParams{})
	require.NoError(b.t, err)
	require.NoError(b.t, os.WriteFile(file, data.Data, 0o600))
}
