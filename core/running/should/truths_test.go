package should_test

import (
	"os"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/testkit"
	"cablaggio/core/testkit/ready"
)

// What is said in people's words of builds whose programs were read by hand is judged as they
// are.
func TestTruths(t *testing.T) {
	data, err := os.ReadFile("testdata/truths.txt")
	require.NoError(t, err)
	said := map[string][][2]string{}
	var builds []string
	for line := range strings.Lines(string(data)) {
		cells := strings.Split(strings.TrimSpace(line), " | ")
		if strings.HasPrefix(line, "#") || len(cells) != 3 {
			continue
		}
		if said[cells[0]] == nil {
			builds = append(builds, cells[0])
		}
		said[cells[0]] = append(said[cells[0]], [2]string{cells[1], cells[2]})
	}
	assert.Len(t, builds, 10)
	if !testkit.Wide() {
		builds = builds[:5]
	}
	for _, name := range builds {
		doc := ready.Build(t, lib, name)
		doc.Should = nil
		for _, x := range said[name] {
			doc.Should = append(doc.Should, x[0])
		}
		verdicts := try(t, doc, testkit.Few(3, 100))
		for i, x := range said[name] {
			v := verdicts[i]
			switch {
			case x[1] == "misread":
				assert.NotEmpty(t, v.Wrong, "%s: %s: %s", name, x[0], v.Says)
			case assert.Empty(t, v.Wrong, "%s: %s", name, x[0]):
				assert.Equal(t, x[1] == "holds", v.Holds, "%s: %s\n%s: %+v", name, x[0], v.Says, v.Broken)
			}
		}
	}
}
