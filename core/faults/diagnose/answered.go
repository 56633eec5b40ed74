package diagnose

import (
	"cablaggio/core/faults/fault"
	"cablaggio/core/general/parallel"
)

// An Answered is what a board's answers tell of a build.
type Answered struct {
	Words     string   `json:"words"`     // the outcome in a sentence
	AsPlanned bool     `json:"asPlanned"` // all answers are as the plan has them
	Asked     int      `json:"asked"`
	Odd       []string `json:"odd"`    // answers that are not, in words
	Causes    []Cause  `json:"causes"` // what it may be, the likeliest first

	// Where all is as planned, how far that goes: of how many single faults of the wiring the answers
	// would have been others, and the parts in which a break would not have shown, by name.
	Considered int      `json:"considered"`
	Shows      int      `json:"shows"`
	Unsaid     []string `json:"unsaid"`
}

// odd is how likely an answer is at most, as all is planned, to be told as one that is not.
const odd = 0.1

// Answered says what the answers of a board tell. That they are as planned does not say that all is: a
// pin does not see what is beyond a part that lets nothing through.
func (c *Case) Answered(seen []Observation) (*Answered, error) {
	r, err := c.Ask(seen)
	if err != nil {
		return nil, err
	}
	out := &Answered{Asked: len(seen), Odd: []string{}, Unsaid: []string{}, Causes: []Cause{}}
	for _, o := range seen {
		a, err := c.read(o)
		if err != nil {
			return nil, err
		}
		if c.likely(-1, &a) < odd {
			out.Odd = append(out.Odd, c.saw(&a)+c.would(&hypothesis{}, &a)+" as planned.")
		}
	}
	if out.AsPlanned = len(out.Odd) == 0; out.AsPlanned {
		out.Words = "The board reads at its pins what it should."
		c.looked(seen, out)
		return out, nil
	}
	out.Words = "The board does not read what it should."
	for _, x := range r.Causes {
		if len(x.Faults) > 0 && x.Weight >= 0.01 {
			out.Causes = append(out.Causes, x)
		}
	}
	return out, nil
}

// looked works out of which faults of the wiring the answers would have been others, and lists the
// parts in which a break would not have shown.
func (c *Case) looked(seen []Observation, out *Answered) {
	var asks []int
	for _, o := range seen {
		asks = append(asks, c.byID[o.Ask])
	}
	shows := make([]bool, len(c.classes))
	parallel.Do(len(c.classes), func(k int) { shows[k] = k > 0 && c.shows(k, asks) })
	named := map[string]bool{}
	for k := range c.faults {
		f := &c.faults[k]
		if f.InProgram() || f.Sometimes() || len(f.Touches()) == 0 {
			continue
		}
		out.Considered++
		if shows[c.classOf[k]] {
			out.Shows++
			continue
		}
		part, _ := f.Touches()[0].Split()
		if p := c.doc.Part(part); p != nil && f.Kind == fault.Open && !named[part] {
			named[part] = true
			out.Unsaid = append(out.Unsaid, p.Name)
		}
	}
}

// surely is how much more likely some answer must be with a fault than as planned, for the fault to
// show in it.
const surely = 0.8

// shows reports whether a class of faults makes one of some answers unlikely.
func (c *Case) shows(class int, asks []int) bool {
	for _, i := range asks {
		well, with := c.predict(0, i), c.predict(class, i)
		if well.none || with.none {
			continue
		}
		apart := 0.0
		for l, w := range with.labels {
			apart += max(0, w-well.labels[l])
		}
		if apart > surely {
			return true
		}
	}
	return false
}
