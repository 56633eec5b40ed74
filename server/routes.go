package server

import (
	"hash/fnv"
	"net/http"
	"reflect"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/compress"
	"github.com/swaggest/jsonschema-go"
	"github.com/swaggest/openapi-go"
	"github.com/swaggest/openapi-go/openapi31"
)

// A route is one thing that can be asked of the server. What is declared here is all that is
// said of it: the server answers by it, the description and the front end's types are made of
// it, and whatever a test asks is held against it.
type route struct {
	method, path string // with the names of its parts in braces
	id, does     string
	handle       func(*server, fiber.Ctx) error
	takes        any      // a struct of parts of the path, query, headers and the body as JSON; nil: nothing
	body         []string // media types of a body that is not JSON
	gives        any      // as JSON
	files        []string // media types of what may be sent in place of it
	status       int      // when all is well; 0: 200
	refuses      []int    // for reasons of its own, beside those that follow from what it takes
	tagged       bool     // the answer has a tag, and who has it already is told so
	plain        bool     // it answers without the builder's own things, and is not compressed
}

// Media types of files.
const (
	jsonType    = "application/json"
	problemType = "application/problem+json"
	csvType     = "text/csv"
	pdfType     = "application/pdf"
	svgType     = "image/svg+xml"
	zipType     = "application/zip"
	jpegType    = "image/jpeg"
	plainType   = "text/plain"
)

// statuses are the answers that say why something was not done.
var statuses = map[int]string{
	http.StatusBadRequest:            "A tag, a key or a parameter is none.",
	http.StatusForbidden:             "Another site may not use this server.",
	http.StatusNotFound:              "There is nothing of that name.",
	http.StatusMethodNotAllowed:      "This cannot be done with what is at this address; Allow says what can.",
	http.StatusRequestTimeout:        "The request was not finished.",
	http.StatusConflict:              "As things stand it cannot be done; the problem says why.",
	http.StatusGone:                  "It was deleted; it can be restored.",
	http.StatusPreconditionFailed:    "It was changed since that state; the problem has what changed.",
	http.StatusRequestEntityTooLarge: "The body is too large.",
	http.StatusUnsupportedMediaType:  "The body is not what it is to be sent as.",
	http.StatusMisdirectedRequest:    "The server has another name.",
	http.StatusUnprocessableEntity:   "It is not as described, or cannot be done; the problem has what would be right.",
	http.StatusUpgradeRequired:       "This address is spoken to by WebSocket.",
	http.StatusPreconditionRequired:  "The request does not say for which state it is.",
	http.StatusTooManyRequests:       "There is too much to do at once; later it goes on.",
	http.StatusInternalServerError:   "Something went wrong here; nothing was changed.",
	http.StatusServiceUnavailable:    "The database is away; later it goes on.",
	http.StatusInsufficientStorage:   "The disk is full.",
}

// well is the status when all is well.
func (r *route) well() int {
	if r.status == 0 {
		return http.StatusOK
	}
	return r.status
}

// refusals are the statuses with which a request may be refused: they follow from what it takes.
func (r *route) refusals() []int {
	out := slices.Concat(r.refuses, []int{http.StatusForbidden, http.StatusMisdirectedRequest, http.StatusInternalServerError, http.StatusServiceUnavailable})
	if !r.plain {
		out = append(out, http.StatusTooManyRequests, http.StatusRequestTimeout)
	}
	has := map[string]bool{}
	if r.takes != nil {
		parameters(reflect.TypeOf(r.takes), has)
	}
	for what, of := range map[string][]int{
		"path":            {http.StatusNotFound, http.StatusGone, http.StatusUnprocessableEntity},
		"query":           {http.StatusBadRequest, http.StatusUnprocessableEntity},
		"If-Match":        {http.StatusBadRequest, http.StatusConflict, http.StatusPreconditionFailed, http.StatusPreconditionRequired},
		"Idempotency-Key": {http.StatusBadRequest, http.StatusUnprocessableEntity},
		"json":            {http.StatusBadRequest, http.StatusRequestEntityTooLarge, http.StatusUnsupportedMediaType, http.StatusUnprocessableEntity},
	} {
		if has[what] {
			out = append(out, of...)
		}
	}
	if r.body != nil {
		out = append(out, http.StatusRequestEntityTooLarge, http.StatusUnsupportedMediaType, http.StatusUnprocessableEntity)
	}
	if r.method != http.MethodGet {
		out = append(out, http.StatusInsufficientStorage)
	}
	slices.Sort(out)
	return slices.Compact(out)
}

// parameters notes where the fields of a request come from, and the names of its headers.
func parameters(t reflect.Type, has map[string]bool) {
	for i := range t.NumField() {
		f := t.Field(i)
		if f.Anonymous && f.Type.Kind() == reflect.Struct {
			parameters(f.Type, has)
		}
		for _, in := range []string{"path", "header", "query", "json"} {
			if name := f.Tag.Get(in); name != "" {
				has[in], has[name] = true, true
			}
		}
	}
}

var named = regexp.MustCompile(`\{(\w+)\}`)

// pattern is the path as the router has it.
func (r *route) pattern() string { return named.ReplaceAllString(r.path, ":$1") }

// handlers are what a request goes through.
func (r *route) handlers(s *server) []any {
	handle := func(c fiber.Ctx) error { return r.handle(s, c) }
	if r.plain {
		return []any{handle}
	}
	out := []any{fiber.Handler(compressed), fiber.Handler(s.withOwn)}
	if r.tagged {
		out = append(out, fiber.Handler(tagged))
	}
	return append(out, handle)
}

var compressed = compress.New(compress.Config{Level: compress.LevelBestSpeed})

// tagged gives an answer a tag, unless it has one, by what is in it, and answers who has it already that
// nothing changed.
func tagged(c fiber.Ctx) error {
	if err := c.Next(); err != nil {
		return err
	}
	if c.Response().StatusCode() != http.StatusOK {
		return nil
	}
	tag := c.GetRespHeader("ETag")
	if tag == "" {
		h := fnv.New64a()
		h.Write(c.Response().Body())
		tag = `W/"` + strconv.FormatUint(h.Sum64(), 36) + `"`
		c.Set("ETag", tag)
	}
	c.Set("Cache-Control", "no-cache") // it is kept, and asked whether it is still so
	for have := range strings.SplitSeq(c.Get("If-None-Match"), ",") {
		if have = strings.TrimSpace(have); have == "*" || strings.TrimPrefix(have, "W/") == strings.TrimPrefix(tag, "W/") {
			c.Response().ResetBody()
			return c.SendStatus(http.StatusNotModified)
		}
	}
	return nil
}

// at reports whether a path is one of the route's.
func (r *route) at(path string) bool {
	got := strings.Split(strings.TrimSuffix(path, "/"), "/")
	return slices.EqualFunc(strings.Split(r.path, "/"), got, func(want, got string) bool {
		return want == got || strings.HasPrefix(want, "{") && got != ""
	})
}

// nowhere answers what no route does: what else can be done at the address, if anything.
func (s *server) nowhere(c fiber.Ctx) error {
	var allow []string
	for _, r := range s.routes {
		if r.at(c.Path()) {
			allow = append(allow, r.method)
			if r.method == http.MethodGet {
				allow = append(allow, http.MethodHead)
			}
		}
	}
	if allow == nil {
		return problem(http.StatusNotFound, "There is nothing at this address.", "see /api/openapi.json for what there is")
	}
	allow = append(allow, http.MethodOptions)
	slices.Sort(allow)
	c.Set("Allow", strings.Join(slices.Compact(allow), ", "))
	if c.Method() == http.MethodOptions {
		return c.SendStatus(http.StatusNoContent)
	}
	return problem(http.StatusMethodNotAllowed, "This cannot be done at this address.", "what can: "+string(c.Response().Header.Peek("Allow")))
}

// describe puts a route into the description.
func (r *route) describe(to *openapi31.Reflector) error {
	o, err := to.NewOperationContext(r.method, r.path)
	if err != nil {
		return err
	}
	o.SetID(r.id)
	o.SetSummary(r.does)
	if r.takes != nil {
		o.AddReqStructure(r.takes)
	}
	for _, media := range r.body {
		o.AddReqStructure(nil, openapi.WithContentType(media), func(cu *openapi.ContentUnit) { cu.Format = "binary" })
	}
	well := openapi.WithHTTPStatus(r.well())
	if r.gives != nil || r.files == nil {
		o.AddRespStructure(r.gives, well)
	}
	for _, media := range r.files {
		o.AddRespStructure(nil, openapi.WithContentType(media), well, func(cu *openapi.ContentUnit) { cu.Format = "binary" })
	}
	if r.tagged {
		o.AddRespStructure(nil, openapi.WithHTTPStatus(http.StatusNotModified))
	}
	for _, status := range r.refusals() {
		o.AddRespStructure(nil, openapi.WithHTTPStatus(status), openapi.WithReference("#/components/responses/"+nameOf(status)))
	}
	return to.AddOperation(o)
}

// describeProblems puts the answers of all statuses that refuse into the description.
func describeProblems(to *openapi31.Reflector) error {
	parts := to.SpecEns().ComponentsEns()
	_, err := to.JSONSchemaReflector().Reflect(Problem{}, append(reflecting, jsonschema.RootRef, jsonschema.DefinitionsPrefix("#/components/schemas/"),
		jsonschema.CollectDefinitions(func(name string, s jsonschema.Schema) {
			if m, err := s.ToSchemaOrBool().ToSimpleMap(); err == nil {
				parts.WithSchemasItem(name, m)
			}
		}))...)
	if err != nil {
		return err
	}
	for status, words := range statuses {
		content := openapi31.MediaType{Schema: map[string]any{"$ref": "#/components/schemas/Problem"}}
		parts.WithResponsesItem(nameOf(status), openapi31.ResponseOrReference{Response: &openapi31.Response{
			Description: words, Content: map[string]openapi31.MediaType{problemType: content},
		}})
	}
	return nil
}

// nameOf is how the description calls the answers of a status.
func nameOf(status int) string { return strings.ReplaceAll(http.StatusText(status), " ", "") }
