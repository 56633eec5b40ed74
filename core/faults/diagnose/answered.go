package diagnose

// An Answered is what a board's answers tell of a build.
type Answered struct {
	Words     string   `json:"words"`     // the outcome in a sentence
	AsPlanned bool     `json:"asPlanned"` // all answers are as the plan has them
	Asked     int      `json:"asked"`
	Odd       []string `json:"odd"`    // answers that are not, in words
	Unsaid    []string `json:"unsaid"` // parts of which a board's pins tell nothing, by name
	Causes    []Cause  `json:"causes"` // what it may be, the likeliest first
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
		out.Unsaid = c.unsaid()
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

// unsaid lists the parts that could be missing without any answer being another.
func (c *Case) unsaid() (names []string) {
	seen := map[string]bool{}
	for k := range c.faults {
		f := &c.faults[k]
		if f.InProgram() || f.Sometimes() || len(f.Touches()) == 0 {
			continue
		}
		part, _ := f.Touches()[0].Split()
		if f.Kind == "open" && !seen[part] && !c.shows(c.classOf[k]) {
			seen[part] = true
			if p := c.doc.Part(part); p != nil {
				names = append(names, p.Name)
			}
		}
	}
	return names
}

// shows reports whether a class of faults makes an answer of the board, asked alone, unlikely as
// planned.
func (c *Case) shows(class int) bool {
	for i := range c.asks {
		a := &c.asks[i]
		if a.Sort != Pin || a.pin.Press != "" {
			continue
		}
		well, with := c.predict(0, i), c.predict(class, i)
		if well.none || with.none {
			continue
		}
		apart := 0.0
		for l, w := range with.labels {
			apart += max(0, w-well.labels[l])
		}
		if apart > 0.8 {
			return true
		}
	}
	return false
}
