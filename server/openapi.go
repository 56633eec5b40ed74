package server

import (
	"bytes"
	"encoding/json"
	"net/http"
	"path"
	"reflect"
	"slices"
	"strings"
	"sync"

	"github.com/gofiber/fiber/v3"
	"github.com/swaggest/jsonschema-go"
	"github.com/swaggest/openapi-go"
	"github.com/swaggest/openapi-go/openapi31"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/meter"
	"cablaggio/core/judgement/check"
	"cablaggio/core/judgement/shopping"
	"cablaggio/core/planning/phrase"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
)

// enums are the values that types of words can have.
var enums = map[reflect.Type][]any{
	reflect.TypeFor[check.Level]():    {check.Stop, check.Care, check.Note, check.Fine},
	reflect.TypeFor[check.Reads]():    {check.ReadsLow, check.ReadsHigh, check.ReadsEither, check.Floats},
	reflect.TypeFor[board.Pull]():     {board.NoPull, board.PullUp, board.PullDown},
	reflect.TypeFor[build.Language](): {build.CPP, build.PythonBoard, build.PythonMachine},
}

// Edit is an edit in descriptions: one of the shapes that there are.
type Edit struct{}

// JSONSchemaOneOf implements [jsonschema.OneOfExposer].
func (Edit) JSONSchemaOneOf() (out []any) {
	for _, s := range plan.Shapes() {
		out = append(out, reflect.Zero(s.Of).Interface())
	}
	return out
}

// shaped gives the description of an edit its op, and takes no other fields than its own.
func shaped(edit *jsonschema.Schema, s plan.Shape) {
	var op jsonschema.Schema
	op.AddType(jsonschema.String)
	op.Enum = []any{s.Op}
	edit.WithType(jsonschema.Object.Type())
	edit.WithDescription(s.Does)
	edit.WithPropertiesItem("op", op.ToSchemaOrBool())
	edit.Required = append([]string{"op"}, s.Needs...)
	edit.WithAdditionalProperties(*(&jsonschema.SchemaOrBool{}).WithTypeBoolean(false))
}

var description = sync.OnceValues(OpenAPI)

func (s *server) openAPI(c fiber.Ctx) error {
	data, err := description()
	if err != nil {
		return err
	}
	c.Set("Content-Type", "application/json")
	return c.Send(data)
}

type byID struct {
	ID string `path:"id"`
}

type byCode struct {
	Code string `path:"code"`
}

type byBoard struct {
	Board string `path:"board"`
}

// Text is a file's text.
type Text struct {
	Text string `json:"text" required:"true"`
}

type byEntry struct {
	byID
	Entry int64 `path:"entry"`
}

type byTag struct {
	byID
	IfMatch string `header:"If-Match"`
}

type byKey struct {
	Key string `header:"Idempotency-Key"`
}

// OpenAPI returns the description of the interface, OpenAPI 3.1, as JSON.
func OpenAPI() ([]byte, error) {
	r := openapi31.NewReflector()
	r.Spec.Info.WithTitle("Cablaggio").WithVersion("1").
		WithDescription("Builds with their revisions, and what is computed about them. Errors are problem details (RFC 9457). " +
			"The server listens on the machine that it runs on, answers to its own names alone, and takes requests of its own pages and of programs on the machine: it asks nobody who they are.")
	r.Spec.WithServers(openapi31.Server{URL: "http://127.0.0.1:8710"})
	r.Spec.WithSecurity(map[string][]string{}) // none is needed
	r.DefaultOptions = append(r.DefaultOptions, reflecting...)
	r.JSONSchemaReflector().AddTypeMapping(new(plan.Edit), Edit{})
	for _, op := range []struct {
		method, path, id, summary string
		request, response         any
	}{
		{http.MethodGet, "/api/health", "health", "Whether the server and its database are up", nil, Health{}},
		{http.MethodGet, "/api/library", "library", "The boards and kinds of parts", nil, Library{}},
		{http.MethodGet, "/api/phrase", "phrase", "What is understood of parts as people say them", struct {
			Text string `query:"text"`
		}{}, phrase.Phrase{}},
		{http.MethodGet, "/api/starts", "starts", "Ready builds to begin from", nil, StartList{}},
		{http.MethodGet, "/api/drawer", "drawer", "What the builder owns", nil, DrawerView{}},
		{http.MethodPut, "/api/drawer", "fillDrawer", "The drawer's whole content", struct {
			IfMatch string `header:"If-Match"`
			DrawerView
		}{}, DrawerView{}},
		{http.MethodGet, "/api/meter", "meter", "The meter that readings are expected of: the builder's own, or a usual one", nil, MeterView{}},
		{http.MethodPut, "/api/meter", "keepMeter", "The builder's own meter, as its leaflet describes it", struct {
			IfMatch string `header:"If-Match"`
			meter.Instrument
		}{}, MeterView{}},
		{http.MethodPatch, "/api/meter", "setMeter", "One thing that its leaflet says, as it is typed", struct {
			IfMatch string `header:"If-Match"`
			MeterField
		}{}, MeterView{}},
		{http.MethodDelete, "/api/meter", "dropMeter", "Reckon with a usual meter again", struct {
			IfMatch string `header:"If-Match"`
		}{}, MeterView{}},
		{http.MethodGet, "/api/drawer/file", "exportDrawer", "The drawer as CSV", nil, nil},
		{http.MethodPost, "/api/drawer/read", "readDrawer", "What a table of parts holds; nothing is taken", Text{}, DrawerView{}},
		{http.MethodGet, "/api/builds/{id}/revisions", "revisions", "The history of a build, a page at a time", struct {
			byID
			Before int `query:"before"`
		}{}, RevisionList{}},
		{http.MethodGet, "/api/builds/{id}/revisions/{n}", "revision", "An earlier state, and what is different in it", struct {
			byID
			N int `path:"n"`
		}{}, RevisionDetail{}},
		{http.MethodGet, "/api/builds/{id}/boards", "compareBoards", "What would be different on each board", byID{}, []Comparison{}},
		{http.MethodGet, "/api/builds/{id}/shopping", "shopping", "What the build needs beside what the drawer has; with format=csv as a table, with format=pdf on paper", struct {
			byID
			Format string `query:"format"`
		}{}, []shopping.Line{}},
		{http.MethodGet, "/api/builds/{id}/assembly", "assembly", "The build on the breadboard: placement, steps, what was really built", byID{}, AssemblyView{}},
		{http.MethodPost, "/api/builds/{id}/pins", "readPins", "What a pin table would move; nothing is taken", struct {
			byID
			Text
		}{}, PinTable{}},
		{http.MethodPost, "/api/boards", "keepBoard", "A board that the builder described, in the open format; with If-Match in place of what it was", struct {
			IfMatch string `header:"If-Match"`
			board.Profile
		}{}, board.Profile{}},
		{http.MethodGet, "/api/boards/{board}/file", "exportBoard", "A board as a file in the open format", byBoard{}, nil},
		{http.MethodDelete, "/api/boards/{board}", "dropBoard", "Forget a board of the builder's own", byBoard{}, nil},
		{http.MethodGet, "/api/builds", "listBuilds", "The builds, the last changed first, a page at a time", struct {
			Search string `query:"search"`
			Bin    bool   `query:"bin"`
			Skip   int    `query:"skip"`
		}{}, BuildList{}},
		{http.MethodPost, "/api/builds", "createBuild", "A new build", struct {
			byKey
			NewBuild
		}{}, BuildView{}},
		{http.MethodPost, "/api/builds/read", "readBuild", "What a build in a file is; nothing is taken", NewBuild{}, Preview{}},
		{http.MethodGet, "/api/builds/{id}", "getBuild", "One build with its analysis", byID{}, BuildView{}},
		{http.MethodDelete, "/api/builds/{id}", "deleteBuild", "Take a build out of the list", byID{}, nil},
		{http.MethodGet, "/api/builds/{id}/controls", "controls", "What can be set in the circuit of a build", byID{}, ControlList{}},
		{http.MethodGet, "/api/builds/{id}/files/netlist", "exportNetlist", "The circuit as a netlist, in the named state and corner", struct {
			byID
			Set    []string `query:"set"`
			Corner string   `query:"corner"`
		}{}, nil},
		{http.MethodGet, "/api/builds/{id}/files/{format}", "exportBuild", "The build as a file: document, analysis, a table, a booklet or a drawing", struct {
			byID
			Format string `path:"format"`
		}{}, nil},
		{http.MethodGet, "/api/builds/{id}/archive", "exportArchive", "The build with its log, pictures and board, as one ZIP file", byID{}, nil},
		{http.MethodPost, "/api/archives", "importArchive", "Take such a file in as a new build; the body is the file", byKey{}, BuildView{}},
		{http.MethodGet, "/api/builds/{id}/program", "program", "What the build's program does on its wiring, and what does not fit", byID{}, program.Analysis{}},
		{http.MethodPost, "/api/builds/{id}/program", "tryProgram", "The same of a program that is not kept", struct {
			byID
			build.Program
		}{}, program.Analysis{}},
		{http.MethodGet, "/api/builds/{id}/program/starter", "starter", "A program to begin with, or one that tries each part", struct {
			byID
			Language build.Language `query:"language"`
			Test     bool           `query:"test"`
		}{}, build.Program{}},
		{http.MethodGet, "/api/builds/{id}/hands", "hands", "What hands move on the bench", byID{}, HandList{}},
		{http.MethodPost, "/api/builds/{id}/run", "run", "The build runs on the bench, with hands at it", struct {
			byID
			Running
		}{}, bench.Recording{}},
		{http.MethodGet, "/api/builds/{id}/bench", "watchBench", "A run that goes on while it is watched, with hands at it: a WebSocket, whose messages are updates from the server and wishes to it", struct {
			byID
			Session string `query:"session"`
			Built   bool   `query:"built"`
			Bare    bool   `query:"bare"`
			Program string `query:"program"`
		}{}, LiveTalk{}},
		{http.MethodPost, "/api/builds/{id}/should", "should", "Whether the build does what it should, with many hands at it", struct {
			byID
			Sayings
		}{}, Verdicts{}},
		{http.MethodGet, "/api/builds/{id}/checks", "checks", "What to measure, and what the meter must read", byID{}, meter.List{}},
		{http.MethodGet, "/api/builds/{id}/supply", "readSupply", "What readings say together that the build is fed with", byID{}, SupplyRead{}},
		{http.MethodPost, "/api/builds/{id}/diagnosis", "diagnose", "Which fault explains what was seen and read, and what to ask next", struct {
			byID
			Observed
		}{}, Diagnosis{}},
		{http.MethodPost, "/api/builds/{id}/diagnosis/heard", "hear", "What is understood of what somebody says, or of what the console prints", struct {
			byID
			Told
		}{}, Heard{}},
		{http.MethodGet, "/api/drills", "drills", "Lessons and builds in which a fault can be hidden", nil, DrillList{}},
		{http.MethodGet, "/api/drills/record", "drillRecord", "How drills went", nil, DrillRecord{}},
		{http.MethodPost, "/api/drills", "beginDrill", "A drill, by its lesson, by its code, or drawn", NewDrill{}, DrillView{}},
		{http.MethodGet, "/api/drills/{code}/choices", "drillChoices", "What can be asked at a part of a drill", struct {
			byCode
			Part string `query:"part"`
		}{}, DrillChoices{}},
		{http.MethodPost, "/api/drills/{code}/ask", "askDrill", "What the bench answers, with the fault in it", struct {
			byCode
			DrillAsk
		}{}, DrillAnswer{}},
		{http.MethodPost, "/api/drills/{code}/hint", "hintDrill", "What the diagnosis would ask next", struct {
			byCode
			Observed
		}{}, DrillHint{}},
		{http.MethodPost, "/api/drills/{code}/name", "nameDrill", "Whether it is that", struct {
			byKey
			byCode
			DrillGuess
		}{}, DrillEnd{}},
		{http.MethodGet, "/api/builds/{id}/log", "log", "The log of a build, a page at a time, the newest first", struct {
			byID
			Kind   string `query:"kind"`
			Part   string `query:"part"`
			Search string `query:"search"`
			Before int64  `query:"before"`
		}{}, LogPage{}},
		{http.MethodPost, "/api/builds/{id}/log", "keepEntry", "A reading, which is judged, or a note", struct {
			byID
			byKey
			NewEntry
		}{}, LogEntry{}},
		{http.MethodPost, "/api/builds/{id}/log/pictures", "keepPicture", "A picture, PNG, JPEG or WebP, as the body", struct {
			byID
			byKey
			Text string `query:"text"`
			Part string `query:"part"`
		}{}, LogEntry{}},
		{http.MethodGet, "/api/builds/{id}/log/file/{format}", "exportLog", "The log as a file: log.pdf, readings.csv or log.json", struct {
			byID
			Format string `path:"format"`
		}{}, nil},
		{http.MethodGet, "/api/builds/{id}/log/{entry}/picture", "picture", "The picture of an entry, as JPEG", struct {
			byEntry
			Small bool `query:"small"`
		}{}, nil},
		{http.MethodDelete, "/api/builds/{id}/log/{entry}", "strikeEntry", "Take an entry out of the log", byEntry{}, nil},
		{http.MethodPost, "/api/builds/{id}/log/{entry}/restore", "restoreEntry", "Put an entry back", byEntry{}, nil},
		{http.MethodPost, "/api/builds/{id}/restore", "restoreBuild", "Put a deleted build back", byID{}, BuildView{}},
		{http.MethodPost, "/api/builds/{id}/duplicate", "duplicateBuild", "A copy as a new build", struct {
			byID
			byKey
		}{}, BuildView{}},
		{http.MethodPost, "/api/builds/{id}/edits", "editBuild", "Edits, all or none", struct {
			byTag
			byKey
			Edits
		}{}, BuildView{}},
		{http.MethodPost, "/api/builds/{id}/undo", "undoBuild", "Show the revision before", byTag{}, BuildView{}},
		{http.MethodPost, "/api/builds/{id}/redo", "redoBuild", "Show the revision that was undone", byTag{}, BuildView{}},
		{http.MethodGet, "/api/builds/{id}/resistors/{part}", "resistorChoice", "Values for a resistor side by side", struct {
			byID
			Part string `path:"part"`
		}{}, ResistorChoice{}},
		{http.MethodGet, "/api/builds/{id}/pins/{part}/{signal}", "pinChoices", "Free pins for a signal, the best first", struct {
			byID
			Part   string `path:"part"`
			Signal string `path:"signal"`
		}{}, plan.Why{}},
	} {
		o, err := r.NewOperationContext(op.method, op.path)
		if err != nil {
			return nil, err
		}
		o.SetID(op.id)
		o.SetSummary(op.summary)
		if op.request != nil {
			o.AddReqStructure(op.request)
		}
		status := http.StatusOK
		if op.id == "createBuild" || op.id == "keepBoard" || op.id == "duplicateBuild" || op.id == "keepEntry" || op.id == "keepPicture" || op.id == "importArchive" {
			status = http.StatusCreated
		}
		if op.id == "deleteBuild" || op.id == "dropBoard" || op.id == "strikeEntry" || op.id == "restoreEntry" {
			status = http.StatusNoContent
		}
		if op.id == "watchBench" {
			status = http.StatusSwitchingProtocols
		}
		o.AddRespStructure(op.response, openapi.WithHTTPStatus(status))
		o.AddRespStructure(Problem{}, openapi.WithContentType("application/problem+json"), func(cu *openapi.ContentUnit) {
			cu.HTTPStatus = 4 // all of them
			cu.Description = refusals(op.request)
		})
		o.AddRespStructure(Problem{}, openapi.WithContentType("application/problem+json"), func(cu *openapi.ContentUnit) {
			cu.IsDefault = true
			cu.Description = "Something on this computer is in the way: the database is away, the disk is full, or there is too much to do. Later it goes on."
		})
		if err := r.AddOperation(o); err != nil {
			return nil, err
		}
	}
	data, err := r.Spec.MarshalJSON()
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	if err := json.Indent(&out, data, "", "  "); err != nil {
		return nil, err
	}
	out.WriteByte('\n')
	return out.Bytes(), nil
}

// refusals says what a request is refused for, and how: what each of its fields can be wrong
// about, and what may happen to any.
func refusals(request any) string {
	out := []string{}
	if request != nil {
		has := map[string]bool{}
		parameters(reflect.TypeOf(request), has)
		if has["path"] {
			out = append(out, "404 when there is nothing of that name")
		}
		if has["If-Match"] {
			out = append(out, "400 when the tag is none; 412 when it was changed since that state, with what changed; 428 without a tag")
		}
		if has["Idempotency-Key"] {
			out = append(out, "400 when the key is none; 422 when it was used for something else")
		}
		if has["json"] {
			out = append(out, "413 when the body is too large; 415 when it is not sent as JSON; 422 when it is not as described, or cannot be done, with what would be right")
		}
		if has["query"] {
			out = append(out, "400 or 422 when a parameter makes no sense")
		}
	}
	return strings.Join(append(out, "403 from another site; 421 under another name; 429 and 503 when there is too much to do, or the database is away: later it goes on"), ". ") + "."
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

// A Format is an open format whose JSON Schema is made from the Go type that is written.
type Format struct {
	ID, Title, Does string
	of              any
}

// Formats lists them, by the names of their files.
var Formats = map[string]Format{
	"analysis":  {"cablaggio.analysis/1", "An analysis", "Everything that is computed about a build. Values are in SI base units.", check.Analysis{}},
	"recording": {bench.Format, "A recording", "What everything did in a run on the bench. Times are in seconds, values in SI base units.", bench.Recording{}},
	"log":       {logFormat, "A log", "The book of a build, in the order in which it was written. Values are in SI base units.", LogFile{}},
	"checks":    {"cablaggio.checks/1", "Checks", "What to measure in a build, and what a meter must read. Values are in SI base units.", meter.List{}},
	"diagnosis": {"cablaggio.diagnosis/1", "A diagnosis", "Which faults explain what was seen and read, and what to ask next.", diagnose.Result{}},
}

// Schema returns the JSON Schema (2020-12) of a format, in a file of its own.
func (f Format) Schema() ([]byte, error) {
	defs := map[string]jsonschema.Schema{}
	var r jsonschema.Reflector
	r.AddTypeMapping(new(plan.Edit), Edit{})
	root, err := r.Reflect(f.of, append(reflecting, jsonschema.DefinitionsPrefix("#/$defs/"), jsonschema.RootRef,
		jsonschema.CollectDefinitions(func(name string, s jsonschema.Schema) { defs[name] = s }))...)
	if err != nil {
		return nil, err
	}
	out, err := json.MarshalIndent(map[string]any{
		"$schema": "https://json-schema.org/draft/2020-12/schema", "$id": f.ID, "title": f.Title,
		"description": f.Does, "$ref": root.Ref, "$defs": defs,
	}, "", "  ")
	return append(out, '\n'), err
}

// reflecting is how descriptions are made from Go types.
var reflecting = []func(*jsonschema.ReflectContext){
	jsonschema.InterceptProp(alwaysWritten), jsonschema.InterceptNullability(neverNull),
	jsonschema.InterceptSchema(enumerate), jsonschema.InterceptDefName(schemaName),
}

// schemaName is the type's name, with its package's where two have the same.
func schemaName(t reflect.Type, _ string) string {
	switch pkg := path.Base(t.PkgPath()); {
	case pkg == "part" || pkg == "spec" || pkg == "meter" || pkg == "program" || pkg == "bench":
		return strings.ToUpper(pkg[:1]) + pkg[1:] + t.Name()
	case pkg == "plan" && slices.ContainsFunc(plan.Shapes(), func(s plan.Shape) bool { return s.Of == t }):
		return t.Name() + "Edit"
	case t == reflect.TypeFor[build.Problem]():
		return "BuildProblem"
	}
	return t.Name()
}

// alwaysWritten makes every property required that Go always writes.
func alwaysWritten(p jsonschema.InterceptPropParams) error {
	if !p.Processed || p.Field.Tag.Get("path") != "" {
		return nil
	}
	tag := p.Field.Tag.Get("json")
	if tag == "" || strings.Contains(tag, "omitempty") || strings.Contains(tag, "omitzero") {
		return nil
	}
	for _, name := range p.ParentSchema.Required {
		if name == p.Name {
			return nil
		}
	}
	p.ParentSchema.Required = append(p.ParentSchema.Required, p.Name)
	return nil
}

// neverNull says that lists and groups are never null: Go fills them.
func neverNull(p jsonschema.InterceptNullabilityParams) {
	if p.NullAdded {
		p.Schema.RemoveType(jsonschema.Null)
	}
}

func enumerate(p jsonschema.InterceptSchemaParams) (bool, error) {
	if values, ok := enums[p.Value.Type()]; ok && p.Processed {
		p.Schema.Enum = values
	}
	shapes := plan.Shapes()
	if i := slices.IndexFunc(shapes, func(s plan.Shape) bool { return s.Of == p.Value.Type() }); i >= 0 && p.Processed {
		shaped(p.Schema, shapes[i])
	}
	return false, nil
}
