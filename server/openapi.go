package server

import (
	"bytes"
	"encoding/json"
	"fmt"
	"path"
	"reflect"
	"slices"
	"strings"
	"sync"

	"github.com/gofiber/fiber/v3"
	"github.com/swaggest/jsonschema-go"
	"github.com/swaggest/openapi-go/openapi31"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/faults/diagnose"
	"cablaggio/core/faults/meter"
	"cablaggio/core/judgement/check"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
)

// enums are the values that types of words can have.
var enums = map[reflect.Type][]any{
	reflect.TypeFor[check.Level]():    {check.Stop, check.Care, check.Note, check.Fine},
	reflect.TypeFor[check.Reads]():    {check.ReadsLow, check.ReadsHigh, check.ReadsEither, check.Floats},
	reflect.TypeFor[meter.Meaning]():  {meter.AsExpected, meter.AtTheEdge, meter.NotSo},
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
	c.Set("Content-Type", jsonType)
	return c.Send(data)
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
	if err := describeProblems(r); err != nil {
		return nil, err
	}
	for _, route := range routes() {
		if err := route.describe(r); err != nil {
			return nil, fmt.Errorf("%s: %w", route.id, err)
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
	"part":      {part.Format, "A part", "A kind of part that a builder describes: what is inside, its legs, and the usual ways to wire it. Values are in SI base units.", part.File{}},
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
