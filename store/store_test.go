package store_test

import (
	"context"
	"errors"
	"fmt"
	"os"
	"sync"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"cablaggio/store"
	"cablaggio/store/mariadb"
)

// The tests run on a real MariaDB, thrown away afterwards.
var db *mariadb.Server

func TestMain(m *testing.M) { os.Exit(run(m)) }

func run(m *testing.M) int {
	dir, err := os.MkdirTemp("", "cablaggio-store-")
	if err == nil {
		defer os.RemoveAll(dir)
		db, err = mariadb.Start(context.Background(), dir, func(string) {})
	}
	if err == nil {
		err = store.Migrate(context.Background(), db.AdminDSN())
	}
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer func() { _ = db.Stop() }()
	return m.Run()
}

func open(t *testing.T) *store.Store {
	t.Helper()
	s, err := store.Open(db.DSN(), db.Dial)
	require.NoError(t, err)
	t.Cleanup(func() { assert.NoError(t, s.Close()) })
	return s
}

func draft(title, summary string) store.Draft {
	return store.Draft{Title: title, Board: "b", Document: fmt.Appendf(nil, `{"title":%q}`, title), Summary: summary}
}

func create(t *testing.T, s *store.Store) *store.Build {
	t.Helper()
	b, err := s.Create(t.Context(), draft("one", "began"))
	require.NoError(t, err)
	return b
}

func TestUndoAndRedoHaveNoEndAndSurviveARestart(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	for _, title := range []string{"two", "three", "four"} {
		var err error
		b, err = s.Save(ctx, b.ID, b.Tag, draft(title, "called it "+title))
		require.NoError(t, err)
	}
	s = open(t) // as a new program would
	for _, title := range []string{"three", "two", "one"} {
		var err error
		b, err = s.Undo(ctx, b.ID, b.Tag)
		require.NoError(t, err)
		assert.Equal(t, title, b.Title)
	}
	_, err := s.Undo(ctx, b.ID, b.Tag)
	assert.ErrorIs(t, err, store.ErrNoUndo)
	assert.Equal(t, "called it two", b.Redo)
	b, err = s.Redo(ctx, b.ID, b.Tag)
	require.NoError(t, err)
	b, err = s.Redo(ctx, b.ID, b.Tag)
	require.NoError(t, err)
	assert.Equal(t, "three", b.Title)

	// An edit from here is what redo leads to from now on.
	b, err = s.Save(ctx, b.ID, b.Tag, draft("five", "called it five"))
	require.NoError(t, err)
	assert.Empty(t, b.Redo)
	b, err = s.Undo(ctx, b.ID, b.Tag)
	require.NoError(t, err)
	assert.Equal(t, "called it five", b.Redo)
	doc, err := s.Document(ctx, b.ID, 4)
	require.NoError(t, err)
	assert.JSONEq(t, `{"title":"four"}`, string(doc), "what was left behind is still there")
}

func TestTheLaterOneIsTold(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	first, err := s.Save(ctx, b.ID, b.Tag, draft("mine", ""))
	require.NoError(t, err)
	_, err = s.Save(ctx, b.ID, b.Tag, draft("theirs", ""))
	var stale *store.StaleError
	require.ErrorAs(t, err, &stale)
	assert.Equal(t, first.Tag, stale.Current)
	_, err = s.Undo(ctx, b.ID, b.Tag)
	assert.ErrorAs(t, err, &stale)
}

func TestOfManyAtOnceOneWins(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	var wg sync.WaitGroup
	errs := make([]error, 12)
	for i := range errs {
		wg.Go(func() { _, errs[i] = s.Save(ctx, b.ID, b.Tag, draft(fmt.Sprint(i), "")) })
	}
	wg.Wait()
	won := 0
	for _, err := range errs {
		var stale *store.StaleError
		if err == nil {
			won++
		} else {
			assert.ErrorAs(t, err, &stale)
		}
	}
	assert.Equal(t, 1, won)
}

func TestARepeatedRequestIsMadeOnce(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	d := draft("two", "")
	d.Key = "key-1"
	first, err := s.Save(ctx, b.ID, b.Tag, d)
	require.NoError(t, err)
	again, err := s.Save(ctx, b.ID, b.Tag, d)
	require.NoError(t, err)
	assert.Equal(t, first.Tag, again.Tag)
	seen, err := s.Seen(ctx, b.ID, "key-1", nil)
	require.NoError(t, err)
	assert.True(t, seen)

	// A key is not used for another request.
	d.Asked = []byte("something else")
	_, err = s.Save(ctx, b.ID, first.Tag, d)
	assert.ErrorIs(t, err, store.ErrKeyUsed)
	_, err = s.Seen(ctx, b.ID, "key-1", d.Asked)
	assert.ErrorIs(t, err, store.ErrKeyUsed)

	// Nor is a build made twice, by twelve at once.
	made := draft("made", "began")
	made.Key, made.Asked = "make-1", []byte("a")
	ids := make([]string, 12)
	var wg sync.WaitGroup
	for i := range ids {
		wg.Go(func() {
			if b, err := s.Create(ctx, made); assert.NoError(t, err) {
				ids[i] = b.ID
			}
		})
	}
	wg.Wait()
	for _, id := range ids {
		assert.Equal(t, ids[0], id)
	}
	made.Asked = []byte("b")
	_, err = s.Create(ctx, made)
	assert.ErrorIs(t, err, store.ErrKeyUsed)
}

func listed(t *testing.T, s *store.Store, q store.Query) []store.Build {
	t.Helper()
	list, _, err := s.List(t.Context(), q)
	require.NoError(t, err)
	return list
}

// Every build can be found, page by page and by its name.
func TestAllBuildsAreListed(t *testing.T) {
	s, ctx := open(t), t.Context()
	for i := range 7 {
		_, err := s.Create(ctx, draft(fmt.Sprintf("Heron 100%% %d", i), "began"))
		require.NoError(t, err)
	}
	var found []string
	for skip := 0; ; skip += 3 {
		list, more, err := s.List(ctx, store.Query{Search: "heron 100%", Skip: skip, Most: 3})
		require.NoError(t, err)
		for _, b := range list {
			found = append(found, b.Title)
		}
		if !more {
			break
		}
	}
	assert.Len(t, found, 7)
	assert.Empty(t, listed(t, s, store.Query{Search: "heron_", Most: 10}), "what is searched for is no pattern")
}

func TestDeletedBuildsRefuseAndComeBack(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	require.NoError(t, s.Delete(ctx, b.ID))
	_, err := s.Save(ctx, b.ID, b.Tag, draft("two", ""))
	assert.ErrorIs(t, err, store.ErrDeleted)
	for _, x := range listed(t, s, store.Query{Most: 1000}) {
		assert.NotEqual(t, b.ID, x.ID)
	}
	assert.Equal(t, b.ID, listed(t, s, store.Query{Most: 1000, Deleted: true})[0].ID, "it is in the bin")
	require.NoError(t, s.Restore(ctx, b.ID))
	_, err = s.Save(ctx, b.ID, b.Tag, draft("two", ""))
	assert.NoError(t, err)
	assert.ErrorIs(t, s.Delete(ctx, "nobody"), store.ErrNotFound)
	_, err = s.Get(ctx, "'; DROP TABLE builds; --")
	assert.ErrorIs(t, err, store.ErrNotFound)
}

func TestDemoBuildsAreLoadedOnceAndNeverTouched(t *testing.T) {
	s, ctx := open(t), t.Context()
	b, err := s.CreateDemo(ctx, "pond", draft("pond", "demo"))
	require.NoError(t, err)
	require.NotNil(t, b)
	find := func(title string) (n int) {
		for _, b := range listed(t, s, store.Query{Most: 1000}) {
			if b.Title == title {
				n++
			}
		}
		return n
	}
	b, err = s.CreateDemo(ctx, "pond", draft("pond again", "demo"))
	require.NoError(t, err)
	assert.Nil(t, b)
	assert.Equal(t, 1, find("pond"))
	assert.Zero(t, find("pond again"))
}

func TestTheAccountMayOnlyReadAndWriteRows(t *testing.T) {
	assert.Error(t, store.Migrate(t.Context(), dropped(t)), "the account that serves builds must not create tables")
}

// dropped returns the DSN of the serving account for a database of another name.
func dropped(t *testing.T) string {
	t.Helper()
	return db.DSN()[:len(db.DSN())-len("cablaggio")] + "mysql"
}

// Under load the database is killed. Everything that was acknowledged is there
// afterwards, requests in between fail at once as unavailable, and work goes on.
func TestNothingAcknowledgedIsLostWhenTheDatabaseIsKilled(t *testing.T) {
	s, ctx := open(t), t.Context()
	const writers = 4
	ids := make([]string, writers)
	acked := make([]int, writers) // how many writes the database has acknowledged
	stop := make(chan struct{})
	var wg sync.WaitGroup
	var slowest time.Duration
	var mu sync.Mutex
	for w := range writers {
		b := create(t, s)
		ids[w] = b.ID
		wg.Go(func() {
			tag := b.Tag
			for n := 1; ; n++ {
				select {
				case <-stop:
					return
				default:
				}
				d := draft(fmt.Sprint(n), "")
				d.Key = fmt.Sprintf("w%d-%d", w, n)
				for {
					began := time.Now()
					got, err := s.Save(ctx, b.ID, tag, d)
					if err == nil {
						tag, acked[w] = got.Tag, n
						break
					}
					if !assert.ErrorIs(t, err, store.ErrUnavailable) {
						return
					}
					mu.Lock()
					slowest = max(slowest, time.Since(began))
					mu.Unlock()
					select {
					case <-stop:
						return
					case <-time.After(5 * time.Millisecond):
					}
				}
			}
		})
	}
	waitFor := func(least int) {
		t.Helper()
		require.Eventually(t, func() bool {
			for _, id := range ids {
				b, err := s.Get(ctx, id)
				if err != nil || b.Tag.Revision < least {
					return false
				}
			}
			return true
		}, 3*time.Minute, 5*time.Millisecond)
	}
	waitFor(20)
	require.NoError(t, db.Kill())
	_, err := s.Get(ctx, ids[0])
	assert.True(t, errors.Is(err, store.ErrUnavailable), "%v", err)
	require.NoError(t, db.Restart(ctx))
	waitFor(60)
	close(stop)
	wg.Wait()
	for w, id := range ids {
		b, err := s.Get(ctx, id)
		require.NoError(t, err)
		// Revision 1 is the first; each acknowledged write made the next one.
		assert.GreaterOrEqual(t, b.Tag.Revision, acked[w]+1)
		assert.LessOrEqual(t, b.Tag.Revision, acked[w]+2, "at most one write was made whose answer got lost")
	}
	t.Logf("the slowest was answered after %v", slowest)
}

// What is typed within a minute is one revision, which one step takes back; a log line, or
// another sort of edit, ends it.
func TestTypingIsOneRevision(t *testing.T) {
	s, ctx := open(t), t.Context()
	b := create(t, s)
	type_ := func(title string) {
		t.Helper()
		d := draft(title, "typed")
		d.Coalesces = true
		var err error
		b, err = s.Save(ctx, b.ID, b.Tag, d)
		require.NoError(t, err)
	}
	revisions := func() int {
		list, err := s.Revisions(ctx, b.ID, 0, 100)
		require.NoError(t, err)
		return len(list)
	}
	for n := range 20 {
		type_(fmt.Sprint("typed ", n))
	}
	assert.Equal(t, 2, revisions())
	b, err := s.Undo(ctx, b.ID, b.Tag)
	require.NoError(t, err)
	assert.Equal(t, "one", b.Title)
	b, err = s.Redo(ctx, b.ID, b.Tag)
	require.NoError(t, err)
	assert.Equal(t, "typed 19", b.Title)

	// Between comes another edit, then typing again: that is one more of each.
	b, err = s.Save(ctx, b.ID, b.Tag, draft("renamed", "renamed it"))
	require.NoError(t, err)
	type_("typed again")
	assert.Equal(t, 4, revisions())
	// A line of the log names the revision that it was made at, so that stays.
	_, err = s.Log(ctx, b.ID, "", store.Entry{Kind: "note", Text: "it works", Data: []byte("{}")})
	require.NoError(t, err)
	type_("typed more")
	assert.Equal(t, 5, revisions())
	// Whole ones, on which others rest, stay as well.
	for n := range 200 {
		b, err = s.Save(ctx, b.ID, b.Tag, draft(fmt.Sprint("edit ", n), "edited"))
		require.NoError(t, err)
		type_(fmt.Sprint("then typed ", n))
		type_(fmt.Sprint("and typed ", n))
	}
	list, err := s.Revisions(ctx, b.ID, 0, 1000)
	require.NoError(t, err)
	for _, r := range list {
		_, err := s.Document(ctx, b.ID, r.N)
		require.NoError(t, err, "revision %d can be read", r.N)
	}
}
