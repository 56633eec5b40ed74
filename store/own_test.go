package store_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
)

// The drawer comes back in its order, with every value.
func TestTheDrawerIsKept(t *testing.T) {
	s, ctx := open(t), t.Context()
	items := []store.Item{
		{Kind: "resistor", Values: map[string]float64{"resistance": 220.5}, Pieces: 7, Measured: true},
		{Kind: "led", Type: "red", Name: "from the blue bag 😀", Values: map[string]float64{}, Pieces: 3},
		{Kind: "resistor", Values: map[string]float64{"resistance": 1000}, Pieces: 1},
	}
	require.NoError(t, s.FillDrawer(ctx, items))
	got, err := s.Drawer(ctx)
	require.NoError(t, err)
	require.Len(t, got, 3)
	for i := range got {
		assert.NotEmpty(t, got[i].ID)
		got[i].ID = ""
	}
	assert.Equal(t, items, got)
	require.NoError(t, s.FillDrawer(ctx, nil))
	got, err = s.Drawer(ctx)
	require.NoError(t, err)
	assert.Empty(t, got)
}

// The history is every state, the newest first, also of ways not taken.
func TestTheHistoryOfABuild(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	two, err := s.Save(ctx, b.ID, b.Tag, draft("two", "called it two"))
	require.NoError(t, err)
	back, err := s.Undo(ctx, b.ID, two.Tag)
	require.NoError(t, err)
	_, err = s.Save(ctx, b.ID, back.Tag, draft("three", "called it three"))
	require.NoError(t, err)
	list, err := s.Revisions(ctx, b.ID, 10)
	require.NoError(t, err)
	var words []string
	for _, r := range list {
		words = append(words, r.Summary)
	}
	assert.Equal(t, []string{"called it three", "called it two", "began"}, words)
	assert.Equal(t, []int{1, 1, 0}, []int{list[0].Parent, list[1].Parent, list[2].Parent})
	list, err = s.Revisions(ctx, b.ID, 1)
	require.NoError(t, err)
	assert.Len(t, list, 1)
}

// A board can be kept, changed and forgotten, but not from under a build.
func TestBoardsOfOnesOwn(t *testing.T) {
	s, ctx := open(t), t.Context()
	require.NoError(t, s.KeepBoard(ctx, "mine", []byte(`{"v":1}`)))
	require.NoError(t, s.KeepBoard(ctx, "mine", []byte(`{"v":2}`)))
	list, err := s.Boards(ctx)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.JSONEq(t, `{"v":2}`, string(list[0]))
	d := draft("on it", "began")
	d.Board = "mine"
	_, err = s.Create(ctx, d)
	require.NoError(t, err)
	assert.ErrorIs(t, s.DropBoard(ctx, "mine"), store.ErrBoardInUse)
	require.NoError(t, s.KeepBoard(ctx, "unused", []byte(`{}`)))
	require.NoError(t, s.DropBoard(ctx, "unused"))
	assert.ErrorIs(t, s.DropBoard(ctx, "unused"), store.ErrNotFound)
}
