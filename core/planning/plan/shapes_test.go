package plan_test

import (
	"encoding/json"
	"fmt"
	"reflect"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// filled is an edit of a shape with something in every field.
func filled(s plan.Shape) plan.Edit {
	v := reflect.New(s.Of).Elem()
	for i := range v.NumField() {
		f := v.Field(i)
		switch f.Interface().(type) {
		case string, build.Terminal, board.Pull:
			f.SetString("led1.anode")
		case int:
			f.SetInt(3)
		case time.Time:
			f.Set(reflect.ValueOf(time.Unix(7, 0).UTC()))
		default:
			f.Set(reflect.New(f.Type().Elem()))
		}
	}
	return v.Interface().(plan.Edit)
}

// Every edit comes back out of JSON as it went in, bare and with all that it takes; what it does not
// take, and what it needs, is said.
func TestShapes(t *testing.T) {
	doc := build.New("t", "classic-5v")
	ops := map[string]bool{}
	for _, s := range plan.Shapes() {
		assert.False(t, ops[s.Op], s.Op)
		ops[s.Op] = true
		bare := reflect.Zero(s.Of).Interface().(plan.Edit)
		in := plan.Edits{filled(s), bare}
		data, err := json.Marshal(in)
		require.NoError(t, err)
		var fields []map[string]any
		require.NoError(t, json.Unmarshal(data, &fields))
		assert.Equal(t, s.Op, fields[0]["op"])
		assert.Len(t, fields[0], 1+len(s.Needs)+len(s.May), s.Op)
		var out plan.Edits
		require.NoError(t, json.Unmarshal(data, &out), string(data))
		assert.Equal(t, in, out)
		require.NoError(t, json.Unmarshal(fmt.Appendf(nil, `[{"op":%q,"taste":"sweet"}]`, s.Op), &out))
		_, _, err = plan.Apply(lib, doc, out)
		assert.ErrorContains(t, err, fmt.Sprintf(`the edit %q takes no "taste"; it takes`, s.Op))
		if len(s.Needs) > 0 {
			_, _, err = plan.Apply(lib, doc, plan.Edits{bare})
			assert.Error(t, err, s.Op)
		}
	}
	for text, says := range map[string]string{
		`[{"op":"explode","part":"led1"}]`:         `there is no edit "explode"`,
		`[{"part":"led1"}]`:                        "an edit says what it does, in its op",
		`[{"op":"flip","part":"led1","pin":"D4"}]`: `the edit "flip" takes no "pin"; it takes part`,
		`[{"op":"insert","text":"1k"}]`:            `the edit "insert" needs "terminal"; it takes terminal, text`,
		`[{"op":"flip","part":"","pin":""}]`:       `there is no part "" any more`,
	} {
		var edits plan.Edits
		require.NoError(t, json.Unmarshal([]byte(text), &edits), text)
		_, _, err := plan.Apply(lib, doc, edits)
		assert.ErrorContains(t, err, says)
		_, err = json.Marshal(edits)
		assert.NoError(t, err, "it is written down all the same")
	}
	for _, text := range []string{`[{"op":5}]`, `[{"op":"flip","part":5}]`, `{}`, `["flip"]`, `[null`} {
		assert.Error(t, json.Unmarshal([]byte(text), new(plan.Edits)), text)
	}
}

// What an edit is about is the part that it names, by itself or by a leg.
func TestPartOf(t *testing.T) {
	for want, e := range map[string]plan.Edit{
		"led1": plan.Free{Terminal: "led1.anode"}, "led2": plan.Flip{Part: "led2"}, "led3": plan.Join{Terminal: "led3.anode", To: "board.GND"},
	} {
		assert.Equal(t, want, plan.PartOf(e))
	}
	for _, e := range []plan.Edit{plan.Free{Terminal: "board.D4"}, plan.Assign{}, plan.Title{Name: "t"}, plan.BuiltLeg{Text: "led1.anode a1"}} {
		assert.Empty(t, plan.PartOf(e), "%T", e)
	}
}
