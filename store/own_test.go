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
	_, tag, err := s.Tags(ctx)
	require.NoError(t, err)
	require.NoError(t, s.FillDrawer(ctx, tag, items))
	got, err := s.Drawer(ctx)
	require.NoError(t, err)
	require.Len(t, got, 3)
	for i := range got {
		assert.NotEmpty(t, got[i].ID)
		got[i].ID = ""
	}
	assert.Equal(t, items, got)
	var stale *store.StaleError
	assert.ErrorAs(t, s.FillDrawer(ctx, tag, nil), &stale, "somebody else was first")
	require.NoError(t, s.FillDrawer(ctx, tag+1, nil))
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
	list, err := s.Revisions(ctx, b.ID, 0, 10)
	require.NoError(t, err)
	var words []string
	for _, r := range list {
		words = append(words, r.Summary)
	}
	assert.Equal(t, []string{"called it three", "called it two", "began"}, words)
	assert.Equal(t, []int{1, 1, 0}, []int{list[0].Parent, list[1].Parent, list[2].Parent})
	list, err = s.Revisions(ctx, b.ID, 3, 1)
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, 2, list[0].N)
}

// A board can be kept, changed and forgotten, but not from under a build.
func TestBoardsOfOnesOwn(t *testing.T) {
	s, ctx := open(t), t.Context()
	tag, _, err := s.Tags(ctx)
	require.NoError(t, err)
	keep := func(id string, base int, profile string) error {
		_, err := s.KeepBoard(ctx, id, base, []byte(profile))
		return err
	}
	require.NoError(t, keep("mine", 0, `{"v":1}`))
	require.NoError(t, keep("mine", 1, `{"v":2}`))
	var stale *store.StaleError
	require.ErrorAs(t, keep("mine", 1, `{"v":3}`), &stale, "somebody else was first")
	after, _, err := s.Tags(ctx)
	require.NoError(t, err)
	assert.Equal(t, tag+2, after)
	list, err := s.Boards(ctx)
	require.NoError(t, err)
	require.Len(t, list, 2, "what builds may be on stays")
	assert.JSONEq(t, `{"v":2}`, string(list[1].Profile))
	assert.Equal(t, []bool{false, true}, []bool{list[0].Newest, list[1].Newest})
	d := draft("on it", "began")
	d.Board = "mine"
	_, err = s.Create(ctx, d)
	require.NoError(t, err)
	assert.ErrorIs(t, s.DropBoard(ctx, "mine"), store.ErrBoardInUse)
	require.NoError(t, keep("unused", 0, `{}`))
	require.NoError(t, s.DropBoard(ctx, "unused"))
	assert.ErrorIs(t, s.DropBoard(ctx, "unused"), store.ErrNotFound)
}
