package placement

import (
	"math"
	"slices"
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// A line crosses a box when one of many points along it lies well inside, and does not when none
// does of a box that is a little larger. What only touches a side is the rounding's to decide.
func TestALineCrossesABox(t *testing.T) {
	point := func(t *rapid.T, name string) breadboard.Point {
		return breadboard.Point{X: rapid.Float64Range(-10, 10).Draw(t, name+" x"), Y: rapid.Float64Range(-10, 10).Draw(t, name+" y")}
	}
	rapid.Check(t, func(t *rapid.T) {
		a, b := point(t, "corner"), point(t, "other corner")
		x := box{low: breadboard.Point{X: math.Min(a.X, b.X), Y: math.Min(a.Y, b.Y)}, high: breadboard.Point{X: math.Max(a.X, b.X), Y: math.Max(a.Y, b.Y)}}
		l := line{point(t, "from"), point(t, "to")}
		inside := func(by float64) bool {
			larger := box{low: breadboard.Point{X: x.low.X - by, Y: x.low.Y - by}, high: breadboard.Point{X: x.high.X + by, Y: x.high.Y + by}}
			const points = 2000
			for k := range points + 1 {
				s := float64(k) / points
				if larger.has(breadboard.Point{X: l.from.X + s*(l.to.X-l.from.X), Y: l.from.Y + s*(l.to.Y-l.from.Y)}) {
					return true
				}
			}
			return false
		}
		if inside(-1e-6) {
			assert.True(t, x.crosses(l))
		}
		if !inside(0.05) {
			assert.False(t, x.crosses(l))
		}
	})
}

// Every shape that is proposed for a class repeats: as many units as the breadboard has rows for
// stand below each other with no two legs in one hole, no two nets in one strip, and room for a
// wire in each strip from which one must leave.
func TestShapesRepeat(t *testing.T) {
	lib := build.Shipped()
	shapes := 0
	for _, name := range []string{"start row", "start four", "start light", "demo quiz-table"} {
		doc := ready.Builds(t, lib)[name]
		b, _ := lib.Board(doc.Board)
		table, err := breadboard.NewTable([]string{"full"}, b, false)
		require.NoError(t, err)
		s := begin(lib, doc, table, &build.Assembly{})
		require.NotEmpty(t, s.alike, name)
		for _, c := range s.alike {
			for _, x := range c.shapes {
				shapes++
				holes, strips := map[breadboard.Hole]bool{}, map[[2]int]int{}
				for u := range min(2, len(c.units)) {
					for k := range c.units[u] {
						for i, h := range x.at(k, u*x.pitch, 0, false, nil) {
							assert.False(t, holes[h], "%s: two legs in %s", name, h)
							holes[h] = true
							at := [2]int{side(h.Column), h.Row}
							if net, taken := strips[at]; taken {
								assert.Equal(t, net, c.nets[u][k][i], "%s: two nets in the row of %s", name, h)
							}
							strips[at] = c.nets[u][k][i]
						}
					}
				}
				for at := range strips {
					assert.True(t, slices.ContainsFunc(halves[at[0]], func(col breadboard.Column) bool {
						return !holes[breadboard.Hole{Column: col, Row: at[1]}]
					}))
				}
				// Mirrored twice it is itself.
				for k := range x.holes {
					for _, h := range x.holes[k] {
						assert.Equal(t, h.Column, mirror(mirror(h.Column)))
						assert.NotEqual(t, h.Column.Right(), mirror(h.Column).Right())
					}
				}
			}
		}
	}
	assert.Greater(t, shapes, 20)
}
