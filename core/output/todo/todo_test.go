package todo_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"cablaggio/core/output/todo"
)

func Example() {
	k := todo.Known{Parts: 3, Wired: 1, Stops: 2, Steps: todo.Steps{Begun: true, Placed: true, All: 9}}
	fmt.Println(todo.Of(k).Next.Words)
	k.Stops = 0
	fmt.Println(todo.Of(k).Next.Words)
	k.Program = todo.Code{There: true, Seen: true}
	k.Should = todo.Should{Said: 1, Tried: true, Holds: 1}
	k.Steps.Done = 3
	fmt.Println(todo.Of(k).Next.Words)
	// Output:
	// 2 stops to mend
	// Write its program
	// Step 4 of 9
}

// any draws what could be known of a build.
func drawn(r *rand.Rand) (k todo.Known) {
	few := func() int { return max(0, r.IntN(5)-1) }
	maybe := func() bool { return r.IntN(2) == 0 }
	k = todo.Known{Parts: few(), Stops: few(), Partly: r.IntN(4) == 0, Wired: few()}
	k.Program = todo.Code{There: maybe(), Seen: maybe(), Part: r.IntN(4) == 0, Wrong: few()}
	k.Steps = todo.Steps{Begun: maybe(), Placed: maybe(), All: few(), Loads: maybe(), Differ: max(0, few()-2)}
	k.Steps.Done = min(k.Steps.All, few())
	k.Meter = todo.Meter{Known: maybe(), All: few(), Wrong: max(0, few()-2)}
	k.Meter.Read = min(k.Meter.All, few())
	k.Should = todo.Should{Said: few(), Tried: maybe()}
	k.Should.Holds = min(k.Should.Said, few())
	k.Should.Broken = min(k.Should.Said-k.Should.Holds, few())
	k.Should.Open = k.Should.Said - k.Should.Holds - k.Should.Broken
	return k
}

// What is said never contradicts what is known: it is done only when nothing at all is open, what is
// next is open in its section, and what was not looked at is not called done.
func TestNothingIsSaidToBeDoneThatIsNot(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	ended := 0
	for range 200_000 {
		k := drawn(r)
		l := todo.Of(k)
		of := map[todo.Section]todo.Mark{}
		for _, m := range l.Marks {
			of[m.Section] = m
			assert.NotEmpty(t, m.Words)
			assert.False(t, m.Count > 0 && m.State != todo.Open, "%+v", m)
		}
		if l.Next.Done {
			for _, m := range l.Marks {
				assert.NotEqual(t, todo.Open, m.State, "%+v is done with %+v", k, m)
			}
		} else {
			assert.Equal(t, todo.Open, of[l.Next.Section].State)
			assert.Equal(t, of[l.Next.Section].Words, l.Next.Words)
		}
		if l.Next.Words == "It does what it should" {
			ended++
			assert.True(t, k.Parts > 0 && k.Stops == 0 && !k.Partly && k.Should.Tried && k.Should.Said > 0 && k.Should.Holds == k.Should.Said, "%+v", k)
			assert.True(t, k.Steps.Begun && k.Steps.Placed && k.Steps.Done == k.Steps.All && k.Steps.Differ == 0 && k.Meter.Known && k.Meter.Read == k.Meter.All && k.Meter.Wrong == 0, "%+v", k)
			assert.True(t, (k.Wired == 0 && !k.Program.There) || (k.Program.There && k.Program.Seen && !k.Program.Part && k.Program.Wrong == 0), "%+v", k)
		}
		if t.Failed() {
			return
		}
	}
	assert.Positive(t, ended)
}

// Doing what is said leads to an end, and says nothing twice.
func TestDoingItLeadsToTheEnd(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	for range 2000 {
		k := drawn(r)
		k.Steps.Placed = true
		said := map[string]bool{}
		for !todo.Of(k).Next.Done {
			n := todo.Of(k).Next
			if assert.False(t, said[n.Words], "%q again: %+v", n.Words, k); t.Failed() {
				return
			}
			said[n.Words] = true
			switch n.Section {
			case todo.Plan:
				k.Parts, k.Stops, k.Partly = max(k.Parts, 1), 0, false
			case todo.Program:
				k.Program.Wrong = min(k.Program.Wrong, map[bool]int{true: 0, false: 9}[k.Program.There && k.Program.Seen])
				k.Program.There, k.Program.Seen = true, true
			case todo.Assemble:
				switch {
				case !k.Steps.Begun:
					k.Steps.Begun = true
				case k.Steps.Differ > 0:
					k.Steps.Differ--
				default:
					k.Steps.Done, k.Steps.Loads = min(k.Steps.All, k.Steps.Done+1), false
				}
			case todo.Test:
				k.Meter.Wrong, k.Meter.Known, k.Meter.Read = 0, true, k.Meter.All
			case todo.Bench:
				k.Should = todo.Should{Said: max(1, k.Should.Said), Tried: true}
				k.Should.Holds = k.Should.Said
			}
		}
	}
}
