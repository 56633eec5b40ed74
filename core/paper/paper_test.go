package paper_test

import (
	"bytes"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/core/build"
	"cablaggio/core/check"
	"cablaggio/core/paper"
	"cablaggio/demo"
	"cablaggio/starts"
)

var lib = build.Shipped()

func plan(t *testing.T, data []byte) []byte {
	t.Helper()
	doc, err := lib.Parse(data)
	require.NoError(t, err)
	a, err := check.Check(lib, doc)
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, paper.Plan(&b, lib, doc, a))
	return b.Bytes()
}

// Every demo build and start goes onto paper, as a whole PDF and always the same.
func TestEveryPlanGoesOnPaper(t *testing.T) {
	var files [][]byte
	for _, d := range demo.Builds() {
		files = append(files, d.Data)
	}
	for _, s := range starts.All() {
		files = append(files, s.Data)
	}
	for _, data := range files {
		pdf := plan(t, data)
		assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
		assert.True(t, bytes.HasSuffix(bytes.TrimSpace(pdf), []byte("%%EOF")))
		assert.True(t, bytes.Equal(pdf, plan(t, data)))
	}
}
