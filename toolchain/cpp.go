package toolchain

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"maps"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
	"cablaggio/toolchain/sandbox"
)

// Debian's packages for C++, and where they put things.
const (
	llvm     = "/usr/lib/llvm-19"
	clang    = llvm + "/bin/clang"
	linker   = llvm + "/bin/lld"
	libc     = "/usr/lib/wasm32-wasi/libc.a"
	builtins = llvm + "/lib/clang/19/lib/wasi/libclang_rt.builtins-wasm32.a"
)

// cppCalls bounds the calls of one run: some seconds of a processor, and of a program that
// polls without a pause some seconds of a board.
const cppCalls = 1_500_000

var cppPackages = []string{"clang-19", "lld-19", "wasi-libc", "libclang-rt-19-dev-wasm32"}

// machineFlags compile for the machine. Loops without an end stay: here they are ended. What
// nothing was put into is nothing, so that every computer gives the same answers.
var machineFlags = []string{
	"--target=wasm32-wasi", "-O1", "-g1", "-flto", "-fno-exceptions", "-fno-rtti", "-fno-finite-loops", "-fvisibility=hidden", "-ftrivial-auto-var-init=zero",
}

// language is how every pass reads the source.
func language(home string) []string {
	return []string{
		"--driver-mode=g++", "-x", "c++", "-std=gnu++17", "-nostdinc", "-nostdinc++", "-fno-color-diagnostics",
		"-isystem", filepath.Join(home, "cpp", "include"), "-isystem", llvm + "/lib/clang/19/include",
	}
}

// language is how every pass reads the program. A header of the builder's is found beside
// it, and never in place of one of ours.
func (t *translation) language() []string {
	return append(language(t.home),
		"-isystem", filepath.Join(t.dir, pinsDir), "-iquote", t.dir, "-idirafter", filepath.Join(t.dir, ownDir),
		"-include", filepath.Join(t.home, "cpp", "include", "program.h"),
	)
}

const (
	pinsDir = "pins" // the folder of the names of the board's pins
	ownDir  = "own"  // the folder of the builder's headers that have no name of ours
)

// job is a run of a tool on the files of a folder.
func job(tool, home, dir string, args []string) sandbox.Job {
	return sandbox.Job{
		Program: tool, Args: args, Dir: dir, Read: []string{"/usr/lib", "/lib", "/lib64", "/etc/ld.so.cache", home},
		CPU: 5 * time.Second, Wall: 10 * time.Second, Memory: 2 << 30, File: 8 << 20,
	}
}

// makeRuntime compiles what stands behind the calls. It is ours, and needs no sandbox's
// patience, but gets it all the same.
func makeRuntime(home string) error {
	dir := filepath.Join(home, "cpp")
	// Which pins a board has differs from board to board; here they do not matter.
	if err := os.WriteFile(filepath.Join(dir, "pins.h"), []byte("enum { INTERRUPTS_ = 0 };\nconstexpr int interrupts_[] = {-1};\n"), 0o600); err != nil {
		return err
	}
	args := slices.Concat(machineFlags, language(home), []string{"-isystem", dir, "-c", filepath.Join(dir, "runtime.cpp"), "-o", filepath.Join(dir, "runtime.o")})
	r, err := job(clang, home, dir, args).Run(context.Background(), nil)
	if err != nil || r.Code != 0 {
		return fmt.Errorf("compiling what programs stand on: %w\n%s", err, r.Err)
	}
	return os.Remove(filepath.Join(dir, "pins.h"))
}

// A translation is one program on its way through the compiler.
type translation struct {
	home, dir string
	source    *build.Program
	board     *board.Profile
	narrow    bool              // an int has 16 bits
	absent    []string          // libraries that are not there
	ahead     map[string]string // functions used before they are defined: their declarations
}

func compileCPP(ctx context.Context, home string, p *build.Program, b *board.Profile) (*program.Compiled, error) {
	for _, file := range []string{clang, linker, libc, builtins} {
		if _, err := os.Stat(file); err != nil {
			return nil, Missing{p.Language, cppPackages}
		}
	}
	if _, err := os.Stat(filepath.Join(home, "cpp", "runtime.o")); err != nil {
		if err := makeRuntime(home); err != nil { // it was installed since
			return nil, err
		}
	}
	dir, err := os.MkdirTemp("", "cablaggio-program-")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	t := &translation{home: home, dir: dir, source: p, board: b, narrow: b.Programs().Int == 16, ahead: map[string]string{}}
	if err := t.lay(); err != nil {
		return nil, err
	}
	return t.translate(ctx)
}

// lay writes the files of the program, and the names of the board's pins.
func (t *translation) lay() error {
	var pins strings.Builder
	for _, pin := range t.board.Pins {
		if name := t.board.InCode(pin.Name); strings.HasPrefix(name, "A") {
			fmt.Fprintf(&pins, "static const uint8_t %s = %d;\n", name, t.board.Number(pin.Name))
		}
	}
	if own, ok := t.board.OwnLED(); ok {
		fmt.Fprintf(&pins, "#define LED_BUILTIN %d\n", t.board.Number(own.Name))
	}
	var numbers []string
	for _, name := range t.board.Programs().Interrupts {
		numbers = append(numbers, strconv.Itoa(t.board.Number(name)))
	}
	fmt.Fprintf(&pins, "enum { INTERRUPTS_ = %d };\nconstexpr int interrupts_[] = {%s};\n", len(numbers), strings.Join(append(numbers, "-1"), ", "))
	pins.WriteString(t.ports())
	for width := 3; width <= 8; width++ { // B101; shorter ones are names that builders give
		for v := range 1 << width {
			fmt.Fprintf(&pins, "#define B%0*b %d\n", width, v, v)
		}
	}
	for _, folder := range []string{pinsDir, ownDir} {
		if err := os.Mkdir(filepath.Join(t.dir, folder), 0o700); err != nil {
			return err
		}
	}
	files := map[string]string{filepath.Join(pinsDir, "pins.h"): pins.String()}
	for i, f := range t.source.Files {
		if strings.HasSuffix(f.Name, ".h") {
			files[f.Name] = fmt.Sprintf("#line %d %q\n%s", 1+(i+1)*build.LineStep, f.Name, f.Text)
		}
	}
	for name, text := range files {
		if err := os.WriteFile(filepath.Join(t.dir, name), []byte(text), 0o600); err != nil {
			return err
		}
		if strings.HasPrefix(name, pinsDir) || t.ours(name) {
			continue
		}
		// The same file under two names, so that what is to be read once is.
		if err := os.Link(filepath.Join(t.dir, name), filepath.Join(t.dir, ownDir, name)); err != nil {
			return err
		}
	}
	return nil
}

// ports defines the registers of the board's ports, and what their bits are called.
func (t *translation) ports() string {
	var out strings.Builder
	for _, letter := range slices.Sorted(maps.Keys(t.board.Programs().Ports)) {
		list := make([]string, 8)
		for i := range list {
			list[i] = "-1"
		}
		for i, name := range t.board.Programs().Ports[letter] {
			if name != "" {
				list[i] = strconv.Itoa(t.board.Number(name))
			}
		}
		fmt.Fprintf(&out, "static const int8_t port%s_[] = {%s};\nstatic uint8_t port%s_is_[2];\n", letter, strings.Join(list, ", "), letter)
		for _, r := range []struct {
			name string
			kind byte
		}{{"DDR", 'D'}, {"PORT", 'P'}, {"PIN", 'I'}} {
			fmt.Fprintf(&out, "#define %s%s (Port_{port%s_, port%s_is_, '%c', __LINE__})\n", r.name, letter, letter, letter, r.kind)
		}
		for i := range list {
			for _, name := range []string{"P", "DD", "PORT", "PIN"} {
				fmt.Fprintf(&out, "#define %s%s%d %d\n", name, letter, i, i)
			}
		}
	}
	return out.String()
}

// ours reports whether a header has the name of one that programs stand on.
func (t *translation) ours(name string) bool {
	return slices.ContainsFunc([]string{filepath.Join(t.home, "cpp", "include"), llvm + "/lib/clang/19/include", filepath.Join(t.dir, pinsDir)}, func(dir string) bool {
		_, err := os.Stat(filepath.Join(dir, name))
		return err == nil
	})
}

// text is the whole program as one file, with declarations of what is used too early. They
// stand on the line of the first function, so that every line keeps its number.
func (t *translation) text() string {
	main := t.source.Text
	if len(t.ahead) > 0 {
		at := firstFunction(main)
		early := slices.Sorted(maps.Values(t.ahead))
		main = main[:at] + strings.Join(early, " ") + " " + main[at:]
	}
	var out strings.Builder
	out.WriteString(main)
	for i, f := range t.source.Files {
		if strings.HasSuffix(f.Name, ".cpp") {
			fmt.Fprintf(&out, "\n#line %d %q\n%s", 1+(i+1)*build.LineStep, f.Name, f.Text)
		}
	}
	out.WriteByte('\n')
	return out.String()
}

const maxRetries = 4 // for libraries that are not there, and functions used too early

// translate goes through the passes, again when something could be put right that boards' own
// tools put right too.
func (t *translation) translate(ctx context.Context) (*program.Compiled, error) {
	for try := 0; ; try++ {
		text := t.text()
		if err := os.WriteFile(filepath.Join(t.dir, "program.cpp"), []byte(text), 0o600); err != nil {
			return nil, err
		}
		// The messages and the tree come from the program as it is; meanwhile it is compiled.
		var said []program.Message
		var errSaid, errMade error
		var made *program.Compiled
		var wait sync.WaitGroup
		wait.Go(func() { said, errSaid = t.diagnose(ctx) })
		made, errMade = t.build(ctx, text)
		wait.Wait()
		if err := errors.Join(errSaid, ctx.Err()); err != nil {
			return nil, err
		}
		wrong := slices.ContainsFunc(said, func(m program.Message) bool { return m.Wrong })
		if wrong && try < maxRetries && t.mend(said) {
			continue
		}
		said = append(t.missing(wrong), said...)
		if wrong {
			return &program.Compiled{Messages: program.Explain(t.source, said)}, nil
		}
		switch {
		case errors.Is(errMade, errNotCompiled):
			return &program.Compiled{Messages: program.Explain(t.source, append(said, t.unlinked(errMade.Error())...))}, nil
		case errMade != nil:
			return nil, errMade
		}
		made.Messages = program.Explain(t.source, append(said, made.Messages...))
		return made, nil
	}
}

// warnings are those that say something about a program of this sort.
var warnings = []string{
	"-Wall", "-Wextra", "-Wno-unused-parameter", "-Wno-unused-variable", "-Wno-unused-function", "-Wno-unused-but-set-variable", "-Wno-sign-compare",
	"-Wno-missing-field-initializers", "-Wno-char-subscripts", "-Wno-writable-strings", "-Wno-deprecated-register", "-Wno-c++11-narrowing",
	"-Wimplicit-fallthrough", "-Wimplicit-int-conversion", "-Wconstant-conversion", "-Wfloat-conversion", "-Wno-unknown-pragmas",
}

// target is the machine whose int the messages are about.
func (t *translation) target() []string {
	if t.narrow {
		return []string{"--target=avr", "-mmcu=avr5"}
	}
	return []string{"--target=wasm32-wasi"}
}

// diagnose asks what the compiler has to say of the program as it was written.
func (t *translation) diagnose(ctx context.Context) ([]program.Message, error) {
	args := slices.Concat(t.target(), t.language(), warnings, []string{
		"-fsyntax-only", "-fdiagnostics-parseable-fixits", "-ferror-limit=20", "-ftemplate-depth=64", "-fconstexpr-steps=100000", "-fbracket-depth=128",
		"program.cpp",
	})
	r, err := job(clang, t.home, t.dir, args).Run(ctx, nil)
	switch {
	case endless(err) || err == nil && r.Code == -1:
		return []program.Message{{Wrong: true, Said: "the compiler did not come to an end"}}, nil
	case err != nil:
		return nil, err
	}
	said := messages(string(r.Err))
	if r.Code != 0 && !slices.ContainsFunc(said, func(m program.Message) bool { return m.Wrong }) {
		return []program.Message{{Wrong: true, Said: "the compiler did not come to an end"}}, nil
	}
	return said, nil
}

var (
	diagnostic = regexp.MustCompile(`^([^:\s]+):(\d+):(\d+): (fatal error|error|warning|note): (.*?)(?: \[-W([^\]]+)\])?$`)
	fixit      = regexp.MustCompile(`^fix-it:"([^"]+)":\{(\d+):(\d+)-(\d+):(\d+)\}:"(.*)"$`)
)

// messages reads what the compiler printed. A change that it proposes is taken with the
// message, or with the one note that says what was meant; of several, none.
func messages(printed string) []program.Message {
	var out []program.Message
	proposals := 0
	for line := range strings.SplitSeq(printed, "\n") {
		if m := diagnostic.FindStringSubmatch(line); m != nil {
			if m[4] == "note" {
				if len(out) == 0 || out[len(out)-1].Replace != nil || !strings.HasPrefix(m[5], "use '==' to turn") {
					proposals = 2 // of a note that is not meant
				} else {
					proposals = 0
				}
				continue
			}
			number, column := atoi(m[2]), atoi(m[3])
			if strings.HasPrefix(m[1], "/") { // a file of ours
				number = 0
			}
			out = append(out, program.Message{Line: number, Column: column, Wrong: m[4] != "warning", Said: m[5], Option: m[6]})
			proposals = 0
			continue
		}
		m := fixit.FindStringSubmatch(line)
		if m == nil || len(out) == 0 {
			continue
		}
		last := &out[len(out)-1]
		with, err := strconv.Unquote(`"` + m[6] + `"`)
		switch proposals++; {
		case proposals == 1 && err == nil && last.Line < build.LineStep:
			last.Replace = &program.Replace{Line: atoi(m[2]), Column: atoi(m[3]), ToLine: atoi(m[4]), ToColumn: atoi(m[5]), With: with}
		case proposals == 2:
			last.Replace = nil
		}
	}
	// What goes wrong in what stands behind the program follows from something in it.
	within := func(m program.Message) bool { return m.Wrong && m.Line > 0 }
	if slices.ContainsFunc(out, within) {
		out = slices.DeleteFunc(out, func(m program.Message) bool { return m.Wrong && !within(m) })
	}
	return out
}

func atoi(s string) int {
	n, _ := strconv.Atoi(s) // of digits
	return n
}

var (
	noFile    = regexp.MustCompile(`^'([^']+)' file not found`)
	noName    = regexp.MustCompile(`^use of undeclared identifier '(\w+)'`)
	plainFile = regexp.MustCompile(`^(?:[A-Za-z0-9_]+/)?[A-Za-z0-9_][A-Za-z0-9_.-]*\.h$`)
)

// mend puts right what it can: an empty file for a library that is not there, for the program
// may not need it; and a declaration of a function that is used before it is defined.
func (t *translation) mend(said []program.Message) bool {
	mended := false
	for _, m := range said {
		if f := noFile.FindStringSubmatch(m.Said); f != nil && plainFile.MatchString(f[1]) && !slices.Contains(t.absent, f[1]) {
			file := filepath.Join(t.dir, ownDir, f[1])
			if os.MkdirAll(filepath.Dir(file), 0o700) == nil && os.WriteFile(file, nil, 0o600) == nil {
				t.absent = append(t.absent, f[1])
				mended = true
			}
		}
		if f := noName.FindStringSubmatch(m.Said); f != nil && t.ahead[f[1]] == "" {
			if d := declaration(t.source.Text, f[1]); d != "" {
				t.ahead[f[1]] = d
				mended = true
			}
		}
	}
	return mended
}

// missing says which libraries are not there, and whether that matters.
func (t *translation) missing(wrong bool) []program.Message {
	var out []program.Message
	for _, name := range t.absent {
		line := 1 + strings.Count(t.source.Text[:max(0, strings.Index(t.source.Text, name))], "\n")
		out = append(out, program.Message{Line: line, Wrong: wrong, Said: "'" + name + "' file not found", Option: program.AbsentLibrary})
	}
	return out
}

// build makes the program that is run, and reads its tree.
func (t *translation) build(ctx context.Context, text string) (*program.Compiled, error) {
	plain := text
	if t.narrow && strings.Contains(text, "#") {
		// What macros hide is arithmetic too.
		args := slices.Concat(t.target(), t.language(), []string{"-E", "-w", "program.cpp"})
		r, err := job(clang, t.home, t.dir, args).Run(ctx, nil)
		if err == nil && r.Code != 0 || endless(err) {
			return nil, errNotCompiled
		}
		if err != nil {
			return nil, err
		}
		plain = ownPart(string(r.Out))
	}
	wrapped := "namespace " + treeRoot + " {\n#line 1 \"program.cpp\"\n" + plain + "\n}\n"
	if err := os.WriteFile(filepath.Join(t.dir, "tree.cpp"), []byte(wrapped), 0o600); err != nil {
		return nil, err
	}
	out := &program.Compiled{}
	grow := func() (*tree, error) {
		args := slices.Concat(t.target(), t.language(), []string{
			"-fsyntax-only", "-w", "-Xclang", "-ast-dump=json", "-Xclang", "-ast-dump-filter=" + treeRoot, "tree.cpp",
		})
		r, err := job(clang, t.home, t.dir, args).Run(ctx, nil)
		if endless(err) {
			return nil, errNotCompiled
		}
		if err != nil {
			return nil, err
		}
		return parseTree(wrapped, r.Out)
	}
	var grown *tree
	var errTree error
	if t.narrow {
		if grown, errTree = grow(); errTree != nil {
			return nil, errTree
		}
		text = grown.narrowed()
	}
	var wait sync.WaitGroup
	if !t.narrow {
		wait.Go(func() { grown, errTree = grow() })
	}
	code, err := t.link(ctx, text)
	wait.Wait()
	if err := errors.Join(err, errTree); err != nil {
		return nil, err
	}
	out.Tree = grown.facts()
	out.Messages = append(out.Messages, slices.Concat(grown.anews(), grown.halves(), grown.zeros(), grown.levels(), grown.compared(t.board.Logic.Analog.Full()))...)
	out.Program, out.Calls = machine.NewWasm(code), cppCalls
	return out, nil
}

// ownPart is what the preprocessor made of the program itself, without what stands before it.
func ownPart(text string) string {
	const mark = "# 1 \"program.cpp\""
	i := strings.LastIndex(text, mark)
	if i < 0 {
		return text
	}
	// Without the flags that count on what stood before.
	return lineMarker.ReplaceAllString(text[i:], "#line $1 $2")
}

var lineMarker = regexp.MustCompile(`(?m)^# (\d+) ("[^"]*").*$`)

var errNotCompiled = errors.New("the program does not compile")

// checks are of arithmetic and memory, while the program runs.
const checks = "-fsanitize=array-bounds,integer-divide-by-zero,shift,signed-integer-overflow,implicit-integer-truncation,return,null"

// endless reports whether a job came to no end of its own.
func endless(err error) bool {
	return errors.Is(err, sandbox.ErrSlow) || errors.Is(err, sandbox.ErrTooMuch)
}

var noSymbol = regexp.MustCompile(`undefined symbol: ([\w:~]+)`)

// unlinked is what the linker says is missing; where it says nothing, the compiler came to no end.
func (t *translation) unlinked(said string) (out []program.Message) {
	for _, m := range noSymbol.FindAllStringSubmatch(said, -1) {
		if other := regexp.MustCompile(`(?im)^\s*void\s+(` + regexp.QuoteMeta(m[1]) + `)\s*\(`).FindStringSubmatchIndex(t.source.Text); other != nil {
			from, to := other[2], other[3]
			before := t.source.Text[:from]
			line, column := 1+strings.Count(before, "\n"), from-strings.LastIndex(before, "\n")
			out = append(out, program.Message{
				Line: line, Column: column, Wrong: true, Said: fmt.Sprintf("there is '%s', and no '%s'", t.source.Text[from:to], m[1]),
				Replace: &program.Replace{Line: line, Column: column, ToLine: line, ToColumn: column + to - from, With: m[1]},
			})
			continue
		}
		text := "undefined symbol: " + m[1]
		if !slices.ContainsFunc(out, func(o program.Message) bool { return o.Said == text }) {
			out = append(out, program.Message{Wrong: true, Said: text})
		}
	}
	if len(out) == 0 {
		out = []program.Message{{Wrong: true, Said: "the compiler did not come to an end"}}
	}
	return out
}

// link compiles a text and links it with what it stands on.
func (t *translation) link(ctx context.Context, text string) ([]byte, error) {
	if err := os.WriteFile(filepath.Join(t.dir, "made.cpp"), []byte(text), 0o600); err != nil {
		return nil, err
	}
	args := slices.Concat(machineFlags, t.language(), []string{
		"-w", "-ftemplate-depth=64", "-fconstexpr-steps=100000", "-fsanitize-coverage=trace-pc,no-prune", checks,
		"-c", "made.cpp", "-o", "made.o",
	})
	r, err := job(clang, t.home, t.dir, args).Run(ctx, nil)
	if err == nil && r.Code != 0 || endless(err) {
		return nil, fmt.Errorf("%w: %s", errNotCompiled, bytes.TrimSpace(r.Err))
	}
	if err != nil {
		return nil, err
	}
	r, err = job(linker, t.home, t.dir, []string{
		"-flavor", "wasm", "--threads=1", "--lto-O1", "--no-entry", "--gc-sections", "--stack-first", "-z", "stack-size=65536",
		"--initial-memory=1048576", "--max-memory=1048576", "--export=__global_base", "--export=__heap_base",
		filepath.Join(t.home, "cpp", "runtime.o"), "made.o", libc, builtins, "-o", "made.wasm",
	}).Run(ctx, nil)
	if err == nil && r.Code != 0 || endless(err) {
		return nil, fmt.Errorf("%w: %s", errNotCompiled, bytes.TrimSpace(r.Err))
	}
	if err != nil {
		return nil, err
	}
	code, err := os.ReadFile(filepath.Join(t.dir, "made.wasm"))
	if err != nil {
		return nil, err
	}
	// A program may name what is to be imported itself.
	unknown, err := machine.NewWasm(code).Unknown(ctx)
	if err == nil && len(unknown) > 0 {
		err = fmt.Errorf("%w: undefined symbol: %s", errNotCompiled, unknown[0])
	}
	return code, err
}
