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
	require.Len(t, all(store.EntryQuery{}), 3)
	assert.Equal(t, "taken back: "+draft("two", "").Summary, all(store.EntryQuery{})[0].Text)
	assert.Equal(t, "another lamp", all(store.EntryQuery{})[1].Text)
	assert.Len(t, all(store.EntryQuery{Search: "WORKS"}), 1)
	assert.Empty(t, all(store.EntryQuery{Kind: "reading"}))
	assert.Empty(t, all(store.EntryQuery{Kind: "é", Part: "ламп😀", Search: "☂"}), "a filter may have any letters")
	assert.Len(t, all(store.EntryQuery{Before: first.ID + 1, Part: "led1"}), 1)
	require.NoError(t, s.Strike(ctx, b.ID, first.ID, true))
	assert.Len(t, all(store.EntryQuery{}), 2)
	require.NoError(t, s.Strike(ctx, b.ID, first.ID, false))
	assert.Len(t, all(store.EntryQuery{}), 3)
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

// A change has a line with the revision that it made; what goes on with it keeps that line.
func TestChangesHaveLines(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	save := func(title, key string, joins bool) {
		d := draft(title, key)
		d.Line, d.About, d.Coalesces, d.Summary = "program", "led1", joins, "typed"
		var err error
		b, err = s.Save(ctx, b.ID, b.Tag, d)
		require.NoError(t, err)
	}
	save("one", "a", true)
	save("two", "b", true)
	save("two", "b", true) // the answer got lost
	list, _, err := s.Entries(ctx, b.ID, store.EntryQuery{Most: 9})
	require.NoError(t, err)
	require.Len(t, list, 1)
	assert.Equal(t, b.Tag.Revision, list[0].Revision)
	assert.Equal(t, "led1", list[0].Part)
	note, err := s.Log(ctx, b.ID, "", store.Entry{Kind: "note", Text: "so far", Data: []byte(`{}`)})
	require.NoError(t, err)
	save("three", "c", true)
	list, _, err = s.Entries(ctx, b.ID, store.EntryQuery{Most: 9})
	require.NoError(t, err)
	require.Len(t, list, 3, "what was noted belongs to what was there")
	assert.Less(t, note.Revision, list[0].Revision)
}

// Drills and the builder's meter are kept, and a meter that was changed elsewhere is not overwritten.
func TestDrillsAndTheMeter(t *testing.T) {
	s, ctx := open(t), t.Context()
	for _, d := range []store.Drill{{Code: "BLINK-1", Kind: "open", Spent: 3, Par: 2}, {Code: "BLINK-2", Lesson: "turned", Kind: "turned", Spent: 1, Par: 1}} {
		require.NoError(t, s.KeepDrill(ctx, d.Code, d))
		require.NoError(t, s.KeepDrill(ctx, d.Code, d), "a repeated request makes one")
	}
	drills, err := s.Drills(ctx)
	require.NoError(t, err)
	require.Len(t, drills, 2)
	assert.Equal(t, "BLINK-1", drills[0].Code)
	assert.Equal(t, "turned", drills[1].Lesson)

	profile, tag, err := s.Meter(ctx)
	require.NoError(t, err)
	assert.Nil(t, profile)
	require.NoError(t, s.KeepMeter(ctx, tag, []byte(`{"a":1}`)))
	var stale *store.StaleError
	require.ErrorAs(t, s.KeepMeter(ctx, tag, []byte(`{"a":2}`)), &stale)
	profile, tag, err = s.Meter(ctx)
	require.NoError(t, err)
	assert.JSONEq(t, `{"a":1}`, string(profile))
	require.NoError(t, s.KeepMeter(ctx, tag, nil))
	profile, _, err = s.Meter(ctx)
	require.NoError(t, err)
	assert.Nil(t, profile)
}
