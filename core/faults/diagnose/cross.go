package diagnose

import (
	"fmt"
	"maps"
	"regexp"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
)

// mostCrossed is of how many things that act it is understood that one does what another should.
const mostCrossed = 24

// listCrossed adds, of every two lamps with pins of their own, what the one does while the other is
// switched on. As there are many of them, nobody is asked; who sees the wrong one lit tells it.
func (c *Case) listCrossed() {
	if len(c.actors) > mostCrossed {
		return
	}
	near := make([]map[build.Terminal]bool, len(c.actors))
	for i := range c.actors {
		near[i] = c.nearActor(i)
	}
	for i := range c.actors {
		for j := range c.actors {
			set, ok := c.crossed(i, j)
			if !ok {
				continue
			}
			x := &c.actors[i]
			both := maps.Clone(near[i])
			maps.Copy(both, near[j])
			x.states = append(x.states, state{set: set, words: c.actors[j].states[0].words})
			c.add(Ask{ID: c.crossID(i, set), Sort: See, Part: x.part.ID, actor: i, state: len(x.states) - 1, near: both, told: true, trouble: seeTrouble})
		}
	}
}

// crossed is the state in which lamp i is off and lamp j is on, if both have it.
func (c *Case) crossed(i, j int) (wiring.Settings, bool) {
	x, y := &c.actors[i], &c.actors[j]
	if i == j || !x.lamp || !y.lamp || len(x.states) < 2 || len(y.states) < 2 {
		return nil, false
	}
	set := wiring.Settings{}
	maps.Copy(set, x.states[1].set)
	for of, to := range y.states[0].set {
		_, on := x.states[0].set[of]
		if _, off := set[of]; on || off {
			return nil, false // they share what switches them
		}
		set[of] = to
	}
	return set, len(y.states[0].set) > 0
}

func (c *Case) crossID(i int, set wiring.Settings) string {
	return "see:" + c.actors[i].id() + keyOf(set)
}

// lights is that something is lit.
const lights = `(?:is lit|lights(?: up)?|comes on|turns on|goes on|glows)`

// Ways to say that the wrong one lights: the first named for the second, the second for the
// first, and each for the other.
var (
	instead  = regexp.MustCompile(`^(?:the )?(.+?) ` + lights + ` (?:instead of (?:the )?(.+?)|when (?:the )?(.+?) should(?: be lit| be on| light(?: up)?| come on| turn on)?)\.?$`)
	switched = regexp.MustCompile(`^(?:when|if) (?:i|you|one) (?:switch|turn)(?: on)? (?:the )?(.+?)(?: on,?|,)(?: then)? (?:the )?(.+?) ` + lights + `(?: instead)?\.?$`)
	wrongOne = regexp.MustCompile(`(?i)\b(?:wrong|another|other) (?:one|lamp|led|light)s?\b`)
	changed  = regexp.MustCompile(`^(?:the )?(.+?) and (?:the )?(.+?) (?:are|have|got|were) (?:been )?(?:exchanged|swapped|mixed up|changed places|switched|crossed)\.?$`)
)

// sayInstead understands that one lamp lights in another's place; nothing where it is not that.
func (c *Case) sayInstead(text string) []Observation {
	if m := instead.FindStringSubmatch(text); m != nil {
		return c.inPlace(m[1], m[2]+m[3])
	}
	if m := switched.FindStringSubmatch(text); m != nil {
		return c.inPlace(m[2], m[1])
	}
	if m := changed.FindStringSubmatch(text); m != nil {
		return append(c.inPlace(m[1], m[2]), c.inPlace(m[2], m[1])...)
	}
	return nil
}

// which asks for the names, where somebody says only that the wrong one lights; nil where nobody does.
func (c *Case) which(text string) error {
	if !wrongOne.MatchString(text) {
		return nil
	}
	for i := range c.actors {
		for j := range c.actors {
			if _, ok := c.crossed(i, j); ok {
				return fmt.Errorf("%q: which one lights, and for which? Say it as in %q", text, c.actors[i].name+" lights instead of "+c.actors[j].name)
			}
		}
	}
	return nil
}

// inPlace is that the lamp that one name means lights in the place of another, which stays dark.
func (c *Case) inPlace(name, of string) []Observation {
	i, j := c.actorCalled(name), c.actorCalled(of)
	if i < 0 || j < 0 {
		return nil
	}
	set, ok := c.crossed(i, j)
	if !ok {
		return nil
	}
	return []Observation{
		{"see:" + c.actors[j].id() + keyOf(c.actors[j].states[0].set), c.doingWord(j, dark)},
		{c.crossID(i, set), c.doingWord(i, lit)},
	}
}

// actorCalled is the thing that acts that words name, or -1.
func (c *Case) actorCalled(words string) int {
	asks, _ := c.called(words)
	for _, i := range asks {
		if a := &c.asks[i]; a.Sort == See {
			return a.actor
		}
	}
	return -1
}
