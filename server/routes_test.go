package server_test

import (
	"encoding/json"
	"maps"
	"net/http"
	"net/url"
	"slices"
	"strconv"
	"strings"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/server"
)

// A described operation is what the description says of a method at a path.
type described struct {
	Parameters []struct{ Name, In string }
	Responses  map[string]answer
}

type answer struct {
	Ref     string `json:"$ref"`
	Content map[string]any
}

// description is what the server says of itself, by path and method.
var description = sync.OnceValue(func() (spec struct {
	Paths      map[string]map[string]described
	Components struct{ Responses map[string]answer }
}) {
	data, err := server.OpenAPI()
	if err == nil {
		err = json.Unmarshal(data, &spec)
	}
	if err != nil {
		panic(err)
	}
	return spec
})

// templateOf is the path of the description that an address is of; "" if there is none.
func templateOf(address string) string {
	path, _, _ := strings.Cut(address, "?")
	got := strings.Split(strings.TrimSuffix(path, "/"), "/")
	best := ""
	for _, template := range slices.Sorted(maps.Keys(description().Paths)) {
		same := slices.EqualFunc(strings.Split(template, "/"), got, func(want, got string) bool {
			return want == got || strings.HasPrefix(want, "{") && got != ""
		})
		// What names a part is for what no other path is for.
		if same && (best == "" || strings.Count(template, "{") < strings.Count(best, "{")) {
			best = template
		}
	}
	return best
}

// asDescribed holds an answer against the description: its status is one that is foreseen, and
// what it is, is of a kind that is foreseen with it. Every request of every test goes through it.
func asDescribed(t testing.TB, method, address string, r *http.Response, body []byte) {
	t.Helper()
	op, ok := description().Paths[templateOf(address)][strings.ToLower(method)]
	if !ok {
		return // refused, or a page
	}
	a, ok := op.Responses[strconv.Itoa(r.StatusCode)]
	if !assert.True(t, ok, "%s %s answers %d, which is not described: %s", method, address, r.StatusCode, body) {
		return
	}
	if name, refers := strings.CutPrefix(a.Ref, "#/components/responses/"); refers {
		a, ok = description().Components.Responses[name]
		assert.True(t, ok, name)
	}
	media, _, _ := strings.Cut(r.Header.Get("Content-Type"), ";")
	if len(body) > 0 {
		assert.Contains(t, slices.Collect(maps.Keys(a.Content)), media, "%s %s", method, address)
	}
}

// What a page or a program may ask for that no route is: other methods get what could be done
// there, HEAD what GET has without its body, and nobody gets anything done by it.
func TestOtherMethods(t *testing.T) {
	v := begin(t)
	own := "/api/builds/" + v.ID
	for path, allow := range map[string]string{
		own:              "DELETE, GET, HEAD, OPTIONS",
		"/api/builds":    "GET, HEAD, OPTIONS, POST",
		own + "/edits":   "OPTIONS, POST",
		"/api/meter":     "DELETE, GET, HEAD, OPTIONS, PATCH, PUT",
		own + "/nothing": "",
	} {
		r := call(t, "TRACE", path, nil)
		options := call(t, http.MethodOptions, path, nil)
		if allow == "" {
			assert.Equal(t, http.StatusNotFound, r.StatusCode, path)
			continue
		}
		assert.Equal(t, http.StatusMethodNotAllowed, r.StatusCode, path)
		assert.Equal(t, allow, r.Header.Get("Allow"), path)
		assert.Equal(t, allow, strings.TrimSpace(r.problem(t).Detail[len("what can: "):]), path)
		assert.Equal(t, http.StatusNoContent, options.StatusCode, path)
		assert.Equal(t, allow, options.Header.Get("Allow"), path)
	}
	for _, path := range []string{own, "/api/library", "/api/health", "/"} {
		get, head := call(t, http.MethodGet, path, nil), call(t, http.MethodHead, path, nil)
		assert.Equal(t, get.StatusCode, head.StatusCode, path)
		assert.Equal(t, get.Header.Get("Content-Type"), head.Header.Get("Content-Type"), path)
		assert.Equal(t, get.Header.Get("ETag"), head.Header.Get("ETag"), path)
		assert.Empty(t, head.body, path)
	}
	for _, method := range []string{"PUT", "PATCH"} {
		assert.Equal(t, http.StatusMethodNotAllowed, call(t, method, own, "{}").StatusCode, method)
	}
	assert.Equal(t, v.Tag, call(t, http.MethodGet, own, nil).view(t).Tag, "nothing was done")
}

// Who has an answer already is told that it is the same, and gets it when it is not.
func TestNothingChanged(t *testing.T) {
	v := begin(t)
	for path, change := range map[string]func(){
		"/api/builds":                        func() { begin(t) },
		"/api/library":                       nil,
		"/api/starts":                        nil,
		"/api/builds/" + v.ID + "/revisions": func() { edit(t, v, led) },
		"/api/builds/" + v.ID + "/log":       func() { call(t, "POST", "/api/builds/"+v.ID+"/log", server.NewEntry{Kind: "note", Text: "x"}) },
	} {
		first := call(t, http.MethodGet, path, nil)
		tag := first.Header.Get("ETag")
		require.NotEmpty(t, tag, path)
		for _, have := range []string{tag, strings.TrimPrefix(tag, "W/"), `"other", ` + tag, "*"} {
			again := call(t, http.MethodGet, path, nil, "If-None-Match", have)
			assert.Equal(t, http.StatusNotModified, again.StatusCode, "%s %s", path, have)
			assert.Empty(t, again.body)
			assert.Equal(t, tag, again.Header.Get("ETag"))
		}
		assert.Equal(t, http.StatusOK, call(t, http.MethodGet, path, nil, "If-None-Match", `"other"`).StatusCode)
		if change == nil {
			continue
		}
		change()
		now := call(t, http.MethodGet, path, nil, "If-None-Match", tag)
		assert.Equal(t, http.StatusOK, now.StatusCode, path)
		assert.NotEqual(t, tag, now.Header.Get("ETag"), path)
	}
}

// A filter may have any letters.
func TestFiltersTakeAnyLetters(t *testing.T) {
	v := begin(t)
	for _, letters := range []string{"é", "ламп", "😀", "%", "_", "\\", "'", "\"", "a\u0301"} {
		q := url.QueryEscape(letters)
		for _, path := range []string{"/api/builds?search=" + q, "/api/builds/" + v.ID + "/log?part=" + q, "/api/builds/" + v.ID + "/log?kind=" + q, "/api/builds/" + v.ID + "/log?search=" + q, "/api/phrase?text=" + q} {
			assert.Equal(t, http.StatusOK, call(t, http.MethodGet, path, nil).StatusCode, path)
		}
	}
}
