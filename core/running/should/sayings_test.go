package should_test

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/running/should"
)

// What people say is put in the plain form that is meant, or refused with what would be right:
// understood wrongly is worse than not at all.
func TestSayings(t *testing.T) {
	data, err := os.ReadFile("testdata/sayings.txt")
	require.NoError(t, err)
	said, missed := 0, 0
	readers := map[string]*should.Reader{}
	for line := range strings.Lines(string(data)) {
		cells := strings.Split(strings.TrimSpace(line), " | ")
		if strings.HasPrefix(line, "#") || len(cells) != 3 {
			continue
		}
		said++
		if readers[cells[0]] == nil {
			readers[cells[0]] = reader(t, cells[0])
		}
		r := readers[cells[0]]
		s, err := r.Read(cells[1])
		if right, ok := strings.CutPrefix(cells[2], "!"); ok {
			if err == nil {
				t.Errorf("%s: understood as %q", cells[1], s.Says)
				continue
			}
			assert.ErrorContains(t, err, right, cells[1])
			continue
		}
		if err != nil {
			missed++
			t.Errorf("%s: %s\n   %v", cells[0], cells[1], err)
			continue
		}
		if assert.Equal(t, cells[2], s.Says, cells[1]) {
			again, err := r.Read(s.Says)
			if assert.NoError(t, err, "what it says is understood") {
				assert.Equal(t, s.Says, again.Says)
			}
		}
	}
	t.Log(said, "said,", missed, "not understood")
}
