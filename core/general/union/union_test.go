package union_test

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"pgregory.net/rapid"

	"cablaggio/core/general/union"
	_ "cablaggio/core/testkit/drawn"
)

func ExampleSets() {
	g := union.Apart(5)
	g.Join(0, 1)
	g.Join(3, 4)
	fmt.Println(g.Are(1, 0), g.Are(1, 3), g.Count())
	// Output: true false 3
}

// Two things are in one group when a way of joins leads from the one to the other: what a search
// through the joins finds.
func TestSets(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		n := rapid.IntRange(1, 12).Draw(t, "things")
		g, f, next := union.Apart(n), union.Plant[int](n), make([][]int, n)
		for range rapid.IntRange(0, 15).Draw(t, "joins") {
			a, b := rapid.IntRange(0, n-1).Draw(t, "a"), rapid.IntRange(0, n-1).Draw(t, "b")
			g.Join(a, b)
			root := f.Root(a)
			f.Graft(b, a)
			assert.Equal(t, root, f.Root(b), "the root is that of what it is grafted onto")
			next[a], next[b] = append(next[a], b), append(next[b], a)
		}
		left := 0
		for from := range n {
			found, queue := map[int]bool{from: true}, []int{from}
			for len(queue) > 0 {
				for _, to := range next[queue[0]] {
					if !found[to] {
						found[to] = true
						queue = append(queue, to)
					}
				}
				queue = queue[1:]
			}
			first := true
			for to := range n {
				assert.Equal(t, found[to], g.Are(from, to))
				assert.Equal(t, found[to], f.Root(from) == f.Root(to))
				first = first && (to >= from || !found[to])
			}
			if first {
				left++
			}
		}
		assert.Equal(t, left, g.Count())
	})
}
