package placement

import (
	"cmp"
	"slices"
	"strconv"
	"strings"

	"cablaggio/core/catalogue/breadboard"
	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
)

// leg is [LegName] of a terminal.
func leg(k *part.Kind, t build.Terminal) string {
	_, id := t.Split()
	return LegName(k, id)
}

// LegName names a leg of a kind as it looks: "long leg", "red leg", "middle leg".
func LegName(k *part.Kind, id string) string {
	t := &k.Terminals[slices.IndexFunc(k.Terminals, func(x part.Terminal) bool { return x.ID == id })]
	return cmp.Or(t.Look, t.Name)
}

// row names the row or the rail that an end is in.
func row(e breadboard.End) string {
	if e.OnBoard() || e.Hole.Column.IsRail() {
		return "one rail"
	}
	return "row " + strconv.Itoa(e.Hole.Row)
}

// stays says what a bridged part does.
func stays(k *part.Kind) string {
	switch {
	case k.Family == "lamps":
		return " and will stay dark."
	case k.Is(part.Resistor):
		return " and holds nothing back."
	case k.Is(part.Contact):
		return " and reads as pressed all the time."
	}
	return " and does nothing."
}

// dark says what comes of a lamp the wrong way round.
func dark(k *part.Kind) string {
	if k.Family == "lamps" {
		return " It will stay dark."
	}
	return ""
}

// list joins names as one says them.
func list(names []string) string {
	switch n := len(names); {
	case n == 0:
		return "nothing"
	case n == 1:
		return names[0]
	case n > 5:
		return strings.Join(names[:4], ", ") + " and " + strconv.Itoa(n-4) + " more"
	default:
		return strings.Join(names[:n-1], ", ") + " and " + names[n-1]
	}
}

// capital begins a sentence: a part's own name is left as the builder wrote it.
func capital(s string) string {
	if rest, ok := strings.CutPrefix(s, "the "); ok {
		return "The " + rest
	}
	return s
}

func have(ts []build.Terminal) string {
	parts := map[string]bool{}
	for _, t := range ts {
		id, _ := t.Split()
		parts[id] = true
	}
	if len(parts) > 1 {
		return "have"
	}
	return "has"
}

func onlyBoard(ts []build.Terminal) bool {
	return !slices.ContainsFunc(ts, func(t build.Terminal) bool { return !t.OnBoard() })
}

// words names the parts and places of terminals.
func (c *comparison) words(ts []build.Terminal) string {
	var names []string
	for _, t := range ts {
		id, name := t.Split()
		if p := c.doc.Part(id); p != nil {
			name = p.Name
		} else if name == c.table.Board.Ground {
			name = "ground"
		}
		if !slices.Contains(names, name) {
			names = append(names, name)
		}
	}
	return list(names)
}

// netWords names a net by the place of the board in it, or else by the parts.
func (c *comparison) netWords(n int) string {
	for _, t := range c.plan.members[n] {
		if t.OnBoard() {
			return c.words([]build.Terminal{t})
		}
	}
	return c.words(c.plan.members[n])
}

// restWords names a net by its parts.
func (c *comparison) restWords(n int) string {
	return c.words(slices.DeleteFunc(slices.Clone(c.plan.members[n]), build.Terminal.OnBoard))
}

// others names what a leg is joined with.
func (c *comparison) others(t build.Terminal) string {
	return c.words(slices.DeleteFunc(slices.Clone(c.traced.nets[c.traced.of[t]]), func(o build.Terminal) bool { return o == t }))
}

func (c *comparison) partsOf(ts []build.Terminal) []string {
	out := []string{}
	for _, t := range ts {
		if id, _ := t.Split(); !t.OnBoard() && !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out
}
