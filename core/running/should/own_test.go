package should_test

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/catalogue/part"
	"cablaggio/core/document/build"
	"cablaggio/core/electric/wiring"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/should"
)

// described is a reader of a build with a lamp and one part that was described from its leaflet.
func described(t *testing.T, l part.Leaflet) *should.Reader {
	t.Helper()
	k, err := l.Kind("own-part", lib.Catalogue)
	require.NoError(t, err, l.Name)
	own := *lib
	own.Catalogue = lib.Catalogue.With([]part.Kind{*k})
	doc, _, err := plan.Apply(&own, build.New("own", "classic-5v"), []plan.Edit{plan.Add{Kind: k.ID}, plan.Add{Kind: "led"}})
	require.NoError(t, err)
	return should.NewReader(wiring.Build(&own, doc))
}

// probe is a module with one output that gives volts.
func probe(unit string, least, most float64) part.Leaflet {
	return part.Leaflet{Name: "Probe", Sort: part.Module, From: 3, To: 5.5, Legs: []part.LeafletLeg{
		{Name: "V", Is: part.PlusLeg}, {Name: "G", Is: part.GroundLeg},
		{Name: "A", Is: part.OutputLeg, Gives: part.GivesVolts, About: "what it probes", Unit: unit, Least: least, Most: most, LeastGive: 0, MostGive: 2.5},
	}}
}

// A quantity is said in the unit that its builder gave it, whatever that is and however it is
// written behind its number; what is said back is read again.
func TestUnitsOfOnesOwn(t *testing.T) {
	for _, unit := range []string{"ppm", "bar", "hPa", "km/h", "m/s", "m/s²", "°F", "K", "C", "%RH", "% rel.", "dB", "dB(A)", "g", "kg", "N", "A", "mA", "V", "mV", "mm", "cm", "m", "in", "l/min", "1/min", "rpm", "pH", "µg/m³", "lx", "W/m²", "UV index", "µS/cm", "°", "a.u.", "s", "ms", "ohm", "Ω"} {
		r := described(t, probe(unit, 0, 100))
		want := "while Probe 1 is above 40 " + unit + ", red LED 1 is lit"
		for _, said := range append(r.Suggest(),
			want, "the red LED is lit while the probe is above 40 "+unit, "while the probe is above 40"+unit+", the red LED is lit",
			"When the probe is over 40 "+strings.ToUpper(unit)+" the LED should be on.", "while the probe is above forty "+unit+", the lamp is lit",
			"the lamp is dark while the probe is below 12.5 "+unit, "above 40 "+unit+" the lamp is lit",
			"while the probe is between 20 "+unit+" and 50 "+unit+", the lamp is lit", "while the probe is between 20 and 50 "+unit+", the lamp is lit",
		) {
			s, err := r.Read(said)
			if !assert.NoError(t, err, "%q: %s", unit, said) {
				continue
			}
			if strings.Contains(said, "40") {
				assert.Equal(t, want, s.Says, said)
			}
			again, err := r.Read(s.Says)
			if assert.NoError(t, err, "%q: what it says is understood", unit) {
				assert.Equal(t, s.Says, again.Says)
			}
		}
		_, err := r.Read("while the probe is above 140 " + unit + ", the lamp is lit")
		assert.ErrorContains(t, err, "goes from 0 to 100", unit)
	}
}

// A unit that is not the part's is refused with the one that is; what is to be printed stays as it
// is written.
func TestOtherUnitsThanOnesOwn(t *testing.T) {
	r := described(t, probe("ppm", 0, 1000))
	_, err := r.Read("above 40 cm the lamp is lit")
	assert.ErrorContains(t, err, `nothing here is measured in "cm"`)
	_, err = r.Read("while the probe is above 40 %, the lamp is lit")
	assert.ErrorContains(t, err, "it is in ppm")
	s, err := r.Read(`while the probe is above 400 ppm, it prints "more than 400 ppm"`)
	require.NoError(t, err)
	assert.Contains(t, s.Says, `"more than 400 ppm"`)
}

// States are said as the leaflet calls them, by the part's name and without it.
func TestStatesOfOnesOwn(t *testing.T) {
	states := func(quiet, told string) part.Leaflet {
		return part.Leaflet{Name: "Watcher", Sort: part.Module, From: 3, To: 5.5, Legs: []part.LeafletLeg{
			{Name: "V", Is: part.PlusLeg}, {Name: "G", Is: part.GroundLeg},
			{Name: "D", Is: part.OutputLeg, Gives: part.GivesLevel, Quiet: quiet, Told: told, Low: true},
		}}
	}
	for _, x := range []struct{ quiet, told, said, says string }{
		{"no flame", "flame", "while there is a flame, the LED is lit", "while Watcher 1 is flame, red LED 1 is lit"},
		{"no flame", "flame", "the LED is dark while there is no flame", "while Watcher 1 is no flame, red LED 1 is dark"},
		{"no flame", "flame", "while the watcher sees a flame, the lamp is on", "while Watcher 1 is flame, red LED 1 is lit"},
		{"no flame", "flame", "the lamp is dark while the watcher does not detect a flame", "while Watcher 1 is no flame, red LED 1 is dark"},
		{"dry", "wet", "when the watcher is wet, the red LED lights", "while Watcher 1 is wet, red LED 1 is lit"},
		{"dry", "wet", "the lamp is lit only while it is wet", "only while Watcher 1 is wet, red LED 1 is lit"},
		{"free", "in the way", "while something is in the way the lamp is lit", "while Watcher 1 is in the way, red LED 1 is lit"},
		{"quiet", "loud", "the lamp lights while it is loud", "while Watcher 1 is loud, red LED 1 is lit"},
	} {
		r := described(t, states(x.quiet, x.told))
		for _, s := range r.Suggest() {
			_, err := r.Read(s)
			assert.NoError(t, err, s)
		}
		s, err := r.Read(x.said)
		if assert.NoError(t, err, x.said) {
			assert.Equal(t, x.says, s.Says, x.said)
		}
	}
}
