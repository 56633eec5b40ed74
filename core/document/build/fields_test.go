package build_test

import (
	"encoding"
	"encoding/json"
	"fmt"
	"os"
	"reflect"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// whole reports whether a struct is written as one text.
func whole(t reflect.Type) bool { return t.Implements(reflect.TypeFor[encoding.TextMarshaler]()) }

// fill gives everything in a value something: lists and maps one element, pointers one to
// point to. What it gives depends on nothing but the type.
func fill(v reflect.Value) {
	switch v.Kind() {
	case reflect.Pointer:
		v.Set(reflect.New(v.Type().Elem()))
		fill(v.Elem())
	case reflect.Slice:
		v.Set(reflect.MakeSlice(v.Type(), 1, 1))
		fill(v.Index(0))
	case reflect.Map:
		v.Set(reflect.MakeMap(v.Type()))
		key, value := reflect.New(v.Type().Key()).Elem(), reflect.New(v.Type().Elem()).Elem()
		fill(key)
		fill(value)
		v.SetMapIndex(key, value)
	case reflect.Struct:
		if whole(v.Type()) {
			alter(v)
			return
		}
		for i := range v.NumField() {
			fill(v.Field(i))
		}
	default:
		alter(v)
	}
}

// alter makes a value that holds no other another one.
func alter(v reflect.Value) {
	switch v.Kind() {
	case reflect.String:
		v.SetString(v.String() + "x")
	case reflect.Bool:
		v.SetBool(!v.Bool())
	case reflect.Int, reflect.Int64:
		v.SetInt(v.Int() + 1)
	case reflect.Float64:
		v.SetFloat(v.Float() + 1)
	case reflect.Struct:
		switch x := v.Interface().(type) {
		case time.Time:
			v.Set(reflect.ValueOf(x.Add(time.Second)))
		case breadboard.Hole:
			x.Row++
			v.Set(reflect.ValueOf(x))
		case breadboard.End:
			x.Place.Name += "x"
			v.Set(reflect.ValueOf(x))
		}
	default:
		panic("fields of a document of the kind " + v.Kind().String() + " are new: say how they are altered")
	}
}

// eachField calls do for each thing in a value that holds no other, with its path, and with a
// function that alters it in place.
func eachField(v reflect.Value, path string, do func(path string, alter func())) {
	switch v.Kind() {
	case reflect.Pointer:
		eachField(v.Elem(), path, do)
	case reflect.Slice:
		eachField(v.Index(0), path+"[]", do)
	case reflect.Map:
		key := v.MapKeys()[0]
		value := reflect.New(v.Type().Elem()).Elem()
		value.Set(v.MapIndex(key))
		eachField(value, path+"{}", func(path string, alter func()) {
			do(path, func() {
				alter()
				v.SetMapIndex(key, value)
			})
		})
	case reflect.Struct:
		if whole(v.Type()) {
			do(path, func() { alter(v) })
			return
		}
		for i := range v.NumField() {
			eachField(v.Field(i), path+"."+v.Type().Field(i).Name, do)
		}
	default:
		do(path, func() { alter(v) })
	}
}

func full() *build.Document {
	d := &build.Document{}
	fill(reflect.ValueOf(d).Elem())
	return d
}

// paths lists the fields of a document.
func paths() (out []string) {
	eachField(reflect.ValueOf(full()), "", func(path string, _ func()) { out = append(out, path) })
	return out
}

// at returns a full document that has one field otherwise.
func at(want string) *build.Document {
	d := full()
	eachField(reflect.ValueOf(d), "", func(path string, alter func()) {
		if path == want {
			alter()
		}
	})
	return d
}

// apart are fields that are no difference of their own to a builder: the format's version, and
// when a step was done.
var apart = []string{".Format", ".Assembly.Done[].At"}

// A field that somebody adds to a document is copied with it, told where documents differ, and
// belongs to one aspect.
func TestNoFieldIsForgotten(t *testing.T) {
	all := paths()
	require.Greater(t, len(all), 40)
	lib := build.Shipped()
	for _, path := range all {
		one, other := full(), at(path)
		require.NotEqual(t, one, other, path)

		copied := one.Clone()
		assert.Equal(t, one, copied, path)
		eachField(reflect.ValueOf(copied), "", func(p string, alter func()) {
			if p == path {
				alter()
			}
		})
		assert.Equal(t, full(), one, "%s is shared by a clone", path)

		if !slices.Contains(apart, path) {
			assert.NotEmpty(t, build.Diff(one, other), "%s is not told", path)
			assert.NotEmpty(t, build.Diff(other, one), "%s is not told the other way", path)
		}

		if path == ".Board" {
			continue // of all aspects
		}
		in := 0
		for _, of := range []build.Aspect{build.Wiring, build.Layout, build.Progress, build.Code, build.Sentences, build.Heading} {
			if lib.Key(one, of) != lib.Key(other, of) {
				in++
			}
		}
		assert.Equal(t, 1, in, "%s is in so many aspects", path)
	}
}

// The key depends on what is asked besides, and on the board as it is, not on its name alone.
func TestKey(t *testing.T) {
	d := build.New("t", "classic-5v")
	lib := build.Shipped()
	key := lib.Key(d, build.Wiring)
	assert.Equal(t, key, lib.Key(d.Clone(), build.Wiring))
	assert.NotEqual(t, key, lib.Key(d, build.Wiring, 7))
	assert.NotEqual(t, key, lib.Key(d, build.Wiring|build.Code))
	changed := *lib.Boards[0]
	changed.Ground = "0V"
	of := build.Library{Boards: append(slices.Clone(lib.Boards[1:]), &changed), Catalogue: lib.Catalogue}
	require.Equal(t, "classic-5v", changed.ID)
	for _, aspect := range []build.Aspect{build.Wiring, build.Code, build.Heading} {
		assert.NotEqual(t, lib.Key(d, aspect), of.Key(d, aspect))
	}
	with := *lib
	with.Resistors = []float64{220}
	assert.NotEqual(t, key, with.Key(d, build.Wiring))
}

// The schema of the file has the properties that the Go types write, no more and no less.
func TestSchemaHasEveryField(t *testing.T) {
	data, err := os.ReadFile("../../../schema/build.schema.json")
	require.NoError(t, err)
	var root map[string]any
	require.NoError(t, json.Unmarshal(data, &root))
	var walk func(at string, s map[string]any, of reflect.Type)
	properties := 0
	walk = func(at string, s map[string]any, of reflect.Type) {
		if ref, ok := s["$ref"].(string); ok {
			s = root["$defs"].(map[string]any)[strings.TrimPrefix(ref, "#/$defs/")].(map[string]any)
		}
		switch of.Kind() {
		case reflect.Pointer:
			walk(at, s, of.Elem())
		case reflect.Slice:
			if items, ok := s["items"].(map[string]any); assert.True(t, ok, "%s is a list", at) {
				walk(at+"[]", items, of.Elem())
			}
		case reflect.Map:
			if values, ok := s["additionalProperties"].(map[string]any); ok {
				walk(at+"{}", values, of.Elem())
			}
		case reflect.Struct:
			if whole(of) || of == reflect.TypeFor[part.Kind]() { // which has a schema of its own
				return
			}
			has, ok := s["properties"].(map[string]any)
			if !assert.True(t, ok, "%s has properties", at) {
				return
			}
			var names []string
			for _, f := range reflect.VisibleFields(of) {
				name, _, _ := strings.Cut(f.Tag.Get("json"), ",")
				if name == "" {
					continue
				}
				properties++
				names = append(names, name)
				if p, ok := has[name].(map[string]any); assert.True(t, ok, "%s.%s is not in the schema", at, name) {
					walk(fmt.Sprintf("%s.%s", at, name), p, f.Type)
				}
			}
			for name := range has {
				assert.Contains(t, names, name, "%s: the schema has what no document has", at)
			}
		}
	}
	walk("", root, reflect.TypeFor[build.Document]())
	assert.Greater(t, properties, 40)
}
