package bench_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/planning/plan"
)

// A coil without its diode breaks through its transistor at the moment at which it is switched off;
// with it, nothing passes a limit.
func TestACoilKicks(t *testing.T) {
	doc, _, err := plan.Apply(lib, build.New("relay", "classic-5v"), []plan.Edit{plan.Add{Kind: "relay", Pin: "D7"}})
	require.NoError(t, err)
	const text = "void setup() { pinMode(7, OUTPUT); }\nvoid loop() { digitalWrite(7, HIGH); delay(300); digitalWrite(7, LOW); delay(300); }"
	x := compiled(t, doc, text)
	assert.Empty(t, x.run(t, "", time.Second, 1).Stress)
	bare, _, err := plan.Apply(lib, doc, []plan.Edit{plan.Remove{Part: "relay1-flyback"}})
	require.NoError(t, err)
	r := compiled(t, bare, text).run(t, "", time.Second, 1)
	require.Len(t, r.Stress, 1)
	assert.Equal(t, "relay1-transistor", r.Stress[0].Of)
	assert.InDelta(t, 0.3, r.Stress[0].At, 0.001)
	assert.Contains(t, r.Stress[0].Words, "hundreds of volts as its coil is switched off")

	// Pulled off its supply while it is on, its current goes on through nothing that is hurt.
	r = x.run(t, "0.1s unplug board; 0.4s plug board", time.Second, 1)
	assert.Empty(t, r.Stress)
}
