// Package catalogue groups what there is to build with, all of it data: boards, what feeds them,
// parts and how they are usually wired, breadboards.
//
// The question: What is it, and what does it stand?
//
//   - [cablaggio/core/catalogue/board]: profiles of boards, as data files
//   - [cablaggio/core/catalogue/supply]: cells, regulator heat, run time
//   - [cablaggio/core/catalogue/part]: the catalogue of parts and hookups, as data
//   - [cablaggio/core/catalogue/breadboard]: sizes, holes, strips; what a plugged-in board takes
//
// It may lean on: general, values.
package catalogue
