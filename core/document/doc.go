// Package document groups what a builder has: a build as a document, and the drawer.
//
// The question: What did the builder say and what does he own?
//
//   - [cablaggio/core/document/build]: the document: parse, validate, join and free terminals, tell two apart
//   - [cablaggio/core/document/drawer]: parts by kind and value; CSV in and out
//
// It may lean on: general, values, catalogue.
package document
