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
	tags, err := s.Tags(ctx)
	require.NoError(t, err)
	require.NoError(t, s.FillDrawer(ctx, tags.Drawer, items))
	got, err := s.Drawer(ctx)
	require.NoError(t, err)
	require.Len(t, got, 3)
	for i := range got {
		assert.NotEmpty(t, got[i].ID)
		got[i].ID = ""
	}
	assert.Equal(t, items, got)
	var stale *store.StaleError
	assert.ErrorAs(t, s.FillDrawer(ctx, tags.Drawer, nil), &stale, "somebody else was first")
	require.NoError(t, s.FillDrawer(ctx, tags.Drawer+1, nil))
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
	before, err := s.Tags(ctx)
	require.NoError(t, err)
	keep := func(id string, base int, profile string) error {
		_, err := s.KeepBoard(ctx, id, base, []byte(profile))
		return err
	}
	require.NoError(t, keep("mine", 0, `{"v":1}`))
	require.NoError(t, keep("mine", 1, `{"v":2}`))
	var stale *store.StaleError
	require.ErrorAs(t, keep("mine", 1, `{"v":3}`), &stale, "somebody else was first")
	after, err := s.Tags(ctx)
	require.NoError(t, err)
	assert.Equal(t, before.Boards+2, after.Boards)
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

// A kind of part is kept over what it was, and not over what somebody else has made of it.
func TestKindsAreKept(t *testing.T) {
	s, ctx := open(t), t.Context()
	before, err := s.Tags(ctx)
	require.NoError(t, err)
	n, err := s.KeepKind(ctx, "rain", 0, []byte(`{"a":1}`))
	require.NoError(t, err)
	assert.Equal(t, 1, n)
	var stale *store.StaleError
	_, err = s.KeepKind(ctx, "rain", 0, []byte(`{"a":2}`))
	assert.ErrorAs(t, err, &stale, "there is one")
	n, err = s.KeepKind(ctx, "rain", 1, []byte(`{"a":3}`))
	require.NoError(t, err)
	assert.Equal(t, 2, n)
	list, err := s.Kinds(ctx)
	require.NoError(t, err)
	assert.Equal(t, []store.Kind{{ID: "rain", N: 2, Kind: []byte(`{"a":3}`)}}, list)
	after, err := s.Tags(ctx)
	require.NoError(t, err)
	assert.Greater(t, after.Kinds, before.Kinds, "whoever has read them learns of it")
	require.NoError(t, s.DropKind(ctx, "rain"))
	assert.Error(t, s.DropKind(ctx, "rain"))
}
