package machine

import (
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/tetratelabs/wazero"
	"github.com/tetratelabs/wazero/api"
)

// Wasm is a program compiled to WebAssembly against the calls of toolchain/cpp.
type Wasm struct {
	code []byte
}

// NewWasm returns the program of a module.
func NewWasm(code []byte) *Wasm { return &Wasm{code: code} }

// Unknown lists the calls that a module asks for and no board has, or not so.
func (w *Wasm) Unknown(ctx context.Context) (names []string, err error) {
	runtime := wazero.NewRuntimeWithConfig(ctx, wazero.NewRuntimeConfigInterpreter())
	defer func() { err = errors.Join(err, runtime.Close(context.WithoutCancel(ctx))) }()
	code, err := runtime.CompileModule(ctx, w.code)
	if err != nil {
		return nil, fmt.Errorf("this is not a program for the machine: %w", err)
	}
	for _, f := range code.ImportedFunctions() {
		module, name, _ := f.Import()
		if module != "board" {
			continue
		}
		takes, gives, _ := strings.Cut(hosts[name].takes, ":")
		if hosts[name].does == nil || !slices.Equal(f.ParamTypes(), types(takes)) || !slices.Equal(f.ResultTypes(), types(gives)) {
			names = append(names, name)
		}
	}
	return names, nil
}

// memoryPages bounds a program's memory, in pages of 64 KiB. It is more than any of the boards
// has; what a program takes beyond its board's is found otherwise.
const memoryPages = 16

// compiled keeps what was compiled of modules, by their contents.
var compiled = sync.OnceValue(wazero.NewCompilationCache)

// page is where the program and the board meet, as the struct of that name in program.h.
type page struct{ memory []byte }

const (
	pageNow    = 0
	pageNext   = 8
	pageBlock  = 16
	pageWrite  = 20
	pageRead   = 24
	pageClock  = 28
	pageLevel  = 32
	pageOut    = pageLevel + Pins
	pageReads  = pageOut + Pins
	pageWrites = pageReads + 8*Pins
	pageRounds = pageWrites + 8*Pins
	pageMillis = pageRounds + 4
	pageMicros = pageMillis + 4
	pageSize   = pageMicros + 4
)

func (p page) now() int64 { return int64(binary.LittleEndian.Uint64(p.memory[pageNow:])) }

// told remembers that a line was told of.
func (p page) told(at, pin, line int) {
	if uint(pin) >= Pins {
		return
	}
	m := p.memory[at+8*pin:]
	binary.LittleEndian.PutUint64(m, binary.LittleEndian.Uint64(m)|1<<(line&63))
}

// show writes what the program may know without asking.
func (p page) show(b *Board) {
	binary.LittleEndian.PutUint64(p.memory[pageNow:], uint64(b.now))
	binary.LittleEndian.PutUint64(p.memory[pageNext:], uint64(b.Next()))
	for _, pin := range b.changed {
		p.memory[pageLevel+pin] = byte(bit(b.level[pin]))
		p.memory[pageOut+pin] = 0
		if d := b.drives[pin]; d.Mode == Driven && !d.Pulsed() {
			p.memory[pageOut+pin] = 2 + byte(bit(d.Level))
		}
	}
	b.changed = b.changed[:0]
}

// A wasmRun is one run of a module.
type wasmRun struct {
	board *Board
	page  page
	over  error // what ended it, for an exit goes through the module
	round round
}

// exit ends the module from within a host function.
type exit struct{ err error }

func (e exit) Error() string { return "the board ends the run: " + e.err.Error() }

// host is what a call of the board does. It has the module's arguments and gives its result.
type host func(r *wasmRun, m api.Module, a []uint64) error

func arg(a []uint64, i int) int { return int(int32(uint32(a[i]))) }

// hosts are the calls, by the names that program.h has for them. I is an int, D a double, the
// result behind a colon.
var hosts = map[string]struct {
	takes string
	does  host
}{
	"sync":  {"I", func(r *wasmRun, _ api.Module, a []uint64) error { return r.board.Sync(r.page.now()) }},
	"round": {"", func(r *wasmRun, _ api.Module, _ []uint64) error { r.round.look(r.board, r.page); return nil }},
	"mode": {"III", func(r *wasmRun, _ api.Module, a []uint64) error {
		return r.board.SetMode(arg(a, 0), modeOf(arg(a, 1)), arg(a, 2))
	}},
	"write": {"III", func(r *wasmRun, _ api.Module, a []uint64) error {
		r.page.told(pageWrites, arg(a, 0), arg(a, 2))
		return r.board.SetLevel(arg(a, 0), arg(a, 1) != 0, arg(a, 2))
	}},
	"read": {"II:I", func(r *wasmRun, _ api.Module, a []uint64) error {
		r.page.told(pageReads, arg(a, 0), arg(a, 1))
		level, err := r.board.Level(arg(a, 0), arg(a, 1))
		a[0] = uint64(bit(level))
		return err
	}},
	"analog": {"II:I", func(r *wasmRun, _ api.Module, a []uint64) error {
		v, err := r.board.Reading(r.board.Channel(arg(a, 0)), 0, arg(a, 1))
		a[0] = uint64(uint32(v))
		return err
	}},
	"duty": {"III", func(r *wasmRun, _ api.Module, a []uint64) error {
		return r.board.SetDuty(arg(a, 0), arg(a, 1), 0, 0, arg(a, 2))
	}},
	"bits": {"III", func(r *wasmRun, _ api.Module, a []uint64) error { r.board.SetBits(arg(a, 0), arg(a, 1)); return nil }},
	"pause": {"DI", func(r *wasmRun, _ api.Module, a []uint64) error {
		return r.board.Pause(int64(api.DecodeF64(a[0])*1e3), arg(a, 1))
	}},
	"steer": {"IDI", func(r *wasmRun, _ api.Module, a []uint64) error {
		return r.board.Steer(arg(a, 0), api.DecodeF64(a[1]), arg(a, 2))
	}},
	"tone": {"IDDI", func(r *wasmRun, _ api.Module, a []uint64) error {
		return r.board.Tone(arg(a, 0), api.DecodeF64(a[1]), time.Duration(api.DecodeF64(a[2])*1e6), arg(a, 3))
	}},
	"attach": {"III", func(r *wasmRun, _ api.Module, a []uint64) error {
		return r.board.Attach(arg(a, 0), arg(a, 1), arg(a, 2))
	}},
	"quiet": {"II", func(r *wasmRun, _ api.Module, a []uint64) error { return r.board.Quiet(arg(a, 0) != 0) }},
	"begin": {"DI", func(r *wasmRun, _ api.Module, a []uint64) error { return r.board.Open(api.DecodeF64(a[0]), arg(a, 1)) }},
	"print": {"III", func(r *wasmRun, m api.Module, a []uint64) error {
		text, _ := m.Memory().Read(uint32(a[0]), uint32(a[1]))
		return r.board.Print(string(text), arg(a, 2))
	}},
	"available": {"I:I", func(r *wasmRun, _ api.Module, a []uint64) error {
		n, err := r.board.Waiting()
		a[0] = uint64(n)
		return err
	}},
	"receive": {"II:I", func(r *wasmRun, _ api.Module, a []uint64) error {
		c, err := r.board.Take(arg(a, 0) != 0)
		a[0] = uint64(uint32(int32(c)))
		return err
	}},
	"pulse": {"IIDI:D", func(r *wasmRun, _ api.Module, a []uint64) error {
		us, err := r.board.Pulse(arg(a, 0), arg(a, 1) != 0, time.Duration(api.DecodeF64(a[2])*1e3), arg(a, 3))
		a[0] = api.EncodeF64(us)
		return err
	}},
	"keep": {"II", func(r *wasmRun, _ api.Module, a []uint64) error { r.board.Keep(arg(a, 0), byte(a[1])); return nil }},
	"kept": {"I:I", func(r *wasmRun, _ api.Module, a []uint64) error {
		a[0] = uint64(r.board.Kept(arg(a, 0)))
		return nil
	}},
	"wrapped": {"III", func(r *wasmRun, _ api.Module, a []uint64) error {
		r.board.Wrap(arg(a, 0), arg(a, 1), arg(a, 2))
		return nil
	}},
	"fault": {"IIIII", func(r *wasmRun, m api.Module, a []uint64) error {
		what, _ := m.Memory().Read(uint32(a[0]), 16)
		name, _, _ := strings.Cut(string(what), "\x00")
		r.board.Wrong(name, float64(arg(a, 3)), float64(arg(a, 4)), arg(a, 1), arg(a, 2))
		if name == "memory" {
			return errors.New(outOfMemory)
		}
		return nil
	}},
}

// sets are the calls that change nothing when they set something to what it is.
var sets = []string{"mode", "write", "duty", "steer", "tone", "quiet"}

const outOfMemory = "memory"

// modeOf is the mode that a number of program.h stands for.
func modeOf(n int) Mode {
	switch n {
	case 1:
		return Driven
	case 2:
		return PulledUp
	case 3:
		return PulledDown
	}
	return LetGo
}

// Run implements [Program].
func (w *Wasm) Run(ctx context.Context, b *Board) (ending Ending, err error) {
	// What the program counts of its own time lies in its own memory, where it may write. So each
	// round of each loop, whoever wrote it, looks whether it is to end.
	config := wazero.NewRuntimeConfigCompiler().WithMemoryLimitPages(memoryPages).WithCompilationCache(compiled()).WithDebugInfoEnabled(true).WithCloseOnContextDone(true)
	runtime := wazero.NewRuntimeWithConfig(ctx, config)
	defer func() { err = errors.Join(err, runtime.Close(context.WithoutCancel(ctx))) }()
	r := &wasmRun{board: b}
	builder := runtime.NewHostModuleBuilder("board")
	for name, h := range hosts {
		counts, setting := name != "round", slices.Contains(sets, name)
		takes, gives, _ := strings.Cut(h.takes, ":")
		builder.NewFunctionBuilder().WithGoModuleFunction(api.GoModuleFunc(func(_ context.Context, m api.Module, a []uint64) {
			if r.over == nil && r.page.memory != nil {
				b.now = max(b.now, r.page.now())
			}
			deeds := b.deeds
			if err := h.does(r, m, a); err != nil {
				r.over = err
				panic(exit{err})
			}
			if counts && !(setting && deeds == b.deeds) {
				r.round.asked++
			}
			r.page.show(b)
		}), types(takes), types(gives)).Export(name)
	}
	if _, err := builder.Instantiate(ctx); err != nil {
		return Ending{}, err
	}
	code, err := runtime.CompileModule(ctx, w.code)
	if err != nil {
		return Ending{}, fmt.Errorf("this is not a program for the machine: %w", err)
	}
	if err := refuse(ctx, runtime, code); err != nil {
		return Ending{}, err
	}
	m, err := runtime.InstantiateModule(ctx, code, wazero.NewModuleConfig().WithStartFunctions())
	if err != nil {
		return Ending{}, err
	}
	at, err := m.ExportedFunction("page").Call(ctx)
	if err != nil {
		return Ending{}, err
	}
	memory, ok := m.Memory().Read(uint32(at[0]), pageSize)
	if !ok {
		return Ending{}, errors.New("the program's page lies outside its memory")
	}
	r.page = page{memory}
	for offset, cost := range map[int]int64{pageBlock: b.program.Costs.Step, pageWrite: b.program.Costs.Write, pageRead: b.program.Costs.Read, pageClock: b.program.Costs.Clock} {
		binary.LittleEndian.PutUint32(memory[offset:], uint32(cost))
	}
	r.round.own(m, int(at[0]), b.Steps)
	handler := m.ExportedFunction("interrupt")
	b.Begin(func(number int) error {
		r.page.show(b)
		_, err := handler.Call(ctx, uint64(number))
		b.now = max(b.now, r.page.now())
		return err
	})
	r.page.show(b)
	_, err = m.ExportedFunction("run").Call(ctx)
	if ctx.Err() != nil {
		return Ending{}, ctx.Err()
	}
	if r.over != nil && r.over.Error() != outOfMemory {
		err = r.over
	} else {
		b.Own(r.page.now()) // it has gone on by itself since it asked last
	}
	ending, crashed := b.Ended(err)
	if crashed {
		ending.What, ending.Line = crash(err)
	}
	return ending, nil
}

// refuse stands for what the C library would ask a system for, which there is none of: it is
// called where a program does what no board does, and breaks it off.
func refuse(ctx context.Context, runtime wazero.Runtime, code wazero.CompiledModule) error {
	builders := map[string]wazero.HostModuleBuilder{}
	for _, f := range code.ImportedFunctions() {
		module, name, _ := f.Import()
		if module == "board" {
			continue
		}
		if builders[module] == nil {
			builders[module] = runtime.NewHostModuleBuilder(module)
		}
		builders[module].NewFunctionBuilder().WithGoModuleFunction(api.GoModuleFunc(func(context.Context, api.Module, []uint64) {
			panic(errors.New("there is no system to ask for " + name))
		}), f.ParamTypes(), f.ResultTypes()).Export(name)
	}
	for _, b := range builders {
		if _, err := b.Instantiate(ctx); err != nil {
			return err
		}
	}
	return nil
}

func types(s string) []api.ValueType {
	out := make([]api.ValueType, len(s))
	for i, c := range s {
		out[i] = api.ValueTypeI32
		if c == 'D' {
			out[i] = api.ValueTypeF64
		}
	}
	return out
}

// crash says by a word why a module broke off, and the line where, if its debugging notes say.
func crash(err error) (what string, line int) {
	text := err.Error()
	for _, c := range []struct{ in, word string }{
		{"stack overflow", "recursion"},
		{"out of bounds memory", "bounds"},
		{"unreachable", "trap"},
		{"integer divide by zero", "division"},
		{outOfMemory, "memory"},
	} {
		if strings.Contains(text, c.in) {
			what = c.word
			break
		}
	}
	for l := range strings.SplitSeq(text, "\n") {
		if _, rest, ok := strings.Cut(l, "program.cpp:"); ok {
			if _, err := fmt.Sscanf(rest, "%d", &line); err == nil {
				break
			}
		}
	}
	return what, line
}
