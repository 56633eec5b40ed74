// Package sandbox runs a program of the system shut in: it reads what it is given,
// writes one folder or nothing, and can neither start another program, nor speak to
// anything, nor signal anybody, nor stay. It is for compilers and interpreters, whose
// input may come from a stranger.
//
// The kernel does it: Landlock for files and the right to be executed, seccomp for what
// else a program may ask of the system, limits for time, memory and sizes. Where one of
// them is missing the job is refused, never run without.
//
// The program that uses this package is started a second time, under another name, to
// shut itself in and then to become the job's program.
package sandbox

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"io"
	"os"
	"os/exec"
	"time"
)

// A Job is one run of a program.
type Job struct {
	Program string        // its file; nothing else can be executed
	Args    []string      // without the program's name
	Dir     string        // the folder that it is in, and may write; empty: none, and it writes nothing
	Read    []string      // files and folders that it may read
	CPU     time.Duration // of the processor; in whole seconds, rounded up
	Wall    time.Duration // that it may take altogether
	Memory  uint64        // bytes of address space
	File    uint64        // bytes of the largest file that it may write
}

// ErrUnavailable is the error of a system that cannot shut a program in.
var ErrUnavailable = errors.New("this system cannot shut a program in (Landlock and seccomp of Linux 5.13 or later), so no program is compiled or run")

// ErrTooMuch is the error of a job that printed more than MaxOutput.
var ErrTooMuch = errors.New("it printed too much")

// ErrSlow is the error of a job that did not end in its time.
var ErrSlow = errors.New("it did not end in its time")

// name is what the program is called when it is started to shut itself in.
const name = "cablaggio-sandbox"

// Exit codes of what shuts itself in, beside those of the job's program.
const (
	exitUnavailable = 125
	exitNoProgram   = 127
)

// Command returns the job as a command that has not begun, for those who speak with it
// while it runs. It is ended with the context, and dies with whoever started it.
func (j Job) Command(ctx context.Context) (*exec.Cmd, error) {
	self, err := os.Executable()
	if err != nil {
		return nil, err
	}
	text, err := json.Marshal(j)
	if err != nil {
		return nil, err
	}
	cmd := exec.CommandContext(ctx, self)
	cmd.Args = []string{name, string(text)}
	cmd.Dir = j.Dir
	if cmd.Dir == "" {
		cmd.Dir = "/"
	}
	cmd.Env = []string{"PATH=/usr/bin", "LC_ALL=C.UTF-8", "TMPDIR=" + cmd.Dir}
	cmd.WaitDelay = time.Second
	dieWithParent(cmd)
	return cmd, nil
}

// A Result is what a job that came to an end left behind.
type Result struct {
	Out, Err []byte // what it printed
	Code     int    // its exit code; -1: it was ended by a signal
}

// MaxOutput is how many bytes a job may print.
const MaxOutput = 16 << 20

// Run runs a job to its end. Its error is [ErrUnavailable], [ErrSlow], [ErrTooMuch], that of
// the context, or one of the system.
func (j Job) Run(ctx context.Context, in []byte) (Result, error) {
	inner, cancel := context.WithTimeout(ctx, j.Wall)
	defer cancel()
	cmd, err := j.Command(inner)
	if err != nil {
		return Result{}, err
	}
	var out, errs kept
	cmd.Stdin, cmd.Stdout, cmd.Stderr = bytes.NewReader(in), &out, &errs
	err = cmd.Run()
	r := Result{out.buf.Bytes(), errs.buf.Bytes(), cmd.ProcessState.ExitCode()}
	var exited *exec.ExitError
	switch {
	case ctx.Err() != nil:
		return r, ctx.Err()
	case inner.Err() != nil:
		return r, ErrSlow
	case out.over || errs.over:
		return r, ErrTooMuch
	case errors.As(err, &exited):
		return r, Failed(r.Code, r.Err)
	}
	return r, err
}

// Failed returns the error of a job that could not be shut in or started, by its exit code
// and what it printed; nil of one whose program ended by itself, however it did.
func Failed(code int, printed []byte) error {
	switch {
	case code == exitUnavailable && bytes.HasPrefix(printed, []byte(name)):
		return ErrUnavailable
	case code == exitNoProgram && bytes.HasPrefix(printed, []byte(name)):
		return errors.New(string(bytes.TrimSpace(printed)))
	}
	return nil
}

// A kept keeps what is written, no more than MaxOutput: then the job's pipe breaks.
type kept struct {
	buf  bytes.Buffer
	over bool
}

func (k *kept) Write(p []byte) (int, error) {
	if k.buf.Len()+len(p) > MaxOutput {
		k.over = true
		return 0, io.ErrShortBuffer
	}
	return k.buf.Write(p)
}
