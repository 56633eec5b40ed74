package check

import (
	"strconv"

	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/values/quantity"
)

// partInput finds inputs of parts that float or see no sure level.
var partInput = rule{"part-input", func(f *facts) []Finding {
	var out []Finding
	for _, in := range f.net.Inputs {
		if f.net.Stiff(in.Node) {
			continue
		}
		if !f.wired(in.Part) {
			continue
		}
		if plus, minus := f.net.Fed(in.Part); !plus || !minus {
			continue // part-supply says it
		}
		name := f.leg(build.Of(in.Part.ID, in.Leg))
		x := Finding{Parts: []string{in.Part.ID}, which: in.Leg, Fixes: f.connect(in.Part)}
		if len(x.Fixes) == 0 {
			x.Fixes = f.pullDown(build.Of(in.Part.ID, in.Leg), name)
		}
		piece := f.net.PieceOf(in.Node)
		if piece == nil || f.doc.NetOf(build.Of(in.Part.ID, in.Leg)) < 0 {
			x.Level, x.title, x.why = Stop, say("Nothing holds %s.", called(name)), say("What a floating input reads is undefined.")
			out = append(out, x)
			continue
		}
		supply, _ := f.everywhere(in.Supply)
		for _, v := range f.visits(in.Node) {
			r := v.Volts(in.Node)
			if !v.Held(in.Node) {
				x.Level, x.State, x.At = Stop, v.Words(), At(v.Address())
				x.title = say("Nothing holds %s%s.", called(name), state(while(x.State)))
				x.why = say("What a floating input reads is undefined.")
				break
			}
			if in.VIL == 0 || r.High <= in.VIL*supply.Low || r.Low >= in.VIH*supply.High {
				continue
			}
			x.Level, x.State, x.At = Care, v.Words(), At(v.Address())
			q := newQuantity("voltage", quantity.Volt, r)
			x.Found = &q
			x.title = say("%s sees %s%s: neither reliably low nor reliably high for it.", called(name), q.TypText, state(while(x.State)))
			x.why = say("On its supply it reads low below %s and high above %s.", quantity.Format(in.VIL*supply.Low, quantity.Volt), quantity.Format(in.VIH*supply.High, quantity.Volt))
			break
		}
		if before := f.atBoot(in); x.Level == Fine && before != nil {
			x.Level, x.State, x.At = Care, before.Words(), At(before.Address())
			x.title = say("Until the program runs, nothing holds %s.", called(name))
			x.why = say("All pins are inputs while the board starts or takes a new program. What it switches may run by itself then, and half on it gets hot.")
			x.Fixes = f.pullDown(build.Of(in.Part.ID, in.Leg), name)
		}
		if x.Level != Fine {
			out = append(out, x)
		}
	}
	return out
}}

// atBoot is a state before the program runs in which nothing holds an input that switches a
// load; nil where something does.
func (f *facts) atBoot(in wiring.PartInput) visit {
	piece := f.net.PieceOf(in.Node)
	if in.VIL != 0 || piece == nil {
		return nil
	}
	list, err := piece.Reset()
	if err != nil {
		return nil
	}
	for _, v := range list {
		if !v.Held(in.Node) {
			return v
		}
	}
	return nil
}

// freshIDs are the ids that the next parts of a kind get.
func (f *facts) freshIDs(kind string, count int) (ids []string) {
	for n := 1; len(ids) < count; n++ {
		if id := kind + strconv.Itoa(n); f.doc.Part(id) == nil {
			ids = append(ids, id)
		}
	}
	return ids
}

// pullDown holds a terminal at ground through a resistor.
func (f *facts) pullDown(t build.Terminal, name string) []Fix {
	id := f.freshIDs("resistor", 1)[0]
	return []Fix{{"Put 100 kΩ from " + name + " to ground", editsOf(
		plan.Add{Kind: "resistor", Value: "resistance", Text: "100k"},
		plan.Join{Terminal: build.Of(id, "1"), To: t},
		plan.Join{Terminal: build.Of(id, "2"), To: build.Pin(f.board.Ground)})}}
}
