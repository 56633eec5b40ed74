package server_test

import (
	"encoding/json"
	"math"
	"net/http"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/fasthttp/websocket"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
	"cablaggio/core/running/bench"
	"cablaggio/core/running/program"
	"cablaggio/demo"
	"cablaggio/server"
)

// A seat is where one who watches a run sits.
type seat struct {
	t    testing.TB
	conn *websocket.Conn
	sees *bench.Recording // put together of all that was told
	last server.LiveUpdate
	id   string
}

// sit opens a connection to a run of a build; query may name one that there is.
func sit(t testing.TB, build, query string, headers http.Header) *seat {
	t.Helper()
	conn, _, err := websocket.DefaultDialer.Dial(strings.Replace(base, "http", "ws", 1)+"/api/builds/"+build+"/bench"+query, headers)
	require.NoError(t, err)
	t.Cleanup(func() { _ = conn.Close() })
	s := &seat{t: t, conn: conn}
	s.until("the first word", func() bool { return s.sees != nil || s.last.Refused })
	return s
}

// until takes in updates until something holds.
func (s *seat) until(what string, holds func() bool) {
	s.t.Helper()
	require.NoError(s.t, s.conn.SetReadDeadline(time.Now().Add(time.Minute)))
	for first := true; first || !holds(); first = false {
		var u server.LiveUpdate
		require.NoError(s.t, s.conn.ReadJSON(&u), what)
		s.last = u
		if u.Session != "" {
			s.id = u.Session
		}
		if u.Whole != nil {
			s.sees = u.Whole
		}
		if u.News != nil {
			s.sees.Add(*u.News)
		}
	}
}

func (s *seat) wish(w server.LiveWish) {
	s.t.Helper()
	require.NoError(s.t, s.conn.WriteJSON(w))
}

func (s *seat) row(kind bench.RowKind, of string) *bench.Row {
	for i := range s.sees.Rows {
		if r := &s.sees.Rows[i]; r.Kind == kind && r.Of == of {
			return r
		}
	}
	return &bench.Row{}
}

// watched is a build with a lamp that a button turns over.
func watched(t *testing.T) string {
	v := edit(t, begin(t), plan.Add{Kind: "button", Pin: "D4"}, plan.Add{Kind: "led", Type: "red", Pin: "D7"},
		plan.Program{Program: &build.Program{Language: build.CPP, Text: `bool lit, was = true;
void setup() { pinMode(4, INPUT_PULLUP); pinMode(7, OUTPUT); Serial.begin(9600); }
void loop() {
  bool up = digitalRead(4);
  if (was && !up) { lit = !lit; Serial.println(lit); }
  was = up;
  digitalWrite(7, lit);
  delay(20);
}`}}).view(t)
	return v.ID
}

// A run is watched while hands act on it; it holds, goes back, and is found again where it was
// by who comes back, or by another.
func TestLive(t *testing.T) {
	id := watched(t)
	s := sit(t, id, "", nil)
	assert.False(t, s.last.Playing)
	s.wish(server.LiveWish{Do: "speed", Speed: 10})
	s.wish(server.LiveWish{Do: "play"})
	s.until("time goes by", func() bool { return s.sees.Ended > 1 })
	s.wish(server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Press, Of: "button1"}})
	s.wish(server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Release, Of: "button1"}})
	s.until("the lamp is lit", func() bool { return len(s.row(bench.LampRow, "led1").Changes) == 2 })
	pressed := s.sees.Actions[0].At
	assert.Greater(t, pressed, 1.0)
	assert.Less(t, s.row(bench.LampRow, "led1").Changes[1].At-pressed, 0.05)

	other := sit(t, id, "?session="+s.id, nil)
	assert.Equal(t, s.id, other.id)
	assert.Len(t, other.row(bench.LampRow, "led1").Changes, 2, "whoever comes later sees all")
	other.wish(server.LiveWish{Do: "hold"})
	s.until("it holds", func() bool { return !s.last.Playing })
	at := s.sees.Ended
	s.wish(server.LiveWish{Do: "step"})
	s.until("a step", func() bool { return s.last.News != nil })
	assert.Positive(t, s.last.News.Line)
	s.wish(server.LiveWish{Do: "probe", Probes: []bench.Probe{{At: "led1.anode"}}})
	s.until("a probe", func() bool { return s.last.Whole != nil })
	assert.GreaterOrEqual(t, s.sees.Ended, at)
	assert.Len(t, s.row(bench.VoltRow, "led1.anode").Changes, 3, "what it showed before it was put there, too")

	s.wish(server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Press, Of: "button1"}})
	s.wish(server.LiveWish{Do: "await", Row: &server.LiveRow{Kind: bench.LampRow, Of: "led1", Name: s.row(bench.LampRow, "led1").Name}})
	// It may say that it holds before it says, whole, what there was until then.
	rests := func(kind bench.RowKind, of string, more int) func() bool {
		return func() bool {
			c := s.row(kind, of).Changes
			return !s.last.Playing && len(c) > more && math.Abs(s.sees.Ended-c[len(c)-1].At) < 1e-4
		}
	}
	s.until("it holds, at the very moment", rests(bench.LampRow, "led1", 2))

	// A voltage is waited for to pass a level: none that is never passed, and the moment of one that is.
	level := 0.1
	volts := &server.LiveRow{Kind: bench.VoltRow, Of: "led1.anode", Name: s.row(bench.VoltRow, "led1.anode").Name, Level: &level}
	before := len(s.row(bench.VoltRow, "led1.anode").Changes)
	let := s.sees.Ended
	s.wish(server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Release, Of: "button1"}})
	s.wish(server.LiveWish{Do: "play"})
	s.until("the button rests", func() bool { return s.sees.Ended > let+0.3 })
	s.wish(server.LiveWish{Do: "await", Row: volts})
	s.wish(server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Press, Of: "button1"}})
	s.until("it holds at the level", rests(bench.VoltRow, "led1.anode", before))
	crossed := s.row(bench.VoltRow, "led1.anode").Changes
	require.Greater(t, len(crossed), before)
	last := crossed[len(crossed)-1]
	assert.NotEqual(t, crossed[len(crossed)-2].Value < level, last.Value < level)
	assert.InDelta(t, s.sees.Ended, last.At, 1e-4)

	at = s.sees.Ended
	s.wish(server.LiveWish{Do: "back", Seconds: at - pressed + 0.5})
	s.until("before the press", func() bool { return s.last.Whole != nil })
	assert.InDelta(t, pressed-0.5, s.sees.Ended, 0.5)
	assert.Empty(t, s.sees.Actions)
	assert.Len(t, s.row(bench.LampRow, "led1").Changes, 1)

	// What was taken back does not come again.
	s.wish(server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Press, Of: "button1"}})
	s.until("pressed anew", func() bool { return len(s.sees.Actions) == 1 })
	s.wish(server.LiveWish{Do: "probe"})
	s.until("run again", func() bool { return s.last.Whole != nil })
	s.wish(server.LiveWish{Do: "back", Seconds: 0.4})
	s.until("back once more", func() bool { return s.last.Whole != nil })
	s.wish(server.LiveWish{Do: "play"})
	s.until("it plays on", func() bool { return s.sees.Ended > pressed+1 })
	s.wish(server.LiveWish{Do: "hold"})
	s.until("it holds", func() bool { return !s.last.Playing })
	assert.Empty(t, s.sees.Actions)

	require.NoError(t, s.conn.Close())
	require.NoError(t, other.conn.Close())
	back := sit(t, id, "?session="+s.id, nil)
	assert.Equal(t, s.id, back.id)
	assert.InDelta(t, s.sees.Ended, back.sees.Ended, 1e-9, "a run that nobody watches holds")
}

// What makes no sense is told, and nothing is lost by it.
func TestLiveSaysWhatIsWrong(t *testing.T) {
	id := watched(t)
	s := sit(t, id, "", nil)
	for _, c := range []struct {
		wish any
		says string
	}{
		{server.LiveWish{Do: "act", Action: &bench.Action{Do: bench.Turn, Of: "button1"}}, "cannot be turned"},
		{server.LiveWish{Do: "act"}, "no action"},
		{server.LiveWish{Do: "dance"}, "not understood"},
		{server.LiveWish{Do: "speed", Speed: -1}, "no speed"},
		{server.LiveWish{Do: "probe", Probes: []bench.Probe{{At: "moon"}}}, "probe"},
		{server.LiveWish{Do: "again", Script: "1s press button1\n2s press moon"}, "Line 2"},
		{map[string]any{"do": "play", "fast": true}, "fast"},
		{[]int{1}, ""},
	} {
		require.NoError(t, s.conn.WriteJSON(c.wish))
		s.until(c.says, func() bool { return s.last.Problem != "" })
		assert.Contains(t, s.last.Problem, c.says)
		assert.False(t, s.last.Refused)
	}
	s.wish(server.LiveWish{Do: "again", Script: "0.05s press button1", Seconds: 1})
	s.until("a script is played", func() bool { return len(s.sees.Actions) == 1 && s.sees.Ended >= 1 })
	s.wish(server.LiveWish{Do: "play"})
	s.until("it plays on", func() bool { return s.sees.Ended > 1.1 })

	assert.Contains(t, sit(t, "none", "", nil).last.Problem, "There is no such build.")
	assert.Contains(t, sit(t, id, "?program=none", nil).last.Problem, "There is no such build.")
	bare := begin(t)
	assert.Contains(t, sit(t, id, "?program="+bare.ID, nil).last.Problem, "has no program")
	assert.Contains(t, sit(t, id, "?program="+id+"@last", nil).last.Problem, "not the number of a revision")
	assert.NotEmpty(t, sit(t, id, "?program="+id+"@99", nil).last.Problem)
	old := sit(t, bare.ID, "?program="+id+"@2", nil) // an old program on other wiring
	old.wish(server.LiveWish{Do: "speed", Speed: 20})
	old.wish(server.LiveWish{Do: "play"})
	old.until("it drives its pin", func() bool { return len(old.row(bench.PinRow, "D7").Changes) > 0 })
	assert.Equal(t, http.StatusUpgradeRequired, call(t, http.MethodGet, "/api/builds/"+id+"/bench", nil).StatusCode)
	_, got, err := websocket.DefaultDialer.Dial(strings.Replace(base, "http", "ws", 1)+"/api/builds/"+id+"/bench", http.Header{"Origin": {"http://elsewhere.example"}})
	require.Error(t, err)
	assert.Equal(t, http.StatusForbidden, got.StatusCode, "another site's page")
}

// Twenty runs that are watched at once, each a whole quiz table whose program never waits: how far
// behind the clock on the wall its watchers are told, at worst and in what share of the news by more
// than 50 ms. Those who watch are in the same process, and take a third of its time.
func BenchmarkLag(b *testing.B) {
	const lasts, late = 5 * time.Second, 0.05
	lib := build.Shipped()
	doc := demoBuild(b, lib, "quiz-table")
	var err error
	doc.Program, err = program.Starter(lib, doc, build.CPP)
	require.NoError(b, err)
	for b.Loop() {
		var all sync.WaitGroup
		var mu sync.Mutex
		var behind []float64
		for range 20 {
			var v struct{ ID string }
			require.NoError(b, json.Unmarshal(call(b, http.MethodPost, "/api/builds", server.NewBuild{Document: doc}).body, &v))
			s := sit(b, v.ID, "", nil)
			all.Go(func() {
				s.wish(server.LiveWish{Do: "play"})
				for began := time.Now(); time.Since(began) < lasts; {
					var u server.LiveUpdate
					if s.conn.ReadJSON(&u) != nil || u.News == nil {
						continue
					}
					mu.Lock()
					behind = append(behind, time.Since(began).Seconds()-u.News.At)
					mu.Unlock()
				}
			})
		}
		all.Wait()
		slices.Sort(behind)
		on, _ := slices.BinarySearch(behind, late)
		b.ReportMetric(1000*behind[len(behind)-1], "ms-at-worst")
		b.ReportMetric(100*float64(len(behind)-on)/float64(len(behind)), "%-over-50ms")
	}
}

func demoBuild(t testing.TB, lib *build.Library, name string) *build.Document {
	for _, d := range demo.Builds() {
		if d.Name == name {
			doc, err := lib.Parse(d.Data)
			require.NoError(t, err)
			return doc
		}
	}
	t.Fatalf("there is no build %s", name)
	return nil
}
