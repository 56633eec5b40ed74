// Package planning groups the choices: values and pins, the edits that a builder makes, parts as
// people say them.
//
// The question: What shall it be?
//
//   - [cablaggio/core/planning/choose]: resistor values, pins
//   - [cablaggio/core/planning/plan]: the edits that a builder makes
//   - [cablaggio/core/planning/phrase]: parts as people say them → edits
//
// It may lean on: general, values, catalogue, document, electric, layout.
package planning
