package toolchain

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What stands in a comment, in a text or in a preprocessor line is no code.
func TestBare(t *testing.T) {
	for text, want := range map[string]string{
		"a // b {\nc":            "a       \nc",
		"a /* { */ b":            "a         b",
		"a /* {\n} */ b":         "a     \n     b",
		"a /* never ends {":      "a                ",
		`f("{"); g`:              `f(   ); g`,
		`f("\"{"); g`:            `f(     ); g`,
		`c = '{'; d`:             `c =    ; d`,
		"x = \"open\n}":          "x =      \n}",
		"#define F() {\ng":       "             \ng",
		"  #define F \\\n {\n g": "             \n  \n g",
		"a # b":                  "a # b",
		"long n = 60'000; f(){}": "long n = 60'000; f(){}",
		`s = R"(} " {)"; f`:      `s =           ; f`,
	} {
		assert.Equal(t, want, bare(text), "%q", text)
	}
}

// A function is called above where it is defined: its declaration says what its definition does,
// but for what is given where nothing is said, which C++ allows in one of them only.
func TestDeclaration(t *testing.T) {
	for text, want := range map[string]string{
		"void f() {}":                                          "void f();",
		"int f(int a, int b) { return a; }":                    "int f(int a, int b);",
		"unsigned long f (int a)\n{\n}":                        "unsigned long f(int a);",
		"const char *f(int a) { return 0; }":                   "const char *f(int a);",
		"static bool f(int (&a)[3]) { return a[0]; }":          "static bool f(int (&a)[3]);",
		"void f(int a = 3, int b = 4) {}":                      "void f(int a, int b);",
		"void f(const char* a = \"x, y\", int b = 1) {}":       "void f(const char* a, int b);",
		"void f(int a = g(1, 2), int b = 4) {}":                "void f(int a, int b);",
		"int k = 3;\nint pins[] = {1, 2};\nvoid f(int a) {}":   "void f(int a);",
		"struct S { int f() { return 1; } };\nvoid f() {}":     "void f();",
		"// void f(int wrong) {}\nvoid f() {}":                 "void f();",
		"void g() { if (f()) { } }\nbool f() { return true; }": "bool f();",
		"void g() { }":                        "",
		"struct S { int f() { return 1; } };": "",
		"int f = 3;":                          "",
		"auto f = [](int a) { return a; };":   "",
		"enum f { a, b };":                    "",
	} {
		assert.Equal(t, want, declaration(text, "f"), "%q", text)
	}
}

func TestFirstFunction(t *testing.T) {
	for text, want := range map[string]string{
		"int a = 1;\nvoid setup() {}\nvoid loop() {}": "void setup() {}\nvoid loop() {}",
		"/* void f() {} */ void g() {}":               "void g() {}",
		"struct S { void f() {} };\nS s;\nint g(){}":  "int g(){}",
		"int pins[] = {1, 2};\n":                      "",
		"":                                            "",
	} {
		assert.Equal(t, want, text[firstFunction(text):], "%q", text)
	}
}

// Whatever is typed, what is left has the lines of what was typed, and each at its place.
func FuzzBare(f *testing.F) {
	for _, s := range []string{"a // b", "/*", "\"", "'\\", "#\\\n\\\n", "R\"x(", "1'0", "void f(int a = \"", "{{}", "}{"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, text string) {
		b := bare(text)
		if len(b) != len(text) || strings.Count(b, "\n") != strings.Count(text, "\n") {
			t.Fatalf("%q became %q", text, b)
		}
		if at := firstFunction(text); at < 0 || at > len(text) {
			t.Fatalf("the first function of %q at %d", text, at)
		}
		declaration(text, "f")
	})
}
