package bench_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/testkit/ready"
)

// live lets a run go on in legs as they come, with hands at it.
func (x a) live(t testing.TB, seed uint64, draw *rand.Rand, lasts time.Duration) *bench.Recording {
	t.Helper()
	l, err := bench.NewLive(t.Context(), x.net, x.made, bench.Options{Lasts: time.Hour, Seed: seed})
	require.NoError(t, err)
	defer l.Close()
	whole := bench.NewRecording(bench.Options{Seed: seed})
	hands := bench.Hands(x.net)
	for l.Now() < int64(lasts) {
		switch draw.IntN(12) {
		case 0, 1:
			if len(hands) > 0 {
				_ = l.Do(anything(draw, hands[draw.IntN(len(hands))])) // a key let go that is not down is refused by nobody
			}
		case 2:
			require.NoError(t, l.Do(bench.Action{Do: bench.Type, Text: "on\n"}))
		case 3:
			if draw.IntN(3) == 0 { // what is unplugged does nothing for long
				require.NoError(t, l.Do(bench.Action{Do: []bench.Verb{bench.Unplug, bench.Plug, bench.Plug, bench.Reset}[draw.IntN(4)], Of: bench.Board}))
			} else if x.net.Doc.Cells != nil {
				require.NoError(t, l.Do(bench.Action{Do: bench.Set, Of: bench.Cells, To: 100 * draw.Float64()}))
				require.NoError(t, l.Do(bench.Action{Do: bench.Drain, Of: bench.Cells, To: 50 * draw.Float64()}))
			}
		case 4:
			require.NoError(t, l.Step(l.Now()+int64(300*time.Millisecond)))
		default:
			require.NoError(t, l.To(min(int64(lasts), l.Now()+draw.Int64N(40e6))))
		}
		whole.Add(l.News())
	}
	// A step may have held it amid a moment, which a run that ends there does not come to.
	require.NoError(t, l.To(l.Now()+1))
	whole.Add(l.News())
	return whole
}

func anything(draw *rand.Rand, h bench.Hand) bench.Action {
	switch h.Kind {
	case bench.Levels:
		return bench.Action{Do: bench.Set, Of: h.Of, To: h.Least + draw.Float64()*(h.Most-h.Least)}
	case bench.Spins:
		return bench.Action{Do: bench.Spin, Of: h.Of, To: draw.Float64() * h.Most}
	}
	verb := bench.Press
	if draw.IntN(2) == 0 {
		verb = bench.Release
	}
	a := bench.Action{Do: verb, Of: h.Of}
	if h.Kind == bench.PadOf {
		a.Key = h.Keys[draw.IntN(len(h.Keys))]
	}
	return a
}

// What is watched as it goes is what is recorded of the same actions, in whatever legs, with
// whatever steps in between.
func TestLiveIsTheRun(t *testing.T) {
	floating, _, err := plan.Apply(lib, build.New("floating", "classic-5v"), []plan.Edit{plan.Add{Kind: "button", Hookup: "no-pull", Pin: "D4"}, plan.Add{Kind: "led", Type: "red", Hookup: "dimmed", Pin: "D5"}})
	require.NoError(t, err)
	for name, x := range map[string]a{
		"floating": compiled(t, floating, "void setup() { pinMode(4, INPUT); Serial.begin(9600); }\nvoid loop() { static int n; if (digitalRead(4)) n++; analogWrite(5, n / 64); while (Serial.available()) { Serial.write(Serial.read()); } }"),
		"cells":    compiled(t, fan(t, "alkaline-aaa", 3), "void setup() { pinMode(4, OUTPUT); Serial.begin(9600); }\nvoid loop() { static int n; Serial.println(n); analogWrite(4, n % 3 * 100); n++; delay(30); }"),
		"keypad":   compiled(t, ready.Build(t, lib, "keypad"), ""),
		"register": compiled(t, ready.Build(t, lib, "register"), ""),
		"digit":    compiled(t, ready.Build(t, lib, "digit"), ""),
		"wheel":    compiled(t, ready.Build(t, lib, "wheel"), ""),
		"dimmer":   compiled(t, ready.Build(t, lib, "dimmer"), ""),
		"thermo":   compiled(t, ready.Build(t, lib, "thermometer"), ""),
	} {
		lasts := time.Second
		if name == "keypad" { // which does more than is kept of a longer run
			lasts /= 3
		}
		for seed := range uint64(2) {
			t.Run(fmt.Sprint(name, seed), func(t *testing.T) {
				live := x.live(t, seed, rand.New(rand.NewPCG(seed, 7)), lasts)
				once, err := bench.Run(t.Context(), x.net, x.made, bench.Options{Actions: live.Actions, Lasts: time.Duration(live.Ended*1e9 + 0.5), Seed: seed})
				require.NoError(t, err)
				a, b := told(t, once), told(t, live)
				for i := range min(len(a), len(b)) {
					require.Equal(t, a[i], b[i], "line %d, after %s", i, a[max(0, i-1)])
				}
				assert.Len(t, b, len(a))
			})
		}
	}
}

// told is what a recording tells, without what it says lamps look like: that is of other times.
func told(t *testing.T, r *bench.Recording) []string {
	var b strings.Builder
	for _, row := range r.Rows {
		fmt.Fprintf(&b, "%s %s %s %s %s\n", row.Kind, row.Of, row.Name, row.Lamp, row.Ink)
		for _, c := range row.Changes {
			fmt.Fprintf(&b, "  %.9f %g %s %d\n", c.At, c.Value, c.Text, c.Line)
		}
	}
	rest, err := json.Marshal([]any{r.Serial, r.Stress})
	require.NoError(t, err)
	return strings.Split(b.String()+string(rest), "\n")
}

// A reset that a script brings after the program has broken off begins it anew, watched or not.
func TestABrokenProgramIsReset(t *testing.T) {
	x := compiled(t, lamp(t), "int deep(int n) { return 1 + deep(n ^ 1) + deep(n); }\nvoid setup() { Serial.begin(9600); Serial.println(millis()); delay(100); if (millis() > 90) Serial.println(deep(1)); }\nvoid loop() {}")
	actions, err := bench.ParseScript(x.net, "0.5s reset board")
	require.NoError(t, err)
	o := bench.Options{Actions: actions, Lasts: 2 * time.Second, Seed: 1}
	l, err := bench.NewLive(t.Context(), x.net, x.made, o)
	require.NoError(t, err)
	defer l.Close()
	live := bench.NewRecording(o)
	for l.Now() < 1e9 && live.How == "" {
		require.NoError(t, l.To(l.Now()+1e8))
		live.Add(l.News())
	}
	once, err := bench.Run(t.Context(), x.net, x.made, o)
	require.NoError(t, err)
	assert.Equal(t, "0\n0\n", printed(once))
	for _, r := range []*bench.Recording{once, live} {
		assert.Equal(t, "broke off", r.How)
		assert.Greater(t, r.Ended, 0.68)
		assert.Less(t, r.Ended, 1.0)
		assert.Equal(t, [2]any{once.Ended, once.Serial}, [2]any{r.Ended, r.Serial})
	}
}

// What makes no sense is refused, and what a finger lets go was down for a while; a run that is
// stepped waits at a line of the program; one that is closed ends.
func TestHandsAtALiveRun(t *testing.T) {
	x := compiled(t, ready.Build(t, lib, "toggle"), "")
	l, err := bench.NewLive(t.Context(), x.net, x.made, bench.Options{Lasts: time.Minute, Seed: 1})
	require.NoError(t, err)
	defer l.Close()
	require.NoError(t, l.To(1e9))
	assert.InDelta(t, 1e9, l.Now(), 1e5, "a loop that polls ends its round first")
	require.NoError(t, l.Do(bench.Action{Do: bench.Press, Of: "button1"}))
	require.NoError(t, l.Do(bench.Action{Do: bench.Release, Of: "button1"}))
	assert.ErrorContains(t, l.Do(bench.Action{Do: bench.Press, Of: "led1"}), "cannot be pressed")
	require.NoError(t, l.To(2e9))
	n := l.News()
	require.Len(t, n.Actions, 2)
	assert.InDelta(t, 0.08, n.Actions[1].At-n.Actions[0].At, 1e-6)
	assert.True(t, n.All)
	lamp := n.Rows[len(n.Rows)-1]
	assert.Equal(t, bench.LampRow, lamp.Kind)
	assert.Len(t, lamp.Changes, 2, "one press, one change")
	assert.Empty(t, l.News().Rows, "what was told is not told again")
	require.NoError(t, l.Do(bench.Action{Do: bench.Press, Of: "button1"}))
	require.NoError(t, l.Step(10e9))
	n = l.News()
	assert.NotZero(t, n.Line)
	assert.InDelta(t, 2, n.At, 0.1, "it waits where the press is answered")
	require.NoError(t, l.To(100e9))
	assert.Equal(t, "over", l.News().How)
	assert.EqualValues(t, 60e9, l.Now())
}
