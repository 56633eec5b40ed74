package store

import (
	"bytes"
	"compress/flate"
	"context"
	"database/sql"
	"io"
)

// A document is kept deflated. That of the first revision of a build, and of each
// wholeEvery-th, is kept by itself; the others with the last of those as the
// dictionary, so that they take little more than what differs. Whatever is read takes
// at most two rows.
const wholeEvery = 64

// packed is a document as it is kept.
type packed struct {
	data       []byte
	dictionary int // the revision whose document is the dictionary; 0: none
}

// dictionaryOf returns the revision whose document revision n is packed with; 0: none.
func dictionaryOf(n int) int {
	if whole := (n-1)/wholeEvery*wholeEvery + 1; whole < n {
		return whole
	}
	return 0
}

// window is how far back deflate looks (RFC 1951, section 2).
const window = 32 << 10

// pack deflates a document with a dictionary, which may be empty.
func pack(document, dictionary []byte) ([]byte, error) {
	var out bytes.Buffer
	w, err := flate.NewWriterDict(&out, flate.BestCompression, dictionary[max(0, len(dictionary)-window):])
	if err != nil {
		return nil, err
	}
	if _, err := w.Write(document); err != nil {
		return nil, err
	}
	if err := w.Close(); err != nil {
		return nil, err
	}
	return out.Bytes(), nil
}

// unpack is the inverse of pack.
func unpack(data, dictionary []byte) ([]byte, error) {
	r := flate.NewReaderDict(bytes.NewReader(data), dictionary[max(0, len(dictionary)-window):])
	defer r.Close()
	return io.ReadAll(r)
}

// packRevision makes a document ready to be kept as revision n of a build.
func packRevision(ctx context.Context, q querier, id string, n int, document []byte) (p packed, err error) {
	var dictionary []byte
	if p.dictionary = dictionaryOf(n); p.dictionary > 0 {
		if dictionary, err = documentOf(ctx, q, id, p.dictionary); err != nil {
			return p, err
		}
	}
	p.data, err = pack(document, dictionary)
	return p, err
}

// A row of revisions r and, joined to it as d, that of its dictionary have the document
// in these columns.
const (
	documentColumns = `r.document, r.packed, d.document, d.packed`
	withDictionary  = `LEFT JOIN revisions d ON d.build = r.build AND d.n = r.dictionary AND r.dictionary > 0`
)

// kept is what [documentColumns] scan into.
type kept struct {
	plain, dictionaryPlain   sql.NullString
	packed, dictionaryPacked []byte
}

func (k *kept) into() []any {
	return []any{&k.plain, &k.packed, &k.dictionaryPlain, &k.dictionaryPacked}
}

// document returns the document that was kept.
func (k *kept) document() ([]byte, error) {
	if k.plain.Valid {
		return []byte(k.plain.String), nil
	}
	dictionary := []byte(k.dictionaryPlain.String)
	if k.dictionaryPacked != nil {
		var err error
		if dictionary, err = unpack(k.dictionaryPacked, nil); err != nil {
			return nil, err
		}
	}
	return unpack(k.packed, dictionary)
}

// documentOf reads the document of a revision.
func documentOf(ctx context.Context, q querier, id string, n int) ([]byte, error) {
	var k kept
	row := q.QueryRowContext(ctx, `SELECT `+documentColumns+` FROM revisions r `+withDictionary+` WHERE r.build = ? AND r.n = ?`, id, n)
	if err := row.Scan(k.into()...); err != nil {
		return nil, err
	}
	return k.document()
}
