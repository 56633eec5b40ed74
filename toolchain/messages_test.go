package toolchain

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/running/program"
)

// What the compiler prints, as it printed it, becomes messages: a change is taken with its
// message or with the one note that says what was meant, and of several changes none.
func TestMessages(t *testing.T) {
	for name, c := range map[string]struct {
		printed string
		want    []program.Message
	}{
		"nothing": {"", nil},
		"a semicolon": {
			"program.cpp:3:14: error: expected ';' after expression\n" +
				"    3 |   delay(500)\n" +
				"fix-it:\"program.cpp\":{3:14-3:14}:\";\"\n" +
				"1 error generated.\n",
			[]program.Message{{Line: 3, Column: 14, Wrong: true, Said: "expected ';' after expression", Replace: &program.Replace{Line: 3, Column: 14, ToLine: 3, ToColumn: 14, With: ";"}}},
		},
		"one = for two": {
			"program.cpp:4:12: warning: using the result of an assignment as a condition without parentheses [-Wparentheses]\n" +
				"program.cpp:4:12: note: place parentheses around the assignment to silence this warning\n" +
				"fix-it:\"program.cpp\":{4:7-4:7}:\"(\"\n" +
				"fix-it:\"program.cpp\":{4:19-4:19}:\")\"\n" +
				"program.cpp:4:12: note: use '==' to turn this assignment into an equality comparison\n" +
				"fix-it:\"program.cpp\":{4:12-4:13}:\"==\"\n",
			[]program.Message{{Line: 4, Column: 12, Said: "using the result of an assignment as a condition without parentheses", Option: "parentheses", Replace: &program.Replace{Line: 4, Column: 12, ToLine: 4, ToColumn: 13, With: "=="}}},
		},
		"two changes at once": {
			"program.cpp:4:1: error: no\nfix-it:\"program.cpp\":{4:1-4:1}:\"(\"\nfix-it:\"program.cpp\":{4:9-4:9}:\")\"\n",
			[]program.Message{{Line: 4, Column: 1, Wrong: true, Said: "no"}},
		},
		"quotes in a change": {
			"program.cpp:1:5: fatal error: no\nfix-it:\"program.cpp\":{1:5-1:9}:\"\\\"on\\\"\"\n",
			[]program.Message{{Line: 1, Column: 5, Wrong: true, Said: "no", Replace: &program.Replace{Line: 1, Column: 5, ToLine: 1, ToColumn: 9, With: `"on"`}}},
		},
		"within a header of ours": {
			"/somewhere/program.h:20:3: error: no\nprogram.cpp:2:1: note: here\n",
			[]program.Message{{Column: 3, Wrong: true, Said: "no"}},
		},
		"a change of nobody": {"fix-it:\"program.cpp\":{4:1-4:1}:\"(\"\nprogram.cpp:0: error\n", nil},
	} {
		assert.Equal(t, c.want, messages(c.printed), name)
	}
}

func FuzzMessages(f *testing.F) {
	f.Add("program.cpp:3:14: error: no [-Wa]\nfix-it:\"program.cpp\":{3:14-3:14}:\";\"\n")
	f.Add("a:99999999999999999999:1: note: b\nfix-it:\"\":{1:1-1:1}:\"\\\"")
	f.Fuzz(func(t *testing.T, printed string) {
		if n := len(messages(printed)); n > 1+strings.Count(printed, "\n") {
			t.Fatalf("%d messages of %q", n, printed)
		}
	})
}
