package diagnose

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/faults/meter"
	"cablaggio/core/testkit"
)

// An unlisted is what may be wrong with a build and is no fault of the list, as the document that
// the bench really has, and the parts and pins at which it is.
type unlisted struct {
	what  string
	doc   *build.Document
	where []string
}

// unlistedOf makes some of a build: contacts that have become resistive, nets that touch though
// they do not lie side by side, parts of quite another value, a supply that is not what it says.
// None of it is looked up in package fault.
func unlistedOf(lib *build.Library, doc *build.Document, draw *rand.Rand, each int) (out []unlisted) {
	add := func(what string, where []string, change func(d *build.Document) bool) {
		d := doc.Clone()
		if change(d) && lib.Validate(d) == nil {
			out = append(out, unlisted{what, d, where})
		}
	}
	for range each {
		// A leg whose contact has some thousand ohms.
		k := draw.IntN(len(doc.Nets))
		t := doc.Nets[k][draw.IntN(len(doc.Nets[k]))]
		ohms := math.Pow(10, 3+1.5*draw.Float64())
		if id, _ := t.Split(); !t.OnBoard() {
			add(fmt.Sprintf("%.0f ohms at %s", ohms, t), []string{id}, func(d *build.Document) bool {
				rest := slices.DeleteFunc(slices.Clone(d.Nets[k]), func(x build.Terminal) bool { return x == t })
				d.Parts = append(d.Parts, build.Part{ID: "contact", Kind: "resistor", Name: "contact", Values: map[string]float64{"resistance": ohms}})
				d.Nets = slices.Delete(d.Nets, k, k+1)
				d.Nets = append(d.Nets, append(build.Net{"contact.1"}, rest...), build.Net{"contact.2", t})
				return len(rest) > 0
			})
		}
		// Two nets touch, wherever they lie.
		i, j := draw.IntN(len(doc.Nets)), draw.IntN(len(doc.Nets))
		if i != j {
			var where []string
			for _, t := range slices.Concat(doc.Nets[i], doc.Nets[j]) {
				id, leg := t.Split()
				if t.OnBoard() {
					id = leg
				}
				where = append(where, id)
			}
			add(fmt.Sprintf("%s touches %s", doc.Nets[i][0], doc.Nets[j][0]), where, func(d *build.Document) bool {
				d.Join(doc.Nets[i][0], doc.Nets[j][0])
				return true
			})
		}
		// A part of quite another value.
		p := doc.Parts[draw.IntN(len(doc.Parts))]
		factor := []float64{0.003, 0.03, 40, 300}[draw.IntN(4)]
		for _, value := range []string{"resistance", "track", "darkResistance", "r10"} {
			if was, ok := p.Values[value]; ok {
				add(fmt.Sprintf("%s has %g times its %s", p.Name, factor, value), []string{p.ID, p.Of}, func(d *build.Document) bool {
					d.Part(p.ID).Values[value] = was * factor
					return true
				})
			}
		}
	}
	add("the supply has too little", nil, func(d *build.Document) bool {
		d.Volts = 3.1
		return d.Cells == nil
	})
	return out
}

// A stranger is an observer at a bench whose document the case does not have.
type stranger struct {
	c, truth *Case
	draw     *rand.Rand
}

func (s *stranger) answer(i int) (string, bool) {
	a := &s.c.asks[i]
	switch a.Sort {
	case Look:
		return asDrawn, true
	case Try:
		return unchanged, true
	}
	j, ok := s.truth.byID[a.ID]
	if !ok {
		return "", false
	}
	o := &observer{c: s.truth, rand: s.draw}
	return o.answer(j, true), true
}

// asks begins with what each lamp and input does, and answers so many questions.
func (s *stranger) asks(t *testing.T, most int) (r *Result, seen []Observation, wrong bool) {
	for i := range s.c.asks {
		a := &s.c.asks[i]
		if a.Sort != See && a.Sort != Reads || a.test {
			continue
		}
		text, ok := s.answer(i)
		if !ok {
			continue
		}
		seen = append(seen, Observation{a.ID, text})
		should := s.c.predict(0, i)
		is := s.truth.predict(0, s.truth.byID[a.ID])
		if is.number != should.number || !is.number && !is.none && !should.none && likeliest(is.labels) != likeliest(should.labels) || is.number && math.Abs(is.value-should.value) > 0.15 {
			wrong = true
		}
	}
	for range most + 1 {
		var err error
		r, err = s.c.Ask(seen)
		require.NoError(t, err)
		if r.Next == nil {
			break
		}
		text, ok := s.answer(s.c.byID[r.Next.Ask])
		if !ok {
			break
		}
		seen = append(seen, Observation{r.Next.Ask, text})
	}
	return r, seen, wrong
}

// What is not on the list is not named with certainty: after three answers it is said that it
// is not known, or a cause is named at that very place; hardly ever is something said to be sure
// that is not so.
func TestWhatIsNotOnTheList(t *testing.T) {
	names := []string{"starts/four", "starts/dusk"}
	if testkit.Wide() {
		names = builds(t)
	}
	draw := rand.New(rand.NewPCG(3, 9))
	tried, certain, place, unknown := 0, 0, 0, 0
	said := map[int][2]int{} // by tenths of what was said of the first: right, all
	for _, name := range names {
		c := read(t, name)
		for _, u := range unlistedOf(c.lib, c.doc, draw, testkit.Few(8, 12)) {
			s := &stranger{c, New(wiring.NewCache(), meter.Handheld(), c.lib, u.doc), draw}
			r, _, wrong := s.asks(t, 3)
			if !wrong {
				continue // nothing shows
			}
			tried++
			right := false
			if len(r.Causes) > 0 {
				for _, id := range r.Causes[0].Faults {
					f := c.byFault(id)
					right = right || slices.ContainsFunc(u.where, func(w string) bool {
						return w != "" && (slices.Contains(f.Parts, w) || strings.Contains(id, w))
					})
				}
				k := int(r.Causes[0].Weight * 10)
				n := said[k]
				n[1]++
				if right {
					n[0]++
				}
				said[k] = n
			}
			if r.Sure && !right {
				certain++
				t.Logf("certain and wrong: %s in %s: %v %.2f", u.what, name, r.Causes[0].Faults, r.Causes[0].Weight)
			}
			if right {
				place++
			} else if r.Unknown >= 0.3 || len(r.Causes) == 0 || len(r.Causes[0].Faults) == 0 {
				unknown++
			}
		}
	}
	t.Logf("%d tried: the place named in %d, not known in %d, certain and wrong %d; right by what was said: %v", tried, place, unknown, certain, said)
	assert.Greater(t, tried, testkit.Few(8, 60))
	assert.LessOrEqual(t, float64(certain), 0.05*float64(tried))
	assert.GreaterOrEqual(t, float64(place+unknown), 0.6*float64(tried))
}
