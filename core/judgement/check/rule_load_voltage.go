package check

import (
	"math"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/circuit"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/values/quantity"
)

// Parts of a load's rated voltage between which it works as it should (common
// practice: within a fifth; coils pull at three quarters).
const (
	tooLittle = 0.75
	tooMuch   = 1.2
	reaches   = 0.1 // below it, nothing reaches the load at all
)

// loadVoltage finds loads that get too little or too much voltage.
var loadVoltage = rule{"load-voltage", func(f *facts) []Finding {
	var out []Finding
	for i := range f.doc.Parts {
		if p := &f.doc.Parts[i]; f.kind(p).IsLoad() && f.concerns(p.ID) && f.wired(p) {
			q := f.loadVolts(p)
			x := Finding{Level: q.Level, Parts: []string{p.ID}, Found: &q, State: q.State, At: q.At}
			rated := quantity.Short(f.valueOf(p, "ratedVoltage"), quantity.Volt)
			switch {
			case f.kind(p).Acts == part.Sounds && f.backwards(p):
				x.Level = Stop
				x.title = say("%s is the wrong way round, and stays silent.", called(p.Name))
				x.why = say("Its plus leg is at the lower voltage. What is in it makes no tone so, and may not last.")
			case q.Level == Fine:
				continue
			case math.Abs(q.Typ) > f.valueOf(p, "ratedVoltage"):
				x.title = say("%s gets %s; it is made for %s.", called(p.Name), q.TypText, rated)
				x.why = say("It runs hot and does not last.")
			case math.Abs(q.Typ) < reaches*f.valueOf(p, "ratedVoltage"):
				x.title = say("%s is never on: it gets %s at most.", called(p.Name), q.TypText)
				x.why = say("No current finds a way through it, or its switch never closes.")
			case f.fedWith(p) > 0 && f.fedWith(p) < tooLittle*f.valueOf(p, "ratedVoltage"):
				x.title = say("%s gets only %s of the %s that it is made for.", called(p.Name), q.TypText, rated)
				x.why = say("What feeds it has no more than %s: it needs a supply of %s.", quantity.Short(f.fedWith(p), quantity.Volt), rated)
			default:
				x.title = say("%s gets only %s of the %s that it is made for.", called(p.Name), q.TypText, rated)
				x.why = say("The rest is lost in what switches it; a motor may not start, a relay may not pull.")
			}
			tries := f.mends(p)
			for _, fix := range append(f.connect(p), f.usual(p)...) {
				tries = append(tries, mend{fix, x.why})
			}
			for _, m := range tries {
				if g := f.after(m.fix.Edits); g != nil && g.gets(p) {
					x.Fixes, x.why = []Fix{m.fix}, m.why
					break
				}
			}
			out = append(out, x)
		}
	}
	return out
}}

// fedWith is the voltage of the rail that a load hangs on; 0: it hangs on none.
func (f *facts) fedWith(p *build.Part) (most float64) {
	x, y := f.net.Ends(f.net.Find(wiring.Body, p.ID, ""))
	for _, node := range []circuit.Node{x, y} {
		if f.net.Stiff(node) {
			most = math.Max(most, f.net.FedVolts(node).Typ)
		}
	}
	return most
}

// loadVolts is the voltage across a load in the state in which it is most.
func (f *facts) loadVolts(p *build.Part) Quantity {
	rated := wiring.ValueOf(f.kind(p), p, "ratedVoltage")
	q := f.voltsAcross(p, func(r wiring.Range) float64 { return math.Abs(r.Typ) })
	q.Working.Sources = []string{"made for " + quantity.Short(rated.Typ, quantity.Volt) + ": " + rated.Source}
	switch part := math.Abs(q.Typ) / rated.Typ; {
	case part < tooFaint:
		q.Level = Stop
	case part < tooLittle || part > tooMuch:
		q.Level = Care
	}
	return q
}

// backwards reports whether the voltage across a load that minds is the wrong way round, where it is
// most.
func (f *facts) backwards(p *build.Part) bool {
	q := f.voltsAcross(p, func(r wiring.Range) float64 { return math.Abs(r.Typ) })
	return q.Typ < -1
}
