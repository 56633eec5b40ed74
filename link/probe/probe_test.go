package probe_test

import (
	"bufio"
	"context"
	"errors"
	"fmt"
	"io"
	"maps"
	"net"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/bench"
	"cablaggio/core/testkit"
	"cablaggio/link/probe"
	"cablaggio/toolchain"
)

// fake is a board that answers each line as a function says; what that returns goes over the line.
func fake(t *testing.T, answer func(line string) string) net.Conn {
	t.Helper()
	near, far := net.Pipe()
	t.Cleanup(func() { near.Close(); far.Close() })
	go func() {
		r := bufio.NewReader(far)
		for {
			line, err := r.ReadString('\n')
			if err != nil {
				return
			}
			if _, err := io.WriteString(far, answer(strings.TrimSpace(line))); err != nil {
				return
			}
		}
	}()
	return near
}

func number(line string) string { n, _, _ := strings.Cut(line, " "); return n }

// Whatever a board says, it is asked to the end or an error says in words why not, and nothing hangs.
func TestBadBoards(t *testing.T) {
	who := func(line string) string { return number(line) + " probe 1 x 1023\r\n" }
	for name, c := range map[string]struct {
		answer func(string) string
		wants  func(t *testing.T, b *probe.Board, err error)
	}{
		"silent": {func(string) string { return "" }, func(t *testing.T, _ *probe.Board, err error) { assert.ErrorIs(t, err, probe.ErrSilent) }},
		"binary": {func(string) string { return strings.Repeat("\x00\xff\x07", 3000) }, func(t *testing.T, _ *probe.Board, err error) { assert.ErrorIs(t, err, probe.ErrSilent) }},
		"another version": {func(l string) string { return number(l) + " probe 9 x 1023\n" }, func(t *testing.T, _ *probe.Board, err error) {
			var v *probe.VersionError
			require.ErrorAs(t, err, &v)
			assert.Equal(t, "9", v.Version)
		}},
		"another program": {func(l string) string { return number(l) + " hello\n" }, func(t *testing.T, _ *probe.Board, err error) { assert.ErrorIs(t, err, probe.ErrSilent) }},
		"noise before the answer": {func(l string) string { return strings.Repeat("starting up\n", 200) + who(l) }, func(t *testing.T, b *probe.Board, err error) {
			require.NoError(t, err)
			assert.Equal(t, "x", b.ID)
		}},
		"a megabyte of a line, then the answer": {func(l string) string { return strings.Repeat("x", 1<<20) + "\n" + who(l) }, func(t *testing.T, b *probe.Board, err error) {
			require.NoError(t, err)
			assert.Equal(t, 1023, b.Full)
		}},
		"nonsense to a question": {func(l string) string {
			if strings.HasSuffix(l, "who") {
				return who(l)
			}
			return number(l) + " 17\n"
		}, func(t *testing.T, b *probe.Board, err error) {
			require.NoError(t, err)
			var refused *probe.RefusedError
			_, err = b.Read(t.Context(), 3)
			assert.ErrorAs(t, err, &refused)
			assert.ErrorAs(t, b.Pull(t.Context(), 3, board.PullUp), &refused)
			share, err := b.Share(t.Context(), 3)
			require.NoError(t, err)
			assert.InDelta(t, 17.0/1023, share, 1e-9)
		}},
	} {
		t.Run(name, func(t *testing.T) {
			t.Parallel()
			began := time.Now()
			b, err := probe.Begin(t.Context(), fake(t, c.answer), probe.ComesUp)
			c.wants(t, b, err)
			assert.Less(t, time.Since(began), 20*time.Second)
		})
	}
}

// A cable that is pulled, and somebody who waits no longer.
func TestTheCableIsPulled(t *testing.T) {
	near, far := net.Pipe()
	go func() {
		_, _ = bufio.NewReader(far).ReadString('\n')
		far.Close()
	}()
	_, err := probe.Begin(t.Context(), near, probe.ComesUp)
	assert.ErrorIs(t, err, probe.ErrGone)

	ctx, cancel := context.WithCancel(t.Context())
	cancel()
	_, err = probe.Begin(ctx, fake(t, func(string) string { return "" }), probe.ComesUp)
	assert.True(t, errors.Is(err, probe.ErrSilent) || errors.Is(err, context.Canceled), "%v", err)
}

// said runs the probing program of a board on it, with lines at times, and returns what it said and
// what its pins were.
func said(t *testing.T, id string, language build.Language, lines map[float64]string) (string, *bench.Recording) {
	t.Helper()
	lib := build.Shipped()
	doc := build.New("bare", id)
	profile, _ := lib.Board(id)
	text, err := probe.Program(profile, language)
	require.NoError(t, err)
	made, err := toolchain.New().Compile(t.Context(), text, profile)
	require.NoError(t, err)
	require.NotNil(t, made.Program, "%v", made.Messages)
	o := bench.Options{Lasts: 2500 * time.Millisecond, Seed: 1}
	for _, at := range slices.Sorted(maps.Keys(lines)) {
		line := lines[at]
		o.Actions = append(o.Actions, bench.Action{At: at, Do: bench.Type, Text: line + "\n"})
	}
	r, err := bench.Run(t.Context(), wiring.NewCache().Build(lib, doc), made, o)
	require.NoError(t, err)
	var out strings.Builder
	for _, s := range r.Serial {
		out.WriteString(s.Text)
	}
	return strings.ReplaceAll(out.String(), "\r", ""), r
}

// The program says the same in each language, to questions and to nonsense; what is pulled is let go
// when nobody asks, and what is driven after 50 ms.
func TestTheProgramInEachLanguage(t *testing.T) {
	lines := map[float64]string{
		0.05: "1 who", 0.10: "2 up 3", 0.15: "3 read 3", 0.20: "4 up 99", 0.25: "5 nonsense 3", 0.30: "6", 0.35: "7 read x", 0.40: "8 analog 3",
		0.45: "9 " + strings.Repeat("z", 80), 0.60: "10 high 4", 0.80: "11 free 3",
	}
	for _, language := range []build.Language{build.CPP, build.PythonMachine} {
		text, r := said(t, "slim-3v3", language, lines)
		full := map[build.Language]int{build.CPP: 1023, build.PythonMachine: 4095}[language]
		for _, want := range []string{fmt.Sprintf("1 probe 1 slim-3v3 %d\n", full), "2 ok\n", "3 1\n", "4 ! no such pin or question\n", "5 ! no such question\n", "7 ! no such pin or question\n", "8 ! no analog pin\n", "10 ok\n", "11 ok\n"} {
			assert.Contains(t, text, want, "%s", language)
		}
		for _, row := range r.Rows {
			if row.Kind != bench.PinRow {
				continue
			}
			assert.NotContains(t, []string{"high", "low", "pulled up"}, row.Changes[len(row.Changes)-1].Text, "%s: %s at the end", language, row.Name)
			for i, x := range row.Changes {
				if x.Text == "high" && i+1 < len(row.Changes) {
					assert.InDelta(t, 0.05, row.Changes[i+1].At-x.At, 0.005, "driven for 50 ms")
				}
			}
		}
	}
}

// Every board has a program, which compiles in each language that the board runs.
func TestEveryBoardHasAProgram(t *testing.T) {
	lib := build.Shipped()
	for _, b := range lib.Boards {
		for _, language := range []build.Language{build.CPP, build.PythonMachine} {
			text, err := probe.Program(b, language)
			if language != build.CPP && !b.Programs().Python {
				assert.ErrorContains(t, err, "there is one in C++")
				continue
			}
			require.NoError(t, err)
			made, err := toolchain.New().Compile(t.Context(), text, b)
			require.NoError(t, err)
			assert.NotNil(t, made.Program, "%s: %v", b.ID, made.Messages)
		}
	}
}

// Whatever comes over the cable, in each language: the program goes on, and says the same, but for the
// largest reading of its converter; what it answers begins with the number that it was asked by, and is
// a value, "ok", or why not.
func TestAnyLineIsAnswered(t *testing.T) {
	r := testkit.Draw(t)
	// What floats, or is converted, is drawn anew by each: what is read is pulled just before.
	does := []string{"who", "free 3", "up 3", "up 4", "free 4", "high 4", "low 3", "up 99", "analog 3", "nonsense 3"}
	words := []string{"who", "free", "up", "high", "", "UP", "up up", "-1", "3", "999999999999", "3.5", "\t", "!", "ok", strings.Repeat("7", 60)}
	lines := map[float64]string{}
	many := testkit.Few(24, 150)
	for i := range many {
		line := fmt.Sprint(100+i) + " " + does[r.IntN(len(does))]
		if i%3 == 0 {
			line = fmt.Sprint(100 + i)
			for range r.IntN(4) {
				line += " " + words[r.IntN(len(words))]
			}
		}
		lines[0.05+2.2*float64(i)/float64(many)] = line
		if i%5 == 4 {
			lines[0.05+2.2*float64(i)/float64(many)] = fmt.Sprint(100+i) + " up 5"
			lines[0.07+2.2*float64(i)/float64(many)] = fmt.Sprint(500+i) + " read 5"
		}
	}
	answer := regexp.MustCompile(`^\d+ (ok|[01]+|\d+|probe 1 \S+ \d+|! [a-z ]+)$`)
	var both []string
	for _, language := range []build.Language{build.CPP, build.PythonMachine} {
		text, rec := said(t, "slim-3v3", language, lines)
		assert.Equal(t, "over", rec.How, "%s: %s", language, rec.Why)
		all := strings.Split(strings.TrimSuffix(text, "\n"), "\n")
		assert.Len(t, all, len(lines), "each line has one answer: %q", all)
		for _, line := range all {
			assert.Regexp(t, answer, line, "%s", language)
		}
		both = append(both, regexp.MustCompile(`(slim-3v3) \d+`).ReplaceAllString(text, "$1"))
	}
	assert.Equal(t, both[0], both[1])
}

// Whatever a board says, who asks it has an answer that makes sense or an error, and in time.
func FuzzAnswers(f *testing.F) {
	for _, s := range []string{"1 probe 1 x 1023\n", "1 probe\n", "1 \n", "1", "\r\n\x00", "1 ! no\n", "1 probe 1 x -5\n", "1 probe 1 x 99999999999999999999\n", "2 1\n1 probe 1 x 1\n"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, says string) {
		near, far := net.Pipe()
		defer far.Close()
		defer near.Close()
		go func() {
			r := bufio.NewReader(far)
			for {
				if _, err := r.ReadString('\n'); err != nil {
					return
				}
				if _, err := io.WriteString(far, says); err != nil {
					return
				}
			}
		}()
		b, err := probe.Begin(t.Context(), near, 20*time.Millisecond)
		if err == nil {
			assert.NotEmpty(t, b.ID)
			assert.Positive(t, b.Full)
		} else {
			assert.NotEmpty(t, err.Error())
		}
	})
}
