package toolchain

import (
	"bufio"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"time"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
	"cablaggio/core/running/program"
	"cablaggio/toolchain/sandbox"
)

// python is Debian's interpreter.
const python = "/usr/bin/python3"

// pythonReceives finds what takes in what comes by the serial link.
var pythonReceives = regexp.MustCompile(`\binput\(|\bstdin\b|\busb_cdc\b|\bserial_bytes_available\b`)

// pythonCalls bounds the calls of one run: about two seconds of a processor.
const pythonCalls = 40_000

var pythonPackages = []string{"python3"}

// An interpreted is a program in Python. Each run is a process of its own.
type interpreted struct {
	home   string
	source *build.Program
	board  *board.Profile
	waits  bool // for every answer: a test holds that nothing differs
}

// ending is the last line of the interpreter.
type ending struct {
	How     string
	Said    string
	Line    int
	Column  int
	Text    string
	Name    string
	Meant   string
	Calls   []program.Call
	Absent  []program.Call
	Imports []program.Call
	Idle    []program.Call
	Notes   []struct {
		Said, Option string
		Line         int
	}
}

func compilePython(ctx context.Context, home string, p *build.Program, b *board.Profile) (*program.Compiled, error) {
	if _, err := os.Stat(python); err != nil {
		return nil, Missing{p.Language, pythonPackages}
	}
	run := &interpreted{home, p, b, false}
	end, err := run.speak(ctx, nil, time.Now().Add(10*time.Second), nil)
	switch {
	case errors.Is(err, sandbox.ErrSlow):
		return &program.Compiled{Messages: program.Explain(p, []program.Message{{Wrong: true, Said: "the compiler did not come to an end"}})}, nil
	case err != nil:
		return nil, err
	case end.How == "syntax":
		return &program.Compiled{Messages: program.Explain(p, []program.Message{{Line: end.Line, Column: end.Column, Wrong: true, Said: end.Said}})}, nil
	}
	out := &program.Compiled{Program: run, Calls: pythonCalls, Tree: program.Tree{Calls: end.Calls, Receives: pythonReceives.MatchString(p.Text)}}
	if strings.Contains(p.Text, "ticks_ms") {
		out.Tree.Clock = 1 << 30
	}
	for _, a := range end.Absent {
		out.Messages = append(out.Messages, program.Message{Line: a.Line, Wrong: true, Said: a.Name, Option: program.AbsentLibrary})
		out.Program = nil
	}
	for _, a := range end.Idle {
		out.Messages = append(out.Messages, program.Message{Line: a.Line, Said: "nothing is done: " + a.Name, Option: "idle"})
	}
	for _, n := range end.Notes {
		out.Messages = append(out.Messages, program.Message{Line: n.Line, Said: n.Said, Option: n.Option})
	}
	out.Messages = program.Explain(p, out.Messages)
	return out, nil
}

// Run implements [machine.Program].
func (r *interpreted) Run(ctx context.Context, b *machine.Board) (machine.Ending, error) {
	t := &talk{board: b}
	end, err := r.speak(ctx, t, b.Until, b)
	switch {
	case errors.Is(err, sandbox.ErrSlow):
		e, _ := b.Ended(nil)
		e.How = machine.Slow
		return e, nil
	case err != nil:
		return machine.Ending{}, err
	}
	if t.over != nil {
		e, _ := b.Ended(t.over)
		return e, nil
	}
	e, _ := b.Ended(nil)
	if end.How == "crash" {
		e.How, e.Line, e.What = machine.Crashed, end.Line, end.Said
		if end.Meant != "" {
			e.What += " (meant: " + end.Meant + ")"
		}
	}
	return e, nil
}

// setup is the first line that the interpreter gets.
func (r *interpreted) setup(b *machine.Board) ([]byte, error) {
	pins := map[string]int{}
	for i, pin := range r.board.Pins {
		n := r.board.Number(pin.Name)
		pins[pin.Name] = n
		if pin.Has(board.AnalogIn) && !strings.HasPrefix(pin.Name, "A") {
			// The channels of a converter have numbers of their own.
			pins[fmt.Sprintf("ADC%d", channel(r.board, i))] = n
			pins[fmt.Sprintf("A%d", channel(r.board, i))] = n
		}
	}
	led := -1
	if own, ok := r.board.OwnLED(); ok {
		led = r.board.Number(own.Name)
		pins["LED"] = led
	}
	reference, _ := r.board.Rail(r.board.Logic.Analog.Reference)
	c := r.board.Programs().Costs
	start := int64(0)
	if b != nil {
		start = b.Start
	}
	return json.Marshal(map[string]any{
		"text": r.source.Text, "language": r.source.Language, "pins": pins, "led": led, "now": start, "look": b == nil, "ahead": !r.waits,
		"microvolts": int(math.Round(reference.Volts.Typ * 1e6)),
		"costs":      map[string]int64{"statement": c.Statement, "call": c.Call, "read": c.Read, "write": c.Write, "clock": c.Clock},
	})
}

// channel is the number of the converter's channel that a pin is.
func channel(b *board.Profile, pin int) (n int) {
	for _, p := range b.Pins[:pin] {
		if p.Has(board.AnalogIn) {
			n++
		}
	}
	return n
}

// speak starts an interpreter and answers it until it ends. Without a talk it only looks at
// the program.
func (r *interpreted) speak(ctx context.Context, t *talk, until time.Time, b *machine.Board) (end ending, err error) {
	first, err := r.setup(b)
	if err != nil {
		return end, err
	}
	if until.IsZero() {
		until = time.Now().Add(time.Minute)
	}
	inner, cancel := context.WithDeadline(ctx, until.Add(100*time.Millisecond))
	defer cancel()
	script := filepath.Join(r.home, "python", "run.py")
	job := sandbox.Job{
		Program: python, Args: []string{"-I", "-S", "-B", script},
		Read: []string{"/usr/lib", "/lib", "/lib64", "/etc/ld.so.cache", r.home, "/dev/urandom"},
		CPU:  time.Until(until), Memory: 256 << 20, File: 0,
	}
	cmd, err := job.Command(inner)
	if err != nil {
		return end, err
	}
	in, err := cmd.StdinPipe()
	if err != nil {
		return end, err
	}
	out, err := cmd.StdoutPipe()
	if err != nil {
		return end, err
	}
	var errs strings.Builder
	cmd.Stderr = &limited{&errs, 4096}
	if err := cmd.Start(); err != nil {
		return end, err
	}
	finished := false
	defer func() {
		in.Close()
		if finished {
			cancel()
		}
		failed := cmd.Wait()
		switch {
		case finished:
		case ctx.Err() != nil:
			err = ctx.Err()
		case inner.Err() != nil:
			err = sandbox.ErrSlow
		case err == nil || errors.Is(err, io.EOF):
			err = errors.Join(sandbox.Failed(cmd.ProcessState.ExitCode(), []byte(errs.String())))
			if err == nil {
				// It broke off without a word: too much memory, for one.
				end, err = ending{How: "crash", Said: "MemoryError: "}, nil
			}
		}
		_ = failed
	}()
	w := bufio.NewWriter(in)
	w.Write(first)
	w.WriteByte('\n')
	if err := w.Flush(); err != nil {
		return end, nil
	}
	lines := bufio.NewReaderSize(out, 1<<16)
	if t != nil {
		t.in, t.out = lines, w
		t.board.Begin(t.interrupt)
	}
	for {
		line, err := lines.ReadString('\n')
		if err != nil {
			return end, nil
		}
		if rest, ok := strings.CutPrefix(line, "end "); ok {
			finished = true
			return end, json.Unmarshal([]byte(rest), &end)
		}
		if t == nil {
			continue
		}
		if err := t.answer(line); err != nil {
			return end, err
		}
		if t.over != nil {
			finished = true
			return end, nil
		}
	}
}

// A talk is the board's side of a conversation with an interpreter.
type talk struct {
	board *machine.Board
	in    *bufio.Reader
	out   *bufio.Writer
	over  error  // what ended the run
	line  []byte // room for an answer
}

// errGone is the error of an interpreter that went away in the middle of something.
var errGone = errors.New("the interpreter went away")

// reply sends an answer: its kind, the time, the time of the next thing, what the pins read,
// and a result.
func (t *talk) reply(kind string, result any) error {
	text := []byte("0")
	if result != 0 {
		var err error
		if text, err = json.Marshal(result); err != nil {
			return err
		}
	}
	b := append(t.line[:0], kind...)
	b = strconv.AppendInt(append(b, ' '), t.board.Now(), 10)
	b = strconv.AppendInt(append(b, ' '), t.board.Coming(), 10)
	b = append(append(append(append(b, ' '), t.board.Levels()...), ' '), text...)
	t.line = append(b, '\n')
	_, _ = t.out.Write(t.line) // an error comes again when it is flushed
	if kind == "a" && t.in.Buffered() > 0 {
		return nil // it does not wait for this one
	}
	return t.out.Flush()
}

// interrupt has the interpreter run a handler, and answers what that asks.
func (t *talk) interrupt(pin int) error {
	if err := t.reply("i", pin); err != nil {
		return errGone
	}
	for {
		line, err := t.in.ReadString('\n')
		if err != nil {
			return errGone
		}
		if rest, ok := strings.CutPrefix(line, "done "); ok {
			fields := strings.Fields(rest)
			if len(fields) == 2 {
				now, _ := strconv.ParseInt(fields[1], 10, 64)
				return t.board.Sync(now)
			}
		}
		if strings.HasPrefix(line, "end ") {
			return errGone
		}
		if err := t.answer(line); err != nil {
			return err
		}
		if t.over != nil {
			return t.over
		}
	}
}

// answer answers one call. What ends the run is kept in over, and is no error.
func (t *talk) answer(line string) error {
	name, args, at, now := parts(line)
	b := t.board
	arg := func(i int) int {
		if i >= len(args) {
			return 0
		}
		v, _ := strconv.ParseFloat(args[i], 64) // what is no number is 0
		return int(v)
	}
	err := b.Reach(now)
	var result any = 0
	switch {
	case err != nil: // it went on alone for longer than there is time
		name = ""
	default:
		b.Own(now)
	}
	switch name {
	case "sync":
		err = b.Sync(now)
	case "mode":
		err = b.SetMode(arg(0), []machine.Mode{machine.LetGo, machine.Driven, machine.PulledUp, machine.PulledDown}[min(max(arg(1), 0), 3)], at)
	case "latch":
		b.Latch(arg(0), arg(1) != 0)
	case "latched":
		result = b.Latched(arg(0))
	case "write":
		err = b.SetLevel(arg(0), arg(1) != 0, at)
	case "read":
		var level bool
		level, err = b.Level(arg(0), at)
		result = map[bool]int{true: 1}[level]
	case "analog-pin":
		err = b.Converts(arg(0), at)
	case "analog":
		result, err = b.Reading(arg(0), arg(1), at)
	case "duty":
		err = b.SetDuty(arg(0), arg(1), arg(2), float64(arg(3)), at)
	case "hertz":
		err = b.SetHertz(arg(0), float64(arg(1)))
	case "pause":
		err = b.Pause(int64(arg(0)), at)
	case "attach":
		err = b.Attach(arg(0), arg(1), at)
	case "quiet":
		err = b.Quiet(arg(0) != 0)
	case "pulse":
		result, err = b.Pulse(arg(0), arg(1) != 0, time.Duration(arg(2))*time.Microsecond, at)
	case "print":
		var text string
		if len(args) > 0 {
			_ = json.Unmarshal([]byte(args[0]), &text) // what is no text prints nothing
		}
		err = b.Print(text, at)
	case "receive":
		result, err = b.Take(true)
	case "waiting":
		result, err = b.Waiting()
	}
	if errors.Is(err, errGone) {
		return err
	}
	if err != nil {
		t.over = err
		fmt.Fprintln(t.out, "over")
		_ = t.out.Flush() // it may have gone already
		return nil
	}
	if t.reply("a", result) != nil {
		return nil // it went away; reading will say so
	}
	return nil
}

// parts takes a call apart: its name, its arguments, each JSON without blanks outside of a
// text, the line, and the time.
func parts(line string) (name string, args []string, at int, now int64) {
	line = strings.TrimSuffix(line, "\n")
	name, rest, _ := strings.Cut(line, " ")
	i := strings.LastIndexByte(rest, ' ')
	if i < 0 {
		return name, nil, 0, 0
	}
	now, _ = strconv.ParseInt(rest[i+1:], 10, 64)
	rest = rest[:i]
	i = strings.LastIndexByte(rest, ' ')
	at, _ = strconv.Atoi(rest[i+1:])
	rest = rest[:max(0, i)]
	if !strings.ContainsRune(rest, '"') { // numbers only, as of nearly every call
		return name, strings.Fields(rest), at, now
	}
	d := json.NewDecoder(strings.NewReader(rest))
	for {
		var raw json.RawMessage
		if d.Decode(&raw) != nil {
			return name, args, at, now
		}
		args = append(args, string(raw))
	}
}

// limited keeps the first bytes of what is written.
type limited struct {
	to   *strings.Builder
	most int
}

func (l *limited) Write(p []byte) (int, error) {
	l.to.Write(p[:max(0, min(len(p), l.most-l.to.Len()))])
	return len(p), nil
}
