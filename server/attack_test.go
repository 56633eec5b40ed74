package server_test

import (
	"math/rand/v2"
	"net/http"
	"net/url"
	"os"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/planning/plan"
	"cablaggio/server"
)

// nasty are texts that programs have stumbled over.
var nasty = []string{"", "0", "-1", "1e309", "NaN", "'; DROP TABLE builds; --", "../../etc/passwd", "%00", "\x00", "\xff\xfe", "😀", strings.Repeat("a", 1500),
	"<script>alert(1)</script>", "${jndi:ldap://x}", "null", "true", "{}", "[]", "{{7*7}}", "\r\nX-Injected: 1", "9223372036854775808", "led1", "board.GND"}

// hostile draws a value of JSON that nobody would send in earnest.
func hostile(r *rand.Rand, depth int) any {
	switch r.IntN(8) {
	case 0:
		return nil
	case 1:
		return r.IntN(2) == 0
	case 2:
		return []any{0, -1, 1e308, 0.1, 1 << 53}[r.IntN(5)]
	case 3, 4:
		return nasty[r.IntN(len(nasty))]
	case 5:
		if depth > 3 {
			return "deep"
		}
		list := make([]any, r.IntN(4))
		for i := range list {
			list[i] = hostile(r, depth+1)
		}
		return list
	}
	if depth > 3 {
		return 7
	}
	return object(r, depth, []string{"edits", "document", "op", "part", "title", "board", "items", "text", "parts", "nets", "format", "id", "kind", "values", "x"})
}

func object(r *rand.Rand, depth int, names []string) map[string]any {
	m := map[string]any{}
	for range r.IntN(4) {
		m[names[r.IntN(len(names))]] = hostile(r, depth+1)
	}
	return m
}

// Every route of the description takes whatever is sent to it and answers: as asked, or
// with a problem that is not the server's own. Afterwards nothing has been lost.
func TestEveryRouteStandsWhatIsSent(t *testing.T) {
	spec := description()
	v := edit(t, begin(t), led).view(t)
	requests := 250
	if testing.Short() {
		requests = 70
	}
	if os.Getenv("CABLAGGIO_WIDE") != "" {
		requests = 15_000
	}
	r := rand.New(rand.NewPCG(1, 2))
	var paths []string
	for path := range spec.Paths {
		paths = append(paths, path)
	}
	slices.Sort(paths)
	for n := range requests {
		path := paths[n%len(paths)]
		var methods []string
		for m := range spec.Paths[path] {
			methods = append(methods, m)
		}
		slices.Sort(methods)
		method := methods[r.IntN(len(methods))]
		at, query, headers := path, url.Values{}, []string{}
		for _, p := range spec.Paths[path][method].Parameters {
			value := nasty[r.IntN(len(nasty))]
			switch {
			case p.In == "path" && p.Name == "id" && r.IntN(2) == 0 && !strings.EqualFold(method, http.MethodDelete):
				at = strings.Replace(at, "{id}", v.ID, 1)
			case p.In == "path":
				at = strings.Replace(at, "{"+p.Name+"}", url.PathEscape(value), 1)
			case p.In == "query":
				query.Set(p.Name, value)
			case r.IntN(2) == 0 && !strings.ContainsFunc(value, func(c rune) bool { return c < ' ' || c > '~' }):
				headers = append(headers, p.Name, value)
			case p.Name == "If-Match":
				headers = append(headers, p.Name, v.Tag)
			}
		}
		var body any
		if !strings.EqualFold(method, http.MethodGet) {
			body = hostile(r, 0)
			if r.IntN(3) == 0 { // as asked for, but for what is inside
				body = map[string]any{"edits": []any{object(r, 1, []string{"op", "part", "value", "text", "pin", "signal", "kind", "terminal", "to"})}}
			}
		}
		got := call(t, strings.ToUpper(method), at+"?"+query.Encode(), body, headers...)
		assert.Less(t, got.StatusCode, 500, "%s %s %v: %s", method, at, body, got.body)
		if got.StatusCode >= 400 {
			got.problem(t)
		}
	}
	now := call(t, http.MethodGet, "/api/builds/"+v.ID, nil).view(t)
	old := read[server.RevisionDetail](t, call(t, http.MethodGet, "/api/builds/"+v.ID+"/revisions/2", nil))
	assert.Equal(t, v.Document, old.Document)
	edit(t, now, plan.Title{Name: "still here"}).view(t)
}
