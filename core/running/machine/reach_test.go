package machine_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/running/machine"
)

// A diary is a world in which one thing happens, that writes down what it is told.
type diary struct {
	due  int64
	says []string
}

func (d *diary) Next() int64 { return d.due }

func (d *diary) Happen(at int64) bool {
	d.says, d.due = append(d.says, fmt.Sprint("happens ", at)), machine.Never
	return true
}

func (d *diary) Set(pin int, drive machine.Drive, at int64) {
	d.says = append(d.says, fmt.Sprint("set ", drive.Level, " ", at))
}

func (*diary) Level(int, int64) bool      { return false }
func (*diary) Reading(int, int64) float64 { return 0 }

// A program that has gone on by itself beyond something finds that it has happened first, at its
// own time; beyond the end of the run there is nothing.
func TestReach(t *testing.T) {
	p, _ := build.Shipped().Board("classic-5v")
	d := &diary{due: 100}
	b := machine.NewBoard(p, d)
	b.Limit = 10_000
	require.NoError(t, b.Reach(50))
	assert.Empty(t, d.says, "nothing is due yet")
	require.NoError(t, b.Reach(200))
	b.Own(200)
	require.NoError(t, b.SetMode(4, machine.Driven, 1))
	assert.Equal(t, []string{"happens 100", "set false 200"}, d.says)
	assert.Error(t, b.Reach(20_000))
	assert.EqualValues(t, 10_000, b.Now())
}
