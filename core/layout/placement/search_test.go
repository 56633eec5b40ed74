package placement

import (
	"testing"

	"cablaggio/core/testkit/ready"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/document/build"
)

// What layouts are measured by, over all ready builds.
type figures struct {
	before, after int // wires that cross, before the search and after it
	lying         int // wires that lie on others, after it
	units, like   int // parts of which there are several, and those that lie as most of their sort
	wires, fewest int // and how many would do where nothing need lie alike
	round, over   int // wires that go round a body, and those that lie over one
}

// A lay is a ready build laid out, before the search and after it.
type lay struct {
	doc          *build.Document
	begun, found *state
}

func lays(t testing.TB) map[string]lay {
	lib := build.Shipped()
	out := map[string]lay{}
	for name, doc := range ready.Builds(t, lib) {
		s, empty, err := begun(lib, doc)
		require.NoError(t, err)
		out[name] = lay{doc, s, s.better(empty)}
	}
	return out
}

// once is what the tests look at, which is laid out for the first of them.
var once map[string]lay

func laidOnce(t testing.TB) map[string]lay {
	if once == nil {
		once = lays(t)
	}
	return once
}

func measured(t testing.TB, all map[string]lay) (f figures) {
	count := func(s *state) (crossings, lying int) {
		side := func(p, q, r breadboard.Point) float64 { return (q.X-p.X)*(r.Y-p.Y) - (q.Y-p.Y)*(r.X-p.X) }
		for i, w := range s.wires {
			all, l := s.crossings(w.line, i), w.line
			across := 0
			for _, v := range s.wires[:i] {
				o := v.line
				if side(l.from, l.to, o.from)*side(l.from, l.to, o.to) < 0 && side(o.from, o.to, l.from)*side(o.from, o.to, l.to) < 0 {
					across++
				}
			}
			crossings, lying = crossings+across, lying+max(0, all-across)
		}
		return crossings, lying
	}
	for name, l := range all {
		s, found := l.begun, l.found
		assert.LessOrEqual(t, found.cost(), s.cost(), l.doc.Title)
		before, _ := count(s)
		after, lying := count(found)
		f.before, f.after, f.lying = f.before+before, f.after+after, f.lying+lying
		for _, c := range found.alike {
			shapes := map[string]int{}
			for _, unit := range c.units {
				key, _ := found.lies(unit)
				shapes[key]++
			}
			f.units, f.like = f.units+len(c.units), f.like+most(shapes)
			if most(shapes) < len(c.units) {
				t.Logf("%s: %d of %d like %s lie alike", name, most(shapes), len(c.units), c.units[0][0].Name)
			}
		}
		f.wires, f.fewest = f.wires+len(found.wires), f.fewest+found.fewest
		found.goRound()
		for _, w := range found.wires {
			f.round += min(1, len(w.Way))
			path, over := w.path(), 0
			for k := range path[1:] {
				over += found.covers(line{path[k], path[k+1]})
			}
			f.over += min(1, over)
		}
	}
	return f
}

// Over all ready builds: the search never makes a layout worse; what is left crosses no more than a
// search for crossings alone left (52, of 69 that it began with; two ready builds have come since, with one each), and few wires lie on each other. Of the parts that are alike nine in ten lie alike, which takes no
// more than one wire in ten beyond the fewest. No wire lies over a body.
func TestReadyBuildsAreLaidWell(t *testing.T) {
	f := measured(t, laidOnce(t))
	t.Logf("%+v", f)
	assert.Less(t, f.after, f.before)
	assert.LessOrEqual(t, f.after, 54)
	assert.LessOrEqual(t, f.lying, 13)
	assert.GreaterOrEqual(t, float64(f.like), 0.9*float64(f.units))
	assert.LessOrEqual(t, float64(f.wires), 1.1*float64(f.fewest))
	assert.Zero(t, f.over)
}

// The same as figures, of all ready builds together.
func BenchmarkLaidWell(b *testing.B) {
	var f figures
	for b.Loop() {
		f = measured(b, lays(b))
	}
	b.ReportMetric(float64(f.over), "over-a-body")
	b.ReportMetric(float64(f.round), "round-a-body")
	b.ReportMetric(float64(f.after), "crossings")
	b.ReportMetric(float64(f.lying), "on-each-other")
	b.ReportMetric(100*float64(f.like)/float64(f.units), "%alike")
	b.ReportMetric(100*float64(f.wires)/float64(f.fewest), "%of-fewest-wires")
}

// A row of lamps, one after another, needs no crossing.
func TestARowOfLampsDoesNotCross(t *testing.T) {
	lib := build.Shipped()
	s, empty, err := begun(lib, ready.Builds(t, lib)["start row"])
	require.NoError(t, err)
	found := s.better(empty)
	for k, w := range found.wires {
		assert.Zero(t, found.crossings(w.line, k), "from %s to %s", w.From, w.To)
	}
}

// Two lines cross or lie on each other as one sees it.
func TestLinesCross(t *testing.T) {
	l := func(x0, y0, x1, y1 float64) line {
		return line{from: breadboard.Point{X: x0, Y: y0}, to: breadboard.Point{X: x1, Y: y1}}
	}
	for _, c := range []struct {
		a, b    line
		crosses bool
	}{
		{l(0, 0, 4, 4), l(0, 4, 4, 0), true},
		{l(0, 0, 4, 4), l(5, 0, 9, 4), false},
		{l(3, 1, 3, 9), l(3, 4, 3, 20), true},     // on each other, down one column
		{l(3, 1, 3, 9), l(3, 9, 3, 20), false},    // one after the other
		{l(3, 1, 3, 9), l(3, 8, 3, 20), false},    // for too short a way to matter
		{l(3, 1, 3, 9), l(4, 1, 4, 9), false},     // side by side
		{l(3, 1, 3.3, 9), l(3, 9, 3.3, 1), true},  // nearly
		{l(0, 0, 10, 0), l(0, 1, 10, -1), true},   // flat, but across
		{l(0, 0, 10, 0), l(0, 2, 10, 0.5), false}, // towards each other
	} {
		assert.Equal(t, c.crosses, c.a.crosses(c.b), "%v %v", c.a, c.b)
		assert.Equal(t, c.crosses, c.b.crosses(c.a), "%v %v", c.b, c.a)
	}
}
