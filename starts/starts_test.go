package starts_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/document/build"
	"cablaggio/core/judgement/check"
	"cablaggio/starts"
)

// Every start is a build without a stop or a care, and goes through the file
// format unchanged.
func TestStartsAreSound(t *testing.T) {
	lib := build.Shipped()
	all := starts.All()
	assert.GreaterOrEqual(t, len(all), 12)
	titles := map[string]bool{}
	for _, s := range all {
		doc, err := lib.Parse(s.Data)
		require.NoError(t, err, s.ID)
		a, err := check.Check(lib, doc)
		require.NoError(t, err, s.ID)
		assert.Zero(t, a.Counts.Stop+a.Counts.Care, s.ID)
		assert.NotEmpty(t, s.Job)
		assert.False(t, titles[doc.Title], doc.Title)
		titles[doc.Title] = true
	}
}
