package store_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
)

// Entries stay where they were made, whatever undo does, and are made once.
func TestTheLog(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	note := func(text, key string) *store.Entry {
		e, err := s.Log(ctx, b.ID, key, store.Entry{Kind: "note", Part: "led1", Text: text, Data: []byte(`{}`)})
		require.NoError(t, err)
		return e
	}
	first := note("it works", "k")
	assert.Equal(t, 1, first.Revision)
	assert.Equal(t, first, note("it works", "k"), "a repeated request makes one")
	two, err := s.Save(ctx, b.ID, b.Tag, draft("two", ""))
	require.NoError(t, err)
	assert.Equal(t, 2, note("another lamp", "").Revision)
	_, err = s.Undo(ctx, b.ID, two.Tag)
	require.NoError(t, err)
	all := func(q store.EntryQuery) []store.Entry {
		q.Most = 10
		list, _, err := s.Entries(ctx, b.ID, q)
		require.NoError(t, err)
		return list
	}
	require.Len(t, all(store.EntryQuery{}), 2)
	assert.Equal(t, "another lamp", all(store.EntryQuery{})[0].Text)
	assert.Len(t, all(store.EntryQuery{Search: "WORKS"}), 1)
	assert.Empty(t, all(store.EntryQuery{Kind: "reading"}))
	assert.Len(t, all(store.EntryQuery{Before: first.ID + 1, Part: "led1"}), 1)
	require.NoError(t, s.Strike(ctx, b.ID, first.ID, true))
	assert.Len(t, all(store.EntryQuery{}), 1)
	require.NoError(t, s.Strike(ctx, b.ID, first.ID, false))
	assert.Len(t, all(store.EntryQuery{}), 2)
	assert.ErrorIs(t, s.Strike(ctx, b.ID, 1<<40, true), store.ErrNotFound)
	with, err := s.Log(ctx, b.ID, "", store.Entry{Kind: "picture", Data: []byte(`{}`), Picture: &store.Picture{Width: 2, Height: 1, Whole: []byte{1, 0, 2}, Small: []byte{3}}})
	require.NoError(t, err)
	whole, err := s.Picture(ctx, b.ID, with.ID, false)
	require.NoError(t, err)
	assert.Equal(t, []byte{1, 0, 2}, whole)
	_, err = s.Picture(ctx, b.ID, first.ID, false)
	assert.ErrorIs(t, err, store.ErrNotFound)
	_, err = s.Log(ctx, "nobody", "", store.Entry{Data: []byte(`{}`)})
	assert.ErrorIs(t, err, store.ErrNotFound)
}
