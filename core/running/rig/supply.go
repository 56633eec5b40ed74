package rig

import (
	"math"
	"math/rand/v2"

	"cablaggio/core/catalogue/board"
	"cablaggio/core/catalogue/supply"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/running/machine"
)

// What is no control of the network, and moves all the same.
const (
	Plug   = -1 - iota // the supply: To is 1 with it in, 0 out
	Charge             // of cells: To is in per cents
	Age                // of cells: To is how many hours pass for them in a second
	Held               // the button of the reset: To is 1 as it is pressed, 0 as it is let go
)

// A Feed is what the supply gives.
type Feed struct {
	In     bool
	Volts  float64
	Charge float64 // of cells, in per cents
}

// A source is the supply: stiff, or of cells, whose voltage falls with what is drawn from them and
// with the charge that is left.
type source struct {
	Feed
	board *board.Profile
	from  board.Supply
	usual float64
	tell  func(at int64, f Feed) // nil: nobody asked, and it is as planned
	cells *cells                 // nil: it is stiff
}

// When cells are looked at anew: so many nanoseconds after what is drawn has changed, for the board's
// own capacitors carry it until then (ours: a period of the usual duty), and when they have lost so many
// per cents of their charge, but not sooner than that.
const (
	lookAfter = 2 * ms
	lookLost  = 0.1
	lookAging = 20 * ms
)

// How far the voltage of cells is from that with which the build was worked out before it is worked
// out again, and in what steps that is, in volts.
const (
	apart = 0.015
	steps = 0.01
)

// cells are those that feed the board, in series.
type cells struct {
	supply.Cell
	count   float64
	hours   float64 // that pass in a second
	since   int64
	amps    float64 // that are drawn from the rails since
	carried float64 // ampere-nanoseconds, from begun until since
	begun   int64
	next    int64
}

// Usual is the voltage that a build's supply has, and whether its rails have what the plan gives
// them then: through a regulator that gets too little they have less.
func Usual(net *wiring.Network) (volts float64, asPlanned bool) {
	s, _ := net.Board.Supply(net.Doc.Supply)
	volts = net.Doc.Fed(s).Typ
	for _, r := range net.Board.Rails {
		if s.RailAt(net.Board.Rails, r.Name, volts) < net.RailVolts(r.Name).Typ-1e-9 {
			return volts, false
		}
	}
	return volts, true
}

// Half is the charge of cells in per cents that a build begins with.
const Half = 50

// Supplied has the supply give what is drawn from it, and what hands make of it: tell is told when
// that changes. It returns what it gives at first. Without it the rails stay as the plan has them.
func (r *Rig) Supplied(tell func(at int64, f Feed)) Feed {
	s := &r.source
	s.board, s.tell = r.plan.Board, tell
	s.from, _ = s.board.Supply(r.plan.Doc.Supply)
	var asPlanned bool
	s.usual, asPlanned = Usual(r.plan)
	s.Feed = Feed{In: true, Volts: s.usual}
	if c := r.plan.Doc.Cells; c != nil {
		cell, _ := supply.CellOf(c.Type)
		s.Charge = Half
		s.cells = &cells{Cell: cell, count: float64(c.Count), next: lookAfter}
		for _, g := range r.regions {
			for i := range r.plan.Elements {
				if e := &r.plan.Elements[i]; e.Role == wiring.Rail && g.piece.HasElement(i) {
					g.rails = append(g.rails, i)
				}
			}
			r.touch(g)
		}
	}
	if asPlanned {
		r.fed[s.usual] = r.plan
	} else {
		r.feed(s.usual)
	}
	return s.Feed
}

// supplied does what a hand does to the supply.
func (r *Rig) supplied(m Move) {
	s := &r.source
	if s.cells != nil {
		r.spend()
		s.cells.next = r.now + lookAfter
	}
	switch m.Control {
	case Plug:
		s.In = m.To > 0
	case Charge:
		s.Charge = m.To
	case Age:
		s.cells.hours = m.To
	case Held:
		return
	}
	r.give()
}

// spend takes from the cells what was drawn since they were looked at, and begins to count anew. It
// returns how much that was on average, in amperes.
func (r *Rig) spend() (mean float64) {
	s, c := &r.source, r.source.cells
	r.account()
	mean = r.drawn()
	if over := float64(r.now - c.begun); over > 0 {
		mean = c.carried / over
		s.Charge = max(0, s.Charge-c.loses(c.carried*1e-9))
	}
	c.begun, c.carried = r.now, 0
	return mean
}

// loses is how many per cents of their charge cells lose as so many ampere-seconds are drawn.
func (c *cells) loses(ampereSeconds float64) float64 {
	return 100 * ampereSeconds / 3600 * (1 + 3600*c.hours) / c.AmpHours.Typ
}

// account notes what was drawn from the cells up to now.
func (r *Rig) account() {
	c := r.source.cells
	c.carried += r.drawn() * float64(r.now-c.since)
	c.since = r.now
}

// drawn is the current that the supply gives now, in amperes.
func (r *Rig) drawn() float64 {
	if !r.source.In {
		return 0
	}
	return r.source.cells.amps + r.source.board.Appetite.Typ*r.taken()
}

// draw notes what a region draws from the rails, as far as that comes from the cells.
func (r *Rig) draw(g *region) {
	c := r.source.cells
	if c == nil || len(g.rails) == 0 {
		return
	}
	amps := 0.0
	for _, e := range g.rails {
		through := 0.0
		if g.motion != nil && len(g.pulsed) == 0 {
			through = -g.motion.Amps(e)
		} else {
			through, _ = r.averaged(g, func(s *stand) float64 { return -s.TypicalAmps(e) })
		}
		// What flows back into a rail does not go into the cells.
		if _, made := r.source.board.Rail(r.net.Elements[e].Pin); made {
			through *= r.taken()
		}
		amps += max(0, through)
	}
	if amps == g.drawn {
		return
	}
	if c.next > r.now+lookAfter {
		r.spend()
		c.next = r.now + lookAfter
	} else {
		r.account()
	}
	c.amps += amps - g.drawn
	g.drawn = amps
}

// taken is how much of the supply's current an ampere of a rail takes: a regulator that switches
// takes less (see [supply.Drawn]).
func (r *Rig) taken() float64 {
	g := r.source.from.Regulator
	if g == nil || g.Linear() || r.source.Volts <= 0 {
		return 1
	}
	return r.net.RailVolts(g.Rail).Typ / (r.source.Volts * g.Efficiency.Typ)
}

// reckon works out what the cells have come to.
func (r *Rig) reckon() {
	s, c := &r.source, r.source.cells
	mean := r.spend()
	now := r.drawn()
	c.next = machine.Never
	switch {
	case math.Abs(mean-now) > 1e-4: // it has not settled
		c.next = r.now + lookAfter
	case now > 0 && s.Charge > 0:
		c.next = r.now + max(lookAging, int64(lookLost/c.loses(now)*1e9))
	}
	r.giveAt(mean)
}

// give has the supply give what it does now.
func (r *Rig) give() {
	if r.source.cells == nil {
		r.source.Volts = r.source.usual
		if !r.source.In {
			r.source.Volts = 0
		}
		r.feed(r.source.Volts)
		r.source.tell(r.now, r.source.Feed)
		return
	}
	r.giveAt(r.drawn())
}

// giveAt has cells give what they do with so many amperes drawn from them.
func (r *Rig) giveAt(amps float64) {
	s, c := &r.source, r.source.cells
	volts := 0.0
	if s.In {
		volts = max(0, c.count*(c.Open(s.Charge)-amps*c.Ohms))
	}
	if math.Abs(volts-s.Volts) > apart || !s.In {
		s.Volts = math.Round(volts/steps) * steps
		r.feed(s.Volts)
	}
	s.tell(r.now, s.Feed)
}

// mostFed bounds how many networks are kept that are fed otherwise than planned.
const mostFed = 64

// feed goes on with the build as it is with another voltage of its supply: at 0 it is unplugged.
// Capacitors keep what they have, and so do hands; registers that had no supply hold nothing.
func (r *Rig) feed(volts float64) {
	net, ok := r.fed[volts]
	if !ok {
		if len(r.fed) >= mostFed {
			clear(r.fed)
			for _, g := range r.regions {
				clear(g.kept)
			}
		}
		net = r.plan.With(wiring.Feed(volts))
		r.fed[volts] = net
	}
	if net == r.net {
		return
	}
	for i, g := range r.regions {
		if net.Pieces[i] == g.piece {
			continue
		}
		r.before(g)
		g.kept[g.piece] = g.solved
		g.piece, g.now = net.Pieces[i], nil
		if g.solved = g.kept[g.piece]; g.solved == nil {
			g.solved = map[string]*stand{}
		}
		g.age++
		if g.motion != nil {
			g.motion.Of(g.piece, g.state)
		}
		r.touch(g)
	}
	was := r.net
	r.net = net
	r.levels()
	if r.noise != nil && was.RailVolts(net.Board.Logic.Rail).Typ == 0 {
		r.wake(rand.New(rand.NewPCG(r.noise.seed, uint64(r.now))))
	}
	for _, p := range r.Probes {
		r.sample(p)
	}
}

// levels works out from which voltages on inputs read high, and up to which they read low.
func (r *Rig) levels() {
	rail := r.net.RailVolts(r.net.Board.Logic.Rail).Typ
	r.vil, r.vih = r.net.Board.Logic.VIL.At(rail), r.net.Board.Logic.VIH.At(rail)
}

// LetGo lets go of all pins, as the board does that stops or begins.
func (r *Rig) LetGo(at int64) {
	for pin := range r.pins {
		if r.pins[pin].drive.Mode != machine.LetGo {
			r.Set(pin, machine.Drive{}, at)
		}
	}
}
