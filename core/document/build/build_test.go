package build_test

import (
	"encoding/json"
	"os"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/demo"
)

var lib = build.Shipped()

const small = `{"format":"cablaggio.build/1","title":"t","board":"classic-5v",
	"parts":[{"id":"led1","kind":"led","type":"red","name":"lamp","signals":[{"name":"drive","needs":"digital-out","pin":"D4"}]}],
	"nets":[["board.D4","led1.anode"],["led1.cathode","board.GND"]]}`

// change replaces a part of the small build, which must be there.
func change(t *testing.T, old, new string) []byte {
	t.Helper()
	require.Contains(t, small, old)
	return []byte(strings.Replace(small, old, new, 1))
}

func TestParseRefusesAndSaysWhatWouldBeRight(t *testing.T) {
	_, err := lib.Parse([]byte(small))
	require.NoError(t, err)
	for name, c := range map[string]struct {
		data []byte
		says string
	}{
		"not JSON":             {[]byte("a build"), "this is not JSON: line 1"},
		"empty":                {nil, "this is not"},
		"50 MB":                {make([]byte, 50<<20), "at most 1024 kB"},
		"10,000 deep":          {[]byte(`{"parts":` + strings.Repeat("[", 10000) + strings.Repeat("]", 10000) + "}"), "nested more than"},
		"two builds":           {[]byte(small + small), "after the end"},
		"unknown field":        {change(t, `"title"`, `"colour":"red","title"`), `no field "colour"`},
		"unknown version":      {change(t, "build/1", "build/9"), `"cablaggio.build/9" is not a format`},
		"unknown board":        {change(t, "classic-5v", "toaster"), "the boards are classic-5v"},
		"unknown supply":       {change(t, `"parts"`, `"supply":"wind","parts"`), `no supply "wind"`},
		"unknown kind":         {change(t, `"kind":"led"`, `"kind":"laser"`), "the kinds are led"},
		"unknown type":         {change(t, `"red"`, `"ultra"`), "the types are red"},
		"missing type":         {change(t, `"type":"red",`, ``), "the types are red"},
		"pin the board lacks":  {change(t, `"pin":"D4"`, `"pin":"D99"`), `no pin "D99"`},
		"place it lacks":       {change(t, `"board.GND"`, `"board.EARTH"`), `no place "EARTH"`},
		"unknown leg":          {change(t, "led1.cathode", "led1.gate"), `no terminal "gate"`},
		"helper of a helper":   {change(t, `"parts":[{"id":"led1",`, `"parts":[{"id":"b1","kind":"button","name":"b","of":"b1"},{"id":"led1",`), "no hookup brought"},
		"part not there":       {change(t, "led1.cathode", "led7.cathode"), `no part "led7"`},
		"terminal twice":       {change(t, "led1.cathode", "led1.anode"), "a terminal is in one net"},
		"duplicate id":         {change(t, `"parts":[`, `"parts":[{"id":"led1","kind":"button","name":"b"},`), "used twice"},
		"id of the board":      {change(t, `"id":"led1"`, `"id":"board"`), "none is called board"},
		"bad id":               {change(t, `"id":"led1"`, `"id":"Led 1"`), "cannot be an id"},
		"lone net":             {change(t, `["board.D4","led1.anode"]`, `["board.D4"]`), "joins nothing"},
		"negative value":       {change(t, `"name":"lamp"`, `"name":"lamp","values":{"forwardVoltage":-2}`), "is not possible here; it is between 800 mV and 5 V"},
		"absurd value":         {change(t, `"name":"lamp"`, `"name":"lamp","values":{"maximumCurrent":1e30}`), "is not possible here"},
		"not a number":         {change(t, `"name":"lamp"`, `"name":"lamp","values":{"forwardVoltage":"two"}`), "a number belongs"},
		"unknown value":        {change(t, `"name":"lamp"`, `"name":"lamp","values":{"taste":2}`), `no value "taste"`},
		"no title":             {change(t, `"title":"t"`, `"title":" "`), "give it a name"},
		"control signs":        {change(t, `"title":"t"`, `"title":"a\u0000b"`), "cannot be shown"},
		"long title":           {change(t, `"title":"t"`, `"title":"`+strings.Repeat("x", 121)+`"`), "at most 120"},
		"function there isn't": {change(t, "digital-out", "telepathy"), "not something a pin can do"},
		"too many parts":       {change(t, `"parts":[`, `"parts":[`+strings.Repeat(`{"id":"x","kind":"button","name":"b"},`, 201)), "at most 200"},
	} {
		_, err := lib.Parse(c.data)
		var problems build.Problems
		require.ErrorAs(t, err, &problems, name)
		assert.Contains(t, err.Error(), c.says, name)
		assert.Less(t, len(err.Error()), 20000, name)
	}
}

func TestScriptInATitleIsOnlyText(t *testing.T) {
	doc, err := lib.Parse(change(t, `"title":"t"`, `"title":"<script>alert(1)</script>"`))
	require.NoError(t, err)
	assert.Equal(t, "<script>alert(1)</script>", doc.Title)
}

func TestWrittenAndReadIsTheSame(t *testing.T) {
	for _, d := range demo.Builds() {
		doc, err := lib.Parse(d.Data)
		require.NoError(t, err)
		data, err := json.Marshal(doc)
		require.NoError(t, err)
		again, err := lib.Parse(data)
		require.NoError(t, err)
		assert.Equal(t, doc, again)
		assert.Equal(t, doc, doc.Clone())
		assert.Empty(t, build.Diff(doc, again))
	}
}

func TestNets(t *testing.T) {
	d := build.New("t", "classic-5v")
	d.Join("a.1", "b.1")
	d.Join("c.1", "d.1")
	assert.False(t, d.Joined("a.1", "d.1"))
	d.Join("b.1", "c.1")
	assert.True(t, d.Joined("a.1", "d.1"))
	assert.Len(t, d.Nets, 1)
	d.Free("b.1")
	d.Free("c.1")
	assert.True(t, d.Joined("a.1", "d.1"))
	d.Free("a.1")
	assert.Empty(t, d.Nets, "a net of one terminal is none")
}

func schema(t require.TestingT) *jsonschema.Schema {
	f, err := os.Open("../../../schema/build.schema.json")
	require.NoError(t, err)
	defer f.Close()
	doc, err := jsonschema.UnmarshalJSON(f)
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("build.json", doc))
	s, err := c.Compile("build.json")
	require.NoError(t, err)
	return s
}

func TestSchemaTakesTheDemo(t *testing.T) {
	s := schema(t)
	for _, d := range append(demo.Builds(), demo.Build{Name: "small", Data: []byte(small)}) {
		v, err := jsonschema.UnmarshalJSON(strings.NewReader(string(d.Data)))
		require.NoError(t, err)
		assert.NoError(t, s.Validate(v), d.Name)
	}
	v, err := jsonschema.UnmarshalJSON(strings.NewReader(string(change(t, `"pin":"D4"`, `"pen":"D4"`))))
	require.NoError(t, err)
	assert.Error(t, s.Validate(v))
}

// What is read as a build is also a build by its schema, and nothing panics.
func FuzzParse(f *testing.F) {
	f.Add([]byte(small))
	for _, d := range demo.Builds() {
		f.Add(d.Data)
	}
	s := schema(f)
	f.Fuzz(func(t *testing.T, data []byte) {
		doc, err := lib.Parse(data)
		if err != nil {
			return
		}
		written, err := json.Marshal(doc)
		require.NoError(t, err)
		v, err := jsonschema.UnmarshalJSON(strings.NewReader(string(written)))
		require.NoError(t, err)
		require.NoError(t, s.Validate(v), "%s", written)
	})
}

// The shipped boards and kinds hold together.
func TestLibrary(t *testing.T) {
	require.NotEmpty(t, lib.Boards)
	for _, kind := range lib.Catalogue.Kinds {
		for _, h := range kind.Hookups {
			assert.GreaterOrEqual(t, len(h.Row), 3, h.ID)
			assert.Contains(t, h.Row, "self", h.ID)
			for _, helper := range h.Helpers {
				_, ok := lib.Catalogue.Kind(helper.Kind)
				assert.True(t, ok, "%s: %s", h.ID, helper.Kind)
			}
		}
		for _, v := range kind.Values {
			if v.Default.IsZero() {
				for _, typ := range kind.Types {
					assert.NoError(t, typ.Values[v.ID].Check(), "%s %s %s", kind.ID, typ.ID, v.ID)
				}
				continue
			}
			assert.NoError(t, v.Default.Check(), "%s %s", kind.ID, v.ID)
			assert.GreaterOrEqual(t, v.Default.Typ, v.Min)
			assert.LessOrEqual(t, v.Default.Typ, v.Max)
		}
	}
}

func TestABoardOfTheBuilderMeetsTheSameChecks(t *testing.T) {
	good, err := json.Marshal(lib.Boards[0])
	require.NoError(t, err)
	_, err = board.Parse(strings.NewReader(string(good)))
	require.NoError(t, err)
	for old, c := range map[string]struct{ new, says string }{
		`"cablaggio.board/1"`:        {`"cablaggio.board/7"`, "this program reads"},
		`"functions":["digital-out"`: {`"functions":["telepathy"`, "is not a function"},
		`"rail":"5V"`:                {`"rail":"12V"`, "is not one of the rails"},
		`"name":"D0"`:                {`"name":"D1"`, "names of their own"},
		`"low":15,"typ":25`:          {`"low":35,"typ":25`, "in this order"},
		`"places":["–"`:              {`"places":["–","–"`, ""},
		`"D0"]`:                      {`"X"]`, "no place on a header"},
	} {
		require.Contains(t, string(good), old)
		_, err := board.Parse(strings.NewReader(strings.Replace(string(good), old, c.new, 1)))
		if c.says == "" {
			assert.NoError(t, err)
			continue
		}
		assert.ErrorContains(t, err, c.says)
	}
}
