package bench

import (
	"bufio"
	"cmp"
	"encoding/csv"
	"fmt"
	"io"
	"math"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/document/build"
)

type (
	boardPin  = board.Pin
	buildPart = build.Part
)

// A step is one change of one row, for those who write them in the order of time.
type step struct {
	at     int64 // ns
	row    int
	change Change
}

func (r *Recording) steps() []step {
	var out []step
	for i, row := range r.Rows {
		for _, c := range row.Changes {
			out = append(out, step{int64(math.Round(c.At * 1e9)), i, c})
		}
	}
	slices.SortStableFunc(out, func(a, b step) int {
		return cmp.Or(cmp.Compare(a.at, b.at), cmp.Compare(a.row, b.row))
	})
	return out
}

// Script writes what hands did as a script, as [ParseScript] reads it.
func (r *Recording) Script(w io.Writer) error {
	out := bufio.NewWriter(w)
	fmt.Fprintf(out, "# %g s, seed %d\n", r.Ended, r.Seed)
	for _, a := range r.Actions {
		fmt.Fprintln(out, a)
	}
	return out.Flush()
}

// VCD writes the rows as a value change dump (IEEE 1364-2005, 18.2): pins as wires where they
// have levels only, all else as real numbers.
func (r *Recording) VCD(w io.Writer) error {
	out := bufio.NewWriter(w)
	fmt.Fprintf(out, "$comment %s, seed %d $end\n$timescale 1 ns $end\n$scope module bench $end\n", Format, r.Seed)
	levels := make([]bool, len(r.Rows))
	for i, row := range r.Rows {
		levels[i] = row.Kind == PinRow && !slices.ContainsFunc(row.Changes, func(c Change) bool { return c.Value != 0 && c.Value != 1 })
		kind := "real 64"
		if levels[i] {
			kind = "wire 1"
		}
		fmt.Fprintf(out, "$var %s %s %s $end\n", kind, code(i), name(row.Name))
	}
	fmt.Fprint(out, "$upscope $end\n$enddefinitions $end\n")
	last := int64(-1)
	for _, s := range r.steps() {
		if s.at != last {
			fmt.Fprintf(out, "#%d\n", s.at)
			last = s.at
		}
		switch {
		case levels[s.row] && s.change.Open:
			fmt.Fprintf(out, "z%s\n", code(s.row))
		case levels[s.row]:
			fmt.Fprintf(out, "%g%s\n", s.change.Value, code(s.row))
		default:
			fmt.Fprintf(out, "r%s %s\n", strconv.FormatFloat(s.change.Value, 'g', 16, 64), code(s.row))
		}
	}
	fmt.Fprintf(out, "#%d\n", int64(math.Round(r.Ended*1e9)))
	return out.Flush()
}

// code is the short name of a row in a dump: printable signs.
func code(i int) string {
	const first, signs = '!', 94
	s := ""
	for {
		s += string(rune(first + i%signs))
		if i /= signs; i == 0 {
			return s
		}
		i--
	}
}

// name is a name that a dump takes: without blanks.
func name(s string) string {
	return strings.Map(func(r rune) rune {
		if r > ' ' && r < 127 {
			return r
		}
		return '_'
	}, s)
}

// CSV writes a line for each change in the order of time, and behind them what was printed.
func (r *Recording) CSV(w io.Writer) error {
	c := csv.NewWriter(w)
	if err := c.Write([]string{"seconds", "what", "value", "text", "line"}); err != nil {
		return err
	}
	for _, s := range r.steps() {
		row := r.Rows[s.row]
		if err := c.Write([]string{strconv.FormatFloat(s.change.At, 'f', 9, 64), build.Cell(row.Name), strconv.FormatFloat(s.change.Value, 'g', -1, 64), build.Cell(s.change.Text), strconv.Itoa(s.change.Line)}); err != nil {
			return err
		}
	}
	for _, s := range r.Serial {
		if err := c.Write([]string{strconv.FormatFloat(s.At, 'f', 9, 64), "serial", "", build.Cell(s.Text), strconv.Itoa(s.Line)}); err != nil {
			return err
		}
	}
	c.Flush()
	return c.Error()
}
