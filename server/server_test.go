package server_test

import (
	"bufio"
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net"
	"net/http"
	"os"
	"runtime"
	"slices"
	"strings"
	"sync"
	"testing"
	"testing/fstest"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/demo"
	"cablaggio/server"
	"cablaggio/store"
	"cablaggio/store/mariadb"
)

var (
	db   *mariadb.Server
	base string // the address of the server under test
)

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	ctx := context.Background()
	dir, err := os.MkdirTemp("", "cablaggio-server-")
	if err == nil {
		defer os.RemoveAll(dir)
		db, err = mariadb.Start(ctx, dir, func(string) {})
	}
	if err == nil {
		err = store.Migrate(ctx, db.AdminDSN())
	}
	var st *store.Store
	if err == nil {
		st, err = store.Open(db.DSN(), db.Dial)
	}
	var l net.Listener
	if err == nil {
		l, err = net.Listen("tcp", "127.0.0.1:0")
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer func() { _ = db.Stop() }()
	web := fstest.MapFS{
		"index.html":       {Data: []byte(`<meta nonce="__NONCE__">`)},
		"assets/app-1.js":  {Data: []byte("1")},
		"assets/font.woff": {Data: []byte("f")},
	}
	app := server.New(server.Config{Store: st, Library: build.Shipped(), Web: web, Hosts: []string{l.Addr().String()}, Log: slog.New(slog.DiscardHandler)})
	go func() { _ = app.Listener(l, fiber.ListenConfig{DisableStartupMessage: true}) }()
	base = "http://" + l.Addr().String()
	return m.Run()
}

// A reply is an answer with its body read.
type reply struct {
	*http.Response
	body []byte
}

func (r reply) view(t testing.TB) server.BuildView {
	t.Helper()
	require.Less(t, r.StatusCode, 300, "%s", r.body)
	var v server.BuildView
	require.NoError(t, json.Unmarshal(r.body, &v))
	return v
}

func (r reply) problem(t testing.TB) server.Problem {
	t.Helper()
	require.Equal(t, "application/problem+json", r.Header.Get("Content-Type"), "%s", r.body)
	var p server.Problem
	require.NoError(t, json.Unmarshal(r.body, &p))
	require.Equal(t, r.StatusCode, p.Status)
	require.NotEmpty(t, p.Title)
	return p
}

// call makes a request; headers come in pairs.
func call(t testing.TB, method, path string, body any, headers ...string) reply {
	t.Helper()
	var data []byte
	switch b := body.(type) {
	case nil:
	case string:
		data = []byte(b)
	default:
		var err error
		data, err = json.Marshal(b)
		require.NoError(t, err)
	}
	req, err := http.NewRequestWithContext(context.Background(), method, base+path, bytes.NewReader(data))
	require.NoError(t, err)
	if data != nil {
		req.Header.Set("Content-Type", "application/json")
	}
	for i := 0; i < len(headers); i += 2 {
		if headers[i] == "Host" {
			req.Host = headers[i+1]
		}
		req.Header.Set(headers[i], headers[i+1])
	}
	resp, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer resp.Body.Close()
	got, err := io.ReadAll(resp.Body)
	require.NoError(t, err)
	asDescribed(t, method, path, resp, got)
	return reply{resp, got}
}

func begin(t testing.TB) server.BuildView {
	t.Helper()
	r := call(t, "POST", "/api/builds", server.NewBuild{Title: "test", Board: "classic-5v"})
	require.Equal(t, http.StatusCreated, r.StatusCode, "%s", r.body)
	return r.view(t)
}

func edit(t testing.TB, v server.BuildView, edits ...plan.Edit) reply {
	t.Helper()
	return call(t, "POST", "/api/builds/"+v.ID+"/edits", server.Edits{Edits: edits}, "If-Match", `"`+v.Tag+`"`)
}

var led = plan.Add{Kind: "led", Type: "red"}

func TestAnEditComesBackWithItsAnalysis(t *testing.T) {
	v := begin(t)
	r := edit(t, v, led, plan.Hookup{Part: "led1", Hookup: "no-resistor"})
	v = r.view(t)
	assert.Equal(t, `W/"`+v.Tag+`"`, r.Header.Get("ETag"))
	assert.Positive(t, v.Analysis.Counts.Stop)
	assert.Contains(t, v.Undo, "added red LED 1")
	v = edit(t, v, v.Analysis.Findings[0].Fixes[0].Edits...).view(t)
	assert.Zero(t, v.Analysis.Counts.Stop)
	v = call(t, "POST", "/api/builds/"+v.ID+"/undo", nil, "If-Match", v.Tag).view(t)
	assert.Positive(t, v.Analysis.Counts.Stop)
	v = call(t, "POST", "/api/builds/"+v.ID+"/redo", nil, "If-Match", v.Tag).view(t)
	assert.Zero(t, v.Analysis.Counts.Stop)
	assert.Contains(t, string(call(t, "GET", "/api/builds", nil).body), v.ID)
}

func TestTheLaterOneIsToldAndShownTheDifference(t *testing.T) {
	v := begin(t)
	edit(t, v, led).view(t)
	r := edit(t, v, plan.Title{Name: "mine"})
	p := r.problem(t)
	assert.Equal(t, http.StatusPreconditionFailed, p.Status)
	assert.Contains(t, p.Changes, "red LED 1 is new")
	require.NotNil(t, p.Current)
	again := edit(t, *p.Current, plan.Title{Name: "mine"}).view(t)
	assert.Equal(t, "mine", again.Title)
	assert.NotNil(t, again.Document.Part("led1"), "nobody's change is lost")
}

func TestTwoEditsAtOnce(t *testing.T) {
	v := begin(t)
	var wg sync.WaitGroup
	status := make([]int, 8)
	for i := range status {
		wg.Go(func() { status[i] = edit(t, v, led).StatusCode })
	}
	wg.Wait()
	won := 0
	for _, s := range status {
		if s == http.StatusOK {
			won++
		} else {
			assert.Equal(t, http.StatusPreconditionFailed, s)
		}
	}
	assert.Equal(t, 1, won)
}

func TestARepeatedRequestIsMadeOnce(t *testing.T) {
	v := begin(t)
	send := func() server.BuildView {
		return call(t, "POST", "/api/builds/"+v.ID+"/edits", server.Edits{Edits: []plan.Edit{led}}, "If-Match", v.Tag, "Idempotency-Key", "k-1").view(t)
	}
	first, second := send(), send()
	assert.Equal(t, first.Tag, second.Tag)
	assert.Len(t, second.Document.Parts, 2)

	// What comes back is the state that is kept, also when others went on, and a key is
	// not used for another edit.
	edit(t, second, plan.Title{Name: "went on"}).view(t)
	third := send()
	assert.Equal(t, "went on", third.Title)
	assert.Equal(t, "went on", third.Document.Title)
	other := call(t, "POST", "/api/builds/"+v.ID+"/edits", server.Edits{Edits: []plan.Edit{plan.Title{Name: "x"}}}, "If-Match", v.Tag, "Idempotency-Key", "k-1")
	assert.Contains(t, other.problem(t).Title, "was used for another request")

	// Nor are builds made or copied twice.
	for _, path := range []string{"/api/builds", "/api/builds/" + v.ID + "/duplicate"} {
		one := call(t, "POST", path, server.NewBuild{Title: "once", Board: "classic-5v"}, "Idempotency-Key", "make-"+path).view(t)
		two := call(t, "POST", path, server.NewBuild{Title: "once", Board: "classic-5v"}, "Idempotency-Key", "make-"+path).view(t)
		assert.Equal(t, one.ID, two.ID)
	}
}

// Every build and every state can be reached, and what was deleted.
func TestPagesOfBuildsAndStates(t *testing.T) {
	v := begin(t)
	v = edit(t, v, plan.Title{Name: "Kestrel box"}).view(t)
	list := read[server.BuildList](t, call(t, "GET", "/api/builds?search=kestrel", nil))
	require.Len(t, list.Builds, 1)
	assert.False(t, list.More)
	assert.Empty(t, read[server.BuildList](t, call(t, "GET", "/api/builds?search=kestrel&skip=1", nil)).Builds)
	older := read[server.RevisionList](t, call(t, "GET", "/api/builds/"+v.ID+"/revisions?before=2", nil))
	require.Len(t, older.Revisions, 1)
	assert.Equal(t, 1, older.Revisions[0].N)
	call(t, "DELETE", "/api/builds/"+v.ID, nil)
	assert.Empty(t, read[server.BuildList](t, call(t, "GET", "/api/builds?search=kestrel", nil)).Builds)
	assert.Len(t, read[server.BuildList](t, call(t, "GET", "/api/builds?search=kestrel&bin=true", nil)).Builds, 1)
	for _, wrong := range []string{"/api/builds?skip=-1", "/api/builds?skip=x", "/api/builds/" + v.ID + "/revisions?before=9999999999", "/api/builds?search=" + strings.Repeat("x", 1000)} {
		assert.Equal(t, 400, call(t, "GET", wrong, nil).problem(t).Status, wrong)
	}
}

// raw sends bytes as they are and returns the first line of the answer.
func raw(t *testing.T, request string) string {
	t.Helper()
	conn, err := net.Dial("tcp", strings.TrimPrefix(base, "http://"))
	require.NoError(t, err)
	defer conn.Close()
	require.NoError(t, conn.SetDeadline(time.Now().Add(time.Minute)))
	_, err = io.WriteString(conn, strings.ReplaceAll(request, "\n", "\r\n"))
	require.NoError(t, err)
	line, err := bufio.NewReader(conn).ReadString('\n')
	require.NoError(t, err)
	return strings.TrimSpace(line)
}

func TestOneHostAndNobodyAtIt(t *testing.T) {
	host := strings.TrimPrefix(base, "http://")
	assert.Contains(t, raw(t, "GET /api/health HTTP/1.1\nHost: "+host+"\n\n"), "200")
	for name, lines := range map[string]string{
		"two":              "Host: " + host + "\nHost: " + host,
		"a strange second": "Host: " + host + "\nHost: evil.example",
		"a strange first":  "Host: evil.example\nhost: " + host,
		"somebody at it":   "Host: evil@" + host,
		"a password":       "Host: a:b@" + host,
		"none":             "X: y",
		"an empty one":     "Host:",
	} {
		assert.NotContains(t, raw(t, "GET /api/health HTTP/1.1\n"+lines+"\n\n"), "200", name)
	}
	assert.NotContains(t, raw(t, "GET http://evil.example/api/health HTTP/1.1\nHost: "+host+"\n\n"), "200", "another host in the address")
}

// Bodies that are announced and do not come take no room, and others are served.
func TestAnnouncedBodies(t *testing.T) {
	host := strings.TrimPrefix(base, "http://")
	var before, after runtime.MemStats
	runtime.GC()
	runtime.ReadMemStats(&before)
	for range 300 {
		conn, err := net.Dial("tcp", host)
		require.NoError(t, err)
		defer conn.Close()
		_, err = fmt.Fprintf(conn, "POST /api/builds HTTP/1.1\r\nHost: %s\r\nContent-Type: application/json\r\nContent-Length: 1000000\r\n\r\n%s", host, strings.Repeat(" ", 9000))
		require.NoError(t, err)
	}
	begin(t)
	runtime.ReadMemStats(&after)
	assert.Less(t, int64(after.HeapAlloc)-int64(before.HeapAlloc), int64(50<<20))
}

func TestBadInput(t *testing.T) {
	v := begin(t)
	edits := "/api/builds/" + v.ID + "/edits"
	deep := strings.Repeat("[", 10000) + strings.Repeat("]", 10000)
	for name, c := range map[string]struct {
		r      reply
		status int
		says   string
	}{
		"not JSON":        {call(t, "POST", edits, "{", "If-Match", v.Tag), 422, "not"},
		"not our JSON":    {call(t, "POST", edits, `{"edicts":[]}`, "If-Match", v.Tag), 422, "no field"},
		"a form":          {call(t, "POST", edits, "a=b", "If-Match", v.Tag, "Content-Type", "application/x-www-form-urlencoded"), 415, "not JSON"},
		"no tag":          {call(t, "POST", edits, server.Edits{Edits: []plan.Edit{led}}), 428, "which state"},
		"a wrong tag":     {call(t, "POST", edits, server.Edits{Edits: []plan.Edit{led}}, "If-Match", "yesterday"), 400, "not a tag"},
		"no edits":        {edit(t, v), 422, "one step has 1 to 100"},
		"unknown part":    {edit(t, v, plan.Remove{Part: "ghost"}), 422, `no part`},
		"unknown board":   {call(t, "POST", "/api/builds", server.NewBuild{Title: "x", Board: "toaster"}), 422, "the boards are"},
		"no title":        {call(t, "POST", "/api/builds", server.NewBuild{Title: "  ", Board: "classic-5v"}), 422, "give it a name"},
		"nested deep":     {call(t, "POST", "/api/builds", `{"document":{"nets":`+deep+`}}`), 422, "nested more than"},
		"unknown address": {call(t, "GET", "/api/nothing", nil), 404, "nothing at this address"},
		"unknown build":   {call(t, "GET", "/api/builds/nobody", nil), 404, "no such build"},
		"key too long":    {call(t, "POST", edits, server.Edits{Edits: []plan.Edit{led}}, "If-Match", v.Tag, "Idempotency-Key", strings.Repeat("k", 65)), 400, "at most 64"},
		"nothing to undo": {call(t, "POST", "/api/builds/"+v.ID+"/undo", nil, "If-Match", v.Tag), 409, "Nothing to undo"},
	} {
		p := c.r.problem(t)
		assert.Equal(t, c.status, p.Status, name)
		assert.Contains(t, strings.ToLower(p.Title+" "+p.Detail), strings.ToLower(c.says), name)
	}
	assert.Equal(t, v.Tag, call(t, "GET", "/api/builds/"+v.ID, nil).view(t).Tag, "nothing has changed")
}

func TestFiftyMegabytes(t *testing.T) {
	req, err := http.NewRequestWithContext(t.Context(), http.MethodPost, base+"/api/builds", io.LimitReader(zeros{}, 50<<20))
	require.NoError(t, err)
	req.ContentLength = 50 << 20
	req.Header.Set("Content-Type", "application/json")
	resp, err := http.DefaultClient.Do(req)
	if err == nil { // the server may answer before it hangs up, or hang up first
		defer resp.Body.Close()
		assert.Equal(t, http.StatusRequestEntityTooLarge, resp.StatusCode)
	}
	begin(t) // and it goes on
}

type zeros struct{}

func (zeros) Read(p []byte) (int, error) { return len(p), nil }

func TestDeletedBuilds(t *testing.T) {
	v := begin(t)
	require.Equal(t, http.StatusNoContent, call(t, "DELETE", "/api/builds/"+v.ID, nil).StatusCode)
	p := edit(t, v, led).problem(t)
	assert.Equal(t, http.StatusGone, p.Status)
	assert.Contains(t, p.Detail, "restore")
	call(t, "POST", "/api/builds/"+v.ID+"/restore", nil).view(t)
	edit(t, v, led).view(t)
}

func TestFilesGoOutAndIn(t *testing.T) {
	v := edit(t, begin(t), led, plan.Title{Name: "Tram <b>stop</b> №1"}).view(t)
	r := call(t, "GET", "/api/builds/"+v.ID+"/files/document", nil)
	assert.Contains(t, r.Header.Get("Content-Disposition"), `tram--b-stop--b-`)
	for format, want := range map[string]struct{ mime, says string }{
		"analysis":  {"application/json", `"findings": [`},
		"parts.csv": {"text/csv", "1,red LED,"},
		"pins.csv":  {"text/csv", "D4,red LED 1,drive,digital out,sources 7.84"},
		"netlist":   {"text/plain", ".options temp=27"},
	} {
		r := call(t, "GET", "/api/builds/"+v.ID+"/files/"+format, nil)
		assert.Contains(t, r.Header.Get("Content-Type"), want.mime, format)
		assert.Contains(t, string(r.body), want.says, format)
	}
	netlist := "/api/builds/" + v.ID + "/files/netlist?"
	assert.Contains(t, string(call(t, "GET", netlist+"set=D4%3Dhigh&corner=low", nil).body), " is high")
	assert.Contains(t, call(t, "GET", netlist+"set=D4%3Dpurple", nil).problem(t).Title, "D4=high")
	assert.Contains(t, call(t, "GET", netlist+"corner=round", nil).problem(t).Title, "low, typical or high")
	assert.Equal(t, http.StatusNotFound, call(t, "GET", "/api/builds/"+v.ID+"/files/picture", nil).problem(t).Status)
	in := call(t, "POST", "/api/builds", `{"document":`+string(r.body)+`}`).view(t)
	assert.Equal(t, v.Document, in.Document)
	twin := call(t, "POST", "/api/builds/"+v.ID+"/duplicate", nil).view(t)
	assert.Equal(t, "Copy of "+v.Title, twin.Title)
}

func TestChoices(t *testing.T) {
	v := edit(t, begin(t), led).view(t)
	r := call(t, "GET", "/api/builds/"+v.ID+"/resistors/led1-resistor", nil)
	assert.Contains(t, string(r.body), `"best":true`)
	r = call(t, "GET", "/api/builds/"+v.ID+"/pins/led1/drive", nil)
	assert.Contains(t, string(r.body), `"here":{"pin":"D4"`)
	assert.Contains(t, string(r.body), `{"pin":"D7","price":0,`)
	call(t, "GET", "/api/builds/"+v.ID+"/pins/led1/taste", nil).problem(t)
	call(t, "GET", "/api/builds/"+v.ID+"/resistors/led1", nil).problem(t)
}

func TestPhrase(t *testing.T) {
	r := call(t, "GET", "/api/phrase?text=2+red+leds,+a+jet", nil)
	assert.JSONEq(t, `{"understood":["2 red LEDs"],"complete":[],"left":[{"text":"a jet","why":"this is no part that is known here; the list of parts has all of them"}],"edits":[{"op":"add","kind":"led","type":"red"},{"op":"add","kind":"led","type":"red"}]}`, string(r.body))
}

func TestOnlyTheBuildersOwnBrowser(t *testing.T) {
	assert.Equal(t, http.StatusMisdirectedRequest, call(t, "GET", "/api/builds", nil, "Host", "evil.example").problem(t).Status)
	assert.Equal(t, http.StatusForbidden, call(t, "POST", "/api/builds", server.NewBuild{Title: "x"}, "Origin", "http://evil.example").problem(t).Status)
	assert.Equal(t, http.StatusForbidden, call(t, "POST", "/api/builds", server.NewBuild{Title: "x"}, "Sec-Fetch-Site", "cross-site").problem(t).Status)
	call(t, "POST", "/api/builds", server.NewBuild{Title: "x"}, "Origin", base).view(t)
}

func TestPages(t *testing.T) {
	page := call(t, "GET", "/builds/anything", nil)
	csp := page.Header.Get("Content-Security-Policy")
	assert.Contains(t, csp, "default-src 'none'; script-src 'self'")
	_, nonce, _ := strings.Cut(string(page.body), `nonce="`)
	nonce, _, _ = strings.Cut(nonce, `"`)
	assert.Contains(t, csp, "'nonce-"+nonce+"'")
	assert.NotEqual(t, string(page.body), string(call(t, "GET", "/", nil).body), "each page has a nonce of its own")
	asset := call(t, "GET", "/assets/app-1.js", nil)
	assert.Contains(t, asset.Header.Get("Cache-Control"), "immutable")
	assert.Equal(t, "nosniff", asset.Header.Get("X-Content-Type-Options"))
	assert.Equal(t, http.StatusNotFound, call(t, "GET", "/assets/../../server.go", nil).StatusCode)
	assert.Equal(t, http.StatusNotFound, call(t, "GET", "/assets/none.js", nil).problem(t).Status)
}

func TestTheDatabaseAwayAndBack(t *testing.T) {
	v := begin(t)
	require.NoError(t, db.Kill())
	began := time.Now()
	r := edit(t, v, led)
	p := r.problem(t)
	assert.Equal(t, http.StatusServiceUnavailable, p.Status)
	assert.Equal(t, "1", r.Header.Get("Retry-After"))
	assert.Less(t, time.Since(began), 2*time.Second, "it is said at once")
	assert.Equal(t, http.StatusServiceUnavailable, call(t, "GET", "/api/health", nil).StatusCode)
	require.NoError(t, db.Restart(t.Context()))
	edit(t, v, led).view(t)
}

// One edit through HTTP and MariaDB beside a bare commit of the same bytes.
func BenchmarkEdit(b *testing.B) {
	v := begin(b)
	v = edit(b, v, led).view(b)
	doc, err := json.Marshal(v.Document)
	require.NoError(b, err)
	st, err := store.Open(db.DSN(), db.Dial)
	require.NoError(b, err)
	defer st.Close()
	bare, err := st.Create(b.Context(), store.Draft{Title: "bare", Board: "b", Document: doc})
	require.NoError(b, err)
	var edits, commits time.Duration
	n := 0
	for b.Loop() {
		n++
		began := time.Now()
		v = edit(b, v, plan.Name{Part: "led1", Name: fmt.Sprintf("lamp %d", n)}).view(b)
		edits += time.Since(began)
		began = time.Now()
		if bare, err = st.Save(b.Context(), bare.ID, bare.Tag, store.Draft{Title: "bare", Board: "b", Document: doc}); err != nil {
			b.Fatal(err)
		}
		commits += time.Since(began)
	}
	b.ReportMetric(edits.Seconds()/commits.Seconds(), "edit/commit")
}

// Many at once, each at a build of its own: so many edits through HTTP and MariaDB beside as many bare
// commits of the same bytes, and how much longer the slowest in twenty takes than half of them.
func BenchmarkLoad(b *testing.B) {
	st, err := store.Open(db.DSN(), db.Dial)
	require.NoError(b, err)
	defer st.Close()
	for _, clients := range []int{50, 200} {
		b.Run(fmt.Sprint(clients, " clients"), func(b *testing.B) {
			const each = 10
			views := make([]server.BuildView, clients)
			bare := make([]*store.Build, clients)
			for i := range views {
				views[i] = edit(b, begin(b), led).view(b)
			}
			doc, err := json.Marshal(views[0].Document)
			require.NoError(b, err)
			draft := store.Draft{Title: "bare", Board: "b", Document: doc}
			for i := range bare {
				bare[i], err = st.Create(b.Context(), draft)
				require.NoError(b, err)
			}
			var took []time.Duration
			var mu sync.Mutex
			all := func(do func(client, turn int)) time.Duration {
				began := time.Now()
				var wait sync.WaitGroup
				for i := range clients {
					wait.Go(func() {
						for k := range each {
							do(i, k)
						}
					})
				}
				wait.Wait()
				return time.Since(began)
			}
			var edits, commits time.Duration
			for b.Loop() {
				edits += all(func(i, k int) {
					at := time.Now()
					views[i] = edit(b, views[i], plan.Name{Part: "led1", Name: fmt.Sprintf("lamp %d", k)}).view(b)
					mu.Lock()
					took = append(took, time.Since(at))
					mu.Unlock()
				})
				commits += all(func(i, _ int) {
					next, err := st.Save(b.Context(), bare[i].ID, bare[i].Tag, draft)
					if err != nil {
						b.Error(err)
						return
					}
					bare[i] = next
				})
			}
			slices.Sort(took)
			b.ReportMetric(edits.Seconds()/commits.Seconds(), "edit/commit")
			b.ReportMetric(took[len(took)*19/20].Seconds()/took[len(took)/2].Seconds(), "slowest/median")
		})
	}
}

// The schema of an analysis says what the check writes.
func TestTheAnalysisKeepsItsSchema(t *testing.T) {
	if testing.Short() {
		t.Skip("it has nothing side by side")
	}
	schema := compiled(t, "analysis")
	for _, d := range demo.Builds() {
		lib := build.Shipped()
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		a, err := check.Check(lib, doc)
		require.NoError(t, err)
		text, err := json.Marshal(a)
		require.NoError(t, err)
		v, err := jsonschema.UnmarshalJSON(bytes.NewReader(text))
		require.NoError(t, err)
		require.NoError(t, schema.Validate(v), d.Name)
	}
}

// compiled is the schema of a format, ready to validate.
func compiled(t *testing.T, name string) *jsonschema.Schema {
	t.Helper()
	data, err := server.Formats[name].Schema()
	require.NoError(t, err)
	doc, err := jsonschema.UnmarshalJSON(bytes.NewReader(data))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource(name, doc))
	schema, err := c.Compile(name)
	require.NoError(t, err)
	return schema
}

// The schema of a recording says what a run is.
func TestTheRecordingKeepsItsSchema(t *testing.T) {
	v := edit(t, begin(t), led, plan.Add{Kind: "button"}).view(t)
	run := call(t, http.MethodPost, "/api/builds/"+v.ID+"/run", server.Running{Seconds: 1, Seed: 3, Actions: []bench.Action{{At: 0.5, Do: bench.Press, Of: "button1"}}})
	require.Equal(t, http.StatusOK, run.StatusCode, "%s", run.body)
	text, err := jsonschema.UnmarshalJSON(bytes.NewReader(run.body))
	require.NoError(t, err)
	require.NoError(t, compiled(t, "recording").Validate(text))
}

// What is large goes out small to who takes it so, and its tag names the same state.
func TestLargeAnswersAreCompressed(t *testing.T) {
	id := begin(t).ID
	for _, path := range []string{"/api/library", "/api/builds/" + id} {
		plain := call(t, http.MethodGet, path, nil)
		small := call(t, http.MethodGet, path, nil, "Accept-Encoding", "gzip")
		assert.Equal(t, "gzip", small.Header.Get("Content-Encoding"), path)
		assert.Empty(t, plain.Header.Get("Content-Encoding"), path)
		assert.Equal(t, plain.Header.Get("ETag"), small.Header.Get("ETag"), path)
		assert.Less(t, len(small.body), len(plain.body), path)
	}
	tag := call(t, http.MethodGet, "/api/builds/"+id, nil).Header.Get("ETag")
	taken := call(t, http.MethodPost, "/api/builds/"+id+"/edits", server.Edits{Edits: []plan.Edit{led}}, "If-Match", tag)
	assert.Equal(t, http.StatusOK, taken.StatusCode, "as it came")
}
